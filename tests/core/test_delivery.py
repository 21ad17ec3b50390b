from math import inf, sqrt

import numpy as np
import pytest
from pytest import approx

from euhydra.core.delivery import DrainCurve

SHARES = [i / 8 for i in range(9)]


def torricelli(
    full: float = 200.0, head: float = 1.0, below: float = 0.5, k: float = 30.0
) -> DrainCurve:
    """A straight tank `below` metres over its outlet, giving k √H litres an hour."""
    return DrainCurve.of([full * s for s in SHARES], [k * sqrt(below + head * s) for s in SHARES])


def test_emptying_time_agrees_with_torricelli():
    # Closed form for q = k √H and an upright tank: t = 2 A (√H0 − √H1) / k; here A = 200 L/m.
    time = torricelli().hours_for(200, 200)
    assert time == approx(2 * 200 * (sqrt(1.5) - sqrt(0.5)) / 30, rel=0.002)


@pytest.mark.parametrize("volume", [200.0, 137.0, 25.0, 3.0])
@pytest.mark.parametrize("share", [0.1, 0.5, 0.99])
def test_hours_and_litres_are_each_others_inverse(volume, share):
    curve = torricelli()
    hours = curve.hours_for(volume, volume * share)
    assert curve.delivered(volume, hours) == approx(volume * share, rel=1e-9)


def test_it_gives_what_is_there_and_no_more():
    curve = torricelli()
    assert curve.delivered(50, 1000) == approx(50)
    assert curve.delivered(0, 1) == 0
    assert curve.hours_for(50, 60) == inf


def test_a_line_level_with_the_tap_slows_down_and_never_quite_ends():
    curve = torricelli(below=0.0)
    assert curve.delivered(10, 1) < 10
    assert curve.delivered(10, 1e9) == approx(10)


def test_a_line_that_gives_nothing():
    curve = DrainCurve.of([0, 100, 200], [0, 0, 0])
    assert curve.delivered(200, 5) == approx(0, abs=1e-9)


@pytest.mark.parametrize(
    ("volume", "flow"), [([0, 1, 1], [1, 2, 3]), ([0, 1, 2], [3, 2, 4]), ([0, 1, 2], [-1, 0, 1])]
)
def test_curves_that_cannot_be_are_refused(volume, flow):
    with pytest.raises(ValueError, match="drain curve"):
        DrainCurve.of(volume, flow)


def test_a_run_of_no_time_gives_nothing_from_a_store_of_any_size():
    curve = DrainCurve.of([0.0, 1e6], [93.7, 93.7])
    for volume in (1e6, 5e5, 1 / 3 * 1e6):
        assert curve.delivered(volume, 0.0) == 0.0
        assert curve.delivered(volume, 1e-12) >= 0.0
        assert curve.delivered_each(np.array([volume]), np.zeros(1), np.array([1.7])).tolist() == [
            0.0
        ]
