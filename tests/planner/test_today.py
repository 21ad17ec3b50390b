"""The morning: what costs least in dry days and then in litres; what stores want; a forecast that is of no use."""

from dataclasses import replace
from datetime import date, datetime, timedelta
from functools import cache

import numpy as np
import pytest
from pytest import approx

from euhydra.core.foretelling import DAYS, WET_MM
from euhydra.garden import edits
from euhydra.garden.logbook import LogEntry
from euhydra.garden.model import Garden
from euhydra.planner.answers import Mark, PlanError
from euhydra.planner.beginning import ways
from euhydra.planner.beginning.asks import way_kinds
from euhydra.planner.chain import Chain, run_chain
from euhydra.planner.keeping.hindcast import KEPT_UP
from euhydra.planner.today import choosing, in_words
from euhydra.planner.today.acts import MOST_CANS
from euhydra.planner.today.ahead import ForecastDay, ahead_of
from euhydra.planner.today.answer import answer_today
from euhydra.planner.today.choosing import Do
from euhydra.planner.today.done import is_done
from euhydra.planner.today.reasons import Sure
from sound_gardens import RECORD, barrel_two_beds, tap_shared, tap_two_beds

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
    assert act.reason.code == "today-after-rain"
    assert act.reason.values["rest"].code == "today-is-dry"
    assert answer.acts[0].do is Do.BY_HAND  # what needs somebody stands first
    assert answer.verdict.summary.code == "today-water"
    asked = {act.about for act in answer.acts if act.do is not Do.AS_SET}
    after = replace(answer, done=frozenset(asked)).verdict
    assert (after.summary.code, after.mark) == ("today-done", Mark.WORKS)


def test_what_was_done_is_all_only_if_it_is_what_is_asked_now():
    act = act_of(morning([*gauge(DRY), set_to("bed-timer", 1)]), "bed-timer")
    asked = act.minutes * 60
    assert act.do is Do.BY_HAND
    assert [is_done(act, share * asked) for share in (0.0, 0.5, 0.95, 2.0)] == [
        False,
        False,
        True,
        True,
    ]
    cans = replace(act, do=Do.CANS, head_id=None)
    assert (is_done(cans, act.litres / 1000), is_done(cans, act.litres / 2000)) == (True, False)
    paused = replace(act, do=Do.PAUSE, days=3)
    assert (is_done(paused, 3 * 86400.0), is_done(paused, 86400.0)) == (True, False)


def test_what_is_left_is_not_said_to_be_as_little_as_itself():
    log = [*gauge(DRY), set_to("bed-timer", 1)]
    said = [act.reason.values["rest"] for act in morning(log).acts]
    doubted = [rest for rest in said if rest.code == "today-may-be-dry"]
    assert all(r.values["left"].value - r.values["low"].value > 0.05 for r in doubted)
    dry = [LogEntry("finger", at(30), "bed", (), "dry")]
    rest = act_of(morning(log + dry), "bed-timer").reason.values["rest"]
    assert rest.code in ("today-is-dry", "today-dry-on")


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


def test_a_chance_that_is_the_seasons_own_tells_nothing_of_a_day():
    of_any, after_rain = (ahead_of(RECORD, 45.0, TODAY, was_wet=wet).index for wet in (None, True))
    usual = (RECORD.precip[of_any] >= WET_MM).mean(axis=1)
    told = [ForecastDay(TODAY + timedelta(days=n), 90.0, odds) for n, odds in enumerate(usual)]
    ahead = ahead_of(RECORD, 45.0, TODAY, told, was_wet=True)
    own = RECORD.precip[after_rain]
    assert (ahead.rain > 0).sum(axis=1) == approx((own >= WET_MM).sum(axis=1), abs=1)
    assert ahead.rain.sum() == approx(own.sum(), rel=0.05)


def test_a_forecast_of_days_that_are_over_is_refused():
    old = [ForecastDay(TODAY - timedelta(days=7 - n), 5.0) for n in range(5)]
    with pytest.raises(PlanError, match="before this morning"):
        morning(gauge(DRY), old)
    with pytest.raises(PlanError, match="rain goes from"):
        ForecastDay(TODAY, 900.0)


def test_frost_and_heat_that_are_foreseen_are_met_the_day_before():
    cold, mild, hot = (
        [replace(day, lowest=low, highest=high) for day in foreseen(0.0)]
        for low, high in ((-3.0, 4.0), (12.0, 22.0), (22.0, 38.0))
    )
    keys = [
        [each.key for each in morning([], days, tap_shared).before] for days in (cold, mild, hot)
    ]
    assert keys == [["frost"], [], ["heat"]]  # there are pots
    assert morning([], hot, barrel_two_beds).before == ()  # and here none, nor anything new
    late = [replace(day, day=day.day + timedelta(days=3)) for day in cold]
    assert morning([], late, tap_shared).before == ()


