"""Public daily records that ship with AquaCrop's package, for what is to hold in weather that nobody made up."""

from functools import cache

import numpy as np

import fao56
from euhydra.core.weather import DailyWeather

PLACES = {"brussels": 50.8, "tunis": 36.8, "champion": 41.4}
"""Latitude of each. [°]"""


@cache
def halves(place: str) -> tuple[DailyWeather, DailyWeather]:
    """A public daily record that ships with AquaCrop's package: its first years, and its last."""
    table = np.loadtxt(fao56.climate_file(place), skiprows=1)
    days = np.array(
        [f"{year:04.0f}-{month:02.0f}-{day:02.0f}" for day, month, year in table[:, :3]],
        dtype="datetime64[D]",
    )
    low, high = np.sort(table[:, 3:5], axis=1).T
    years = table[:, 2]
    middle = years[0] + (years[-1] - years[0]) // 2
    return tuple(
        DailyWeather.of(days[part], precip=table[part, 5], temp_min=low[part], temp_max=high[part])
        for part in (years <= middle, years > middle)
    )
