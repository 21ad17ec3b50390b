"""How far a dripper's water spreads, against the formula worked by hand."""

from math import log

import pytest
from pytest import approx

from euhydra.core import wetting

HOUR, LITRE = 3600.0, 1e-3


def test_by_hand():
    # 10 litres at 2 l/h on a loam of 13 mm/h: V 0.01 m³, q 5.556e-7 m³/s, Ks 3.611e-6 m/s,
    # Ks / q 6.5: w = 1.82 · 0.3631 · 0.7275 = 0.481 m, z = 2.54 · 0.05495 · 2.322 = 0.324 m.
    given = 10 * LITRE, 2 * LITRE / HOUR, 0.013 / HOUR
    assert wetting.wetted_width(*given) == approx(0.481, abs=0.002)
    assert wetting.wetted_depth(*given) == approx(0.324, abs=0.002)


@pytest.mark.parametrize("volume", [LITRE, 20 * LITRE])
def test_clay_spreads_and_sand_lets_through(volume):
    rate, clay, sand = 2 * LITRE / HOUR, 0.004 / HOUR, 0.1 / HOUR
    assert wetting.wetted_width(volume, rate, clay) > wetting.wetted_width(volume, rate, sand)
    assert wetting.wetted_depth(volume, rate, clay) < wetting.wetted_depth(volume, rate, sand)


def test_a_faster_dripper_spreads_more_and_reaches_less():
    slow, fast = 1 * LITRE / HOUR, 8 * LITRE / HOUR
    assert wetting.wetted_width(LITRE, fast, 4e-6) > wetting.wetted_width(LITRE, slow, 4e-6)
    assert wetting.wetted_depth(LITRE, fast, 4e-6) < wetting.wetted_depth(LITRE, slow, 4e-6)


def test_the_formulas_balance_in_volume():
    # Width twice and depth once make a volume: with q held, its exponents in V come near 1
    # (2 · 0.22 + 0.63 = 1.07), so the wetted soil grows as the water given.
    def soil(volume):
        given = volume, 1e-6, 4e-6
        return wetting.wetted_width(*given) ** 2 * wetting.wetted_depth(*given)

    assert log(soil(2 * LITRE) / soil(LITRE)) / log(2) == approx(1.07, abs=1e-6)


def test_no_water_wets_nothing():
    assert wetting.wetted_width(0.0, 1e-6, 1e-6) == wetting.wetted_depth(0.0, 1e-6, 1e-6) == 0.0
    assert wetting.wetted_width(LITRE, 0.0, 1e-6) == 0.0
