"""Forecasts of a stated skill, made from a record with error: what services tell, to try plans with."""

from typing import NamedTuple

import numpy as np

from euhydra.core.weather import MONTHS, DailyWeather

DAYS = 7
"""Days that a forecast tells of. [d]"""

WET_MM = 1.0
"""Rain from which on a day is wet. [mm] Common practice."""

FADES = 0.9
"""Skill of a day over that of the day before it. [-] Our choice: a week ahead it is half of tomorrow's."""

SEED = 20010610
"""Of its errors: the same record is foreseen alike."""


class Foretold(NamedTuple):
    """A day as it is foreseen.

    rain : If it rains. [mm]
    chance : That it does. [-]
    lowest, highest : [°C]
    """

    rain: float
    chance: float
    lowest: float
    highest: float


class Foreteller:
    """Someone who tells what will be with some skill, and else what might be in that month.

    Its chances of rain are as often right as they say.
    """

    def __init__(self, record: DailyWeather, skill: float) -> None:
        """Of one record.

        Parameters
        ----------
        skill : Share of first days that are told as they will be; 0 knows the month alone. [-]
        """
        self.record, self.skill = record, skill
        self._is_wet = record.precip >= WET_MM
        self._same = [np.flatnonzero(record.month == month) for month in range(1, MONTHS + 1)]
        wet = [days[self._is_wet[days]] for days in self._same]
        self._usual = [
            len(rainy) / max(len(days), 1) for rainy, days in zip(wet, self._same, strict=True)
        ]
        self._mean = [float(record.precip[days].mean()) if len(days) else 0.0 for days in wet]

    def from_day(self, day: int) -> list[Foretold]:
        """The coming days as they are foreseen on the morning of a day of the record."""
        record = self.record
        chance = np.random.default_rng([SEED, day])
        found = []
        for n in range(min(DAYS, len(record.days) - day)):
            month = int(record.month[day + n]) - 1
            knows = self.skill * FADES**n
            is_right = bool(chance.random() < knows)
            told = day + n if is_right else int(chance.choice(self._same[month]))
            is_wet = bool(self._is_wet[told])
            odds = knows * is_wet + (1 - knows) * self._usual[month]
            rain = float(record.precip[told]) if is_wet else self._mean[month]
            found.append(
                Foretold(rain, odds, float(record.temp_min[told]), float(record.temp_max[told]))
            )
        return found
