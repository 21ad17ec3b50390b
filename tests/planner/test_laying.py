"""Lines laid for a bed: as many as the soil asks for, ordinary pipes, and solved as they lie."""

from math import hypot

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pytest import approx

from euhydra.garden import catalogue, edits, shapes
from euhydra.garden.beds import Bed, PlantingDate
from euhydra.garden.part import Point
from euhydra.garden.pots import Pots
from euhydra.garden.sources import Tap
from euhydra.planner.answers import Mark, PlanError
from euhydra.planner.lay import pot_lines, proposed_lines, proposed_manifold, rules, wetted
from euhydra.planner.lay.answer import answer_lay
from euhydra.planner.lay.wishes import Method, Wish
from euhydra.planner.water import laws, solving, zones
from gardens import one_barrel


def with_bed(garden, **fields):
    usual = {"length_m": 4.0, "width_m": 1.2, "soil": "loam", "crop": "bean"}
    bed = Bed(
        id="plot",
        name="Plot",
        at=Point(x_m=1, y_m=10),
        planting=PlantingDate(month=5, day=1),
        **(usual | fields),
    )
    return edits.put(garden, "beds", bed)


def with_tap(garden):
    return edits.put(
        garden,
        "taps",
        Tap(id="tap", name="Tap", at=Point(x_m=1, y_m=-2), bucket_m3=0.01, fills_in_s=30.0),
    )


@pytest.mark.parametrize(
    ("soil", "rows"),
    [("sand", 4), ("loam", 3), ("clay", 2)],  # common practice: 0.3, 0.45, 0.6 m apart
)
def test_rows_stand_as_far_apart_as_the_soil_asks(soil, rows):
    garden = proposed_lines.lay(
        with_bed(one_barrel(), soil=soil), Wish("plot", "shed-barrel", Method.ROWS, "line-low")
    )
    found = [p for p in garden.pipes if p.waters == "plot" and laws.kind_of(p).has_outlets]
    assert len(found) == rows
    outline = shapes.of_bed(next(b for b in garden.beds if b.id == "plot")).buffer(1e-6)
    zone = zones.zone_named(garden, "plot")
    assert all(
        outline.covers(shapes.rectangle(Point(x_m=o.x, y_m=o.y), 1e-9, 1e-9)) for o in zone.outlets
    )
    assert solving.solve_zone(zone, 0.5).flow > 0


def test_a_soaker_winds_through_the_bed_in_two_or_three_passes_a_metre():
    # Common practice: a bed about 1 m wide needs two or three passes.
    garden = proposed_lines.lay(
        with_bed(one_barrel(), width_m=1.0), Wish("plot", "shed-barrel", Method.SOAKER, "soaker")
    )
    soaker = next(p for p in garden.pipes if p.kind == "soaker")
    assert soaker.drawn_m / 4.0 == approx(2.2, abs=0.9)
    turns = {round(p.y_m, 3) for p in soaker.path}
    assert len(turns) in (2, 3)


@pytest.mark.parametrize(("across", "count"), [(0.25, 1), (0.45, 2), (0.6, 3), (0.8, 4)])
def test_drippers_a_pot_by_its_size(across, count):
    # Common practice: one to about 25 cm across, two to 45 cm, three or four above.
    assert pot_lines.drippers_for(across) == count


def test_pots_on_a_tap_get_the_whole_head_assembly_in_order():
    garden = edits.put(
        with_tap(one_barrel()),
        "pots",
        Pots(id="row", name="Row", columns=4, across_m=0.4, at=Point(x_m=3, y_m=-4)),
    )
    garden = proposed_lines.lay(
        garden, Wish("row", "tap", Method.POTS, "button-2", timer="dial-solenoid")
    )
    zone = zones.zone_named(garden, "row")
    assert len(zone.outlets) == 8
    kinds = [p.kind for p in zone.way.parts if p in garden.pieces]
    assert kinds == ["dial-solenoid", "backflow", "filter", "regulator", "adapter"]
    assert rules.find_all(garden, rules.states_of(garden)) == tuple(
        f for f in rules.find_all(garden, rules.states_of(garden)) if f.part.id.startswith("middle")
    )
    tubes = [p for p in garden.pipes if p.dripper]
    places = shapes.pot_places(garden.pots[0])
    for tube in tubes:
        end = tube.path[-1]
        assert min(hypot(end.x_m - x, end.y_m - y) for x, y in places) < 0.2


def test_stems_get_a_dripper_each():
    garden = proposed_lines.lay(
        with_bed(one_barrel()),
        Wish("plot", "shed-barrel", Method.STEMS, "low-2", spacing_m=0.5, rows=2),
    )
    zone = zones.zone_named(garden, "plot")
    assert len(zone.outlets) == 2 * 8
    assert solving.solve_zone(zone, 0.5).lowest_share > 0.9


def test_an_odd_bed_gets_rows_that_keep_inside_it():
    corners = tuple(Point(x_m=x, y_m=y) for x, y in ((1, 10), (5, 10), (5, 11), (3, 12.5), (1, 11)))
    garden = with_bed(one_barrel(), shape="corners", corners=corners, width_m=2.5)
    garden = proposed_lines.lay(
        garden, Wish("plot", "shed-barrel", Method.ROWS, "line-low", rows=4)
    )
    outline = shapes.polygon(corners).buffer(0.01)
    rows = [p for p in garden.pipes if p.waters == "plot" and laws.kind_of(p).has_outlets]
    assert len(rows) == 4
    assert len({round(row.drawn_m, 2) for row in rows}) > 1
    for row in rows:
        assert all(outline.covers(shapes.rectangle(p, 1e-9, 1e-9)) for p in row.path)


