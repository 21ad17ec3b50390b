"""Calibration, frost and feed on their own."""

import numpy as np
import pytest
from pytest import approx

from euhydra.core import feeding, frost
from euhydra.core.weather import DailyWeather

SEASON = 120


def winters(is_southern: bool, years: int = 20) -> DailyWeather:
    """Lowest temperatures on a cosine that crosses 0 °C on fixed days, shifted a little by year."""
    days = np.arange("2000-01-01", f"{2000 + years}-01-01", dtype="datetime64[D]")
    record = DailyWeather.of(days, precip=np.zeros(len(days)))
    phase = 196 if not is_southern else 14
    shift = (record.year % 5) - 2  # two days earlier to two days later
    low = 6 + 10 * np.cos(2 * np.pi * (record.day_of_year - shift - phase) / 365.25)
    return DailyWeather.of(days, precip=np.zeros(len(days)), temp_min=low, temp_max=low + 10)


def test_frost_of_one_year_in_ten():
    last, first = frost.frost_days(winters(False), 0.0, False)
    # 6 + 10 cos φ = 0 at φ = ±126.87°, that is 128.7 days from day 196.
    assert last == approx(196 - 128.7 + 2, abs=2)
    assert first == approx(196 + 128.7 - 2, abs=2)
    last, first = frost.frost_days(winters(True), 0.0, True)
    assert last == approx((14 - 128.7 + 2) % 366, abs=3)
    assert first == approx(14 + 128.7 - 2, abs=3)
    mild = winters(False)
    warm = DailyWeather.of(
        mild.days, precip=mild.precip, temp_min=mild.temp_min + 9, temp_max=mild.temp_max + 9
    )
    assert frost.frost_days(warm, 0.0, False) is None


def test_feed_by_can_and_injector():
    assert feeding.into_water(0.2, 0.005).concentrate == approx(0.001)
    dose = feeding.by_injector(0.1, 0.002, 100)  # a litre of stock, with 200 mL of concentrate
    assert (dose.concentrate, dose.stock_water) == (approx(0.0002), approx(0.0008))
    with pytest.raises(ValueError, match="stronger"):
        feeding.by_injector(0.1, 0.02, 100)
