"""What the bed asks for, day by day through the record."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from euhydra.core import rootzone, weather
from euhydra.core.weather import DailyWeather
from euhydra.garden import catalogue
from euhydra.garden.beds import Bed
from euhydra.garden.catalogue import CropKind, SoilTexture
from euhydra.garden.model import Place

Floats = NDArray[np.float64]
Flags = NDArray[np.bool_]


@dataclass(frozen=True)
class Need:
    """A bed's crop and soil through the record. Daily arrays; depths over the bed. [mm]

    et0 : Reference evapotranspiration.
    crop_et : ETc without stress; 0 out of season.
    total, ready : TAW and RAW.
    is_growing : Days from planting to the end of harvest.
    net : Watering that just keeps the crop out of stress, after rain.
    """

    bed: Bed
    crop: CropKind
    soil: SoilTexture
    record: DailyWeather
    et0: Floats
    crop_et: Floats
    total: Floats
    ready: Floats
    is_growing: Flags
    net: Floats

    @cached_property
    def growing_days(self) -> Floats:
        """Days of the season in each month, mean of all years; twelve of them."""
        return self._monthly(self.is_growing) / max(self.record.years, 1e-9)

    @cached_property
    def net_a_day(self) -> Floats:
        """Net watering of a day in season, by month; 0 in months without. [mm d⁻¹]"""
        return self._mean_in_season(self.net)

    @cached_property
    def crop_et_a_day(self) -> Floats:
        """ETc of a day in season, by month. [mm d⁻¹]"""
        return self._mean_in_season(self.crop_et)

    @cached_property
    def ready_by_month(self) -> Floats:
        """Readily available water, mean of the days in season, by month. [mm]"""
        return self._mean_in_season(self.ready)

    @property
    def year_litres(self) -> float:
        """Net watering of a mean year. [L a⁻¹]"""
        return float(self.net.sum()) * self.bed.area_m2 / max(self.record.years, 1e-9)

    def _monthly(self, daily: Floats | Flags) -> Floats:
        return np.bincount(self.record.month - 1, daily, 12).astype(float)

    def _mean_in_season(self, daily: Floats) -> Floats:
        days = self._monthly(self.is_growing)
        sums = self._monthly(np.where(self.is_growing, daily, 0.0))
        return np.divide(sums, days, out=np.zeros(12), where=days > 0)


def need_of(bed: Bed, place: Place, record: DailyWeather) -> Need:
    """The bed's need through the record: FAO-56 single crop coefficient and root zone."""
    crop = catalogue.find(catalogue.crops(), bed.crop)
    soil = catalogue.find(catalogue.soils(), bed.soil)
    et0 = weather.reference_et(record, place.latitude_deg, place.elevation_m)
    age = _days_since_planting(record, bed)
    is_growing = age < crop.season.season_days

    crop_et = np.where(is_growing, crop.season.coefficient(age) * et0, 0.0)
    total = soil.water.total_available(crop.season.root_depth(age))
    fraction = rootzone.adjusted_depletion_fraction(crop.season.depletion_fraction, crop_et)
    ready = fraction * total
    net = rootzone.least_irrigation(record.precip, crop_et, ready, is_growing)
    return Need(bed, crop, soil, record, et0, crop_et, total, ready, is_growing, net)


def _days_since_planting(record: DailyWeather, bed: Bed) -> Floats:
    """Age of the crop on each day, counted from the last planting date. [d]"""
    # A crop planted on 29 February goes in on 1 March in other years.
    month = f"{bed.planting.month:02}"
    years = range(int(record.year[0]) - 1, int(record.year[-1]) + 1)
    firsts = np.array([f"{year:04}-{month}-01" for year in years], dtype="datetime64[D]")
    plantings = firsts + np.timedelta64(bed.planting.day - 1, "D")
    latest = plantings[np.searchsorted(plantings, record.days, side="right") - 1]
    return np.asarray((record.days - latest).astype(np.float64))
