"""Outlines of what is in the garden, on the plan. Metres; x to the east, y to the north."""

from collections.abc import Sequence
from math import cos, pi, radians, sin, sqrt

from shapely import LineString, Polygon, box
from shapely import Point as Dot
from shapely.affinity import rotate

from euhydra.garden.beds import Bed, BedShape
from euhydra.garden.part import Point
from euhydra.garden.patches import Patch
from euhydra.garden.pots import Pots
from euhydra.garden.roofs import Roof
from euhydra.garden.sources import WetGround
from euhydra.garden.stores import Store

ROUND_STEPS = 12
"""Corners that a quarter of a circle is drawn with."""


def rectangle(at: Point, length: float, width: float, turned: float = 0.0) -> Polygon:
    """A rectangle by its corner nearest the origin, turned about its middle. [m], [°]"""
    x, y = at.x_m, at.y_m
    plain = Polygon([(x, y), (x + length, y), (x + length, y + width), (x, y + width)])
    return rotate(plain, turned, origin="centroid") if turned else plain


def polygon(corners: Sequence[Point]) -> Polygon:
    """The stretch within these corners."""
    return Polygon([(p.x_m, p.y_m) for p in corners])


def of_bed(bed: Bed) -> Polygon:
    """Outline of a bed."""
    if bed.shape is BedShape.CORNERS:
        return polygon(bed.corners)
    if bed.shape is BedShape.ROUND:
        radius = bed.length_m / 2
        return Dot(bed.at.x_m + radius, bed.at.y_m + radius).buffer(radius, quad_segs=ROUND_STEPS)
    return rectangle(bed.at, bed.length_m, bed.width_m, bed.turned_deg)


def of_roof(roof: Roof) -> Polygon:
    """Outline of a roof; a square where only its area is known."""
    side = sqrt(roof.plan_area_m2)
    length = roof.length_m if roof.area_m2 is None and roof.length_m else side
    width = roof.width_m if roof.area_m2 is None and roof.width_m else side
    return rectangle(roof.at, length, width, roof.turned_deg)


def of_store(store: Store) -> list[Polygon]:
    """Outlines of a store and of those alike beside it; its `at` is the first one's middle."""
    across = store.across_m
    width = store.width_m
    found = []
    step = (across or 2 * sqrt(store.plan_m2 / pi)) * 1.1
    for i in range(store.count):
        x, y = store.at.x_m + i * step, store.at.y_m
        if across is not None and width is not None:
            found.append(rectangle(Point(x_m=x - across / 2, y_m=y - width / 2), across, width))
        else:
            radius = sqrt(store.plan_m2 / pi)
            found.append(Dot(x, y).buffer(radius, quad_segs=ROUND_STEPS))
    return found


TRENCH_WIDTH = 0.3
"""Width of a trench with a perforated pipe. [m] Common practice: a spade's."""

HOSE_WIDTH = 0.06
"""Width at which a drain's hose is drawn. [m]"""


def of_wet_ground(ground: WetGround) -> list[Polygon]:
    """Outlines of its trench, of the sump at the lower end, and of the hose that leads on from there."""
    x, y = ground.at.x_m, ground.at.y_m
    turned, pivot = ground.turned_deg, Dot(x, y)

    def strip(start: float, length: float, width: float) -> Polygon:
        return rectangle(Point(x_m=x + start, y_m=y - width / 2), length, width)

    sump = Dot(x + ground.pipe_m, y).buffer(ground.sump_across_m / 2, quad_segs=ROUND_STEPS)
    parts = (
        strip(0.0, ground.pipe_m, TRENCH_WIDTH),
        sump,
        strip(ground.pipe_m, ground.hose_m, HOSE_WIDTH),
    )
    return [rotate(part, turned, origin=pivot) if turned else part for part in parts]


def of_pots(pots: Pots) -> list[Polygon]:
    """Outlines of every pot of a group; its `at` is the first one's middle."""
    dots = [Dot(x, y) for x, y in pot_places(pots)]
    if pots.is_round:
        return [dot.buffer(pots.across_m / 2, quad_segs=ROUND_STEPS) for dot in dots]
    half, deep = pots.along_m / 2, pots.across_m / 2
    boxes = (box(d.x - half, d.y - deep, d.x + half, d.y + deep) for d in dots)
    return [rotate(each, pots.turned_deg, origin="centroid") for each in boxes]


def pot_places(pots: Pots) -> list[tuple[float, float]]:
    """Middle of every pot, row by row. [m]"""
    c, s = cos(radians(pots.turned_deg)), sin(radians(pots.turned_deg))
    return [
        (
            pots.at.x_m + pots.pitch_m * column * c - pots.row_pitch_m * row * s,
            pots.at.y_m + pots.pitch_m * column * s + pots.row_pitch_m * row * c,
        )
        for row in range(pots.rows)
        for column in range(pots.columns)
    ]


def of_trough(pots: Pots) -> Polygon:
    """Outline of the trough that planters stand in, as long as their places are."""
    places = pot_places(pots)
    rows = len(places) // pots.columns
    x = sum(place[0] for place in places[:: pots.columns]) / rows
    y = sum(place[1] for place in places[:: pots.columns]) / rows
    c, s = cos(radians(pots.turned_deg)), sin(radians(pots.turned_deg))
    begins, ends = -pots.pitch_m / 2, pots.trough_m - pots.pitch_m / 2
    way = LineString([(x + begins * c, y + begins * s), (x + ends * c, y + ends * s)])
    return Polygon(way.buffer(pots.trough_width_m / 2, cap_style="flat").exterior)


def of_patch(patch: Patch) -> Polygon:
    """Outline of a stretch of ground."""
    return polygon(patch.corners)