@pytest.mark.parametrize(
    ("wish", "words"),
    [
        (Wish("nothing", "shed-barrel", Method.ROWS, "line-low"), "which bed or pots"),
        (Wish("plot", "nothing", Method.ROWS, "line-low"), "where its water comes from"),
        (Wish("plot", "shed-barrel", Method.ROWS, "line-low", spacing_m=9.0), "do not fit"),
    ],
)
def test_what_cannot_be_laid_is_said(wish, words):
    with pytest.raises(PlanError, match=words):
        proposed_lines.lay(with_bed(one_barrel()), wish)


def test_wider_rows_leave_dry_gaps():
    few = proposed_lines.lay(
        with_bed(one_barrel(), soil="sand"),
        Wish("plot", "shed-barrel", Method.ROWS, "line-low", rows=1),
    )
    many = proposed_lines.lay(
        with_bed(one_barrel(), soil="sand"),
        Wish("plot", "shed-barrel", Method.ROWS, "line-low", rows=4),
    )
    shares = []
    for garden in (few, many):
        state = solving.solve_zone(zones.zone_named(garden, "plot"), 0.5)
        answer = wetted.answer_wetting(next(b for b in garden.beds if b.id == "plot"), state)
        assert 0 <= answer.waste <= 1
        shares.append(answer.wetted)
    assert shares[0] < shares[1]


LAID = [
    Wish("plot", "shed-barrel", Method.ROWS, "line-low"),
    Wish("plot", "shed-barrel", Method.ROWS, "hole-1"),
    Wish("plot", "shed-barrel", Method.SOAKER, "soaker"),
    Wish("plot", "shed-barrel", Method.STEMS, "low-2"),
    Wish("plot", "tap", Method.ROWS, "line-2"),
]


@given(
    st.sampled_from(LAID),
    st.sampled_from(sorted(catalogue.soils())),
    st.floats(0.6, 1.8),
    st.floats(1.5, 6.0),
)
@settings(max_examples=30, deadline=None)
def test_what_is_laid_as_the_soil_asks_wets_the_bed_well(wish, soil, width, length):
    garden = with_bed(with_tap(one_barrel()), soil=soil, width_m=width, length_m=length)
    laid = proposed_manifold.lay_together(garden, [wish])
    own = [w.verdict.summary.code for w in answer_lay(laid).wettings if w.bed.id == "plot"]
    assert own == ["lay-bed-wetted"]


def test_rows_that_are_typed_stay_as_typed():
    wish = Wish("plot", "shed-barrel", Method.ROWS, "line-low", spacing_m=0.6, rows=1)
    laid = proposed_manifold.lay_together(with_bed(one_barrel(), soil="sand"), [wish])
    rows = [pipe for pipe in laid.pipes if pipe.waters == "plot"]
    assert [pipe.spacing_m for pipe in rows] == [0.6]


def test_a_line_that_wets_too_little_even_at_its_closest_is_told():
    wish = Wish("plot", "shed-barrel", Method.ROWS, "tape")
    laid = proposed_manifold.lay_together(with_bed(one_barrel(), soil="potting-mix"), [wish])
    codes = {w.verdict.summary.code for w in answer_lay(laid).wettings if w.bed.id == "plot"}
    assert codes == {"lay-bed-wetted-in-part"}
    assert sum(pipe.kind == "tape" for pipe in laid.pipes) == 6  # every 20 cm of 1.2 m


def test_the_answer_counts_outlets_and_names_what_nothing_waters():
    garden = with_bed(one_barrel())
    answer = answer_lay(garden)
    assert "20 of 20 outlets" in str(answer.verdict.summary)
    assert answer.verdict.mark is Mark.BUT
    codes = [each.message.code for each in answer.to_mend]
    assert codes == ["lay-no-filter", "lay-bed-wetted-in-part", "lay-nothing-waters"]
    dry = answer_lay(edits.remove(garden, "shed-hose"))
    assert dry.verdict.summary.code == "lay-nothing-laid"
    assert any(f.message.code == "lay-no-water-reaches" for f in dry.findings)


def test_of_stores_in_a_row_the_one_next_to_the_bed_is_drawn_from():
    """So that no piece of a head is drawn over the others."""
    garden = with_bed(one_barrel(), ground_m=-2.0)
    row = garden.stores[0].model_copy(update={"count": 6})
    east = Point(x_m=row.at.x_m + 8, y_m=row.at.y_m)
    bed = garden.beds[-1].model_copy(update={"at": east})
    garden = edits.put_all(garden, [("stores", row), ("beds", bed)])
    laid = proposed_lines.lay(
        garden, Wish("plot", row.id, Method.ROWS, "line-low", timer="dial-ball")
    )
    *others, last = shapes.of_store(row)
    pieces = [t for t in laid.timers if t not in garden.timers]
    pieces += [f for f in laid.fittings if f not in garden.fittings]
    assert pieces
    for piece in pieces:
        spot = shapes.rectangle(piece.at, 1e-9, 1e-9)
        assert last.distance(spot) < min(other.distance(spot) for other in others)
