"""What stands in a bed or a group of pots on each day: coefficient, roots, how new it is."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from euhydra.core import warmth
from euhydra.core.weather import DailyWeather
from euhydra.garden.catalogue import CropKind
from euhydra.garden.drinker import CropFactors, Drinker
from euhydra.garden.model import Garden
from euhydra.garden.plantings import (
    LONGEST_SEASON,
    Planting,
    PlantingDate,
    Start,
    Timekeeping,
    find_crop,
)

Floats = NDArray[np.float64]
Flags = NDArray[np.bool_]

NEW_DAYS = {Start.PLANTED: 14, Start.SOWN: 21}
"""Days for which a crop is watered daily: to root in, or to come up and root. [d] Common
practice: daily for two weeks; seedlings a week more."""


ALL_YEAR = 365
"""Days of a season that never leaves its place. [d]"""


@dataclass(frozen=True)
class Growth:
    """One crop in its place: when, how much of the place, and how.

    share : Of the place. [-]
    """

    crop: CropKind
    planting: PlantingDate
    cleared: PlantingDate | None
    share: float
    started: Start
    timekeeping: Timekeeping


@dataclass(frozen=True)
class Stand:
    """Everything that grows in one place, day by day.

    coefficient : Kc of what stands there, over the part that it covers. [-]
    root_depth : Mean of what stands there. [m]
    depletion_fraction : Of the tenderest of it. [-]
    covered : Share of the place that is planted. [-]
    is_new : Days on which something is rooting in or coming up.
    """

    crops: tuple[CropKind, ...]
    coefficient: Floats
    root_depth: Floats
    depletion_fraction: Floats
    covered: Floats
    is_new: Flags

    @property
    def is_growing(self) -> Flags:
        """Days on which anything grows."""
        return np.asarray(self.covered > 0)


def stand_of(part: Drinker, garden: Garden, record: DailyWeather) -> Stand:
    """What stands in the part through the record.

    Of crops whose seasons meet, the one planted last takes its share first, and those before it
    what it leaves.
    """
    growths = growths_in(part, garden)
    ages = np.array([_age(growth, record) for growth in growths])
    ends = np.array([lasts(growth) for growth in growths])
    alive = ages < ends[:, None]
    shares = _shares([g.share for g in growths], ages, alive)
    covered = shares.sum(axis=0)
    weight = np.divide(shares, covered, out=np.zeros_like(shares), where=covered > 0)
    factors = part.crop_factors
    kc = np.array([_coefficient(g, a, factors) for g, a in zip(growths, ages, strict=True)])
    roots = np.array([g.crop.season.root_depth(a) for g, a in zip(growths, ages, strict=True)])
    fractions = np.array([[g.crop.season.depletion_fraction] for g in growths])
    new = np.array([[NEW_DAYS[g.started]] for g in growths])
    return Stand(
        tuple(dict.fromkeys(g.crop for g in growths)),
        (weight * kc).sum(axis=0),
        (weight * roots).sum(axis=0),
        np.where(alive & (shares > 0), fractions, 1.0).min(axis=0),
        covered,
        np.asarray(((ages < new) & alive & (shares > 0) & _annual(growths)).any(axis=0)),
    )


def growths_in(part: Drinker, garden: Garden) -> list[Growth]:
    """The part's own crop, then the other plantings in it."""
    own = part.own_planting
    crop = find_crop(garden.own_crops, part.crop)
    first = Growth(crop, own.planting, own.cleared, 1.0, own.started, own.timekeeping)
    others = (p for p in garden.plantings if p.bed_id == part.id)
    return [first, *(_growth(p, own.timekeeping, garden) for p in others)]


def _growth(planting: Planting, timekeeping: Timekeeping, garden: Garden) -> Growth:
    return Growth(
        find_crop(garden.own_crops, planting.crop),
        planting.planting,
        planting.cleared,
        planting.share,
        planting.started,
        timekeeping,
    )


def lasts(growth: Growth) -> int:
    """Days from planting to harvest or clearing. [d]"""
    season = growth.crop.season.season_days
    if season >= ALL_YEAR:
        season = LONGEST_SEASON  # of a leap year too
    if growth.cleared is None:
        return season
    return min(season, growth.planting.days_until(growth.cleared))


def _annual(growths: Sequence[Growth]) -> Flags:
    """What stays in its place all year roots in but once, not every spring."""
    return np.array([[g.crop.season.season_days < 270] for g in growths])


def _shares(wanted: Sequence[float], ages: Floats, alive: Flags) -> Floats:
    """Share that each has on each day; the youngest chooses first."""
    order = np.argsort(np.where(alive, ages, np.inf), axis=0, kind="stable")
    asked = np.where(alive, np.array(wanted)[:, None], 0.0)
    sorted_ask = np.take_along_axis(asked, order, axis=0)
    before = np.cumsum(sorted_ask, axis=0) - sorted_ask
    got: Floats = np.clip(1.0 - before, 0.0, sorted_ask)
    shares = np.empty_like(got)
    np.put_along_axis(shares, order, got, axis=0)
    return shares


def _coefficient(growth: Growth, age: Floats, factors: CropFactors) -> Floats:
    season = growth.crop.season
    kc = season.coefficient(age)
    if growth.crop.is_border:
        return np.asarray(kc * factors.border)
    ends = [season.initial, season.initial + season.development]
    return np.asarray(kc * np.interp(age, ends, [factors.young, factors.grown]))


def _age(growth: Growth, record: DailyWeather) -> Floats:
    """Age on each day since the last planting: in days, or as many as its warmth is worth. [d]"""
    age = _days_since(growth.planting, record)
    if growth.timekeeping is Timekeeping.CALENDAR or growth.crop.is_border:
        return age
    warm = warmth.degree_days(record.temp_min, record.temp_max, growth.crop.base_c)
    return warmth.age_by_warmth(age, warm)


def _days_since(planting: PlantingDate, record: DailyWeather) -> Floats:
    # A crop planted on 29 February goes in on 1 March in other years.
    years = range(int(record.year[0]) - 1, int(record.year[-1]) + 1)
    firsts = np.array(
        [f"{year:04}-{planting.month:02}-01" for year in years], dtype="datetime64[D]"
    )
    plantings = firsts + np.timedelta64(planting.day - 1, "D")
    latest = plantings[np.searchsorted(plantings, record.days, side="right") - 1]
    return np.asarray((record.days - latest).astype(np.float64))
