"""Where names stand on the plan: beside what they name, on no line and no other name, with a leader where it is crowded.

Places are found for one size of letters, in pixels; what comes out is a place in the garden and a distance
from it in em, so that a name stays beside its part however near one looks.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from math import cos, pi, sin
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import LineString, STRtree, affinity, box
from shapely.geometry.base import BaseGeometry

from euhydra.garden import kinds
from euhydra.garden.model import Garden
from euhydra.garden.part import Part
from euhydra.garden.pipes import Pipe
from euhydra.web.drawing.lettering import LETTER_PX, fitted, width_px
from euhydra.web.drawing.piece_places import PIECE_SIZE, TAP_HALF, Place, piece_places
from euhydra.web.drawing.plan_shapes import Shape

Floats = NDArray[np.float64]
Flags = NDArray[np.bool_]

Bounds = tuple[float, float, float, float]
"""Left, top, right and bottom, or low and high. [m] or [px]"""

ASCENT, DESCENT = 0.76, 0.24
"""Of letters over and under their line. [em]"""

LONGEST = 0.4
"""Of the paper's width that a name may take: a longer one is shortened."""

PAD_PX = 1.5
"""Kept free round a name. [px]"""

RINGS_EM = (1.2, 2.2, 3.5, 5.0, 7.0, 9.5)
WAYS = 16
"""How far off, and which ways, a name may stand that is led to. Our choice."""

OVER_NAME, OVER_BODY, OVER_PIPE, OVER_ROOF, OVER_EDGE, OUTSIDE = (
    1000.0,
    100.0,
    60.0,
    25.0,
    12.0,
    1000.0,
)
"""What it costs a name to lie on another, on a part, on a pipe, on a roof's line, on the edge of ground, or off
the paper. Our choice: names are read first, then what drinks, then pipes."""

OVER_LEADER, ALONG = 150.0, 12
"""What it costs where a leader crosses a name, and places along a leader at which that is looked at."""

LED, LED_OVER_PIPE, PREFERRED = 10.0, 9.0, 0.4
"""What a leader costs, a pipe that it crosses, and each place less preferred."""

ROUNDS = 4
"""Times that every name looks for its place again, the others standing where they are."""


@dataclass(frozen=True)
class PlacedName:
    """A name on the plan.

    x, y : Place in the garden that it hangs on, y downwards. [m]
    dx, dy : Where its line begins, ends or has its middle from there. [em]
    anchor : `start`, `middle` or `end`.
    led_dx, led_dy : End of its leader from there; None without. [em]
    box : Where its letters are, left, top, right, bottom. [px of the size that it was placed for]
    """

    part_id: str
    text: str
    layer: str
    x: float
    y: float
    dx: float
    dy: float
    anchor: str
    led_dx: float | None
    led_dy: float | None
    box: Bounds


@dataclass(frozen=True)
class _NamePlace:
    """A place where a name may stand: as in `PlacedName`, in pixels, with its own cost."""

    x: float
    y: float
    dx: float
    dy: float
    anchor: str
    cost: float
    led: tuple[float, float] | None = None


def metres_a_pixel(paper: Bounds, width: float, height: float) -> float:
    """Of a plan that is shown whole in a frame of so many pixels. [m px⁻¹]"""
    return max(paper[2] / width, paper[3] / height)


def place_names(
    garden: Garden, shapes: Sequence[Shape], paper: Bounds, px: float, scale_bar: Bounds
) -> tuple[PlacedName, ...]:
    """Every name that stands on the plan, placed for one size.

    Parameters
    ----------
    paper : Left, top, width and height. [m]
    px : Size of a pixel. [m]
    scale_bar : Left, top, right and bottom of the bar with its words. [m]
    """
    parts = {part.id: part for part in garden.parts}
    named = [shape for shape in shapes if shape.layer not in ("pipes", "pieces") and shape.name]
    sight = _Sight(garden, paper, px, scale_bar)
    names = [_Name(shape, parts[shape.id], sight) for shape in named]
    chosen = [int(name.cost.argmin()) for name in names]
    for _ in range(ROUNDS):
        before = list(chosen)
        for i, name in enumerate(names):
            others = [(n, c) for j, (n, c) in enumerate(zip(names, chosen, strict=True)) if j != i]
            taken = np.array([n.boxes[c] for n, c in others]).reshape(-1, 4)
            leaders = np.array([n.leader(c) for n, c in others]).reshape(-1, 2)
            chosen[i] = name.best(taken, leaders)
        if chosen == before:
            break
    return tuple(name.placed(choice, px) for name, choice in zip(names, chosen, strict=True))


