"""Minutes and interval for one bed and month, in positions that a timer has."""

from dataclasses import dataclass
from math import inf

from euhydra.core.delivery import DrainCurve

MINUTES_PER_HOUR = 60.0

SHORTFALL_WEIGHT = 3.0
"""How much worse too little counts than too much: a plant is lost, water is only spent. [-]
Our own choice."""

EQUAL_WITHIN = 0.05
"""Errors closer than this count as equal, so that the longer interval can win. [-] Our choice."""


@dataclass(frozen=True)
class TimerPositions:
    """What a timer can be set to.

    run_minutes : Rising. [min]
    interval_days : From one run to the next, rising. [d]
    """

    run_minutes: tuple[float, ...]
    interval_days: tuple[float, ...]


@dataclass(frozen=True)
class Setting:
    """One position pair and what it gives.

    run_minutes : [min]
    interval_days : [d]
    litres_a_run : From the level the setting was made for. [L]
    litres_a_day : Mean. [L d⁻¹]
    share_of_need : Mean litres given over litres needed. [-]
    """

    run_minutes: float
    interval_days: float
    litres_a_run: float
    litres_a_day: float
    share_of_need: float


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


def best_setting(
    positions: TimerPositions,
    curve: DrainCurve,
    level: float,
    litres_a_day: float,
    most_days: float,
    most_minutes: float = inf,
) -> Setting:
    """Position pair that comes nearest to the need.

    Intervals longer than the soil lasts are left aside, unless the timer has none shorter.
    Among settings about equally near, the longest interval wins: deep and seldom makes deep
    roots (common practice).

    Parameters
    ----------
    positions : What the timer can be set to.
    curve : Delivery of the line.
    level : Store volume when a run begins. [L]
    litres_a_day : Needed, before losses of the line's uniformity are added. [L d⁻¹]
    most_days : Longest interval the soil allows. [d]
    most_minutes : Longest run that fits the watering window. [min]
    """
    intervals = [d for d in positions.interval_days if d <= most_days]
    runs = [m for m in positions.run_minutes if m <= most_minutes]
    settings = [
        _setting(curve, level, litres_a_day, minutes, days)
        for days in intervals or positions.interval_days[:1]
        for minutes in runs or positions.run_minutes[:1]
    ]
    nearest = min(map(_error, settings))
    good = [s for s in settings if _error(s) <= nearest + EQUAL_WITHIN]
    return max(good, key=lambda s: (s.interval_days, -_error(s)))


def _setting(
    curve: DrainCurve, level: float, litres_a_day: float, minutes: float, days: float
) -> Setting:
    a_run = curve.delivered(level, minutes / MINUTES_PER_HOUR)
    a_day = a_run / days
    return Setting(minutes, days, a_run, a_day, a_day / litres_a_day)


def _error(setting: Setting) -> float:
    off = setting.share_of_need - 1
    return off if off > 0 else -SHORTFALL_WEIGHT * off


def run_hours_on(days_since_set: int, run_minutes: float, interval_days: float) -> float:
    """Hours that the timer runs on one day; several runs of a day are added up. [h]

    Parameters
    ----------
    days_since_set : 0 on the day it was set, when it runs first. [d]
    run_minutes : [min]
    interval_days : Whole days, or a part of one for several runs a day. [d]

    Examples
    --------
    >>> [run_hours_on(day, 30, 2) for day in range(4)]
    [0.5, 0.0, 0.5, 0.0]
    >>> run_hours_on(1, 30, 0.5)
    1.0
    """
    if interval_days < 1:
        return run_minutes / MINUTES_PER_HOUR * round(1 / interval_days)
    return run_minutes / MINUTES_PER_HOUR if days_since_set % round(interval_days) == 0 else 0.0
