"""A forecast in a few words: none, some or much rain; hot, mild or frost."""

from collections.abc import Mapping
from datetime import date, timedelta

import numpy as np

from euhydra.core.foretelling import DAYS
from euhydra.core.weather import DailyWeather
from euhydra.planner.today.ahead import ForecastDay

RAIN_MM = {"none": 0.0, "some": 5.0, "much": 20.0}
"""What is meant by some and by much. [mm d⁻¹] Our choice: a shower, and rain that wets a bed through."""

NEXT_D = 2
"""Days of the first question; the second is of the rest of the week."""

AROUND_D = 10
"""Days before and after the day of the year whose temperatures tell what is hot or mild then. [d]"""

WARMTH = {"hot": 0.95, "mild": 0.5}
"""Share of such days that are cooler. [-] Our choice."""

FROST = (-2.0, 6.0)
"""Lowest and highest of a day with frost. [°C] Our choice."""


def forecast_of(words: Mapping[str, str], record: DailyWeather, today: date) -> list[ForecastDay]:
    """The coming days as they were told in words; those of which nothing was told are left out.

    Parameters
    ----------
    words : `soon` and `later`: rain of the next days and of those after; `warmth` of all of them.
    """
    temperatures = _temperatures(words.get("warmth", ""), record, today)
    found = []
    for n in range(DAYS):
        rain = RAIN_MM.get(words.get("soon" if n < NEXT_D else "later", ""))
        if rain is not None or temperatures[0] is not None:
            found.append(ForecastDay(today + timedelta(days=n), rain, 1.0, *temperatures))
    return found


def _temperatures(
    word: str, record: DailyWeather, today: date
) -> tuple[float, float] | tuple[None, None]:
    if word == "frost":
        return FROST
    if word not in WARMTH:
        return None, None
    off = np.abs(record.day_of_year - today.timetuple().tm_yday)
    near = np.minimum(off, 365 - off) <= AROUND_D
    low, high = (
        float(np.quantile(each[near], WARMTH[word])) for each in (record.temp_min, record.temp_max)
    )
    return low, high
