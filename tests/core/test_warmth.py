"""Stages by warmth, textures by the jar, pots by their volume."""

import numpy as np
import pytest
from pytest import approx

from euhydra.core import container, warmth
from euhydra.core.rootzone import Soil
from euhydra.core.texture import CLASSES, texture_class


def test_degree_days_are_the_mean_over_the_base_and_never_negative():
    # McMaster and Wilhelm (1997), method 1, by hand.
    days = warmth.degree_days(np.array([10.0, 2.0]), np.array([24.0, 8.0]), 10.0)
    assert days.tolist() == [7.0, 0.0]


def years_of(warm):
    """Two years, planted on their first day; the second so many times as warm."""
    age = np.tile(np.arange(365.0), 2)
    return age, np.repeat([10.0, 10.0 * warm], 365)


def test_in_a_usual_year_the_calendar_stays():
    age, warm = years_of(1.0)
    assert warmth.age_by_warmth(age, warm) == approx(age, abs=0.01)


def test_a_warm_year_is_ahead_and_a_cold_one_behind():
    age, warm = years_of(1.5)
    found = warmth.age_by_warmth(age, warm)
    usual = 12.5  # the mean of 10 and 15 a day
    assert found[100] == approx(101 * 10 / usual - 1, abs=0.1)
    assert found[365 + 100] == approx(101 * 15 / usual - 1, abs=0.1)


def test_before_the_first_planting_the_calendar_is_kept():
    age = np.r_[np.arange(200.0, 265.0), np.arange(100.0)]
    found = warmth.age_by_warmth(age, np.full(165, 8.0))
    assert found[:65] == approx(age[:65])


@pytest.mark.parametrize(
    ("sand", "silt", "clay", "name"),
    [
        # USDA Soil Survey Manual (2017), ch. 3: middles of the classes on the triangle, from memory.
        (92, 5, 3, "sand"),
        (82, 12, 6, "loamy-sand"),
        (65, 25, 10, "sandy-loam"),
        (40, 40, 20, "loam"),
        (20, 65, 15, "silt-loam"),
        (7, 87, 6, "silt"),
        (60, 13, 27, "sandy-clay-loam"),
        (32, 34, 34, "clay-loam"),
        (10, 56, 34, "silty-clay-loam"),
        (52, 6, 42, "sandy-clay"),
        (6, 47, 47, "silty-clay"),
        (20, 20, 60, "clay"),
    ],
)
def test_texture_classes(sand, silt, clay, name):
    assert texture_class(sand, silt, clay) == name
    assert texture_class(sand / 1000, silt / 1000, clay / 1000) == name  # heights, not shares


def test_every_soil_has_one_of_the_classes():
    rng = np.random.default_rng(1)
    found = {texture_class(*rng.dirichlet((1, 1, 1))) for _ in range(3000)}
    assert found == set(CLASSES)
    with pytest.raises(ValueError, match="not all nothing"):
        texture_class(0, 0, 0)


def test_a_ten_litre_pot():
    # By hand: 10 L of a mix that gives a quarter of its volume hold 2.5 L, 25 mm on 0.1 m².
    assert container.total_available(0.010, Soil(0.45, 0.20), 0.1) == approx(25)
    assert container.soil_volume(np.pi / 4 * 0.09, 0.3) == approx(0.8 * np.pi / 4 * 0.027)
    assert container.share_of_rain(np.pi / 4 * 0.09, np.pi / 4 * 0.36) == approx(0.3 / 4)
    assert container.share_of_rain(0.2, 0.1) == approx(0.3)
