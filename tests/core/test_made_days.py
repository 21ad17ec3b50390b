"""Made-up weather beside real records: its heat, its spells, its years."""

import dataclasses
from functools import cache

import numpy as np
import pytest
from pytest import approx

import fao56
from euhydra.core import evapotranspiration, radiation, swings
from euhydra.core.climate import (
    MONTH_LENGTH,
    WET_DAY,
    MonthlyNormals,
    climate_of_normals,
    through,
    wet_share,
    with_odds,
)
from euhydra.core.climate_fit import climate_of_record
from euhydra.core.made_days import generate
from euhydra.core.weather import DailyWeather
from euhydra.garden import climate_kinds
from sweeps import swept

PLACES = {"brussels": 50.8, "tunis": 36.8, "champion": 41.4}
"""Public daily records that ship with AquaCrop's package, and their latitudes."""

YEARS = 300
"""Years made up: as many as chance has to be small in beside 15 %."""


@cache
def record(place: str) -> DailyWeather:
    table = np.loadtxt(fao56.climate_file(place), skiprows=1)
    days = np.array(
        [f"{year:04.0f}-{month:02.0f}-{day:02.0f}" for day, month, year in table[:, :3]],
        dtype="datetime64[D]",
    )
    low, high = np.sort(table[:, 3:5], axis=1).T
    return DailyWeather.of(days, precip=table[:, 5], temp_min=low, temp_max=high)


@cache
def made_like(place: str) -> DailyWeather:
    kind = climate_kinds.kind_of_record(record(place)).swings
    fitted = climate_of_record(record(place), kind)
    return generate(fitted, 2001, YEARS, np.random.default_rng(1))


def thirst(weather: DailyWeather, latitude: float) -> np.ndarray:
    above = radiation.extraterrestrial_radiation(latitude, weather.day_of_year.astype(float))
    return evapotranspiration.hargreaves_samani(weather.temp_max, weather.temp_min, above)


def longest(flags: np.ndarray) -> int:
    ends = np.flatnonzero(np.diff(np.r_[0, flags.astype(int), 0]))
    return int((ends[1::2] - ends[::2]).max(initial=0))


def figures(weather: DailyWeather, latitude: float) -> dict[str, float]:
    """What watering lives on: hot days, hot seasons, dry spells, dry years."""
    et0, year, month = thirst(weather, latitude), weather.year, weather.month
    days = [year == y for y in np.unique(year) if (year == y).sum() >= 365]
    july = et0[month == 7]
    grows, spells = (month >= 5) & (month <= 9), (month >= 4) & (month <= 9)
    dry = weather.precip < WET_DAY
    seasons = [et0[grows & own].sum() for own in days]
    rain = np.array([weather.precip[own].sum() for own in days])
    return {
        "spread of July's days": float(july.std()),
        "hot day over mean": float(np.quantile(july, 0.95) / july.mean()),
        "spread of seasons": float(np.std(seasons)),
        "longest dry spell": float(np.mean([longest(dry[spells & own]) for own in days])),
        "spread of a year's rain": float(rain.std() / rain.mean()),
        "wet days": float(365.25 * (~dry).mean()),
    }


@pytest.mark.parametrize("place", swept(PLACES, ["champion"]))
def test_made_up_weather_swings_as_the_record_does(place):
    real = figures(record(place), PLACES[place])
    made = figures(made_like(place), PLACES[place])
    assert made == approx(real, rel=0.15)


@pytest.mark.parametrize("place", swept(PLACES, ["champion"]))
def test_its_months_have_the_records_means(place):
    real, made = record(place), made_like(place)
    for month in range(1, 13):
        here, there = real.month == month, made.month == month
        assert made.precip[there].mean() == approx(real.precip[here].mean(), rel=0.02)
        for name in ("temp_min", "temp_max"):
            mean = getattr(real, name)[here].mean()
            assert getattr(made, name)[there].mean() == approx(mean, abs=0.3)
    assert (made.temp_min < made.temp_max).all()


