"""First and last frost of the year, from a record."""

import numpy as np
from numpy.typing import NDArray

from euhydra.core.weather import DailyWeather

Floats = NDArray[np.float64]

FROST_C = 0.0
"""Lowest temperature of a night at which wet valves and tender plants are at risk. [°C] Common practice."""

RISK = 0.1
"""Share of years in which frost may still come after the last, or before the first, named. [-]"""

MID_WINTER_SHIFT = 182
"""Days by which the year is turned where winter lies in its middle. [d]"""


def frost_days(record: DailyWeather, below: float, is_southern: bool) -> tuple[float, float] | None:
    """Day of the year of the last frost of spring and of the first of autumn, with `RISK`.

    Parameters
    ----------
    record : At least a year.
    below : Lowest temperature that counts as frost. [°C]
    is_southern : Whether winter lies in the middle of the calendar year.

    Returns
    -------
    Days of the year, 1 to 366, the first such that one year in ten has a later one, the second
    such that one year in ten has an earlier one. None where it hardly ever freezes.
    """
    day = record.day_of_year.astype(int)
    year = record.year.astype(int)
    if is_southern:
        turned = day + MID_WINTER_SHIFT
        year, day = np.where(turned > 366, year + 1, year), (turned - 1) % 366 + 1
    frosty = record.temp_min <= below
    lasts, firsts, years = [], [], 0
    for one in np.unique(year):
        here = year == one
        if here.sum() < 300:
            continue
        years += 1
        spring, autumn = here & (day <= 183) & frosty, here & (day > 183) & frosty
        lasts += [int(day[spring].max())] if spring.any() else []
        firsts += [int(day[autumn].min())] if autumn.any() else []
    if years == 0 or len(firsts) < RISK * years or not lasts:
        return None
    last, first = float(np.quantile(lasts, 1 - RISK)), float(np.quantile(firsts, RISK))
    if is_southern:
        last, first = (
            (last - MID_WINTER_SHIFT - 1) % 366 + 1,
            (first - MID_WINTER_SHIFT - 1) % 366 + 1,
        )
    return last, first
