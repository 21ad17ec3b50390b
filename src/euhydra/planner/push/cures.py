"""Single changes after which a zone works, each tried by solving it again."""

from collections.abc import Iterator
from dataclasses import dataclass
from math import sqrt
from typing import cast

from euhydra.core.constants import METRES_PER_INCH
from euhydra.garden import catalogue, plumbing
from euhydra.garden.model import Garden
from euhydra.garden.pipes import Fitting, Pipe
from euhydra.garden.quantities import System
from euhydra.garden.sentences import Amount, Sentence, listed, lowered, say, words
from euhydra.garden.stores import Store
from euhydra.garden.timers import Timer
from euhydra.planner.answers import PlanError
from euhydra.planner.push import drives, grading, shortfalls, splitting
from euhydra.planner.push.shortfalls import Duty
from euhydra.planner.water import laws, solving, throttling, zones
from euhydra.planner.water.zones import Zone

RAISE_STEPS = {System.METRIC: 0.05, System.US: 2 * METRES_PER_INCH}
"""Step in which a higher stand is tried. [m]"""

HIGHEST_STAND = 1.5
"""Highest stand that is proposed. [m] Our choice: a full barrel is a heavy thing to fall."""

SETTINGS = (5.0, 7.0, 10.0, 14.0, 20.0, 28.0)
"""Heads that regulators are sold for. [m] Common practice: half a bar to nearly three."""

MOST_PIPES_TRIED = 12
"""Plain pipes of a zone that are tried wider, those that carry most first."""


@dataclass(frozen=True)
class ZoneCure:
    """One change of a zone that was tried by solving it again, and what it brings.

    garden : With the change made; None where it is none of the garden's.
    """

    change: Sentence
    outcome: Sentence
    garden: Garden | None = None


def find_cures(zone: Zone, duty: Duty | None) -> Iterator[ZoneCure]:
    """Changes after which the zone works, as they are found, gentle ones first."""
    tried = (
        _other_valve,
        _raise_stand,
        _wider_pipe,
        _lower_regulator,
        _add_regulator,
        _throttle_pump,
        _throttle,
        _grade_holes,
        _split,
    )
    for change in tried:
        cure = change(zone, duty)
        if cure:
            yield cure
    yield from _other_outlets(zone, duty)


def _outcome(zone: Zone, duty: Duty | None) -> Sentence:
    state = solving.solve_zone(zone, zone.levels[zone.usual_level])
    when = "at half level" if zone.group else "from the tap"
    flow = Amount(state.flow, "flow")
    if duty is None:
        return say("push-then-flow", "Then {flow} {when}.", when=when, flow=flow)
    hours = Amount.hours(shortfalls.hours_for(zone, duty))
    return say(
        "push-days-water",
        "Then {flow} {when}, the day's water in {hours}.",
        when=when,
        flow=flow,
        hours=hours,
    )


def _other_valve(zone: Zone, duty: Duty | None) -> ZoneCure | None:
    if not isinstance(zone.head, Timer) or zone.timer is None:
        return None
    for timer in catalogue.timers().values():
        other = zone.head.model_copy(update={"kind": timer.id})
        changed = zones.in_garden(zone, timers={other.id: other})
        if timer.id != zone.timer.id and shortfalls.works(changed, duty):
            return ZoneCure(
                say("push-another-timer", "Another timer: {timer}.", timer=lowered(timer.name)),
                _outcome(changed, duty),
                changed.garden,
            )
    return None


