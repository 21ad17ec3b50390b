"""What the log shows, taken over into the plan."""

from collections.abc import Iterator

from euhydra.garden import edits
from euhydra.garden.kinds import kind_of
from euhydra.garden.model import Garden
from euhydra.garden.part import Part
from euhydra.planner.catch import spouts
from euhydra.planner.learning.claim import Claim, ClaimKind
from euhydra.planner.steps import first_run
from euhydra.planner.water import laws, zones

LINES = (ClaimKind.CLOG, ClaimKind.FILTER, ClaimKind.OUTLETS)
"""Claims of what outlets give."""

BOUNDS = {
    ClaimKind.CLOG: (0.5, 1.5),
    ClaimKind.FILTER: (0.5, 1.5),
    ClaimKind.OUTLETS: (0.5, 1.5),
    ClaimKind.ROOF: (0.3, 1.0),
    ClaimKind.THIRST: (0.6, 1.6),
}
"""Within these a value of the plan is likely; beyond them something else is wrong first. Leaks and timers are mended,
and not planned with. Our choice."""

DIGITS = 3


def can_be_taken_over(claim: Claim) -> bool:
    """Whether it is still so, and the plan has a value for it."""
    return claim.kind in BOUNDS and claim.until is None


def planned_with(garden: Garden, claim: Claim) -> float:
    """The plan's value were it taken over. [-]"""
    if claim.kind is ClaimKind.ROOF:
        roof = next(r for r in garden.roofs if r.id == claim.part_id)
        return round(spouts.runoff_coefficient(roof) * claim.value, DIGITS)
    if claim.kind is ClaimKind.THIRST:
        part = next(p for p in garden.planted if p.id == claim.part_id)
        return round(part.need_factor * claim.value, DIGITS)
    return round(claim.value, DIGITS)


def is_beyond(garden: Garden, claim: Claim) -> bool:
    """Whether that is unlikely, so that it is not taken without being asked twice."""
    low, high = BOUNDS[claim.kind]
    return not low <= planned_with(garden, claim) <= high


def taken_over(garden: Garden, claim: Claim) -> Garden:
    """The garden planned with what the log shows.

    Raises
    ------
    pydantic.ValidationError : if the plan takes no such value.
    """
    value = planned_with(garden, claim)
    if claim.kind in LINES:
        for pipe in _lines(garden, claim):
            garden = _put(garden, pipe, outlet_factor=value)
        return garden
    part = next(p for p in garden.parts if p.id == claim.part_id)
    if claim.kind is ClaimKind.ROOF:
        return _put(garden, part, runoff_coefficient=value)
    return _put(garden, part, need_factor=value)


def _put(garden: Garden, part: Part, **fields: float) -> Garden:
    changed = type(part).model_validate(part.model_dump() | fields)
    return edits.put(garden, kind_of(part).collection, changed)


def _lines(garden: Garden, claim: Claim) -> Iterator[Part]:
    """The line itself with the tubes that hang on it, or all lines of the zone that the piece is in."""
    for zone in zones.zones_of(garden):
        along = first_run.outlets_along(zone)
        if claim.part_id in along:
            yield from {
                zone.outlets[k].pipe.id: zone.outlets[k].pipe for k in along[claim.part_id]
            }.values()
        elif any(part.id == claim.part_id for part in zone.way.parts):
            yield from (pipe for pipe in zone.pipes if laws.gives(pipe))
