"""Everything that a garden is built from, counted part by part."""

import re
from collections import Counter
from collections.abc import Callable, Iterator
from math import ceil, floor, pi

from euhydra.core import cutting
from euhydra.core.threads import Seal
from euhydra.garden import catalogue, plumbing
from euhydra.garden.catalogue import LeafGuard
from euhydra.garden.goods import Unit
from euhydra.garden.model import Garden
from euhydra.garden.pipes import Pipe
from euhydra.garden.pots import KeptBy, Pots
from euhydra.garden.quantities import System
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.garden.sources import DrumOutlet, Greywater
from euhydra.garden.stores import Hold, Intake, Store
from euhydra.garden.timers import find_timer
from euhydra.planner.catch import spouts, washing_week
from euhydra.planner.parts import adapters, meetings_drawn, meetings_linked, uses
from euhydra.planner.parts.meetings import Meeting, Tube, bends, joints_of
from euhydra.planner.parts.uses import Good, Use
from euhydra.planner.store import linking
from euhydra.planner.store.linking import StoreLink
from euhydra.planner.store.standing import sides_of
from euhydra.planner.water import laws, pump_starts, zones
from euhydra.planner.water.cut_lengths import cut_lengths
from euhydra.planner.water.pump_starts import PumpStart

STAKE_EACH = 1.0
"""A line in a bed is staked down so often. [m] Common practice."""

CLIP_EACH = 2.0
"""A hose along a path or wall is held so often. [m] Common practice."""

GRAVEL_A_METRE = 5
"""Bags of 25 kg to a metre of trench. Common practice: 30 cm wide, a hand deep under and over the pipe,
so some 0.075 m³ of 1,600 kg/m³."""

BATTERY_SET = ("battery", "fuse", "low-lead", "float-switch")
MAINS_SET = ("rcd-lead", "float-switch")
"""What a pump needs beside itself. Common practice."""

STARTERS = {PumpStart.TIME_SWITCH: "pump-time-switch", PumpStart.CONTROLLER: "pump-relay"}
"""What starts a pump with its zone."""

FIRST_FLUSH_BORE = 0.1
"""Inside width of a first-flush tube. [m] Common practice."""

BORE_IN_NAME = re.compile(r"\{[^}|]*\|bore\}")
"""A bore inside the name of a kind of pipe."""

TIMER_PRICE = 35.0
"""A timer with its valve: a guess to be edited."""

STORE_PRICE_A_LITRE = 0.35
"""A store by what it holds: a guess to be edited."""


def uses_of(garden: Garden) -> list[Use]:
    """Every use of every good."""
    counters: tuple[Callable[[Garden], Iterator[Use]], ...] = (
        _stores,
        _stands,
        _gutters,
        _heads,
        _screwed,
        _pipes,
        _joints,
        _outlets,
        _fixings,
        _greywater,
        _planters,
    )
    return [use for counter in counters for use in counter(garden)]


def joint_counts(garden: Garden) -> tuple[Counter[str], Counter[str]]:
    """Joints by key, counted by the links and by the drawing."""

    def count(found: list[Meeting]) -> Counter[str]:
        return Counter(good.key for meeting in found for good in joints_of(meeting))

    return count(meetings_linked.meetings(garden)), count(meetings_drawn.meetings(garden))


def faults(garden: Garden) -> list[Sentence]:
    """What does not go together as it is drawn and linked."""
    said = [joint.fault for joint in adapters.joints(garden) if joint.fault]
    if len(set(map(frozenset, (c.items() for c in joint_counts(garden))))) > 1:
        said += _apart(garden)
    return said


def _apart(garden: Garden) -> list[Sentence]:
    """Pipes that are linked to one place and drawn at another."""
    parts = {part.id: part for part in garden.joinable}
    found = []
    for pipe in garden.pipes:
        feeder = parts.get(pipe.begins_at or "")
        if isinstance(feeder, Pipe):
            along = feeder.drawn_m if pipe.begins_along_m is None else pipe.begins_along_m
            ((x, y),) = feeder.places_at([along])
            gap = ((pipe.path[0].x_m - x) ** 2 + (pipe.path[0].y_m - y) ** 2) ** 0.5
            if gap > meetings_drawn.TOUCH:
                found.append(
                    say(
                        "parts-drawn-apart",
                        "“{pipe}” is fed by “{feeder}”, but drawn {gap} away from it: draw its "
                        "beginning where it is joined, or join it where it is drawn.",
                        pipe=pipe.name,
                        feeder=feeder.name,
                        gap=Amount(gap, "height"),
                    )
                )
    return found or [
        say(
            "parts-touch-unjoined",
            "Two pipes touch on the plan that are not joined, or are joined where they do not "
            "touch: the joints below are counted by what is joined.",
        )
    ]