class _Sight:
    """What a name should not lie on, in pixels."""

    def __init__(self, garden: Garden, paper: Bounds, px: float, scale_bar: Bounds) -> None:
        self.px = px
        left, top, width, height = (value / px for value in paper)
        self.paper = left, top, left + width, top + height
        places = piece_places(garden)
        owners: list[str] = []
        weights: list[float] = []
        found: list[BaseGeometry] = []
        bar_left, bar_top, bar_right, bar_bottom = (value / px for value in scale_bar)
        bar = box(bar_left, bar_top, bar_right, bar_bottom)
        for kind in (k for k in kinds.PART_KINDS if k.layer):
            for part in getattr(garden, kind.collection):
                for geometry, weight in _seen(part, kind.layer, places):
                    found.append(geometry)
                    weights.append(weight)
                    owners.append(part.id)
        self.weights, self.owners = np.array([*weights, OVER_BODY]), np.array([*owners, ""])
        self.tree = STRtree([*(in_pixels(geometry, px) for geometry in found), bar])

    def cost(self, boxes: Floats) -> Floats:
        """What it costs a name to stand in each of several boxes."""
        total = np.zeros(len(boxes))
        if len(self.weights):
            hit, what = self.tree.query(shapely.box(*boxes.T), predicate="intersects")
            np.add.at(total, hit, self.weights[what])
        left, top, right, bottom = self.paper
        off = (
            (boxes[:, 0] < left)
            | (boxes[:, 1] < top)
            | (boxes[:, 2] > right)
            | (boxes[:, 3] > bottom)
        )
        return total + OUTSIDE * off

    def leader_cost(self, ends: Floats, own_id: str) -> Floats:
        """What it costs leaders to cross what is there, but their own part; [leader, end, x or y]."""
        total = np.zeros(len(ends))
        if len(self.weights) and len(ends):
            hit, what = self.tree.query(shapely.linestrings(ends), predicate="intersects")
            foreign = self.owners[what] != own_id
            crossed = np.where(self.weights[what] >= OVER_BODY, OVER_BODY / 2, LED_OVER_PIPE)
            np.add.at(total, hit[foreign], crossed[foreign])
        return total


def _seen(
    part: Part, layer: str, places: Mapping[str, Place]
) -> Iterator[tuple[BaseGeometry, float]]:
    """What of a part is seen, in metres with y to the north, and what it costs to lie on it."""
    outlines = kinds.outlines_of(part)
    if isinstance(part, Pipe):
        yield LineString([(p.x_m, p.y_m) for p in part.path]), OVER_PIPE
    elif layer == "ground" and outlines:
        yield from ((outline.exterior, OVER_EDGE) for outline in outlines)
    elif layer == "buildings":
        for outline in outlines:
            yield outline.exterior, OVER_ROOF
            (ax, ay), (bx, by), (cx, cy), (dx, dy) = outline.exterior.coords[:4]
            yield (
                LineString([((ax + dx) / 2, (ay + dy) / 2), ((bx + cx) / 2, (by + cy) / 2)]),
                OVER_ROOF,
            )
    elif layer in ("beds", "sources"):
        yield from ((outline, OVER_BODY) for outline in outlines)
    elif layer == "pipes":  # drains
        yield from ((outline, OVER_PIPE) for outline in outlines)
    elif layer == "pieces":
        yield box(*_square_at(places[part.id], PIECE_SIZE / 2)), OVER_BODY


def _square_at(place: Place, half: float) -> Bounds:
    """Round a place. [m]"""
    x, y = place
    return x - half, y - half, x + half, y + half


def in_pixels(geometry: BaseGeometry, px: float) -> BaseGeometry:
    """In pixels, y downwards."""
    return affinity.scale(geometry, 1 / px, -1 / px, origin=(0, 0))


