"""Greywater through a week: what comes, what the hose takes away, what runs over, what grows old."""

from dataclasses import replace
from math import log10, pi, sqrt

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from pytest import approx

from euhydra.garden import demo, edits
from euhydra.garden.sources import DrumOutlet, Greywater
from euhydra.planner.answers import Mark
from euhydra.planner.catch import greywater, washing_week
from gardens import one_barrel, with_part
from told import faults_in

DAY = 24 * 60


def system(drop: float = 0.5, **fields) -> Greywater:
    """A drum whose bottom stands so high above the bed."""
    (bed,) = one_barrel().beds
    fields = {"ground_m": bed.outlet_m + drop, "stand_m": 0.0} | fields
    values = {"id": "grey", "name": "Grey", "bed_id": "middle-bed", "loads": (2, 0, 0, 1, 0, 0, 0)}
    return Greywater.model_validate(values | fields)


def garden_with(grey: Greywater, **bed):
    return edits.put(
        with_part(one_barrel(), "beds", **({"crop": "currant"} | bed)), "greywaters", grey
    )


def answer(grey: Greywater, crop: str = "currant"):
    return greywater.answer_washing(garden_with(grey, **{"crop": crop}), grey)


def delivered(grey: Greywater) -> float:
    return washing_week.share_to(garden_with(grey), grey, "middle-bed", 7)


def curve(grey: Greywater):
    (bed,) = one_barrel().beds
    return washing_week.gravity_curve(grey, bed.outlet_m)


def figure(found, label: str) -> float:
    return next(f.amount.value for f in found.figures if f.label == label)


def test_a_week_by_hand():
    # 3 loads of 50 L; 2 people, each a shower of 40 L and 15 L at the basin a day.
    grey = system(people=2, shower_m3=0.04, basin_m3=0.015)
    inflow = washing_week.week_inflow(grey)
    assert len(inflow) == 7 * DAY
    by_day = inflow.reshape(7, DAY).sum(axis=1)
    assert by_day == approx([110 + 100, 110, 110, 110 + 50, 110, 110, 110])
    assert figure(answer(grey), "In a week") == approx((150 + 7 * 110) / 1000)
    assert figure(answer(grey), "On the heaviest day") == approx(0.21)
    assert answer(grey).worst_day == 0


def test_showers_one_after_another_and_baths_in_the_evening():
    inflow = washing_week.week_inflow(system(loads=(0,) * 7, people=3, shower_m3=0.042)).reshape(
        7, DAY
    )
    runs = np.flatnonzero(np.diff((inflow[0] > 0).astype(int)) == 1) + 1
    assert runs.tolist() == [420, 430, 440]  # 7:00, 7:10, 7:20
    assert inflow[0].max() == approx(42 / 7)
    bath = washing_week.week_inflow(system(loads=(0,) * 7, people=20, bath_m3=0.12)).reshape(7, DAY)
    assert bath.sum(axis=1) == approx([20 * 120] * 7)  # the last one before midnight


@pytest.mark.parametrize(("drop", "hose", "bore"), [(0.5, 10.0, 0.025), (1.0, 20.0, 0.03)])
def test_the_hose_carries_what_an_own_sum_gives(drop, hose, bore):
    """Darcy–Weisbach with the smooth-pipe law of Prandtl and von Kármán, by iteration (White,
    Fluid Mechanics, from memory); fittings as the system has them.
    """
    grey = system(drop, hose_m=hose, bore_m=bore)
    speed, viscosity = 1.0, 1.004e-6
    head = drop + grey.drum_depth_m
    for _ in range(60):
        reynolds, inverse = speed * bore / viscosity, 8.0
        for _ in range(30):
            inverse = 2 * log10(reynolds / inverse) - 0.8  # 1/√f
        friction = 1 / inverse**2
        speed = sqrt(2 * 9.81 * head / (friction * hose / bore + washing_week.FREE_END_LOSS))
    flow = speed * pi / 4 * bore**2
    full = grey.drum_m3 * 1000
    assert curve(grey).delivered(full, 1 / 3600) == approx(flow * 1000, rel=0.03)


