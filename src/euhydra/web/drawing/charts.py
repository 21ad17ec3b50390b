"""Series for the charts, in the units they are shown in. The axes are drawn in the browser."""

from dataclasses import dataclass, field
from typing import Any

import numpy as np

from euhydra.core import weather
from euhydra.core.weather import DailyWeather
from euhydra.garden import quantities
from euhydra.garden.model import Garden
from euhydra.garden.quantities import KINDS, System
from euhydra.planner.answers import Gap
from euhydra.planner.chain import Chain
from euhydra.planner.dates import MONTH_NAMES
from euhydra.planner.learning.report import SeasonReport
from euhydra.planner.need.answer import NeedAnswer
from euhydra.planner.season.replay import Season
from euhydra.planner.season.shares import BalanceAnswer
from euhydra.planner.store.answer import GroupAnswer
from euhydra.planner.store.sizing import BAND, SizeCurve
from euhydra.planner.time.answer import TimeAnswer
from euhydra.web.drawing import climates

SOURCE_WORDS = (("rain", "from stores"), ("greywater", "greywater"), ("tap", "tap and well"))
"""Sources of the yearly balance, and how they are called."""

SHORT_MONTHS = [name[:3] for name in MONTH_NAMES]


@dataclass(frozen=True)
class Bars:
    """Two series of twelve months; `need` is drawn as a line over `given`.

    low, high : Band of the single years about `given`; empty where there is none.
    """

    unit: str
    labels: list[str]
    given: list[float]
    need: list[float]
    low: list[float] = field(default_factory=list)
    high: list[float] = field(default_factory=list)

    @property
    def as_json(self) -> dict[str, Any]:
        """For the page."""
        return vars(self)


def catch_chart(chain: Chain, system: System) -> Bars:
    """Litres caught by month, and what the bed asks."""
    assert not isinstance(chain.catch, Gap)
    a_month = np.zeros(12)
    for bed in chain.planted:
        if not isinstance(bed.need, Gap):
            a_month += bed.need.net_a_day * bed.need.growing_days * bed.need.area_m2
    return Bars(
        _unit(system),
        SHORT_MONTHS,
        _shown(chain.catch.by_month, system),
        _shown(a_month, system),
    )


def weather_chart(record: DailyWeather, garden: Garden) -> Bars:
    """Rain of a mean month, and the reference evapotranspiration beside it."""
    et0 = weather.reference_et(record, garden.place.latitude_deg, garden.place.elevation_m)

    def a_month(daily: weather.Floats) -> list[float]:
        sums = np.bincount(record.month - 1, daily, 12) / max(record.years, 1 / 12)
        shown = quantities.from_si(sums / 1000, "rain", garden.units)
        rounded: list[float] = np.round(shown, 2).tolist()
        return rounded

    months = climates.monthly_rain(record)
    known = ~np.isnan(months)
    low, high = (
        [
            float(np.percentile(months[known[:, m], m], p)) if known[:, m].any() else 0.0
            for m in range(12)
        ]
        for p in BAND
    )
    unit = KINDS["rain"].display(garden.units).sign
    return Bars(
        unit,
        SHORT_MONTHS,
        a_month(record.precip),
        a_month(et0),
        *(_rain(np.array(values), garden.units) for values in (low, high)),
    )


def _rain(millimetres: weather.Floats, system: System) -> list[float]:
    shown: list[float] = np.round(
        quantities.from_si(millimetres / 1000, "rain", system), 2
    ).tolist()
    return shown


def season_chart(report: SeasonReport, system: System) -> Bars:
    """Litres given by month of a season, from its first month on, and what the plants took up."""
    months = np.roll(np.arange(12), 1 - report.first.month)
    return Bars(
        _unit(system),
        [SHORT_MONTHS[i] for i in months],
        _shown(np.array(report.given)[months], system),
        _shown(np.array(report.drunk)[months], system),
    )


def time_chart(answer: TimeAnswer, system: System) -> Bars:
    """Litres a day given by the settings, and needed."""
    # A month in which next to nothing grows has no mean day worth a bar.
    whole = [m for m in answer.months if m.choice is None or not m.choice.is_carried]
    given, need = np.zeros(12), np.zeros(12)
    for m in whole:
        given[m.month - 1] = m.setting.litres_a_day if m.setting else 0.0
        need[m.month - 1] = m.need_l_day
    return Bars(f"{_unit(system)} a day", SHORT_MONTHS, _shown(given, system), _shown(need, system))


def need_chart(answer: NeedAnswer, system: System) -> Bars:
    """Litres a day to be given, and those of an inch a week in the season."""
    given = [m.given.amount.value * 1000 if m.given else 0.0 for m in answer.months]
    rule = [m.rule for m in answer.months]
    return Bars(
        f"{_unit(system)} a day",
        SHORT_MONTHS,
        _shown(np.array(given), system),
        _shown(np.array(rule), system),
    )


