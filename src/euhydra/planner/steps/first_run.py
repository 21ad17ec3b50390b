"""The first run of a zone: in what order, what should come out where, and what was measured."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from euhydra.garden import catalogue, plumbing
from euhydra.garden.logbook import LogEntry
from euhydra.garden.pipes import EndKind, Fitting, Pipe
from euhydra.garden.plumbing import FittingRole
from euhydra.garden.sentences import Amount, Sentence, counted, say
from euhydra.garden.sources import Greywater
from euhydra.garden.timers import Timer
from euhydra.planner.answers import Figure, Mark, PlanError, Verdict
from euhydra.planner.parts import meetings_linked
from euhydra.planner.push import drives
from euhydra.planner.water import laws, pump_starts, solving, throttling
from euhydra.planner.water.solving import ZoneState
from euhydra.planner.water.zones import Zone

NEAR = 0.15
"""Share by which what is measured may miss what is solved. [-] Common practice with cup and watch."""

CUP_FOR = 60.0
"""How long a cup is held under an outlet. [s] Common practice."""

FRESH = timedelta(days=2)
"""How old a dip may be to tell the level of a store."""

VALVES = (FittingRole.THROTTLES, FittingRole.SHUTS)
"""Kinds of fittings that a branch can be set with."""

USUAL_LEVEL = 0.5
"""Share of the drawable water that is taken where no dip tells. [-]"""


@dataclass(frozen=True)
class Act:
    """One thing to do at the first run, to be ticked off. `key` names its tick."""

    key: str
    title: str
    sentence: Sentence


@dataclass(frozen=True)
class CupPoint:
    """A place at which the flow is measured.

    part_id, word : As the log's entry of it says.
    at : Where on the plan. [m]
    solved : What the network gives there. [m³ s⁻¹]
    measured : The latest in the log; None before. [m³ s⁻¹]
    """

    part_id: str
    word: str
    name: str
    at: tuple[float, float]
    solved: float
    measured: float | None

    @property
    def cup(self) -> Amount:
        """What is in a cup after `CUP_FOR`."""
        return Amount(self.solved * CUP_FOR, "cupful")

    @property
    def is_near(self) -> bool | None:
        """Whether the two agree; None before it was measured."""
        if self.measured is None:
            return None
        return abs(self.measured - self.solved) <= NEAR * self.solved

    @property
    def judged(self) -> str:
        """The same in a word or two."""
        if self.measured is None:
            return "not measured yet"
        if self.is_near:
            return "as solved"
        return "weaker than solved" if self.measured < self.solved else "stronger than solved"


@dataclass(frozen=True)
class BranchSetting:
    """A branch: what its first outlet should give once the valves are set right.

    part_id : Line of that outlet, as the log's entry of it says.
    valve : Name of the valve at its beginning; None where there is none yet.
    wanted, measured : Of the first outlet; the latest in the log, None before. [m³ s⁻¹]
    is_open : Whether it is the weakest, which stays open.
    """

    name: str
    part_id: str
    valve: str | None
    wanted: float
    measured: float | None
    is_open: bool

    @property
    def cup(self) -> Amount:
        """What is in a cup after `CUP_FOR`."""
        return Amount(self.wanted * CUP_FOR, "cupful")

    @property
    def is_set(self) -> bool:
        """Whether the latest cup holds what it should."""
        return self.measured is not None and abs(self.measured - self.wanted) <= NEAR * self.wanted

    @property
    def judged(self) -> str:
        """What to do with its valve."""
        if self.measured is None:
            return "stays open" if self.is_open else "close it until the cup holds that"
        if self.is_set:
            return "as it should be"
        if self.measured > self.wanted:
            return "close it further" if not self.is_open else "open the others a little"
        return "open it a little" if not self.is_open else "close the others further"


@dataclass(frozen=True)
class FirstRun:
    """A zone before it is trusted."""

    zone: Zone
    level: float
    level_said: Sentence
    acts: tuple[Act, ...]
    points: tuple[CupPoint, ...]
    settings: tuple[BranchSetting, ...]
    fill: Figure | None
    fill_measured: float | None
    verdict: Verdict


def answer_first_run(
    zone: Zone,
    log: Sequence[LogEntry],
    fill: Figure | None = None,
    asks: Mapping[str, float] | None = None,
) -> FirstRun:
    """What to do and to measure, with what the log says of it.

    Parameters
    ----------
    log : Oldest first.
    fill : How long the reserves under its pots take to fill, where there are any.
    asks : What each of its beds and pots should get, by which its branches are set against each
        other; by their area where that is not known.

    Raises
    ------
    PlanError : if the network could not be solved.
    """
    level, said = level_of(zone, log)
    state = solving.solve_zone(zone, level)
    points = tuple(_points(zone, state, log))
    watered = {part.id for part in zone.watered}
    fills = [e.amounts[0] for e in log if e.kind == "fill" and e.part_id in watered]
    return FirstRun(
        zone,
        level,
        said,
        tuple(_acts(zone)),
        points,
        tuple(_settings(zone, log, asks)),
        fill,
        fills[-1] if fills else None,
        _verdict(zone.name, points),
    )


def level_of(zone: Zone, log: Sequence[LogEntry]) -> tuple[float, Sentence]:
    """Share of the drawable water in its store: by the latest dip, else half."""
    if zone.group is None:
        return 1.0, say("steps-tap-fully-open", "From the tap, fully open.")
    dips = [e for e in log if e.kind == "dip" and any(s.id == e.part_id for s in zone.group.stores)]
    newest = dips[-1] if dips else None
    latest = max((e.at for e in log), default=datetime.min)
    if newest is None or latest - newest.at > FRESH or newest.amounts[0] is None:
        return USUAL_LEVEL, say(
            "steps-reckoned-store-half",
            "Reckoned with the store half full: dip it and write that down, and this follows.",
        )
    store = next(s for s in zone.group.stores if s.id == newest.part_id)
    volume = zone.group.level.volume_at(store.base_m + newest.amounts[0])
    share = (volume - zone.dead_m3) / zone.usable_m3
    return min(max(share, 0.0), 1.0), say(
        "steps-reckoned-as-dipped",
        "Reckoned with {depth} in “{store}”, as dipped.",
        store=store.name,
        depth=Amount(newest.amounts[0], "height"),
    )


def _acts(zone: Zone) -> Iterator[Act]:
    stem = f"first-{zone.id}"
    loose = meetings_linked.open_ends(zone.garden)
    ends = [p for p in zone.pipes if p.id in loose and p.end is EndKind.OPENS and not p.dripper]
    lines = [p for p in zone.pipes if laws.kind_of(p).has_outlets]
    tubes = sum(p.dripper is not None for p in zone.pipes)
    starts = pump_starts.starts_of(zone.garden)
    for pump in zone.pumps:
        kind = catalogue.find(plumbing.pump_kinds(), pump.kind)
        yield Act(
            f"{stem}-{pump.id}",
            f"“{pump.name}”, before anything else",
            say(
                "steps-pump-first",
                "Priming: {priming}. Lift its float by hand: it starts; let it down: it stops. {start}",
                priming=drives.priming(zone, pump, kind),
                start=pump_starts.how(starts[pump.id], zone),
            ),
        )
    yield Act(
        f"{stem}-leaks",
        "Leaks, with everything shut",
        say(
            "steps-shut-valve-zone",
            "Shut every valve of the zone, open “{source}”, and look at each joint for ten minutes."
            " A drip: a quarter turn more, then a new washer.",
            source=zone.source.name,
        ),
    )
    if ends:
        yield Act(
            f"{stem}-flush",
            "Flush, with the ends open",
            say(
                "steps-open-let-water",
                "Open {ends} and let the water run until it comes clear, some minutes.",
                ends=_listed(ends),
            ),
        )
        yield Act(
            f"{stem}-close",
            "Close the ends",
            say(
                "steps-close-in-order",
                "In this order, so that the air goes out ahead of the water: {ends}.",
                ends=_listed(ends),
            )
            if len(ends) > 1
            else say(
                "steps-close-one",
                "{ends}, when no more air comes with the water.",
                ends=_listed(ends),
            ),
        )
    if zone.keeps_level:
        yield _act_of_float(stem, zone)
    elif lines or tubes:
        walk = _listed(lines) if lines else f"the {counted(tubes, 'tube')}"
        yield Act(
            f"{stem}-walk",
            "Walk the lines",
            say(
                "steps-along-outlets-wets",
                "Along {walk}: {outlets} wets its spot, nothing sprays, no end drips.",
                walk=walk,
                outlets="its one outlet"
                if len(zone.outlets) == 1
                else f"every one of the {len(zone.outlets)} outlets",
            ),
        )
    if zone.drum is not None:
        yield _act_of_drum(stem, zone, zone.drum)


def _act_of_float(stem: str, zone: Zone) -> Act:
    return Act(
        f"{stem}-float",
        "See that the float shuts",
        say(
            "steps-float-shuts",
            "Open “{source}” and wait until the water under “{zone}” stands at its level: every float shuts by itself, "
            "no overflow runs, and a hand that lifts a float lets nothing through.",
            source=zone.source.name,
            zone=zone.name,
        ),
    )


def _act_of_drum(stem: str, zone: Zone, drum: Greywater) -> Act:
    flow = solving.solve_zone(zone, USUAL_LEVEL).flow
    return Act(
        f"{stem}-drum",
        "A drum of clean water",
        say(
            "steps-fill-drum",
            "Fill “{drum}” with {volume} of clean water, and watch: the lines take it all, nothing runs over, and it is "
            "empty again after about {hours}. Only then turn the diverter to it.",
            drum=drum.name,
            volume=Amount(drum.drum_m3, "volume"),
            hours=Amount(drum.drum_m3 / flow if flow > 0 else 0.0, "hours"),
        ),
    )


def _listed(pipes: Sequence[Pipe]) -> str:
    return ", ".join(f"“{pipe.name}”" for pipe in pipes)


def _points(zone: Zone, state: ZoneState, log: Sequence[LogEntry]) -> Iterator[CupPoint]:
    head = next((p for p in zone.way.parts if isinstance(p, Timer)), zone.source)
    place = (head.at.x_m, head.at.y_m)
    yield _point(head.id, "whole", f"All of it, at “{head.name}”", place, state.flow, log)
    for pipe_id, indices in outlets_along(zone).items():
        pipe = next(p for p in zone.pipes if p.id == pipe_id)
        for word, i in {"first": indices[0], "last": indices[-1]}.items():
            if word == "last" and len(indices) == 1:
                continue
            outlet, flow = zone.outlets[i], float(state.outlet_flow[i])
            name = f"“{pipe.name}”, its {word} outlet"
            yield _point(pipe_id, word, name, (outlet.x, outlet.y), flow, log)


def outlets_along(zone: Zone) -> dict[str, list[int]]:
    """Outlets by the line they are on, or the one that their tubes are fed from, in order."""
    found: dict[str, list[tuple[float, int]]] = {}
    for i, outlet in enumerate(zone.outlets):
        if outlet.pipe.dripper is None:
            found.setdefault(outlet.pipe.id, []).append((float(i), i))
        else:
            along = outlet.pipe.begins_along_m or 0.0
            found.setdefault(outlet.pipe.begins_at or outlet.pipe.id, []).append((along, i))
    known = {pipe.id for pipe in zone.pipes}
    return {key: [i for _, i in sorted(pairs)] for key, pairs in found.items() if key in known}


def _point(
    part_id: str,
    word: str,
    name: str,
    at: tuple[float, float],
    solved: float,
    log: Sequence[LogEntry],
) -> CupPoint:
    return CupPoint(part_id, word, name, at, solved, _latest(part_id, word, log))


def _latest(part_id: str, word: str, log: Sequence[LogEntry]) -> float | None:
    """The latest flow by bucket of a place. [m³ s⁻¹]"""
    own = [e for e in log if e.kind == "flow" and e.part_id == part_id and e.word == word]
    return measured_flow(own[-1]) if own else None


def measured_flow(entry: LogEntry) -> float:
    """Of an entry of a flow by bucket. [m³ s⁻¹]"""
    volume, seconds = entry.amounts
    assert volume is not None
    assert seconds is not None
    return volume / seconds


def _settings(
    zone: Zone, log: Sequence[LogEntry], asks: Mapping[str, float] | None
) -> Iterator[BranchSetting]:
    throttled = throttling.throttle(zone, asks) if _has_throttles(zone) else None
    if throttled is None:
        return
    try:
        state = solving.solve_zone(throttled.zone, throttling.LEVEL if zone.group else 1.0)
    except PlanError:
        return
    least = min(branch.loss for branch in throttled.branches)
    for branch, (_, own) in zip(throttled.branches, throttling.branches_of(zone), strict=True):
        line = zone.outlets[own[0]].pipe.id
        yield BranchSetting(
            branch.name,
            line,
            _valve_before(zone, branch.pipe),
            float(state.outlet_flow[own[0]]),
            _latest(line, "balanced", log),
            branch.loss <= least,
        )


def _valve_before(zone: Zone, pipe: Pipe) -> str | None:
    """Name of the valve that a branch begins at."""
    valve = next((f for f in zone.garden.fittings if f.id == pipe.begins_at), None)
    return valve.name if valve is not None and valve.role in VALVES else None


def _has_throttles(zone: Zone) -> bool:
    """Whether there is more than one branch to be set against another."""
    return len(throttling.branches_of(zone)) > 1 and any(
        isinstance(p, Fitting | Pipe) for p in zone.way.parts
    )


def _verdict(name: str, points: Sequence[CupPoint]) -> Verdict:
    measured = [p for p in points if p.measured is not None]
    off = [p for p in measured if not p.is_near]
    if not measured:
        return Verdict(
            Mark.BUT,
            say(
                "steps-measured-yet-turn",
                "“{name}” is not measured yet: turn it on in the order below, then hold a cup under the"
                " points listed.",
                name=name,
            ),
        )
    if not off:
        return Verdict(
            Mark.WORKS,
            say(
                "steps-points-measured-give",
                "“{name}”: measured at {measured} of {points}, and gives what was solved.",
                name=name,
                measured=len(measured),
                points=counted(len(points), "point"),
            ),
        )
    worst = max(off, key=lambda p: abs((p.measured or 0.0) / p.solved - 1) if p.solved else 0.0)
    return Verdict(
        Mark.BUT,
        say(
            "steps-measured-off",
            "{worst}: {measured} instead of {solved}.",
            worst=worst.name,
            measured=Amount(worst.measured or 0.0, "flow"),
            solved=Amount(worst.solved, "flow"),
        ),
    )
