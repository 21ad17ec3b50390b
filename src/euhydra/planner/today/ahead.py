"""The days ahead: as they are in many years like the record's, and as a forecast has them."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from euhydra.core import weather
from euhydra.core.foretelling import DAYS, WET_MM
from euhydra.core.weather import DailyWeather
from euhydra.garden.sentences import Amount, say
from euhydra.planner.answers import PlanError
from euhydra.planner.need.daily import Need

Floats = NDArray[np.float64]
Integers = NDArray[np.intp]

SEED = 19990704
"""Of which years the rain of a forecast falls in, so that the same morning gives the same advice."""

LANES = 60
"""Years that are looked ahead on. Our choice."""

AROUND_D = 3
"""Days before and after the day of the year whose weather may come as well. [d] Our choice."""

MOST_RAIN = 500.0
"""Of a day of a forecast. [mm] More fell on few days anywhere, from memory."""


@dataclass(frozen=True)
class ForecastDay:
    """One day as it is foreseen.

    rain : If it rains; None where only its warmth is told. [mm]
    chance : That it does. [-]
    lowest, highest : None where they are not told. [°C]
    """

    day: date
    rain: float | None
    chance: float = 1.0
    lowest: float | None = None
    highest: float | None = None

    def __post_init__(self) -> None:
        if not (0 <= (self.rain or 0.0) <= MOST_RAIN and 0 <= self.chance <= 1):
            raise PlanError(
                say(
                    "today-no-such-rain",
                    "{day}: rain goes from nothing to {most}, with a chance from 0 to 1.",
                    day=self.day.isoformat(),
                    most=Amount.millimetres(MOST_RAIN),
                )
            )


@dataclass(frozen=True)
class Ahead:
    """The coming days, a lane a year that is looked ahead on. Arrays are [day, year].

    index : Days of the record of those years.
    rain : As foreseen; NaN where the year's own counts. [mm]
    warmth : What is drunk, of what was drunk on that day of the year's own. [-]
    """

    today: date
    index: Integers
    rain: Floats
    warmth: Floats

    def rain_of(self, need: Need) -> Floats:
        """What comes to the roots of a bed. [mm]"""
        own = need.rain[self.index]
        return np.where(np.isnan(self.rain), own, self.rain * need.share_of_rain)

    def drunk_by(self, need: Need) -> Floats:
        """What its crop would drink. [mm]"""
        return np.asarray(need.crop_et[self.index] * self.warmth)

    @cached_property
    def is_foreseen(self) -> bool:
        """Whether a forecast tells of any of these days."""
        return not bool(np.isnan(self.rain).all())


def ahead_of(
    record: DailyWeather,
    latitude: float,
    today: date,
    forecast: Sequence[ForecastDay] = (),
    was_wet: bool | None = None,
) -> Ahead:
    """The days from one on.

    Parameters
    ----------
    record : Of the years that are looked ahead on.
    latitude : [°]
    forecast : Of any days; those that are past, or further away, are left out.
    was_wet : Whether it rained yesterday, for wet days come in rows; None where that is not known.

    Raises
    ------
    PlanError : if the record has no such days, or the forecast is all of days that are over.
    """
    around = _windows(record, today)
    index = _after(record, around, was_wet)
    rain, warmth = np.full(index.shape, np.nan), np.ones(index.shape)
    told = {each.day: each for each in forecast}
    if told and max(told) < today:
        raise PlanError(
            say(
                "today-forecast-is-old",
                "The forecast ends on {day}, before this morning: bring a newer one, or none.",
                day=max(told).isoformat(),
            )
        )
    for n in range(DAYS):
        day = told.get(today + timedelta(days=n))
        if day is not None:
            if day.rain is not None:
                own = record.precip[index[n]]
                usual = float((record.precip[around[n]] >= WET_MM).mean())
                rain[n] = _as_foreseen(own, day.rain, day.chance, usual, SEED + n)
            warmth[n] = _warmth(record, latitude, index[n], day)
    return Ahead(today, index, rain, warmth)


def _windows(record: DailyWeather, today: date) -> Integers:
    """Positions of the days from about this day of the year on, [day, year]."""
    shifts = range(-AROUND_D, AROUND_D + 1)
    around = [min((today + timedelta(days=n)).timetuple().tm_yday, 365) for n in shifts]
    firsts = np.flatnonzero(np.isin(record.day_of_year, around))
    firsts = firsts[(firsts > 0) & (firsts + DAYS <= len(record.days))]
    if not len(firsts):
        raise PlanError(
            say(
                "today-no-such-days",
                "The weather has no such days of any year: bring a whole year.",
            )
        )
    return np.asarray(firsts[None, :] + np.arange(DAYS)[:, None])


def _after(record: DailyWeather, windows: Integers, was_wet: bool | None) -> Integers:
    """Those after a day as wet or dry as yesterday was, a lane each."""
    if was_wet is not None:
        alike = windows[:, (record.precip[windows[0] - 1] >= WET_MM) == was_wet]
        windows = alike if alike.size else windows
    if windows.shape[1] > LANES:
        taken = np.sort(np.random.default_rng(SEED).permutation(windows.shape[1])[:LANES])
        windows = windows[:, taken]
    return windows


def _as_foreseen(own: Floats, rain_mm: float, chance: float, usual: float, seed: int) -> Floats:
    """Rain of a day in each year: in about as many as the chance says, on the mean about as much as is told. [mm]

    A chance near the usual one tells little of that day: so far as it tells nothing, years and what falls in
    them stay as they are after a day like yesterday. It falls first in years that were wet that day, and
    there more where more fell: rows of dry days stay as long as they are. So a forecast that knows nothing
    changes next to nothing.

    Parameters
    ----------
    own : Of each year that is looked ahead on. [mm]
    rain_mm : If it rains. [mm]
    chance, usual : That it does, as told and at that time of the year. [-]
    """
    lot = np.random.default_rng(seed).permutation(len(own))
    is_dry = own < WET_MM
    told = (chance - usual) / (1 - usual) if chance > usual else 1 - chance / max(usual, 1e-9)
    share = min(max(chance + (1 - told) * (float((~is_dry).mean()) - usual), 0.0), 1.0)
    falls = np.lexsort((lot, is_dry))[: round(share * len(own))]
    rain = np.zeros_like(own)
    wet = falls[~is_dry[falls]]
    mean = float(own[wet].mean()) if len(wet) else rain_mm
    rain[falls] = told * rain_mm + (1 - told) * mean
    rain[wet] *= own[wet] / mean
    return np.minimum(rain, MOST_RAIN)


def _warmth(record: DailyWeather, latitude: float, at: Integers, day: ForecastDay) -> Floats:
    """ET0 of the forecast's temperatures over that of the year's own, by Hargreaves and Samani. [-]"""
    if day.lowest is None or day.highest is None:
        return np.ones(len(at))
    own = weather.hargreaves(record, latitude)[at]
    days = record.days[at]
    foreseen = DailyWeather.of(
        days,
        temp_min=np.full(len(at), min(day.lowest, day.highest)),
        temp_max=np.full(len(at), max(day.lowest, day.highest)),
    )
    ratio = weather.hargreaves(foreseen, latitude) / np.maximum(own, 0.1)
    return np.asarray(np.clip(ratio, 0.2, 3.0))
