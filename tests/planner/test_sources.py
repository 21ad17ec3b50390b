"""Which bed gets which water: order, rules, litres and money; taps, greywater, wet ground."""

import numpy as np
import pytest
from pytest import approx

from euhydra.garden import demo, edits, normals
from euhydra.garden.sources import Tap, WetGround
from euhydra.garden.stores import Store
from euhydra.planner.answers import Mark
from euhydra.planner.catch import greywater, taps, washing_week
from euhydra.planner.catch.order import order_of
from euhydra.planner.chain import run_chain
from euhydra.planner.judgement import store_remedies, trying
from euhydra.planner.judgement.answer import judge
from euhydra.planner.judgement.remedy import Case
from euhydra.planner.lay import proposed_lines
from euhydra.planner.lay.wishes import Method, Wish
from euhydra.planner.season import by_hand, helping_hand, shares
from euhydra.planner.store import wet_ground
from gardens import one_barrel, with_part
from sound_gardens import RECORD as OUTSIDE
from sound_gardens import well_bed

RECORD = normals.make_days(demo.normals(), 4)


@pytest.fixture(scope="module")
def season():
    return run_chain(demo.garden(), RECORD).store.season


def names(garden, bed: int) -> list[str]:
    return [part.id for part in order_of(garden, garden.beds[bed]).sources]


def joined_too(garden, source: str):
    """The first bed, with a second line from another source."""
    wish = Wish("top-bed", source, Method.ROWS, "line-2", timer="dial-ball")
    return proposed_lines.lay(garden, wish)


def yard_tap() -> Tap:
    """A tap with nothing on it."""
    return Tap(id="yard-tap", name="Yard tap", bucket_m3=0.01, fills_in_s=30)


def asking(garden, sources):
    """The garden and its first bed, which names its own sources."""
    changed = with_part(garden, "beds", sources=sources)
    return changed, changed.beds[0]


def test_warm_season_crops_get_stored_water_first_and_others_the_well():
    # Field practice (CP): cold well water is fine for brassicas and peas.
    well = Tap(id="well", name="Well", kind="well", bucket_m3=0.01, fills_in_s=20)
    garden = edits.put(edits.put(demo.garden(), "taps", well), "taps", yard_tap())
    garden = joined_too(joined_too(garden, "yard-tap"), "well")
    assert names(garden, 0) == ["corner-tank", "well", "yard-tap"]  # tomatoes
    cabbages = with_part(garden, "beds", crop="cabbage")
    assert names(cabbages, 0) == ["well", "corner-tank", "yard-tap"]
    assert names(with_part(garden, "beds", sources=("yard-tap", "corner-tank")), 0) == [
        "yard-tap",
        "corner-tank",
    ]


def test_what_no_line_leads_from_gives_nothing():
    garden = demo.garden()
    assert names(garden, 0) == ["corner-tank"]
    order = order_of(*asking(garden, ("garden-tap", "corner-tank")))
    assert [part.id for part in order.sources] == ["corner-tank"]
    assert [part.id for part in order.unjoined] == ["garden-tap"]
    assert [part.id for part in order_of(*asking(garden, ("garden-tap",))).sources] == [
        "corner-tank"
    ]


def test_a_bed_that_nothing_waters_is_told_and_not_met():
    garden = demo.garden()
    for pipe in [p for p in garden.pipes if p.id.startswith("bottom-bed")][::-1]:
        garden = edits.remove(garden, pipe.id)
    found = run_chain(garden, RECORD).season
    answer = shares.answer_balance(found)
    bed = next(bed for bed in answer.beds if bed.name == "Bottom step")
    assert bed.shares == ()
    assert bed.met.amount.value == 0
    assert bed.unmet == bed.wanted > 1000
    assert "season-nothing-waters" in [said.code for said in answer.verdict.reasons]


def test_help_by_hand_is_off_at_first_and_told_with_and_without():
    garden = demo.garden()
    found = run_chain(garden, RECORD).season
    helped = {each.part.id: each for each in helping_hand.helps_of(found)}
    assert set(helped) == {"top-bed", "middle-bed", "hedge"}
    tomatoes = helped["top-bed"]
    assert tomatoes.without > tomatoes.with_it + 20
    # Without the help the same garden, drawn without it, fares as it was told.
    alone = run_chain(with_part(garden, "beds", hand_from=None), RECORD).season
    dry = float(alone.beds[0].is_stressed.sum()) / RECORD.years
    assert tomatoes.without == approx(dry)
    assert one_barrel().beds[0].hand_from is None