class _Name:
    """One name and every place where it may stand."""

    def __init__(self, shape: Shape, part: Part, sight: _Sight) -> None:
        self.shape = shape
        self.text = fitted(shape.name, LONGEST * (sight.paper[2] - sight.paper[0]))
        self.width = width_px(self.text)
        left, top, right, bottom = _bounds(shape, part, sight.px)
        self.bounds, self.sight, self.is_wide = (left, top, right, bottom), sight, False
        self.leaders: Floats = np.empty((0, ALONG, 2))
        self.places = list(_beside(shape.layer, *self.bounds, self.width))
        self.boxes = np.array([self._box(place) for place in self.places])
        self.cost = np.array([place.cost for place in self.places]) + sight.cost(self.boxes)

    def best(self, taken: Floats, leaders: Floats) -> int:
        """The place that costs least while others are taken; with a leader only where none beside it is free.

        Parameters
        ----------
        taken, leaders : Boxes of the other names; places along their leaders, [place, x or y].
        """
        total = self._total(taken, leaders)
        if total.min() > LED and not self.is_wide:
            self._look_farther()
            total = self._total(taken, leaders)
        return int(total.argmin())

    def _total(self, taken: Floats, leaders: Floats) -> Floats:
        led = np.zeros(len(self.places), dtype=bool)
        if self.is_wide:
            along = _within(self.leaders.reshape(-1, 2), taken).reshape(-1, ALONG)
            led[-len(self.leaders) :] = along.any(axis=1)
        crossed = _holding(self.boxes, leaders)
        return self.cost + OVER_NAME * _overlaps(self.boxes, taken) + OVER_LEADER * (led | crossed)

    def leader(self, choice: int) -> Floats:
        """Places along the leader of one of its places; far away where it has none. [place, x or y]"""
        number = choice - (len(self.places) - len(self.leaders))
        return self.leaders[number] if number >= 0 else np.full((ALONG, 2), np.inf)

    def _look_farther(self) -> None:
        led = list(_led_to(*self.bounds))
        boxes = np.array([self._box(place) for place in led])
        ends = np.array([((p.x, p.y), (p.x + p.led[0], p.y + p.led[1])) for p in led if p.led])
        cost = np.array([place.cost for place in led]) + self.sight.cost(boxes)
        self.places = [*self.places, *led]
        self.boxes = np.concatenate([self.boxes, boxes])
        self.cost = np.concatenate([self.cost, cost + self.sight.leader_cost(ends, self.shape.id)])
        share = np.linspace(0.0, 1.0, ALONG)[None, :, None]
        self.leaders = ends[:, :1] + share * (ends[:, 1:] - ends[:, :1])
        self.is_wide = True

    def _box(self, place: _NamePlace) -> Bounds:
        back = {"start": 0.0, "middle": self.width / 2, "end": self.width}[place.anchor]
        left, line = place.x + place.dx - back, place.y + place.dy
        return (
            left - PAD_PX,
            line - ASCENT * LETTER_PX - PAD_PX,
            left + self.width + PAD_PX,
            line + DESCENT * LETTER_PX + PAD_PX,
        )

    def placed(self, choice: int, px: float) -> PlacedName:
        """The name at one of its places."""
        place = self.places[choice]
        led = place.led
        left, top, right, bottom = self.boxes[choice].tolist()
        return PlacedName(
            self.shape.id,
            self.text,
            self.shape.layer,
            place.x * px,
            place.y * px,
            place.dx / LETTER_PX,
            place.dy / LETTER_PX,
            place.anchor,
            led[0] / LETTER_PX if led else None,
            led[1] / LETTER_PX if led else None,
            (left, top, right, bottom),
        )


def _bounds(shape: Shape, part: Any, px: float) -> Bounds:
    """Left, top, right and bottom of what is named. [px]"""
    outlines = kinds.outlines_of(part)
    if shape.kind == "tap" or not outlines:
        many = [_square_at((part.at.x_m, part.at.y_m), TAP_HALF)]
    else:
        many = [outline.bounds for outline in outlines]
    left, low = min(b[0] for b in many), min(b[1] for b in many)
    right, high = max(b[2] for b in many), max(b[3] for b in many)
    return left / px, -high / px, right / px, -low / px


