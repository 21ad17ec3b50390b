"""Answers for gardens as they are in the middle of being drawn: half joined, half taken away."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError
from pytest import approx

from euhydra.garden import demo, document, edits, plumbing
from euhydra.garden.part import Point
from euhydra.planner.answers import Mark, PlanError
from euhydra.planner.lay import proposed_zones
from euhydra.planner.lay.answer import answer_lay
from euhydra.planner.push import drives, lengths, shortfalls, splitting
from euhydra.planner.water import laws, solving, zones
from gardens import long_row, one_barrel, with_part


@settings(max_examples=25)
@given(st.lists(st.integers(0, 100), min_size=1, max_size=5))
def test_whatever_is_missing_the_plan_answers(picks):
    garden = demo.garden()
    for pick in picks:
        parts = list(garden.parts)
        try:
            garden = edits.remove(garden, parts[pick % len(parts)].id)
        except ValidationError:
            continue
    answer = answer_lay(garden)
    assert answer.verdict.mark in set(Mark)
    watered = {o.waters for zone in zones.zones_of(garden) for o in zone.outlets}
    assert watered <= {part.id for part in (*garden.beds, *garden.pots)} | {None}
    proposal = proposed_zones.propose(garden)
    members = [m.part.id for zone in proposal.zones for m in zone.members]
    assert len(members) == len(set(members))
    assert document.loads(document.dumps(proposal.garden)) == proposal.garden


@settings(max_examples=15)
@given(st.floats(-3.0, 3.0), st.floats(-3.0, 3.0))
def test_a_store_moved_takes_its_water_along(east, north):
    garden = one_barrel()
    store = garden.stores[0]
    at = Point(x_m=store.at.x_m + east, y_m=store.at.y_m + north)
    moved = edits.put(garden, "stores", store.model_copy(update={"at": at}))
    (zone,), (before,) = zones.zones_of(moved), zones.zones_of(garden)
    assert len(zone.outlets) == len(before.outlets)
    # The hose's length is typed, and heights are as they were: the water runs as before.
    assert solving.solve_zone(zone, 0.5).flow == approx(solving.solve_zone(before, 0.5).flow)


def test_a_header_across_the_middle_keeps_outlets_and_evens_them():
    zone = zones.zone_named(long_row(30.0, "line-low"))
    middle = splitting.fed_from_middle(zone)
    assert middle is not None
    assert sum(p.lies_m for p in middle.pipes if p.waters) >= sum(
        p.lies_m for p in zone.pipes if p.waters
    )
    assert len(middle.outlets) == approx(len(zone.outlets), abs=2)
    apart = [solving.solve_zone(z, 0.5).lowest_share for z in (zone, middle)]
    assert apart[1] > apart[0]


def test_a_weak_zone_gets_the_least_pump_that_makes_it_work():
    # A barrel on the ground beside a bed that lies higher.
    zone = zones.zone_named(with_part(one_barrel(), "stores", ground_m=-0.5, stand_m=0.0))
    assert not shortfalls.works(zone, None)
    kind = drives.smallest_pump(zone, None)
    assert kind is not None
    assert shortfalls.works(drives.with_pump(zone, kind), None)
    weaker = list(plumbing.pump_kinds().values())
    for other in weaker[: weaker.index(kind)]:
        assert not shortfalls.works(drives.with_pump(zone, other), None)


@pytest.mark.parametrize("head", [0.5, 2.0, 8.0])
def test_more_head_never_shortens_the_longest_row_of_turbulent_outlets(head):
    row = next(p for p in one_barrel().pipes if laws.kind_of(p).has_outlets)
    assert lengths.longest_row(row, 2 * head) >= lengths.longest_row(row, head) - laws.spacing_of(
        row
    )


def test_nothing_is_solved_without_outlets():
    bare = edits.remove(edits.remove(one_barrel(), "middle-line-1"), "middle-line-2")
    with pytest.raises(PlanError):
        zones.zone_named(bare)
