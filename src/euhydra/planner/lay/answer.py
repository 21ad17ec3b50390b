"""Lay: what each plant gets from the lines as they are drawn, and what wants mending."""

from collections.abc import Iterator
from dataclasses import dataclass
from math import inf

import numpy as np

from euhydra.core.constants import SECONDS_PER_HOUR
from euhydra.garden.drinker import Drinker
from euhydra.garden.model import Garden
from euhydra.garden.patches import PatchKind
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.answers import Mark, PlanError, Verdict
from euhydra.planner.catch import washing_week
from euhydra.planner.lay import rules
from euhydra.planner.lay.breach import RuleBreach
from euhydra.planner.lay.wetted import Wetting, answer_wetting
from euhydra.planner.water import laws, solving, zones
from euhydra.planner.water.solving import ZoneState
from euhydra.planner.water.zones import Zone

LOW, HIGH = 0.9, 1.1
"""Outlet over its due between which it counts as right. [-] Common practice: within 10%."""

MOST_REASONS = 1


@dataclass(frozen=True)
class LaidZone:
    """One zone at the level at which times are reckoned; `state` is None if it was not solved.

    gap : Why it was not.
    fastest : Highest velocity in any pipe. [m s⁻¹]
    farthest_m : Pipe from the source to the farthest outlet. [m]
    hot_day_h : Hours for the water of a hot day. [h]
    """

    zone: Zone
    state: ZoneState | None
    gap: Sentence | None
    fastest: float
    farthest_m: float
    hot_day_h: float


@dataclass(frozen=True)
class Mend:
    """One thing that wants a change, and how badly."""

    mark: Mark
    message: Sentence


@dataclass(frozen=True)
class LayAnswer:
    """Every zone, every bed's wetted ground, every finding, and all that there is to mend."""

    garden: Garden
    zones: tuple[LaidZone, ...]
    findings: tuple[RuleBreach, ...]
    wettings: tuple[Wetting, ...]
    to_mend: tuple[Mend, ...]
    unwatered: tuple[tuple[Drinker, Sentence], ...]
    verdict: Verdict

    @property
    def states(self) -> dict[str, ZoneState]:
        """Solved zones by id."""
        return {z.zone.id: z.state for z in self.zones if z.state is not None}


def answer_lay(garden: Garden) -> LayAnswer:
    """Solve every zone by itself and look the drawing over."""
    laid = tuple(_laid(zone) for zone in zones.zones_of(garden))
    states = {z.zone.id: z.state for z in laid if z.state is not None}
    findings = rules.find_all(garden, states)
    wetted: list[Wetting] = []
    paths = [patch for patch in garden.patches if patch.kind is PatchKind.PATH]
    for state in states.values():
        spread = (answer_wetting(bed, state, paths) for bed in state.zone.beds)
        wetted += [answer for answer in spread if answer]
    unwatered = tuple(_unwatered(garden, laid))
    to_mend = (
        *_short(laid),
        *(Mend(breach.mark, breach.message) for breach in findings),
        *(
            Mend(w.verdict.mark, w.verdict.summary)
            for w in wetted
            if w.verdict.mark is not Mark.WORKS
        ),
        *(Mend(Mark.BUT, sentence) for _, sentence in unwatered),
    )
    verdict = _verdict(garden, laid, to_mend)
    return LayAnswer(garden, laid, findings, tuple(wetted), to_mend, unwatered, verdict)


def _laid(zone: Zone) -> LaidZone:
    try:
        state = solving.solve_zone(zone, zone.levels[zone.usual_level])
    except PlanError as error:
        return LaidZone(zone, None, error.sentence, 0.0, 0.0, inf)
    speeds = [
        abs(state.flows[segments[0].link]) / (np.pi / 4 * laws.bore_of(pipe) ** 2)
        for pipe in zone.pipes
        if (segments := zone.way.segments[pipe.id])
    ]
    reach: dict[str, float] = {}
    for stop in zone.way.stops.values():
        reach[stop.node] = stop.length + (reach[stop.before] if stop.before else 0.0)
    thirst = sum(solving.thirst(part) for part in zone.watered)
    hours = thirst / state.low_quarter / state.flow / SECONDS_PER_HOUR if state.low_quarter else inf
    return LaidZone(
        zone, state, None, max(speeds, default=0.0), max(reach[o.node] for o in zone.outlets), hours
    )


@dataclass(frozen=True)
class Carried:
    """What runs through one pipe or piece, at the level at which times are reckoned.

    head : Over its far end. [m]
    lost : Head that it takes; negative where a pump adds. [m]
    speed : In a pipe; 0 for a piece. [m s⁻¹]
    """

    flow: float
    head: float
    lost: float
    speed: float


