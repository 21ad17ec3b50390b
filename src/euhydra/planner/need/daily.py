"""What a bed or a group of pots asks for, day by day through the record."""

from dataclasses import dataclass, replace
from datetime import date
from functools import cached_property
from weakref import WeakValueDictionary

import numpy as np
from numpy.typing import NDArray

from euhydra.core import container, rootzone, weather
from euhydra.core.constants import LITRES_PER_CUBIC_METRE, MM_PER_M
from euhydra.core.weather import DailyWeather
from euhydra.garden.catalogue import CropKind, SoilTexture
from euhydra.garden.drinker import Container, Drinker
from euhydra.garden.model import Garden
from euhydra.garden.part import Point
from euhydra.garden.pots import Pots
from euhydra.planner.need import growth
from euhydra.planner.need.growth import Stand
from euhydra.planner.need.rising import Rise
from euhydra.planner.same import Asked, by_itself, kept

Floats = NDArray[np.float64]
Flags = NDArray[np.bool_]

TRIFLE = 0.2
"""Depth a day under which nobody would water. [mm d⁻¹] Our choice."""

YOUNG = 28
"""Days for which roots are young once what was planted is no longer new. [d] Common practice: they are
shallow and few for some six weeks in all."""

HOT_DAY = 0.95
"""Share of the days in season that drink less than a hot day. [-] Our choice."""

IN_HEAT = 0.95
"""Share of a month's days in season that ask for less than a day of a heat wave. [-] Our choice."""


@dataclass(frozen=True)
class Need:
    """Crop and soil of a bed or of pots through the record. Daily arrays; depths over its area. [mm]

    area_m2 : Of the bed, or of the pots' leaves. [m²]
    et0 : Reference evapotranspiration.
    place_factor : What shade, wind, place and colour make of it, and what the log has taught. [-]
    rain : Part of the rain that comes to the roots.
    crop_et : ETc without stress; 0 out of season.
    total, ready : TAW and RAW; while something is new, no more than a day's drinking is ready.
    is_growing : Days from planting to the end of harvest.
    is_new : Days on which something is rooting in or coming up.
    net : Watering that just keeps the crop out of stress, after rain.
    wetted : Share of a bed that its lines wet, and in which alone water is held for the roots. [-]
    """

    part: Drinker
    area_m2: float
    crops: tuple[CropKind, ...]
    soil: SoilTexture
    record: DailyWeather
    et0: Floats
    place_factor: float
    rain: Floats
    crop_et: Floats
    total: Floats
    ready: Floats
    is_growing: Flags
    is_new: Flags
    net: Floats
    wetted: float = 1.0

    @property
    def steps(self) -> int:
        """Steps into which a day is cut: pots may dry out within it."""
        return rootzone.STEPS_OF_A_POT if self.part.container else 1

    @cached_property
    def growing_days(self) -> Floats:
        """Days of the season in each month, mean of all years; twelve of them."""
        return self._monthly(self.is_growing) / max(self.record.years, 1e-9)

    @cached_property
    def net_a_day(self) -> Floats:
        """Net watering of a day in season, by month; 0 in months without. [mm d⁻¹]"""
        return self._mean_in_season(self.net)

    @cached_property
    def settled_a_day(self) -> Floats:
        """As `net_a_day`, of days on which nothing is new. [mm d⁻¹]"""
        settled = self.is_growing & ~self.is_new
        days, sums = self._monthly(settled), self._monthly(np.where(settled, self.net, 0.0))
        return np.divide(sums, days, out=np.zeros(12), where=days > 0)

    @cached_property
    def settled_days(self) -> Floats:
        """Days of each month on which it grows and nothing is new, mean of all years. [d]"""
        return self._monthly(self.is_growing & ~self.is_new) / max(self.record.years, 1e-9)

    @cached_property
    def crop_et_a_day(self) -> Floats:
        """ETc of a day in season, by month. [mm d⁻¹]"""
        return self._mean_in_season(self.crop_et)

    @cached_property
    def et0_a_day(self) -> Floats:
        """ET0 of a day in season, by month. [mm d⁻¹]"""
        return self._mean_in_season(self.et0)

    @cached_property
    def ready_by_month(self) -> Floats:
        """Readily available water, mean of the days in season, by month. [mm]"""
        return self._mean_in_season(self.ready)

    @cached_property
    def in_heat(self) -> list[float]:
        """What is drunk on a day of a heat wave, by month; 0 in months without. [mm d⁻¹]"""
        return self._in_heat(self.crop_et)

    @cached_property
    def et0_in_heat(self) -> list[float]:
        """ET0 of a day of a heat wave in season, by month; 0 in months without. [mm d⁻¹]"""
        return self._in_heat(self.et0)

    @property
    def share_of_rain(self) -> float:
        """Share of the rain on its area that comes to the roots. [-]"""
        return _share_of_rain(self.part.container)

    @cached_property
    def young_months(self) -> frozenset[int]:
        """Months in which what is no longer new is still young."""
        days = np.arange(len(self.is_new))
        last_new = np.maximum.accumulate(np.where(self.is_new, days, -YOUNG))
        young = self.is_growing & ~self.is_new & (days - last_new < YOUNG)
        return frozenset(self.record.month[young].tolist())

    def grows_on(self, day: date) -> bool:
        """Whether it grows on such a day of the year."""
        return bool(self._grows_by_day[day.month - 1, day.day - 1])

    def is_new_on(self, day: date) -> bool:
        """Whether it is new on such a day of the year."""
        return bool(self._new_by_day[day.month - 1, day.day - 1])

    @cached_property
    def _grows_by_day(self) -> Flags:
        return self._by_day(self.is_growing)

    @cached_property
    def _new_by_day(self) -> Flags:
        return self._by_day(self.is_new)

    def _by_day(self, flags: Flags) -> Flags:
        """Whether it is so in any year, by month and day of the month; shape (12, 31)."""
        days = self.record.days
        of_month = (days - days.astype("datetime64[M]").astype("datetime64[D]")).astype(int)
        found = np.zeros((12, 31), bool)
        found[self.record.month[flags] - 1, of_month[flags]] = True
        return found

    @property
    def year_litres(self) -> float:
        """Net watering of a mean year. [L a⁻¹]"""
        return float(self.net.sum()) * self.area_m2 / max(self.record.years, 1e-9)

    @property
    def hot_day_litres(self) -> float:
        """Drinking of a hot day. [L d⁻¹]"""
        drinking = self.crop_et[self.is_growing]
        return float(np.quantile(drinking, HOT_DAY)) * self.area_m2 if len(drinking) else 0.0

    def _monthly(self, daily: Floats | Flags) -> Floats:
        return np.bincount(self.record.month - 1, daily, 12).astype(float)

    def _in_heat(self, daily: Floats) -> list[float]:
        by_month = (daily[self.is_growing & (self.record.month == m)] for m in range(1, 13))
        return [float(np.quantile(days, IN_HEAT)) if len(days) else 0.0 for days in by_month]

    def _mean_in_season(self, daily: Floats) -> Floats:
        days = self._monthly(self.is_growing)
        sums = self._monthly(np.where(self.is_growing, daily, 0.0))
        return np.divide(sums, days, out=np.zeros(12), where=days > 0)


