"""The plan editor's modules that know no page: called as modules, values in and values out."""

from collections.abc import Callable, Iterator
from math import hypot
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from playwright.sync_api import Browser, Page, Route

import euhydra
from euhydra.garden import kinds
from euhydra.garden.model import Garden, Place
from euhydra.web.plan_tools import TOOLS, tools_for

pytestmark = pytest.mark.browser

SCRIPTS = Path(euhydra.__file__).parent / "web" / "js"
HOME = "http://modules.test/"

Call = Callable[..., Any]

NORTH, SOUTH = (
    Garden(name="Plot", place=Place(latitude_deg=latitude, elevation_m=10.0))
    for latitude in (48.0, -37.0)
)
RECORDS = {tool["kind"]: tool for tool in tools_for(NORTH)}

places = st.builds(
    lambda x, y: {"x": x, "y": y}, *(st.floats(-50, 50).map(lambda v: round(v, 2)),) * 2
)


def _serve(route: Route) -> None:
    path = route.request.url.removeprefix(HOME)
    if path:
        route.fulfill(path=SCRIPTS / path, content_type="text/javascript")
    else:
        route.fulfill(body="<!doctype html><title>modules</title>", content_type="text/html")


@pytest.fixture(scope="module")
def call(browser: Browser) -> Iterator[Call]:
    """Call a module's function by name."""
    page: Page = browser.new_page()
    page.route(f"{HOME}**", _serve)
    page.goto(HOME)

    def called(module: str, function: str, *arguments: Any) -> Any:
        script = "([url, name, args]) => import(url).then((m) => m[name](...args))"
        return page.evaluate(script, [f"{HOME}plan/{module}.js", function, list(arguments)])

    yield called
    page.close()


def bed(**more: Any) -> dict[str, Any]:
    fixed = {"id": "bed", "name": "Bed", "at": {"x_m": 1, "y_m": 2}, "length_m": 4, "width_m": 1}
    return {"collection": "beds", "part": fixed | more}


def drawn(call: Call, kind: str, *points: tuple[float, float]) -> dict[str, Any]:
    return call("parts", "made", RECORDS[kind], [{"x": x, "y": y} for x, y in points], {})


def test_a_tool_takes_as_many_places_as_it_says(call):
    for record in RECORDS.values():
        tool = call("tools", "begun", record)
        for number in range(record["most"] or record["least"]):
            assert not tool.get("isDone")
            tool = call("tools", "placed", tool, {"x": number, "y": number**2}, 0.01)
        assert call("tools", "isEnough", tool)
        assert bool(tool.get("isDone")) == (record["most"] is not None)


def test_an_outline_ends_at_its_first_corner_and_a_line_at_its_last(call):
    outline = call("tools", "begun", RECORDS["terrace"])
    for x, y in ((0, 0), (4, 0), (4, 3), (0.01, 0)):
        outline = call("tools", "placed", outline, {"x": x, "y": y}, 0.1)
    assert (outline["isDone"], len(outline["places"])) == (True, 3)
    line = call("tools", "begun", RECORDS["pipe"])
    for x in (0, 5, 5.01):
        line = call("tools", "placed", line, {"x": x, "y": 0}, 0.1)
    assert (line["isDone"], len(line["places"])) == (True, 2)


@pytest.mark.parametrize("tool", [t for t in TOOLS if t.makes], ids=lambda t: t.kind)
@pytest.mark.parametrize("garden", [NORTH, SOUTH], ids=["north", "south"])
def test_what_a_tool_makes_is_a_part_of_its_kind(call, tool, garden):
    points = [{"x": 0, "y": 0}, {"x": 3, "y": 1}, {"x": 1, "y": 4}][: tool.most or 3]
    entry = call("parts", "made", tool.record(garden), points, {})
    part = kinds.kind_named(entry["collection"]).model.model_validate(entry["part"])
    assert part.name == f"{tool.noun} 1"
    if tool.collection == "beds":
        assert part.planting.month == (5 if garden is NORTH else 10)


def test_names_and_ids_that_are_taken_are_passed_over(call):
    taken = {"bed-1": {}, "bed-2": {}}
    corners = [{"x": 0, "y": 0}, {"x": 2, "y": 1}]
    entry = call("parts", "made", RECORDS["bed"], corners, taken)
    assert (entry["part"]["id"], entry["part"]["name"]) == ("bed-3", "Bed 3")
    piece = call("parts", "madePiece", "fittings filter", "Filter", {"filter-1": {}})
    assert (piece["collection"], piece["part"]["id"]) == ("fittings", "filter-2")


