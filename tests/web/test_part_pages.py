"""What is told of a part or an outlet that is chosen on the plan."""

import re

import pytest

from euhydra.garden import demo
from euhydra.garden.quantities import System, show
from euhydra.planner.lay.answer import carried_by
from euhydra.planner.water import solving, zones


def words(page):
    return re.sub(r"\s+", " ", re.sub(r"<[^>]+>", " ", page.text))


def test_a_pipe_tells_what_it_carries_and_has_its_form(drawn_once):
    page = drawn_once.get("/gardens/1/part", params={"at": "top-hose"})
    carried = carried_by(demo.garden(), "top-hose")
    assert f"It carries {show(carried.flow, 'flow', System.METRIC)}" in words(page)
    assert 'name="part_id" value="top-hose"' in page.text


@pytest.mark.parametrize("part_id", ["top-bed", "wall-tank", "garden-tap", "patio-pots"])
def test_what_is_no_pipe_has_its_form_alone(drawn_once, part_id):
    page = drawn_once.get("/gardens/1/part", params={"at": part_id})
    assert page.status_code == 200
    assert f'value="{part_id}"' in page.text
    assert "It carries" not in page.text


def test_an_outlet_tells_the_head_that_its_way_leaves(drawn_once):
    zone = zones.zone_named(demo.garden(), "top-bed")
    state = solving.solve_zone(zone, zone.levels[zone.usual_level])
    last = zone.outlets[-1]
    page = drawn_once.get("/gardens/1/outlet", params={"zone": "top-bed", "node": last.node})
    text = words(page)
    assert show(float(state.outlet_flow[-1]), "flow", System.METRIC) in text
    lost = [float(x) for x in re.findall(r"−(\d+\.?\d*) m\b", text)]
    surface = float(re.search(r"(\d+\.?\d*) m high", text)[1])
    head = float(re.search(r"at (\d+\.?\d*) m of head", text)[1])
    height = float(re.findall(r"(\d+\.?\d*) m high", text)[-1])
    assert surface - sum(lost) - height == pytest.approx(
        head, abs=0.05
    )  # as printed, in centimetres


def edit(drawn_once, **body):
    revision = drawn_once.get("/gardens/1/lay").context["revision"].id
    return drawn_once.post("/gardens/1/edit", json={"based_on": revision} | body)


def test_a_piece_is_set_into_a_pipe_and_what_is_no_piece_is_not(drawn_once):
    valve = {"id": "valve", "name": "Valve", "kind": "shut-off"}
    place = {"collection": "fittings", "part": valve, "pipe": "top-hose", "along_m": 1.0}
    done = edit(drawn_once, set_in=place)
    assert done.status_code == 200, done.text
    garden = drawn_once.get("/gardens/1/garden.json").json()
    assert "valve" in [f["id"] for f in garden["fittings"]]
    fed = [p["id"] for p in garden["pipes"] if p.get("begins_at") == "valve"]
    assert len(fed) == 1  # the rest of the hose hangs on it now
    bed = {"id": "b", "name": "B", "length_m": 1, "width_m": 1, "soil": "loam"}
    wrong = edit(
        drawn_once, set_in={"collection": "beds", "part": bed, "pipe": "top-hose", "along_m": 1.0}
    )
    assert wrong.status_code == 422


@pytest.mark.parametrize(
    ("typed", "told"),
    [
        (
            {"waters": "top-bed", "begins_at": "top-timer", "method": "flood"},
            "how it is to be watered",
        ),
        (
            {"waters": "top-bed", "begins_at": "top-timer", "method": "rows", "spacing": "9 m"},
            "5 cm to 300 cm",
        ),
        (
            {"waters": "top-bed", "begins_at": "top-timer", "method": "rows", "rows": "many"},
            "1 to 40",
        ),
    ],
)
def test_lines_are_not_laid_on_what_cannot_be(drawn_once, typed, told):
    revision = drawn_once.get("/gardens/1/lay").context["revision"].id
    answer = drawn_once.post("/gardens/1/lay/for-me", data=typed | {"based_on": str(revision)})
    assert answer.status_code == 422
    assert told in answer.text