ELSEWHERE = {
    "id": "",
    "name": "",
    "at": Point(x_m=0.0, y_m=0.0),
    "ground_m": 0.0,
    "assumed": (),
    "confirmed": (),
}
"""What tells beds apart that drink alike."""

RECORDS_KEPT = 8
"""Records whose ET0 is kept."""

ALIKE_KEPT = 8
"""Sorts of beds and pots whose need is kept until the next that is alike asks for it."""


@dataclass(frozen=True)
class _Ground:
    """What a need follows from: its garden, and the share of it that its lines wet. [-]"""

    part: Drinker
    garden: Garden
    record: DailyWeather
    wetted: float

    def asked(self) -> Asked["_Ground"]:
        """The record by itself, the rest by what it says."""
        garden, part = self.garden, self.part
        others = tuple(p for p in garden.plantings if p.bed_id == part.id)
        figures = part, others, garden.own_crops, garden.place, self.wetted
        return Asked(self, (self.record,), figures)


def need_of(part: Drinker, garden: Garden, record: DailyWeather, wetted: float = 1.0) -> Need:
    """The need through the record: FAO-56 single crop coefficient and root zone.

    Of a bed that is planted in part, depths are those of its plants spread over the whole of it.
    Under lines that wet part of a bed, water is held for the roots in that part of it only.

    Parameters
    ----------
    wetted : Share of a bed that its lines wet; all of it where none is laid yet, or by hand. [-]
    """
    asked = _Ground(part, garden, record, wetted).asked()
    known_by = asked.bare
    return _NEEDS.get(known_by) or _NEEDS.setdefault(known_by, _made(asked))


_NEEDS: WeakValueDictionary[Asked[None], Need] = WeakValueDictionary()
"""Needs that anything still tells of, so that an edit works out anew only what it changes; a need of sixty
years takes a megabyte, and goes with the garden that asked for it."""


