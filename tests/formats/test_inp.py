import contextlib
import re

import numpy as np
import pytest
import wntr
from hypothesis import given, settings
from hypothesis import strategies as st
from pytest import approx

import engine
from euhydra.core.hydraulics import solve
from euhydra.core.network import HeadLossLaw, NetworkBuilder, NetworkError, ValveKind
from euhydra.formats import inp
from euhydra.formats.inp import InpError
from euhydra.garden import demo
from euhydra.planner.water import solving, zones
from euhydra.web.network_file import network_file
from gardens import one_barrel
from inp_files import OVER_TIME
from networks import gravity_lateral, loop, terraced_tree

SMALL = """[JUNCTIONS]
bed 0.5 0
[RESERVOIRS]
barrel 1.5
[PIPES]
hose barrel bed 10 12.7 0.0015 2 Open
[EMITTERS]
bed 0.5
[OPTIONS]
Units LPM
Headloss D-W
"""


@pytest.mark.parametrize(
    "network",
    [gravity_lateral(), loop(), terraced_tree(), terraced_tree(HeadLossLaw.HAZEN_WILLIAMS)],
)
def test_written_and_read_back_it_is_the_same_network(network):
    again = inp.loads(inp.dumps(network, "round trip"))
    first, second = solve(network), solve(again)
    order = [again.nodes.ids.index(name) for name in network.nodes.ids]
    assert second.head[order] == approx(first.head, abs=1e-9)


@pytest.mark.parametrize(
    ("garden", "bed", "store"),
    [(one_barrel(), "middle-bed", "shed-barrel"), (demo.garden(), "top-bed", "corner-tank")],
)
def test_the_engine_runs_a_store_down_as_we_do(garden, bed, store, tmp_path):
    """Hours of delivery against the public-domain engine, for one barrel and for two linked tanks."""
    zone = zones.zone_named(garden, bed)
    text = network_file(zone)
    assert "Duration 0" in text
    curve = solving.drain_curve(zone)
    for hours in (0.5, 3.0):
        litres = 1000 * engine.volume_after(text, store, hours, tmp_path)
        assert curve.full - litres == approx(curve.delivered(curve.full, hours), rel=0.005)
    assert inp.loads(text).nodes.ids  # and is read back


@pytest.mark.filterwarnings("ignore:Changing the headloss formula")
def test_a_file_written_by_another_program_is_read(tmp_path):
    # WNTR writes every section it knows, empty or not.
    ours = loop()
    (tmp_path / "ours.inp").write_text(inp.dumps(ours, "loop"))
    model = wntr.network.WaterNetworkModel(str(tmp_path / "ours.inp"))
    wntr.network.write_inpfile(model, str(tmp_path / "theirs.inp"), units="LPS")
    theirs = inp.loads((tmp_path / "theirs.inp").read_text())
    first, second = solve(ours), solve(theirs)
    order = [theirs.nodes.ids.index(name) for name in ours.nodes.ids]
    assert second.head[order] == approx(first.head, abs=2e-3)


@pytest.mark.parametrize(
    ("line", "instead", "words"),
    [
        ("Units LPM", "Units CUPS", "Line 10: flow unit CUPS is not known"),
        ("Headloss D-W", "Headloss C-M", "Line 11: head loss law C-M"),
        ("[EMITTERS]", "[TANKS]", "Line 8: most level is missing"),
        ("[EMITTERS]", "[LEAKAGE]", "Line 8: leakage"),
        ("[EMITTERS]", "[CONTROLS]", "Line 8: control"),
        ("[EMITTERS]", "[STATUS]\nhose\n[EMITTERS]", "Line 8: status of hose is missing"),
        ("[EMITTERS]", "[PATTERNS]\np 1 high\n[EMITTERS]", "Line 8: “high” is not a number"),
        ("[EMITTERS]", "[FLYING]", "Line 7: section"),
        ("bed 0.5 0", "bed high 0", "Line 2: elevation “high”"),
        ("bed 0.5 0", "bed 0.5 0 pattern1", "Line 2: pattern pattern1 is not in"),
        ("bed 0.5 0", "bed", "Line 2: elevation is missing"),
        ("10 12.7", "-10 12.7", "Line 6: length"),
        ("10 12.7", "10 0", "Line 6: diameter"),
        ("barrel bed", "barrel shed", "Line 6: Pipe hose ends at shed"),
        ("2 Open", "2 Ajar", "Line 6: pipe status"),
        ("bed 0.5\n[OPT", "tap 0.5\n[OPT", "Line 8: emitter at tap"),
        ("bed 0.5\n[OPT", "bed nan\n[OPT", "Line 8: coefficient"),
        ("Units LPM", "Magic 3", "Line 10: option"),
        ("Units LPM\n", "", "no Units line"),
        ("[JUNCTIONS]", "junctions", "Line 1"),
        ("[EMITTERS]", "[PUMPS]\nu barrel bed WIND 1\n[EMITTERS]", "Line 8: pump u"),
        ("[EMITTERS]", "[PUMPS]\nu barrel bed POWER 0\n[EMITTERS]", "Line 8: power"),
        ("[EMITTERS]", "[PUMPS]\nu barrel bed HEAD c\n[EMITTERS]", "Line 8: curve c"),
        (
            "[EMITTERS]",
            "[PUMPS]\nu barrel bed HEAD c\n[CURVES]\nc 0 4\nc 9 5\n[EMITTERS]",
            "Line 8: A pump's head falls",
        ),
        ("[EMITTERS]", "[VALVES]\nv barrel bed 12 PBV 4\n[EMITTERS]", "Line 8: valve type PBV"),
        ("[EMITTERS]", "[VALVES]\nv bed barrel 12 PRV 4\n[EMITTERS]", "Line 8: Regulator v"),
    ],
)
def test_what_it_does_not_know_is_named_with_its_line(line, instead, words):
    assert line in SMALL
    with pytest.raises(InpError, match=words):
        inp.loads(SMALL.replace(line, instead, 1))


