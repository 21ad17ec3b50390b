"""Rules of assembly: what would not work, or would not be lawful, if it were built as drawn."""

from collections.abc import Iterator
from itertools import combinations
from math import pi

from shapely import LineString
from shapely import Point as Dot

from euhydra.garden import catalogue, plumbing, shapes
from euhydra.garden.goods import Grip
from euhydra.garden.model import Garden
from euhydra.garden.pipes import EndKind, Fitting, Piece, Pipe
from euhydra.garden.plumbing import FittingKind, FittingRole
from euhydra.garden.sentences import Amount, lowered, quoted, say, words
from euhydra.garden.sources import Tap, TapKind
from euhydra.garden.timers import Timer
from euhydra.planner.answers import Mark, PlanError
from euhydra.planner.lay import self_running
from euhydra.planner.lay.breach import RuleBreach
from euhydra.planner.parts import adapters
from euhydra.planner.push import drives
from euhydra.planner.water import laws, solving, zones
from euhydra.planner.water.solving import ZoneState
from euhydra.planner.water.zones import Zone

TIMER_ORDER = 2
"""Place of the timer in the head assembly, after the splitter: its valve alone bears pressure."""

FAST = 1.5
"""Velocity in a pipe from which it hammers and loses much. [m s⁻¹] Common practice: 5 ft/s."""

OVERLAP = 0.02
"""Ground that two beds may share where their edges were drawn by hand. [m²]"""

DRIP_FAMILIES = ("drip", "drilled")


POT_REACH = 0.1
"""A tube that ends so near a pot's rim is that pot's. [m] Our choice."""


def find_all(garden: Garden, states: dict[str, ZoneState]) -> tuple[RuleBreach, ...]:
    """Everything to be mended, in the order of the water's way.

    Parameters
    ----------
    states : Solved zones by id, as far as they could be solved.
    """
    found = [*_islands(garden), *_over_one_another(garden), *_pots_without(garden)]
    found += self_running.joined_waters(garden)
    for pipe in garden.pipes:
        found += _about_pipe(pipe)
    for zone in zones.zones_of(garden):
        found += _about_zone(zone, states.get(zone.id))
    seen: set[tuple[str, str]] = set()
    kept = []
    for finding in found:
        key = (finding.part.id, finding.message.template)
        if key not in seen:
            seen.add(key)
            kept.append(finding)
    return tuple(kept)


def _islands(garden: Garden) -> Iterator[RuleBreach]:
    """The beginning of each line that is joined to nothing: what follows it is dry for the same cause."""
    for part in garden.fed:
        if part.begins_at is None:
            yield RuleBreach(
                part,
                Mark.FAILS,
                say(
                    "lay-no-water-reaches",
                    "No water reaches “{part}”: join its beginning to a store, a tap or a pipe.",
                    part=part.name,
                ),
            )


def _over_one_another(garden: Garden) -> Iterator[RuleBreach]:
    outlines = [(bed, shapes.of_bed(bed)) for bed in garden.beds]
    for (one, a), (other, b) in combinations(outlines, 2):
        if a.intersection(b).area > OVERLAP:
            yield RuleBreach(
                other,
                Mark.BUT,
                say(
                    "lay-beds-overlap",
                    "“{other}” lies over “{one}”: move one of them, or take it out.",
                    other=other.name,
                    one=one.name,
                ),
            )


def _pots_without(garden: Garden) -> Iterator[RuleBreach]:
    """Groups of which some have a dripper and others none, as after one was made larger."""
    for pots in garden.pots:
        own = [pipe for pipe in garden.pipes if pipe.waters == pots.id]
        if not own or any(pipe.dripper is None for pipe in own) or pots.is_joined:
            continue  # none yet, or lines that pass them, or tubes from one to the next
        ends = [pipe.path[-1] for pipe in own]
        outlines = shapes.of_pots(pots)
        dots = [Dot(end.x_m, end.y_m) for end in ends]
        served = sum(any(pot.distance(dot) <= POT_REACH for dot in dots) for pot in outlines)
        if served < len(outlines):
            yield RuleBreach(
                pots,
                Mark.BUT,
                say(
                    "lay-pots-without",
                    "{served} of the {all} in “{pots}” have a dripper: lay its lines again, or draw a tube to "
                    "each of the others.",
                    served=served,
                    all=len(outlines),
                    pots=pots.name,
                ),
            )


