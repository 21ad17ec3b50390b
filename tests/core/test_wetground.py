from math import inf

from pytest import approx

from euhydra.core import soaking, wetground


def test_a_full_pipe_by_manning():
    # By hand: d 0.1 m, s 0.01, n 0.016: A 7.854e-3 m², R 0.025 m, R^(2/3) 0.08550,
    # Q = 7.854e-3 · 0.0855 · 0.1 / 0.016 = 4.197e-3 m³/s.
    assert wetground.pipe_capacity(0.1, 0.01) == approx(4.197e-3, rel=1e-3)
    assert wetground.pipe_capacity(0.1, 0.0) == 0.0


def test_starts_are_most_at_half_the_pumps_flow():
    pump, volume = 2e-3, 0.05
    most = wetground.most_starts_an_hour(pump, volume)
    assert most == approx(3600 * pump / (4 * volume))  # handbook rule Q / 4 V, from memory
    for share in (0.1, 0.3, 0.7, 0.95):
        assert wetground.starts_an_hour(share * pump, pump, volume) < most
    assert wetground.starts_an_hour(pump, pump, volume) == 0.0


def test_recovery_needs_a_way_out():
    assert wetground.recovery_time(3.6, 1e-3) == approx(3600)
    assert wetground.recovery_time(3.6, 0.0) == inf


def test_a_rain_garden_holds_what_it_was_sized_for():
    area = soaking.rain_garden_area(1.2, 0.15, 10e-3 / 3600, 3600)
    assert area * 0.15 + soaking.soaks_in(area, 10e-3 / 3600, 3600) == approx(1.2)
    assert soaking.soak_time(0.15, 10e-3 / 3600) / 3600 == approx(15)
