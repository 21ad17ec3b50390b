import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pytest import approx

import stormwater
from euhydra.core.store import StoreRule, longest_run, run_store

YAS, YBS, SAME_DAY = (
    StoreRule.YIELD_AFTER_SPILLAGE,
    StoreRule.YIELD_BEFORE_SPILLAGE,
    StoreRule.SAME_DAY,
)

# Worked by hand from the rules of Jenkins et al. (1978) and Fewkes (1999):
# store 100 L, dead water 10 L, start 50 L, demand 30 L a day.
INFLOW = np.array([0.0, 0.0, 120.0, 0.0, 10.0])
HAND_TABLE = {
    #       supplied                 evening level             spill
    YAS: ([30, 10, 0, 30, 30], [20, 10, 100, 70, 50], [0, 0, 30, 0, 0]),
    SAME_DAY: ([30, 10, 30, 30, 30], [20, 10, 70, 40, 20], [0, 0, 30, 0, 0]),
    YBS: ([30, 10, 30, 30, 30], [20, 10, 100, 70, 50], [0, 0, 0, 0, 0]),
}


@pytest.mark.parametrize("rule", HAND_TABLE)
def test_hand_table(rule):
    run = run_store(INFLOW, np.full(5, 30.0), 100, rule, dead=10, start=50)
    supplied, level, spill = HAND_TABLE[rule]
    assert run.supplied == approx(supplied)
    assert run.level == approx(level)
    assert run.spill == approx(spill)


def test_reliabilities_of_the_hand_table():
    run = run_store(INFLOW, np.full(5, 30.0), 100, YAS, dead=10, start=50)
    assert run.volumetric_reliability == approx(100 / 150)
    assert run.time_reliability == approx(3 / 5)
    assert run.is_empty.sum() == 1
    assert longest_run(run.is_short) == 2


days = st.lists(st.tuples(st.floats(0, 500), st.floats(0, 300)), min_size=1, max_size=60)


@given(days, st.sampled_from(StoreRule), st.floats(20, 400), st.floats(0, 15), st.floats(0, 20))
def test_water_is_neither_made_nor_lost(record, rule, capacity, dead, start):
    inflow, demand = (np.array(c) for c in zip(*record, strict=True))
    run = run_store(inflow, demand, capacity, rule, dead, start)
    assert abs(run.mass_balance_residual) < 1e-6
    assert (run.supplied <= demand + 1e-9).all()
    assert (run.level >= -1e-9).all()
    assert (run.level <= capacity + 1e-9).all()


@given(days, st.floats(20, 400))
def test_the_cautious_rule_never_gives_more(record, capacity):
    inflow, demand = (np.array(c) for c in zip(*record, strict=True))
    given_by = {
        rule: run_store(inflow, demand, capacity, rule).supplied.sum() for rule in StoreRule
    }
    assert given_by[YAS] <= given_by[SAME_DAY] + 1e-6
    assert given_by[SAME_DAY] <= given_by[YBS] + 1e-6


def textbook(inflow: list[float], demand: list[float], size: float, rule: StoreRule) -> list[float]:
    """Yields by the equations as Fewkes (1999) prints them (from memory), with an empty start.

    YAS: Y = min(D, V₋), V = min(V₋ + Q − Y, S − Y). YBS: Y = min(D, V₋ + Q), V = min(V₋ + Q − Y, S).
    """
    volume, yields = 0.0, []
    for q, d in zip(inflow, demand, strict=True):
        if rule is YAS:
            y = min(d, volume)
            volume = min(volume + q - y, size - y)
        else:
            y = min(d, volume + q)
            volume = min(volume + q - y, size)
        yields.append(y)
    return yields


@given(days, st.sampled_from([YAS, YBS]), st.floats(20, 400))
def test_against_the_textbook_form_of_the_rules(record, rule, size):
    inflow, demand = (np.array(c) for c in zip(*record, strict=True))
    run = run_store(inflow, demand, size, rule)
    assert run.supplied == approx(textbook(inflow.tolist(), demand.tolist(), size, rule), abs=1e-6)


def test_against_a_storm_water_engine(tmp_path):
    # A storage unit with even inflow and draw through each day does what the hopeful rule does:
    # within one day its level only rises or only falls.
    rng = np.random.default_rng(3)
    inflow = np.where(rng.random(60) < 0.35, rng.gamma(1.0, 160.0, 60), 0.0)
    engine = stormwater.evening_levels(inflow, 40.0, 300.0, 1.0, 150.0, tmp_path)
    ours = run_store(inflow, np.full(60, 40.0), 300.0, YBS, start=150.0)
    assert engine == approx(ours.level, abs=0.3)  # 0.1% of the store
    assert (ours.spill > 0).sum() > 3  # and it was full more than once
