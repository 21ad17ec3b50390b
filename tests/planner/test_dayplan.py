"""The order of a day: what a source, a body and an owner's wish allow at once."""

from itertools import combinations, pairwise

import numpy as np
import pytest
from pytest import approx

from euhydra.garden import catalogue, demo, edits, normals
from euhydra.planner.answers import Gap
from euhydra.planner.catch import taps
from euhydra.planner.chain import run_chain
from euhydra.planner.season import week
from euhydra.planner.time import dayplan
from euhydra.planner.time.answer import TimeAnswer
from euhydra.planner.time.dayplan import DayPlan, Slot
from gardens import beds_alike, four_on_a_tap, one_barrel, with_part
from sound_gardens import RECORD as OUTSIDE
from sound_gardens import tap_two_beds
from sweeps import swept

RECORD = normals.make_days(demo.normals(), 2)
JULY = 7
HOUR = 3600.0


def times(garden) -> list[TimeAnswer]:
    return [z.time for z in run_chain(garden, RECORD).zones if isinstance(z.time, TimeAnswer)]


def july(garden) -> DayPlan:
    return dayplan.plan_day(times(garden), JULY)


def overlap(one: Slot, other: Slot) -> bool:
    return one.start < other.end and other.start < one.end


def test_zones_on_one_store_run_one_after_another():
    plan = july(beds_alike(4))
    assert len({slot.zone.id for slot in plan.slots}) == 4
    assert not any(overlap(a, b) for a, b in combinations(plan.slots, 2))
    # No gap between them either: the store is never idle while somebody waits.
    for before, after in zip(plan.slots, plan.slots[1:], strict=False):
        assert after.start == approx(before.end)
    assert {z.id for z in plan.shifted} == {s.zone.id for s in plan.slots[1:]}


def test_who_does_not_end_in_time_is_late():
    garden = beds_alike(10)
    plan = july(garden)
    window = garden.timers[0].window_s
    first = plan.slots[0].start
    late = {s.zone.id for s in plan.slots if s.end > first + window + 60}
    assert {found.zone.id for found in plan.late} == late
    assert all(found.over > 60 for found in plan.late)
    assert late


@pytest.mark.parametrize("fills_in_s", [24.0, 60.0, 110.0])
def test_no_more_run_at_once_than_the_tap_carries(fills_in_s):
    garden = four_on_a_tap(fills_in_s)
    plan = july(garden)
    most = taps.usable_flow(garden.taps[0]) * 1000
    assert len({slot.zone.id for slot in plan.slots}) == 4
    for slot in plan.slots:
        beside = [s for s in plan.slots if s.start <= slot.start < s.end]
        together = sum(s.litres / s.seconds for s in beside)
        assert together <= most or len(beside) == 1


def test_a_strong_tap_waters_several_at_once_and_a_weak_one_in_turn():
    strong, weak = july(four_on_a_tap(20.0)), july(four_on_a_tap(240.0))
    assert any(overlap(a, b) for a, b in combinations(strong.slots, 2))
    assert not any(overlap(a, b) for a, b in combinations(weak.slots, 2))
    assert weak.slots[-1].end > strong.slots[-1].end


@pytest.mark.parametrize("minutes", [20, 40])
def test_no_zone_is_set_for_longer_than_its_tap_may_run_and_all_together_are_told(minutes):
    garden = tap_two_beds()
    tap = garden.taps[0].model_copy(update={"window_s": minutes * 60.0})
    chain = run_chain(edits.put(garden, "taps", tap), OUTSIDE)
    answers = [zone.running for zone in chain.zones]
    for answer in answers:
        for month in answer.set_months:
            position = month.setting.position
            assert position.run_minutes * position.runs_a_day <= minutes + 1e-9
    plan = dayplan.busiest_day(answers)
    runs = sorted((slot.start, slot.end) for slot in plan.slots)
    is_open = np.zeros(24 * 3600, dtype=bool)
    for start, end in runs:
        is_open[int(start) : int(end)] = True
    (found,) = plan.too_long_open or (None,)
    if is_open.sum() <= minutes * 60 + 60:
        assert found is None
    else:
        assert found.seconds == approx(is_open.sum(), abs=2)
    assert (minutes == 40) == (found is not None)


def test_one_body_opens_one_valve_at_a_time():
    garden = four_on_a_tap(20.0)
    kind = next(k.id for k in catalogue.timers().values() if k.outlets >= 4)
    for position in range(4):
        body = garden.timers[0].id if position else None
        garden = with_part(garden, "timers", position, kind=kind, body=body)
    plan = july(garden)
    assert not any(overlap(a, b) for a, b in combinations(plan.slots, 2))


