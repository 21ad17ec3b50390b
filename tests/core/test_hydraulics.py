"""The solver against the public-domain engine, and against what must hold for any network."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pytest import approx

import engine
from euhydra.core.hydraulics import Tolerance, solve
from euhydra.core.network import HeadLossLaw, NetworkBuilder, NetworkError, ValveKind
from euhydra.core.pumps import PumpCurve
from euhydra.formats import inp
from networks import GARDENS, GRAVITY_DRIPPER, SMOOTH, comb


@pytest.mark.parametrize("name", GARDENS)
def test_outlets_agree_with_the_engine(name, tmp_path):
    # EPANET 2.2 through WNTR, accuracy 1e-6; outlets within 0.5% as the product demands.
    network = GARDENS[name]()
    ours = solve(network)
    assert ours.converged
    heads, outflows = engine.solve(inp.dumps(network, name), network.nodes.ids, tmp_path)
    outlets = network.nodes.outlet_coefficient > 0
    assert ours.outflow[outlets] * 60000 == approx(outflows[outlets], rel=0.005)
    # The engine takes g as 32.2 ft/s², 0.08% over the standard value: so far may losses differ.
    lost = network.nodes.fixed_head[0] - heads
    assert (np.abs(ours.head - heads) <= 1e-3 * np.abs(lost) + 1e-4).all()


@settings(max_examples=40)
@given(
    head=st.floats(0.3, 30),
    rows=st.integers(1, 4),
    outlets=st.integers(1, 15),
    x=st.floats(0.0625, 1.0),
    scale=st.floats(0.2, 20),
)
def test_every_junction_balances_and_every_law_holds(head, rows, outlets, x, scale):
    network = comb(rows, outlets, head, scale * GRAVITY_DRIPPER, x)
    found = solve(network)
    assert found.converged
    nodes, pipes = network.nodes, network.pipes
    count = len(nodes.ids)
    balance = np.bincount(pipes.end, found.flow, count) - np.bincount(
        pipes.start, found.flow, count
    )
    assert balance == approx(found.outflow, abs=1e-11)
    out = nodes.outlet_coefficient > 0
    over = (found.head - nodes.elevation)[out]
    law = nodes.outlet_coefficient[out] * np.maximum(over, 0) ** x
    is_clear = (over <= 0) | (
        over > 1e-4
    )  # a flat law rises along a ramp of a tenth of a millimetre
    assert found.outflow[out][is_clear] == approx(law[is_clear], rel=1e-3, abs=1e-12)


def test_outlet_above_the_water_gives_nothing_and_lets_nothing_in():
    net = NetworkBuilder()
    net.add_source("barrel", 1.0)
    net.add_junction("low", 0.5, 0.0, GRAVITY_DRIPPER)
    net.add_junction("high", 1.3, 0.0, GRAVITY_DRIPPER)
    net.add_pipe("a", "barrel", "low", 5, 0.0127, SMOOTH)
    net.add_pipe("b", "low", "high", 5, 0.0127, SMOOTH)
    found = solve(net.build())
    assert found.converged
    assert found.outflow[2] == 0
    assert found.outflow[1] == approx(GRAVITY_DRIPPER * 0.5**0.5, rel=1e-3)


def test_pressure_compensating_outlet_hardly_feels_the_head():
    low, high = (solve(comb(1, 10, head, GRAVITY_DRIPPER, 0.05)).outflow[-1] for head in (5, 20))
    assert high / low == approx(4**0.05, rel=0.01)


def test_island_is_named():
    net = NetworkBuilder()
    net.add_source("barrel", 1.0)
    net.add_junction("bed", 0.0)
    net.add_junction("far bed", 0.0)
    net.add_pipe("hose", "barrel", "bed", 5, 0.0127, SMOOTH)
    with pytest.raises(NetworkError, match="far bed"):
        solve(net.build())


def test_no_source_is_named():
    net = NetworkBuilder()
    net.add_junction("bed", 0.0)
    with pytest.raises(NetworkError, match="no source"):
        solve(net.build())


def test_it_says_when_it_gave_up():
    found = solve(comb(1, 40, 1.4, GRAVITY_DRIPPER), Tolerance(most_steps=2))
    assert not found.converged
    assert found.iterations == 2


def test_closed_pipe_carries_nothing():
    net = NetworkBuilder()
    net.add_source("barrel", 1.0)
    net.add_junction("bed", 0.0, 0.0, GRAVITY_DRIPPER)
    net.add_pipe("open", "barrel", "bed", 5, 0.0127, SMOOTH)
    net.add_pipe("shut", "barrel", "bed", 5, 0.0127, SMOOTH, is_open=False)
    found = solve(net.build())
    assert found.converged
    assert found.flow[1] == 0
    assert found.flow[0] == approx(found.outflow[1])


def test_micro_tube_follows_hagen_and_poiseuille():
    # Closed form: h = 128 ν L Q / (π g D⁴), exact while Re < 2,000.
    net = NetworkBuilder()
    net.add_source("tank", 1.0)
    net.add_junction("pot", 0.4, demand=1 / 3.6e6)
    net.add_pipe("tube", "tank", "pot", 1.2, 0.003, SMOOTH)
    found = solve(net.build())
    lost = 128 * 1.004e-6 * 1.2 / 3.6e6 / (np.pi * 9.80665 * 0.003**4)
    assert 1.0 - found.head[1] == approx(lost, rel=1e-9)


@pytest.mark.parametrize("count", [5, 20, 60])
def test_christiansens_factor_for_many_equal_outlets(count):
    # Christiansen (1942): F = 1/(m+1) + 1/(2N) + √(m−1)/(6N²); m = 1.852 for Hazen–Williams.
    net = NetworkBuilder(HeadLossLaw.HAZEN_WILLIAMS)
    net.add_source("tap", 50.0)
    each, step = 2e-6, 0.5
    for i in range(count):
        net.add_junction(f"o{i}", 0.0, demand=each)
        net.add_pipe(f"p{i}", f"o{i - 1}" if i else "tap", f"o{i}", step, 0.0136, 140.0)
    lost = 50.0 - solve(net.build()).head[-1]
    whole = NetworkBuilder(HeadLossLaw.HAZEN_WILLIAMS)
    whole.add_source("tap", 50.0)
    whole.add_junction("end", 0.0, demand=count * each)
    whole.add_pipe("pipe", "tap", "end", count * step, 0.0136, 140.0)
    without = 50.0 - solve(whole.build()).head[-1]
    m = 1.852
    factor = 1 / (m + 1) + 1 / (2 * count) + np.sqrt(m - 1) / (6 * count**2)
    assert lost / without == approx(factor, rel=2e-3)


@settings(max_examples=25)
@given(head=st.floats(0.3, 20), more=st.floats(0.05, 10), rows=st.integers(1, 4))
def test_more_head_gives_no_outlet_less(head, more, rows):
    low = solve(comb(rows, 10, head, GRAVITY_DRIPPER))
    high = solve(comb(rows, 10, head + more, GRAVITY_DRIPPER))
    assert (high.outflow[1:] >= low.outflow[1:] - 1e-12).all()


def test_a_symmetric_network_gives_a_symmetric_answer():
    net = NetworkBuilder()
    net.add_source("tank", 2.0)
    net.add_junction("middle", 0.2)
    net.add_pipe("hose", "tank", "middle", 5.0, 0.0127, SMOOTH)
    for side in ("left", "right"):
        for i in range(10):
            net.add_junction(f"{side}{i}", 0.2, 0.0, GRAVITY_DRIPPER)
            before = f"{side}{i - 1}" if i else "middle"
            net.add_pipe(f"{side}{i}", before, f"{side}{i}", 0.3, 0.0136, SMOOTH)
    found = solve(net.build())
    assert found.outflow[2:12] == approx(found.outflow[12:22], rel=1e-9)


@pytest.mark.parametrize("name", GARDENS)
def test_energy_closes_and_mass_balances_at_every_node(name):
    network = GARDENS[name]()
    found = solve(network)
    drop = found.head[network.start] - found.head[network.end]
    assert found.head_loss == approx(drop, abs=1e-5)  # round any loop these add up to nothing
    count = len(network.nodes.ids)
    balance = np.bincount(network.end, found.flow, count)
    balance -= np.bincount(network.start, found.flow, count) + found.outflow
    assert np.abs(balance).max() < 1e-9


def _compensating(head: float) -> NetworkBuilder:
    net = NetworkBuilder()
    net.add_source("tap", head)
    for i in range(20):
        k = 2 / 3.6e6 / 10.0**0.02  # 2 L/h at 10 m, all but flat
        net.add_junction(f"o{i}", 0.0, 0.0, k, 0.02, outlet_opens=1.0, outlet_full=6.0)
        net.add_pipe(f"p{i}", f"o{i - 1}" if i else "tap", f"o{i}", 0.3, 0.0136, SMOOTH)
    return net


@settings(max_examples=40)
@given(head=st.floats(0.2, 40))
def test_compensating_outlets_open_rise_and_hold(head):
    network = _compensating(head).build()
    found = solve(network)
    assert found.converged
    litres = found.outflow[1:] * 3.6e6
    if head <= 1.0:
        assert (litres == 0).all()
    over = found.head[1:]
    holding = over >= 6.0
    assert litres[holding] == approx(2 * (over[holding] / 10) ** 0.02, rel=1e-4)
    rising = (over > 1.01) & (over < 6.0)
    assert litres[rising] == approx(2 * 0.6**0.02 * np.sqrt((over[rising] - 1) / 5), rel=1e-3)


def test_a_pump_that_cannot_lift_so_high_gives_nothing():
    net = NetworkBuilder()
    net.add_source("barrel", 0.0)
    net.add_junction("up", 3.0)
    net.add_junction("bed", 3.0, 0.0, GRAVITY_DRIPPER)
    net.add_pump("pump", "barrel", "up", PumpCurve.through([(0, 2.0), (1e-4, 1.0)]))
    net.add_pipe("hose", "up", "bed", 5.0, 0.0127, SMOOTH)
    found = solve(net.build())
    assert found.converged
    assert (found.flow == 0).all()


def test_a_check_valve_waits_for_its_opening_head():
    def through(head: float) -> float:
        net = NetworkBuilder()
        net.add_source("barrel", head)
        net.add_junction("after", 0.0, 0.0, GRAVITY_DRIPPER)
        net.add_valve("flap", "barrel", "after", ValveKind.CHECK, 0.0127, 0.0, setting=0.7)
        found = solve(net.build())
        assert found.converged
        return float(found.outflow[1]) * 3.6e6

    assert through(0.6) == approx(0, abs=0.05)
    assert through(1.7) == approx(1.0, rel=1e-3)  # 1 m left of 1.7: the dripper's own rate


def test_two_regulators_on_one_end_are_refused():
    net = NetworkBuilder()
    net.add_source("tap", 20.0)
    net.add_junction("a", 0.0)
    net.add_valve("one", "tap", "a", ValveKind.REGULATOR, 0.0127, 0.0, 7.0)
    with pytest.raises(NetworkError, match="Two regulators end at a"):
        net.add_valve("two", "tap", "a", ValveKind.REGULATOR, 0.0127, 0.0, 9.0)
