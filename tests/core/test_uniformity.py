from statistics import NormalDist

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pytest import approx

from euhydra.core.uniformity import design_emission_uniformity, low_quarter_uniformity


def test_low_quarter_of_a_catch_cup_set():
    # Worked by hand after Merriam and Keller (1978), from memory: the lowest four of sixteen
    # average 78, all average 98.
    cups = np.array([70, 78, 80, 84, 90, 95, 98, 100, 100, 102, 104, 106, 110, 114, 118, 119.0])
    assert low_quarter_uniformity(cups) == approx(78 / 98, abs=1e-9)


def test_low_quarter_of_a_worked_catch_cup_set():
    """The method of Merriam and Keller (1978), from memory: mean of the lowest quarter over the
    mean of all. The numbers are our own, chosen so that both means are round.
    """
    cups = np.array([6, 6, 7, 7, 7.5, 8, 8, 8, 8, 8.5, 8.5, 9, 9, 9, 9, 9.5])
    assert cups.mean() == 8.0
    assert low_quarter_uniformity(cups) == approx(6.5 / 8.0)


CUPS = 4000
"""Enough that a distribution's quantiles stand for the distribution."""


def _normal_depths(variation: float) -> np.ndarray:
    shares = (np.arange(CUPS) + 0.5) / CUPS
    return np.array([NormalDist(1, variation).inv_cdf(share) for share in shares.tolist()])


@pytest.mark.parametrize("variation", [0.05, 0.1, 0.2, 0.3])
def test_low_quarter_of_normal_depths_is_the_published_line(variation: float):
    # Warrick (1983), Interrelationships of irrigation uniformity terms, J. Irrig. Drain. Eng.
    # 109(3), normal distribution: DU = 1 − 1.27 CV. From memory; to its two decimals.
    even = low_quarter_uniformity(_normal_depths(variation))
    assert even == approx(1 - 1.27 * variation, abs=0.005 * variation)


def test_low_quarter_follows_christiansens_coefficient_as_published():
    # Keller and Bliesner (1990), section 6: DU = 100 − 1.59 (100 − CU), of normal depths; from
    # memory. CU is one less the mean deviation over the mean (Christiansen 1942).
    depths = _normal_depths(0.15)
    coefficient = 1 - np.abs(depths - depths.mean()).mean() / depths.mean()
    assert low_quarter_uniformity(depths) == approx(1 - 1.59 * (1 - coefficient), abs=0.002)


def test_low_quarter_of_even_steps_between_two_depths():
    # Warrick (1983), uniform distribution: DU = 1 − 1.30 CV; from memory.
    depths = np.linspace(0.7, 1.3, CUPS)
    variation = depths.std() / depths.mean()
    assert low_quarter_uniformity(depths) == approx(1 - 1.30 * variation, abs=0.005 * variation)


@given(st.lists(st.floats(0.01, 1000), min_size=4, max_size=60), st.floats(0.1, 50))
def test_low_quarter_knows_no_unit_and_no_order(depths: list[float], unit: float):
    even = low_quarter_uniformity(np.array(depths))
    assert 0 < even <= 1 + 1e-9
    assert low_quarter_uniformity(np.array(depths[::-1]) * unit) == approx(even)


def test_emission_uniformity_counts_the_makers_variation():
    # Karmeli and Keller (1975), EU = (1 − 1.27 v/√e) qmin/qmean: v 0.05, e 1, qmin/qmean 0.95.
    flow = np.array([0.95, 1.0, 1.05])
    assert design_emission_uniformity(flow, 0.05, 1) == approx((1 - 0.0635) * 0.95)


def test_nothing_flows_nothing_is_even():
    assert low_quarter_uniformity(np.zeros(4)) == 0
    assert design_emission_uniformity(np.zeros(4), 0.05, 1) == 0
