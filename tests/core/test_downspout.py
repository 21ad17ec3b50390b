from math import pi

import pytest
from pytest import approx

from euhydra.core.downspout import downspout_capacity, gutter_capacity, overshoot, roof_by_thumb

GPM = 6.30901964e-5


@pytest.mark.parametrize(("inches", "gallons"), [(2, 30), (3, 87), (4, 180), (5, 311), (6, 538)])
def test_capacities_of_the_plumbing_code(inches, gallons):
    # International Plumbing Code, vertical leaders (table 1106.2), from memory; the code's table
    # follows Wyly–Eaton at one third full, rounded and smoothed: within 7%.
    found = downspout_capacity(inches * 0.0254, 1 / 3) / GPM
    assert found == approx(gallons, rel=0.07)


def test_what_cannot_go_down_overshoots():
    capacity = downspout_capacity(0.05)
    area, rain = 60.0, 0.1 / 3600
    assert overshoot(capacity, area, rain) == approx(max(0, 1 - capacity / (area * rain)))
    assert overshoot(1.0, area, rain) == 0
    assert overshoot(capacity, area, 0.0) == 0


def test_rule_of_thumb():
    # 3 in round: 7.07 in², so 707 ft² of roof (common practice).
    assert roof_by_thumb(3 * 0.0254) == approx(pi / 4 * 9 * 100 * 0.09290304, rel=1e-9)


@pytest.mark.parametrize(
    ("inches", "square_feet"), [(3, 680), (4, 1440), (5, 2500), (6, 3840), (7, 5520), (8, 7960)]
)
def test_gutters_against_the_plumbing_code(inches, square_feet):
    # International Plumbing Code, semicircular gutters at the least fall, 1/16 in a foot, roof in
    # square feet at one inch an hour (table 1106.6), from memory. A level gutter carries a little
    # less than a falling one: between 0 and 20% under the code's figure.
    code = square_feet * 0.3048**2 * 0.0254 / 3600
    assert 0.8 * code < gutter_capacity(inches * 0.0254) < code
