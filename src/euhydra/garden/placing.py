"""A free place on the plan for something that was typed, not drawn."""

from typing import Any

from shapely import Polygon

from euhydra.garden import shapes
from euhydra.garden.beds import Bed, BedShape
from euhydra.garden.model import Garden
from euhydra.garden.part import Part, Point
from euhydra.garden.pots import Pots
from euhydra.garden.roofs import Roof
from euhydra.garden.sources import Tap
from euhydra.garden.stores import Store

BESIDE = 0.8
"""Gap to what is there already. [m]"""

TAP_SIDE = 0.3
"""Room that a tap is given. [m]"""


def outlines_of(part: Part) -> list[Polygon]:
    """Outlines of a part that takes up room; none for others."""
    match part:
        case Bed():
            return [shapes.of_bed(part)]
        case Roof():
            return [shapes.of_roof(part)]
        case Store():
            return shapes.of_store(part)
        case Pots():
            return shapes.of_pots(part)
        case Tap():
            return [shapes.rectangle(part.at, TAP_SIDE, TAP_SIDE)]
        case _:
            return []


def set_down(garden: Garden, part: Part) -> Part:
    """The part where it was said to be; if it was not, beside everything that is there."""
    at: Any = getattr(part, "at", None)
    own = outlines_of(part)
    if at != Point() or not own or (isinstance(part, Bed) and part.shape is BedShape.CORNERS):
        return part
    there = [outline for other in garden.parts for outline in outlines_of(other)]
    if not any(a.intersects(b) for a in own for b in there):
        return part
    by = max(o.bounds[2] for o in there) + BESIDE - min(o.bounds[0] for o in own)
    return part.model_copy(update={"at": Point(x_m=round(by, 2), y_m=0.0)})
