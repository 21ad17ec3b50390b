"""How long a pipe is cut: along the ground, down walls and up to beds, not as on the flat plan."""

from functools import lru_cache
from itertools import pairwise
from math import ceil, hypot

import numpy as np

from euhydra.garden.heights import LieOfLand
from euhydra.garden.model import Garden
from euhydra.garden.pipes import Pipe
from euhydra.planner.same import GARDENS_KEPT, Asked, by_itself, kept
from euhydra.planner.water import laws
from euhydra.planner.water.ground import ground_of

SEEN_EACH = 0.5
"""The ground under a hose is looked at so often. [m] Our choice."""

MOST_LOOKS = 40
"""Most places at which the ground under one hose is looked at."""

HOSES_KEPT = 256
"""Hoses of which it is kept how the ground lies under them."""


def cut_lengths(garden: Garden) -> dict[str, float]:
    """Length to cut of every pipe, by its id. [m]

    What the owner typed stands. What lies in a bed, and tubes, lie as they are drawn. A hose follows the ground from
    the height that it begins at to that at which it ends: from a store's tap down, over walls, up to
    a raised bed.
    """
    return dict(_cut_lengths(by_itself(garden)))


@kept(GARDENS_KEPT)
def _cut_lengths(same: Asked[Garden]) -> dict[str, float]:
    garden = same.what
    ground = ground_of(garden)
    return {pipe.id: cut_m(garden, ground, pipe) for pipe in garden.pipes}


def cut_m(garden: Garden, ground: LieOfLand, pipe: Pipe) -> float:
    """Length to cut of one pipe. [m]"""
    if pipe.length_m is not None or pipe.waters is not None or laws.gives(pipe):
        return pipe.lies_m
    along, first, last = _along_ground(pipe, ground)
    down, up = _begins(garden, pipe, first), _ends(garden, pipe, last)
    return along + abs(down - first) + abs(up - last)


@lru_cache(maxsize=HOSES_KEPT)
def _along_ground(pipe: Pipe, ground: LieOfLand) -> tuple[float, float, float]:
    """How long a hose is that follows the ground, and the ground's heights at its ends. [m]"""
    looks = max(2, min(MOST_LOOKS, ceil(pipe.drawn_m / SEEN_EACH) + 1))
    step = pipe.drawn_m / (looks - 1)
    places = np.array(pipe.places_at([i * step for i in range(looks)]))
    heights: list[float] = ground.heights_at(places).tolist()
    along = sum(hypot(step, b - a) for a, b in pairwise(heights))
    return along, heights[0], heights[-1]


def _begins(garden: Garden, pipe: Pipe, ground: float) -> float:
    """Height that a hose begins at: of the source's outlet, where nothing but its head lies between. [m]"""
    sources = {source.id: source for source in garden.sources}
    pieces = {piece.id: piece for piece in garden.pieces}
    before = pipe.begins_at
    while before in pieces:
        before = pieces[before].begins_at
    return sources[before].tap_m if before in sources else ground


def _ends(garden: Garden, pipe: Pipe, ground: float) -> float:
    """Height that a hose ends at: of the outlets of a bed whose lines begin there. [m]"""
    fed = {p.waters for p in garden.pipes if p.begins_at == pipe.id and p.begins_along_m is None}
    return next((part.outlet_m for part in garden.planted if part.id in fed), ground)
