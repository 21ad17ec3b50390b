"""Forecasts of a stated skill for every morning of a record, to prove what mornings are worth."""

from collections.abc import Callable, Sequence

from euhydra.core.foretelling import Foreteller
from euhydra.core.weather import DailyWeather
from euhydra.planner.today.ahead import ForecastDay

Forecaster = Callable[[int], Sequence[ForecastDay]]
"""The coming days as they are foreseen on the morning of a day of the record."""


def forecaster(record: DailyWeather, skill: float) -> Forecaster:
    """Someone who tells rain with so much skill; of warmth the season's odds are kept.

    Parameters
    ----------
    skill : As of a `Foreteller`. [-]
    """
    teller = Foreteller(record, skill)

    def foreseen(day: int) -> list[ForecastDay]:
        return [
            ForecastDay(record.days[day + n].astype(object), told.rain, told.chance)
            for n, told in enumerate(teller.from_day(day))
        ]

    return foreseen