def reserve_garden() -> Garden:
    """A tank whose water is moved on before 10 mm of rain, and one that takes it."""
    garden = barrel_two_beds()
    tank = garden.stores[0]
    other = tank.model_copy(
        update={"id": "reserve", "name": "Reserve", "at": tank.at.model_copy(update={"x_m": 30.0})}
    )
    moved = tank.model_copy(update={"moves_to": "reserve", "moves_m3": 0.2, "moves_before_m": 0.01})
    return edits.put_all(garden, [("stores", other), ("stores", moved)])


def filled_garden() -> Garden:
    """A tank that somebody fills up from a tap when it stands low."""
    garden = barrel_two_beds()
    tap = tap_two_beds().taps[0]
    tank = garden.stores[0].model_copy(
        update={"topped_by": tap.id, "top_up_below": 0.3, "top_up_to": 0.5, "top_up_every_d": 7}
    )
    return edits.put_all(garden, [("taps", tap), ("stores", tank)])


def said_of_store(log, build, rain_mm=None) -> str:
    days = [] if rain_mm is None else foreseen(rain_mm)
    found = morning([*gauge(DRY), *log], days, build).stores
    return next(store.said.code for store in found if store.store_id == "tank")


def low(share: float) -> LogEntry:
    return LogEntry("dip", at(1, 18), "tank", (share * barrel_two_beds().stores[0].height_m,))


def test_a_reserve_is_filled_before_rain_and_not_before_none():
    assert said_of_store([low(0.8)], reserve_garden, 25.0) == "today-store-move-on"
    assert said_of_store([low(0.8)], reserve_garden, 0.0) != "today-store-move-on"


def test_a_store_that_stands_low_is_filled_up_or_gone_easy_on():
    assert said_of_store([low(0.15)], filled_garden) == "today-store-fill-up"
    assert said_of_store([low(0.8)], filled_garden) != "today-store-fill-up"
    assert said_of_store([low(0.1)], barrel_two_beds).startswith("today-store-go-easy")


def test_what_a_store_holds_is_not_told_where_nobody_wrote_down_rain_or_dips():
    later = timedelta(days=3 * 365)

    def water(log, moved=later):
        entries = sorted((replace(e, at=e.at + moved) for e in log), key=lambda e: e.at)
        answer = answer_today(chain(barrel_two_beds), entries, TODAY + moved, ())
        (store,) = answer.stores
        assert (store.said.code == "today-store-not-known") == (store.water is None)
        return store.water

    assert water([]) is None
    assert water([], timedelta(0)) is not None  # the record has these days
    assert water([low(0.8)]) is not None
    assert water(gauge(DRY)) is not None
    old = low(0.8)
    assert water([replace(old, at=old.at - KEPT_UP)]) is None


def test_what_would_spill_is_to_be_used():
    assert said_of_store([low(0.98)], barrel_two_beds, 60.0) == "today-store-will-spill"


def test_nobody_is_told_to_use_nor_to_spare_what_rain_will_spill():
    assert said_of_store([low(0.1)], barrel_two_beds, 60.0) == "today-store-fills-and-spills"
    assert said_of_store([low(0.1)], barrel_two_beds, 0.0).startswith("today-store-go-easy")


def test_a_forecast_in_words_tells_of_those_days_alone():
    record = chain().record
    days = in_words.forecast_of({"soon": "much", "warmth": "hot"}, record, TODAY)
    assert [day.rain for day in days] == [in_words.RAIN_MM["much"]] * 2 + [None] * 5
    summer = np.isin(record.month, (7,))
    assert record.temp_max[summer].mean() < days[0].highest <= record.temp_max[summer].max()
    assert in_words.forecast_of({}, record, TODAY) == []
    assert in_words.forecast_of({"warmth": "frost"}, record, TODAY)[0].lowest < 0


def test_leaves_are_looked_at_a_week_after_planting_and_once():
    planted = LogEntry("planting", at(8), "bed")
    assert "leaf-bed" in {task.key for task in morning([planted]).due}
    assert "leaf-bed" not in {
        task.key for task in morning([LogEntry("planting", at(3), "bed")]).due
    }
    seen = LogEntry("leaf", at(1), "bed", (), "fine")
    assert "leaf-bed" not in {task.key for task in morning([planted, seen]).due}


