"""Lines to pots: a tube with a dripper to each, or a hose to the float of a chain or trough."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil, copysign, cos, hypot, radians, sin

from shapely import LineString
from shapely import Point as Dot

from euhydra.garden import shapes
from euhydra.garden.part import Point
from euhydra.garden.pipes import Pipe
from euhydra.garden.pots import Pots
from euhydra.planner.lay import rows
from euhydra.planner.lay.layer import Layer

BESIDE_POT = 0.05
"""Room between a pot and the line past it. [m]"""

TUBES_APART = 0.01
"""Distance between the tubes to one pot on their line. [m] A hair, so that each has a place of its own."""

LEAST_HOSE = 0.3
"""Shortest hose to a float box. [m]"""

BOX_GAP = 0.4
"""Distance along a box that one dripper waters. [m] Common practice: one to each plant."""

SMALL_POT, MIDDLE_POT, LARGE_POT = 0.25, 0.45, 0.6
"""Widths up to which a pot takes one, two, three drippers. [m] Common practice."""


def drippers_for(across: float, along: float = 0.0) -> int:
    """Drippers that a pot of this width takes: one to four; a box as many as its length asks for too. [m]"""
    limits = (SMALL_POT, MIDDLE_POT, LARGE_POT)
    by_width = next((n for n, limit in enumerate(limits, 1) if across <= limit + 1e-9), 4)
    return max(by_width, ceil(along / BOX_GAP - 1e-9))


def to_box(layer: Layer, feed: str, at: Point, pots: Pots) -> None:
    """A hose to the float at the near end of a chain or a trough."""
    places = shapes.pot_places(pots)
    x, y = min((places[0], places[-1]), key=lambda p: hypot(p[0] - at.x_m, p[1] - at.y_m))
    aside = max(pots.across_m, pots.along_m) / 2 + 0.15
    away = max(hypot(at.x_m - x, at.y_m - y), 1e-6)
    box = Point(
        x_m=round(x + aside * (at.x_m - x) / away, 3),
        y_m=round(y + aside * (at.y_m - y) / away, 3),
    )
    if rows.distance(at, box) < LEAST_HOSE:
        box = Point(x_m=box.x_m, y_m=round(box.y_m + LEAST_HOSE, 3))
    layer.pipe(
        "hose",
        "hose to its float",
        layer.way_to(at, box),
        feed,
        waters=pots.id,
        dripper=layer.dripper,
        length_m=layer.wish.hose_m,
    )


@dataclass(frozen=True)
class _Dripping:
    """Where water is due: the places of each row, how many drippers stand at each of them.

    gap : Between the drippers at one place, across the way from row to row. [m]
    room : From one place to the next along a row. [m]
    """

    in_rows: list[list[tuple[float, float]]]
    each: int
    gap: float
    room: float


def _dripping(layer: Layer, pots: Pots) -> _Dripping:
    """At the middle of a pot; in a box wherever along it a dripper is due."""
    places, each = shapes.pot_places(pots), 1  # a float each
    if not layer.keeps_level:
        each = drippers_for(pots.across_m, 0.0 if pots.is_round else pots.along_m)
    in_rows = [places[i : i + pots.columns] for i in range(0, len(places), pots.columns)]
    if pots.is_round:
        return _Dripping(in_rows, each, 0.25 * pots.across_m, pots.pitch_m)
    gap, turned = pots.along_m / each, radians(pots.turned_deg)
    steps = [gap * (i - (each - 1) / 2) for i in range(each)]
    along = [
        [(x + b * cos(turned), y + b * sin(turned)) for x, y in row for b in steps]
        for row in in_rows
    ]
    return _Dripping(along, 1, gap, gap)


def to_pots(layer: Layer, feed: str, at: Point, pots: Pots) -> None:
    """A plain line past each row of pots, and a tube with a dripper for each dripper."""
    dripping = _dripping(layer, pots)
    before, where, tube_number = feed, at, 1
    way: list[Point] = []
    ux, uy = -sin(radians(pots.turned_deg)), cos(radians(pots.turned_deg))  # from row to row
    (ax, ay), (bx, by) = dripping.in_rows[0][0], dripping.in_rows[-1][-1]
    comes_from = (at.x_m - (ax + bx) / 2) * ux + (at.y_m - (ay + by) / 2) * uy
    out = copysign(pots.across_m / 2 + BESIDE_POT, comes_from)
    in_rows = dripping.in_rows[::-1] if comes_from > 0 else dripping.in_rows
    each, gap = dripping.each, dripping.gap
    several = each * pots.tiers
    for row, middle in enumerate(in_rows):
        beside = [Point(x_m=x + out * ux, y_m=y + out * uy) for x, y in middle]
        if rows.distance(where, beside[0]) > rows.distance(where, beside[-1]):
            beside.reverse()
            middle.reverse()
        onward = [*_to_the_row(way, where, beside[0], pots), *beside]
        way = [*([where] if way else layer.way_to(where, onward[0])[:-1]), *onward]
        line = layer.pipe("line", f"line {row + 1}", way, before, kind="hose-13")
        drawn = LineString([(p.x_m, p.y_m) for p in line.path])
        apart = min(TUBES_APART, 0.8 * dripping.room / several, 0.5 * line.drawn_m / several)
        free = 0.0
        for x, y in middle:
            # The end of the line is left to what goes on from there.
            beside_it = min(drawn.project(Dot(x, y)), line.drawn_m - apart * several)
            first = max(beside_it, free)
            free = first + apart * several
            for i in range(several):
                spread = gap * ((i % each) - (each - 1) / 2)
                to = Point(x_m=x + spread * uy, y_m=y - spread * ux)
                _tube_to(layer, line, first + apart * i, to, pots, i // each, tube_number)
                tube_number += 1
        before, where = line.id, line.path[-1]


def _tube_to(
    layer: Layer, line: Pipe, along: float, to: Point, pots: Pots, tier: int, count: int
) -> None:
    rise = tier * pots.tier_m
    start = line.point_at(along)
    drawn = rows.distance(start, to)
    layer.pipe(
        "tube",
        f"tube {count}",
        (start, to),
        line.id,
        kind="micro-4",
        waters=pots.id,
        begins_along_m=along,
        dripper=layer.dripper,
        rise_m=rise,
        length_m=drawn + pots.height_m + rise + 0.1,
    )


def _to_the_row(way: Sequence[Point], where: Point, to: Point, pots: Pots) -> list[Point]:
    """Bends before a row of pots: round the last one of the row before, and along its own."""
    out, turned = pots.along_m / 2 + BESIDE_POT, radians(pots.turned_deg)
    rx, ry = out * cos(turned), out * sin(turned)
    if not way and pots.columns > 1:
        return []
    # On to the far side, and not back over where the last row was come along.
    near, far = way[-2:] if way else (to, where)
    on = (far.x_m - near.x_m) * rx + (far.y_m - near.y_m) * ry
    dx, dy = copysign(1.0, on) * rx, copysign(1.0, on) * ry
    bends = [where, to] if way else [to]
    return [Point(x_m=at.x_m + dx, y_m=at.y_m + dy) for at in bends]
