"""Where names stand on the plan: beside what they name, on no line and no other name, with a leader where it is crowded.

Places are found for one size of letters, in pixels; what comes out is a place in the garden and a distance
from it in em, so that a name stays beside its part however near one looks.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from math import isnan
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import LineString, STRtree, box
from shapely.geometry.base import BaseGeometry

from euhydra.garden import kinds
from euhydra.garden.model import Garden
from euhydra.garden.part import Part
from euhydra.garden.pipes import Pipe
from euhydra.web.drawing.lettering import LETTER_PX, fitted, width_px
from euhydra.web.drawing.name_places import ANCHORS, LED, Bounds, beside, led_to
from euhydra.web.drawing.piece_places import PIECE_SIZE, TAP_HALF, Place, piece_places
from euhydra.web.drawing.plan_shapes import Shape

Floats = NDArray[np.float64]
Flags = NDArray[np.bool_]

LONGEST = 0.4
"""Of the paper's width that a name may take: a longer one is shortened."""

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

LED_OVER_PIPE = 9.0
"""What a pipe costs that a leader crosses."""

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


def metres_a_pixel(paper: Bounds, width: float, height: float) -> float:
    """Of a plan that is shown whole in a frame of so many pixels. [m px⁻¹]"""
    return max(paper[2] / width, paper[3] / height)


@dataclass(frozen=True)
class Seen:
    """What of a garden is seen on its plan, whatever its size.

    what : Lines and outlines, y to the north. [m]
    weights, owners : What it costs a name to lie on each, and the id of the part that it is of.
    shapes : What has a name of its own.
    bounds : Of what has a name, by the id of its part: left, top, right and bottom, y downwards. [m]
    """

    what: tuple[BaseGeometry, ...]
    weights: Floats
    owners: NDArray[np.str_]
    shapes: tuple[Shape, ...]
    bounds: Mapping[str, Bounds]


def seen_on(garden: Garden, shapes: Sequence[Shape]) -> Seen:
    """What names have to stand beside and between."""
    parts = {part.id: part for part in garden.parts}
    places = piece_places(garden)
    seen = [
        (geometry, weight, part.id)
        for kind in kinds.PART_KINDS
        if kind.layer
        for part in getattr(garden, kind.collection)
        for geometry, weight in _seen_of(part, kind.layer, places)
    ]
    what, weights, owners = zip(*seen, strict=True) if seen else ((), (), ())
    named = tuple(s for s in shapes if s.layer not in ("pipes", "pieces") and s.name)
    bounds = {shape.id: _bounds(shape, parts[shape.id]) for shape in named}
    return Seen(what, np.array(weights), np.array(owners, dtype=np.str_), named, bounds)


def place_names(seen: Seen, paper: Bounds, px: float, scale_bar: Bounds) -> tuple[PlacedName, ...]:
    """Every name that stands on the plan, placed for one size.

    Parameters
    ----------
    paper : Left, top, width and height. [m]
    px : Size of a pixel. [m]
    scale_bar : Left, top, right and bottom of the bar with its words. [m]
    """
    sight = _Sight(seen, paper, px, scale_bar)
    names = [_Name(shape, sight) for shape in seen.shapes]
    chosen = [int(name.cost.argmin()) for name in names]
    taken = np.full((len(names), 4), np.inf)
    leaders = np.full((len(names), ALONG, 2), np.inf)
    for i, name in enumerate(names):
        taken[i] = name.boxes[chosen[i]]
    since_move = 0
    for i, name in ROUNDS * list(enumerate(names)):
        taken[i], leaders[i] = np.inf, np.inf  # no name is in its own way
        before, chosen[i] = chosen[i], name.best(taken, leaders.reshape(-1, 2))
        taken[i], leaders[i] = name.boxes[chosen[i]], name.leader(chosen[i])
        since_move = since_move + 1 if chosen[i] == before else 0
        if since_move == len(names):
            break
    return tuple(name.placed(choice, px) for name, choice in zip(names, chosen, strict=True))


