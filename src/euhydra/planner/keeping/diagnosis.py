"""From a symptom to its cause: each cause is tried by solving the zone with it."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from euhydra.garden.logbook import LogEntry
from euhydra.garden.sentences import say
from euhydra.planner.keeping.causes import Cause, Pattern, cause_kinds, try_causes
from euhydra.planner.keeping.chain_faults import chain_causes
from euhydra.planner.keeping.symptoms import (
    CHAIN_SYMPTOMS,
    NONE,
    RUNS_AWAY,
    STRONG,
    SYMPTOMS,
    UNEQUAL,
    WEAK,
    Symptom,
)
from euhydra.planner.push.float_chain import FloatChain
from euhydra.planner.steps import first_run
from euhydra.planner.water import solving
from euhydra.planner.water.zones import Zone

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


def diagnose_chain(
    zone: Zone, found: FloatChain, symptom_id: str, log: Sequence[LogEntry]
) -> Diagnosis:
    """Find what fits planters behind a float.

    Parameters
    ----------
    symptom_id : Of `CHAIN_SYMPTOMS`.
    log : Oldest first; levels read at the float tell the causes apart.

    Raises
    ------
    PlanError : if the zone cannot be solved.
    """
    likely, unlikely, measured = chain_causes(found, symptom_id, log)
    symptom = CHAIN_SYMPTOMS[symptom_id]
    return Diagnosis(zone, symptom, tuple(likely), tuple(unlikely), measured)


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
