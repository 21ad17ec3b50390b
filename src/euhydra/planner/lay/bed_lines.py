"""Lines in a bed: rows from a header, a soaker in an S, or a dripper to each plant."""

from collections.abc import Sequence
from math import hypot

from euhydra.garden.beds import Bed
from euhydra.garden.part import Point
from euhydra.garden.pipes import EndKind, Pipe
from euhydra.garden.sentences import Amount, say
from euhydra.planner.answers import PlanError
from euhydra.planner.lay import rows
from euhydra.planner.lay.layer import Layer
from euhydra.planner.lay.wishes import OUTLET_GAP, rows_for, spacing_for

TUBE_REACH = 0.15
"""Tube from the line to a plant. [m]"""


def in_rows(layer: Layer, feed: str, at: Point, bed: Bed) -> None:
    """Rows along the bed from a header across its near end."""
    lines = rows.within(bed, rows_for(layer.wish, bed), at)
    starts = [line[0] for line in lines]
    feed = layer.feed(feed, at, starts[0])
    if len(lines) > 1:
        header = layer.pipe(
            "header", "header", starts, feed, bore_m=0.0136, waters=bed.id, end=EndKind.SHUT
        )
        along = 0.0
        for i, line in enumerate(lines):
            if i:
                along += rows.distance(starts[i - 1], starts[i])
            _row(layer, line, header.id, bed, i + 1, begins_along_m=along)
    else:
        _row(layer, lines[0], feed, bed, 1)


def _row(
    layer: Layer, line: Sequence[Point], feed: str, bed: Bed, number: int, **more: object
) -> None:
    usual = min(OUTLET_GAP, rows.length_of(line))
    spacing = usual if layer.wish.spacing_m is None else layer.wish.spacing_m
    if spacing > rows.length_of(line) + 1e-9:
        raise PlanError(
            say(
                "lay-outlets-m-fit",
                "Outlets every {spacing} do not fit a row of {row} in “{bed}”: set them closer.",
                spacing=Amount(spacing, "height"),
                row=Amount(rows.length_of(line), "length"),
                bed=bed.name,
            )
        )
    layer.pipe(
        "row",
        f"row {number}",
        line,
        feed,
        kind=layer.wish.line,
        waters=bed.id,
        spacing_m=spacing,
        **more,
    )


def as_soaker(layer: Layer, feed: str, at: Point, bed: Bed) -> None:
    """One soaker in an S through the bed, so many passes as its width asks for."""
    lines = rows.within(bed, rows_for(layer.wish, bed), at)
    path: list[Point] = []
    for i, line in enumerate(lines):
        path += line if i % 2 == 0 else line[::-1]
    feed = layer.feed(feed, at, path[0])
    layer.pipe("soaker", "soaker", path, feed, kind=layer.wish.line, waters=bed.id)


def to_stems(layer: Layer, feed: str, at: Point, bed: Bed) -> None:
    """A plain line along each row of plants, and a tube with a dripper to each plant."""
    gap = spacing_for(layer.wish)
    lines = rows.within(bed, rows_for(layer.wish, bed), at)
    feed = layer.feed(feed, at, lines[0][0])
    before, along = feed, None
    for number, line in enumerate(lines, 1):
        row = layer.pipe(
            "line",
            f"line {number}",
            line,
            before,
            kind="hose-13",
            waters=bed.id,
            begins_along_m=along,
        )
        length = rows.length_of(line)
        plants = max(1, int(length / gap + 0.5 + 1e-9))
        for plant in range(plants):
            place = min(gap * (plant + 0.5), length)
            _tube(layer, row, place, bed.id, TUBE_REACH, plant + 1)
        if number < len(lines):
            across = layer.pipe(
                "across",
                f"across {number}",
                (line[0], lines[number][0]),
                row.id if number > 1 else before,
                kind="hose-13",
                waters=bed.id,
                begins_along_m=0.0 if number > 1 else along,
            )
            before, along = across.id, None


def _tube(layer: Layer, row: Pipe, place: float, waters: str, reach: float, number: int) -> None:
    start, ahead = row.point_at(place), row.point_at(min(place + 0.01, row.drawn_m))
    back = row.point_at(max(place - 0.01, 0.0))
    dx, dy = ahead.x_m - back.x_m, ahead.y_m - back.y_m
    size = hypot(dx, dy) or 1.0
    side = 1 if number % 2 else -1
    to = Point(x_m=start.x_m - side * dy / size * reach, y_m=start.y_m + side * dx / size * reach)
    layer.pipe(
        "tube",
        f"tube {number}",
        (start, to),
        row.id,
        kind="micro-4",
        waters=waters,
        begins_along_m=place,
        dripper=layer.wish.line,
    )
