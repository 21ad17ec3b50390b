"""Zones as they are drawn, solved again by the public-domain engine."""

import numpy as np
import pytest
from pytest import approx

import engine
from euhydra.formats import inp
from euhydra.garden import demo, edits
from euhydra.garden.heights import LieOfLand
from euhydra.garden.part import Point
from euhydra.garden.patches import Patch, Spot
from euhydra.garden.pipes import Pipe, Pump
from euhydra.planner.water import solving, zones
from gardens import one_barrel


def ring():
    """The small garden's two rows joined at their far ends, so that a ring is closed."""
    garden = one_barrel()
    across = Pipe(
        id="across",
        name="Across",
        kind="hose-13",
        waters="middle-bed",
        begins_at="middle-line-1",
        ends_at="middle-line-2",
        path=(Point(x_m=8.4, y_m=6.225), Point(x_m=8.4, y_m=6.675)),
    )
    return edits.put(garden, "pipes", across)


def pumped():
    pump = Pump(id="pump", name="Pump", kind="battery-mid")
    return edits.put_before(one_barrel(), "pumps", pump, "shed-timer")


@pytest.mark.parametrize("build", [demo.garden, ring, pumped])
def test_every_zone_agrees_with_the_engine(build, tmp_path):
    # EPANET 2.2 through WNTR; outlets within 0.5%.
    for zone in zones.zones_of(build()):
        state = solving.solve_zone(zone, 0.5 if zone.group else 1.0)
        network = state.network
        _, outflow = engine.solve(inp.dumps(network, zone.name), network.nodes.ids, tmp_path)
        outlets = network.nodes.outlet_coefficient > 0
        assert state.solution.outflow[outlets] * 60000 == approx(outflow[outlets], rel=0.005)


def test_a_ring_carries_water_both_ways_round():
    zone = zones.zone_named(ring())
    state = solving.solve_zone(zone, 0.5)
    plain = solving.solve_zone(zones.zone_named(one_barrel()), 0.5)
    assert state.lowest_share >= plain.lowest_share
    lost = np.array(list(state.heads.values()))
    assert np.isfinite(lost).all()
    assert "across" in {part.id for part in zone.way.parts}


def test_the_way_to_an_outlet_begins_at_the_source_and_only_loses():
    zone = zones.zone_named(one_barrel())
    state = solving.solve_zone(zone, 1.0)
    route = zone.way.route_to(zone.outlets[-1].node)
    assert route[0].node == "shed-barrel"
    heads = [state.heads[stop.node] for stop in route]
    assert heads == sorted(heads, reverse=True)
    assert sum(stop.length for stop in route) == approx(7.0 + 0.45 + 2.85)


def test_the_ground_is_level_on_a_terrace_and_between_known_heights_elsewhere():
    garden = edits.put_all(
        one_barrel(),
        [
            (
                "patches",
                Patch(
                    id="t",
                    name="T",
                    kind="terrace",
                    ground_m=3.0,
                    corners=(
                        Point(x_m=50, y_m=50),
                        Point(x_m=60, y_m=50),
                        Point(x_m=60, y_m=60),
                        Point(x_m=50, y_m=60),
                    ),
                ),
            ),
            ("spots", Spot(id="s", name="S", at=Point(x_m=-20, y_m=0), ground_m=5.0)),
        ],
    )
    ground = LieOfLand.of(garden)
    assert ground.height_at(55, 55) == 3.0
    assert ground.height_at(-20, 0) == 5.0
    assert 0.6 < ground.height_at(-10, 1) < 5.0