def test_a_bed_on_two_sources_is_watered_by_the_first_and_the_other_stands_by():
    garden = joined_too(edits.put(demo.garden(), "taps", yard_tap()), "yard-tap")
    chain = run_chain(garden, RECORD)
    on_it = [z for z in chain.zones if any(p.id == "top-bed" for p in z.zone.watered)]
    assert [z.zone.source.id for z in on_it] == ["corner-tank", "yard-tap"]
    assert [z.running is not None for z in on_it] == [True, False]
    assert on_it[1].time.verdict.summary.code == "time-stands-by"
    i = next(i for i, order in enumerate(chain.season.orders) if order.part.id == "top-bed")
    given, wanted = chain.season.run.supplied(i), chain.season.works.waterings[i].wanted
    assert given.sum() < 1.2 * wanted.sum()


def test_a_well_gives_no_more_than_runs_into_it():
    # A mass balance by hand: 200 L stand, 60 L/h run in; two hours at 600 L/h, 1,440 L a day at most.
    well = Tap(
        id="well", name="Well", kind="well", bucket_m3=0.01, fills_in_s=45, window_s=7200,
        stands_m3=0.2, recovers_m3_s=0.06 / 3600,
    )  # fmt: skip
    assert taps.usable_flow(well) * 3.6e6 == approx(600)
    assert taps.daily_litres(well) == approx(200 + 2 * 60)
    assert taps.lasts_s(well) == approx(200 / (600 - 60) * 3600)
    assert "catch-well-runs-empty" in [r.code for r in taps.answer_tap(well).verdict.reasons]
    slow = well.model_copy(update={"stands_m3": 5.0})
    assert taps.daily_litres(slow) == approx(1200)  # the flow, not the well
    shared = well.model_copy(update={"most_a_day_m3": 0.1})
    assert taps.daily_litres(shared) == approx(100)


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
        assert "Ask your local code" in str(answer.verdict.reasons[0])


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
    judged = judge(run_chain(garden, RECORD))
    found = next(f for f in judged.findings if f.code == "store-only-spills-over")
    assert found.parts[:2] == ("upper", "shed-barrel")
    links = store_remedies.link(Case(judged.chain, found))
    linked = run_chain(next(links).garden, RECORD).store.group("shed-barrel")
    before = judged.chain.store.group("shed-barrel").run.volumetric_reliability
    assert linked.run.volumetric_reliability > before


def test_a_bucket_and_a_stopwatch():
    tap = demo.garden().taps[0]  # 10 L in 24 s, an hour a day
    flow, usable, day, head = (f.amount.value for f in taps.answer_tap(tap).figures)
    assert flow * 3.6e6 == approx(1500)
    assert usable * 3.6e6 == approx(1125)  # three quarters (CP)
    assert day == approx(1.125)
    assert head == approx(320000 / 98066.5 * 10.0 * 1000 / 998.2, rel=1e-3)


def test_a_slow_hose_does_not_keep_up_and_a_tried_cure_does():
    slow = demo.garden().greywaters[0].model_copy(update={"bore_m": 0.008, "load_m3": 0.12})
    garden = edits.put(demo.garden(), "greywaters", slow)
    answer = greywater.answer_washing(garden, slow)
    assert answer.verdict.mark is Mark.BUT
    assert answer.verdict.reasons[0].code == "catch-drum-keep-week"
    shown = answer.shown
    assert shown.lost > 0
    judged = judge(run_chain(garden, normals.make_days(demo.normals(), 3)))
    found = next(f for f in judged.findings if f.code == "catch-drum-keep-week")
    assert next(trying.cures_of(judged, found))
    share = washing_week.share_to(garden, slow, "hedge", 7)
    assert share == approx(1 - shown.lost / shown.inflow.sum())


def test_flat_ground_needs_a_sump_and_a_pump():
    # Field practice (CP): a perforated pipe needs fall.
    flat = WetGround(id="corner", name="Corner", area_m2=40, drop_m=0.0)
    level = wet_ground.answer_wet(one_barrel(), flat).verdict
    (deeper,) = (reason for reason in level.reasons if reason.code == "store-flat-ground")
    assert deeper.values["deeper"].value == approx(0.005 * 10)  # 1 in 200
    falling = flat.model_copy(update={"drop_m": 0.1, "sump_across_m": 1.2, "sump_depth_m": 0.6})
    answer = wet_ground.answer_wet(one_barrel(), falling)
    assert answer.verdict.mark is Mark.WORKS
    assert answer.duty_head > falling.lift_m
    figures = {f.label: f.amount.value for f in answer.figures}
    # 40 m² · 25 mm · half, and 12.6 m² · 0.8 · 25 mm off the roof, of which half a barrel is kept.
    assert figures["The storm brings"] == approx(0.5 + 0.252)
    assert figures["Your stores keep"] == approx(0.15)


def by_can(**fields):
    """A garden of one bed that is watered with the can alone, from a barrel or a tap."""
    garden = edits.put(one_barrel(), "taps", demo.garden().taps[0])
    while garden.pipes:
        garden = edits.remove(garden, garden.pipes[0].id)
    return with_part(garden, "beds", **fields)


