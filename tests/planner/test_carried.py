"""What a pipe or piece carries, as the plan says when it is chosen."""

from math import pi

import pytest
from pytest import approx

from euhydra.core.constants import GRAVITY, WATER_KINEMATIC_VISCOSITY
from euhydra.garden import demo, edits
from euhydra.planner.lay.answer import carried_by
from euhydra.planner.water import laws, solving, zones
from gardens import one_barrel, with_part


def solved(garden, bed=""):
    zone = zones.zone_named(garden, bed)
    return zone, solving.solve_zone(zone, zone.levels[zone.usual_level])


def test_a_hose_carries_what_all_its_outlets_give():
    garden = one_barrel()
    zone, state = solved(garden)
    carried = carried_by(garden, "shed-hose")
    assert carried.flow == approx(float(state.outlet_flow.sum()), rel=1e-9)
    hose = next(p for p in zone.pipes if p.id == "shed-hose")
    assert carried.speed == approx(carried.flow / (pi / 4 * laws.bore_of(hose) ** 2))


def test_a_slow_hose_takes_the_head_of_laminar_flow():
    """Hagen and Poiseuille, as every textbook has it: 128 ν L q ÷ (π g d⁴)."""
    garden = one_barrel()
    at = next(i for i, p in enumerate(garden.pipes) if p.id == "shed-hose")
    garden = with_part(garden, "pipes", at, length_m=25.0, fittings_loss=0.0)
    zone, _ = solved(garden)
    hose = next(p for p in zone.pipes if p.id == "shed-hose")
    bore = laws.bore_of(hose)
    carried = carried_by(garden, "shed-hose")
    assert carried.speed * bore / WATER_KINEMATIC_VISCOSITY < 2000
    straight = 128 * WATER_KINEMATIC_VISCOSITY * 25.0 * carried.flow / (pi * GRAVITY * bore**4)
    assert carried.lost == approx(straight, rel=0.02)


def test_what_branches_share_adds_up_to_what_feeds_them():
    garden = demo.garden()
    branches = [p for p in garden.pipes if p.begins_at == "top-line-header"]
    beyond = [
        p for p in branches if p.begins_along_m != 0
    ]  # what branches off at 0 m is fed before it
    assert 0 < len(beyond) < len(branches)
    through = carried_by(garden, "top-line-header")
    assert sum(carried_by(garden, p.id).flow for p in beyond) == approx(through.flow)
    hose = carried_by(garden, "top-hose")
    assert sum(carried_by(garden, p.id).flow for p in branches) == approx(hose.flow)


def test_a_piece_tells_its_own_loss_and_a_pump_adds():
    garden = demo.garden()
    regulator = carried_by(garden, "patio-pots-regulator")
    assert regulator.lost > 5  # from the tap's three bar to the fourteen metres it holds
    assert regulator.head == approx(14.0, abs=0.5)
    filtered = carried_by(garden, "patio-pots-filter")
    assert 0 <= filtered.lost < 1


@pytest.mark.parametrize("part_id", ["nothing", "top-bed", "shed-roof"])
def test_what_carries_nothing_is_none(part_id):
    assert carried_by(demo.garden(), part_id) is None


def test_a_pipe_that_hangs_on_nothing_carries_nothing():
    garden = edits.remove(one_barrel(), "shed-barrel")
    assert carried_by(garden, "shed-hose") is None