def _beside(
    layer: str, left: float, top: float, right: float, bottom: float, width: float
) -> Iterator[_NamePlace]:
    """Places in or beside what is named, the preferred ones first."""
    em = LETTER_PX
    middle, across = (left + right) / 2, (top + bottom) / 2
    up, down, level = -0.4 * em, 1.0 * em, 0.3 * em
    inside = [
        (left, bottom, 0.35 * em, -0.45 * em, "start"),
        (left, top, 0.35 * em, 1.05 * em, "start"),
        (right, bottom, -0.35 * em, -0.45 * em, "end"),
        (right, top, -0.35 * em, 1.05 * em, "end"),
        (middle, bottom, 0.0, -0.45 * em, "middle"),
        (middle, top, 0.0, 1.05 * em, "middle"),
        (middle, across, 0.0, up, "middle"),
        (middle, across, 0.0, 1.1 * em, "middle"),
        *(
            (left, top + share * (bottom - top), 0.35 * em, 0.0, "start")
            for share in (0.25, 0.4, 0.6, 0.75)
        ),
    ]
    beside = [
        (middle, top, 0.0, up, "middle"),
        (middle, bottom, 0.0, down, "middle"),
        (left, top, 0.0, up, "start"),
        (right, top, 0.0, up, "end"),
        (right, across, 0.45 * em, level, "start"),
        (left, across, -0.45 * em, level, "end"),
        (left, bottom, 0.0, down, "start"),
        (right, bottom, 0.0, down, "end"),
    ]
    if layer == "buildings":
        inside = [*inside[6:8], *inside[:6], *inside[8:]]
    if layer == "ground" and right - left < width:
        inside = []
    order = [*inside, *beside] if layer in ("ground", "buildings") else beside
    for rank, (x, y, dx, dy, anchor) in enumerate(order):
        yield _NamePlace(x, y, dx, dy, anchor, PREFERRED * rank)


def _led_to(left: float, top: float, right: float, bottom: float) -> Iterator[_NamePlace]:
    """Places round it, from near to far, with a leader."""
    em = LETTER_PX
    middle, across = (left + right) / 2, (top + bottom) / 2
    up, down, level = -0.4 * em, 1.0 * em, 0.3 * em
    for ring in RINGS_EM:
        for step in range(WAYS):
            way_x, way_y = cos(2 * pi * step / WAYS), sin(2 * pi * step / WAYS)
            x = min(max(middle + way_x * (right - left), left), right)
            y = min(max(across + way_y * (bottom - top), top), bottom)
            dx, dy = way_x * ring * em, way_y * ring * em
            anchor = "start" if way_x > 0.3 else "end" if way_x < -0.3 else "middle"
            line = dy + (level if anchor != "middle" else down if way_y > 0 else up)
            yield _NamePlace(x, y, dx, line, anchor, LED + ring, (dx * 0.92, dy * 0.92))


def _within(places: Floats, boxes: Floats) -> Flags:
    """Whether each place lies in any of some boxes."""
    x, y = places[:, :1], places[:, 1:]
    inside = (x > boxes[:, 0]) & (x < boxes[:, 2]) & (y > boxes[:, 1]) & (y < boxes[:, 3])
    return np.asarray(inside.any(axis=1))


def _holding(boxes: Floats, places: Floats) -> Flags:
    """Whether any of some places lies in each box."""
    x, y = places[:, 0], places[:, 1]
    left, top, right, bottom = (column[:, None] for column in boxes.T)
    return np.asarray(((x > left) & (x < right) & (y > top) & (y < bottom)).any(axis=1))


def _overlaps(boxes: Floats, taken: Floats) -> Floats:
    """How many of the boxes that are taken each box lies on."""
    if not len(taken):
        return np.zeros(len(boxes))
    apart = (
        (boxes[:, None, 0] >= taken[None, :, 2])
        | (boxes[:, None, 2] <= taken[None, :, 0])
        | (boxes[:, None, 1] >= taken[None, :, 3])
        | (boxes[:, None, 3] <= taken[None, :, 1])
    )
    return np.asarray((~apart).sum(axis=1), dtype=np.float64)