def test_a_bed_by_can_has_its_cans_month_by_month_and_its_store_is_judged():
    found = run_chain(by_can(hand_from="shed-barrel", by_hand_d=2, can_m3=0.009), RECORD)
    (answer,) = by_hand.by_hand(found.season)
    july = answer.months[6]
    # A visit holds what the roots lost in two days: within the need's own mean of two days.
    need = found.planted[0].need
    mean = float(need.net_a_day[6]) * need.area_m2 * 2 / 0.9
    assert july.litres == approx(mean, rel=0.2)
    assert july.cans * 9 >= july.litres - 1
    assert (july.cans - 1) * 9 < july.litres
    assert answer.months[0] is None
    # The store is judged by what is carried from it, and by nothing else.
    (group,) = found.store.groups
    assert group.run.demand.sum() == approx(found.season.works.waterings[0].wanted.sum())
    assert group.run.supplied.sum() == approx(found.season.run.drawn_from(0).sum())


def test_a_hose_in_hand_is_told_in_minutes_at_the_taps_own_flow():
    garden = by_can(hand_from="garden-tap", hand_with="hose")
    found = run_chain(garden, RECORD)
    (answer,) = by_hand.by_hand(found.season)
    july = answer.months[6]
    assert july.cans is None
    litres_a_minute = taps.usable_flow(garden.taps[0]) * 60_000
    assert july.minutes == approx(july.litres / litres_a_minute)


@pytest.mark.parametrize(
    ("litres", "code"), [(2, "need-gives-less"), (15, "need-gives-right"), (60, "need-gives-more")]
)
def test_what_a_gardener_gives_now_stands_beside_what_is_asked(litres, code):
    found = run_chain(by_can(hand_from="garden-tap", gives_m3=litres / 1000), RECORD)
    (answer,) = by_hand.by_hand(found.season)
    assert [said.code for said in answer.verdict.reasons] == [code]


def test_a_tank_without_a_roof_is_topped_up_from_the_tap_and_carries_its_bed():
    garden = edits.remove(edits.put(one_barrel(), "taps", demo.garden().taps[0]), "shed-roof")
    assert run_chain(garden, RECORD).store.sentence.code == "chain-no-roof"
    fields = {"topped_by": "garden-tap", "top_up_below": 0.5, "top_up_to": 1.0}
    filled = run_chain(with_part(garden, "stores", **fields), RECORD)
    (group,) = filled.store.groups
    assert group.run.inflow.sum() == 0
    assert group.run.volumetric_reliability > 0.95
    assert filled.season.run.residual(0) == approx(0, abs=1e-6)
    # By hand once a month, half of it is gone in between.
    by_month = run_chain(with_part(garden, "stores", **fields, top_up_every_d=31), RECORD)
    days = np.flatnonzero(by_month.season.run.topped[0])
    assert set(days % 31) == {0}
    assert by_month.store.groups[0].run.volumetric_reliability < 0.8


def test_a_reserve_takes_before_rain_and_gives_back_when_the_barrel_is_low():
    reserve = Store(id="tote", name="Tote", at={"x_m": 9, "y_m": 2}, volume_m3=1.0, height_m=1.0)
    garden = edits.put(one_barrel(), "stores", reserve)
    garden = with_part(garden, "stores", moves_to="tote", moves_m3=0.2)
    keeps = run_chain(garden, RECORD).season
    gives = run_chain(with_part(garden, "stores", gives_back_below=0.4), RECORD).season
    assert gives.run.supplied(0).sum() > 1.1 * keeps.run.supplied(0).sum()
    for tank in range(2):
        assert gives.run.residual(tank) == approx(0, abs=1e-6)
    back = gives.run.moved[1] > 0
    assert back.any()
    assert not (back & (gives.run.moved[0] > 0)).any()


@pytest.mark.parametrize("stands_l", [5.0, 15.0, 60.0])
def test_a_well_is_told_to_run_dry_by_what_its_lines_draw(stands_l):
    """A mass balance: what is drawn on the longest day, against what stands in it and runs in meanwhile."""
    garden = well_bed()
    well = garden.taps[0].model_copy(
        update={"stands_m3": stands_l / 1000, "recovers_m3_s": 4e-3 / 3600}
    )
    judged = judge(run_chain(edits.put(garden, "taps", well), OUTSIDE))
    (zone,) = judged.chain.zones
    positions = [month.setting.position for month in zone.time.set_months]
    seconds = max(p.run_minutes * p.runs_a_day * 60 for p in positions)
    drawn = zone.push.usual.state.flow * seconds
    is_dry = drawn > well.stands_m3 + well.recovers_m3_s * seconds
    told = {f.code for f in judged.findings}
    assert ("catch-well-drawn-empty" in told) == is_dry
    assert is_dry == (stands_l < 60)