@settings(max_examples=300)
@given(
    st.sampled_from([SMALL, OVER_TIME.format(level=4, status="Open", start="1:00")]),
    st.lists(
        st.tuples(
            st.integers(0, 40),
            st.sampled_from(["delete", "double", "cut", "scramble"]),
            st.text('abcXYZ019.-[];\t \0"', max_size=12),
        ),
        max_size=4,
    ),
)
def test_whatever_the_file_it_is_read_or_refused_in_words(text_of, changes):
    lines = text_of.splitlines()
    for place, change, text in changes:
        at = place % len(lines)
        if change == "delete" and len(lines) > 1:
            del lines[at]
        elif change == "double":
            lines.insert(at, lines[at])
        elif change == "cut":
            lines[at] = lines[at][: len(lines[at]) // 2]
        else:
            lines[at] = text
    try:
        network = inp.loads("\n".join(lines))
    except InpError:
        return  # refused in words
    with contextlib.suppress(NetworkError):
        solve(network)


def test_long_names_are_kept_in_a_comment():
    network = gravity_lateral()
    long = tuple(f"a-very-long-name-for-a-node-number-{i}" for i in range(len(network.nodes.ids)))
    from dataclasses import replace

    renamed = replace(network, nodes=replace(network.nodes, ids=long))
    text = inp.dumps(renamed, "long names")
    assert "; a-very-long-name-for-a-node-number-3" in text
    assert np.isfinite(solve(inp.loads(text)).head).all()


def test_several_exponents_cannot_be_written():
    from networks import comb

    network = comb(1, 2, 1.0)
    network.nodes.outlet_exponent[-1] = 0.9
    with pytest.raises(InpError, match="several exponents"):
        inp.dumps(network, "mixed")


def regulators(*before: str) -> NetworkBuilder:
    """A tap with 30 m of head, regulators to 14 m and 10 m, a line with one outlet."""
    builder = NetworkBuilder()
    builder.add_source("tap", 30.0)
    builder.add_junction("mid", 0.0)
    builder.add_junction("low", 0.0)
    builder.add_junction("bed", 0.5, outlet_coefficient=2e-6)
    start = "tap"
    if before:
        builder.add_junction("lead", 0.0)
        builder.add_pipe("lead-in", "tap", "lead", 0.5, 0.0254, 1.5e-6)
        start = "lead"
    builder.add_valve("first", start, "mid", ValveKind.REGULATOR, 0.0254, 5.0, 14.0)
    builder.add_valve("second", "mid", "low", ValveKind.REGULATOR, 0.0254, 5.0, 10.0)
    builder.add_pipe("line", "low", "bed", 6.0, 0.0136, 1.5e-6)
    return builder


@pytest.mark.parametrize("before", [(), ("pipe",)])
def test_regulators_on_a_source_and_in_a_row_are_taken_by_the_engine(before, tmp_path):
    """EPANET refuses them there: they are written with a very short pipe in between."""
    network = regulators(*before).build()
    text = inp.dumps(network, "regulated")
    assert len(set(re.findall(r"^_stub-\d+ ", text, re.M))) == (1 if before else 2)
    own = solve(network)
    heads, outflow = engine.solve(text, network.nodes.ids, tmp_path)
    assert own.head == approx(heads, abs=0.01)
    bed = network.nodes.ids.index("bed")
    assert own.outflow[bed] * 60_000 == approx(outflow[bed], rel=0.005)
    again = inp.loads(text)
    place = again.nodes.ids.index("bed")
    assert solve(again).outflow[place] == approx(own.outflow[bed], rel=1e-5)
