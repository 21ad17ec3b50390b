"""Build: the steps of this garden, in the order that works, with its own measurements."""

from collections.abc import Iterator
from dataclasses import dataclass
from math import floor, hypot

from euhydra.core.cutting import Cut
from euhydra.garden import catalogue, plumbing
from euhydra.garden.beds import Bed
from euhydra.garden.grounds import Pots
from euhydra.garden.joined import groups_of
from euhydra.garden.model import Garden
from euhydra.garden.pipes import Fitting, Pipe, Pump
from euhydra.garden.sources import Tap
from euhydra.garden.stores import Store
from euhydra.garden.timers import Timer, find_timer
from euhydra.planner import installing, piping, spouts, zones
from euhydra.planner.answers import Sentence, say
from euhydra.planner.parts import counting
from euhydra.planner.zones import Zone

HAND_TIGHT = "hand-tight and a quarter to half a turn more, with its washer, no tape, no tools"


@dataclass(frozen=True)
class Step:
    """One thing to do.

    key : Names it, so that its tick stays when the garden changes elsewhere.
    minutes : For one person. [min] Common practice.
    parts : Ids of what it is about, for its small drawing.
    cautions : Names of the cautions that belong here.
    """

    key: str
    title: str
    sentences: tuple[Sentence, ...]
    tools: str
    minutes: float
    parts: tuple[str, ...]
    cautions: tuple[str, ...] = ()


def steps_of(garden: Garden) -> tuple[Step, ...]:
    """Every step, in order."""
    found = [_gather(garden)]
    for store in garden.stores:
        found += _store_steps(garden, store)
    found += _links(garden)
    found += _gutters(garden)
    found += _greywaters(garden)
    for zone in zones.zones_of(garden):
        found += _zone_steps(zone)
    found += _finish(garden)
    return tuple(found)


def _gather(garden: Garden) -> Step:
    sunk = any(store.sunk_m > 0 for store in garden.stores) or bool(garden.wet_grounds)
    sentences = [
        Sentence("Print the shopping list and the plan, tick what is there, buy the rest."),
        Sentence(
            "Mark stores, beds and lines with pegs and string, and walk the way of every hose."
        ),
    ]
    if sunk:
        sentences.append(
            Sentence("Have cables and pipes marked before you dig; wait for the answer.")
        )
    return Step(
        "gather", "Gather and mark out", tuple(sentences), "tape, pegs, string", 60, (),
        ("digging",) if sunk else (),
    )  # fmt: skip


def _store_steps(garden: Garden, store: Store) -> Iterator[Step]:
    yield _stand(store)
    yield _drill(garden, store)


def _stand(store: Store) -> Step:
    full = store.holds_m3 * 1000
    sentences = [
        say(
            f"“{store.name}” weighs {{mass}} when full{' — each of them' if store.count > 1 else ''}.",
            mass=(full, "mass"),
        )
    ]
    cuts = counting.cuts_of(store)
    if store.sunk_m > 0:
        sentences.append(
            say(
                "Dig {deep} deep, its floor level, firm and free of stones, on a hand's depth of sand.",
                deep=(store.sunk_m, "height"),
            )
        )
    elif cuts:
        sentences.append(
            say(
                "Build a stand {high} high, level both ways, each post on a slab bedded in sand.",
                high=(store.stand_m, "height"),
            )
        )
        sentences += [_cut_said(cut) for cut in cuts.cuts]
        sentences.append(
            say(
                "Rails go outside the posts, flush with their tops, and again near the ground; boards across them, {screws} screws in all.",
                screws=(float(cuts.screws), "plain"),
            )
        )
    elif store.stand_m > 0:
        sentences.append(
            say(
                "Lay solid blocks in four columns to {high}, on firm ground, none of them loose.",
                high=(store.stand_m, "height"),
            )
        )
    else:
        sentences.append(
            Sentence("Take off turf, tamp the ground firm, and bed slabs level both ways.")
        )
    minutes = 150.0 if cuts else 60.0
    return Step(
        f"stand-{store.id}", f"Ground and stand for “{store.name}”", tuple(sentences),
        "spade, tamper, long level, saw, screwdriver" if cuts else "spade, tamper, long level",
        minutes * store.count, (store.id,),
        ("digging", "weight") if store.sunk_m > 0 else ("weight", "cutting") if cuts else ("weight",),
    )  # fmt: skip