def _short(laid: tuple[LaidZone, ...]) -> list[Mend]:
    """Zones that cannot be solved; beds and pots that get too little of their zone's water, the worst first."""
    found = []
    for zone in laid:
        if zone.state is None:
            continue
        for part in zone.zone.watered:
            due = zone.state.due_of(part.id)
            if due < LOW:
                found.append((due, part.name))
    unfair = (
        say(
            "lay-part-gets-too-little",
            "“{name}” gets {share} of its due: Push says what would cure it.",
            name=name,
            share=Amount(due, "share"),
        )
        for due, name in sorted(found)
    )
    gaps = (Mend(Mark.FAILS, zone.gap) for zone in laid if zone.gap)
    return [*gaps, *(Mend(Mark.BUT, sentence) for sentence in unfair)]


def _unwatered(garden: Garden, laid: tuple[LaidZone, ...]) -> Iterator[tuple[Drinker, Sentence]]:
    """Beds and pots that neither a line waters, nor washing water, nor a hand."""
    watered = {part.id for zone in laid for part in zone.zone.watered}
    watered |= {part.id for grey in garden.greywaters for part in washing_week.led_to(garden, grey)}
    for part in garden.planted:
        if part.id not in watered and part.hand_from is None:
            yield part, say("lay-nothing-waters", "Nothing waters “{part}”.", part=part.name)


def carried_by(garden: Garden, part_id: str) -> Carried | None:
    """What a pipe or piece carries in the first zone that it is in; None if that is not solved."""
    zone = next(
        (z for z in zones.zones_of(garden) if any(p.id == part_id for p in z.way.parts)), None
    )
    if zone is None:
        return None
    try:
        state = solving.solve_zone(zone, zone.levels[zone.usual_level])
    except PlanError:
        return None
    segments = zone.way.segments.get(part_id)
    if segments is None:
        stop = zone.way.stops[part_id]
        assert stop.before is not None
        lost = state.heads[stop.before] - state.heads[part_id]
        return Carried(state.flows[part_id], state.heads[part_id] - stop.height, lost, 0.0)
    if not segments:
        return None
    pipe = next(p for p in zone.pipes if p.id == part_id)
    flow, last = state.flows[segments[0].link], zone.way.stops[segments[-1].end]
    lost = state.heads[segments[0].start] - state.heads[last.node]
    speed = abs(flow) / (np.pi / 4 * laws.bore_of(pipe) ** 2)
    return Carried(flow, state.heads[last.node] - last.height, lost, speed)


def due_of(got: float) -> str:
    """How an outlet stands: `dry`, `low`, `due` or `high`."""
    if got < 0.5:
        return "dry"
    return "low" if got < LOW else "due" if got <= HIGH else "high"


def _verdict(garden: Garden, laid: tuple[LaidZone, ...], to_mend: tuple[Mend, ...]) -> Verdict:
    if not laid and garden.planted and all(part.hand_from for part in garden.planted):
        return Verdict(
            Mark.WORKS,
            say(
                "lay-all-by-hand",
                "No line is laid, and none has to be: everything is watered by hand.",
            ),
        )
    if not laid:
        return Verdict(
            Mark.FAILS,
            say(
                "lay-nothing-laid",
                "No line waters anything yet: choose a bed and let one be laid for you.",
            ),
        )
    got = np.concatenate([z.state.got for z in laid if z.state is not None] or [np.zeros(0)])
    right = int(((got >= LOW) & (got <= HIGH)).sum())
    count = len(to_mend)
    ending = {0: ".", 1: "; {mend} thing to mend."}.get(count, "; {mend} things to mend.")
    told = "{right} of {outlets} outlets give within a tenth of their due"
    if len(got) == 1:
        told = f"The one outlet {'gives' if right else 'does not give'} within a tenth of its due"
    summary = say(
        "lay-outlets-right",
        told + ending,
        right=right,
        outlets=len(got),
        mend=count,
    )
    is_fatal = any(each.mark is Mark.FAILS for each in to_mend) or right < len(got) / 2
    mark = Mark.FAILS if is_fatal else Mark.WORKS if not to_mend and right == len(got) else Mark.BUT
    more = count - MOST_REASONS
    shown = tuple(each.message for each in to_mend[:MOST_REASONS])
    if more > 0:
        shown += (say("lay-more-below", "And {more} more, below the drawing.", more=more),)
    return Verdict(mark, summary, shown)
