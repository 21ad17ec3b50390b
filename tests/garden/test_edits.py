"""Changes on the plan: whatever is cut, set in or taken out, the rest stays where and as it was."""

import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st
from pydantic import ValidationError
from pytest import approx

from euhydra.garden import demo, document, edits, shapes
from euhydra.garden.beds import Bed
from euhydra.garden.document import GardenError
from euhydra.garden.model import Garden
from euhydra.garden.part import Point
from euhydra.garden.patches import Patch
from euhydra.garden.pipes import Fitting, Pipe
from euhydra.garden.pots import Pots
from euhydra.garden.quantities import System
from euhydra.garden.roofs import Roof
from gardens import one_barrel, with_part


def pipe_of(garden, part_id):
    return next(p for p in garden.pipes if p.id == part_id)


def ends_meet(garden):
    """Whether every joined end lies on what it is joined to."""
    pieces = {p.id: p.at for p in (*garden.sources, *garden.pieces)}
    pipes = {p.id: p for p in garden.pipes}
    for pipe in garden.pipes:
        for end, point in (("begins", pipe.path[0]), ("ends", pipe.path[-1])):
            there, along = getattr(pipe, f"{end}_at"), getattr(pipe, f"{end}_along_m")
            if there is None:
                continue
            other = pipes.get(there)
            at = (
                pieces.get(there)
                if other is None
                else other.point_at(other.drawn_m if along is None else along)
            )
            if abs(at.x_m - point.x_m) > 1e-4 or abs(at.y_m - point.y_m) > 1e-4:
                return False
    return True


@settings(max_examples=40)
@given(st.integers(0, 24), st.floats(0.0, 1.0), st.sampled_from(["coupling", "check", "shut-off"]))
def test_a_piece_set_in_anywhere_keeps_every_length_and_joint(which, share, kind):
    garden = demo.garden()
    pipe = garden.pipes[which % len(garden.pipes)]
    piece = Fitting(id="new", name="New", kind=kind)
    after = edits.put_into(garden, "fittings", piece, pipe.id, share * pipe.drawn_m)
    lay = sum(p.lies_m for p in garden.pipes)
    assert sum(p.lies_m for p in after.pipes) == approx(lay, abs=0.01)
    assert len(after.pipes) - len(garden.pipes) in (0, 1)
    assert ends_meet(after)
    assert document.loads(document.dumps(after)) == after


@settings(max_examples=40)
@given(st.lists(st.integers(0, 100), min_size=1, max_size=8))
@example([8, 0, 39])  # a splitter whose own feed went first
def test_whatever_is_removed_the_garden_holds_together(picks):
    garden = demo.garden()
    for pick in picks:
        parts = list(garden.parts)
        gone = parts[pick % len(parts)].id
        branches = sum(p.begins_at == gone for p in (*garden.pieces, *garden.pipes))
        is_fed = any(p.id == gone and p.begins_at is not None for p in garden.pieces)
        if is_fed and branches > 1:
            # What feeds it has one port for its branches: it stays, and that is said.
            with pytest.raises(ValidationError, match="put a splitter there"):
                edits.remove(garden, gone)
            continue
        garden = edits.remove(garden, gone)
        assert gone not in {part.id for part in garden.parts}
        assert ends_meet(garden)
    assert document.loads(document.dumps(garden)) == garden


def test_a_piece_taken_out_again_leaves_the_water_its_way():
    garden = one_barrel()
    valve = Fitting(id="valve", name="Valve", kind="shut-off")
    with_valve = edits.put_before(garden, "fittings", valve, "shed-hose")
    assert pipe_of(with_valve, "shed-hose").begins_at == "valve"
    assert with_valve.fittings[0].begins_at == "shed-timer"
    assert edits.remove(with_valve, "valve") == garden


def test_a_bend_stays_in_the_piece_where_it_lies():
    bend = (Point(x_m=0, y_m=0), Point(x_m=4, y_m=0), Point(x_m=4, y_m=4))
    hose = Pipe(id="loose", name="Loose", kind="hose-13", path=bend, length_m=10.0)
    garden = edits.put(one_barrel(), "pipes", hose)
    early = edits.put_into(garden, "fittings", Fitting(id="v", name="V", kind="check"), "loose", 2)
    assert len(pipe_of(early, "loose").path) == 2
    assert len(pipe_of(early, "loose-on").path) == 3
    assert pipe_of(early, "loose").lies_m == approx(2.5)  # a quarter of 10 m, as drawn
    at_bend = edits.put_into(
        garden, "fittings", Fitting(id="v", name="V", kind="check"), "loose", 4
    )
    assert [len(pipe_of(at_bend, i).path) for i in ("loose", "loose-on")] == [2, 2]


