import numpy as np
import pytest
from pytest import approx

from euhydra.core import greywater
from euhydra.core.constants import MINUTES_PER_DAY
from euhydra.core.greywater import FloatPump, run_drum


def test_a_load_leaves_in_three_goes_and_none_is_lost():
    inflow = greywater.wash_inflow(50.0, [540, 615], MINUTES_PER_DAY)
    assert inflow.sum() == approx(100)
    assert np.count_nonzero(inflow) == 6


def test_a_slow_outlet_runs_over_by_hand():
    # 30 L in one minute into an empty 20 L drum that loses 2 L a minute: 10 run over at once,
    # and it is empty after ten minutes.
    inflow = np.zeros(30)
    inflow[0] = 30.0
    run = run_drum(inflow, 20.0, lambda level: 2.0)
    assert run.overflow.sum() == approx(10)
    assert run.level[8] == approx(2)
    assert run.level[9] == 0
    assert run.out.sum() == approx(20)


def test_a_float_pump_starts_once_a_filling():
    inflow = np.full(60, 2.0)  # 2 L a minute for an hour
    pump = FloatPump(lambda level: 10.0, on=40.0, off=5.0)
    run = run_drum(inflow, 60.0, pump)
    # It fills to 40 in 20 minutes, is down at 5 after some 5 minutes, and fills again.
    assert run.starts == 2
    assert run.overflow.sum() == 0
    assert run.out.sum() + run.left == approx(120)


def test_water_under_the_pumps_lower_level_grows_old():
    inflow = np.zeros(3 * MINUTES_PER_DAY)
    inflow[60] = 50.0
    kept = run_drum(inflow, 60.0, FloatPump(lambda level: 10.0, on=40.0, off=5.0))
    emptied = run_drum(inflow, 60.0, FloatPump(lambda level: 10.0, on=40.0, off=0.0))
    assert kept.oldest_hours > 24
    assert emptied.oldest_hours < 1


@pytest.mark.parametrize(
    ("gallons_a_square_foot", "square_feet_for_100_gallons"),
    # California Plumbing Code ch. 15, absorption table, from memory: each pair is one row.
    [(5.0, 20), (4.0, 25), (2.5, 40), (1.66, 60), (1.1, 90), (0.8, 120)],
)
def test_absorption_area_of_the_code_table(gallons_a_square_foot, square_feet_for_100_gallons):
    gallon, foot = 3.785411784, 0.3048
    area = greywater.soil_area(100 * gallon, gallons_a_square_foot * gallon / foot**2)
    assert area / foot**2 == approx(square_feet_for_100_gallons, rel=0.05)


def test_what_leaves_is_shared_out_as_the_outlets_were_solved_by_hand():
    # Two outlets: at an empty drum all goes to the first, at a full one half and half.
    inflow = np.zeros(10)
    inflow[0] = 10.0
    run = run_drum(inflow, 10.0, lambda level: 10.0)  # all of it at once, from a full drum
    volumes, flows = np.array([0.0, 10.0]), np.array([[1.0, 0.0], [2.0, 2.0]])
    assert greywater.shared_out(run, volumes, flows).tolist() == approx([5.0, 5.0])
    inflow[0] = 5.0
    half = run_drum(inflow, 10.0, lambda level: 10.0)
    assert greywater.shared_out(half, volumes, flows).tolist() == approx([3.75, 1.25])


def test_below_the_first_level_that_gives_water_shares_are_those_of_that_level():
    inflow = np.zeros(5)
    inflow[0] = 2.0
    run = run_drum(inflow, 10.0, lambda level: 1.0)
    volumes, flows = np.array([0.0, 5.0, 10.0]), np.array([[0, 0], [1, 3], [1, 3]], dtype=float)
    assert greywater.shared_out(run, volumes, flows).tolist() == approx([0.5, 1.5])


def test_a_wet_bottom_does_not_make_the_next_load_old():
    inflow = np.zeros(3 * MINUTES_PER_DAY)
    inflow[[60, 60 + 2 * MINUTES_PER_DAY]] = 50.0
    run = run_drum(inflow, 100.0, FloatPump(lambda level: 10.0, on=20.0, off=0.9))
    assert run.left == approx(0.9)
    assert run.oldest_hours < 1
