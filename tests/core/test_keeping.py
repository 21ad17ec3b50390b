"""Calibration, frost and feed on their own."""

import numpy as np
import pytest
from pytest import approx

from euhydra.core import bed, calibration, feeding, frost
from euhydra.core.bed import BedInputs
from euhydra.core.calibration import SoilTest
from euhydra.core.weather import DailyWeather

SEASON = 120


@pytest.mark.parametrize("true", [0.7, 1.0, 1.25])
def test_a_factor_is_found_again_in_noise(true):
    """Forty simulated logs, each of twelve noisy measurements: the range of 19 in 20 holds the
    truth in at least nine of ten, and the mean of all lies on it but for the pull of the prior.
    """
    rng = np.random.default_rng(7)
    found = []
    for _ in range(40):
        predicted = rng.uniform(20, 80, 12)
        measured = true * predicted + rng.normal(0, 5, 12)
        found.append(calibration.factor(predicted, measured, 0.1, 0.25))
    assert np.mean([e.value for e in found]) == approx(true, abs=0.02)
    assert np.mean([e.low <= true <= e.high for e in found]) >= 0.9


def test_newer_measurements_count_more():
    predicted = np.full(8, 10.0)
    measured = np.r_[np.full(4, 10.0), np.full(4, 7.0)]  # clogged since
    ages = np.r_[np.full(4, 240.0), np.full(4, 0.0)]
    plain = calibration.factor(predicted, measured, 0.1, 0.25)
    newer = calibration.factor(predicted, measured, 0.1, 0.25, calibration.weights_of(ages))
    assert plain.value == approx(0.85, abs=0.02)
    assert newer.value == approx(0.72, abs=0.02)
    assert calibration.weights_of(np.array([0.0, calibration.HALF_LIFE])).tolist() == [1.0, 0.5]


def test_without_measurements_the_plan_stands():
    none = calibration.factor(np.array([]), np.array([]), 0.1, 0.25)
    assert (none.value, none.deviation, none.count, none.differs) == (1.0, 0.25, 0, False)
    one = calibration.factor(np.array([10.0]), np.array([5.0]), 0.1, 0.25)
    assert 0.5 < one.value < 1.0  # a single bucket does not turn the plan round


def bed_of(thirst: float, seed: int) -> tuple:
    """A bed watered every third day, and what its fingers say were it so many times as thirsty."""
    rng = np.random.default_rng(seed)
    rain = np.where(rng.random(SEASON) < 0.2, rng.exponential(5.0, SEASON), 0.0)
    given = np.where(np.arange(SEASON) % 3 == 0, 12.0, 0.0)

    def gone(factor):
        inputs = BedInputs(
            1.0,
            rain,
            np.full(SEASON, 4.0 * factor),
            np.full(SEASON, 60.0),
            np.full(SEASON, 24.0),
            np.ones(SEASON, dtype=bool),
            np.full(SEASON, 0.9),
            np.ones(SEASON, dtype=np.intp),
        )
        return bed.run_bed(inputs, given).depletion / inputs.ready

    truth = gone(thirst)
    tests = []
    for day in range(10, SEASON, 3):
        share = truth[day] + rng.normal(0, 0.1)
        said = "dry" if share > 1 else "muddy" if share < 0.1 else "right"
        if rng.random() < 0.05:
            said = str(rng.choice(["dry", "right", "muddy"]))
        tests.append(SoilTest(day, said))
    return np.array([gone(f) for f in calibration.GRID]), tests


@pytest.mark.parametrize("thirst", [0.8, 1.0, 1.3])
def test_thirst_is_found_again_from_fingers(thirst):
    found = [calibration.thirst_factor(*bed_of(thirst, seed)) for seed in range(8)]
    assert np.mean([e.value for e in found]) == approx(thirst, abs=0.08)
    assert sum(e.value - 3 * e.deviation <= thirst <= e.value + 3 * e.deviation for e in found) >= 7


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
