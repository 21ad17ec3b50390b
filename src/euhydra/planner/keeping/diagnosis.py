"""From a symptom to its cause: each cause is tried by solving the zone with it."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from euhydra.garden.logbook import LogEntry
from euhydra.garden.sentences import say
from euhydra.planner.keeping.causes import Cause, Pattern, cause_kinds, try_causes
from euhydra.planner.steps import first_run
from euhydra.planner.water import solving
from euhydra.planner.water.zones import Zone

WEAK, STRONG, NONE = 0.85, 1.15, 0.1
"""Share of its usual flow below or above which an outlet is called so. [-]"""

UNEQUAL = 0.85
"""Share of what the near half gives under which the far half is called weaker. [-]"""

RUNS_AWAY = 1.05
"""Share of the zone's usual flow above which some of it runs away. [-]"""


@dataclass(frozen=True)
class Symptom:
    """What one sees.

    fits : Whether a solved pattern looks like it.
    unsolved : Causes that make it too, though no network shows them.
    """

    id: str
    words: str
    fits: Callable[[Pattern], bool]
    unsolved: tuple[str, ...] = ()


SYMPTOMS = {
    s.id: s
    for s in (
        Symptom(
            "all-weak",
            "All its lines are weak",
            lambda p: NONE < p.near < WEAK and p.far > 0.6 * p.near,
            ("air",),
        ),
        Symptom(
            "far-weak",
            "Only the far half is weak",
            lambda p: p.far < WEAK and p.far < UNEQUAL * p.near,
            ("air",),
        ),
        Symptom(
            "evening", "It is weak in the evening, or now and then", lambda p: NONE < p.near < WEAK
        ),
        Symptom(
            "nothing",
            "Nothing comes at all",
            lambda p: p.near <= NONE and p.far <= NONE and p.whole <= NONE,
            ("air",),
        ),
        Symptom(
            "first-floods",
            "The first pots flood, the last stay dry",
            lambda p: p.far < UNEQUAL * p.near,
            ("heights",),
        ),
        Symptom("strong", "It spits, or tubes come off", lambda p: p.near > STRONG),
        Symptom(
            "puddle",
            "Water stands where none belongs",
            lambda p: p.whole > RUNS_AWAY and p.near < 1.02,
        ),
        Symptom(
            "runs-on", "It runs while it should be off", lambda p: False, ("valve-stays-open",)
        ),
    )
}
"""What may be chosen, by id."""

ONLY_AT_TIMES = {"others", "low-store"}
"""Causes that come and go."""


@dataclass(frozen=True)
class Diagnosis:
    """Causes that fit the symptom, the likeliest first, and those that do not."""

    zone: Zone
    symptom: Symptom
    likely: tuple[Cause, ...]
    unlikely: tuple[Cause, ...]
    measured: Pattern | None


def diagnose(zone: Zone, symptom_id: str, log: Sequence[LogEntry]) -> Diagnosis:
    """Find what fits.

    Parameters
    ----------
    symptom_id : Of `SYMPTOMS`.
    log : Oldest first; cups and buckets of the first run tell the causes apart.

    Raises
    ------
    PlanError : if the sound zone cannot be solved.
    """
    symptom = SYMPTOMS[symptom_id]
    share, _ = first_run.level_of(zone, log)
    sound = solving.solve_zone(zone, round(share, 3))
    measured = _measured(zone, log)
    fit: list[Cause] = []
    unfit: list[Cause] = []
    for cause in try_causes(zone, sound, share):
        assert cause.pattern is not None
        passes = symptom.fits(cause.pattern) and (
            symptom_id != "evening" or cause.kind.id in ONLY_AT_TIMES
        )
        (fit if passes else unfit).append(cause)
    if measured is not None:
        fit.sort(key=lambda c: c.pattern.distance(measured) if c.pattern else 9.0)
    else:
        fit.sort(key=lambda c: c.kind.order)
    fit += [
        Cause(
            cause_kinds()[i],
            None,
            say("keeping-experience-sum-shows", "By experience; no sum shows it."),
        )
        for i in symptom.unsolved
    ]
    return Diagnosis(zone, symptom, tuple(fit), tuple(unfit), measured)


def diagnose_measured(zone: Zone, log: Sequence[LogEntry]) -> Diagnosis | None:
    """What fits the cups and buckets in the log, whatever somebody saw; None where they show nothing wrong.

    Raises
    ------
    PlanError : if the sound zone cannot be solved.
    """
    measured = _measured(zone, log)
    symptom = symptom_of(measured) if measured else None
    return diagnose(zone, symptom, log) if symptom else None


def symptom_of(measured: Pattern) -> str | None:
    """Id of the symptom that shares of the usual flow amount to; None where all is as usual.

    What was not measured is taken as the rest of the zone.
    """
    known = [flow for flow in (measured.near, measured.far, measured.whole) if not np.isnan(flow)]
    near = measured.near if not np.isnan(measured.near) else known[0]
    far = measured.far if not np.isnan(measured.far) else near
    if max(near, far) <= NONE:
        return "nothing"
    if near > STRONG:
        return "strong"
    if far < WEAK and far < UNEQUAL * near:
        return "far-weak"
    if near < WEAK:
        return "all-weak"
    return "puddle" if measured.whole > RUNS_AWAY else None


def _measured(zone: Zone, log: Sequence[LogEntry]) -> Pattern | None:
    """The latest cups and buckets, as shares of what is solved."""
    answer = first_run.answer_first_run(zone, log)
    shares: dict[str, list[float]] = {"whole": [], "first": [], "last": []}
    for point in answer.points:
        if point.measured is not None and point.solved > 0:
            shares[point.word].append(point.measured / point.solved)
    if not any(shares.values()):
        return None
    whole, near, far = (float(np.mean(v)) if v else float("nan") for v in shares.values())
    return Pattern(whole, near, far)