def _cut_said(cut: Cut) -> Sentence:
    names = {"post": "post", "rail": "rail", "board": "board"}
    plural = "s" if cut.count > 1 else ""
    return say(
        f"Cut {cut.count} {names[cut.section]}{plural} of {{length}}.",
        length=(cut.length, "height"),
    )


def _drill(garden: Garden, store: Store) -> Step:
    fed = any(spout.leads_to == store.id for spout in garden.downspouts)
    plan = installing.plan_installation(store)
    sentences = (
        say(
            "Mark, measured up from its base: tap at {tap}, overflow at {overflow}.",
            tap=(plan.tap, "height"), overflow=(plan.overflow, "height"),
        ),
        Sentence("Drill from outside, slowly; take the edge off; seal on the inside, nut hand-tight and a half turn."),
        Sentence("Lead the overflow where it may go before any water comes; fine mesh over it and over the inlet."),
        Sentence("Set it on its stand, check level again, fasten what is tall, close and lock the lid."),
        Sentence("Fill a hand's depth above the tap and look for drips for ten minutes before you fill it up."),
    )  # fmt: skip
    return Step(
        f"drill-{store.id}",
        f"Drill and set “{store.name}”" + ("" if fed else " (no roof leads to it)"),
        sentences, "drill, hole saw, file, eye protection, level", 60.0 * store.count, (store.id,),
        ("drilling", "lids", "overflow"),
    )  # fmt: skip


def _links(garden: Garden) -> Iterator[Step]:
    for group in groups_of(garden.stores):
        if group.count < 2:
            continue
        ids = tuple(store.id for store in group.stores)
        yield Step(
            f"link-{group.stores[0].id}", f"Link “{group.name}”",
            (
                Sentence("Join them at the bottom with the linking set, before any water is in them."),
                say(
                    "Their tops have to be at one height: the overflow of the lowest is the level of all. {litres} in all.",
                    litres=(group.capacity_m3, "volume"),
                ),
                Sentence("Fill to a hand over the link and see that both rise alike."),
            ),
            "drill, hole saw, file, eye protection, level", 45, ids, ("drilling", "weight"),
        )  # fmt: skip


def _gutters(garden: Garden) -> Iterator[Step]:
    stores = {store.id: store for store in garden.stores}
    for spout in garden.downspouts:
        store = stores.get(spout.leads_to or "")
        if store is None:
            continue
        plan = installing.plan_installation(store)
        guard = catalogue.find(catalogue.leaf_guards(), spout.guard)
        flush = spouts.spouts_of(garden)[spout.id].flush_m3
        sentences = [
            say(
                "Level over the rim of the store, mark it on the downspout, and {below} below that the middle of the diverter.",
                below=(plan.below_rim, "height"),
            ),
            say(
                "Cut the hole or take the piece out, fit the diverter, and let its hose fall {fall} to the inlet.",
                fall=(max(0.0, plan.fall), "height"),
            ),
        ]
        if spout.guard != "none":
            sentences.append(Sentence(f"Fit against leaves: {guard.name.lower()}."))
        if flush > 0:
            sentences.append(
                say(
                    "Before the inlet the first-flush tube, for {litres}, its drip cap open so far that it is empty in a day or two.",
                    litres=(flush, "volume"),
                )
            )
        yield Step(
            f"spout-{spout.id}", f"“{spout.name}” into “{store.name}”", tuple(sentences),
            "ladder, fine saw, drill, file, eye protection, gloves", 60, (store.id, spout.roof_id),
            ("ladders", "drilling", "not-drinking"),
        )  # fmt: skip


def _greywaters(garden: Garden) -> Iterator[Step]:
    for line in garden.greywaters:
        yield Step(
            f"grey-{line.id}", f"Washing water: “{line.name}”",
            (
                Sentence("Ask your local code first, and have the diverter in the house drain fitted by a licensed plumber."),
                say("Set the drum with its outlet {drop} above the bed.", drop=(line.drop_m, "height")),
                say("Run the hose, {long}, with a steady fall and no low place, to under the mulch.",
                    long=(line.hose_m, "length")),
                Sentence("Lint bag over the inlet; label the line “washing water, do not drink”."),
            ),
            "tape, level, spade", 120, (line.bed_id,), ("greywater",),
        )  # fmt: skip


