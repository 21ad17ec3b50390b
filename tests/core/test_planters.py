"""Float valves and chains of planters, against hand sums, laws in closed form and the public-domain engine."""

from math import log, pi, sqrt

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pytest import approx

import engine
from euhydra.core import planters
from euhydra.core.network import NetworkBuilder
from euhydra.core.planters import FloatSupply, FloatValve, PlanterTube
from euhydra.core.wicking import Lift
from euhydra.formats import inp

LITRE_A_DAY = 1e-3 / 86400
LITRE_AN_HOUR = 1e-3 / 3600


def supply(head: float = 0.8, length: float = 8.0, bore: float = 0.0127) -> FloatSupply:
    return FloatSupply(head, PlanterTube(length, bore))


def valve(flow: float = 120.0, band: float = 0.02, level: float = 0.06) -> FloatValve:
    return FloatValve.giving(flow * LITRE_AN_HOUR, 1.0, band, level)


def test_a_box_stands_so_far_under_its_set_level_as_the_valve_is_open_by_hand():
    # 120 L/h at 1 m; at 0.25 m, on no line to speak of, half of that: 60. Thirty take half of it.
    short = FloatSupply(0.25, PlanterTube(0.001, 0.1))
    assert planters.box_level(short, valve(), 30 * LITRE_AN_HOUR) == approx(0.05, abs=1e-6)
    nearly = planters.box_level(short, valve(), 59.9 * LITRE_AN_HOUR)
    assert nearly == approx(0.06 - 0.02 * 59.9 / 60, abs=1e-6)
    assert planters.box_level(short, valve(), 61 * LITRE_AN_HOUR) is None
    assert planters.box_level(short, valve(), 0.0) == 0.06


def test_slow_water_in_a_tube_is_hagen_and_poiseuille():
    """128 ν L q ÷ (π g d⁴), for smooth laminar flow."""
    tube = PlanterTube(0.3, 0.008)
    flow = np.array([2.0, 5.0]) * LITRE_AN_HOUR
    law = 128 * 1.004e-6 * 0.3 * flow / (pi * 9.80665 * 0.008**4)
    assert tube.loss(flow) == approx(law)
    # Three quarters blocked leave half the width, and so sixteen times the loss.
    assert PlanterTube(0.3, 0.008, 0.75).loss(flow) == approx(16 * law)


def test_each_tube_carries_what_all_behind_it_draw():
    tube = planters.joining(0.3, 0.008)
    draws = np.array([1.0, 2.0, 3.0]) * LITRE_AN_HOUR
    levels = planters.chain_levels(0.05, tube, draws)
    losses = tube.loss(np.array([6.0, 5.0, 3.0]) * LITRE_AN_HOUR)
    assert 0.05 - levels == approx(np.cumsum(losses))
    assert planters.starved(levels, float(levels[1])) == [3]


@pytest.mark.parametrize(("count", "blocked"), [(6, 0.0), (12, 0.5), (6, 0.75)])
def test_a_chain_stands_as_the_engine_has_it(count, blocked, tmp_path):
    """The valve as an emitter at its solved opening, planters as demands, in the public-domain engine."""
    draw = 3.5 * LITRE_A_DAY * 24 * 0.12
    source, float_valve = supply(), valve()
    tube = planters.joining(0.3, 0.008, blocked)
    opening = planters.opening_for(source, float_valve, count * draw)
    box = planters.box_level(source, float_valve, count * draw)
    levels = planters.chain_levels(box, tube, np.full(count, draw))
    builder = NetworkBuilder()
    builder.add_source("barrel", source.head)
    builder.add_junction("valve", 0.0, 0.0, float_valve.coefficient * opening, 0.5)
    builder.add_pipe("line", "barrel", "valve", 8.0, 0.0127, planters.PLASTIC)
    builder.add_source("box", box)
    before = "box"
    for i in range(count):
        builder.add_junction(f"p{i}", 0.0, demand=draw)
        builder.add_pipe(
            f"t{i}", before, f"p{i}", 0.3, tube.open_bore, planters.PLASTIC, tube.minor_loss
        )
        before = f"p{i}"
    names = ("valve", *(f"p{i}" for i in range(count)))
    heads, outflow = engine.solve(inp.dumps(builder.build(), "chain"), names, tmp_path)
    assert outflow[0] / 60_000 == approx(count * draw, rel=2e-3)
    assert heads[1:].tolist() == approx(levels.tolist(), abs=1e-4)


def test_the_rule_of_thumb_is_what_tubes_half_blocked_carry():
    """Six tomatoes or a dozen peppers on one float (common practice); clean tubes carry dozens."""
    tomato = 3.5 * LITRE_A_DAY * 24 * 0.12

    def carried(bore: float, blocked: float) -> int:
        return planters.carries(
            supply(), valve(), planters.joining(0.3, bore, blocked), tomato, 0.02
        )

    assert carried(0.008, 0.0) > 24
    assert 4 <= carried(0.006, 0.6) <= 16
    assert carried(0.008, 0.75) < carried(0.008, 0.5) < carried(0.008, 0.0)


@settings(max_examples=60)
@given(
    count=st.integers(1, 40),
    draw=st.floats(0.1, 8.0),
    bore=st.floats(0.003, 0.02),
    blocked=st.floats(0.0, 0.9),
)
def test_levels_fall_along_the_chain_and_what_it_carries_is_not_starved(count, draw, bore, blocked):
    tube = planters.joining(0.3, bore, blocked)
    each = draw * LITRE_A_DAY * 24 * 0.12
    box = planters.box_level(supply(), valve(), count * each)
    if box is None:
        return
    levels = planters.chain_levels(box, tube, np.full(count, each))
    assert np.all(np.diff(levels) <= 0)
    assert levels[0] <= box <= 0.06
    most = planters.carries(supply(), valve(), tube, each, 0.02)
    assert (count <= most) is not bool(planters.starved(levels, 0.02))


def test_soil_lifts_by_gardner_and_back():
    # Where α L = ln 2, the flow is Ks itself.
    assert Lift(2e-6, 5.0).flow(log(2) / 5) == approx(2e-6)
    for height in (0.05, 0.2, 0.6):
        flow = Lift(2e-6, 12.0).flow(height)
        assert Lift(2e-6, 12.0).greatest(flow) == approx(height)
    assert Lift(1e-6, 50.0).flow(100.0) == 0.0
    assert Lift(2e-6, 5.0).flow(0.1) > Lift(2e-6, 5.0).flow(0.2)


def test_a_valve_gives_by_the_root_of_its_head():
    assert valve().full(0.25) == approx(valve().full(1.0) * sqrt(0.25))
    assert valve().full(-1.0) == 0.0