def years_of(answer: GroupAnswer) -> list[int]:
    """Calendar years of the record."""
    years: list[int] = np.unique(answer.season.record.year).tolist()
    return years


def store_chart(answer: GroupAnswer, system: System) -> dict[str, Any]:
    """The year with most dry days, day by day, and which other years there are."""
    record = answer.season.record
    is_dry = answer.run.is_empty & answer.season.is_growing
    years = years_of(answer)
    worst = max(years, key=lambda year: int(is_dry[record.year == year].sum()))
    return store_year(answer, worst, system) | {"first": years[0], "last": years[-1]}


def store_year(answer: GroupAnswer, year: int, system: System) -> dict[str, Any]:
    """One year of a store: level, rain, water given, need and spill of each day.

    Days before a record begins and after it ends are left out; `start` is the first day's number
    in the year, from 0.
    """
    record, run = answer.season.record, answer.run
    days = record.year == year
    full, dead = _shown(np.array([answer.group.capacity_m3 * 1000, run.dead]), system)
    rain = quantities.from_si(record.precip[days] / 1000, "rain", system)
    return {
        "unit": _unit(system),
        "rainUnit": KINDS["rain"].display(system).sign,
        "year": year,
        "start": int(record.day_of_year[days][0]) - 1,
        "level": _shown(run.level[days], system),
        "given": _shown(run.supplied[days], system),
        "need": _shown(run.demand[days], system),
        "spill": _shown(run.spill[days], system),
        "rain": np.round(rain, 2).tolist(),
        "full": full,
        "dead": dead,
    }


def worst_bed_year(season: Season, bed_id: str, system: System) -> dict[str, Any]:
    """The year in which a bed was too dry for most days, and which other years there are."""
    run = season.beds[_way_of(season, bed_id)]
    years: list[int] = np.unique(season.record.year).tolist()
    worst = max(years, key=lambda y: int(run.is_stressed[season.record.year == y].sum()))
    return bed_year(season, bed_id, worst, system) | {"first": years[0], "last": years[-1]}


def bed_year(season: Season, bed_id: str, year: int, system: System) -> dict[str, Any]:
    """One year of a root zone: water within reach, what came, what was drunk and lost. Depths."""
    way = _way_of(season, bed_id)
    need, run, record = season.ways[way].need, season.beds[way], season.record
    days = record.year == year

    def depth(daily: weather.Floats) -> list[float]:
        return _rain(np.nan_to_num(daily[days]), system)

    growing = need.is_growing[days]
    reach = np.where(growing, need.total[days] - np.nan_to_num(run.depletion[days]), 0.0)
    refill = np.where(growing, need.total[days] - need.ready[days], 0.0)
    unit = KINDS["rain"].display(system).sign
    return {
        "kind": "roots",
        "unit": unit,
        "rainUnit": unit,
        "year": year,
        "start": int(record.day_of_year[days][0]) - 1,
        "level": _rain(reach, system),
        "given": depth(run.watered),
        "need": depth(need.crop_et),
        "spill": depth(run.drained),
        "rain": depth(record.precip),
        "full": max(_rain(need.total, system)) or 1.0,
        "dead": _rain(refill, system),
        "dry": run.is_stressed[days].tolist(),
    }


def _way_of(season: Season, bed_id: str) -> int:
    ids = [way.need.part.id for way in season.ways]
    return ids.index(bed_id) if bed_id in ids else 0


def shares_chart(answer: BalanceAnswer, system: System) -> dict[str, Any]:
    """Litres of every year by source, for stacked bars."""
    names = [name for name, _ in SOURCE_WORDS]
    return {
        "unit": _unit(system),
        "labels": [str(year) for year, _ in answer.by_year],
        "names": [words for _, words in SOURCE_WORDS],
        "parts": [
            _shown(np.array([litres[name] for _, litres in answer.by_year]), system)
            for name in names
        ],
    }


def size_chart(curve: SizeCurve, system: System) -> dict[str, Any]:
    """The size curve for the page: volumes in the garden's units, shares in per cent."""
    return {
        "unit": _unit(system),
        "volume": _shown(curve.volume, system),
        "met": _percent(curve.met),
        "low": _percent(curve.low),
        "high": _percent(curve.high),
        "dryDays": np.round(curve.dry_days, 1).tolist(),
        "spill": _shown(curve.spill, system),
        "knee": curve.knee,
        "present": _shown(np.array([curve.present]), system)[0],
        "price": curve.price / float(quantities.from_si(0.001, "volume", system))
        if curve.price is not None
        else None,
    }


def _percent(shares: weather.Floats) -> list[float]:
    rounded: list[float] = np.round(shares * 100, 1).tolist()
    return rounded


def _unit(system: System) -> str:
    return KINDS["volume"].display(system).sign


def _shown(litres: weather.Floats, system: System) -> list[float]:
    shown: list[float] = np.round(quantities.from_si(litres / 1000, "volume", system), 2).tolist()
    return shown
