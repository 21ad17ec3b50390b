"""A day of planters behind a float: mass, the steady chain as its limit, a hand sum, and a dry end."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pytest import approx

from euhydra.core import planter_day, planters
from euhydra.core.planter_day import Behind

LITRE_AN_HOUR = 1e-3 / 3600
SHARES = planter_day.sun_shares(0.12)


def behind(count=6, bore=0.008, full=120.0, blocked=0.0, area=0.05) -> Behind:
    tube = planters.joining(0.3, bore, blocked)
    return Behind(full * LITRE_AN_HOUR, 0.02, 0.06, 0.06, np.full(count, area), tube, 0.02)


def stored(chain: Behind, day: planter_day.PlanterDay) -> float:
    """Against full, at midnight. [m³]"""
    levels = day.levels[-1] if len(chain.areas) else np.zeros(0)
    box = chain.box_area * (day.box[-1] - chain.set_level)
    return float(box + (chain.areas * (levels - chain.set_level)).sum())


def test_the_hours_make_a_day_and_noon_takes_its_share():
    assert SHARES.sum() == approx(1.0)
    assert SHARES[12] == approx(0.12)
    assert SHARES[:5].sum() == 0
    assert approx(np.roll(SHARES[::-1], 1)) == SHARES  # as much before noon as after it


@settings(max_examples=40)
@given(
    count=st.integers(0, 24),
    bore=st.floats(0.003, 0.02),
    full=st.floats(0.5, 300),
    litres=st.floats(0.0, 8.0),
    blocked=st.floats(0.0, 0.9),
    area=st.floats(0.005, 0.3),
)
def test_water_is_kept_and_nobody_drinks_more_than_it_wants(
    count, bore, full, litres, blocked, area
):
    chain = behind(count, bore, full, blocked, area)
    day = planter_day.run_day(chain, np.full(max(count, 1), litres * 1e-3), SHARES)
    assert day.came_in - day.drunk.sum() - stored(chain, day) == approx(0.0, abs=1e-8)
    assert (day.drunk <= day.wanted * (1 + 1e-9) + 1e-12).all()
    assert (np.diff(day.drunk) <= 1e-9).all()  # those behind never get more
    assert day.box.max() <= chain.set_level + 1e-6


def test_with_next_to_no_water_under_them_the_peak_hour_is_the_steady_chain():
    chain = behind(count=8, bore=0.006, area=1e-6)
    chain = Behind(**(vars(chain) | {"box_area": 1e-6}))
    day = planter_day.run_day(chain, np.full(8, 3.5e-3), SHARES)
    draw = 3.5e-3 * 0.12 / 3600
    box = chain.set_level - chain.band * 8 * draw / chain.full
    assert day.box[12] == approx(box, abs=1e-5)
    assert day.levels[12] == approx(
        planters.chain_levels(box, chain.tube, np.full(8, draw)), abs=1e-5
    )


def test_a_trough_without_inflow_falls_as_it_is_drunk():
    """By hand: 40 L from 2 m² take 2 cm off."""
    chain = Behind(0.0, 0.02, 0.06, 2.0, np.zeros(0), planters.joining(0.3, 0.01), 0.02)
    day = planter_day.run_day(chain, np.array([0.040]), SHARES)
    assert day.box[-1] == approx(0.04, abs=1e-6)
    assert day.box[12] == approx(0.06 - 0.02 * SHARES[:13].sum(), abs=1e-6)
    assert day.share == approx(1.0)
    # All that stands over the foot are 80 L; of 200 no more than that is drunk.
    dry = planter_day.run_day(chain, np.array([0.2]), SHARES)
    assert dry.drunk.sum() == approx(0.08, rel=0.05)


@pytest.mark.parametrize(("area", "is_dry"), [(0.001, True), (0.2, False)])
def test_water_under_them_carries_the_last_ones_over_noon(area, is_dry):
    day = planter_day.run_day(behind(count=12, bore=0.003, area=area), np.full(12, 2e-3), SHARES)
    assert bool(day.levels[:, -1].min() <= 0.022) is is_dry
