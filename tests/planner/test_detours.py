"""The way of a pipe round the beds: clear of them, and no longer than it has to be."""

from hypothesis import given, settings
from hypothesis import strategies as st
from pytest import approx
from shapely import LineString, box

from euhydra.garden.part import Point
from euhydra.planner.lay import rows
from euhydra.planner.lay.detours import CLEAR, way_round


def at(x: float, y: float) -> Point:
    return Point(x_m=x, y_m=y)


def line(way: list[Point]) -> LineString:
    return LineString([(p.x_m, p.y_m) for p in way])


def test_nothing_in_the_way_is_a_straight_line():
    assert way_round(at(0, 0), at(5, 1), [box(0, 2, 5, 3)]) == [at(0, 0), at(5, 1)]


def test_round_one_bed_by_the_nearer_side():
    """Past the lower corners, a hand off: by Pythagoras, twice 2.9 across and 0.6 down, and along."""
    way = way_round(at(0, 0), at(8, 0), [box(3, -0.5, 5, 3)])
    assert [(p.x_m, p.y_m) for p in way[1:-1]] == [
        (3 - CLEAR, -0.5 - CLEAR),
        (5 + CLEAR, -0.5 - CLEAR),
    ]
    assert rows.length_of(way) == approx(2 * (2.9**2 + 0.6**2) ** 0.5 + 2.2)


def test_a_bed_that_an_end_lies_in_is_no_hindrance():
    assert len(way_round(at(1, 1), at(9, 1), [box(0, 0, 2, 2)])) == 2


def test_where_there_is_no_way_it_goes_straight():
    ring = [box(0, 0, 10, 1), box(0, 9, 10, 10), box(0, 0, 1, 10), box(9, 0, 10, 10)]
    assert way_round(at(5, 5), at(20, 5), ring) == [at(5, 5), at(20, 5)]


@settings(max_examples=60)
@given(
    st.lists(
        st.tuples(st.floats(1, 18), st.floats(-6, 6), st.floats(0.5, 3), st.floats(0.5, 3)),
        max_size=8,
    )
)
def test_the_way_never_crosses_a_bed_that_can_be_gone_round(measures):
    beds = [box(x, y, x + wide, y + deep) for x, y, wide, deep in measures]
    way = way_round(at(0, 0), at(22, 0), beds)
    if len(way) > 2:
        assert not [bed for bed in beds if line(way).intersects(bed.buffer(-0.01))]
        assert line(way).is_simple
    assert rows.length_of(way) >= 22
