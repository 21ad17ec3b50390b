"""A timer's programme: what it is set to in each month, and which days it runs on."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from euhydra.core import programme
from euhydra.core.schedule import Position
from euhydra.core.weather import DailyWeather
from euhydra.garden.catalogue import TimerKind
from euhydra.planner.need.daily import Need

Floats = NDArray[np.float64]
Integers = NDArray[np.intp]
Flags = NDArray[np.bool_]

MONTHS = 12


@dataclass(frozen=True)
class HeatRule:
    """In a month, after a day that asks so much of short grass, the timer is set otherwise.

    from_et0 : [mm d⁻¹]
    position : As often and longer for beds; oftener for pots.
    """

    from_et0: float
    position: Position


@dataclass(frozen=True)
class Programme:
    """Settings of one timer through the year.

    months : Of each month; None where it is off.
    new : While something roots in or comes up; None where nothing does.
    drinks : Rain that stands in for what the zone's crops drink on a mean day of each month. [mm]
    pauses : For how long it may be paused after rain, rising. [d]
    heat : Of each month; empty where its owner does not hold to them.
    """

    timer: TimerKind
    months: tuple[Position | None, ...]
    new: Position | None
    drinks: tuple[float, ...]
    pauses: tuple[int, ...] = ()
    heat: tuple[HeatRule | None, ...] = ()

    @property
    def rain_plan(self) -> tuple[tuple[int, float], ...]:
        """Days to pause, and the rain from which on, for the month that drinks most. [d], [mm]"""
        most = max(self.drinks)
        return tuple((d, programme.rain_for(d, most)) for d in self.pauses)

    def without_rain_plan(self) -> "Programme":
        """As it runs when nobody pauses it after rain."""
        return replace(self, pauses=())


@dataclass(frozen=True)
class DayRuns:
    """What a timer does on each day of a record.

    minutes : On that day, all runs together. [min]
    runs : Into which they are split; 1 where it does not run.
    """

    minutes: Floats
    runs: Integers


def runs_of(plan: Programme, record: DailyWeather, needs: Sequence[Need]) -> DayRuns:
    """The programme through a record: set anew on the first of each month, paused after rain.

    Parameters
    ----------
    needs : Of what the zone waters.
    """
    growing = np.any([need.is_growing for need in needs], axis=0)
    new = np.any([need.is_new for need in needs], axis=0)
    since, weekday = calendar(record)
    paused = _paused(plan, record)
    minutes, runs = np.zeros(len(record.days)), np.ones(len(record.days), dtype=np.intp)
    turns: list[tuple[Position | None, Flags]] = [
        (position, (record.month == month) & growing & ~paused)
        for month, position in enumerate(plan.months, 1)
    ]
    turns.append((plan.new, new & growing))
    for position, days in turns:
        if position is None:
            continue
        here = np.flatnonzero(days)
        on = position.waters_on(since[here], weekday[here])
        minutes[here] = np.where(on, position.minutes_a_day, 0.0)
        runs[here] = np.where(on, position.runs_a_day, 1)
    _in_heat(plan, record, needs, growing & ~paused & ~new, DayRuns(minutes, runs))
    return DayRuns(minutes, runs)


def _in_heat(
    plan: Programme, record: DailyWeather, needs: Sequence[Need], may: Flags, daily: DayRuns
) -> None:
    """Set the days after a hot one as the heat rule has them, of those on which it may water."""
    yesterday = np.r_[0.0, needs[0].et0[:-1]]
    for month, rule in enumerate(plan.heat, 1):
        position = plan.months[month - 1]
        if rule is None or position is None:
            continue
        hot = (record.month == month) & (yesterday >= rule.from_et0) & may
        if rule.position.mean_days >= position.mean_days:
            hot &= daily.minutes > 0
        daily.minutes[hot] = np.maximum(daily.minutes[hot], rule.position.minutes_a_day)
        daily.runs[hot] = np.maximum(daily.runs[hot], rule.position.runs_a_day)


def calendar(record: DailyWeather) -> tuple[Integers, Integers]:
    """Days since the first of the month, and day of the week, Monday 0."""
    firsts = record.days.astype("datetime64[M]").astype("datetime64[D]")
    since = (record.days - firsts).astype(np.intp)
    return np.asarray(since), weekday_of(record.days)


def weekday_of(days: NDArray[np.datetime64]) -> Integers:
    """Day of the week, Monday 0; 1 January 1970 was a Thursday."""
    return np.asarray((days.astype("datetime64[D]").astype(np.intp) + 3) % 7)


def _paused(plan: Programme, record: DailyWeather) -> Flags:
    paused = np.zeros(len(record.days), dtype=bool)
    rain = record.precip[:, None]
    for month, drinks in enumerate(plan.drinks, 1):
        whole = programme.paused_by_rain(rain, drinks, plan.pauses)[:, 0]
        here = record.month == month
        paused[here] = whole[here]
    return paused
