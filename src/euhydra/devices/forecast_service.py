"""A stand-in for a weather service: it tells a week of the place's own climate, with error."""

from collections.abc import Sequence
from datetime import date, timedelta

import numpy as np

from euhydra.core.foretelling import Foreteller
from euhydra.core.weather import DailyWeather
from euhydra.devices.protocols import DayAhead, DeviceError

SKILL = 0.7
"""Share of first days that are told right. [-] From memory of what services reach."""


class ForecastStandIn:
    """It takes this year to go like one of the record's, always the same for the same year."""

    def __init__(self, record: DailyWeather) -> None:
        self._record = record
        self._teller = Foreteller(record, SKILL)

    def days_from(self, today: date) -> Sequence[DayAhead]:
        """The coming seven days.

        Raises
        ------
        DeviceError : where the record has no such days.
        """
        years = np.unique(self._record.year)
        year = int(np.random.default_rng(today.year).choice(years))
        here = min(today.timetuple().tm_yday, 365)
        found = np.flatnonzero((self._record.year == year) & (self._record.day_of_year == here))
        if not len(found):
            raise DeviceError("The forecast does not answer: the weather has no such day.")
        return [
            DayAhead(today + timedelta(days=n), *told)
            for n, told in enumerate(self._teller.from_day(int(found[0])))
        ]
