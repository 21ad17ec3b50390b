"""What downspouts bring: shares, guards, first flush, and several joined into one pipe."""

import numpy as np
import pytest
from pytest import approx

from euhydra.core.weather import DailyWeather
from euhydra.garden import catalogue, edits
from euhydra.garden.model import Garden
from euhydra.garden.roofs import Downspout, Roof
from euhydra.garden.store_groups import groups_of
from euhydra.planner.answers import Mark
from euhydra.planner.catch import downpipes, spouts
from euhydra.planner.catch.answer import answer_catch
from euhydra.planner.store.spill import PONDING, SOAK_WITHIN, answer_spill
from gardens import one_barrel, with_part

RAIN = np.array([0.0, 10.0, 2.0, 0.0, 0.0, 6.0])
RECORD = DailyWeather.of(
    np.arange("2021-01-01", "2021-01-07", dtype="datetime64[D]"),
    precip=RAIN,
    temp_min=np.full(6, 5.0),
    temp_max=np.full(6, 12.0),
)


def two_roofs(**main: object) -> Garden:
    """A second roof of 20 m² whose downspout joins that of the first, 12.6 m²."""
    garden = with_part(one_barrel(), "downspouts", first_flush_m=0.0, **main)
    house = Roof(id="house", name="House", area_m2=20, material="us-metal")
    side = Downspout(id="side", name="Side", roof_id="house", leads_to="shed-downspout")
    return edits.replace(
        garden, roofs=(*garden.roofs, house), downspouts=(*garden.downspouts, side)
    )


def inflow(garden: Garden) -> np.ndarray:
    return spouts.inflow_of(garden, {"shed-barrel"}, RECORD)


def test_joined_downspouts_bring_the_sum_of_their_roofs():
    # By hand: (12.6 · 0.8 + 20 · 0.95) L for each mm.
    assert inflow(two_roofs()) == approx(RAIN * (12.6 * 0.8 + 20 * 0.95))


def test_a_first_flush_in_litres_is_filled_by_all_that_runs_through_it():
    # 30 L, empty again after two dry days: 30 L of the first wet spell, 30 L of the second.
    garden = two_roofs(first_flush_m3=0.03, first_flush_dry_d=2)
    taken = inflow(two_roofs()) - inflow(garden)
    assert taken == approx([0, 30, 0, 0, 0, 30])
    slow = two_roofs(first_flush_m3=0.03, first_flush_dry_d=3)
    assert inflow(two_roofs()) - inflow(slow) == approx([0, 30, 0, 0, 0, 0])


def test_depth_and_litres_of_a_first_flush_are_the_same_thing():
    depth = with_part(one_barrel(), "downspouts", first_flush_m=0.001)
    litres = with_part(one_barrel(), "downspouts", first_flush_m3=0.001 * 12.6 * 0.8)
    assert inflow(depth) == approx(inflow(litres))


def test_a_filter_in_the_downspout_loses_a_tenth():
    # DIN 1989-1: hydraulic filter efficiency 0.9, from memory.
    plain = with_part(one_barrel(), "downspouts", first_flush_m=0.0)
    assert inflow(with_part(plain, "downspouts", guard="filter")) == approx(0.9 * inflow(plain))


def test_the_narrower_of_gutter_and_pipe_counts_and_joined_gutters_add():
    joined = spouts.spouts_of(two_roofs())["shed-downspout"]
    side = joined.joining[0]
    gutter = downpipes.carried_flow(side)
    assert downpipes.carried_flow(joined) == approx(
        2 * gutter
    )  # two gutters of 100 mm, one wide pipe
    narrow = spouts.spouts_of(two_roofs(bore_m=0.03))["shed-downspout"]
    assert downpipes.carried_flow(narrow) < gutter


def test_a_roof_that_no_store_drains_is_proposed():
    garden = with_part(two_roofs(), "downspouts", 1, leads_to=None)
    answer = answer_catch(garden, RECORD, [])
    assert answer.unused.amount.value * 1000 == approx(20 * 0.95 * RAIN.sum() / RECORD.years)
    assert [spout.leads_to for spout in answer.spouts] == ["Shed barrel", "the ground"]


@pytest.mark.parametrize(
    ("changes", "spill", "mark"),
    [
        ({"overflow_to": "in-drain"}, 1.0, Mark.WORKS),
        ({"overflow_to": "on-ground", "soak_area_m2": 40.0, "soak_soil": "sand"}, 1.0, Mark.WORKS),
        ({"overflow_to": "on-ground", "soak_area_m2": 4.0}, 1.0, Mark.BUT),
        ({"overflow_to": "in-rain-garden", "soak_area_m2": 4.0}, 1.0, Mark.BUT),
        ({"overflow_to": "in-rain-garden", "soak_area_m2": 8.0}, 1.0, Mark.WORKS),
        (
            {"overflow_to": "in-rain-garden", "soak_area_m2": 9.0, "soak_soil": "clay"},
            1.0,
            Mark.BUT,
        ),
    ],
)
def test_where_the_overflow_goes(changes, spill, mark):
    group = groups_of(with_part(one_barrel(), "stores", **changes).stores)[0]
    assert answer_spill(group, spill, None).verdict.mark is mark


def test_what_spills_into_a_store_or_a_downspout_says_where_to():
    group = groups_of(one_barrel().stores)[0]
    told = answer_spill(group, 0.2, "the pond tank").verdict
    assert (told.mark, told.summary.code) == (Mark.WORKS, "store-spills-hour")
    assert told.summary.values["below"] == "the pond tank"
    kept = groups_of(with_part(one_barrel(), "stores", overflow_to="stays-in-pipe").stores)[0]
    assert answer_spill(kept, 0.2, None).verdict.summary.code == "store-diverter-full-hour"
    drain = groups_of(with_part(one_barrel(), "stores", overflow_to="in-drain").stores)[0]
    asked = answer_spill(drain, 0.2, None).verdict.reasons
    assert asked[0].code == "store-ask-water-authority"


@pytest.mark.parametrize("soil", ["sand", "loam", "clay"])
def test_a_rain_garden_of_the_size_it_takes_holds_the_hour(soil):
    """Closed by a second sum: what falls in is what the hollow holds and the ground takes."""
    changes = {"overflow_to": "in-rain-garden", "soak_area_m2": 1.0, "soak_soil": soil}
    group = groups_of(with_part(one_barrel(), "stores", **changes).stores)[0]
    needed, empty = answer_spill(group, 1.2, None).figures
    intake = catalogue.soils()[soil].intake_m_s
    area = needed.amount.value
    assert area * PONDING + area * intake * 3600 == approx(1.2)
    assert empty.amount.value == approx(PONDING / intake)
    enough = with_part(one_barrel(), "stores", **changes | {"soak_area_m2": round(area + 0.1, 1)})
    verdict = answer_spill(groups_of(enough.stores)[0], 1.2, None).verdict
    assert verdict.mark is not Mark.FAILS
    assert (verdict.mark is Mark.BUT) == (empty.amount.value > SOAK_WITHIN)


def test_ground_that_takes_part_of_it_says_how_much_runs_on():
    changes = {"overflow_to": "on-ground", "soak_area_m2": 10.0, "soak_soil": "loam"}
    group = groups_of(with_part(one_barrel(), "stores", **changes).stores)[0]
    answer = answer_spill(group, 0.5, None)
    taken = answer.verdict.summary.values["taken"].value
    assert taken == approx(10.0 * catalogue.soils()["loam"].intake_m_s * 3600)
    assert taken + answer.verdict.summary.values["left"].value == approx(0.5)