def _about_pipe(pipe: Pipe) -> Iterator[RuleBreach]:
    kind = laws.kind_of(pipe)
    line = LineString([(p.x_m, p.y_m) for p in pipe.path])
    if not line.is_simple:
        yield RuleBreach(
            pipe,
            Mark.BUT,
            say(
                "lay-pipe-crosses-itself",
                "“{pipe}” crosses itself: check that it is meant so.",
                pipe=pipe.name,
            ),
        )
    if kind.family in DRIP_FAMILIES and pipe.end is EndKind.SHUT and pipe.ends_at is None:
        yield RuleBreach(
            pipe,
            Mark.BUT,
            say(
                "lay-no-end-opens",
                "“{pipe}” has no end that opens, so it cannot be flushed: end it with a cap that does.",
                pipe=pipe.name,
            ),
        )
    if kind.has_outlets and pipe.waters is None:
        yield RuleBreach(
            pipe,
            Mark.BUT,
            say(
                "lay-line-waters-nothing",
                "“{pipe}” waters nothing: lay plain pipe there, or say which bed it is in.",
                pipe=pipe.name,
            ),
        )


def _about_zone(zone: Zone, state: ZoneState | None) -> Iterator[RuleBreach]:
    yield from _head_order(zone)
    yield from _backflow(zone)
    yield from _master_valves(zone)
    yield from self_running.about_washing_water(zone)
    yield from self_running.about_floats(zone)
    yield from _filter_before_passages(zone)
    yield from _no_spray_of_stored_water(zone)
    yield from _threads(zone)
    if state is not None:
        yield from _pressures(zone, state)
        yield from _flows(zone, state)
        yield from _pumps(zone, state)


def _fitting_kind(piece: Piece) -> FittingKind | None:
    return (
        catalogue.find(plumbing.fitting_kinds(), piece.kind) if isinstance(piece, Fitting) else None
    )


def _order(piece: Piece) -> int:
    if isinstance(piece, Timer):
        return TIMER_ORDER
    kind = _fitting_kind(piece)
    return kind.order if kind else 0


def _head_order(zone: Zone) -> Iterator[RuleBreach]:
    """Splitter, timer, backflow preventer, filter, regulator, adapter: in this order."""
    last: Piece | None = None
    for piece in zone.pieces:
        if _order(piece) == 0:
            continue
        if last is not None and _order(piece) < _order(last):
            yield RuleBreach(
                piece,
                Mark.BUT,
                say(
                    "lay-head-out-of-order",
                    "“{piece}” belongs before “{last}”: splitter, timer, backflow preventer, filter, "
                    "regulator, adapter is the order from the tap on.",
                    piece=piece.name,
                    last=last.name,
                ),
            )
        last = piece


def _backflow(zone: Zone) -> Iterator[RuleBreach]:
    source = zone.source
    if not isinstance(source, Tap) or source.kind is not TapKind.MAINS:
        return
    kinds = [_fitting_kind(piece) for piece in zone.pieces]
    if not any(kind and kind.is_one_way for kind in kinds):
        yield RuleBreach(
            source,
            Mark.FAILS,
            say(
                "lay-no-backflow-preventer",
                "“{zone}” has no backflow preventer on “{source}”: water from the bed could be sucked "
                "into the drinking water. Put one after the timer, and ask your water supplier which.",
                zone=zone.name,
                source=source.name,
            ),
        )


def _master_valves(zone: Zone) -> Iterator[RuleBreach]:
    """A master valve opens only with a controller's stations."""
    for piece in zone.pieces:
        kind = _fitting_kind(piece)
        if kind and kind.role is FittingRole.OPENS_WITH_ANY and not zones.is_controlled(zone):
            yield RuleBreach(
                piece,
                Mark.FAILS,
                say(
                    "lay-master-without-controller",
                    "Nothing opens “{piece}”: a master valve goes before the stations of a controller with several; "
                    "set one at the head of “{zone}”, or take the valve out.",
                    piece=piece.name,
                    zone=zone.name,
                ),
            )


def _no_spray_of_stored_water(zone: Zone) -> Iterator[RuleBreach]:
    """Warm water that stood may carry Legionella, and washing water more: it is dripped, not sprayed."""
    if zone.group is None and zone.drum is None:
        return
    drippers = plumbing.drippers()
    sprays = (o.pipe for o in zone.outlets if o.pipe.dripper and drippers[o.pipe.dripper].sprays)
    first = next(sprays, None)
    if first is not None:
        yield RuleBreach(
            first,
            Mark.FAILS,
            say(
                "lay-sprays-stored-water",
                "“{first}” sprays water that stood in “{source}”: what grows in warm water can be breathed in with"
                " the drops. Take drippers there, or lead it from the tap.",
                first=first.name,
                source=zone.source.name,
            ),
        )


def _filter_before_passages(zone: Zone) -> Iterator[RuleBreach]:
    if zone.has_filter:
        return
    drippers = plumbing.drippers()
    narrow = [o.pipe for o in zone.outlets if o.pipe.dripper and drippers[o.pipe.dripper].is_narrow]
    lines = [p for p in zone.pipes if laws.kind_of(p).is_narrow]
    first = next(iter((*narrow, *lines)), None)
    if first is not None:
        yield RuleBreach(
            first,
            Mark.BUT,
            say(
                "lay-no-filter",
                "No filter before “{first}”, whose passages are narrow: put one before it, and a screen"
                " on the store's inlet.",
                first=first.name,
            ),
        )


