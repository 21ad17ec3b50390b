"""Settings beside common practice: the same, or with a reason."""

from dataclasses import replace
from datetime import date, timedelta

import pytest
from pytest import approx

from euhydra.core.schedule import Position
from euhydra.garden import demo, normals
from euhydra.planner.chain import run_chain
from euhydra.planner.dates import MONTH_NAMES
from euhydra.planner.time import habit
from euhydra.planner.time.set_first import set_first

RECORD = normals.make_days(demo.normals(), 10)


@pytest.fixture(scope="module")
def bottom():
    chain = run_chain(demo.garden(), RECORD)
    return next(z.running for z in chain.zones if z.zone.id == "bottom-bed-timer")


def set_to(answer, position: Position):
    """The answer with one position in all its months."""
    months = tuple(
        replace(m, choice=replace(m.choice, setting=replace(m.setting, position=position)))
        if m.choice
        else m
        for m in answer.months
    )
    return replace(answer, months=months)


@pytest.mark.parametrize(
    ("days", "code"),
    [(2.0, "time-habit-same"), (7.0, "time-habit-seldomer"), (1.0, "time-habit-oftener")],
)
def test_a_difference_is_told_with_its_reason(bottom, days, code):
    said = habit.beside_habit(set_to(bottom, Position(45.0, days)))
    assert code in [sentence.code for sentence in said]
    assert "time-habit-minutes" not in [sentence.code for sentence in said]


def test_a_run_that_differs_is_told_by_what_it_brings(bottom):
    said = habit.beside_habit(set_to(bottom, Position(120.0, 2.0)))
    told = [s for s in said if s.code == "time-habit-minutes"][-1]
    bed = bottom.beds[0]
    july = max(bottom.months, key=lambda m: m.need_l_day).month
    assert told.values["drinks"].value == approx(bed.need.crop_et_a_day[july - 1] * 2 / 1000)
    litres = bottom.design.litres(habit.BED_MINUTES, july)
    assert told.values["brings"].value == approx(litres * bed.depth_per_litre / 1000)


def test_what_to_set_first_is_for_what_is_new_else_of_the_month_or_the_next_with_a_setting(bottom):
    on = {m.month: m.setting.position for m in bottom.months if m.setting}
    (need,) = (bed.need for bed in bottom.beds)
    new = bottom.programme.new
    assert 0 < len(on) < 12
    days = [date(2027, 1, 1) + timedelta(days=n) for n in range(365)]
    said = [set_first(bottom, day) for day in days]
    for day, told in zip(days, said, strict=True):
        if need.is_new_on(day):
            assert told.code == "time-set-while-new"
            continue
        ahead = (day + timedelta(days=n) for n in range(365))
        first = next(d for d in ahead if need.is_new_on(d) or (d.month in on and need.grows_on(d)))
        if need.is_new_on(first):
            assert told.code == "time-set-once-planted"
            assert told.values["run"].value == approx(new.run_minutes * 60)
        else:
            is_now = first.month == day.month
            assert told.code == ("time-set-now" if is_now else "time-set-later")
            assert told.values["month"] == MONTH_NAMES[first.month - 1]
            assert told.values["run"].value == approx(on[first.month].run_minutes * 60)
    planting = need.part.own_planting.planting
    first = next(
        day for day, told in zip(days, said, strict=True) if told.code == "time-set-while-new"
    )
    assert (first.month, first.day) == (planting.month, planting.day)
    assert set_first(replace(bottom, stands_by=True), date(2027, 7, 1)) is None
