"""Fingers and leaves read in months in which the timer is off, and where little is known."""

from dataclasses import replace
from datetime import date, datetime, time, timedelta

import pytest

from euhydra.garden import demo, normals
from euhydra.garden.logbook import LogEntry
from euhydra.planner import chain
from euhydra.planner.keeping import advice, hindcast, signs
from euhydra.planner.keeping.advice import Advice
from euhydra.planner.season import replay
from euhydra.planner.time.answer import TimeAnswer

MORNING = time(9)


@pytest.fixture(scope="module")
def planned():
    return chain.run_chain(demo.garden(), normals.make_days(demo.normals()))


@pytest.fixture(scope="module")
def rainy():
    """The demo with a wet May and November, in which timers are off though something grows."""
    months = {name: list(values) for name, values in demo.normals().items()}
    for month in (4, 10):
        months["precip_mm"][month], months["wet_days"][month] = 350.0, 27.0
    found = chain.run_chain(demo.garden(), normals.make_days(months))
    return off_in(off_in(found, "top-timer", 5), "bottom-bed-timer", 11)


def off_in(planned, zone_id: str, month: int):
    """The chain with a timer that is off in a month."""

    def off(time):
        if not isinstance(time, TimeAnswer) or time.zone.id != zone_id:
            return time
        programme = time.programme.months
        told = [replace(m, choice=None, need=None) if m.month == month else m for m in time.months]
        plan = tuple(None if i == month else p for i, p in enumerate(programme, 1))
        return replace(time, months=tuple(told), programme=replace(time.programme, months=plan))

    planted = tuple(replace(plant, time=off(plant.time)) for plant in planned.planted)
    zones = tuple(replace(zone, time=off(zone.time)) for zone in planned.zones)
    season = replay.replay(planned.garden, planned.record, chain.ways_of(planted))
    return replace(planned, planted=planted, zones=zones, season=season)


def felt(word: str, day: date, bed: str, kind: str = "finger") -> LogEntry:
    return LogEntry(kind, datetime.combine(day, MORNING), bed, (), word)


def dry_since(day: date, days: int) -> LogEntry:
    """The gauge was empty: from here on rain is what the log says, and it says none."""
    return LogEntry("rain", datetime.combine(day - timedelta(days), MORNING), None, (0.0,))


def read(planned, today: date, *entries: LogEntry) -> list[advice.BedReading]:
    told = hindcast.hindcast(planned, sorted(entries, key=lambda e: e.at), today)
    return advice.readings(told, today)


def test_dry_in_a_month_that_is_off_is_set_as_in_the_next(rainy):
    today = date(2026, 5, 31)
    (found,) = read(rainy, today, dry_since(today, 26), felt("dry", today, "top-bed"))
    assert (found.advice, found.by_sums) == (Advice.RAISE, "dry")
    assert found.reasons[-2].code == "keeping-plan-timer-month"
    assert "set it as in June" in str(found.reasons[-1])
    june = next(z.time for z in rainy.zones if z.zone.id == "top-timer").months[5]
    run = found.reasons[-1].values["run"]
    assert (run.value, run.kind) == (june.setting.position.run_minutes * 60, "minutes")


def test_dry_though_nothing_was_given_is_no_clog(rainy):
    today = date(2026, 11, 8)
    (found,) = read(rainy, today, dry_since(today, 3), felt("dry", today, "bottom-bed"))
    assert found.by_sums != "dry"
    assert found.advice is Advice.RAISE
    said = " ".join(str(reason) for reason in found.reasons)
    assert "Nothing was given" in said
    assert "clog" not in said
    assert "set it as in October" in said


def test_muddy_in_a_month_that_is_off_asks_for_no_other_setting(rainy):
    today = date(2026, 11, 8)
    wet = LogEntry("watered", datetime.combine(today - timedelta(1), MORNING), "bottom-bed", (1.0,))
    dry = dry_since(today, 3)
    (found,) = read(rainy, today, dry, wet, felt("muddy", today, "bottom-bed"))
    assert found.advice is Advice.CUT
    assert found.reasons[-1].code == "keeping-plan-timer-month"


def test_what_wants_something_done_comes_first(planned):
    today = date(2026, 7, 20)
    found = read(
        planned,
        today,
        dry_since(today, 40),
        felt("right", today, "top-bed"),
        felt("dry", today, "middle-bed"),
        felt("muddy", today, "bottom-bed"),
    )
    assert [r.advice is Advice.LEAVE for r in found] == [False, False, True]
    assert {r.name for r in found} == {"Top step", "Middle step", "Bottom step"}


def test_a_leaf_of_other_days_than_the_finger_is_read_by_itself(planned):
    today = date(2026, 7, 20)
    found = read(
        planned,
        today,
        dry_since(today, 40),
        felt("muddy", today - timedelta(5), "top-bed"),
        felt("droop", today, "top-bed", "leaf"),
    )
    assert "muddy" not in str(found[0].summary)
    assert found[0].entry.kind == "leaf"


@pytest.mark.parametrize("days", [signs.FRESH_D + 1, 60])
def test_what_was_felt_long_ago_says_nothing_of_today(planned, days):
    today = date(2026, 7, 20)
    old = felt("dry", today - timedelta(days), "top-bed")
    assert read(planned, today, dry_since(today, 80), old) == []


def test_rain_that_nobody_logged_is_said(planned):
    today = date(2026, 7, 20)
    (found,) = read(planned, today, felt("dry", today, "top-bed"))
    assert any(reason.code == "keeping-rain-log-sums" for reason in found.reasons)
