"""Head, hose, lines and tubes of a zone: steps along the water."""

from collections.abc import Iterator, Mapping
from collections.abc import Set as AbstractSet
from math import hypot

from euhydra.garden import catalogue, plumbing
from euhydra.garden.beds import Bed
from euhydra.garden.pipes import Fitting, Pipe, Pump
from euhydra.garden.plumbing import Dripper, FittingRole
from euhydra.garden.pots import Pots
from euhydra.garden.sentences import (
    Amount,
    Sentence,
    Value,
    counted,
    listed,
    lowered,
    quoted,
    say,
    words,
)
from euhydra.garden.sources import Tap
from euhydra.garden.timers import Timer, find_timer
from euhydra.planner.parts import counting
from euhydra.planner.push import drives
from euhydra.planner.steps import planter_steps
from euhydra.planner.steps.step import Step
from euhydra.planner.water import laws, pump_starts
from euhydra.planner.water.pump_starts import PumpStart
from euhydra.planner.water.zones import Zone

HAND_TIGHT = "hand-tight and a quarter to half a turn more, with its washer, no tape, no tools"


def zone_steps(
    zone: Zone, lengths: Mapping[str, float], built: AbstractSet[str] = frozenset()
) -> Iterator[Step]:
    """Along the water, what is not built yet.

    Parameters
    ----------
    lengths : To which each pipe is cut, by its id. [m]
    built : Ids of parts that a zone before it shares.
    """
    pipes = [pipe for pipe in zone.pipes if pipe.id not in built]
    pieces = [p for p in zone.way.parts if isinstance(p, Fitting | Timer) and p.id not in built]
    head = [piece for piece in pieces if _is_head(zone, piece)]
    if head:
        yield _head_step(zone, head)
    for pump in zone.pumps:
        if pump.id not in built:
            yield _pump_step(zone, pump)
    plain = [p for p in pipes if not laws.gives(p) or _ends_in_box(zone, p)]
    between = [piece for piece in pieces if piece not in head]
    if plain or between:
        yield _hose_step(zone, plain, between, lengths)
    lines = [p for p in pipes if laws.kind_of(p).has_outlets]
    if lines:
        yield _line_step(zone, lines)
    tubes = [p for p in pipes if p.dripper is not None and not _ends_in_box(zone, p)]
    if tubes:
        yield _tube_step(zone, tubes)
    for pots in zone.garden.pots:
        if any(p.waters == pots.id and _ends_in_box(zone, p) for p in pipes):
            yield planter_steps.of_planters(pots)


def _head_step(zone: Zone, pieces: list[Fitting | Timer]) -> Step:
    names = [_piece_name(zone, piece) for piece in pieces]
    parts = {part.id: part for part in zone.garden.joinable}
    sentences = [
        say(
            "steps-screw-together",
            "Screw together, from “{source}” on: {names}.",
            source=parts[pieces[0].begins_at or zone.source.id].name,
            names=listed(names),
        ),
        say(
            "steps-hose-thread-arrow",
            "Every hose thread {hand_tight}; an arrow on a piece points the way of the water.",
            hand_tight=HAND_TIGHT,
        ),
    ]
    if any(isinstance(p, Fitting) and p.role is FittingRole.OPENS_WITH_ANY for p in pieces):
        sentences.append(
            say(
                "steps-wire-master",
                "Wire the master valve to the controller's terminal for it, with gel-filled connectors; low voltage only.",
            )
        )
    is_mains = isinstance(zone.source, Tap)
    if is_mains:
        sentences.append(
            say(
                "steps-timer-comes-before",
                "The timer comes before the rest: its valve alone bears the pressure while it is shut.",
            )
        )
    return Step(
        f"head-{zone.id}",
        f"Head of “{zone.name}”",
        tuple(sentences),
        "your hands",
        20.0,
        (zone.source.id, *(piece.id for piece in pieces)),
        ("backflow",) if is_mains else (),
        ("heads", "joints", "fixing"),
    )


