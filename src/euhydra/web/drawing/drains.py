"""What drains where: roofs, downspouts, stores and overflows, to scale in height."""

from collections.abc import Sequence
from dataclasses import dataclass

from euhydra.garden.model import Garden
from euhydra.garden.roofs import Roof
from euhydra.garden.store_groups import Group, group_below, groups_of
from euhydra.garden.stores import Store
from euhydra.planner.season.shares import DESTINATION_NAMES
from euhydra.web.drawing.lettering import fitted, width_px

WIDTH, HEIGHT = 760.0, 310.0
TOP, BOTTOM = 30.0, 80.0
EARTH = 18.0
"""Thickness of the ground under its lowest step, on paper."""

MOST_ROOF, MOST_STORE = 170.0, 96.0
GAP = 22.0

PITCH = 30.0
"""Height of a roof's slope on paper: drawn, not to scale."""

LETTERS = 14.0
"""Height of the letters. [px]"""

ROW, LARGE_LETTERS = 19.0, 19.0
"""Height of a row of words under the ground, and of their letters on a phone. On paper."""

ROOM_FOR_NAME = 240.0
"""Width on paper that a name may have."""

BETWEEN_WORDS = 8.0
"""Least distance between two words of a row on paper."""

WAY_OUT = 62.0
"""Room on paper at the right, for the last overflow."""


@dataclass(frozen=True)
class RoofShape:
    """A roof: outline of its slope, its wall, and the middle of its name."""

    name: str
    outline: str
    wall: str
    x: float
    y: float


@dataclass(frozen=True)
class DrainPipe:
    """A downspout or an overflow: its way, and whether it is led anywhere."""

    name: str
    path: str
    is_led: bool


@dataclass(frozen=True)
class StoreShape:
    """A store: box, water at the level of its group when full, tap, stand, the middle of its name, and number."""

    name: str
    count: int
    x: float
    y: float
    width: float
    height: float
    water_y: float
    ground_y: float
    tap_y: float
    name_x: float
    name_y: float


@dataclass(frozen=True)
class Ending:
    """Where water leaves: a point with words."""

    x: float
    y: float
    words: str


@dataclass(frozen=True)
class Drains:
    """The drawing, y downwards. `links` join stores of one level."""

    height: float
    ground: str
    roofs: tuple[RoofShape, ...]
    spouts: tuple[DrainPipe, ...]
    stores: tuple[StoreShape, ...]
    links: tuple[str, ...]
    overflows: tuple[DrainPipe, ...]
    endings: tuple[Ending, ...]


def draw(garden: Garden) -> Drains:
    """The drawing of a garden that has a roof."""
    return _Sheet(garden).drains()