@pytest.mark.parametrize("place", swept(PLACES, ["champion"]))
def test_twelve_months_alone_swing_about_as_a_record_of_such_a_climate(place):
    # What the months do not say comes from the kind of climate that they look like.
    real = record(place)
    month = real.month - 1
    days = np.bincount(month)
    rain, low, high = (
        np.bincount(month, series) / days for series in (real.precip, real.temp_min, real.temp_max)
    )
    wet = np.bincount(month, real.precip >= WET_DAY) / days * MONTH_LENGTH
    normals = MonthlyNormals(rain * MONTH_LENGTH, low, high, wet)
    kind = climate_kinds.kind_of_months(normals.precip, (low + high) / 2)
    usual = climate_of_normals(normals, kind.swings)
    made = figures(generate(usual, 2001, YEARS, np.random.default_rng(2)), PLACES[place])
    assert made == approx(figures(real, PLACES[place]), rel=0.25)


def test_a_short_record_is_lent_what_lasts():
    short = record("brussels")
    few = DailyWeather.of(
        short.days[:1500],
        **{n: getattr(short, n)[:1500] for n in ("precip", "temp_min", "temp_max")},
    )
    kind = climate_kinds.climate_kinds()["continental"].swings
    assert climate_of_record(few, kind).memory == kind.memory


def test_a_desert_has_no_rain_and_is_fitted_all_the_same():
    real = record("tunis")
    dry = DailyWeather.of(
        real.days, precip=np.zeros(len(real.days)), temp_min=real.temp_min, temp_max=real.temp_max
    )
    kind = climate_kinds.kind_of_record(dry).swings
    made = generate(climate_of_record(dry, kind), 2001, 20, np.random.default_rng(3))
    assert made.precip.sum() == 0
    assert np.isfinite(made.temp_min).all()
    assert made.temp_max.std() == approx(real.temp_max.std(), rel=0.1)


def test_days_between_the_middles_of_months_keep_the_months_means():
    calendar = DailyWeather.of(np.arange("2001-01-01", "2005-01-01", dtype="datetime64[D]"))
    monthly = np.array([3, 4, 7, 10, 14, 17, 19, 19, 15, 11, 6, 4.0])
    days = through(monthly, calendar)
    means = np.bincount(calendar.month - 1, days) / np.bincount(calendar.month - 1)
    assert means == approx(monthly, abs=0.05)


def test_wet_days_in_the_long_run_are_those_of_the_chain():
    after = np.array([[0.2], [0.3], [0.6]])
    # By hand: first dry days 0.4 of the wet ones, later ones 0.28/0.2 of those.
    assert wet_share(after)[0] == approx(1 / (1 + 0.4 + 0.4 * 0.7 / 0.2))
    assert with_odds(np.array([0.5]), 3.0) == approx([0.75])
    assert with_odds(np.array([0.0, 1.0]), 3.0) == approx([0.0, 1.0])


def test_a_remembering_series_keeps_its_variance_and_the_means_of_its_days_spread_so():
    series = swings.remembering(0.9, np.random.default_rng(4).standard_normal(200_000))
    assert series.var() == approx(1.0, rel=0.05)
    assert np.mean(series[1:] * series[:-1]) == approx(0.9, abs=0.02)
    means = series.reshape(-1, 20).mean(axis=1)
    assert means.var() == approx(swings.variance_of_mean(0.9, 20), rel=0.05)


@pytest.mark.parametrize("kind", climate_kinds.climate_kinds().values(), ids=lambda k: k.id)
def test_every_kind_of_climate_is_one_that_can_be(kind):
    lasting = kind.swings.memory.lasting
    assert np.linalg.eigvalsh(lasting.covariance).min() > -0.03  # made as near as can be
    assert 0 < kind.swings.memory.warmth < 1
    for pair in dataclasses.astuple(kind.swings)[2:7]:
        assert all(value > 0 for value in pair)
