"""Forecasts of a stated skill, made from a record with error: a stand-in for a service, to try plans with."""

from collections.abc import Callable, Sequence

import numpy as np

from euhydra.core.weather import MONTHS, DailyWeather
from euhydra.planner.today.ahead import DAYS, WET_MM, ForecastDay

Forecaster = Callable[[int], Sequence[ForecastDay]]
"""The coming days as they are foreseen on the morning of a day of the record."""

FADES = 0.9
"""Skill of a day over that of the day before it. [-] Our choice: a week ahead it is half of tomorrow's."""

SEED = 20010610
"""Of its errors: the same record is foreseen alike."""


def forecaster(record: DailyWeather, skill: float) -> Forecaster:
    """Someone who tells what will be with so much skill, and else what might be in that month.

    Their chance of rain is as often right as it says.

    Parameters
    ----------
    skill : Share of first days that are told as they will be; 0 knows the month alone. [-]
    """
    same_month = [np.flatnonzero(record.month == month) for month in range(1, MONTHS + 1)]
    is_wet = record.precip >= WET_MM
    usual = [float(is_wet[days].mean()) if len(days) else 0.0 for days in same_month]
    mean = [
        float(record.precip[days][is_wet[days]].mean()) if is_wet[days].any() else 0.0
        for days in same_month
    ]

    def foreseen(day: int) -> list[ForecastDay]:
        chance = np.random.default_rng([SEED, day])
        found = []
        for n in range(min(DAYS, len(record.days) - day)):
            month = int(record.month[day + n]) - 1
            knows = skill * FADES**n
            is_right = bool(chance.random() < knows)
            told = day + n if is_right else int(chance.choice(same_month[month]))
            odds = knows * is_wet[told] + (1 - knows) * usual[month]
            rain = float(record.precip[told]) if is_wet[told] else mean[month]
            found.append(ForecastDay(record.days[day + n].astype(object), rain, float(odds)))
        return found

    return foreseen
