"""The plan in words and as a table: what each part is, where it lies, and what it gets."""

from collections.abc import Iterable
from dataclasses import dataclass

from euhydra.garden import kinds, quantities
from euhydra.garden.pipes import Pipe
from euhydra.garden.quantities import System
from euhydra.planner.answers import Mark
from euhydra.planner.lay.answer import LayAnswer
from euhydra.web.drawing import plan

SQUARE_CM = 1e-4
"""Extent under which a part has no size worth a word. [m²]"""


@dataclass(frozen=True)
class PartTold:
    """A part that lies on the plan, in the system of the garden.

    east, north : Of its middle, from the garden's zero.
    size : Its extent, or its length as drawn; "" of what stands at one place.
    gets : Of its due, of what is watered; "" of all else.
    """

    id: str
    name: str
    noun: str
    east: str
    north: str
    size: str
    gets: str
    wants_mending: bool

    @property
    def said(self) -> str:
        """In a line, for the foot of the plan and for who hears it."""
        said = [
            f"{self.name}, {self.noun}",
            self.size,
            self.gets and f"gets {self.gets} of its due",
        ]
        mend = "wants mending" if self.wants_mending else ""
        return "; ".join(word for word in (*said, mend) if word)


def told_of(answer: LayAnswer, system: System) -> tuple[PartTold, ...]:
    """Every part on the plan, from below upwards."""
    garden = answer.garden
    marks = {breach.part.id for breach in answer.findings if breach.mark is not Mark.WORKS}
    gets = {
        part.id: state.due_of(part.id)
        for state in answer.states.values()
        for part in state.zone.watered
    }
    bounds = plan.bounds_of(garden)
    found = []
    for kind in (k for k in kinds.PART_KINDS if k.layer):
        for part in getattr(garden, kind.collection):
            where = bounds.get(part.id)
            if not where:
                continue
            left, low = min(b[0] for b in where), min(b[1] for b in where)
            right, high = max(b[2] for b in where), max(b[3] for b in where)
            length = part.drawn_m if isinstance(part, Pipe) else 0.0
            found.append(
                PartTold(
                    part.id,
                    part.name,
                    kind.noun,
                    quantities.show((left + right) / 2, "length", system),
                    quantities.show((low + high) / 2, "length", system),
                    _size(right - left, high - low, length, system),
                    quantities.show(gets[part.id], "share", system) if part.id in gets else "",
                    part.id in marks,
                )
            )
    return tuple(found)


def _size(width: float, height: float, length: float, system: System) -> str:
    if length > 0:
        return f"{quantities.show(length, 'length', system)} as drawn"
    if width * height < SQUARE_CM:
        return ""
    return (
        f"{quantities.show(width, 'length', system)} × {quantities.show(height, 'length', system)}"
    )


def outcome_of(answer: LayAnswer, touched: Iterable[str]) -> str:
    """What a change did to the water, in a breath: the weakest outlet of the zones that it touched."""
    ids = set(touched)
    said = []
    for state in answer.states.values():
        zone = state.zone
        own = {zone.source.id, *(part.id for part in (*zone.way.parts, *zone.watered))}
        if own & ids:
            weakest = quantities.show(state.lowest_share, "share", System.METRIC)
            said.append(f"The weakest outlet of {zone.name} gets {weakest} of its due.")
    return " ".join(said[:2])
