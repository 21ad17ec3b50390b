"""The rule of a good programme, held against the root zone run day by day."""

import numpy as np
import pytest
from pytest import approx

from euhydra.core import programme, rootzone
from euhydra.core.programme import Trial
from euhydra.core.tried_days import Gives, TriedGround

DAYS, YEARS = 40, 7
START = 3.0


def tried(ground, litres, runs, sinks_in, start, *gives):
    """What the candidates do to one ground."""
    return programme.try_on([ground], litres, runs, [sinks_in], [start], *gives)[0]


def ground(seed=1, *, total=60.0, ready=24.0, et=5.0, wet=0.15, litre=0.5, steps=1):
    rng = np.random.default_rng(seed)
    shape = (DAYS, YEARS)
    rain = np.where(rng.random(shape) < wet, rng.gamma(1.0, 9.0, shape), 0.0)
    full = np.full(shape, 1.0)
    return TriedGround(
        rain, et * full, total * full, ready * full, np.ones(shape, dtype=bool), litre, steps
    )


@pytest.mark.parametrize("runs", [1, 2, 3])
def test_lanes_follow_the_root_zone_day_by_day(runs):
    here = ground(
        total=9.0 if runs > 1 else 60.0, ready=4.0 if runs > 1 else 24.0, steps=6 if runs > 1 else 1
    )
    litres = np.zeros((DAYS, 2, YEARS))
    litres[::2, 0], litres[:, 1] = 22.0, 9.0
    trial = tried(here, litres, np.array([runs, runs]), np.ones(2), np.full(YEARS, START))
    for candidate in (0, 1):
        short = lost = stressed = 0.0
        for year in range(YEARS):
            depletion = START
            for day in range(DAYS):
                step = rootzone.advance_in_steps(
                    depletion,
                    here.rain[day, year],
                    litres[day, candidate, year] * 0.5,
                    5.0,
                    float(here.total[0, 0]),
                    float(here.ready[0, 0]),
                    runs,
                    here.steps,
                )
                depletion = step.depletion
                short += 5.0 - step.transpired
                stressed += 5.0 - step.transpired > rootzone.MISSED * 5
                lost += step.drained
            assert trial.depletion[candidate, year] == approx(depletion)
        days = DAYS * YEARS
        assert trial.missed[candidate] == approx(short / (5.0 * days), abs=1e-9)
        assert trial.stressed[candidate] == approx(stressed / days)
        assert trial.drained[candidate] == approx(lost / days)


def test_two_runs_a_day_hold_a_pot_that_one_cannot():
    # 9 mm of water in all, 8 mm drunk a day: one filling does not last, two do.
    pot = ground(total=9.0, ready=4.0, et=8.0, wet=0.0, steps=6)
    litres = np.full((DAYS, 2, YEARS), 18.0)
    trial = tried(pot, litres, np.array([1, 2]), np.ones(2), np.full(YEARS, START))
    assert trial.stressed[0] > 0.9
    assert trial.stressed[1] < 0.05


def test_a_timer_that_adjusts_gives_no_more_than_is_missing():
    here = ground()
    litres = np.full((DAYS, 1, YEARS), 200.0)
    plain = tried(here, litres, np.array([1]), np.ones(1), np.full(YEARS, START))
    clever = tried(here, litres, np.array([1]), np.ones(1), np.full(YEARS, START), Gives.LACKING)
    assert clever.given[0] < 0.2 * plain.given[0]
    assert clever.stressed[0] == 0


def test_a_moisture_switch_gives_whole_runs_and_only_to_dry_ground():
    here = ground(ready=20.0, et=4.0, wet=0.0)
    litres = np.full((DAYS, 1, YEARS), 15.0)
    start = np.zeros(YEARS)
    trial = tried(here, litres, np.array([1]), np.ones(1), start, Gives.WHEN_DRY)
    opens = programme.waits_until_dry(
        np.full((1, DAYS), 15.0 * here.depth_per_litre),
        here.rain[:, 0][None],
        here.crop_et[:, 0][None],
        here.total[:, 0][None],
        here.ready[:, 0][None],
        here.is_growing[:, 0][None],
    )
    # 4 mm a day, half of 20 mm: it opens on the fourth morning, with 12 mm gone.
    assert np.flatnonzero(opens)[0] == 3
    assert opens.sum() * 15.0 / DAYS == approx(trial.given[0], rel=0.01)
    assert trial.stressed[0] == 0


def trial(stressed, given):
    zero = np.zeros(len(given))
    return Trial(np.array(stressed), np.array(stressed), zero, np.array(given), zero[:, None])


def test_least_water_that_keeps_the_rule_wins_and_among_equals_the_longest_interval():
    days = np.array([1.0, 2.0, 3.0, 4.0])
    found = trial([0.0, 0.02, 0.02, 0.2], [12.0, 10.0, 10.5, 8.0])
    assert programme.choose([found], days, 10.0) == 2
    # The thirstier bed of a zone decides.
    other = trial([0.0, 0.02, 0.30, 0.2], [12.0, 10.0, 10.5, 8.0])
    assert programme.choose([found, other], days, 10.0) == 1


def test_what_is_preferred_comes_first_but_only_if_it_keeps_the_rule():
    days = np.array([1.0, 2.0, 3.0])
    found = trial([0.0, 0.02, 0.2], [12.0, 10.0, 8.0])
    sinks_in = np.array([True, False, True])
    assert programme.choose([found], days, 10.0, (sinks_in,)) == 0
    runs_off_but_waters = np.array([False, False, True])  # the one that is too dry
    assert programme.choose([found], days, 10.0, (runs_off_but_waters,)) == 1


def test_where_none_keeps_the_rule_the_crops_miss_least():
    days = np.array([1.0, 2.0, 3.0])
    found = trial([0.5, 0.3, 0.305], [5.0, 9.0, 8.0])
    assert programme.choose([found], days, 1.0) == 2


def test_rain_pauses_as_many_days_as_it_covers():
    rain = np.zeros((8, 1))
    rain[1] = 11.0  # at 5 mm a day two days and a bit
    paused = programme.paused_by_rain(rain, 5.0, (1, 2, 3))
    assert np.flatnonzero(paused[:, 0]).tolist() == [2, 3]
    assert not programme.paused_by_rain(rain, 5.0, ()).any()
    assert programme.rain_for(3, 5.0) == 15


def test_the_thirstiest_ground_says_whether_the_rule_is_kept():
    easy, thirsty = trial([0.0, 0.0], [5.0, 9.0]), trial([0.06, 0.03], [5.0, 9.0])
    assert programme.keeps_rule([easy]).tolist() == [True, True]
    assert programme.keeps_rule([easy, thirsty]).tolist() == [False, True]