@settings(max_examples=15)
@given(dx=st.floats(-20, 20), dy=st.floats(-20, 20))
def test_what_is_moved_keeps_its_shape(call, dx, dy):
    before, after = (
        call("parts", "endsOf", entry) for entry in (bed(), call("parts", "moved", bed(), dx, dy))
    )
    for a, b in zip(before, after, strict=True):
        assert b["x"] - a["x"] == pytest.approx(dx, abs=2e-3)
        assert b["y"] - a["y"] == pytest.approx(dy, abs=2e-3)


def test_four_quarter_turns_about_its_middle_bring_a_part_back(call):
    entry, middle = bed(), call("parts", "middleOf", bed())
    for _ in range(4):
        entry = call("parts", "turned", entry, 90, middle)
    assert entry["part"]["turned_deg"] % 360 == 0
    assert call("parts", "middleOf", entry) == pytest.approx(middle)


def test_a_corner_pulled_out_keeps_the_opposite_one_however_it_is_turned(call):
    turned = bed(turned_deg=30)
    grip = next(g for g in call("parts", "gripsOf", turned) if g["kind"] == "size")
    grown = call("parts", "gripped", turned, grip, {"x": grip["x"] + 1, "y": grip["y"] + 0.5})
    assert grown["part"]["length_m"] > turned["part"]["length_m"]
    # The corner at its own beginning, which the server works out from the same numbers.
    model = kinds.kind_named("beds").model
    described = {"soil": "loam", "crop": "tomato", "planting": {"month": 5, "day": 1}}
    was, now = (
        kinds.outlines_of(model.model_validate(entry["part"] | described))[0].exterior.coords[0]
        for entry in (turned, grown)
    )
    assert hypot(was[0] - now[0], was[1] - now[1]) < 0.01


@pytest.mark.parametrize("turned_deg", [0, 30, 135, 300])
def test_the_handle_that_turns_lies_where_it_turns_to(call, turned_deg):
    """Let go where it is, nothing turns; a quarter further round its middle, a quarter more."""
    entry = bed(turned_deg=turned_deg)
    grip = next(g for g in call("parts", "gripsOf", entry) if g["kind"] == "turn")
    assert call("parts", "gripped", entry, grip, grip)["part"]["turned_deg"] == turned_deg
    middle = call("parts", "middleOf", entry)
    x, y = grip["x"] - middle["x"], grip["y"] - middle["y"]
    to = {"x": middle["x"] - y, "y": middle["y"] + x}
    further = call("parts", "gripped", entry, grip, to)
    assert further["part"]["turned_deg"] == (turned_deg + 90) % 360
    assert call("parts", "middleOf", further) == pytest.approx(middle)


def test_a_terrace_keeps_three_corners_and_a_pipe_two(call):
    terrace = drawn(call, "terrace", (0, 0), (4, 0), (4, 3))
    assert call("parts", "withoutCorner", terrace, 1) == terrace
    pipe = drawn(call, "pipe", (0, 0), (4, 0), (4, 3))
    assert len(call("parts", "withoutCorner", pipe, 1)["part"]["path"]) == 2


def test_lines_go_with_the_bed_that_they_water(call):
    parts = {
        "bed": bed(),
        "row": {
            "collection": "pipes",
            "part": {
                "id": "row",
                "waters": "bed",
                "path": [{"x_m": 1, "y_m": 2}, {"x_m": 5, "y_m": 2}],
                "begins_at": "hose",
            },
        },
        "hose": {
            "collection": "pipes",
            "part": {"id": "hose", "path": [{"x_m": -4, "y_m": 2}, {"x_m": 1, "y_m": 2}]},
        },
    }
    moved = {e["part"]["id"]: e["part"] for e in call("parts", "allMoved", parts, ["bed"], 2, 1)}
    assert set(moved) == {"bed", "row", "hose"}
    assert moved["hose"]["path"][0] == {"x_m": -4, "y_m": 2}
    assert moved["hose"]["path"][-1] == moved["row"]["path"][0] == {"x_m": 3, "y_m": 3}


def test_what_is_lined_up_shares_an_edge(call):
    parts = {"a": bed(id="a"), "b": bed(id="b", at={"x_m": 7, "y_m": 5}, length_m=2)}
    for how, edge in (("left", 1), ("right", 9)):
        moved = call("parts", "aligned", parts, ["a", "b"], how)
        ends = {
            (min if how == "left" else max)(p["x"] for p in call("parts", "endsOf", entry))
            for entry in moved
        }
        assert ends == {edge}


@settings(max_examples=15)
@given(at=places, factor=st.floats(0.2, 4.0))
def test_the_place_under_the_pointer_stays_while_the_paper_is_zoomed(call, at, factor):
    view = {"x": -5, "y": -8, "width": 20, "height": 15}
    nearer = call("view", "zoomed", view, factor, at)
    for axis, size in (("x", "width"), ("y", "height")):
        before = (at[axis] - view[axis]) / view[size]
        after = (at[axis] - nearer[axis]) / nearer[size]
        assert after == pytest.approx(before, abs=1e-9)


