"""Pump curves against the laws of pumps and the engine's own rules for them."""

import pytest
from pytest import approx

from euhydra.core.pumps import (
    PumpCurve,
    PumpCurveError,
    shaft_power,
    starts_an_hour,
    suction_head_available,
)


@pytest.mark.parametrize(
    "points", [[(1e-3, 9.0)], [(0, 12.0), (5e-4, 11.0), (1e-3, 8.0), (2e-3, 1.0)]]
)
@pytest.mark.parametrize("speed", [0.5, 0.8, 1.2])
def test_affinity_laws(points, speed):
    # Flow grows as the speed, head as its square, and so power as its cube.
    full, slow = PumpCurve.through(points), PumpCurve.through(points).at_speed(speed)
    for flow in (0.0, 4e-4, 1.1e-3):
        assert slow.head_at(speed * flow) == approx(speed**2 * full.head_at(flow), rel=1e-12)
    power = shaft_power(1e-3, full.head_at(1e-3), 0.5)
    slowed = shaft_power(speed * 1e-3, slow.head_at(speed * 1e-3), 0.5)
    assert slowed == approx(speed**3 * power, rel=1e-12)


@pytest.mark.parametrize(
    ("points", "words"),
    [
        ([], "needs a point"),
        ([(0, 5.0), (1e-3, 6.0)], "head falls while its flow rises"),
        ([(0, 5.0), (0, 4.0)], "head falls while its flow rises"),
        ([(0, 5.0), (1e-3, -1.0)], "cannot be negative"),
    ],
)
def test_points_that_no_pump_has(points, words):
    with pytest.raises(PumpCurveError, match=words):
        PumpCurve.through(points)


def test_the_slope_is_the_curves_own():
    for curve in (PumpCurve.through([(1e-3, 9.0)]), PumpCurve.through([(0, 9.0), (1e-3, 4.0)])):
        q, step = 6e-4, 1e-9
        rise = (curve.head_at(q) - curve.head_at(q + step)) / step
        assert curve.slope_at(q) == approx(rise, rel=1e-4)


def test_a_pump_lifts_about_seven_metres_at_sea_level_and_less_up_high():
    # Common practice: a surface pump sucks 7 to 8 m at most; 10.3 m is the limit of air itself.
    assert suction_head_available(0, 0, 0) == approx(10.1, abs=0.1)
    assert suction_head_available(0, 0, 1500) == approx(8.4, abs=0.2)


def test_starts_are_most_at_half_the_flow():
    # The textbook maximum: Q / (4 V) at half the pump's flow.
    assert starts_an_hour(2e-4, 1e-4, 0.02) == approx(3600 * 2e-4 / (4 * 0.02))
    assert starts_an_hour(2e-4, 2e-4, 0.02) == 0