def _stores(garden: Garden) -> Iterator[Use]:
    drawn_from = Counter(part.begins_at for part in garden.fed if part.begins_at)
    own_links: dict[str, list[StoreLink]] = {}
    for link in linking.links_of(garden):
        own_links.setdefault(link.store.id, []).append(link)
    for store in garden.stores:
        yield Use(_store_good(store), store.count, store.id)
        yield Use(uses.plain("store-tap"), max(1, drawn_from[store.id]), store.id)
        yield Use(uses.plain("overflow"), 1, store.id)
        yield Use(uses.plain("inlet-mesh"), store.count, store.id)
        for link in own_links.get(store.id, ()):
            if link.is_siphon:
                yield Use(uses.plain("siphon-hose"), link.hose_m, store.id)
                yield Use(uses.plain("siphon-cup"), 2, store.id)
            else:
                yield Use(uses.plain("link-set"), 1, store.id)
        if (pipe := linking.overflow_pipe_m(garden, store)) > 0:
            yield Use(uses.plain("overflow-pipe"), pipe, store.id)
        if store.intake is Intake.FLOATING:
            yield Use(uses.plain("float-intake"), store.count, store.id)
        if store.topped_by is not None:
            yield Use(uses.plain("float-valve"), 1, store.id)
        if store.held_by is Hold.WALL:
            yield Use(uses.plain("wall-strap"), store.count, store.id)


def _store_good(store: Store) -> Good:
    kind = catalogue.find(catalogue.store_kinds(), store.kind)
    litres = store.holds_m3 * 1000
    price = store.price if store.price is not None else round(litres * STORE_PRICE_A_LITRE)
    return Good(
        f"store-{store.kind}-{litres:.0f}",
        f"{kind.name} of {{{litres:.4g} L|volume}}",
        "stores",
        Unit.EACH,
        1,
        price,
    )


TIMBER = {System.METRIC: (cutting.METRIC, ""), System.US: (cutting.INCH, "-inch")}
"""Timber as it is sold where these units are read, and how the keys of its goods end."""


def cuts_of(store: Store, units: System) -> cutting.StandCuts | None:
    """The timber stand of one store; None where it stands on the ground, on blocks or on slabs."""
    timber, _ = TIMBER[units]
    if store.blocks or store.stand_m < timber.lowest:
        return None
    length, width = sides_of(store)
    return cutting.stand(length, width, store.stand_m, timber)


def _stands(garden: Garden) -> Iterator[Use]:
    drums = (grey.as_store for grey in garden.greywaters)
    for store in (*garden.stores, *drums):
        if store.stand_m <= 0:
            continue
        cuts = cuts_of(store, garden.units)
        if cuts is None:
            yield Use(uses.plain("block"), _blocks(store) * store.count, store.id)
            continue
        for section in ("post", "rail", "board"):
            kind = section + TIMBER[garden.units][1]
            yield Use(uses.plain(kind), cuts.metres(section) * store.count, store.id)
        yield Use(uses.plain("screw"), cuts.screws * store.count, store.id)
        yield Use(uses.plain("paving-slab"), cuts.posts * store.count, store.id)


def _blocks(store: Store) -> int:
    """Solid blocks of a low stand: four columns of them."""
    return 4 * max(store.blocks, ceil(store.stand_m / 0.2))


def _gutters(garden: Garden) -> Iterator[Use]:
    for spout in garden.downspouts:
        if spout.leads_to is None:
            if spout.restricted_m3_s is not None:
                yield Use(uses.plain("restrictor"), 1, spout.id)
            continue
        store = next((store for store in garden.stores if store.id == spout.leads_to), None)
        if store is not None and store.is_below_ground:
            yield Use(uses.plain("leaf-trap"), 1, spout.id)
            yield Use(
                uses.plain("spout-pipe"), linking.spout_pipe_m(garden, spout, store), spout.id
            )
        else:
            yield Use(uses.plain("diverter" if store else "downspout-branch"), 1, spout.id)
        guard = catalogue.find(catalogue.leaf_guards(), spout.guard)
        if spout.guard != "none":
            yield Use(_guard_good(guard), 1, spout.id)
        tube = flush_tube_m(spouts.spouts_of(garden)[spout.id].flush_m3)
        if tube > 0:
            yield Use(uses.plain("first-flush-tube"), tube, spout.id)


