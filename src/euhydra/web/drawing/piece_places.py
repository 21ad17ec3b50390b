"""Where the signs of pieces are drawn: where the pieces are, or beside those that are drawn there already."""

from collections.abc import Iterator, Mapping, Sequence
from math import hypot

import numpy as np
from numpy.typing import NDArray

from euhydra.garden.model import Garden
from euhydra.garden.part import Part
from euhydra.garden.pipes import Piece, Pipe
from euhydra.planner.water.way import Joined

PIECE_SIZE = 0.34
"""Side of a piece's sign. [m]"""

TAP_HALF = 0.15
"""Half the side of a tap's sign. [m]"""

FARTHEST, STEP = 3.0, 0.02
"""How far off a sign is drawn at most, and how finely a place is looked for. [m] Our choice."""

Place = tuple[float, float]
"""East and north. [m]"""

Floats = NDArray[np.float64]


def piece_places(garden: Garden) -> Mapping[str, Place]:
    """Place of the sign of every piece, by id: in the order of the water, so that a head reads as it is built.

    A piece that lies on another, or on its tap, is moved on in the way that the water goes, or beside it.
    """
    taken = [(tap.at.x_m, tap.at.y_m, TAP_HALF) for tap in garden.taps]
    begins = {part.id: (part.at.x_m, part.at.y_m) for part in garden.sources}
    places: dict[str, Place] = {}
    for part in _in_order(garden):
        before = begins.get(part.begins_at or "")
        if isinstance(part, Pipe):
            begins[part.id] = part.path[-1].x_m, part.path[-1].y_m
            continue
        at = part.at.x_m, part.at.y_m
        places[part.id] = begins[part.id] = _free(at, _onward(garden, part, before), taken)
        taken.append((*places[part.id], PIECE_SIZE / 2))
    return places


def _in_order(garden: Garden) -> Iterator[Joined]:
    """Every pipe and piece after what it begins at; last those that nothing feeds."""
    fed: dict[str | None, list[Joined]] = {}
    for part in garden.fed:
        fed.setdefault(part.begins_at, []).append(part)
    waiting: list[Part] = [*garden.sources]
    while waiting:
        after = fed.pop(waiting.pop(0).id, [])
        yield from after
        waiting += after
    for loose in fed.values():
        yield from loose


def _onward(garden: Garden, piece: Piece, before: Place | None) -> Place:
    """The way that the water goes at a piece, of length one: on from what feeds it, or along what it feeds."""
    at = piece.at.x_m, piece.at.y_m
    ways = [(at[0] - before[0], at[1] - before[1])] if before else []
    ways += [
        (pipe.path[1].x_m - pipe.path[0].x_m, pipe.path[1].y_m - pipe.path[0].y_m)
        for pipe in garden.pipes
        if pipe.begins_at == piece.id
    ]
    for dx, dy in ways:
        if (length := hypot(dx, dy)) > STEP:
            return dx / length, dy / length
    return 1.0, 0.0


def _free(at: Place, onward: Place, taken: Sequence[tuple[float, float, float]]) -> Place:
    """The nearest place on, or beside, where a sign lies on none that is drawn; where it is, if there is none."""
    if not taken:
        return at
    east, north = onward
    off = np.arange(0.0, FARTHEST, STEP)
    ways = np.array([(east, north), (north, -east), (-north, east)])
    tried: Floats = np.array(at) + (off[:, None, None] * ways).reshape(-1, 2)
    x, y, half = np.array(taken).T
    apart = half + PIECE_SIZE / 2 - STEP
    over = (abs(tried[:, :1] - x) < apart) & (abs(tried[:, 1:] - y) < apart)
    free = np.flatnonzero(~over.any(axis=1))
    if not len(free):
        return at
    found_x, found_y = tried[free[0]].tolist()
    return round(found_x, 3), round(found_y, 3)
