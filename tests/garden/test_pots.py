"""Pots and boxes: what they cover, hold and how they stand."""

from math import pi, sqrt

import pytest
from pydantic import ValidationError
from pytest import approx

from euhydra.garden import shapes
from euhydra.garden.part import Point
from euhydra.garden.pots import KeptBy, PotKind, Pots


def boxes(**fields) -> Pots:
    usual = {"kind": PotKind.BOX, "across_m": 0.3, "length_m": 1.2, "pitch_m": 1.4, "columns": 3}
    return Pots(id="row", name="Row", at=Point(x_m=1, y_m=2), **(usual | fields))


def test_a_box_covers_and_holds_its_length_times_its_width():
    row = boxes(depth_m=0.4)
    assert row.plan_m2 == approx(0.36)
    assert row.mix_m3 == approx(0.144)
    assert row.container.plan_m2 == approx(0.36)
    assert sum(outline.area for outline in shapes.of_pots(row)) == approx(3 * 0.36)


def test_a_box_as_large_as_a_round_pot_drinks_as_much():
    side = 0.3 * sqrt(pi) / 2
    square = Pots(id="b", name="B", kind=PotKind.BOX, across_m=side, depth_m=0.3, crop="tomato")
    round_one = Pots(id="p", name="P", across_m=0.3, depth_m=0.3, crop="tomato")
    assert square.canopy_m2 == approx(round_one.canopy_m2)
    assert square.mix_m3 == approx(round_one.mix_m3)


@pytest.mark.parametrize("turned", [0, 30, 90])
def test_boxes_in_rows_stand_clear_of_each_other(turned):
    outlines = shapes.of_pots(boxes(rows=2, turned_deg=turned))
    gaps = [a.distance(b) for i, a in enumerate(outlines) for b in outlines[:i]]
    assert min(gaps) == approx(0.2)  # along a row and from row to row alike


@pytest.mark.parametrize(("columns", "rows"), [(2, 1), (1, 2)])
def test_boxes_longer_than_their_distance_are_refused_at_its_field(columns, rows):
    with pytest.raises(ValidationError) as refused:
        boxes(pitch_m=1.0, columns=columns, rows=rows)
    (error,) = refused.value.errors()
    assert (error["loc"], error["ctx"]["sentence"].code) == (("pitch_m",), "boxes-overlap")
    assert boxes(pitch_m=1.0, columns=1, rows=1).count == 1


def test_the_tube_of_a_chain_of_boxes_reaches_from_wall_to_wall():
    chained = {"kept_by": KeptBy.CHAIN, "joint_m": 0.2}
    assert boxes(**chained).joint_m == approx(0.2)
    with pytest.raises(ValidationError):
        boxes(**chained, pitch_m=1.6)