def _is_head(zone: Zone, piece: Fitting | Timer) -> bool:
    """Whether a piece comes before every pipe, and so does all that it is screwed to."""
    parts = {part.id: part for part in zone.way.parts}
    feeder = parts.get(piece.begins_at or "")
    while feeder is not None and not isinstance(feeder, Pipe):
        feeder = parts.get(feeder.begins_at or "")
    return feeder is None


def _piece_name(zone: Zone, piece: Fitting | Timer) -> Value:
    if isinstance(piece, Timer):
        return lowered(find_timer(zone.garden.own_timers, piece.kind).name)
    return words(lowered(catalogue.find(plumbing.fitting_kinds(), piece.kind).name))


def _pump_step(zone: Zone, pump: Pump) -> Step:
    kind = catalogue.find(plumbing.pump_kinds(), pump.kind)
    start = pump_starts.starts_of(zone.garden)[pump.id]
    is_low = kind.runs_on_battery
    sentences = [
        say(
            "steps-set-drawn-priming",
            "Set {pump} as drawn. Priming: {priming}.",
            pump=words(lowered(kind.name)),
            priming=drives.priming(zone, pump, kind),
        ),
        say(
            "steps-join-battery-last",
            "Join its battery last, plus over the fuse; never run the pump dry.",
        )
        if is_low
        else say(
            "steps-plug-last-residual",
            "Plug it in last, on a residual-current device, with a drip loop in the lead; never run"
            " it dry.",
        ),
        pump_starts.how(start, zone),
    ]
    if start is PumpStart.CONTROLLER:
        sentences.append(
            say(
                "steps-pump-relay",
                "Have the mains side of that relay wired by a licensed electrician.",
            )
        )
    caution = "batteries" if is_low else "electricity"
    return Step(
        f"pump-{pump.id}",
        f"Pump of “{zone.name}”",
        tuple(sentences),
        "screwdriver",
        45,
        (pump.id,),
        (caution, "electricity") if caution == "batteries" else (caution,),
        ("heads", "joints", "fixing"),
    )


def _hose_step(
    zone: Zone, pipes: list[Pipe], pieces: list[Fitting | Timer], lengths: Mapping[str, float]
) -> Step:
    """Plain pipe, and the pieces that sit in it."""
    sentences = []
    for pipe in pipes:
        bore = laws.bore_of(pipe)
        sentences.append(
            say(
                "steps-cut-tube-sun",
                "“{pipe}”: cut {length} of {bore} tube, in the sun if it is stiff, and lay it{turns}.",
                pipe=pipe.name,
                turns=_as_turns(pipe),
                length=Amount(lengths[pipe.id], "length"),
                bore=Amount(bore, "bore"),
            )
        )
    if pieces:
        sentences.append(
            say(
                "steps-set-between",
                "Set where the plan shows them, arrows with the water: {names}.",
                names=listed([_piece_name(zone, piece) for piece in pieces]),
            )
        )
    sentences.append(
        say(
            "steps-push-tube-ends",
            "Push tube ends fully onto their barbs, dipped in hot water first; leave far ends open "
            "for now.",
        )
    )
    return Step(
        f"hose-{zone.id}",
        f"Hose and header of “{zone.name}”",
        tuple(sentences),
        "tube cutter, flask of hot water",
        15.0 + 3 * sum(lengths[p.id] for p in pipes),
        tuple(p.id for p in (*pipes, *pieces)),
        ("paths",),
        ("pipes", "joints", "fixing", "heads"),
    )


def _as_turns(pipe: Pipe) -> str:
    return "" if len(pipe.path) < 3 else " with its bends as on the plan"