def flush_tube_m(flush: float) -> float:
    """Length of first-flush tube that holds so much. [m³] → [m]"""
    return flush / (pi / 4 * FIRST_FLUSH_BORE**2)


def _guard_good(guard: LeafGuard) -> Good:
    plain = uses.plain("leaf-guard")
    return Good(
        f"guard-{guard.id}",
        guard.name,
        plain.group,
        plain.unit,
        plain.pack,
        plain.price,
        plain.tools,
    )


def _heads(garden: Garden) -> Iterator[Use]:
    for timer in garden.timers:
        kind = find_timer(garden.own_timers, timer.kind)
        if timer.body is None:  # what shares another's body is bought with it
            yield Use(
                Good(f"timer-{kind.id}", kind.name, "heads", Unit.EACH, 1, TIMER_PRICE), 1, timer.id
            )
    for fitting in garden.fittings:
        piece = catalogue.find(plumbing.fitting_kinds(), fitting.kind)
        yield Use(
            Good(f"piece-{piece.id}", piece.name, "heads", Unit.EACH, 1, piece.price), 1, fitting.id
        )
    starts = pump_starts.starts_of(garden)
    for pump in garden.pumps:
        motor = catalogue.find(plumbing.pump_kinds(), pump.kind)
        yield Use(
            Good(f"pump-{motor.id}", motor.name, "heads", Unit.EACH, 1, motor.price), 1, pump.id
        )
        starter = STARTERS.get(starts[pump.id]) if pump.id in starts else None
        if starter is not None:
            yield Use(uses.plain(starter), 1, pump.id)
        for good in BATTERY_SET if motor.runs_on_battery else MAINS_SET:
            yield Use(uses.plain(good), 1, pump.id)


def _screwed(garden: Garden) -> Iterator[Use]:
    for joint in adapters.joints(garden):
        yield from joint.uses
    tapes = sum(joint.seal is Seal.TAPE for joint in adapters.joints(garden))
    if tapes:
        yield Use(uses.plain("tape"), 1, garden.joinable[0].id)


def pipe_good(pipe: Pipe) -> Good:
    """The pipe by the metre."""
    kind, bore = laws.kind_of(pipe), laws.bore_of(pipe)
    name, key = kind.name, f"pipe-{kind.id}"
    if pipe.bore_m is not None and uses.tube_size(bore) != uses.tube_size(kind.bore_m):
        key += f"-{uses.size_key(bore)}"
        size = f"{{{uses.size_key(bore)} mm|bore}}"
        named = BORE_IN_NAME.sub(size, name)
        name = named if named != name else f"{name}, {size} inside"
    return Good(key, name, "pipes", Unit.METRE, 1, kind.price_m, ("cutter",))


def _pipes(garden: Garden) -> Iterator[Use]:
    lengths = cut_lengths(garden)
    for pipe in garden.pipes:
        yield Use(pipe_good(pipe), lengths[pipe.id], pipe.id)
    yield from _bits(garden)


def _bits(garden: Garden) -> Iterator[Use]:
    """A drill bit for each size of hole, at the first pipe that has it."""
    first: dict[float, str] = {}
    for pipe in garden.pipes:
        if laws.kind_of(pipe).family == "drilled":
            for hole in pipe.holes_m or (laws.hole_of(pipe),):
                first.setdefault(uses.tube_size(hole), pipe.id)
    for hole, where in first.items():
        yield Use(uses.sized("drill-bit", [hole]), 1, where)


def _joints(garden: Garden) -> Iterator[Use]:
    for meeting in meetings_linked.meetings(garden):
        for good in joints_of(meeting):
            yield Use(good, 1, meeting.where)
    for pipe in garden.pipes:
        for good in bends([(p.x_m, p.y_m) for p in pipe.path], Tube.of(pipe)):
            yield Use(good, 1, pipe.id)


