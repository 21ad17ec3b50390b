"""Lines that turn with what they water, as they move with it on the plan."""

from math import cos, radians, sin

from euhydra.garden.beds import Bed, BedShape
from euhydra.garden.model import Garden
from euhydra.garden.part import Part, Point
from euhydra.garden.pipes import Pipe
from euhydra.garden.pots import Pots


def lines_turned(garden: Garden, part: Part) -> list[Pipe]:
    """Lines of a bed or pots as they lie once it is turned as `part` says, and what feeds them, drawn out to there."""
    if not isinstance(part, Bed | Pots):
        return []
    turnable: tuple[Bed | Pots, ...] = (*garden.beds, *garden.pots)
    before = next((p for p in turnable if p.id == part.id), None)
    if before is None or (isinstance(part, Bed) and part.shape is BedShape.CORNERS):
        return []
    degrees = part.turned_deg - before.turned_deg
    if degrees == 0:
        return []
    about = _pivot(part)
    found = {
        pipe.id: pipe.model_copy(
            update={"path": tuple(_turned(place, degrees, about) for place in pipe.path)}
        )
        for pipe in garden.pipes
        if pipe.waters == part.id
    }
    pipes = {pipe.id: pipe for pipe in garden.pipes}
    for line in list(found.values()):
        feeder = pipes.get(line.begins_at or "")
        if feeder is not None and feeder.id not in found and line.begins_along_m is None:
            path = (*feeder.path[:-1], line.path[0])
            found[feeder.id] = feeder.model_copy(update={"path": path})
    return list(found.values())


def _pivot(part: Bed | Pots) -> Point:
    """What it is turned about: a bed's middle, the first of several pots."""
    if isinstance(part, Pots):
        return part.at
    return Point(x_m=part.at.x_m + part.length_m / 2, y_m=part.at.y_m + part.width_m / 2)


def _turned(place: Point, degrees: float, about: Point) -> Point:
    c, s = cos(radians(degrees)), sin(radians(degrees))
    x, y = place.x_m - about.x_m, place.y_m - about.y_m
    return Point(x_m=about.x_m + x * c - y * s, y_m=about.y_m + x * s + y * c)