def _raise_stand(zone: Zone, duty: Duty | None) -> ZoneCure | None:
    if zone.group is None or any(store.sunk_m > 0 for store in zone.group.stores):
        return None  # what lies in the ground has no stand
    store = cast(Store, zone.source)
    step = RAISE_STEPS[zone.garden.units]
    high = int((HIGHEST_STAND - store.stand_m) / step + 1e-9)
    low = 0
    if high <= 0 or not shortfalls.works(zones.raised(zone, high * step), duty):
        return None
    while high - low > 1:
        middle = (low + high) // 2
        is_enough = shortfalls.works(zones.raised(zone, middle * step), duty)
        low, high = (low, middle) if is_enough else (middle, high)
    by = high * step
    return ZoneCure(
        say("push-raise-stand", "Raise the stand by {by}.", by=Amount(by, "height")),
        _outcome(zones.raised(zone, by), duty),
        zones.raised(zone, by).garden,
    )


def _wider_pipe(zone: Zone, duty: Duty | None) -> ZoneCure | None:
    """The next size that cures, on one plain pipe; that with the most loss is tried first."""
    state = solving.solve_zone(zone, zone.levels[zone.usual_level])
    plain = [p for p in zone.pipes if laws.kind_of(p).family in ("plain", "micro")]

    def lost(pipe: Pipe) -> float:
        segments = zone.way.segments[pipe.id]
        if not segments:
            return 0.0
        return abs(state.heads[segments[0].start] - state.heads[segments[-1].end])

    plain.sort(key=lost, reverse=True)
    for pipe in plain[:MOST_PIPES_TRIED]:
        for name, wider in widened(pipe):
            changed = zones.in_garden(zone, pipes={pipe.id: wider})
            if shortfalls.works(changed, duty):
                change = say(
                    "push-wider-pipe",
                    "A wider pipe for “{pipe}”: {kind}.",
                    pipe=pipe.name,
                    kind=words(name),
                )
                return ZoneCure(change, _outcome(changed, duty), changed.garden)
    return None


def widened(pipe: Pipe) -> Iterator[tuple[str, Pipe]]:
    """The pipe in the next sizes of its sort: nobody leads a hose to a single pot."""
    before = laws.bore_of(pipe)
    if laws.kind_of(pipe).family == "micro":
        tubes = [k for k in plumbing.pipe_kinds().values() if k.family == "micro"]
        for tube in sorted(tubes, key=lambda k: k.bore_m):
            if tube.bore_m > before:
                name = lowered(tube.name)
                yield name, pipe.model_copy(update={"kind": tube.id, "bore_m": None})
        return
    for bore in catalogue.bores().values():
        if bore.bore_m > before:
            yield bore.name, pipe.model_copy(update={"bore_m": bore.bore_m})


def _lower_regulator(zone: Zone, duty: Duty | None) -> ZoneCure | None:
    """Another setting of a regulator, where it holds too much or too little."""
    for piece in zone.way.parts:
        if not isinstance(piece, Fitting):
            continue
        if catalogue.find(plumbing.fitting_kinds(), piece.kind).setting_m <= 0:
            continue
        for setting in SETTINGS:
            other = piece.model_copy(update={"setting_m": setting})
            changed = zones.in_garden(zone, fittings={piece.id: other})
            if shortfalls.works(changed, duty):
                return ZoneCure(
                    say(
                        "push-another-setting",
                        "Another setting for “{piece}”: {setting}.",
                        piece=piece.name,
                        setting=Amount(setting, "head"),
                    ),
                    _outcome(changed, duty),
                )
    return None


def _add_regulator(zone: Zone, duty: Duty | None) -> ZoneCure | None:
    """A regulator before the first pipe, where a line gets more than it bears."""
    if not shortfalls.bursts(zone):
        return None
    kinds = [kind for kind in plumbing.fitting_kinds().values() if kind.setting_m > 0]
    for kind in sorted(kinds, key=lambda kind: -kind.setting_m):
        changed = drives.with_regulator(zone, kind)
        if shortfalls.works(changed, duty):
            return ZoneCure(
                say(
                    "push-add-regulator",
                    "Put in before the first pipe: {kind}.",
                    kind=words(kind.name),
                ),
                _outcome(changed, duty),
                changed.garden,
            )
    return None


MOST_LOSS = 1e5
"""Loss number up to which a valve behind a pump is tried. [-] All but shut."""


