"""Unlike beds on one timer: what would even them is told once, by what they ask, and does it."""

from dataclasses import replace
from functools import cache

import pytest
from pytest import approx

from euhydra.garden import demo, edits, normals
from euhydra.planner.chain import run_chain
from euhydra.planner.lay import proposed_manifold
from euhydra.planner.lay.wishes import Method, Wish
from euhydra.planner.steps import first_run
from euhydra.planner.time import evening
from euhydra.planner.water import solving, throttling
from gardens import four_on_a_tap

DRY = demo.normals() | {"precip_mm": [3.0] * 12, "wet_days": [1.0] * 12}
RECORD = normals.make_days(DRY, 3)
"""Hardly any rain, so that the dial gives what the beds ask."""


@cache
def unlike(width: float = 0.4):
    """Two wide beds and two narrow ones, with as many outlets each, on one timer."""
    garden = four_on_a_tap(20.0)
    garden = edits.replace(garden.model_copy(update={"pipes": (), "fittings": (), "timers": ()}))
    named = [
        bed.model_copy(update={"name": f"Bed {i + 1}", "width_m": width if i < 2 else 0.9})
        for i, bed in enumerate(garden.beds)
    ]
    garden = edits.put_all(garden, [("beds", bed) for bed in named])
    source = garden.taps[0].id
    wishes = [
        Wish(bed.id, source, Method.ROWS, "line-2", rows=2, timer="week-ball", has_valve=True)
        for bed in garden.beds
    ]
    chain = run_chain(proposed_manifold.lay_together(garden, wishes), RECORD)
    return chain.zones[0]


def test_branches_are_set_by_what_their_beds_ask():
    zone = unlike()
    asks = evening.asks_of(zone.time.design)
    set_right = throttling.throttle(zone.zone, asks)
    state = solving.solve_zone(set_right.zone, 1.0)
    total = sum(asks.values())
    for part_id, litres in asks.items():
        assert state.share_to(part_id) == approx(litres / total, rel=2 * throttling.NEAR)
    assert min(branch.loss for branch in set_right.branches) == 0  # the hardest stays open


def test_settings_and_first_run_tell_one_throttle():
    zone = unlike()
    design = zone.time.design
    asks = evening.asks_of(design)
    hardest = max((m for m in zone.time.months if m.choice), key=lambda m: m.need_l_day)
    found = evening.uneven(design, hardest.choice)
    assert found is not None
    assert {bed.need.part.id for bed, _ in found.soggy} == {"middle-bed-0", "middle-bed-1"}
    set_right = throttling.throttle(zone.zone, asks)
    answer = first_run.answer_first_run(zone.zone, [], None, asks)
    closed = {setting.name for setting in answer.settings if not setting.is_open}
    named = {branch.name for branch in set_right.branches if branch.loss > 0}
    assert closed & named == named
    assert named >= {"Bed 1", "Bed 2"}


def test_beds_that_ask_alike_need_no_throttle():
    zone = unlike(0.9)
    design = zone.time.design
    hardest = max((m for m in zone.time.months if m.choice), key=lambda m: m.need_l_day)
    assert evening.uneven(design, hardest.choice) is None


@pytest.mark.parametrize("gone", ["middle-bed-0", "middle-bed-3"])
def test_a_bed_that_asks_for_nothing_sets_no_throttle(gone):
    zone = unlike()
    design = zone.time.design
    beds = tuple(bed for bed in design.beds if bed.need.part.id != gone)
    assert evening.asks_of(replace(design, beds=beds)) is None
