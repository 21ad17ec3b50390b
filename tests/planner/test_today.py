"""The morning: what costs least in dry days and then in litres; what stores want; a forecast that is of no use."""

from dataclasses import replace
from datetime import date, datetime, timedelta
from functools import cache

import numpy as np
import pytest
from pytest import approx

from euhydra.garden.logbook import LogEntry
from euhydra.garden.model import Garden
from euhydra.planner.answers import PlanError
from euhydra.planner.beginning import ways
from euhydra.planner.beginning.asks import way_kinds
from euhydra.planner.chain import Chain, run_chain
from euhydra.planner.today import choosing
from euhydra.planner.today.acts import MOST_CANS
from euhydra.planner.today.ahead import DAYS, ForecastDay, ahead_of
from euhydra.planner.today.answer import answer_today
from euhydra.planner.today.choosing import Do
from euhydra.planner.today.reasons import Sure
from sound_gardens import RECORD, barrel_two_beds, tap_two_beds

TODAY = date(int(RECORD.year[-1]), 7, 14)
DRY, WET = 0.0, 60.0


def hand_bed() -> Garden:
    """Beds that only a can waters."""
    place = tap_two_beds().place
    return ways.begin(Garden(name="By hand", place=place), way_kinds()["can"], {}, RECORD)


@cache
def chain(build=tap_two_beds) -> Chain:
    return run_chain(build(), RECORD)


def at(days_ago: int, hour: int = 8) -> datetime:
    return datetime.combine(TODAY - timedelta(days=days_ago), datetime.min.time()).replace(
        hour=hour
    )


def gauge(rain_mm: float) -> list[LogEntry]:
    """A gauge that was read every other day and empty, but for the last reading."""
    readings = [LogEntry("rain", at(ago), None, (0.0,)) for ago in range(40, 1, -2)]
    return [*readings, LogEntry("rain", at(1, 18), None, (rain_mm / 1000,))]


def set_to(timer: str, minutes: float, every_d: float = 1.0) -> LogEntry:
    return LogEntry("setting", at(39), timer, (minutes * 60.0, every_d * 86400.0))


def morning(log, forecast=(), build=tap_two_beds):
    return answer_today(chain(build), sorted(log, key=lambda e: e.at), TODAY, forecast)


def act_of(answer, about):
    return next(act for act in answer.acts if act.about == about)


def foreseen(rain_mm: float, chance: float = 1.0) -> list[ForecastDay]:
    return [ForecastDay(TODAY + timedelta(days=n), rain_mm, chance) for n in range(DAYS)]


def test_a_bed_that_is_far_behind_is_run_by_hand_now():
    answer = morning([*gauge(DRY), set_to("bed-timer", 1)])
    act = act_of(answer, "bed-timer")
    assert act.do is Do.BY_HAND
    assert act.litres > 5
    assert act.reason.code == "today-is-dry"
    assert answer.acts[0].do is Do.BY_HAND  # what needs somebody stands first
    assert answer.verdict.summary.code == "today-water"


def test_after_a_deluge_what_is_set_is_paused():
    act = act_of(morning([*gauge(WET), set_to("bed-timer", 30)]), "bed-timer")
    assert act.do is Do.PAUSE
    assert act.days >= 1
    assert act.litres == 0


def test_rain_that_is_foreseen_spares_water_and_none_asks_for_it():
    log = [*gauge(DRY), set_to("bed-timer", 8), set_to("beans-timer", 8)]
    wet, dry = (morning(log, foreseen(rain)) for rain in (25.0, 0.0))
    assert sum(a.litres for a in wet.acts) < sum(a.litres for a in dry.acts)
    assert (wet.is_foreseen, morning(log).is_foreseen) == (True, False)


@pytest.mark.parametrize("rain", [DRY, 8.0, WET])
@pytest.mark.parametrize("minutes", [1, 10, 60])
def test_no_act_leaves_plants_drier_than_what_is_set(rain, minutes):
    log = sorted([*gauge(rain), set_to("bed-timer", minutes)], key=lambda e: e.at)
    told = {act.about: act.dry_days for act in morning(log).acts}
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(choosing, "best_of", lambda lost, litres: 0)  # as set, whatever it brings
        as_set = {act.about: act.dry_days for act in morning(log).acts}
    assert all(told[about] <= as_set[about] + choosing.ALIKE_DAYS for about in told)


def test_a_bed_by_hand_gets_its_cans():
    log = [*gauge(DRY), LogEntry("watered", at(30), "bed", (0.001,))]  # and never since
    act = act_of(morning(log, build=hand_bed), "bed")
    assert act.do is Do.CANS
    part = next(p for p in chain(hand_bed).garden.planted if p.id == act.about)
    assert act.cans == approx(act.litres / 1000 / part.can_m3)
    assert 0 < act.cans <= MOST_CANS  # a morning's carrying, however much it lacks
    assert act.sure is Sure.SURE  # after forty days nobody doubts it


def test_what_nobody_saw_is_a_guess_and_one_look_is_asked_for():
    said = morning([])
    act = act_of(said, "bed-timer")
    assert act.sure is not Sure.SURE
    assert said.look.code == "today-look-feel"
    told = morning([*gauge(DRY), set_to("bed-timer", 8), set_to("beans-timer", 8)])
    low, middle, high = act_of(told, "bed-timer").left
    assert 0 <= low <= middle <= high <= 1
    assert high - low < act.left[2] - act.left[0]


def test_a_store_is_told_as_the_log_has_it():
    dip = LogEntry("dip", at(1, 18), "tank", (0.3,))
    (store,) = morning([*gauge(DRY), dip], build=barrel_two_beds).stores
    tank = chain(barrel_two_beds).garden.stores[0]
    assert store.water == approx(tank.total_m3 * 1000 * 0.3 / tank.height_m, rel=0.1)
    assert store.capacity == approx(tank.total_m3 * 1000)


def test_the_chance_of_rain_is_the_share_of_years_in_which_it_falls():
    ahead = ahead_of(RECORD, 45.0, TODAY, foreseen(12.0, 0.3))
    assert (ahead.rain > 0).mean() == approx(0.3, abs=1.0 / ahead.index.shape[1])
    hot = [replace(day, lowest=24.0, highest=42.0) for day in foreseen(0.0)]
    assert np.all(ahead_of(RECORD, 45.0, TODAY, hot).warmth.mean(axis=1) > 1.0)


def test_a_forecast_of_days_that_are_over_is_refused():
    old = [ForecastDay(TODAY - timedelta(days=7 - n), 5.0) for n in range(5)]
    with pytest.raises(PlanError, match="before this morning"):
        morning(gauge(DRY), old)
    with pytest.raises(PlanError, match="rain goes from"):
        ForecastDay(TODAY, 900.0)
