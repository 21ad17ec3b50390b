"""Holes graded by real drills, until every hole gives the same."""

from dataclasses import dataclass
from itertools import groupby
from math import pi, sqrt

from euhydra.core.constants import GRAVITY
from euhydra.garden import plumbing
from euhydra.garden.pipes import Pipe
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.water import laws, solving, zones
from euhydra.planner.water.zones import Zone

LEVEL = 0.5
"""Share of the drawable water at which branches are set. [-]"""


@dataclass(frozen=True)
class Graded:
    """The zone with its holes graded by real drills, and that in words."""

    zone: Zone
    said: str


def grade_holes(zone: Zone, drill_set: str) -> Graded | None:
    """Hole sizes from a real set of drills with which every hole of a drilled pipe gives the same.

    Parameters
    ----------
    drill_set : `m` for the metric, `i` for the inch set.
    """
    drilled = [p for p in zone.pipes if laws.kind_of(p).family == "drilled"]
    sizes = sorted(d.hole_m for d in plumbing.drills().values() if d.id.startswith(drill_set))
    names = {d.hole_m: d.name for d in plumbing.drills().values()}
    if not drilled:
        return None
    changed, said = zone, []
    for _ in range(6):
        state = solving.solve_zone(changed, LEVEL if zone.group else 1.0)
        if state.flow <= 0:
            return None
        holes: dict[str, list[float]] = {pipe.id: [] for pipe in drilled}
        due = state.flow * state.wanted
        for i, outlet in enumerate(changed.outlets):
            if outlet.pipe.id not in holes:
                continue
            over = max(float(state.outlet_head[i]), 1e-3)
            wanted = sqrt(float(due[i]) / (laws.JET * pi / 4 * sqrt(2 * GRAVITY * over)))
            holes[outlet.pipe.id].append(min(sizes, key=lambda size: abs(size - wanted)))
        others = {p.id: p.model_copy(update={"holes_m": tuple(holes[p.id])}) for p in drilled}
        changed = zones.in_garden(zone, pipes=dict(others))
        said = [_in_words(p, holes[p.id], names) for p in drilled]
    return Graded(changed, "; ".join(said))


WORTH_DRILLING = 0.02
"""Evenness that graded holes have to win to be told. [-] Our choice."""

DRILL_SETS = ("m", "i")
"""Sets of drills that are tried, metric and inch."""


def best_grading(zone: Zone) -> Sentence | None:
    """The most even that real drills make its holes, whether or not that is enough; None if they win little.

    Raises
    ------
    PlanError : if it could not be solved.
    """
    share = zone.levels[zone.usual_level]
    before = solving.solve_zone(zone, share)
    tried = [graded for kind in DRILL_SETS if (graded := grade_holes(zone, kind)) is not None]
    states = [(solving.solve_zone(graded.zone, share), graded) for graded in tried]
    if not states:
        return None
    after, graded = max(states, key=lambda pair: pair[0].low_quarter)
    if after.low_quarter < before.low_quarter + WORTH_DRILLING:
        return None
    return say(
        "push-best-grading",
        "Graded with real drills, {said}: evenness goes from {before} to {after}, and the weakest hole gets {weakest} "
        "of its due.",
        said=graded.said,
        before=Amount(before.low_quarter, "share"),
        after=Amount(after.low_quarter, "share"),
        weakest=Amount(after.lowest_share, "share"),
    )


def _in_words(pipe: Pipe, holes: list[float], names: dict[float, str]) -> str:
    """Such as: holes of “Row” from its beginning: 1 to 8 of 1.5 mm, 9 to 20 of 1.8 mm."""
    parts, first = [], 1
    for size, run in groupby(holes):
        count = len(list(run))
        last = first + count - 1
        parts.append(
            f"{first} to {last} of {names[size]}" if count > 1 else f"{first} of {names[size]}"
        )
        first = last + 1
    return f"holes of “{pipe.name}” from its beginning: {', '.join(parts)}"
