"""The surge drum through the heaviest day of the week, minute by minute."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from euhydra.core.constants import MINUTES_PER_DAY
from euhydra.garden import quantities
from euhydra.garden.quantities import KINDS, System
from euhydra.planner.catch.greywater import DAYS, WashAnswer

Floats = NDArray[np.float64]

WIDTH, HEIGHT = 720.0, 190.0
LEFT, RIGHT, TOP, BOTTOM = 56.0, 24.0, 20.0, 26.0


@dataclass(frozen=True)
class Washday:
    """Paths on paper: water in the drum; when water comes in; when it runs over."""

    day: str
    level: str
    inflow: str
    overflow: str
    full_y: float
    base_y: float
    full_label: str
    hours: tuple[tuple[float, str], ...]


def draw(answer: WashAnswer, system: System) -> Washday:
    """The heaviest day of `answer`, from an hour before its first water to an hour after its last."""
    first = answer.worst_day * MINUTES_PER_DAY
    day = slice(first, first + MINUTES_PER_DAY)
    level, inflow = answer.shown.run.level[day], answer.shown.inflow[day]
    begin, end = _hours_shown(level + inflow)
    full = answer.system.drum_m3 * 1000
    bottom = HEIGHT - BOTTOM
    tall = bottom - TOP

    def x(minute: float) -> float:
        return LEFT + (WIDTH - LEFT - RIGHT) * (minute / 60 - begin) / (end - begin)

    points = "".join(
        f"L{x(minute):.1f},{bottom - tall * level[minute] / full:.1f}"
        for minute in range(begin * 60, end * 60)
    )
    hours = range(begin, end + 1, max(1, (end - begin) // 6))
    return Washday(
        DAYS[answer.worst_day],
        f"M{LEFT},{bottom}{points}L{x(end * 60):.1f},{bottom}Z",
        _ticks(inflow, x, TOP - 14, TOP - 6),
        _ticks(answer.shown.run.overflow[day], x, TOP - 6, TOP + 6),
        TOP,
        bottom,
        f"{quantities.show_number(full / 1000, 'volume', system)} {KINDS['volume'].display(system).sign}",
        tuple((round(x(hour * 60), 1), f"{hour}:00") for hour in hours),
    )


def _hours_shown(water: Floats) -> tuple[int, int]:
    """First and last full hour round the minutes with water."""
    wet = np.flatnonzero(water > 0)
    if len(wet) == 0:
        return 0, 24
    return max(0, int(wet[0]) // 60 - 1), min(24, int(wet[-1]) // 60 + 2)


def _ticks(litres: Floats, x: Callable[[float], float], y0: float, y1: float) -> str:
    """A stroke for every minute in which anything flowed."""
    return "".join(f"M{x(i):.1f},{y0}V{y1}" for i in np.flatnonzero(litres > 0).tolist())
