import pytest
from pytest import approx

from euhydra.core.delivery import DrainCurve
from euhydra.core.schedule import (
    TimerPositions,
    best_setting,
    exact_minutes,
    longest_interval,
    run_hours_on,
)

STEADY = DrainCurve.of([0, 1000], [60, 60.0])  # 60 L/h: a litre a minute
DIAL = TimerPositions((5, 10, 20, 30, 60), (1, 2, 3, 7))


def test_minutes_are_litres_over_flow():
    assert exact_minutes(STEADY, 500, 25) == approx(25)


def test_only_positions_of_the_timer_are_used():
    setting = best_setting(DIAL, STEADY, 500, 11.0, most_days=3)
    assert setting.run_minutes in DIAL.run_minutes
    assert setting.interval_days in DIAL.interval_days


def test_longest_interval_that_the_soil_allows_wins_among_equals():
    assert best_setting(DIAL, STEADY, 500, 10, most_days=3.5).interval_days == 3
    assert best_setting(DIAL, STEADY, 500, 10, most_days=1.5).interval_days == 1


def test_too_little_counts_worse_than_too_much():
    # 15 L a day, daily only: 10 min leaves a third unmet, 20 min gives a third too much.
    assert best_setting(DIAL, STEADY, 500, 15, most_days=1).run_minutes == 20


def test_runs_longer_than_the_window_are_left_aside():
    setting = best_setting(DIAL, STEADY, 500, 60, most_days=1, most_minutes=30)
    assert setting.run_minutes == 30
    assert setting.share_of_need == approx(0.5)


def test_soil_sets_the_longest_interval():
    assert longest_interval(24, 5) == approx(4.8)
    assert longest_interval(3, 5) == 1


@pytest.mark.parametrize(
    ("interval", "hours"), [(1, 10.0), (2, 5.0), (3, 4.0), (0.5, 20.0), (7, 2.0)]
)
def test_ten_days_of_one_hour_runs(interval, hours):
    assert sum(run_hours_on(day, 60, interval) for day in range(10)) == approx(hours)