def _threads(zone: Zone) -> Iterator[RuleBreach]:
    """Neighbours have to mate: male into female of one form, barb into tube.

    That the source wants an adapter is usual, and that a barbed piece wants the tail of a hose, as every pipe
    does: the shopping list alone tells these.
    """
    pieces = {piece.id for piece in zone.pieces}
    joined = {part.id for part in zone.way.parts}
    for joint in adapters.joints(zone.garden):
        if joint.fault and joint.after.id in joined:
            yield RuleBreach(joint.after, Mark.FAILS, joint.fault)
        elif (
            joint.adapters
            and {joint.before.id, joint.after.id} <= pieces
            and adapters.into(zone.garden, joint.after).hold is not Grip.BARB
        ):
            names = quoted(use.good.name for use in joint.adapters)
            yield RuleBreach(
                joint.after,
                Mark.BUT,
                say(
                    "lay-threads-do-not-mate",
                    "“{after}” does not screw onto “{before}”: put {names} between. It is on the shopping "
                    "list.",
                    after=joint.after.name,
                    before=joint.before.name,
                    names=words(names),
                ),
            )


def _pressures(zone: Zone, state: ZoneState) -> Iterator[RuleBreach]:
    for piece in zone.pieces:
        kind = _fitting_kind(piece)
        if kind is None or kind.setting_m <= 0:
            continue
        before = zone.way.stops[piece.id].before
        assert before is not None
        inlet = state.heads[before] - zone.way.stops[piece.id].height
        if inlet < kind.least_inlet_m:
            yield RuleBreach(
                piece,
                Mark.BUT,
                say(
                    "lay-regulator-starved",
                    "“{piece}” has {inlet} before it and needs {least} to hold anything: leave it out, it "
                    "only takes head.",
                    piece=piece.name,
                    inlet=Amount(inlet, "head"),
                    least=Amount(kind.least_inlet_m, "head"),
                ),
            )
    for pipe in zone.pipes:
        segments = zone.way.segments[pipe.id]
        kind_of = laws.kind_of(pipe)
        if not segments or not kind_of.has_outlets:
            continue
        head = state.head_on(pipe)
        if head > kind_of.most_head_m:
            yield RuleBreach(
                pipe,
                Mark.FAILS,
                say(
                    "lay-too-much-head",
                    "“{pipe}” gets {head}; {kind} bears {most}: put a regulator before it.",
                    pipe=pipe.name,
                    kind=words(lowered(kind_of.name.split(":")[0])),
                    head=Amount(head, "head"),
                    most=Amount(kind_of.most_head_m, "head"),
                ),
            )


def _flows(zone: Zone, state: ZoneState) -> Iterator[RuleBreach]:
    for pipe in zone.pipes:
        segments = zone.way.segments[pipe.id]
        if not segments:
            continue
        kind, flow = laws.kind_of(pipe), abs(state.flows[segments[0].link])
        if kind.family == "micro" and flow > kind.usual_most_m3_s:
            yield RuleBreach(
                pipe,
                Mark.BUT,
                say(
                    "lay-tube-carries-too-much",
                    "“{pipe}” carries {flow}, more than such tube is good for ({most}): feed it from both "
                    "ends, or take wider.",
                    pipe=pipe.name,
                    flow=Amount(flow, "flow"),
                    most=Amount(kind.usual_most_m3_s, "flow"),
                ),
            )
        speed = flow / (pi / 4 * laws.bore_of(pipe) ** 2)
        if speed > FAST:
            yield RuleBreach(
                pipe,
                Mark.BUT,
                say(
                    "lay-water-too-fast",
                    "Water runs through “{pipe}” at {speed}: it hammers when it is shut. Take wider pipe.",
                    pipe=pipe.name,
                    speed=Amount(speed, "speed"),
                ),
            )


def _pumps(zone: Zone, state: ZoneState) -> Iterator[RuleBreach]:
    for pump in zone.pumps:
        fault = drives.suction_fault(zone, pump)
        if fault is not None:
            yield RuleBreach(pump, Mark.FAILS, fault)
        kind = catalogue.find(plumbing.pump_kinds(), pump.kind)
        if kind.is_switched and drives.cycling(pump, state) > drives.MOST_STARTS:
            yield RuleBreach(
                pump,
                Mark.BUT,
                say(
                    "lay-pump-would-cycle",
                    "“{pump}” gives more than this zone takes: its switch would start it {starts} times an "
                    "hour. Open more at once, throttle it, or fit a larger vessel.",
                    pump=pump.name,
                    starts=Amount(drives.cycling(pump, state), "plain"),
                ),
            )


def states_of(garden: Garden) -> dict[str, ZoneState]:
    """Every zone at the level at which times are reckoned, as far as it can be solved."""
    found = {}
    for zone in zones.zones_of(garden):
        try:
            found[zone.id] = solving.solve_zone(zone, zone.levels[zone.usual_level])
        except PlanError:
            continue
    return found
