"""Settings beside common practice: the same, or with a reason."""

from dataclasses import replace

import pytest
from pytest import approx

from euhydra.core.schedule import Position
from euhydra.garden import demo, normals
from euhydra.planner.chain import run_chain
from euhydra.planner.time import habit

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
