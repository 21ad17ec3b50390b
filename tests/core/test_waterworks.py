"""Stores, sources and beds: against hand-worked days, the single-store rule, and themselves."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pytest import approx

from euhydra.core.delivery import DrainCurve
from euhydra.core.store import StoreRule, run_store
from euhydra.core.waterworks import (
    Line,
    Supply,
    Tank,
    TopUp,
    Transfer,
    Watering,
    Waterworks,
)
from euhydra.core.works_days import SpillLoopError
from euhydra.core.works_record import run_waterworks

YAS, SAME_DAY = StoreRule.YIELD_AFTER_SPILLAGE, StoreRule.SAME_DAY
CURVE = DrainCurve.of([10, 60, 120, 200], [12, 20, 26, 32])


def daily(*litres: float) -> np.ndarray:
    return np.array(litres, dtype=float)


def fast(capacity: float) -> DrainCurve:
    """A line that gives whatever is asked."""
    return DrainCurve.of([0.0, capacity], [1e6, 1e6])


def tap(tank: int, capacity: float, days: int) -> Line:
    return Line(tank, fast(capacity), np.ones(days), is_timed=False)


def test_an_overflow_chain_fills_in_order_and_strands_what_has_no_outlet():
    # By hand: A (100 L, no outlet) spills to B (100 L); B gives 30 L a day. Strict rule.
    # day 1: A 0+150 → 100, spill 50; B 0+50, gives 0 → 50. Day 2: B gives 30 → 20; day 3: 20 → 0.
    tanks = (
        Tank(100, 0, 0, YAS, daily(150, 0, 0, 120), spills_to=1),
        Tank(100, 0, 0, YAS, daily(0, 0, 0, 0)),
    )
    run = run_waterworks(
        Waterworks(tanks, (), (Watering(daily(30, 30, 30, 30), (tap(1, 100, 4),)),))
    )
    assert run.level[0] == approx([100, 100, 100, 100])
    assert run.spill[0] == approx([50, 0, 0, 120])
    assert run.given[0][0] == approx([0, 30, 20, 0])
    assert run.level[1] == approx([50, 20, 0, 100])
    assert run.spill[1] == approx([0, 0, 0, 20])
    # Linked instead, the same 200 L and the same rain would all have been there to draw.
    both = Tank(200, 0, 0, YAS, daily(150, 0, 0, 120))
    linked = run_waterworks(
        Waterworks((both,), (), (Watering(daily(30, 30, 30, 30), (tap(0, 200, 4),)),))
    )
    assert linked.given[0][0] == approx([0, 30, 30, 30])


def test_sources_are_taken_in_order_and_a_shared_one_runs_out():
    # By hand: 20 L in the tank, then the well with 15 L a day for two beds of 30 L.
    tanks = (Tank(100, 0, 20, YAS, daily(0, 0)),)
    beds = (
        Watering(daily(30, 30), (tap(0, 100, 2), 0)),
        Watering(daily(30, 30), (0,)),
    )
    run = run_waterworks(Waterworks(tanks, (Supply(daily(15, 15)),), beds))
    assert run.given[0][0] == approx([20, 0])
    assert run.given[0][1] == approx([10, 15])
    assert run.given[1][0] == approx([5, 0])
    assert run.supplied(0) == approx([30, 15])


def test_a_top_up_fills_to_its_mark_and_no_further():
    tanks = (Tank(100, 0, 25, YAS, daily(0, 0, 0)),)
    works = Waterworks(
        tanks,
        (Supply(daily(12, 12, 12)),),
        (Watering(daily(20, 20, 20), (tap(0, 100, 3),)),),
        top_ups=(TopUp(0, 0, below=15, up_to=30),),
    )
    run = run_waterworks(works)
    # 25 − 20 = 5; below 15, so 12 of the 25 missing come: 17 − 17 = 0; then 12 again.
    assert run.topped[0] == approx([0, 12, 12])
    assert run.given[0][0] == approx([20, 17, 12])
    assert run.residual(0) == approx(0)


def test_water_is_moved_into_the_reserve_before_rain_as_far_as_it_has_room():
    tanks = (
        Tank(100, 10, 90, YAS, daily(0, 80)),
        Tank(60, 0, 40, YAS, daily(0, 0)),
    )
    moves = (Transfer(0, 1, most=50, is_due=np.array([True, False])),)
    run = run_waterworks(Waterworks(tanks, (), (), transfers=moves))
    assert run.moved[0] == approx([20, 0])  # the reserve had 20 L of room
    assert run.spill[0] == approx([0, 50])  # without it, 70 would have run over
    assert run.level[1] == approx([60, 60])
    assert run.residual(0) == approx(0)
    assert run.residual(1) == approx(0)


def test_a_ring_of_overflows_is_refused():
    nothing = daily(0)
    tanks = (Tank(9, 0, 0, YAS, nothing, 1), Tank(9, 0, 0, YAS, nothing, 0))
    with pytest.raises(SpillLoopError):
        run_waterworks(Waterworks(tanks, (), ()))


records = st.lists(
    st.tuples(st.floats(0, 400), st.floats(0, 200), st.floats(0, 60)), min_size=1, max_size=50
)


@given(records, st.sampled_from(StoreRule))
def test_one_tank_and_one_wide_line_are_the_plain_store_rule(record, rule):
    inflow, _, wanted = (np.array(c) for c in zip(*record, strict=True))
    tank = Tank(150, 0, 80, rule, inflow)
    bed = Watering(wanted, (tap(0, 150, len(record)),))
    run = run_waterworks(Waterworks((tank,), (), (bed,)))
    plain = run_store(inflow, wanted, 150, rule, 0, 80)
    # A line that gives 1e6 L/h still falls short of the last drop of a YBS day over capacity.
    if rule is not StoreRule.YIELD_BEFORE_SPILLAGE:
        assert run.level[0] == approx(plain.level, abs=1e-6)
        assert run.given[0][0] == approx(plain.supplied, abs=1e-6)


def works_of(record: list[tuple[float, float, float]], rule: StoreRule) -> Waterworks:
    upper, lower, wanted = (np.array(c) for c in zip(*record, strict=True))
    hours = np.where(wanted > 20, 2.0, 0.0)
    days = len(record)
    return Waterworks(
        (Tank(200, 10, 150, rule, upper, 1), Tank(90, 0, 30, rule, lower)),
        (Supply(np.full(days, 8.0)),),
        (
            Watering(np.where(hours > 0, wanted, 0), (Line(0, CURVE, hours, is_timed=True), 0)),
            Watering(wanted, (tap(1, 90, days), tap(0, 200, days), 0)),
        ),
        (TopUp(1, 0, 20, 40),),
        (Transfer(0, 1, 15, upper > 100),),
    )


@settings(max_examples=60)
@given(records, st.sampled_from(StoreRule))
def test_mass_balance_closes_for_every_tank(record, rule):
    works = works_of(record, rule)
    run = run_waterworks(works)
    for i, tank in enumerate(works.tanks):
        assert abs(run.residual(i)) < 1e-7
        assert (run.level[i] >= -1e-9).all()
        assert (run.level[i] <= tank.capacity + 1e-9).all()
    taken = run.given[0][1] + run.given[1][2] + run.topped[0]
    assert (taken <= 8 + 1e-9).all()


@settings(max_examples=40)
@given(records, st.sampled_from(StoreRule), st.floats(0.2, 4))
def test_many_widths_side_by_side_are_each_by_itself(record, rule, width):
    works = works_of(record, rule)
    widths = np.array([1.0, width])
    side_by_side = run_waterworks(works, widths, 0)
    alone = run_waterworks(works)
    for tank in range(2):
        assert side_by_side.level[tank][:, 0] == approx(alone.level[tank], abs=1e-6)
        assert side_by_side.spill[tank][:, 0] == approx(alone.spill[tank], abs=1e-6)
    # A tank made wider by hand: every volume, its curve and its start times the width.
    upper = works.tanks[0]
    wider = replace(
        upper, capacity=upper.capacity * width, dead=upper.dead * width, start=upper.start * width
    )
    curve = DrainCurve.of([v * width for v in CURVE.volume], list(CURVE.flow))
    first, second = works.waterings
    first = Watering(first.wanted, (replace(first.sources[0], curve=curve), 0))
    second = Watering(second.wanted, (second.sources[0], tap(0, 200 * width, len(record)), 0))
    by_hand = run_waterworks(
        replace(works, tanks=(wider, works.tanks[1]), waterings=(first, second))
    )
    assert side_by_side.level[0][:, 1] == approx(by_hand.level[0], abs=1e-5)
    assert side_by_side.spill[1][:, 1] == approx(by_hand.spill[1], abs=1e-5)


def test_a_lower_barrel_gives_less_in_the_same_time():
    tank = Tank(200, 10, 150, YAS, np.zeros(4))
    bed = Watering(np.full(4, 15.0), (Line(0, CURVE, np.ones(4), is_timed=True),))
    given_l = run_waterworks(Waterworks((tank,), (), (bed,))).given[0][0]
    assert (np.diff(given_l) < 0).all()
