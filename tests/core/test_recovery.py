"""Momentum recovery, against the handbook's formula and an own march along the pipe."""

from math import log10, pi

import numpy as np
import pytest
from pytest import approx

from euhydra.core import recovery
from euhydra.garden import edits
from euhydra.planner.push import grading
from euhydra.planner.push.slowing import slowings_of
from euhydra.planner.water import solving, zones
from gardens import long_row

GRAVITY = 9.80665


def test_all_comes_back_where_the_water_stands_still_by_hand():
    # 1 m/s is 51 mm of velocity head; a hole at which half of it turns off sees the mean of the squares.
    area = pi / 4 * 0.02**2
    held = recovery.held_back(np.array([area, area / 2]), np.array([area / 2, 0.0]), 0.02)
    full = 1 / (2 * GRAVITY)
    assert held.tolist() == approx([full * (1 + 0.25) / 2, full * 0.25 / 2], rel=1e-3)
    assert recovery.velocity_head(area, 0.02) == approx(full, rel=1e-3)


def drilled(metres: float, bore: float, hole: float):
    garden = long_row(metres, "hole-1")
    (row,) = [pipe for pipe in garden.pipes if pipe.kind == "hole-1"]
    row = row.model_copy(update={"bore_m": bore, "hole_m": hole, "spacing_m": 0.1})
    (zone,) = zones.zones_of(edits.put(garden, "pipes", row))
    return row, solving.solve_zone(zone, 0.5)


def friction_factor(reynolds: float) -> float:
    """Smooth pipe: laminar, or Prandtl and von Kármán by iteration (White, from memory)."""
    if reynolds < 2000:
        return 64 / max(reynolds, 1e-9)
    inverse = 8.0
    for _ in range(40):
        inverse = 2 * log10(reynolds / inverse) - 0.8
    return 1 / inverse**2


@pytest.mark.parametrize(
    ("metres", "bore", "hole"), [(3.0, 0.0136, 0.0015), (6.0, 0.025, 0.002), (3.0, 0.0136, 0.002)]
)
def test_a_march_along_the_pipe_finds_the_same_flows(metres, bore, hole):
    """From the solved head at its beginning: loss by Darcy–Weisbach, holes at static head, one by one."""
    row, state = drilled(metres, bore, hole)
    own = [i for i, outlet in enumerate(state.zone.outlets) if outlet.pipe.id == row.id]
    solved = state.outlet_flow[own]
    segments = state.zone.way.segments[row.id]
    height = state.zone.outlets[own[0]].height
    law = state.zone.outlets[own[0]].law
    area, viscosity = pi / 4 * bore**2, 1.004e-6
    total, energy = float(solved.sum()), state.heads[segments[0].start] - height
    flow = total
    for segment, given in zip(segments, solved.tolist(), strict=True):
        speed = flow / area
        factor = friction_factor(speed * bore / viscosity)
        energy -= (factor * segment.length / bore + segment.loss) * speed**2 / (2 * GRAVITY)
        after = flow - given
        static = energy - (speed**2 + (after / area) ** 2) / 2 / (2 * GRAVITY)
        assert law.coefficient * max(static, 0.0) ** law.exponent == approx(given, rel=0.02)
        flow = after
    assert flow == approx(0.0, abs=1e-9 + 1e-6 * total)


def test_which_of_the_two_rules_is_told_as_the_handbook_has_it():
    """Perry: friction rules where 4fL/3D (Fanning's f) is more than 2K = 1, else the slowing water."""
    ruled = set()
    for metres, bore, hole in [(3.0, 0.0136, 0.002), (1.2, 0.025, 0.004), (12.0, 0.0136, 0.001)]:
        row, state = drilled(metres, bore, hole)
        (found,) = slowings_of(state)
        flow = state.flows[state.zone.way.segments[row.id][0].link]
        reynolds = abs(flow) / (pi / 4 * bore**2) * bore / 1.004e-6
        term = friction_factor(reynolds) * metres / (3 * bore)
        if not 0.7 < term < 1.4:  # between, Fanning's f of the first stretch is too rough a judge
            assert (found.friction > found.regained) is (term > 1.0)
            ruled.add(term > 1.0)
        assert (found.last_over_first > 1) is (found.regained > found.friction)
    assert ruled == {True, False}


def test_graded_holes_are_told_with_the_evenness_that_they_reach():
    _, state = drilled(12.0, 0.0136, 0.001)
    before = state.low_quarter
    told = grading.best_grading(state.zone)
    assert told is not None
    assert told.values["before"].value == approx(before)
    assert told.values["after"].value > before + grading.WORTH_DRILLING
    _, even = drilled(1.2, 0.025, 0.001)
    assert grading.best_grading(even.zone) is None
