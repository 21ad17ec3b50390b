from math import atan, degrees

from pytest import approx

from euhydra.core import standing
from euhydra.core.standing import Face, StandingMass


def test_a_full_barrel_presses_like_its_water_depth():
    # A column of water 1 m deep presses with about 9.8 kPa whatever its area: hydrostatics.
    assert standing.footing_pressure(998.2 * 0.3, 0.3) == approx(998.2 * 9.80665, rel=1e-9)


def test_a_cube_tips_at_half_a_right_angle():
    assert standing.tipping_angle(1.0, 0.5) == approx(45)


def test_a_stand_makes_it_tip_sooner():
    low, high = (standing.tipping_angle(0.6, 0.45 + stand) for stand in (0.0, 0.4))
    assert low == approx(degrees(atan(0.3 / 0.45)))
    assert high < low


def test_gust_against_an_empty_barrel_by_hand():
    # 20 m/s on 0.9 × 0.6 m: ½·1.225·400·1.2·0.54 = 158.8 N at 0.45 m; held by m·9.80665·0.3.
    barrel = [Face(0.9, 0.6, 0.0)]
    moment = standing.overturning(20, barrel)
    assert moment == approx(158.76 * 0.45)
    mass = 158.76 * 0.45 / (9.80665 * 0.3)
    assert standing.ballast_against_gust(moment, 0.6, 9, 1.0) == approx(mass - 9, rel=1e-3)
    assert standing.ballast_against_gust(moment, 0.6, 9, 1.5) == approx(1.5 * mass - 9, rel=1e-3)
    assert standing.ballast_against_gust(standing.overturning(2, barrel), 0.6, 9, 1.5) == 0


def test_a_stand_lengthens_the_lever_of_the_wind():
    # On a stand of 0.5 m the same force acts at 0.95 m: 2.11 times the moment.
    low, high = (standing.overturning(20, [Face(0.9, 0.6, foot)]) for foot in (0.0, 0.5))
    assert high / low == approx(0.95 / 0.45)


def test_centre_of_gravity_of_water_shell_and_stand():
    body = [StandingMass(100.0, 1.0), StandingMass(10.0, 1.2), StandingMass(30.0, 0.25)]
    assert standing.centre_of_gravity(body) == approx((100 + 12 + 7.5) / 140)


def test_round_width_of_a_litre_cube():
    assert standing.round_width(0.2, 0.9) == approx(0.532, abs=0.001)
