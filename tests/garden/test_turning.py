"""Lines turn with their bed, whatever way it is turned."""

from math import cos, hypot, radians, sin

import pytest
from pytest import approx

from euhydra.garden import edits, shapes
from euhydra.planner.lay.wetted import answer_wetting
from euhydra.planner.water import solving, zones
from gardens import one_barrel


def lines_of(garden, bed):
    return [pipe for pipe in garden.pipes if pipe.waters == bed.id]


@pytest.mark.parametrize("degrees", [30, 90, -45, 200])
def test_lines_turn_about_the_middle_and_what_feeds_them_is_drawn_out(degrees):
    garden = one_barrel()
    bed = garden.beds[0]
    then = edits.put(garden, "beds", bed.model_copy(update={"turned_deg": float(degrees)}))
    middle = shapes.of_bed(bed).centroid
    c, s = cos(radians(degrees)), sin(radians(degrees))
    for before, after in zip(lines_of(garden, bed), lines_of(then, bed), strict=True):
        assert after.drawn_m == approx(before.drawn_m)
        for a, b in zip(before.path, after.path, strict=True):
            x, y = a.x_m - middle.x, a.y_m - middle.y
            there = middle.x + x * c - y * s, middle.y + x * s + y * c
            assert hypot(b.x_m - there[0], b.y_m - there[1]) < 1e-6
    turned = shapes.of_bed(then.beds[0]).buffer(0.05)
    outlets = [o for z in zones.zones_of(then) for o in z.outlets if o.waters == bed.id]
    assert outlets
    assert all(turned.contains(shapes.Dot(o.x, o.y)) for o in outlets)


def wetted(garden):
    (zone,) = zones.zones_of(garden)
    return answer_wetting(garden.beds[0], solving.solve_zone(zone, 0.5), []).wetted


def test_a_turned_bed_is_wetted_as_before():
    garden = one_barrel()
    turned = garden.beds[0].model_copy(update={"turned_deg": 70.0})
    assert wetted(edits.put(garden, "beds", turned)) == approx(wetted(garden), rel=0.02)


def test_another_name_turns_nothing():
    garden = one_barrel()
    named = garden.beds[0].model_copy(update={"name": "Other"})
    assert edits.put(garden, "beds", named).pipes == garden.pipes