def test_a_gauge_that_nobody_read_for_two_months_is_said_so():
    old = [LogEntry("rain", at(ago), None, (0.004,)) for ago in (75, 68, 61)]
    assert morning(old).unread.code == "today-gauge-unread"
    assert morning(gauge(DRY)).unread is None
    assert morning([]).unread is None


def test_what_was_run_and_paused_by_hand_counts():
    log = [*gauge(DRY), set_to("bed-timer", 40), set_to("beans-timer", 8)]
    run = LogEntry("run", at(1, 7), "bed-timer", (3600.0,))
    paused = LogEntry("pause", at(3, 7), "bed-timer", (3 * 86400.0,))
    plain, wetter, drier = (
        act_of(morning([*log, *more]), "bed-timer").left[1] for more in ([], [run], [paused])
    )
    assert drier < plain <= wetter


def test_what_is_felt_and_read_this_morning_counts_at_once():
    log = [*gauge(DRY), set_to("bed-timer", 18), set_to("beans-timer", 8)]
    plain = act_of(morning(log), "bed-timer").left[1]
    wet = act_of(morning([*log, LogEntry("rain", at(0, 7), None, (0.03,))]), "bed-timer").left[1]
    dry = act_of(
        morning([*log, LogEntry("finger", at(0, 13), "bed", (), "dry")]), "bed-timer"
    ).left[1]
    assert dry < plain < wet
    later = LogEntry("rain", at(0, 17), None, (0.03,))  # that fell today, and counts tomorrow
    assert act_of(morning([*log, later]), "bed-timer").left[1] == plain


def test_a_timer_that_is_paused_gives_nothing_until_its_days_are_over():
    log = [*gauge(WET), set_to("bed-timer", 30)]
    paused = LogEntry("pause", at(1, 7), "bed-timer", (3 * 86400.0,))
    act = act_of(morning([*log, paused]), "bed-timer")
    assert act.do is Do.LEAVE  # and not to be paused once more
    assert act.litres == 0
    over = LogEntry("pause", at(9, 7), "bed-timer", (2 * 86400.0,))
    assert act_of(morning([*log, over]), "bed-timer").do is Do.PAUSE


def moved_hose() -> Garden:
    """Beds in pairs on soaker hose, between which a hose is moved: no timer."""
    place = tap_two_beds().place
    return ways.begin(Garden(name="Pairs", place=place), way_kinds()["pairs"], {}, RECORD)


def trough() -> Garden:
    """Buckets in a trough that a float keeps full."""
    place = tap_two_beds().place
    return ways.begin(Garden(name="Trough", place=place), way_kinds()["troughs"], {}, RECORD)


def test_what_a_float_waters_grows_too():
    answer = morning(gauge(DRY), build=trough)
    assert answer.acts == ()
    assert answer.verdict.summary.code == "today-floats"
    assert answer.floated == ("Buckets",)


@pytest.mark.parametrize("build", [moved_hose, hand_bed, tap_two_beds])
def test_no_bed_that_grows_is_left_out_of_the_morning(build):
    told = chain(build)
    growing = [each for each in told.planted if each.need.grows_on(TODAY)]
    assert growing
    assert morning(gauge(DRY), build=build).acts
    zones = {act.about for act in morning(gauge(DRY), build=build).acts}
    by_zone = {bed.id: zone.zone.id for zone in told.zones for bed in zone.zone.watered}
    assert {by_zone.get(each.part.id, each.part.id) for each in growing} == zones


def test_a_hose_that_is_moved_runs_by_hand_alone_and_what_is_written_down_counts():
    log = [*gauge(DRY), LogEntry("run", at(39), "bed", (60.0,))]
    act = next(a for a in morning(log, build=moved_hose).acts if a.head_id == "bed")
    assert act.do is Do.BY_HAND  # for since that run nothing was written down
    assert act.minutes > 5
    run = LogEntry("run", at(1, 7), "bed-2", (act.minutes * 60.0,))  # of the other bed of the pair
    after = next(a for a in morning([*log, run], build=moved_hose).acts if a.head_id == "bed")
    assert after.left[1] > act.left[1] + 0.5
    assert after.minutes < act.minutes
    assert is_done(act, act.minutes * 60.0)
    cans = [*gauge(DRY), LogEntry("watered", at(39), "bed", (0.01,))]  # the like, told in litres
    dry = next(a for a in morning(cans, build=moved_hose).acts if a.head_id == "bed")
    assert dry.left[1] == approx(act.left[1], abs=0.05)
    plain = next(a for a in morning(gauge(DRY), build=moved_hose).acts if a.head_id == "bed")
    assert plain.left[1] > act.left[1] + 0.1  # where nobody writes, it is run as planned