def _zone_steps(zone: Zone) -> Iterator[Step]:
    head = _head_step(zone)
    if head:
        yield head
    pumps = zone.pumps
    if pumps:
        yield _pump_step(zone, pumps[0])
    plain = [p for p in zone.pipes if not piping.gives(p)]
    if plain:
        yield _hose_step(zone, plain)
    lines = [p for p in zone.pipes if piping.kind_of(p).has_outlets]
    if lines:
        yield _line_step(zone, lines)
    tubes = [p for p in zone.pipes if p.dripper is not None]
    if tubes:
        yield _tube_step(zone, tubes)


def _head_step(zone: Zone) -> Step | None:
    pieces = [p for p in zone.way.parts if isinstance(p, Fitting | Timer) and _is_head(zone, p)]
    if not pieces:
        return None
    names = [_piece_name(zone, piece) for piece in pieces]
    sentences = [
        Sentence(f"Screw together, from “{zone.source.name}” on: {', '.join(names)}."),
        Sentence(f"Every hose thread {HAND_TIGHT}; an arrow on a piece points the way of the water."),
    ]  # fmt: skip
    is_mains = isinstance(zone.source, Tap)
    if is_mains:
        sentences.append(
            Sentence("The timer comes before the rest: its valve alone bears the pressure while it is shut.")
        )  # fmt: skip
    return Step(
        f"head-{zone.id}", f"Head of “{zone.name}”", tuple(sentences), "your hands", 20.0,
        (zone.source.id, *(piece.id for piece in pieces)),
        ("backflow",) if is_mains else (),
    )  # fmt: skip


def _is_head(zone: Zone, piece: Fitting | Timer) -> bool:
    """Whether a piece comes before every pipe."""
    pipes = {pipe.id for pipe in zone.pipes}
    return piece.begins_at not in pipes


def _piece_name(zone: Zone, piece: Fitting | Timer) -> str:
    if isinstance(piece, Timer):
        return find_timer(zone.garden.own_timers, piece.kind).name.lower()
    return catalogue.find(plumbing.fitting_kinds(), piece.kind).name.lower()


def _pump_step(zone: Zone, pump: Pump) -> Step:
    kind = catalogue.find(plumbing.pump_kinds(), pump.kind)
    sentences = [
        Sentence(f"Set {kind.name.lower()} as drawn. Priming: {kind.priming}."),
        Sentence("Plug it in last, on a residual-current device, with a drip loop in the lead; never run it dry."),
    ]  # fmt: skip
    caution = "batteries" if kind.volts <= 24 else "electricity"
    return Step(
        f"pump-{pump.id}", f"Pump of “{zone.name}”", tuple(sentences), "screwdriver", 45,
        (pump.id,), (caution, "electricity") if caution == "batteries" else (caution,),
    )  # fmt: skip


def _hose_step(zone: Zone, pipes: list[Pipe]) -> Step:
    sentences = []
    for pipe in pipes:
        bore = piping.bore_of(pipe)
        sentences.append(
            say(
                f"“{pipe.name}”: cut {{length}} of {{bore}} tube, in the sun if it is stiff, and lay it{_as_turns(pipe)}.",
                length=(pipe.lies_m, "length"), bore=(bore, "bore"),
            )
        )  # fmt: skip
    sentences.append(
        Sentence("Push tube ends fully onto their barbs, dipped in hot water first; leave far ends open for now.")
    )  # fmt: skip
    return Step(
        f"hose-{zone.id}", f"Hose and header of “{zone.name}”", tuple(sentences),
        "tube cutter, flask of hot water", 15.0 + 3 * sum(p.lies_m for p in pipes),
        tuple(p.id for p in pipes), ("paths",),
    )  # fmt: skip


def _as_turns(pipe: Pipe) -> str:
    return "" if len(pipe.path) < 3 else f" with its {len(pipe.path) - 2} bends as on the plan"