def _outlets(garden: Garden) -> Iterator[Use]:
    for pipe in garden.pipes:
        if pipe.dripper is not None:
            dripper = catalogue.find(plumbing.drippers(), pipe.dripper)
            plain = uses.plain("dripper")
            good = Good(
                f"dripper-{dripper.id}",
                dripper.name,
                plain.group,
                plain.unit,
                plain.pack,
                plain.price,
                plain.tools,
            )
            yield Use(good, 1, pipe.id)
    punched = sum(p.dripper is not None and p.begins_along_m is not None for p in garden.pipes)
    if punched:
        yield Use(uses.plain("spare-plug"), ceil(punched / 20), garden.pipes[0].id)


def _fixings(garden: Garden) -> Iterator[Use]:
    for pipe in garden.pipes:
        if laws.kind_of(pipe).has_outlets:
            yield Use(uses.plain("stake"), floor(pipe.lies_m / STAKE_EACH) + 1, pipe.id)
        elif pipe.dripper is not None and laws.kind_of(pipe).family == "micro":
            yield Use(uses.plain("stake"), 1, pipe.id)
        elif (pipe.waters is None or pipe.dripper is not None) and pipe.lies_m > CLIP_EACH:
            yield Use(uses.plain("wall-clip"), floor(pipe.lies_m / CLIP_EACH), pipe.id)


WICK_GOODS = {"net-pot": "net-pot", "insert": "wick-insert", "fabric": "wick-cloth"}
"""What each wick is made of; a floor full of holes takes nothing."""

BAG_OF_MIX = 0.04
"""Potting mix in a bag. [m³] Common practice."""


def _planters(garden: Garden) -> Iterator[Use]:
    """Float box, tubes and wicks of each chain, a tube from the box to the first and on from each; troughs.

    Of those that a line leads to: the others are not planned yet.
    """
    led_to = {
        pipe.waters
        for zone in zones.zones_of(garden)
        for pipe in zone.pipes
        if pipe.dripper is not None
    }
    for pots in garden.pots:
        if not pots.is_joined or pots.id not in led_to:
            continue
        if pots.kept_by is KeptBy.TROUGH:
            yield Use(uses.plain("trough"), pots.trough_m, pots.id)
            yield Use(uses.plain("trough-end"), 2, pots.id)
            yield Use(uses.plain("plank"), 2 * pots.trough_m, pots.id)
        else:
            yield Use(uses.plain("float-shell"), 1, pots.id)
            yield Use(_joint_good(pots), pots.count * pots.joint_m, pots.id)
            yield Use(uses.plain("grommet"), 2 * pots.count, pots.id)
        if (wick := WICK_GOODS.get(pots.wick)) is not None:
            yield Use(uses.plain(wick), pots.count, pots.id)
        yield Use(uses.plain("mix"), ceil(pots.count * pots.mix_m3 / BAG_OF_MIX), pots.id)


def _joint_good(pots: Pots) -> Good:
    key = uses.size_key(pots.joint_bore_m)
    return Good(
        f"joint-tube-{key}",
        f"Tube from planter to planter, {{{key} mm|bore}} inside",
        "planters",
        Unit.METRE,
        1,
        1.5,
        ("cutter",),
    )


def _greywater(garden: Garden) -> Iterator[Use]:
    for line in garden.greywaters:
        yield Use(uses.plain("washing-diverter"), 1, line.id)
        yield Use(uses.plain("surge-drum"), 1, line.id)
        yield Use(uses.plain("lint-bag"), 1, line.id)
        if washing_week.has_lines(garden, line):
            continue  # they and their pump are counted with all other pipes and pieces
        if line.bed_id is not None:
            yield Use(_hose_good(line), line.hose_m, line.id)
        if line.outlet is DrumOutlet.PUMP:
            yield Use(uses.plain("drain-pump"), 1, line.id)
    for ground in garden.wet_grounds:
        yield Use(uses.plain("drain-pipe"), ground.pipe_m, ground.id)
        yield Use(uses.plain("gravel"), ceil(GRAVEL_A_METRE * ground.pipe_m), ground.id)
        yield Use(uses.plain("drain-sump"), 1, ground.id)
        yield Use(uses.plain("sump-pump"), 1, ground.id)
        yield Use(uses.plain("drain-hose"), ground.hose_m, ground.id)


def _hose_good(line: Greywater) -> Good:
    key = uses.size_key(line.bore_m)
    return Good(
        f"washing-hose-{key}",
        f"Hose for washing water, {{{key} mm|bore}} inside",
        "greywater",
        Unit.METRE,
        1,
        1.2,
        ("cutter",),
    )