def test_cold_water_waits_for_the_sun_on_crops_that_like_it_warm():
    warm = july(four_on_a_tap(20.0))  # peppers
    assert warm.slots[0].start == dayplan.WARM_HOUR
    garden = four_on_a_tap(20.0)
    for position in range(4):
        garden = with_part(garden, "beds", position, crop="cabbage")
    asked = garden.timers[0].starts_s
    assert min(s.start for s in july(garden).slots) == asked < dayplan.WARM_HOUR


def test_a_later_wish_is_kept():
    garden = with_part(beds_alike(2), "timers", 1, starts_s=9 * HOUR)
    plan = july(garden)
    by_id = {s.zone.id: s for s in plan.slots}
    assert by_id["shed-timer-1"].start >= 9 * HOUR
    assert by_id["shed-timer-0"].start < 9 * HOUR


def test_a_store_is_topped_up_before_the_first_run():
    garden = edits.put(one_barrel(), "taps", demo.garden().taps[0])
    garden = with_part(
        garden,
        "stores",
        topped_by="garden-tap",
        top_up_below=0.25,
        top_up_to=0.5,
        outlet_height_m=0.05,
    )
    fill, *runs = july(garden).slots
    assert (fill.zone, fill.source_id) == (None, "garden-tap")
    assert fill.end == approx(dayplan.FIRST_HOUR)
    store, tap = garden.stores[0], garden.taps[0]
    assert fill.litres == approx(0.25 * store.total_m3 * 1000)
    assert fill.seconds == approx(fill.litres / 1000 / taps.usable_flow(tap))
    assert all(run.start >= fill.end for run in runs)


def test_a_week_shows_a_store_filled_on_the_days_on_which_the_season_has_it_filled():
    garden = edits.put(one_barrel(), "taps", demo.garden().taps[0])
    garden = with_part(garden, "stores", topped_by="garden-tap", top_up_below=0.5, top_up_to=0.9)
    chain = run_chain(garden, RECORD)
    (topped,) = chain.season.run.topped
    filled = []
    for month in range(5, 10):
        shown = week.answer_week(times(garden), chain.season, month)
        first = int(np.flatnonzero(RECORD.days == shown.first)[0])
        fills = {day: slot for day, slot in shown.runs if slot.zone is None}
        due = {day: float(topped[first + day]) for day in range(7) if topped[first + day] > 5}
        assert {day: slot.litres for day, slot in fills.items()} == approx(due)
        filled += list(due.values())
        (level,) = shown.levels
        if fills:
            (day, slot), *_ = fills.items()
            at_end = level.moments.index(day * 24 * HOUR + slot.end)
            assert level.litres[at_end] - level.litres[at_end - 1] == approx(slot.litres)
    assert 0 < len(filled) < 5 * 7


def test_pots_spread_their_runs_over_the_day_and_beds_pause_for_the_soil():
    plan = july(demo.garden())
    for answer in times(demo.garden()):
        starts = plan.starts_of(answer.zone)
        setting = answer.months[JULY - 1].setting
        assert len(starts) == setting.position.runs_a_day
        gaps = [b - a for a, b in pairwise(starts)]
        assert all(gap >= dayplan.SOAK for gap in gaps)
        assert max(starts) <= dayplan.LAST_HOUR + HOUR


def test_what_waters_nothing_says_so_whatever_the_weather():
    garden = one_barrel()
    garden = edits.remove(garden, garden.beds[0].id)
    zone = run_chain(garden, RECORD).zones[0]
    assert isinstance(zone.time, Gap)
    assert "waters no bed" in str(zone.time.sentence)


def test_a_day_without_timers_is_empty():
    assert dayplan.plan_day([], JULY) == DayPlan((), (), ())


@pytest.mark.parametrize("count", swept([4, 10, 16], [4]))
def test_a_rota_that_does_not_fit_says_by_how_much_or_over_how_many_days_it_does(count):
    garden = beds_alike(count)
    timers = tuple(t.model_copy(update={"kind": "by-hand"}) for t in garden.timers)
    chain = run_chain(edits.replace(garden, timers=timers), RECORD)
    found = week.answer_week(times(edits.replace(garden, timers=timers)), chain.season, JULY)
    slots = [slot for slot in found.plan.slots if slot.zone is not None]
    takes, window = sum(slot.seconds for slot in slots), garden.timers[0].window_s
    codes = {reason.code: reason for reason in found.verdict.reasons}
    # By hand: one opens one at a time, so the day takes the sum of its runs.
    if takes <= window:
        assert "season-rota-fits" not in codes
        return
    assert found.verdict.summary.code == "season-day-all-run"
    settings = [a.months[JULY - 1].setting for a in times(edits.replace(garden, timers=timers))]
    every = min(setting.position.mean_days for setting in settings if setting)
    days = -(-takes // window)
    if days <= every:
        assert codes["season-rota-fits"].values["days"].value == approx(days * 86400)
    else:
        told = codes["season-rota-too-long"].values
        assert told["over"].value == approx(takes - window * every)
        assert told["days"].value == approx(days * 86400)