def _line_step(zone: Zone, lines: list[Pipe]) -> Step:
    sentences = []
    for waters in dict.fromkeys(p.waters for p in lines):
        own = [p for p in lines if p.waters == waters]
        bed = next((b for b in zone.garden.beds if b.id == waters), None)
        sentences.append(_rows_said(own, bed))
    drilled = [p for p in lines if piping.kind_of(p).family == "drilled"]
    if drilled:
        sentences.append(
            say(
                "Clamp the pipe and drill its holes in one line, {apart} apart, {wide} wide; graded ones as the list on Lay says.",
                apart=(piping.spacing_of(drilled[0]), "height"),
                wide=(drilled[0].hole_m or 0.001, "bore"),
            )
        )  # fmt: skip
    stakes = sum(floor(p.lies_m / counting.STAKE_EACH) + 1 for p in lines)
    sentences.append(
        say(f"Outlets look up. {stakes} stakes, one each {{step}} and at both ends; loose enough to slide.",
            step=(counting.STAKE_EACH, "length"))
    )  # fmt: skip
    return Step(
        f"line-{zone.id}", f"Lines of “{zone.name}”", tuple(sentences), "tube cutter",
        15.0 + 4 * sum(p.lies_m for p in lines), tuple(p.id for p in lines),
        ("drilling",) if drilled else (),
    )  # fmt: skip


def _rows_said(rows: list[Pipe], bed: Bed | None) -> Sentence:
    kind = piping.kind_of(rows[0])
    where = f" in “{bed.name}”" if bed else ""
    text = f"{len(rows)} row{'s' if len(rows) > 1 else ''} of {kind.name.split(':')[0].lower()}{where}, {{long}} each"
    amounts = {"long": (max(p.lies_m for p in rows), "length")}
    if len(rows) > 1 and bed is not None:
        text += ", {apart} apart"
        amounts["apart"] = (_apart(rows), "height")
    return say(f"{text}.", **amounts)


def _apart(rows: list[Pipe]) -> float:
    """Distance between the beginnings of the first two rows. [m]"""
    a, b = rows[0].path[0], rows[1].path[0]
    return hypot(a.x_m - b.x_m, a.y_m - b.y_m)


def _tube_step(zone: Zone, tubes: list[Pipe]) -> Step:
    ids = {p.waters for p in tubes}
    groups: list[Pots] = [p for p in zone.garden.pots if p.id in ids]
    names = " and ".join(f"“{g.name}”" for g in groups) or "the plants"
    dripper = catalogue.find(plumbing.drippers(), tubes[0].dripper or "")
    return Step(
        f"tubes-{zone.id}", f"Tubes to {names}",
        (
            say(
                "Cut {count} tubes, the longest {long}, the shortest {short}.",
                count=(float(len(tubes)), "plain"), long=(max(p.lies_m for p in tubes), "height"),
                short=(min(p.lies_m for p in tubes), "height"),
            ),
            Sentence("Punch the tube square, turn the barb in; a hole gone wrong takes a plug."),
            Sentence(f"On each end: {dripper.name[0].lower()}{dripper.name[1:]}, on a stake half way to the rim."),
        ),
        "hole punch, cutter", 10.0 + 4 * len(tubes), tuple(p.id for p in tubes),
    )  # fmt: skip


def _finish(garden: Garden) -> Iterator[Step]:
    if not zones.zones_of(garden):
        return
    everything = tuple(p.id for p in garden.pipes)
    yield Step(
        "first-run", "First run",
        (
            Sentence("Leak test with everything shut; flush with all ends open until it runs clear; close the ends in order; walk the lines."),
            Sentence("The page First run has the order, what should come out where, and keeps what you measured."),
        ),
        "bucket, cup, stopwatch", 45, everything, ("not-drinking",),
    )  # fmt: skip
    yield Step(
        "labels", "Labels and settings",
        (
            Sentence("Print the labels and tie one to each hose and line, by its beginning."),
            Sentence("Set the timers by the settings card; tape the card inside the shed door."),
            Sentence("Mark every tap on stored water: not drinking water."),
        ),
        "pen, tape", 20, (), ("not-drinking",),
    )  # fmt: skip
