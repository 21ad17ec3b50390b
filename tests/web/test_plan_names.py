"""Names on the plan: none lies on another, on a part or, where the paper allows, on a pipe."""

from itertools import combinations

import pytest
from shapely import LineString, box

import sound_gardens
from euhydra.garden import demo, kinds
from euhydra.garden.model import Garden
from euhydra.planner.lay.answer import answer_lay
from euhydra.web.drawing import plan, plan_names
from gardens import abroad

GARDENS = {"demo": demo.garden} | {
    name: getattr(sound_gardens, name)
    for name in (
        "barrel_two_beds", "barrel_pots", "tap_shared", "well_bed", "pumped_bed", "linked_barrels",
        "washing_shrubs", "washing_lines", "float_troughs", "float_each", "soggy_corner", "odd_threads",
    )
}  # fmt: skip


def drawn(garden: Garden) -> plan.PlanDrawing:
    return plan.draw(answer_lay(garden), garden.units)


def outlines(garden: Garden, px: float) -> list:
    """Beds, pots, stores and drums, in pixels."""
    return [
        plan_names.in_pixels(outline, px)
        for kind in kinds.PART_KINDS
        if kind.layer in ("beds", "sources")
        for part in getattr(garden, kind.collection)
        for outline in kinds.outlines_of(part)
    ]


@pytest.mark.parametrize("size", list(plan.FRAMES))
@pytest.mark.parametrize("make", GARDENS.values(), ids=GARDENS)
def test_no_name_lies_on_another_or_on_a_part(make, size):
    garden = make()
    picture = drawn(garden)
    names = picture.names[size]
    px = plan_names.metres_a_pixel(picture.box, *plan.FRAMES[size])
    letters = {name.part_id: box(*name.box) for name in names}
    named = [shape for shape in picture.shapes if shape.layer not in ("pipes", "pieces")]
    assert {shape.id for shape in named} == set(letters)
    for one, other in combinations(letters.values(), 2):
        assert one.intersection(other).area == 0
    for outline in outlines(garden, px):
        for part_id, area in letters.items():
            assert area.intersection(outline).area < 1, part_id


@pytest.mark.parametrize("size", list(plan.FRAMES))
def test_names_as_long_as_they_may_get_are_not_cut_off_by_the_paper(size):
    picture = drawn(abroad())
    px = plan_names.metres_a_pixel(picture.box, *plan.FRAMES[size])
    left, top, width, height = (value / px for value in picture.box)
    names = picture.names[size]
    assert any("…" in name.text for name in names)
    assert all(
        box(left, top, left + width, top + height).contains(box(*name.box)) for name in names
    )


def test_where_there_is_room_no_name_lies_on_a_pipe():
    garden = demo.garden()
    picture = drawn(garden)
    px = plan_names.metres_a_pixel(picture.box, *plan.FRAMES["wide"])
    pipes = [
        plan_names.in_pixels(LineString([(p.x_m, p.y_m) for p in pipe.path]), px)
        for pipe in garden.pipes
    ]
    for name in picture.names["wide"]:
        assert not any(box(*name.box).intersects(pipe) for pipe in pipes), name.text


def test_a_name_hangs_on_its_part_however_near_one_looks():
    garden = demo.garden()
    for name in drawn(garden).names["wide"]:
        part = next(part for part in garden.parts if part.id == name.part_id)
        places = [*(p for o in kinds.outlines_of(part) for p in o.exterior.coords)]
        if places:
            assert min(x for x, _ in places) - 1e-6 <= name.x <= max(x for x, _ in places) + 1e-6
        assert abs(name.dx) < 12
        assert abs(name.dy) < 12


def test_a_crowd_at_one_place_is_named_apart():
    """A dozen stores on one spot: no two names on each other."""
    garden = sound_gardens.barrel_two_beds()
    store = garden.stores[0]
    many = tuple(
        store.model_copy(update={"id": f"s{i}", "name": f"Store {i}", "linked_to": None})
        for i in range(12)
    )
    crowded = garden.model_copy(update={"stores": (*garden.stores, *many)})
    shapes = list(plan.plan_shapes.shapes_of(crowded, {}, crowded.units))
    bar = (-4.7, 4.5, -2.0, 4.9)
    seen = plan_names.seen_on(crowded, shapes)
    names = plan_names.place_names(seen, (-5.0, -10.0, 20.0, 15.0), 0.02, bar)
    letters = [box(*name.box) for name in names]
    letters.append(box(*(value / 0.02 for value in bar)))
    assert not any(one.intersection(other).area > 0 for one, other in combinations(letters, 2))
