"""What a mean year of the garden's weather brings, in one sentence: how wet, how hot."""

import numpy as np

from euhydra.core.constants import MM_PER_M
from euhydra.core.weather import DailyWeather
from euhydra.garden import normals
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.dates import MONTH_NAMES

LEAST_YEARS = 0.99
"""Of a record, for a mean year to be told of it."""


def told_of(record: DailyWeather) -> Sentence | None:
    """Rain of a mean year, its driest and wettest month, and the hottest day; None where a month is not told of."""
    days = np.bincount(record.month - 1, minlength=12)
    if record.years < LEAST_YEARS or not days.all():
        return None
    depth = np.bincount(record.month - 1, record.precip, 12) / days
    values: dict[str, Amount | str] = {
        "rain": Amount(float(record.precip.sum()) / record.years / MM_PER_M, "rain"),
        "driest": MONTH_NAMES[int(depth.argmin())],
        "wettest": MONTH_NAMES[int(depth.argmax())],
        "hottest": Amount(normals.hottest_of(record), "temperature"),
    }
    return say(
        "weather-mean-year",
        "{rain} of rain in a mean year, least in {driest} and most in {wettest}; its hottest day reaches {hottest}.",
        **values,
    )
