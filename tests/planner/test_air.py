"""Air in pipes: above the line of head, and at humps; with the place for an air release."""

from pytest import approx

from euhydra.garden import demo, edits
from euhydra.garden.model import Garden
from euhydra.garden.part import Point
from euhydra.garden.patches import Spot
from euhydra.garden.pipes import Fitting
from euhydra.planner.answers import Mark
from euhydra.planner.push.air import air_in
from euhydra.planner.push.answer import answer_push
from euhydra.planner.water import zones
from gardens import one_barrel, tapped, three_troughs

MIDDLE = Point(x_m=5.05, y_m=4.41)


def over_ground(height: float) -> Garden:
    """The hose of the one barrel, led over a place of a height; its bed stands at 0.6 m and 0.2 over that."""
    garden = one_barrel()
    hose = next(pipe for pipe in garden.pipes if pipe.id == "shed-hose")
    bent = hose.model_copy(update={"path": (hose.path[0], MIDDLE, hose.path[-1])})
    bump = Spot(id="bump", name="Bump", at=MIDDLE, ground_m=height)
    return edits.put(edits.put(garden, "pipes", bent), "spots", bump)


def found_in(garden: Garden):
    (zone,) = zones.zones_of(garden)
    return air_in(zone)


def test_level_hoses_hold_no_air():
    assert found_in(one_barrel()) == ()
    (zone,) = zones.zones_of(one_barrel())
    assert answer_push(zone, ()).air == ()


def test_a_hump_is_named_with_its_place_and_an_air_release_there_cures_it():
    # From the tap at 1.6 m down to 0.7, up over 1.2 m, down to the bed: above the bed, under the water.
    garden = over_ground(1.2)
    low = Spot(id="low", name="Low", at=Point(x_m=4.8, y_m=3.1), ground_m=0.7)
    hose = next(pipe for pipe in garden.pipes if pipe.id == "shed-hose")
    path = (hose.path[0], low.at, *hose.path[1:])
    garden = edits.put(
        edits.put(garden, "spots", low), "pipes", hose.model_copy(update={"path": path})
    )
    (said,) = found_in(garden)
    assert said.code == "push-air-stays"
    assert said.values["along"].value == approx(0.51 + 1.33, abs=0.05)
    assert said.values["high"].value > 0.1
    (zone,) = zones.zones_of(garden)
    assert answer_push(zone, ()).verdict.mark is not Mark.WORKS
    release = Fitting(
        id="vent",
        name="Vent",
        kind="air-release",
        at=MIDDLE,
        begins_at="shed-hose",
        begins_along_m=said.values["along"].value,
    )
    assert found_in(edits.put(garden, "fittings", release)) == ()


def test_a_hose_above_the_water_draws_air():
    # The barrel's outlet stands at 1.6 m and some centimetres over; nearly empty no water reaches 1.9 m.
    (said,) = found_in(over_ground(1.9))
    assert said.code == "push-over-line-of-head"
    assert 0.1 < said.values["over"].value < 0.5


def test_what_the_program_lays_holds_no_air():
    for garden in (demo.garden(), tapped(), three_troughs()):
        for zone in zones.zones_of(garden):
            assert air_in(zone) == (), zone.name
