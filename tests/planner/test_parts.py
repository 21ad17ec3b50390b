"""Parts counted by hand on paper for three gardens, and by two routes for any."""

from collections import Counter

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from pytest import approx

from euhydra.core.threads import Seal, seal_between
from euhydra.garden import document, edits, goods
from euhydra.garden.document import GardenError
from euhydra.garden.part import Point
from euhydra.planner import chain
from euhydra.planner.lay import comparing
from euhydra.planner.parts import adapters, counting
from euhydra.planner.parts.answer import Price, make_list
from gardens import one_barrel, tapped, ten_beds, with_part


def counted(garden) -> dict[str, float]:
    return {item.good.key: item.counted for item in make_list(garden, {}).items}


def test_one_barrel_counted_on_paper():
    """Roof 4.2 × 3 m at 0.8 and 0.4 mm first flush: 4.03 L in a tube of 100 mm. Barrel of 300 L,
    1 m deep: 618 mm across, so a square table of 618 mm, 400 mm high, on four posts.
    """
    found = counted(one_barrel())
    side = 0.618
    assert found == {
        "store-barrel-300": 1,
        "store-tap": 1,
        "overflow": 1,
        "inlet-mesh": 1,
        "diverter": 1,
        "first-flush-tube": approx(4.032e-3 / (3.1416 / 4 * 0.1**2), rel=1e-3),
        "post": approx(4 * 0.373),
        "paving-slab": 4,
        "screw": 52,
        "rail": approx(8 * side, rel=1e-3),
        "board": approx(5 * side, rel=1e-3),
        "timer-dial-ball": 1,
        "washer": 2,
        "barb-female-g34-12.7": 1,
        "pipe-hose-13": 7.0,
        "pipe-hose-13-13.6": approx(0.45),
        "pipe-line-low": 6.0,
        "tee-13.6-12.7": 1,
        "elbow-13.6": 1,
        "end-opens-13.6": 2,
        "stake": 8,
        "wall-clip": 3,
    }


def test_ten_beds_counted_on_paper():
    """Ten times the hose, line and timer of one bed, on one store with ten taps."""
    found = counted(ten_beds())
    assert {
        key: found[key] for key in ("tee-13.6-12.7", "elbow-13.6", "end-opens-13.6", "stake")
    } == {
        "tee-13.6-12.7": 10,
        "elbow-13.6": 10,
        "end-opens-13.6": 20,
        "stake": 80,
    }
    assert (found["store-tap"], found["timer-dial-ball"], found["washer"]) == (10, 10, 20)
    assert (found["pipe-hose-13"], found["pipe-line-low"]) == (approx(70), approx(60))


def test_the_demo_counted_on_paper(demo_garden):
    """Three beds with a header: a tee where hose, header and first row meet, and one where the hose of the
    buckets leaves that of the planters; twelve tubes punched into the pots' line; six rows and that line end open.
    """
    links, drawn = counting.joint_counts(demo_garden)
    assert links == drawn
    found = counted(demo_garden)
    assert sum(n for key, n in found.items() if key.startswith("tee-")) == 4
    assert sum(n for key, n in found.items() if key.startswith("end-opens")) == 7
    assert sum(n for key, n in found.items() if "punch" in key) == 12
    assert found["pipe-micro-4"] == approx(6 * 0.6241 + 6 * 0.6262, abs=0.01)
    assert found["store-slim-350"] == 2
    assert found["link-set"] == 1


@st.composite
def bent_gardens(draw):
    """The small garden with hoses bent anywhere, rows moved, and a branch half way."""
    found = one_barrel().model_dump(mode="json")
    hose, header, first, second = found["pipes"]
    far = hose["path"][-1]
    corners = [
        {"x_m": draw(st.floats(3, 9)), "y_m": draw(st.floats(2.8, 6))}
        for _ in range(draw(st.integers(0, 3)))
    ]
    hose["path"] = [hose["path"][0], *corners, far]
    if draw(st.booleans()):
        along = draw(st.floats(0.5, 2.5))
        third = dict(
            first,
            id="branch",
            name="Branch",
            begins_at="middle-line-1",
            begins_along_m=along,
            path=[{"x_m": 5.4 + along, "y_m": 6.225}, {"x_m": 5.4 + along, "y_m": 5.5}],
        )
        found["pipes"].append(third)
    if draw(st.booleans()):
        second["begins_along_m"] = draw(st.floats(0.1, 0.4))
        at = 6.225 + second["begins_along_m"]
        second["path"] = [{"x_m": 5.4, "y_m": at}, {"x_m": 8.4, "y_m": at}]
    header["end"] = draw(st.sampled_from(["opens", "shut"]))
    return found