class _Sheet:
    """Positions of everything on the paper."""

    def __init__(self, garden: Garden) -> None:
        self.garden = garden
        self.groups = groups_of(garden.stores)
        heights = [h for roof in garden.roofs for h in (roof.eaves_m, roof.ground_m)]
        heights += [h for s in garden.stores for h in (s.base_m, s.base_m + s.top_m, s.ground_m)]
        self.low, high = min(heights), max(heights)
        self.scale = (HEIGHT - TOP - BOTTOM - PITCH) / max(high - self.low, 0.5)
        self.stores = [store for group in self.groups for store in group.stores]
        room = WIDTH - WAY_OUT - GAP
        shares = 1.6 * len(garden.roofs) + len(self.stores)
        unit = room / max(shares, 1)
        self.roof_width = min(MOST_ROOF, 1.6 * unit - GAP)
        self.store_width = min(MOST_STORE, unit - GAP / 2)
        first = GAP + len(garden.roofs) * (self.roof_width + GAP)
        self.roof_x = {
            roof.id: GAP + i * (self.roof_width + GAP) for i, roof in enumerate(garden.roofs)
        }
        self.store_x = {
            store.id: first + i * (self.store_width + GAP / 2)
            for i, store in enumerate(self.stores)
        }
        self.names = [fitted(store.name, ROOM_FOR_NAME, LARGE_LETTERS) for store in self.stores]
        self.name_x = [
            _inside(name, self.store_x[store.id] + self.store_width / 2)
            for store, name in zip(self.stores, self.names, strict=True)
        ]
        self.name_row = _rows(
            [(x, "middle", name) for x, name in zip(self.name_x, self.names, strict=True)]
        )
        self.names_end = HEIGHT - BOTTOM + EARTH + ROW * (1 + max(self.name_row, default=0))

    def y(self, height: float) -> float:
        """A height on paper."""
        return round(HEIGHT - BOTTOM - (height - self.low) * self.scale, 1)

    def drains(self) -> Drains:
        endings = self._endings()
        return Drains(
            max((ending.y for ending in endings), default=self.names_end) + ROW / 2,
            self._ground(),
            tuple(map(self._roof, self.garden.roofs)),
            tuple(self._spouts()),
            tuple(self._store(s, g) for g in self.groups for s in g.stores),
            tuple(link for group in self.groups for link in self._links(group)),
            tuple(self._overflow(group) for group in self.groups),
            endings,
        )

    def _ground(self) -> str:
        """The ground from left to right, stepped where walls and stores stand."""
        steps = [(self.roof_x[r.id] - GAP / 2, r.ground_m) for r in self.garden.roofs]
        steps += [(self.store_x[s.id] - GAP / 4, s.ground_m) for s in self.stores]
        path, y = f"M0,{self.y(steps[0][1])}", self.y(steps[0][1])
        for x, height in steps:
            if self.y(height) != y:
                y = self.y(height)
                path += f"H{x:.1f}V{y}"
        return f"{path}H{WIDTH:.0f}V{HEIGHT - BOTTOM + EARTH:.0f}H0Z"

    def _roof(self, roof: Roof) -> RoofShape:
        x, y, w = self.roof_x[roof.id], self.y(roof.eaves_m), self.roof_width
        outline = f"M{x:.1f},{y}L{x + 0.16 * w:.1f},{y - PITCH}H{x + 0.84 * w:.1f}L{x + w:.1f},{y}Z"
        wall = f"M{x + 0.06 * w:.1f},{y}V{self.y(roof.ground_m)}M{x + 0.94 * w:.1f},{y}V{self.y(roof.ground_m)}"
        # In the slope, where no pipe crosses the name; over the ridge if it is too long for that.
        fits = width_px(roof.name, LETTERS) <= 0.72 * w
        name = roof.name if fits else fitted(roof.name, ROOM_FOR_NAME, LARGE_LETTERS)
        name_y = y - (PITCH / 2 - 5 if fits else PITCH + 8)
        return RoofShape(name, outline, wall, _inside(name, x + w / 2), name_y)

    def _spout_x(self, spout_id: str, roof_id: str) -> float:
        own = [d.id for d in self.garden.downspouts if d.roof_id == roof_id]
        part = (own.index(spout_id) + 1) / len(own)
        return self.roof_x[roof_id] + self.roof_width * (
            0.94 if len(own) == 1 else 0.2 + 0.74 * part
        )

    def _spouts(self) -> list[DrainPipe]:
        roofs = {roof.id: roof for roof in self.garden.roofs}
        pipes = []
        for number, spout in enumerate(self.garden.downspouts):
            roof = roofs[spout.roof_id]
            x, eaves = self._spout_x(spout.id, roof.id), self.y(roof.eaves_m)
            run = eaves + 14 + 7 * number
            other = next((d for d in self.garden.downspouts if d.id == spout.leads_to), None)
            if spout.leads_to is None:
                path = f"M{x:.1f},{eaves}V{self.y(roof.ground_m)}"
            elif other is not None:
                path = f"M{x:.1f},{eaves}V{run:.1f}H{self._spout_x(other.id, other.roof_id):.1f}"
            else:
                store = next(s for s in self.stores if s.id == spout.leads_to)
                end = self.store_x[store.id] + self.store_width * (0.3 + 0.12 * (number % 4))
                top = self.y(store.overflow_m) - 2
                path = f"M{x:.1f},{eaves}V{min(run, top - 6):.1f}H{end:.1f}V{top:.1f}"
            pipes.append(DrainPipe(spout.name, path, spout.leads_to is not None))
        return pipes

    def _store(self, store: Store, group: Group) -> StoreShape:
        top, base = self.y(store.base_m + store.top_m), self.y(store.base_m)
        number = self.stores.index(store)
        return StoreShape(
            self.names[number],
            store.count,
            round(self.store_x[store.id], 1),
            top,
            round(self.store_width, 1),
            round(base - top, 1),
            self.y(group.level.full),
            self.y(store.ground_m),
            self.y(store.tap_m),
            self.name_x[number],
            HEIGHT - BOTTOM + EARTH + ROW * (1 + self.name_row[number]),
        )

    def _links(self, group: Group) -> list[str]:
        """A pipe from each store to the next of its level, at their bottoms."""
        paths = []
        for left, right in zip(group.stores, group.stores[1:], strict=False):
            start = self.store_x[left.id] + self.store_width - 8
            paths.append(
                f"M{start:.1f},{self.y(left.base_m) - 4:.1f}"
                f"V{max(self.y(left.base_m), self.y(right.base_m)) + 9:.1f}"
                f"H{self.store_x[right.id] + 8:.1f}V{self.y(right.base_m) - 4:.1f}"
            )
        return paths

    def _overflow(self, group: Group) -> DrainPipe:
        start_store = group.lowest
        x, y = self.store_x[start_store.id] + self.store_width, self.y(group.level.full)
        taker = group_below(group, self.groups, self.garden.downspouts)
        if taker is not None:
            below = taker.lowest
            end = self.store_x[below.id]
            turn = y - 10 if end < x else y
            aim = end + (self.store_width / 2 if end < x else 6)
            path = f"M{x:.1f},{y}h4V{turn:.1f}H{aim:.1f}V{self.y(below.overflow_m) + 4:.1f}"
            return DrainPipe(group.name, path, True)
        end_x, end_y = self._way_out(group)
        return DrainPipe(group.name, f"M{x:.1f},{y}H{x + 7:.1f}V{end_y - 4:.1f}H{end_x:.1f}", False)

    def _way_out(self, group: Group) -> tuple[float, float]:
        x = self.store_x[group.lowest.id] + self.store_width
        return x + 9, self.y(group.lowest.ground_m)

    def _endings(self) -> tuple[Ending, ...]:
        """Words under every last overflow, in rows so that none covers another."""
        leaving = [
            group
            for group in self.groups
            if group_below(group, self.groups, self.garden.downspouts) is None
        ]
        said = [
            f"{fitted(g.lowest.name, ROOM_FOR_NAME, LARGE_LETTERS)}: overflow runs "
            f"{DESTINATION_NAMES.get(g.overflow_to, 'into a downspout')}"
            for g in leaving
        ]
        rights = [
            max(min(self._way_out(g)[0] + 40, WIDTH), width_px(words, LARGE_LETTERS))
            for g, words in zip(leaving, said, strict=True)
        ]
        rows = _rows([(x, "end", words) for x, words in zip(rights, said, strict=True)])
        return tuple(
            Ending(x, self.names_end + ROW * (1 + row), words)
            for x, row, words in zip(rights, rows, said, strict=True)
        )


def _inside(words: str, middle: float) -> float:
    """Middle of some words on paper, moved so far that none of them is cut off."""
    half = width_px(words, LARGE_LETTERS) / 2
    return round(min(max(middle, half), WIDTH - half), 1)


def _rows(words: Sequence[tuple[float, str, str]]) -> list[int]:
    """The row that each of some words stands in, so that none covers another, on a phone neither.

    Parameters
    ----------
    words : Where each stands on paper, whether that is its middle or its end, and the words.
    """
    ends: list[list[tuple[float, float]]] = []
    found = []
    for x, anchor, said in words:
        width = width_px(said, LARGE_LETTERS) + BETWEEN_WORDS
        left = x - (width / 2 if anchor == "middle" else width)
        free = (
            number
            for number, row in enumerate(ends)
            if all(left + width <= start or left >= end for start, end in row)
        )
        row = next(free, len(ends))
        if row == len(ends):
            ends.append([])
        ends[row].append((left, left + width))
        found.append(row)
    return found