def _line_step(zone: Zone, lines: list[Pipe]) -> Step:
    sentences = []
    for waters in dict.fromkeys(p.waters for p in lines):
        own = [p for p in lines if p.waters == waters]
        bed = next((b for b in zone.garden.beds if b.id == waters), None)
        sentences.append(_rows_said(own, bed))
    drilled = [p for p in lines if laws.kind_of(p).family == "drilled"]
    if drilled:
        sentences.append(
            say(
                "steps-clamp-pipe-drill",
                "Clamp the pipe and drill its holes in one line, {apart} apart, {wide} wide; graded "
                "ones as the list on Lay says.",
                apart=Amount(laws.spacing_of(drilled[0]), "tape"),
                wide=Amount(laws.hole_of(drilled[0]), "bore"),
            )
        )
    sentences.append(
        say(
            "steps-outlets-look-stakes",
            "Outlets look up. Stakes: one each {step} and at both ends; loose enough to slide.",
            step=Amount(counting.STAKE_EACH, "length"),
        )
    )
    return Step(
        f"line-{zone.id}",
        f"Lines of “{zone.name}”",
        tuple(sentences),
        "tube cutter",
        15.0 + 4 * sum(p.lies_m for p in lines),
        tuple(p.id for p in lines),
        ("drilling",) if drilled else (),
        ("pipes", "joints", "fixing"),
    )


def _ends_in_box(zone: Zone, pipe: Pipe) -> bool:
    """Whether a pipe ends in the float of a chain of planters or of a trough."""
    pots = next((p for p in zone.garden.pots if p.id == pipe.waters), None)
    return pots is not None and pots.is_joined and pipe.dripper is not None


def _at_the_end(dripper: Dripper) -> Sentence:
    """What a tube ends in, and where that sits."""
    name = words(lowered(dripper.name))
    if dripper.keeps_level:
        return say(
            "steps-end-in-float",
            "On each end: {dripper}, screwed level into its pot or tray, which stands level too; an overflow hole a "
            "finger over the level at which it shuts. Then water the mix once from above.",
            dripper=name,
        )
    return say(
        "steps-end-stake-half",
        "On each end: {dripper}, on a stake half way to the rim.",
        dripper=name,
    )


def _rows_said(rows: list[Pipe], bed: Bed | None) -> Sentence:
    kind = laws.kind_of(rows[0])
    template = "{rows} rows of {kind}" if len(rows) > 1 else "1 row of {kind}"
    template += " in “{bed}”, {long} each" if bed else ", {long} each"
    template += ", {apart} apart." if bed and len(rows) > 1 else "."
    return say(
        "steps-rows",
        template,
        rows=len(rows),
        kind=words(lowered(kind.name.split(":")[0])),
        bed=bed.name if bed else "",
        long=Amount(max(p.lies_m for p in rows), "length"),
        apart=Amount(_apart(rows) if len(rows) > 1 else 0.0, "tape"),
    )


def _apart(rows: list[Pipe]) -> float:
    """Distance between the beginnings of the first two rows. [m]"""
    a, b = rows[0].path[0], rows[1].path[0]
    return hypot(a.x_m - b.x_m, a.y_m - b.y_m)


def _tube_step(zone: Zone, tubes: list[Pipe]) -> Step:
    ids = {p.waters for p in tubes}
    groups: list[Pots] = [p for p in zone.garden.pots if p.id in ids]
    names = quoted(g.name for g in groups) if groups else "the plants"
    dripper = catalogue.find(plumbing.drippers(), tubes[0].dripper or "")
    return Step(
        f"tubes-{zone.id}",
        f"Tubes to {names}",
        (
            say(
                "steps-cut-tubes-longest",
                "Cut {tubes}, the longest {long}, the shortest {short}.",
                tubes=counted(len(tubes), "tube"),
                long=Amount(max(p.lies_m for p in tubes), "tape"),
                short=Amount(min(p.lies_m for p in tubes), "tape"),
            ),
            say(
                "steps-punch-tube-square",
                "Punch the tube square, turn the barb in; a hole gone wrong takes a plug.",
            ),
            _at_the_end(dripper),
        ),
        "hole punch, cutter",
        10.0 + 4 * len(tubes),
        tuple(p.id for p in tubes),
        (),
        ("pipes", "joints", "fixing", "outlets"),
    )
