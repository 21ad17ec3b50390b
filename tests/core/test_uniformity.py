import numpy as np
from pytest import approx

from euhydra.core.uniformity import design_emission_uniformity, low_quarter_uniformity


def test_low_quarter_of_a_catch_cup_set():
    # Worked by hand after Merriam and Keller (1978), from memory: the lowest four of sixteen
    # average 78, all average 98.
    cups = np.array([70, 78, 80, 84, 90, 95, 98, 100, 100, 102, 104, 106, 110, 114, 118, 119.0])
    assert low_quarter_uniformity(cups) == approx(78 / 98, abs=1e-9)


def test_emission_uniformity_counts_the_makers_variation():
    # Karmeli and Keller (1975), EU = (1 − 1.27 v/√e) qmin/qmean: v 0.05, e 1, qmin/qmean 0.95.
    flow = np.array([0.95, 1.0, 1.05])
    assert design_emission_uniformity(flow, 0.05, 1) == approx((1 - 0.0635) * 0.95)


def test_nothing_flows_nothing_is_even():
    assert low_quarter_uniformity(np.zeros(4)) == 0
    assert design_emission_uniformity(np.zeros(4), 0.05, 1) == 0
