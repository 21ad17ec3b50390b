"""Whatever is drawn, its water is the engine's: each zone of redrawn gardens solved twice."""

from pathlib import Path

import numpy as np
import pytest
from hypothesis import HealthCheck, assume, given, settings

import engine
from euhydra.formats import inp
from euhydra.garden.model import Garden
from euhydra.planner.answers import PlanError
from euhydra.planner.water import solving, zones
from redrawn import gardens

LITRES_A_MINUTE = 60_000.0

HARDLY = 0.002
"""Outflow below which an outlet hardly drips and is left out. [L/min]"""


def _differences(zone: zones.Zone, folder: Path) -> np.ndarray | None:
    """Our outflow over the engine's, of each outlet that runs; None of what it cannot have."""
    try:
        state = solving.solve_zone(zone, zone.levels[zone.usual_level])
        text = inp.dumps(state.network, "zone")
    except (PlanError, inp.InpError):
        # Nothing comes, or outlets of several exponents, for which its file has no room.
        return None
    _, outflow = engine.solve(text, state.network.nodes.ids, folder)
    own = state.solution.outflow * LITRES_A_MINUTE
    running = (state.network.nodes.outlet_coefficient > 0) & (own > HARDLY)
    return np.asarray(own[running] / outflow[running])


@settings(max_examples=40, suppress_health_check=list(HealthCheck))
@given(gardens())
def test_every_zone_of_any_garden_agrees_with_the_engine(tmp_path: Path, garden: Garden):
    """EPANET 2.2 through WNTR; its own form of the friction law keeps outlets within 1 %."""
    ratios = [_differences(zone, tmp_path) for zone in zones.zones_of(garden)]
    solved = [ratio for ratio in ratios if ratio is not None and len(ratio)]
    assume(solved)  # too many that are dry would fail the test
    assert np.concatenate(solved) == pytest.approx(1.0, abs=0.01)
