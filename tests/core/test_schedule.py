import numpy as np
import pytest
from pytest import approx

from euhydra.core import schedule
from euhydra.core.delivery import DrainCurve
from euhydra.core.schedule import Position, TimerPositions, exact_minutes, longest_interval

STEADY = DrainCurve.of([0, 1000], [60, 60.0])  # 60 L/h: a litre a minute
DIAL = TimerPositions((5, 10, 20, 30, 60), (0.5, 1, 2, 3, 7))
WEEK = TimerPositions(tuple(range(1, 61)), (1, 2.333, 7), 3, True)


def test_minutes_are_litres_over_flow():
    assert exact_minutes(STEADY, 500, 25) == approx(25)


def test_only_positions_of_the_timer_are_offered():
    offered = list(schedule.positions_of(DIAL, 60))
    assert {p.run_minutes for p in offered} <= set(DIAL.run_minutes)
    assert {p.interval_days for p in offered} == set(DIAL.interval_days)
    assert all(p.minutes_a_day <= 60 for p in offered)  # twice 60 minutes does not fit
    assert max(p.runs_a_day for p in schedule.positions_of(WEEK, 180)) == 3


def test_where_nothing_fits_the_day_the_shortest_is_left():
    (only,) = schedule.positions_of(DIAL, 2)
    assert only.run_minutes == 5


def test_runs_near_the_need_are_kept_for_every_interval():
    kept = schedule.near_need(schedule.rhythms_of(DIAL, 120), 10, (1.0,))
    assert {p.interval_days: p.run_minutes for p in kept} == {0.5: 5, 1: 10, 2: 20, 3: 30, 7: 60}


def test_soil_sets_the_longest_interval():
    assert longest_interval(24, 5) == approx(4.8)
    assert longest_interval(3, 5) == 1


@pytest.mark.parametrize(
    ("interval", "hours"), [(1, 10.0), (2, 5.0), (3, 4.0), (0.5, 20.0), (7, 2.0)]
)
def test_ten_days_of_one_hour_runs(interval, hours):
    days = np.arange(10)
    position = Position(60, interval)
    on = position.waters_on(days, days % 7)
    assert on.sum() * position.minutes_a_day / 60 == approx(hours)


def test_weekdays_are_kept_whatever_the_month():
    position = Position(10, 2.333, 2, schedule.SPREAD[3])
    on = position.waters_on(np.arange(14), (np.arange(14) + 5) % 7)  # begins on a Saturday
    assert on.sum() == 6
    assert {int(day) for day in ((np.arange(14) + 5) % 7)[on]} == {0, 2, 4}
    assert position.minutes_a_day == 20


def test_water_stands_only_where_it_comes_faster_than_the_soil_takes_it():
    # By hand: 13 − 3 mm/h too much fills 8 mm of hollows in 48 minutes.
    assert schedule.minutes_before_runoff(13, 3, 0) == approx(48)
    assert schedule.minutes_before_runoff(13, 3, 0.05) == approx(24)
    assert schedule.minutes_before_runoff(3, 3, 0.05) == np.inf
    assert schedule.cycles_for(100, 48) == 3
    assert schedule.cycles_for(48, 48) == 1