@settings(max_examples=60, suppress_health_check=list(HealthCheck))
@given(bent_gardens())
def test_links_and_drawing_agree_on_any_garden(found):
    try:
        garden = document.from_document(found)
    except GardenError:
        return
    links, drawn = counting.joint_counts(garden)
    assert links == drawn
    assert not [said for said in counting.faults(garden) if "joined" in said]


def test_a_pipe_drawn_off_its_joint_is_named(demo_garden):
    path = (Point(x_m=6.6, y_m=1.725), Point(x_m=6.6, y_m=2.175))
    pipes = tuple(
        p.model_copy(update={"path": path}) if p.id == "top-line-header" else p
        for p in demo_garden.pipes
    )
    apart = demo_garden.model_copy(update={"pipes": pipes})
    assert any("fed by “Top hose”, but drawn" in str(said) for said in counting.faults(apart))


# Thread forms by ISO 228-1, ISO 7-1, ASME B1.20.1 and B1.20.7, from memory: parallel G seals by
# its washer, a taper male by tape; the hose thread of 11.5 to the inch takes none of the others.
MATES = {
    ("g34", "g34"): Seal.WASHER,
    ("r34", "g34"): Seal.TAPE,
    ("r34", "r34"): Seal.TAPE,
    ("g34", "r34"): None,
    ("g34", "nh34"): None,
    ("nh34", "g34"): None,
    ("nh34", "nh34"): Seal.WASHER,
    ("npt34", "npt34"): Seal.TAPE,
    ("npt34", "g34"): None,
    ("npt34", "nh34"): None,
    ("g12", "g34"): None,
    ("npt12", "npt12"): Seal.TAPE,
    ("s60", "g34"): None,
}


@pytest.mark.parametrize(("male", "female"), MATES)
def test_threads_that_mate(male, female):
    forms = goods.threads()
    assert seal_between(forms[male].form, forms[female].form) == MATES[male, female]


def test_a_tote_is_adapted_to_the_hose_and_the_adapter_is_bought():
    garden = with_part(one_barrel(), "stores", thread="s60")
    joints = adapters.joints(garden)
    assert "s60-g34" in {use.good.key.removeprefix("adapter-") for j in joints for use in j.uses}
    american = edits.replace(garden, place=garden.place.model_copy(update={"hose_thread": "nh34"}))
    keys = {
        use.good.key.removeprefix("adapter-") for j in adapters.joints(american) for use in j.uses
    }
    assert "s60-nh34" in keys


def test_prices_waste_packs_and_what_is_there():
    garden = one_barrel()
    prices = {"pipe-hose-13": Price(15, 12.0)}
    first = make_list(garden, prices)
    hose = next(i for i in first.items if i.good.key == "pipe-hose-13")
    assert (hose.wanted, hose.packs, hose.cost) == (approx(7.7), 1, 12.0)  # a tenth of waste
    there = make_list(garden, prices, {"pipe-hose-13"})
    assert there.total == approx(first.total - 12.0)
    counts = Counter(item.good.group for item in first.items)
    assert counts["stands"] == 5
    assert any("hole saw" in tool for tool in first.tools)


def test_alternatives_are_solved_and_priced(demo_garden):
    zone = next(z for z in chain.run_chain(demo_garden, None).zones if z.zone.id == "top-timer")
    found = comparing.compare(zone.push, {})
    present, *others = found.alternatives
    assert present.is_present
    assert {a.words.split(":")[0] for a in others} >= {"Drip tape", "Soaker hose", "With a pump"}
    pump = next(a for a in others if a.words.startswith("With a pump"))
    assert pump.cost > present.cost
    works = [a.works for a in others]
    assert works == sorted(works, reverse=True)


@pytest.mark.parametrize("outside", list(goods.threads()))
@pytest.mark.parametrize("hoses", list(goods.threads()))
def test_whatever_thread_the_tap_has_a_way_is_bought_or_its_want_is_told(outside, hoses):
    """Each adapter of the chain holds on to the next; where there is no chain both ends are named."""
    garden = tapped()
    place = garden.place.model_copy(update={"hose_thread": hoses})
    garden = with_part(edits.replace(garden, place=place), "taps", thread=outside)
    joint = next(j for j in adapters.joints(garden) if j.before.id == "garden-tap")
    found = make_list(garden, {})
    if joint.fault:
        assert "“Garden tap”" in str(joint.fault)
        assert any(fault.code == "parts-nothing-joins" for fault in found.faults)
    else:
        bought = {item.good.key for item in found.items}
        assert {use.good.key for use in joint.uses} <= bought
    if outside == hoses:
        assert not joint.fault
