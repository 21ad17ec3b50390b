"""A free place on the plan for something that was typed, not drawn."""

from collections.abc import Mapping
from math import sqrt
from typing import Any

from euhydra.garden.kinds import outlines_of
from euhydra.garden.model import Garden
from euhydra.garden.part import Part, Point

BESIDE = 0.8
"""Gap to what is there already. [m]"""


PATH = 0.6
"""Between beds that are spread out. [m] Common practice: room for a barrow."""


def spread(garden: Garden, part: Part, names: Mapping[str, str]) -> list[Part]:
    """Several like `part`, in rows about as deep as they are long, clear of what is there.

    Parameters
    ----------
    names : By their ids.
    """
    first: Any = set_down(garden, part)
    bounds = [outline.bounds for outline in outlines_of(first)]
    left, low = (min(b[i] for b in bounds) for i in (0, 1))
    wide = max(b[2] for b in bounds) - left + PATH
    deep = max(b[3] for b in bounds) - low + PATH
    columns = max(1, round(sqrt(len(names) * deep / wide)))
    found: list[Part] = []
    for number, (part_id, name) in enumerate(names.items()):
        row, column = divmod(number, columns)
        place = {
            "x_m": round(first.at.x_m + column * wide, 2),
            "y_m": round(first.at.y_m - row * deep, 2),
        }
        values = first.model_dump() | {"id": part_id, "name": name, "at": place}
        found.append(type(first).model_validate(values))
    return found


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
