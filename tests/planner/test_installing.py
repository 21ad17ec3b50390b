from itertools import pairwise

import pytest
from pytest import approx

from euhydra.garden.stores import Store
from euhydra.planner.answers import Mark
from euhydra.planner.store.installing import plan_installation
from euhydra.web.drawing import mounting
from gardens import one_barrel


def store(**changes: object) -> Store:
    return Store.model_validate(one_barrel().stores[0].model_dump() | changes)


@pytest.mark.parametrize(
    ("rim", "mark"), [(1.2, Mark.WORKS), (1.08, Mark.BUT), (1.02, Mark.FAILS), (None, Mark.WORKS)]
)
def test_the_hose_has_to_fall_and_the_inlet_to_fit(rim, mark):
    assert plan_installation(store(rim_m=rim)).verdict.mark is mark


def test_marks_follow_common_practice():
    # Field practice (CP): diverter 50 mm below the rim's line; inlet over the highest water.
    plan = plan_installation(store(rim_m=1.2))
    assert plan.rim - plan.diverter == approx(0.05)
    assert plan.inlet > plan.overflow
    assert plan.fall == approx(1.15 - 1.03)


def test_the_lowered_overflow_that_is_proposed_cures_it():
    plan = plan_installation(store(rim_m=1.08))
    lower = plan.verdict.reasons[0].values["lower"].value
    assert plan_installation(store(rim_m=1.08, height_m=1.0 - lower)).verdict.mark is Mark.WORKS


def test_the_drawing_is_to_scale_and_its_words_do_not_overlap():
    plan = plan_installation(store(rim_m=1.2))
    sheet = mounting.draw(plan)
    a_metre = (sheet.base - sheet.rim) / 1.2
    assert sheet.ground - sheet.base == approx(0.4 * a_metre, abs=0.2)
    assert sheet.base - sheet.tap == approx(0.06 * a_metre, abs=0.2)
    heights = [label.text_y for label in sheet.labels]
    assert all(b - a >= mounting.LEAST_GAP - 0.01 for a, b in pairwise(heights))
