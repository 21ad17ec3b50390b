"""A free place on the plan for something that was typed, not drawn."""

from typing import Any

from euhydra.garden.kinds import outlines_of
from euhydra.garden.model import Garden
from euhydra.garden.part import Part, Point

BESIDE = 0.8
"""Gap to what is there already. [m]"""


def set_down(garden: Garden, part: Part) -> Part:
    """The part where it was said to be; if it was not, beside everything that is there."""
    at: Any = getattr(part, "at", None)
    own = outlines_of(part)
    if at != Point() or not own or getattr(part, "corners", ()):
        return part
    there = [outline for other in garden.parts for outline in outlines_of(other)]
    if not any(a.intersects(b) for a in own for b in there):
        return part
    by = max(o.bounds[2] for o in there) + BESIDE - min(o.bounds[0] for o in own)
    return part.model_copy(update={"at": Point(x_m=round(by, 2), y_m=0.0)})