def _throttle_pump(zone: Zone, duty: Duty | None) -> ZoneCure | None:
    """A pump far stronger than its zone, throttled by the valve behind it no more than it takes."""
    if not zone.pumps or not zone.pipes or not shortfalls.bursts(zone):
        return None
    first = zone.pipes[0]

    def throttled(loss: float) -> Zone:
        changed = first.model_copy(update={"fittings_loss": first.fittings_loss + loss})
        return zones.in_garden(zone, pipes={first.id: changed})

    low, high = 0.0, MOST_LOSS
    if shortfalls.bursts(throttled(high)):
        return None
    while high - low > 0.01 * high:
        middle = sqrt(max(low, 0.1) * high)
        low, high = (middle, high) if shortfalls.bursts(throttled(middle)) else (low, middle)
    changed = throttled(high)
    if not shortfalls.works(changed, duty):
        return None
    state = solving.solve_zone(changed, zone.levels[zone.usual_level])
    lines = [pipe for pipe in changed.pipes if laws.kind_of(pipe).has_outlets]
    return ZoneCure(
        say(
            "push-throttle-pump",
            "Throttle the valve behind “{pump}” until the zone takes {flow} and the lines get {head}, or lead what is "
            "too much back through a bypass.",
            pump=zone.pumps[0].name,
            flow=Amount(state.flow, "flow"),
            head=Amount(max(state.head_on(pipe) for pipe in lines), "head"),
        ),
        _outcome(changed, duty),
        changed.garden,
    )


def _throttle(zone: Zone, duty: Duty | None) -> ZoneCure | None:
    throttled = throttling.throttle(zone)
    if throttled is None or not shortfalls.works(throttled.zone, duty):
        return None
    branches = [
        say(
            "push-throttle-branch",
            "“{name}” to {flow}",
            name=branch.name,
            flow=Amount(branch.flow, "cup"),
        )
        for branch in throttled.branches
    ]
    return ZoneCure(
        say(
            "push-throttle-cup-stopwatch",
            "Throttle, by cup and stopwatch: {branches}.",
            branches=listed(branches),
        ),
        _outcome(throttled.zone, duty),
        throttled.zone.garden,
    )


def _grade_holes(zone: Zone, duty: Duty | None) -> ZoneCure | None:
    for drill_set in grading.DRILL_SETS:
        graded = grading.grade_holes(zone, drill_set)
        if graded and shortfalls.works(graded.zone, duty):
            return ZoneCure(
                say("push-graded-holes", "Graded holes: {said}.", said=graded.said),
                _outcome(graded.zone, duty),
                graded.zone.garden,
            )
    return None


def _split(zone: Zone, duty: Duty | None) -> ZoneCure | None:
    try:
        changed = splitting.fed_from_middle(zone)
    except PlanError:
        return None
    if changed is None or not shortfalls.works(changed, duty):
        return None
    return ZoneCure(
        say(
            "push-shorter-lines-lay", "Shorter lines: lay the header across the middle of the bed."
        ),
        _outcome(changed, duty),
        changed.garden,
    )


def _other_outlets(zone: Zone, duty: Duty | None) -> list[ZoneCure]:
    cures = []
    lines = [p for p in zone.pipes if laws.kind_of(p).has_outlets]
    if not lines:
        return []
    for kind in plumbing.pipe_kinds().values():
        if not kind.has_outlets or kind.id == lines[0].kind:
            continue
        others = {
            p.id: p.model_copy(update={"kind": kind.id, "bore_m": None, "hole_m": None})
            for p in lines
        }
        changed = zones.in_garden(zone, pipes=dict(others))
        if shortfalls.works(changed, duty):
            cures.append(
                ZoneCure(
                    say("push-other-outlets", "Other outlets: {kind}.", kind=words(kind.name)),
                    _outcome(changed, duty),
                    changed.garden,
                )
            )
    return cures
