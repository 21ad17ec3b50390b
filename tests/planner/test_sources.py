"""Which bed gets which water: order, rules, litres and money; taps, greywater, wet ground."""

import pytest
from pytest import approx

from euhydra.garden import demo, edits, normals
from euhydra.garden.sources import Tap, WetGround
from euhydra.planner.answers import Mark
from euhydra.planner.catch import greywater, taps
from euhydra.planner.catch.order import order_of
from euhydra.planner.chain import run_chain
from euhydra.planner.season import shares
from euhydra.planner.store import wet_ground
from gardens import one_barrel, with_part

RECORD = normals.make_days(demo.normals(), 4)


@pytest.fixture(scope="module")
def season():
    return run_chain(demo.garden(), RECORD).store.season


def names(garden, bed: int) -> list[str]:
    return [part.id for part in order_of(garden, garden.beds[bed]).sources]


def test_warm_season_crops_get_stored_water_first_and_others_the_well():
    # Field practice (CP): cold well water is fine for brassicas and peas.
    well = Tap(id="well", name="Well", kind="well", bucket_m3=0.01, fills_in_s=20)
    garden = edits.put(demo.garden(), "taps", well)
    assert names(garden, 0) == ["corner-tank", "well", "garden-tap"]  # tomatoes
    cabbages = with_part(garden, "beds", crop="cabbage")
    assert names(cabbages, 0) == ["well", "corner-tank", "garden-tap"]
    assert names(with_part(garden, "beds", sources=("garden-tap", "wall-tank")), 0) == [
        "garden-tap",
        "wall-tank",
    ]


@pytest.mark.parametrize(
    ("crop", "is_allowed"),
    [("currant", True), ("flower", True), ("carrot", False), ("lettuce", False)],
)
def test_greywater_goes_only_where_the_rules_let_it(crop, is_allowed):
    garden = with_part(demo.garden(), "beds", 2, crop=crop)
    order = order_of(garden, garden.beds[2])
    assert ("laundry" in [part.id for part in order.sources]) is is_allowed
    answer = greywater.answer_washing(garden, garden.greywaters[0])
    assert (answer.verdict.mark is not Mark.FAILS) is is_allowed
    assert bool(order.refused) is not is_allowed
    if not is_allowed:
        assert "Ask your local code" in str(answer.verdict.reasons[1])


def test_the_balance_adds_up(season):
    answer = shares.answer_balance(season)
    for i, bed in enumerate(answer.beds):
        given = sum(share.litres for share in bed.shares) * RECORD.years
        assert given == approx(season.run.supplied(i).sum())
    by_source = {f.label: f.amount.value * 1000 for f in answer.figures}
    rain = sum(s.litres for bed in answer.beds for s in bed.shares if s.kind == "store")
    assert by_source["Rain water used, a year"] == approx(rain)
    tap = sum(s.litres for bed in answer.beds for s in bed.shares if s.kind == "tap")
    assert by_source["From Garden tap, a year"] == approx(tap)
    cost = next(f for f in answer.figures if f.label.startswith("Tap water costs"))
    assert cost.amount.value == approx(tap / 1000 * 2.15)
    for _, litres in answer.by_year:
        assert sum(litres.values()) > 0
    for i in range(2):
        assert abs(season.run.residual(i)) < 1e-6


def test_what_spills_from_a_higher_group_feeds_the_lower_one():
    garden = with_part(demo.garden(), "stores", 0, overflow_to="shed-barrel")
    garden = with_part(garden, "stores", 1, overflow_to="shed-barrel")
    alone, fed = (
        run_chain(g, RECORD).store.group("shed-barrel").run for g in (demo.garden(), garden)
    )
    assert fed.inflow.sum() > 1.5 * alone.inflow.sum()
    assert fed.volumetric_reliability >= alone.volumetric_reliability


def test_an_overflow_may_run_by_another_downspout():
    # The tanks' overflow led into the shed's downspout ends in the shed barrel, as led straight there.
    by_pipe, straight = (
        with_part(
            with_part(demo.garden(), "stores", 0, overflow_to=to), "stores", 1, overflow_to=to
        )
        for to in ("shed-downspout", "shed-barrel")
    )
    runs = [run_chain(g, RECORD).store.group("shed-barrel").run for g in (by_pipe, straight)]
    assert runs[0].inflow == approx(runs[1].inflow)


def test_a_chain_strands_water_and_linking_is_proposed():
    store = one_barrel().stores[0]
    upper = store.model_copy(update={"id": "upper", "name": "Upper", "overflow_to": "shed-barrel"})
    garden = edits.put(one_barrel(), "stores", upper)
    garden = with_part(garden, "downspouts", leads_to="upper")
    group = run_chain(garden, RECORD).store.group("shed-barrel")
    assert group.verdict.reasons[0].code == "store-spills-over-stay"
    link = group.verdict.cures[0]
    assert "Link “Upper”" in str(link.change)
    assert link.outcome.values["met"].value > group.run.volumetric_reliability


def test_a_bucket_and_a_stopwatch():
    tap = demo.garden().taps[0]  # 10 L in 24 s, an hour a day
    flow, usable, day, head = (f.amount.value for f in taps.answer_tap(tap).figures)
    assert flow * 3.6e6 == approx(1500)
    assert usable * 3.6e6 == approx(1125)  # three quarters (CP)
    assert day == approx(1.125)
    assert head == approx(320000 / 98066.5 * 10.0 * 1000 / 998.2, rel=1e-3)


def test_a_slow_hose_does_not_keep_up_and_a_tried_cure_does():
    slow = demo.garden().greywaters[0].model_copy(update={"bore_m": 0.008, "load_m3": 0.12})
    answer = greywater.answer_washing(demo.garden(), slow)
    assert answer.verdict.mark is Mark.BUT
    assert answer.verdict.reasons[0].code == "catch-drum-keep-week"
    assert answer.run.overflow.sum() > 0
    assert answer.verdict.cures
    assert greywater.share_delivered(slow) == approx(
        1 - answer.run.overflow.sum() / answer.inflow.sum()
    )


def test_flat_ground_needs_a_sump_and_a_pump():
    # Field practice (CP): a perforated pipe needs fall.
    flat = WetGround(id="corner", name="Corner", area_m2=40, drop_m=0.01)
    assert wet_ground.answer_wet(one_barrel(), flat).verdict.mark is Mark.FAILS
    falling = flat.model_copy(update={"drop_m": 0.1, "sump_across_m": 1.2, "sump_depth_m": 0.6})
    answer = wet_ground.answer_wet(one_barrel(), falling)
    assert answer.verdict.mark is Mark.WORKS
    assert answer.duty_head > falling.lift_m
    figures = {f.label: f.amount.value for f in answer.figures}
    # 40 m² · 25 mm · half, and 12.6 m² · 0.8 · 25 mm off the roof, of which half a barrel is kept.
    assert figures["The storm brings"] == approx(0.5 + 0.252)
    assert figures["Your stores keep"] == approx(0.15)
