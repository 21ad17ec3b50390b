"""Networks of towns at their first hour, against the engine whose format they are written in.

The files are those that the engine's Python package ships: of 9 to some 3,300 junctions, in US
units, with tanks, patterns, controls and pumps given by curves and by power.
"""

import contextlib
import re
from pathlib import Path

import numpy as np
import pytest
import wntr
from pytest import approx

import engine
from euhydra.core.hydraulics import solve
from euhydra.core.network import Network
from euhydra.formats import inp
from inp_files import OVER_TIME

FOLDER = Path(wntr.__file__).parent / "library" / "networks"

FOOT, GPM = 0.3048, 231 * 0.0254**3 / 60

HEAD, FLOW = 10, 8


def text_of(name: str) -> str:
    """A file, with the engine asked to search as long as it takes."""
    text = (FOLDER / f"{name}.inp").read_text()
    text = re.sub(r"(?im)^\s*accuracy.*$", " Accuracy 1e-6", text)
    return re.sub(r"(?im)^\s*trials.*$", " Trials 200", text)


def by_the_engine(text: str, network: Network, folder: Path) -> tuple[np.ndarray, np.ndarray]:
    """Heads [m] and sizes of flows [m³ s⁻¹] at the first hour, in the network's order."""
    with engine.opened(text, folder) as its:
        its.ENopenH()
        its.ENinitH(0)
        its.ENrunH()
        heads = [its.ENgetnodevalue(its.ENgetnodeindex(n), HEAD) for n in network.nodes.ids]
        flows = [its.ENgetlinkvalue(its.ENgetlinkindex(n), FLOW) for n in network.link_ids]
        its.ENcloseH()
    return np.array(heads) * FOOT, np.abs(flows) * GPM


@pytest.mark.parametrize(
    ("name", "junctions"),
    [("Net1", 9), ("Net2", 35), ("Net3", 92), ("Net6", 3323), ("ky4", 959)],
)
def test_a_town_at_its_first_hour_is_as_the_engine_has_it(name, junctions, tmp_path):
    text = text_of(name)
    read = inp.read(text)
    network = read.network
    assert int(np.isnan(network.nodes.fixed_head).sum()) == junctions
    own = solve(network)
    assert own.converged
    heads, flows = by_the_engine(text, network, tmp_path)
    assert own.head == approx(heads, rel=5e-4, abs=0.005)
    assert np.abs(own.flow) == approx(flows, abs=0.005 * flows.max())
    assert np.abs(np.abs(own.flow) - flows).sum() < 0.005 * flows.sum()
    assert ("patterns after their first value" in read.left_out) is ("[PATTERNS]" in text)


def test_the_one_that_differs_has_a_pump_that_breaks_its_own_law_there(tmp_path):
    """ky10: the engine leaves one pump of 20 horsepower at no flow behind a shut regulator, where
    head × flow = power holds for no head. With both shut in the file, all else agrees.
    """
    text = text_of("ky10")
    pump, regulator = "~@Pump-11", "~@RV-4"
    network = inp.loads(text)
    own = solve(network)
    _, flows = by_the_engine(text, network, tmp_path)
    place = network.link_ids.index(pump)
    power = 20 * 8.814 * FOOT**4
    assert flows[place] < 1e-9
    assert own.flow[place] * -own.head_loss[place] == approx(power, rel=1e-3)
    shut = text.replace("[STATUS]", f"[STATUS]\n{pump} Closed\n{regulator} Closed")
    network = inp.loads(shut)
    own = solve(network)
    heads, flows = by_the_engine(shut, network, tmp_path)
    assert own.head == approx(heads, rel=5e-4, abs=0.005)
    assert np.abs(np.abs(own.flow) - flows).sum() < 0.005 * flows.sum()


def small(level: float = 4, status: str = "Closed", start: str = "0:00") -> Network:
    return inp.loads(OVER_TIME.format(level=level, status=status, start=start))


def test_a_tank_stands_at_the_level_that_it_begins_with():
    network = small(level=4)
    tank = network.nodes.ids.index("t")
    assert network.nodes.fixed_head[tank] == approx(24 * FOOT)


@pytest.mark.parametrize(
    ("start", "share"), [("0:00", 0.5), ("1:00", 2.0), ("2", 3.0), ("3:00", 0.5)]
)
def test_a_demand_takes_the_value_of_its_pattern_at_the_start(start, share):
    network = small(start=start)
    place = network.nodes.ids.index("a")
    assert network.nodes.demand[place] == approx(2 * share * GPM)


@pytest.mark.parametrize(
    ("level", "status", "runs"),
    [
        (4, "Closed", False),
        (4, "Open", True),
        (7, "Open", False),
        (4, "0", False),
        (4, "0.9", True),
    ],
)
def test_a_pump_stands_as_its_status_and_the_controls_of_the_first_hour_say(level, status, runs):
    network = small(level, status)
    assert [pump.id for pump in network.pumps] == (["p"] if runs else [])


@pytest.mark.parametrize(("level", "gives"), [(1, False), (4, True)])
def test_an_empty_tank_gives_nothing(level, gives):
    network = small(level)
    pipe = network.pipes.ids.index("one")
    assert bool(network.pipes.is_one_way[pipe]) is not gives
    if not gives:
        into = network.pipes.end[pipe]
        assert network.nodes.ids[into] == "t"


def test_what_acts_later_is_named_once():
    read = inp.read(OVER_TIME.format(level=4, status="Closed", start="0:00"))
    assert read.left_out == ("patterns after their first value", "controls that act later")


def test_us_units_are_what_the_manual_says():
    """A foot of head through a foot of pipe; a C factor needs no unit. Manual, appendix A."""
    network = small()
    pipe = network.pipes.ids.index("one")
    assert network.pipes.length[pipe] == approx(300 * FOOT)
    assert network.pipes.diameter[pipe] == approx(4 * 0.0254)
    assert network.pipes.roughness[pipe] == 110
    with contextlib.suppress(StopIteration):
        assert next(iter(small(status="Open").pumps)).curve.head_at(0.07607 / 10) == approx(
            10, rel=1e-3
        )