def test_a_drum_below_its_bed_gives_only_what_stands_above_it_or_nothing():
    assert curve(system(-1.0)) is None
    assert delivered(system(-1.0, drum_m3=0.03)) < 0.3
    some = curve(system(-0.4))
    assert some.delivered(120.0, 1.0) > 0
    # The drum is 0.8 m deep: its lower half stays.
    assert some.delivered(120.0, 48.0) == approx(60.0, abs=8.0)


def test_a_pump_starts_once_a_filling_and_old_water_is_told():
    grey = system(
        outlet=DrumOutlet.PUMP,
        pump_on_m3=0.04,
        pump_off_m3=0.02,
        drum_m3=0.1,
        loads=(1, 0, 0, 0, 1, 0, 0),
    )
    found = answer(grey)
    assert figure(found, "Pump starts in a week") == found.shown.run.starts >= 2
    # Twenty litres stay under the float from Monday to Friday.
    assert found.shown.run.oldest_hours > greywater.MOST_HOURS
    assert found.verdict.mark is Mark.BUT
    assert any(r.code == "catch-water-stands-drum" for r in found.verdict.reasons)
    mended = answer(grey.model_copy(update={"pump_off_m3": 0.0}))
    assert mended.shown.run.oldest_hours <= greywater.MOST_HOURS


def test_too_small_a_bed_for_the_heaviest_day_says_the_area_it_takes():
    grey = system(loads=(8, 0, 0, 0, 0, 0, 0))
    found = greywater.answer_washing(garden_with(grey, soil="clay"), grey)
    told = next(r for r in found.verdict.reasons if r.code == "catch-heaviest-day-needs")
    assert told.values["need"].value > told.values["area"].value
    assert figure(found, "Ground it needs to soak in") == approx(told.values["need"].value)


def test_nothing_that_leads_here_is_said_before_all_rules():
    found = answer(system(loads=(0,) * 7), crop="lettuce")
    assert found.verdict.mark is Mark.BUT
    assert found.verdict.summary.code == "catch-no-washing-water"
    assert delivered(found.system) == 0


@pytest.mark.parametrize("crop", ["carrot", "lettuce"])
def test_what_is_eaten_raw_from_the_ground_is_refused_whatever_the_drum(crop):
    found = answer(system(), crop)
    assert found.verdict.mark is Mark.FAILS
    assert any("Ask your local code" in str(r) for r in found.verdict.reasons)


def test_lint_is_cleaned_by_volume():
    assert figure(answer(system(lint_m3=1.5)), "Clean the lint filter every") == approx(
        70 * 86400  # 150 L a week: 1.5 m³ in ten weeks
    )


@st.composite
def systems(draw: st.DrawFn) -> Greywater:
    drum = draw(st.floats(0.02, 0.4))
    return system(
        loads=tuple(draw(st.lists(st.integers(0, 4), min_size=7, max_size=7))),
        load_m3=draw(st.floats(0.01, 0.2)),
        people=draw(st.integers(0, 5)),
        shower_m3=draw(st.floats(0, 0.1)),
        drum_m3=drum,
        drop=draw(st.floats(-1.0, 3.0)),
        hose_m=draw(st.floats(1, 60)),
        bore_m=draw(st.floats(0.006, 0.06)),
        outlet=draw(st.sampled_from(list(DrumOutlet))),
        pump_on_m3=drum * 0.5,
        pump_off_m3=drum * draw(st.floats(0, 0.4)),
    )


@settings(max_examples=25, suppress_health_check=list(HealthCheck))
@given(systems())
def test_water_is_neither_made_nor_lost(grey):
    found = answer(grey)
    run = found.shown.run
    total = float(found.shown.inflow.sum())
    assert total == approx(float(run.out.sum()) + float(run.overflow.sum()) + run.left, abs=1e-6)
    assert run.level.max() <= grey.drum_m3 * 1000 + 1e-6
    assert 0 <= delivered(grey) <= 1
    assert faults_in(replace(found, shares=())) == []


def test_the_demo_s_laundry_keeps_up():
    garden = demo.garden()
    found = greywater.answer_washing(garden, garden.greywaters[0])
    assert found.verdict.mark is Mark.WORKS
    share = washing_week.share_to(garden, garden.greywaters[0], "hedge", 7)
    assert share == approx(1.0, abs=greywater.KEPT_BACK)