def test_the_whole_box_is_shown_in_a_frame_of_any_shape(call):
    for width, height in ((400, 800), (900, 300)):
        view = call("view", "fit", [2, -6, 10, 4], {"width": width, "height": height})
        assert view["x"] <= 2
        assert view["x"] + view["width"] >= 12 - 1e-9
        assert view["width"] / view["height"] == pytest.approx(width / height)


def test_every_key_is_one_command_and_tools_have_their_own(call):
    records = tools_for(NORTH)
    keys = [key for key, *_ in call("keys", "keysOf", records)]
    assert len(keys) == len(set(keys))
    for record in records:
        event = {"key": record["key"], "ctrlKey": False, "metaKey": False, "altKey": False}
        assert call("keys", "commandOf", event, records) == {
            "command": "tool",
            "argument": record["kind"],
        }
    browsers_own = {"key": "b", "ctrlKey": True, "metaKey": False, "altKey": False}
    assert call("keys", "commandOf", browsers_own, records) is None


def test_a_place_snaps_to_the_grid_and_to_an_end_that_is_near(call):
    assert call("snap", "onGrid", {"x": 1.04, "y": 2.27}, 0.1) == pytest.approx(
        {"x": 1.0, "y": 2.3}
    )
    ends = [{"x": 0, "y": 0}, {"x": 3, "y": 4}]
    near = call("snap", "nearestEnd", {"x": 3.1, "y": 4.0}, ends, 0.2)
    assert (near["x"], near["y"]) == (3, 4)
    assert call("snap", "nearestEnd", {"x": 1.5, "y": 2.0}, ends, 0.2) is None
    assert call("snap", "lengthOf", [*ends, {"x": 3, "y": 6}]) == pytest.approx(7)


def test_a_joint_is_found_on_pipes_that_begin_at_nothing_too(call):
    """A place at x = 0 comes without its x: it is a place all the same."""
    parts = {
        "hose": {"collection": "pipes", "part": {"path": [{"y_m": 1.0}, {"x_m": 4.0, "y_m": 1.0}]}},
        "other": {"collection": "pipes", "part": {"path": [{}, {"x_m": 4.0}]}},
        "tap": {"collection": "taps", "part": {"at": {"x_m": 9.0}}},
    }

    def joint(x, y, *reach):
        return call("parts", "jointAt", parts, {"x": x, "y": y}, *reach)

    assert (joint(0, 1, 0.2)["begins_at"], joint(0, 1, 0.2)["begins_along_m"]) == ("hose", 0)
    assert joint(2, 0.1, 0.2)["begins_along_m"] == pytest.approx(2.0)
    assert joint(4, 1, 0.2)["begins_along_m"] is None  # its far end
    assert joint(9, 0, 0.1) == {"x": 9, "y": 0, "begins_at": "tap"}
    assert joint(2, 0.45, 0.2) is None
    assert joint(2, 0.45, 0.2, 0.8)["begins_at"] == "other"  # the nearest, from farther off


def test_a_joint_is_found_where_there_is_room_and_nearest(call):
    parts = {
        "filter": {"collection": "fittings", "part": {"at": {"x_m": 0.1}}, "isFull": True},
        "barrel": {"collection": "stores", "part": {"at": {"x_m": 0.3}}},
        "tap": {"collection": "taps", "part": {"at": {"x_m": 0.25}}},
        "hose": {"collection": "pipes", "part": {"path": [{"x_m": 0.1}, {"x_m": 4.0}]}},
    }

    def joint(x, there):
        return call("parts", "jointAt", there, {"x": x, "y": 0}, 0.4)["begins_at"]

    assert joint(0.1, parts) == "tap"  # nearer than the barrel; the filter is full
    without = {key: parts[key] for key in ("filter", "hose")}
    assert joint(0.1, without) == "hose"
    assert joint(0.1, {"filter": parts["filter"]}) == "filter"  # whose refusal says what to do


def test_a_copy_stands_beside_and_never_over(call):
    def bed(x, y, **more):
        at = {"x_m": x, "y_m": y}
        return {
            "collection": "beds",
            "part": {"name": "Bed", "at": at, "length_m": 2.4, "width_m": 0.9} | more,
        }

    parts = {
        "bed": bed(0, 0, id="bed"),
        "bed-2": bed(3, 0.2, id="bed-2"),
        "far": bed(6, 5, id="far"),
    }
    (one,) = call("parts", "copiesBeside", parts, ["bed"])
    assert (one["part"]["id"], one["part"]["at"]) == ("bed-3", {"x_m": 6, "y_m": 0})
    both = call("parts", "copiesBeside", parts, ["bed", "bed-2"])
    assert [each["part"]["at"]["x_m"] for each in both] == pytest.approx([6.0, 9.0])
    assert len({each["part"]["id"] for each in both}) == 2
