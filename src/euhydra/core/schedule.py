"""What timers can be set to, which days a setting runs on, and what it comes to."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache
from itertools import chain
from math import ceil, inf

import numpy as np
from numpy.typing import NDArray

from euhydra.core.delivery import DrainCurve

Floats = NDArray[np.float64]
Integers = NDArray[np.intp]
Flags = NDArray[np.bool_]

MINUTES_PER_HOUR = 60.0
DAYS_PER_WEEK = 7

SPREAD = {
    1: (0,),
    2: (0, 3),
    3: (0, 2, 4),
    4: (0, 2, 4, 6),
    5: (0, 1, 3, 4, 6),
    6: (0, 1, 2, 3, 4, 5),
    7: (0, 1, 2, 3, 4, 5, 6),
}
"""Weekdays on which a timer runs so many times a week, Monday 0: as even as they go."""


TIMERS_KEPT = 32
"""Timers whose positions are kept: a clock that counts minutes has some thousands."""


@dataclass(frozen=True)
class TimerPositions:
    """What a timer can be set to.

    run_minutes : Rising. [min]
    interval_days : From one run to the next, rising; under 1 for several runs a day. [d]
    starts : Most starts on a day.
    by_weekday : Whether runs are set for days of the week; intervals are then means.
    """

    run_minutes: tuple[float, ...]
    interval_days: tuple[float, ...]
    starts: int = 1
    by_weekday: bool = False


@dataclass(frozen=True)
class Position:
    """One way to set a timer.

    run_minutes : Of one run. [min]
    interval_days : From one watering day to the next; under 1 for several runs a day. [d]
    starts : Runs on a watering day.
    weekdays : Days of the week on which it runs, Monday 0; empty if it counts days.
    """

    run_minutes: float
    interval_days: float
    starts: int = 1
    weekdays: tuple[int, ...] = ()

    @property
    def runs_a_day(self) -> int:
        """Runs on a day on which it waters."""
        return self.starts * (round(1 / self.interval_days) if self.interval_days < 1 else 1)

    @property
    def minutes_a_day(self) -> float:
        """Minutes on a day on which it waters. [min]"""
        return self.run_minutes * self.runs_a_day

    @property
    def mean_days(self) -> float:
        """From one watering day to the next, on the mean. [d]"""
        if self.weekdays:
            return DAYS_PER_WEEK / len(self.weekdays)
        return max(1.0, self.interval_days)

    def waters_on(self, since_set: Integers, weekday: Integers) -> Flags:
        """Whether it waters, on days so many after it was set (0: the same day).

        Parameters
        ----------
        since_set : Days since it was set, when it runs first. [d]
        weekday : Monday 0.

        Examples
        --------
        >>> Position(30, 2).waters_on(np.arange(4), np.arange(4)).tolist()
        [True, False, True, False]
        """
        if self.weekdays:
            return np.isin(weekday, self.weekdays)
        return np.asarray(since_set % round(self.mean_days) == 0)


@dataclass(frozen=True)
class Setting:
    """A position chosen for a month, and what it gives.

    litres_a_run : From the level the setting was made for. [L]
    litres_a_day : Mean, rain skipped where the timer can. [L d⁻¹]
    share_of_need : Mean litres given over litres needed. [-]
    """

    position: Position
    litres_a_run: float
    litres_a_day: float
    share_of_need: float


@dataclass(frozen=True, eq=False)
class Rhythm:
    """Positions of a timer that differ in the length of a run alone.

    positions : By rising length, at least one.
    """

    positions: tuple[Position, ...]

    @property
    def mean_days(self) -> float:
        """From one watering day to the next, on the mean. [d]"""
        return self.positions[0].mean_days

    @property
    def runs_a_day(self) -> int:
        """Runs on a day on which it waters."""
        return self.positions[0].runs_a_day

    @cached_property
    def run_minutes(self) -> Floats:
        """Length of a run of each. [min]"""
        return np.array([position.run_minutes for position in self.positions])

    def is_of(self, position: Position) -> bool:
        """Whether a position differs from these in the length of its run at most."""
        first = self.positions[0]
        return (position.interval_days, position.starts) == (first.interval_days, first.starts)

    def holds(self, position: Position) -> bool:
        """Whether a position is one of these."""
        return self.is_of(position) and position in self.positions

    def nearest(self, minutes: Floats) -> list[Position]:
        """Those nearest to some minutes a day, on the mean. [min d⁻¹]"""
        a_day = self.run_minutes * self.runs_a_day / self.mean_days
        return [self.positions[i] for i in np.abs(a_day[:, None] - minutes).argmin(axis=0)]

    def up_to(self, minutes: float) -> tuple[Position, ...]:
        """Those whose run is no longer than so many minutes. [min]

        Parameters
        ----------
        minutes : [min]
        """
        return self.positions[: int(np.searchsorted(self.run_minutes, minutes, side="right"))]

    def between(self, short: float, long: float) -> tuple[Position, ...]:
        """Those whose run lies between two others.

        Parameters
        ----------
        short, long : Lengths of those two, which are left out. [min]
        """
        first = np.searchsorted(self.run_minutes, short, side="right")
        return self.positions[first : np.searchsorted(self.run_minutes, long, side="left")]


@lru_cache(maxsize=TIMERS_KEPT)
def rhythms_of(timer: TimerPositions, most_minutes: float) -> tuple[Rhythm, ...]:
    """Every way to set a timer that keeps within so many minutes a day; the shortest if none does.

    Parameters
    ----------
    most_minutes : Longest it may run in a day. [min]
    """
    every = (
        tuple(
            Position(minutes, days, starts, _weekdays(timer, days)) for minutes in timer.run_minutes
        )
        for days in timer.interval_days
        for starts in range(1, timer.starts + 1)
    )
    fitting = (tuple(p for p in alike if p.minutes_a_day <= most_minutes) for alike in every)
    found = tuple(Rhythm(alike) for alike in fitting if alike)
    if found:
        return found
    weekdays = SPREAD[1] if timer.by_weekday else ()
    return (Rhythm((Position(timer.run_minutes[0], timer.interval_days[-1], 1, weekdays),)),)


def positions_of(timer: TimerPositions, most_minutes: float) -> tuple[Position, ...]:
    """As `rhythms_of`, one after another.

    Parameters
    ----------
    most_minutes : Longest it may run in a day. [min]
    """
    return tuple(chain.from_iterable(r.positions for r in rhythms_of(timer, most_minutes)))


def _weekdays(timer: TimerPositions, days: float) -> tuple[int, ...]:
    return SPREAD[max(1, min(7, round(DAYS_PER_WEEK / days)))] if timer.by_weekday else ()


def near_need(
    rhythms: Iterable[Rhythm], wanted_minutes: float, factors: Sequence[float]
) -> list[Position]:
    """Of each rhythm, the runs nearest to some multiples of what is wanted.

    Parameters
    ----------
    wanted_minutes : Minutes a day, on the mean, that give what is needed. [min d⁻¹]
    factors : Multiples of it to look near. [-]
    """
    minutes = np.array(factors) * wanted_minutes
    return list(dict.fromkeys(chain.from_iterable(r.nearest(minutes) for r in rhythms)))


def longest_interval(ready: float, crop_et: float) -> float:
    """Days that the readily available water lasts, at least one. [d]

    Parameters
    ----------
    ready : Readily available water RAW. [mm]
    crop_et : Crop evapotranspiration of a day. [mm d⁻¹]

    References
    ----------
    Allen et al. (1998), FAO-56, chapter 8: irrigate before RAW is gone.
    """
    return max(1.0, ready / crop_et) if crop_et > 0 else inf


def exact_minutes(curve: DrainCurve, level: float, litres: float) -> float:
    """Minutes of one run that give `litres` from `level`; infinite if they are not there. [min]

    Parameters
    ----------
    curve : Delivery of the line.
    level : Store volume when the run begins. [L]
    litres : Wanted. [L]
    """
    return MINUTES_PER_HOUR * curve.hours_for(level, litres)


PONDING = 8.0
"""Depth that stands on a level bed before it runs off. [mm] Common practice."""

STEEP = 0.10
"""Slope on which hardly any water stands any more. [-] Common practice."""

LEAST_PONDING = 1.0
"""Depth that stands even on a steep bed. [mm] Common practice."""


def minutes_before_runoff(rate: float, intake: float, slope: float) -> float:
    """Longest run before water stands and runs off; infinite where the soil takes it all. [min]

    What the soil does not take fills the hollows of the surface first, and a slope has few.

    Parameters
    ----------
    rate : Depth that the outlets give over the ground they wet. [mm h⁻¹]
    intake : Steady intake rate of the soil. [mm h⁻¹]
    slope : [-]

    Examples
    --------
    >>> minutes_before_runoff(13.0, 3.0, 0.0)
    48.0
    """
    if rate <= intake:
        return inf
    standing = max(LEAST_PONDING, PONDING * (1 - slope / STEEP))
    return MINUTES_PER_HOUR * standing / (rate - intake)


def sinks_in(minutes: Floats, before_runoff: float, rate: float, intake: float) -> Floats:
    """Share of runs that sinks in: all until water stands, then what the soil takes. [-]

    Parameters
    ----------
    minutes : Of each run. [min]
    before_runoff : Longest run before water stands. [min]
    rate, intake : As in `minutes_before_runoff`. [mm h⁻¹]

    Examples
    --------
    >>> sinks_in(np.array([24.0, 48.0, 96.0]), 48.0, 13.0, 3.0).round(2).tolist()
    [1.0, 1.0, 0.62]
    """
    over = np.maximum(minutes - before_runoff, 0.0)
    if not over.any():
        return np.ones_like(minutes)
    return 1 - over * (rate - intake) / (np.maximum(minutes, 1e-9) * rate)


def cycles_for(minutes: float, before_runoff: float) -> int:
    """Runs into which a watering is split so that none runs off; pauses between them.

    Parameters
    ----------
    minutes : Of the whole watering. [min]
    before_runoff : Longest run. [min]
    """
    return max(1, ceil(minutes / before_runoff - 1e-9))