def _made(asked: Asked[_Ground]) -> Need:
    """As of every other bed or group of pots that is alike, and stands elsewhere."""
    ground, part = asked.what, asked.what.part
    if any(planting.bed_id == part.id for planting in ground.garden.plantings):
        return _need_of_alike(asked)
    nameless = replace(ground, part=part.model_copy(update=ELSEWHERE))
    return replace(_need_of_alike(nameless.asked()), part=part)


@kept(ALIKE_KEPT)
def _need_of_alike(asked: Asked[_Ground]) -> Need:
    ground = asked.what
    part, garden, record = ground.part, ground.garden, ground.record
    place = garden.place
    et0 = _reference_et(by_itself(record), place.latitude_deg, place.elevation_m)
    stand = growth.stand_of(part, garden, record)
    soil = part.ground
    factor = part.need_factor * part.place_factor
    crop_et = stand.covered * stand.coefficient * factor * et0
    wetted = 1.0 if part.container else ground.wetted
    moist = rootzone.moist_share(wetted, record.precip, crop_et)
    held, reserve = (
        np.minimum(stand.covered, moist) * _held(part, soil, stand),
        stand.covered * _reserve(part.container),
    )
    rain = stand.covered * _share_of_rain(part.container) * record.precip
    if part.hot_day_m3 is not None:
        hot_day = part.hot_day_m3 * LITRES_PER_CUBIC_METRE / part.area_m2
        crop_et = crop_et * _as_measured(hot_day, crop_et, stand.is_growing)
    fraction = rootzone.adjusted_depletion_fraction(stand.depletion_fraction, crop_et)
    reserve = _brought_up(part, reserve, fraction * held, crop_et, stand)
    total, ready = held + reserve, fraction * held + reserve
    ready = np.where(stand.is_new, np.minimum(ready, crop_et), ready)
    net = rootzone.least_irrigation(rain, crop_et, ready, stand.is_growing)
    return Need(
        part,
        part.area_m2,
        stand.crops,
        soil,
        record,
        et0,
        factor,
        rain,
        crop_et,
        total,
        ready,
        stand.is_growing,
        stand.is_new,
        net,
        wetted,
    )


@kept(RECORDS_KEPT)
def _reference_et(asked: Asked[DailyWeather], latitude: float, elevation: float) -> Floats:
    found = weather.reference_et(asked.what, latitude, elevation)
    found.flags.writeable = False  # it is handed out again
    return found


def _held(part: Drinker, soil: SoilTexture, stand: Stand) -> Floats:
    """TAW of each day, over the area that is planted. [mm]"""
    pot = part.container
    if pot is not None:
        volume = container.soil_volume(pot.plan_m2, pot.depth_m)
        held = container.total_available(volume, soil.water, pot.canopy_m2)
        return np.full(len(stand.covered), held)
    depth = part.rooting_depth_m
    roots = stand.root_depth if depth is None else np.minimum(stand.root_depth, depth)
    return soil.water.total_available(roots)


def _reserve(pot: Container | None) -> float:
    """Water under the soil of pots that water themselves. [mm]"""
    return container.reserve_depth(pot.reserve_m3, pot.canopy_m2) if pot else 0.0


def _brought_up(
    part: Drinker, reserve: Floats, ready: Floats, crop_et: Floats, stand: Stand
) -> Floats:
    """What of the water under pots counts for the roots: all, unless wick or mix bring it too slowly. [mm]

    Where they bring a share s of a hot day, the mix is used up while they bring s / (1 - s) of it.

    Parameters
    ----------
    reserve : Under the soil. [mm]
    ready : Of the mix itself. [mm]
    crop_et : [mm d⁻¹]
    """
    if not isinstance(part, Pots) or part.container is None or not (reserve > 0).any():
        return reserve
    drinking = crop_et[stand.is_growing]
    if not len(drinking):
        return reserve
    hot = float(np.quantile(drinking, HOT_DAY)) / MM_PER_M * part.container.canopy_m2
    brings = Rise(part, hot).brings()
    return reserve if brings >= 1 else np.minimum(reserve, brings / (1 - brings) * ready)


def _share_of_rain(pot: Container | None) -> float:
    """Share of the rain on its area that comes to the roots. [-]"""
    return container.share_of_rain(pot.plan_m2, pot.canopy_m2) if pot else 1.0


def _as_measured(hot_day: float, crop_et: Floats, is_growing: Flags) -> float:
    """Factor that brings a hot day to what the owner measured. [mm d⁻¹] to [-]"""
    drinking = crop_et[is_growing]
    hot = float(np.quantile(drinking, HOT_DAY)) if len(drinking) else 0.0
    return hot_day / hot if hot > 0 else 1.0