def test_rows_follow_the_header_that_is_moved():
    garden = one_barrel()
    header = pipe_of(garden, "middle-line-header")
    short = header.model_copy(update={"path": (header.path[0], Point(x_m=5.4, y_m=6.425))})
    moved = edits.put(garden, "pipes", short)
    row = pipe_of(moved, "middle-line-2")
    assert row.begins_along_m == approx(0.2)
    assert row.path[0].y_m == approx(6.425)
    assert row.path[-1] == pipe_of(garden, "middle-line-2").path[-1]


def joined(**changes):
    path = [{"x_m": 0, "y_m": 0}, {"x_m": 1, "y_m": 1}]
    extra = {"id": "extra", "name": "Extra", "kind": "hose-13", "path": path} | changes
    pipes = [*one_barrel().model_dump(mode="json")["pipes"], extra]
    return lambda: document.from_document(one_barrel().model_dump(mode="json") | {"pipes": pipes})


def bed(**changes):
    plain = {"length_m": 2, "width_m": 1, "soil": "loam", "crop": "pepper"}
    planted = {"planting": {"month": 5, "day": 1}}
    return Bed.model_validate({"id": "n", "name": "N"} | plain | planted | changes)


def patch(*corners):
    where = tuple(Point(x_m=x, y_m=y) for x, y in corners)
    return lambda: edits.put(one_barrel(), "patches", Patch(id="p", name="Walk", corners=where))


@pytest.mark.parametrize(
    ("build", "words"),
    [
        (joined(begins_at="extra"), "round a ring"),
        (joined(ends_at="extra"), "ends at itself"),
        (joined(begins_at="shed-hose", begins_along_m=9.0), "join it nearer"),
        (joined(begins_at="shed-timer", begins_along_m=0.1), "is no pipe"),
        (joined(begins_at="shed-timer"), "which has room for 1"),
        (joined(begins_at="nowhere"), "nowhere"),
        (patch((0, 0), (2, 2), (2, 0), (0, 2)), "crosses itself"),
        (patch((0, 0), (1, 1), (2, 2)), "crosses itself|no area"),
    ],
)
def test_joints_and_outlines_that_cannot_be(build, words):
    with pytest.raises((GardenError, ValidationError), match=words):
        build()


@pytest.mark.parametrize(
    ("collection", "part"),
    [
        ("beds", bed()),
        ("pots", Pots(id="n", name="N", columns=4, rows=2)),
        ("roofs", Roof(id="n", name="N", area_m2=9, material="pitched-hard")),
    ],
)
def test_what_was_typed_without_a_place_is_set_beside_the_rest(collection, part):
    after = edits.put(with_part(one_barrel(), "beds", at={"x_m": 0, "y_m": 0}), collection, part)
    new = next(p for p in after.parts if p.id == "n")
    there = shapes.of_bed(after.beds[0])
    mine = {"beds": shapes.of_bed, "roofs": shapes.of_roof}.get(collection)
    outlines = [mine(new)] if mine else shapes.of_pots(new)
    assert not any(outline.intersects(there) for outline in outlines)


def test_what_was_drawn_stays_where_it_was_drawn():
    at = Point(x_m=5.5, y_m=6.1)  # on top of the bed, as it was said
    after = edits.put(one_barrel(), "beds", bed(at=at))
    assert after.beds[-1].at == at


@pytest.mark.parametrize(("units", "cloudburst"), [(System.METRIC, 0.05), (System.US, 2 * 0.0254)])
def test_a_new_roof_s_downspout_is_round_in_the_garden_s_units(units, cloudburst):
    garden = Garden(name="Plot", units=units, place=one_barrel().place)
    garden = edits.put(garden, "roofs", one_barrel().roofs[0])
    (downspout,) = garden.downspouts
    assert downspout.cloudburst_m == approx(cloudburst, abs=1e-9)


def test_lines_go_with_what_leads_to_them_alone():
    garden = demo.garden()
    bed = next(b for b in garden.beds if b.id == "middle-bed")
    bare = edits.without_lines(garden, {bed.id})
    assert not [p for p in bare.pipes if p.waters == bed.id]
    lost = {p.id for p in garden.fed} - {p.id for p in bare.fed}
    assert {"shed-hose", "shed-timer"} <= lost
    # Nothing else went, and nothing is left that led to them alone.
    before = {p.waters for p in garden.pipes} - {bed.id}
    assert {p.waters for p in bare.pipes} == before
    assert {p.id for p in garden.parts} - {p.id for p in bare.parts} == lost
    assert not [p for p in bare.fed if p.begins_at in lost]


def test_what_new_lines_begin_at_stays():
    garden = demo.garden()
    bare = edits.without_lines(garden, {"middle-bed"}, keep="shed-timer")
    assert "shed-timer" in {p.id for p in bare.timers}
    assert "shed-hose" not in {p.id for p in bare.pipes}
    everything = {d.id for d in garden.planted}
    nothing = edits.without_lines(garden, everything)
    assert [p for p in nothing.pipes if p.waters] == []
    assert {s.id for s in nothing.sources} == {s.id for s in garden.sources}
