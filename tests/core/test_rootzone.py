import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from pytest import approx

from euhydra.core import rootzone
from euhydra.core.crop import Crop
from euhydra.core.rootzone import Soil


def test_available_water_of_the_tomato_example():
    # FAO-56 example 37: silt, θFC 0.32, θWP 0.12, Zr 0.8 m, p 0.40: TAW 160 mm, RAW 64 mm.
    # From memory; the arithmetic is eq. 82 and 83.
    total = Soil(0.32, 0.12).total_available(np.array([0.8]))[0]
    assert total == approx(160)
    assert 0.40 * total == approx(64)


def test_stress_starts_where_ready_water_ends():
    # FAO-56 eq. 84 with the same soil: Ks at Dr 112 mm is (160 − 112) / (160 − 64) = 0.5.
    assert rootzone.stress_coefficient(64, 160, 64) == 1
    assert rootzone.stress_coefficient(112, 160, 64) == approx(0.5)
    assert rootzone.stress_coefficient(160, 160, 64) == 0


def test_depletion_fraction_is_adjusted_as_the_table_notes():
    # FAO-56 table 22, footnote: p + 0.04 (5 − ETc), within 0.1 and 0.8.
    found = rootzone.adjusted_depletion_fraction(0.4, np.array([5.0, 3.0, 20.0]))
    assert found == approx([0.4, 0.48, 0.1])


amounts = st.floats(0, 60)


@given(st.lists(st.tuples(amounts, amounts, st.floats(0, 12)), min_size=1, max_size=50))
def test_a_day_neither_makes_nor_loses_water(record):
    depletion = 0.0
    for rain, watering, crop_et in record:
        before = depletion
        day = rootzone.advance(before, rain, watering, crop_et, 60.0, 25.0)
        depletion = day.depletion
        assert rain + watering - day.transpired - day.drained == approx(
            before - depletion, abs=1e-9
        )
        assert -1e-9 <= depletion <= 60 + 1e-9


def test_least_irrigation_keeps_the_crop_out_of_stress():
    rng = np.random.default_rng(3)
    rain = np.where(rng.random(120) < 0.1, rng.gamma(1, 12, 120), 0.0)
    crop_et, ready = np.full(120, 5.0), np.full(120, 20.0)
    growing = np.ones(120, bool)
    given_mm = rootzone.least_irrigation(rain, crop_et, ready, growing)
    depletion = 0.0
    for fell, watered in zip(rain, given_mm, strict=True):
        day = rootzone.advance(depletion, fell, watered, 5.0, 50.0, 20.0)
        assert day.transpired == approx(5.0)
        depletion = day.depletion
    # In a dry spell it comes to what the crop drinks.
    dry = rootzone.least_irrigation(np.zeros(120), crop_et, ready, growing)
    assert dry[30:].mean() == approx(5.0)


def test_what_a_watering_is_too_small_for_is_lacking_at_the_next():
    # By the balance: 5 mm drunk a day; 0, 0, then 8 mm at most, and at last as much as it takes.
    days = np.ones(6)
    most = np.array([0.0, 0.0, 8.0, 8.0, 8.0, np.inf])
    given = rootzone.refill_on(0 * days, 5 * days, 60 * days, days > 0, most)
    assert given == approx([0, 0, 8, 8, 8, 6])
    assert given.sum() == approx(5 * 6)


def test_crop_coefficient_over_the_stages():
    # FAO-56 eq. 66 and figure 25 in manner: level, straight up, level, straight down.
    crop = Crop(20, 30, 40, 20, 0.6, 1.15, 0.8, 0.15, 0.7, 0.4)
    kc = crop.coefficient(np.array([0.0, 19.0, 35.0, 60.0, 100.0, 110.0]))
    assert kc == approx([0.6, 0.6, 0.6 + 0.55 / 2, 1.15, 0.975, 0.8])
    assert crop.root_depth(np.array([0.0, 25.0, 90.0])) == approx([0.15, 0.425, 0.7])
