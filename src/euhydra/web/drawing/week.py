"""The week against its hours: rain from above, a lane for each zone, the stores' level below."""

from dataclasses import dataclass

import numpy as np

from euhydra.core.constants import LITRES_PER_CUBIC_METRE, SECONDS_PER_DAY
from euhydra.garden import quantities
from euhydra.garden.quantities import System
from euhydra.planner.dates import WEEKDAYS, hour_in_words
from euhydra.planner.season.week import WEEK, Level, WeekAnswer
from euhydra.planner.time.dayplan import Slot

WIDTH, LEFT, RIGHT = 840.0, 8.0, 8.0
HEAD, RAIN, LANE, STORE = 30.0, 34.0, 40.0, 84.0
LEAST_WIDTH = 3.0
RAIN_FULL = 20.0
"""Rain that fills its band. [mm]"""


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
    """The drawing."""

    days: tuple[tuple[str, float], ...]
    rain: tuple[tuple[float, float, str], ...]
    lanes: tuple[Lane, ...]
    waters: tuple[Water, ...]
    lines: tuple[float, ...]
    height: float
    width: float = WIDTH
    rain_top: float = HEAD


def draw(answer: WeekAnswer, system: System) -> WeekSheet:
    """The drawing of a week."""
    names = list(dict.fromkeys(slot.name for _, slot in answer.runs))
    lanes = tuple(
        Lane(
            name,
            HEAD + RAIN + LANE * i,
            tuple(_block(day, slot, system) for day, slot in answer.runs if slot.name == name),
            all(slot.zone is None for _, slot in answer.runs if slot.name == name),
        )
        for i, name in enumerate(names)
    )
    below = HEAD + RAIN + LANE * len(names) + 6
    waters = tuple(
        _water(level, below + STORE * i, system) for i, level in enumerate(answer.levels)
    )
    days = tuple(
        (f"{WEEKDAYS[day]} {_day_of_month(answer, day)}", _x((day + 0.5) * SECONDS_PER_DAY))
        for day in range(WEEK)
    )
    rain = tuple(
        (
            _x(day * SECONDS_PER_DAY),
            round(min(mm / RAIN_FULL, 1.0) * (RAIN - 6), 1),
            _rain(mm, system),
        )
        for day, mm in enumerate(answer.rain)
        if mm > 0
    )
    lines = tuple(_x(day * SECONDS_PER_DAY) for day in range(WEEK + 1))
    return WeekSheet(days, rain, lanes, waters, lines, below + STORE * len(waters))


def _day_of_month(answer: WeekAnswer, day: int) -> int:
    return int(str(answer.first + np.timedelta64(day, "D"))[8:10])


def _x(seconds: float) -> float:
    return round(LEFT + seconds / (WEEK * SECONDS_PER_DAY) * (WIDTH - LEFT - RIGHT), 1)


def _block(day: int, slot: Slot, system: System) -> Block:
    start = day * SECONDS_PER_DAY + slot.start
    width = max(LEAST_WIDTH, _x(start + slot.seconds) - _x(start))
    litres = quantities.show(slot.litres / LITRES_PER_CUBIC_METRE, "volume", system)
    said = f"{WEEKDAYS[day]} {hour_in_words(slot.start)} to {hour_in_words(slot.end)}, {litres}"
    return Block(_x(start), round(width, 1), said)


def _rain(mm: float, system: System) -> str:
    return quantities.show(mm / 1000, "rain", system, 2)


def _water(level: Level, top: float, system: System) -> Water:
    base, roof = top + STORE - 8, top + 22

    def y(litres: float) -> float:
        return round(base - litres / level.capacity * (base - roof), 1)

    points = " ".join(f"{_x(t)},{y(v)}" for t, v in zip(level.moments, level.litres, strict=True))
    outline = f"{_x(0)},{base} {points} {_x(WEEK * SECONDS_PER_DAY)},{base}"
    low, high = (
        quantities.show(v / LITRES_PER_CUBIC_METRE, "volume", system)
        for v in (min(level.litres), level.capacity)
    )
    return Water(level.name, roof, base, outline, f"{level.name}: lowest {low} of {high}")