class _Sight:
    """What a name should not lie on, in pixels, y downwards."""

    def __init__(self, seen: Seen, paper: Bounds, px: float, scale_bar: Bounds) -> None:
        left, top, width, height = _in_px(paper, px)
        self.paper = left, top, left + width, top + height
        self.bounds = {part: _in_px(sides, px) for part, sides in seen.bounds.items()}
        self.weights, self.owners = np.append(seen.weights, OVER_BODY), np.append(seen.owners, "")
        flat = in_pixels(np.array(seen.what, dtype=object), px)
        self.tree = STRtree([*flat, box(*_in_px(scale_bar, px))])

    def cost(self, boxes: Floats) -> Floats:
        """What it costs a name to stand in each of several boxes."""
        total = np.zeros(len(boxes))
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
        hit, what = self.tree.query(shapely.linestrings(ends), predicate="intersects")
        foreign = self.owners[what] != own_id
        crossed = np.where(self.weights[what] >= OVER_BODY, OVER_BODY / 2, LED_OVER_PIPE)
        np.add.at(total, hit[foreign], crossed[foreign])
        return total


def _seen_of(
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


def _in_px(metres: Bounds, px: float) -> Bounds:
    """Four metres in pixels of that size. [px]"""
    first, second, third, fourth = metres
    return first / px, second / px, third / px, fourth / px


def in_pixels(geometry: Any, px: float) -> Any:
    """One geometry or an array of them, in pixels, y downwards."""
    return shapely.transform(geometry, lambda metres: metres * (1 / px, -1 / px))


class _Name:
    """One name and every place where it may stand."""

    def __init__(self, shape: Shape, sight: _Sight) -> None:
        self.shape, self.sight, self.is_wide = shape, sight, False
        self.text = fitted(shape.name, LONGEST * (sight.paper[2] - sight.paper[0]))
        self.width = width_px(self.text)
        self.leaders: Floats = np.empty((0, ALONG, 2))
        self.places = beside(shape.layer, sight.bounds[shape.id], self.width)
        self.boxes = self.places.boxes(self.width)
        self.cost = self.places.cost + sight.cost(self.boxes)

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
        led = np.zeros(len(self.boxes), dtype=bool)
        if self.is_wide:
            along = _within(self.leaders.reshape(-1, 2), taken).reshape(-1, ALONG)
            led[-len(self.leaders) :] = along.any(axis=1)
        crossed = _holding(self.boxes, leaders)
        return self.cost + OVER_NAME * _overlaps(self.boxes, taken) + OVER_LEADER * (led | crossed)

    def leader(self, choice: int) -> Floats:
        """Places along the leader of one of its places; far away where it has none. [place, x or y]"""
        number = choice - (len(self.boxes) - len(self.leaders))
        return self.leaders[number] if number >= 0 else np.full((ALONG, 2), np.inf)

    def _look_farther(self) -> None:
        led = led_to(self.sight.bounds[self.shape.id])
        boxes = led.boxes(self.width)
        ends = np.stack((led.at, led.at + led.led), axis=1)
        cost = led.cost + self.sight.cost(boxes) + self.sight.leader_cost(ends, self.shape.id)
        self.places += led
        self.boxes = np.concatenate([self.boxes, boxes])
        self.cost = np.concatenate([self.cost, cost])
        share = np.linspace(0.0, 1.0, ALONG)[None, :, None]
        self.leaders = ends[:, :1] + share * (ends[:, 1:] - ends[:, :1])
        self.is_wide = True

    def placed(self, choice: int, px: float) -> PlacedName:
        """The name at one of its places."""
        places = self.places
        (x, y), (dx, dy) = (
            (places.at[choice] * px).tolist(),
            (places.off[choice] / LETTER_PX).tolist(),
        )
        led_dx, led_dy = (places.led[choice] / LETTER_PX).tolist()
        is_led = not isnan(led_dx)
        left, top, right, bottom = self.boxes[choice].tolist()
        return PlacedName(
            self.shape.id,
            self.text,
            self.shape.layer,
            x,
            y,
            dx,
            dy,
            ANCHORS[float(places.before[choice])],
            led_dx if is_led else None,
            led_dy if is_led else None,
            (left, top, right, bottom),
        )


def _bounds(shape: Shape, part: Any) -> Bounds:
    """Left, top, right and bottom of what is named, y downwards. [m]"""
    outlines = kinds.outlines_of(part)
    if shape.kind == "tap" or not outlines:
        many = [_square_at((part.at.x_m, part.at.y_m), TAP_HALF)]
    else:
        many = [outline.bounds for outline in outlines]
    left, low = min(b[0] for b in many), min(b[1] for b in many)
    right, high = max(b[2] for b in many), max(b[3] for b in many)
    return left, -high, right, -low


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
