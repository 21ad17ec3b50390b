"""The week against its hours: rain from above, a lane for each zone, the stores' level below.

Drawn twice, for a desk and as narrow as a phone: letters are of one size on both.
"""

from dataclasses import dataclass

import numpy as np

from euhydra.core.constants import LITRES_PER_CUBIC_METRE, SECONDS_PER_DAY
from euhydra.garden import quantities
from euhydra.garden.quantities import System
from euhydra.planner.dates import WEEKDAYS, hour_in_words
from euhydra.planner.season.week import WEEK, Level, WeekAnswer
from euhydra.planner.time.dayplan import Slot
from euhydra.web.drawing.lettering import fitted, width_px

DESK_WIDTH, PHONE_WIDTH = 840.0, 358.0
EDGE = 8.0
HEAD, RAIN, DRY, LANE, STORE = 30.0, 50.0, 4.0, 40.0, 84.0
LEAST_WIDTH = 3.0
RAIN_FULL, RAIN_DEEP = 20.0, 28.0
"""Rain that fills its band [mm], and how deep that is on paper, over the words for it."""

LETTERS = 14.5
"""Height of letters on paper."""


@dataclass(frozen=True)
class Block:
    """A run on paper; `said` tells it in words."""

    x: float
    width: float
    said: str


@dataclass(frozen=True)
class Lane:
    """A zone's week."""

    name: str
    y: float
    blocks: tuple[Block, ...]
    is_fill: bool


@dataclass(frozen=True)
class Water:
    """A store's level: outline of the water, top of the full store, its words."""

    name: str
    top: float
    bottom: float
    outline: str
    said: str


@dataclass(frozen=True)
class WeekSheet:
    """The drawing; `day_width` is how wide a day is on it."""

    days: tuple[tuple[str, float], ...]
    rain: tuple[tuple[float, float, str], ...]
    lanes: tuple[Lane, ...]
    waters: tuple[Water, ...]
    lines: tuple[float, ...]
    width: float
    height: float
    day_width: float
    rain_top: float = HEAD


@dataclass(frozen=True)
class _WeekPaper:
    """How wide it is, and in which units it tells."""

    width: float
    system: System

    def x(self, seconds: float) -> float:
        return round(EDGE + seconds / (WEEK * SECONDS_PER_DAY) * (self.width - 2 * EDGE), 1)

    @property
    def day_width(self) -> float:
        return (self.width - 2 * EDGE) / WEEK


def draw(answer: WeekAnswer, system: System, width: float = DESK_WIDTH) -> WeekSheet:
    """The drawing of a week, so wide on paper."""
    paper = _WeekPaper(width, system)
    names = list(dict.fromkeys(slot.name for _, slot in answer.runs))
    first_lane = HEAD + (RAIN if any(mm > 0 for mm in answer.rain) else DRY)
    lanes = tuple(
        Lane(
            fitted(name, width - 2 * EDGE, LETTERS),
            first_lane + LANE * i,
            tuple(_block(paper, day, slot) for day, slot in answer.runs if slot.name == name),
            all(slot.zone is None for _, slot in answer.runs if slot.name == name),
        )
        for i, name in enumerate(names)
    )
    below = first_lane + LANE * len(names) + 6
    waters = tuple(_water(paper, level, below + STORE * i) for i, level in enumerate(answer.levels))
    days = tuple(
        (f"{WEEKDAYS[day]} {_day_of_month(answer, day)}", paper.x((day + 0.5) * SECONDS_PER_DAY))
        for day in range(WEEK)
    )
    rain = tuple(
        (
            paper.x(day * SECONDS_PER_DAY),
            round(min(mm / RAIN_FULL, 1.0) * RAIN_DEEP, 1),
            _rain(paper, mm),
        )
        for day, mm in enumerate(answer.rain)
        if mm > 0
    )
    lines = tuple(paper.x(day * SECONDS_PER_DAY) for day in range(WEEK + 1))
    height = below + STORE * len(waters)
    return WeekSheet(days, rain, lanes, waters, lines, width, height, paper.day_width)


def _day_of_month(answer: WeekAnswer, day: int) -> int:
    return int(str(answer.first + np.timedelta64(day, "D"))[8:10])


def _block(paper: _WeekPaper, day: int, slot: Slot) -> Block:
    start = day * SECONDS_PER_DAY + slot.start
    width = max(LEAST_WIDTH, paper.x(start + slot.seconds) - paper.x(start))
    litres = quantities.show(slot.litres / LITRES_PER_CUBIC_METRE, "volume", paper.system)
    said = f"{WEEKDAYS[day]} {hour_in_words(slot.start)} to {hour_in_words(slot.end)}, {litres}"
    return Block(paper.x(start), round(width, 1), said)


def _rain(paper: _WeekPaper, mm: float) -> str:
    """How much falls on a day, with the word where there is room for it."""
    told = quantities.show(mm / 1000, "rain", paper.system, 2)
    worded = f"rain {told}"
    return worded if width_px(worded, LETTERS) < paper.day_width - EDGE else told


def _water(paper: _WeekPaper, level: Level, top: float) -> Water:
    base, roof = top + STORE - 8, top + 22

    def y(litres: float) -> float:
        return round(base - litres / level.capacity * (base - roof), 1)

    steps = zip(level.moments, level.litres, strict=True)
    points = " ".join(f"{paper.x(t)},{y(v)}" for t, v in steps)
    outline = f"{paper.x(0)},{base} {points} {paper.x(WEEK * SECONDS_PER_DAY)},{base}"
    low, high = (
        quantities.show(v / LITRES_PER_CUBIC_METRE, "volume", paper.system)
        for v in (min(level.litres), level.capacity)
    )
    told = f": lowest {low} of {high}"
    name = fitted(level.name, paper.width - 2 * EDGE - width_px(told, LETTERS), LETTERS)
    return Water(level.name, roof, base, outline, name + told)
