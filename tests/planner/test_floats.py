"""Planters that water themselves in a garden: laid, judged, counted, built, run through the seasons without a timer."""

from datetime import date, datetime
from functools import cache
from itertools import islice

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from pydantic import ValidationError
from pytest import approx

from euhydra.core import planters
from euhydra.core.planters import FloatSupply, FloatValve, PlanterTube
from euhydra.garden import catalogue, demo, edits, normals, plumbing
from euhydra.garden.logbook import LogEntry
from euhydra.garden.model import Garden
from euhydra.garden.pots import KeptBy, Pots
from euhydra.garden.store_groups import groups_of
from euhydra.garden.stores import Store
from euhydra.garden.timers import Timer
from euhydra.planner.answers import Gap, Mark
from euhydra.planner.chain import run_chain
from euhydra.planner.judgement import trying
from euhydra.planner.judgement.answer import judge
from euhydra.planner.keeping import causes, diagnosis, feed, hindcast, symptoms, upkeep
from euhydra.planner.lay import proposed_manifold, rules
from euhydra.planner.lay.layer import FLOAT_BOX
from euhydra.planner.lay.wishes import Method, Wish
from euhydra.planner.learning.answer import learned
from euhydra.planner.need.lifting import lifting_of
from euhydra.planner.parts import counting
from euhydra.planner.push import float_chain
from euhydra.planner.season import absence
from euhydra.planner.steps import first_run
from euhydra.planner.steps.answer import steps_of
from euhydra.planner.water import laws, pump_starts, solving, zones
from gardens import one_barrel, tapped, three_troughs

FLOAT_FAULTS = (
    "push-float-does-not-suffice",
    "push-chain-starves",
    "push-chain-late",
    "push-chain-buffer-carries",
)
RECORD = normals.make_days(demo.normals(), 3)


def laid(source: str = "shed-barrel", dripper: str = "button-2", **fields) -> Garden:
    """Twelve buckets, laid from the barrel with a timer that was wished for."""
    garden = tapped() if source != "shed-barrel" else one_barrel()
    empty = dict.fromkeys(("pipes", "fittings", "timers", "beds", "pots", "plantings"), ())
    garden = edits.replace(garden.model_copy(update=empty))
    values = {"columns": 12, "at": {"x_m": 5, "y_m": 5}, "crop": "tomato", "kept_by": KeptBy.CHAIN}
    buckets = Pots.model_validate(
        {"id": "buckets", "name": "Buckets", "ground_m": 0.6, "height_m": 0.0} | values | fields
    )
    garden = edits.put(garden, "pots", buckets)
    wish = Wish("buckets", source, Method.POTS, dripper, timer="dial-ball")
    return proposed_manifold.lay_together(garden, [wish])


@cache
def chained():
    return run_chain(laid(joint_bore_m=0.008), RECORD)


def test_a_chain_gets_one_float_box_a_screen_and_no_timer():
    garden = laid()
    assert [pipe.dripper for pipe in garden.pipes] == [FLOAT_BOX]
    assert not garden.timers
    assert [fitting.kind for fitting in garden.fittings] == ["filter"]
    assert rules.find_all(garden, rules.states_of(garden)) == ()
    assert counting.faults(garden) == []
    (zone,) = run_chain(garden, RECORD).zones
    assert isinstance(zone.time, Gap)
    assert zone.time.mark is Mark.WORKS


def test_floats_in_each_pot_need_no_timer_either():
    garden = laid(dripper="float-pot", kept_by=KeptBy.EACH, columns=4)
    assert not garden.timers
    (zone,) = zones.zones_of(garden)
    assert zone.keeps_level
    assert len(zone.outlets) >= 4
    kind = catalogue.find(plumbing.pump_kinds(), "barrel")
    start = pump_starts.how(pump_starts.start_in(zone, kind), zone)
    assert start.code == "pump-starts-for-floats"  # and not with the runs of a timer
    drips = laid(dripper="low-2", kept_by=KeptBy.EACH, columns=4)
    assert drips.timers
    assert not zones.zones_of(drips)[0].keeps_level


def test_levels_are_those_of_the_quick_sum_at_the_head_that_the_pipes_leave():
    chain = chained()
    push = chain.zones[0].push
    (found,) = push.chains
    zone, pots = push.zone, found.pots
    dripper = catalogue.find(plumbing.drippers(), FLOAT_BOX)
    valve = FloatValve(dripper.outlet.coefficient, dripper.band_m, pots.set_level_m)
    # The head before the valve, full open, found on the network: the quick sum takes it with no line.
    state = solving.solve_zone(zone, zones.NEARLY_EMPTY)
    head = float(state.outlet_head[0])
    supply = FloatSupply(head, PlanterTube(0.001, 0.1))
    box = planters.box_level(supply, valve, 12 * found.peak.draw)
    assert found.peak.box == approx(box, abs=0.0005)
    assert found.peak.levels[0] < found.peak.box
    assert found.peak.starved == ()
    assert found.carries_blocked < found.carries


@settings(max_examples=12, suppress_health_check=list(HealthCheck), deadline=None)
@given(
    columns=st.integers(1, 30),
    bore=st.sampled_from([0.003, 0.004, 0.006, 0.008, 0.013]),
    joint=st.floats(0.2, 1.5),
)
def test_what_is_offered_as_a_cure_cures_and_what_it_carries_is_not_starved(columns, bore, joint):
    garden = laid(columns=columns, joint_bore_m=bore, joint_m=joint)
    chain = run_chain(garden, RECORD)
    (found,) = chain.zones[0].push.chains
    is_served = found.peak.box is not None and not found.peak.starved
    assert (columns <= found.carries) is is_served
    assert (found.verdict.mark is not Mark.FAILS) is (is_served or found.day.share > 0.999)
    judged = judge(chain)
    fault = next((f for f in judged.findings if f.code in FLOAT_FAULTS), None)
    if fault is None:
        assert is_served
        return
    for trial in islice(trying.trials_of(judged, fault), 1):
        chains = [mended for zone in trial.after.chain.zones for mended in zone.push.chains]
        assert all(mended.verdict.mark is not Mark.FAILS for mended in chains)
        assert len(chains) == 1 + (trial.cure.change.code == "cure-second-float")


def test_what_it_drinks_comes_from_the_barrel_day_by_day_and_while_nobody_is_there():
    season = chained().season
    way = season.ways[0]
    assert way.keeps_level
    assert absence.is_served(way)
    taken = season.run.supplied(0)
    assert taken[~way.need.is_growing].sum() == approx(0.0)
    assert taken.sum() <= season.works.waterings[0].wanted.sum() + 1e-6
    inflow = sum(float(tank.inflow.sum()) for tank in season.works.tanks)
    assert taken.sum() <= inflow + sum(tank.capacity for tank in season.works.tanks)


def test_what_is_listed_is_used_in_a_step():
    garden = laid()
    listed = {use.good.key: use.amount for use in counting.uses_of(garden)}
    assert listed["grommet"] == 24
    assert listed["net-pot"] == 12
    assert listed["dripper-float-box"] == 1
    assert listed["float-shell"] == 1
    assert "stake" not in listed
    assert not any(key.startswith("end-") for key in listed)
    taken = {use.good.key for step in steps_of(garden) for use in step.takes}
    assert taken == set(listed)
    keys = [step.key for step in steps_of(garden)]
    assert "chain-buckets" in keys


def test_rules_of_a_float():
    garden = laid()

    def codes(changed: Garden) -> set[str]:
        return {b.message.code for b in rules.find_all(changed, rules.states_of(changed))}

    bare = edits.remove(garden, garden.fittings[0].id)
    assert "lay-no-screen-before-float" in codes(bare)
    timer = Timer(id="t", name="T", kind="dial-ball", begins_at="shed-barrel")
    moved = garden.fittings[0].model_copy(update={"begins_at": "t"})
    timed = edits.put_all(garden, [("timers", timer), ("fittings", moved)])
    assert "lay-timer-before-float" in codes(timed)


def test_a_float_over_its_barrel_lets_nothing_in_and_says_so():
    push = run_chain(laid(ground_m=3.0), RECORD).zones[0].push
    assert push.mark is Mark.FAILS


def test_a_float_that_shuts_under_the_wick_is_refused():
    with pytest.raises(ValidationError):
        laid(set_level_m=0.03, foot_m=0.03)


def test_the_peak_hour_is_a_share_of_a_hot_day():
    chain = chained()
    (found,) = chain.zones[0].push.chains
    need = chain.planted[0].need
    litres = need.crop_et[need.is_growing] * need.area_m2 / 12
    assert found.peak.draw * 3.6e6 == approx(
        float(sorted(litres)[int(0.95 * (len(litres) - 1))]) * float_chain.PEAK_SHARE, rel=0.02
    )
    assert laws.gives(chain.zones[0].zone.pipes[-1])


def trough(**fields) -> Garden:
    values = {"kept_by": KeptBy.TROUGH, "columns": 6, "rows": 2, "pitch_m": 0.35}
    return laid(**values | {"trough_width_m": 0.7} | fields)


def test_a_trough_by_hand():
    """Six places of 35 cm: 2.1 m, 70 cm wide, 6 cm deep: 88 L; 42 kg a metre, and a post every 90 cm."""
    garden = trough()
    (buckets,) = garden.pots
    assert buckets.trough_m == approx(2.1)
    assert buckets.trough_m3 == approx(0.0882)
    listed = {use.good.key: use.amount for use in counting.uses_of(garden)}
    assert (listed["trough"], listed["plank"]) == (approx(2.1), approx(4.2))
    assert "grommet" not in listed
    (step,) = [step for step in steps_of(garden) if step.key == "trough-buckets"]
    assert step.sentences[0].values["mass"].value == approx(0.9 * 42.0)
    assert {"trough", "trough-end", "plank", "net-pot", "mix"} <= {u.good.key for u in step.takes}


def test_in_a_trough_all_stand_in_one_water_and_the_valve_alone_limits():
    (found,) = run_chain(trough(), RECORD).zones[0].push.chains
    assert set(found.peak.levels) == {found.peak.box}
    assert found.carries == found.carries_blocked


def test_open_water_dries_and_takes_rain():
    covered, bare = (run_chain(trough(trough_open=share), RECORD).season for share in (0.0, 1.0))
    more = bare.works.waterings[0].wanted - covered.works.waterings[0].wanted
    need = bare.ways[0].need
    dry = need.is_growing & (RECORD.precip == 0)
    assert more[dry] == approx(1.05 * need.et0[dry] * 2.1 * 0.7)
    wet = need.is_growing & (RECORD.precip > 15)
    assert more[wet] == approx(0.0)
    assert more[~need.is_growing] == approx(0.0)


def test_upkeep_has_the_screen_every_month_and_the_tubes_before_the_frost():
    today = date(2026, 7, 1)
    tasks = {task.key: task for task in upkeep.answer_upkeep(chained(), [], today).tasks}
    (screen,) = [task for key, task in tasks.items() if key.startswith("filter-")]
    assert (screen.due - today).days == 30
    if "winter" in tasks:  # a record with frost in it
        assert tasks["tubes-buckets"].due == tasks["winter"].due


def test_the_first_run_watches_the_float_and_walks_no_lines():
    acts = [act.key for act in first_run.answer_first_run(chained().zones[0].zone, []).acts]
    assert acts[-1].endswith("-float")
    assert not any(key.endswith("-walk") for key in acts)


def test_three_troughs_on_one_pipe_have_a_float_each_and_nothing_to_mend():
    garden = three_troughs()
    assert [pipe.waters for pipe in garden.pipes if pipe.dripper == FLOAT_BOX] == [
        f"trough-{number}" for number in range(3)
    ]
    assert not garden.timers
    assert rules.find_all(garden, rules.states_of(garden)) == ()
    assert counting.faults(garden) == []
    (zone,) = run_chain(garden, RECORD).zones
    assert [chain.pots.id for chain in zone.push.chains] == [f"trough-{n}" for n in range(3)]
    assert all(chain.verdict.mark is Mark.WORKS for chain in zone.push.chains)


def test_who_is_starved_in_the_chain_gets_less_in_the_season():
    """Tubes of 2 mm: what the hours do not let through is missed, and the store is not blamed for it."""
    fed, starved = (run_chain(laid(joint_bore_m=bore), RECORD) for bore in (0.013, 0.002))
    assert fed.season.works.waterings[0].limit is None
    (watering,) = starved.season.works.waterings
    chain = starved.zones[0].push.chains[0]
    hottest = int(np.argmax(watering.wanted))
    day = chain.chain.day(watering.wanted[hottest] / 1000 / 12)
    assert watering.limit[hottest] == approx(1000 * day.drunk.sum())
    assert day.share < 0.9
    drunk = [run.season.beds[0].watered.sum() for run in (fed, starved)]
    assert drunk[1] < 0.97 * drunk[0]
    run = starved.season.run.tank_run(0)
    assert (run.supplied <= watering.limit + 1e-9).all()
    assert run.demand == approx(np.minimum(watering.wanted, watering.limit))


@settings(max_examples=10, suppress_health_check=list(HealthCheck), deadline=None)
@given(
    kept_by=st.sampled_from([KeptBy.CHAIN, KeptBy.TROUGH]),
    columns=st.integers(1, 12),
    level=st.floats(0.04, 0.2),
    is_open=st.floats(0, 1),
)
def test_mass_closes_over_barrel_trough_and_planters(kept_by, columns, level, is_open):
    """What leaves the barrel is what came into the planters and what the sun took from open water."""
    garden = laid(kept_by=kept_by, columns=columns, set_level_m=level, trough_open=is_open)
    season = run_chain(garden, RECORD).season
    (way,), (planters_run,) = season.ways, season.beds
    tank, run = season.works.tanks[0], season.run
    level_before = np.concatenate([[tank.start], run.level[0][:-1]])
    given = run.supplied(0)
    change = run.level[0] - level_before
    assert change == approx(run.arrived[0] - run.spill[0] - given, abs=1e-6)
    # The planters: what is lacking to full changes by what is drunk, drained and what came.
    grows = way.need.is_growing
    lack = planters_run.depletion
    days = np.flatnonzero(grows[1:] & grows[:-1]) + 1
    came = planters_run.rain + planters_run.watered
    left = planters_run.transpired + planters_run.drained
    assert (lack[days] - lack[days - 1]) == approx((left - came)[days], abs=1e-6)


def test_wick_and_mix_have_to_lift_a_hot_days_water():
    def lifting(**fields):
        garden = laid(**fields)
        (plant,) = run_chain(garden, RECORD).planted
        return lifting_of(plant.need, garden)

    fits, tall = lifting(depth_m=0.25), lifting(depth_m=0.6)
    assert fits.verdict.mark is Mark.WORKS
    assert tall.verdict.summary.code == "need-mix-too-tall"
    thin = lifting(depth_m=0.25, wick="fabric", wick_across_m=0.006)
    assert thin.verdict.summary.code == "need-wick-too-thin"
    wide = thin.verdict.summary.values["across"].value
    mended = lifting(depth_m=0.25, wick="fabric", wick_across_m=1.001 * wide)
    assert mended.verdict.mark is Mark.WORKS
    # Peat lifts a thirsty bucket's water 20 to 25 cm, coarse bark less: common practice.
    peat, coarse = (catalogue.soils()[name].lift for name in ("potting-mix", "gritty-mix"))
    flow = 3.5e-3 / 86400 / (np.pi / 4 * 0.3**2)
    assert 0.20 <= peat.greatest(flow) <= 0.25
    assert coarse.greatest(flow) < 0.15


@pytest.mark.parametrize(
    ("fields", "place"),
    [
        ({"foot_m": 0.08}, "foot_m"),
        ({"wick_m": 0.4}, "wick_m"),
        ({"kept_by": KeptBy.CHAIN, "columns": 3, "pitch_m": 0.9}, "joint_m"),
        ({"trough_width_m": 0.0}, "trough_width_m"),
        ({"plants_each": 0}, "plants_each"),
        ({"columns": 0}, "columns"),
    ],
)
def test_what_cannot_be_is_refused_at_its_field(fields, place):
    with pytest.raises(ValidationError) as refused:
        Pots(id="pots", name="Pots", **fields)
    assert [error["loc"] for error in refused.value.errors()] == [(place,)]


def test_several_plants_in_one_planter_drink_more_than_one_up_to_what_it_feeds():
    areas = [
        Pots(id="p", name="P", crop="lettuce", plants_each=n, across_m=0.5).canopy_m2
        for n in (1, 6, 50)
    ]
    assert areas == sorted(areas)
    assert areas[0] < areas[-1] == approx(np.pi / 4 * 1.0**2)


@pytest.mark.parametrize("dripper", ["float-pot", "float-dry"])
@pytest.mark.parametrize("count", [4, 6, 8, 24])
def test_many_floats_are_laid_with_wide_pipe_and_an_air_release(dripper, count):
    garden = laid(
        dripper=dripper, kept_by=KeptBy.EACH, columns=count // 2, rows=2, reserve_m3=0.0014
    )
    roles = [fitting.kind for fitting in garden.fittings]
    assert ("air-release" in roles) is (count > 6)
    assert not garden.timers
    told = [str(found.message) for found in rules.find_all(garden, rules.states_of(garden))]
    assert [said for said in told if "on the shopping list" not in said] == []
    assert counting.faults(garden) == []
    (zone,) = zones.zones_of(garden)
    feeds = [pipe for pipe in zone.pipes if pipe.dripper is None]
    assert min(laws.bore_of(pipe) for pipe in feeds) >= (0.012 if count > 6 else 0.003)
    bare = edits.replace(
        garden.model_copy(update={"fittings": ()}),
        pipes=tuple(
            pipe.model_copy(update={"begins_at": "shed-barrel"})
            if pipe.begins_at in {fitting.id for fitting in garden.fittings}
            else pipe
            for pipe in garden.pipes
        ),
    )
    codes = {breach.message.code for breach in rules.find_all(bare, rules.states_of(bare))}
    assert ("lay-floats-without-air-release" in codes) is (count > 6)


def test_a_tank_just_over_its_floats_is_told_how_much_to_raise():
    garden = laid(dripper="float-pot", kept_by=KeptBy.EACH, columns=4)
    store = garden.stores[0]
    low = edits.put(
        garden,
        "pots",
        garden.pots[0].model_copy(
            update={"ground_m": store.tap_m - 0.05 - garden.pots[0].height_m}
        ),
    )
    (breach,) = [
        found
        for found in rules.find_all(low, rules.states_of(low))
        if found.message.code == "lay-tank-too-low-for-floats"
    ]
    by = breach.message.values["by"].value
    raised = edits.put(low, "stores", store.model_copy(update={"stand_m": store.stand_m + by}))
    codes = {found.message.code for found in rules.find_all(raised, rules.states_of(raised))}
    assert "lay-tank-too-low-for-floats" not in codes


def test_a_tank_that_no_roof_fills_holds_eight_litres_a_pot_and_open_troughs_are_told():
    garden = laid(dripper="float-pot", kept_by=KeptBy.EACH, columns=20, rows=2)
    dry = edits.replace(garden, downspouts=())
    small = edits.put(dry, "stores", dry.stores[0].model_copy(update={"volume_m3": 0.1}))
    for each, is_small in ((dry, dry.stores[0].volume_m3 < 0.32), (small, True)):
        codes = {found.message.code for found in rules.find_all(each, rules.states_of(each))}
        assert ("lay-tank-small-for-floats" in codes) is is_small
    bare = trough(trough_open=0.5)
    codes = {found.message.code for found in rules.find_all(bare, rules.states_of(bare))}
    assert codes == {"lay-trough-lies-open"}


def seen_of(zone, symptom: str, *entries: LogEntry):
    return diagnosis.diagnose_chain(zone.zone, zone.push.chains[0], symptom, entries)


def test_what_is_wrong_with_a_chain_is_told_from_what_is_seen_and_read():
    (zone,) = chained().zones
    assert symptoms.symptoms_of(zone.zone) is symptoms.CHAIN_SYMPTOMS
    assert [c.kind.id for c in seen_of(zone, "chain-last-dry").likely] == ["roots"]
    dry = seen_of(zone, "chain-all-dry")
    assert {c.kind.id for c in dry.likely} == {"screen", "empty-store", "float-shut"}
    assert dry.likely[0].kind.id == "screen"
    assert seen_of(zone, "chain-runs-over").likely[0].kind.id == "float-open"
    faster = [c.kind.id for c in seen_of(zone, "chain-drinks-more").likely]
    assert set(faster) == {"box-leak", "thirst"}
    # The level in the box decides: as low as a leak of 20 L/h keeps it, and not as thirst does.
    levels = {c.kind.id: c.pattern.near for c in seen_of(zone, "chain-drinks-more").likely}
    chain = zone.push.chains[0]
    usual = chain.chain.levels(chain.chain.mean_draw, 0.0).box
    for cause, share in levels.items():
        read = chain.pots.foot_m + share * (usual - chain.pots.foot_m)
        entry = LogEntry("level", datetime(2026, 7, 1), "buckets", (read,))
        assert seen_of(zone, "chain-drinks-more", entry).likely[0].kind.id == cause
    assert all(c.kind.id in causes.cause_kinds() for c in dry.unlikely)


def test_no_feed_for_a_pond_that_waters_nothing():
    garden = laid()
    pond = Store(id="pond", name="Frog pond", kind="pond", volume_m3=1.5, height_m=0.6)
    with_pond = garden.model_copy(update={"stores": (*garden.stores, pond)})
    assert "pond" not in {vessel.part.id for vessel in feed.vessels(with_pond)}
    (pots, *others) = with_pond.pots
    by_can = pots.model_copy(update={"hand_from": "pond"})
    dipped_from = with_pond.model_copy(update={"pots": (by_can, *others)})
    assert "pond" in {vessel.part.id for vessel in feed.vessels(dipped_from)}


def test_feed_is_for_the_water_as_it_was_dipped():
    garden = laid()
    (store,) = garden.stores
    (full,) = [v for v in feed.vessels(garden) if v.way is feed.FeedWay.BARREL]
    assert full.volume == approx(store.total_m3)
    half = LogEntry("dip", datetime(2026, 7, 1), store.id, (store.height_m / 2,))
    (dipped,) = [v for v in feed.vessels(garden, [half]) if v.way is feed.FeedWay.BARREL]
    assert dipped.volume == approx(store.total_m3 / 2, rel=0.02)
    # Days later it is what the log has: the dip, and what has come and gone since.
    told = hindcast.hindcast(
        run_chain(garden, normals.make_days(demo.normals(), 3)), [half], date(2026, 7, 21)
    )
    by_log = learned(told).stores[0].water / 1000
    assert by_log[told.day(date(2026, 6, 30))] == approx(dipped.volume, rel=0.05)
    water = {groups_of(garden.stores)[0].id: float(by_log[-1])}
    (now,) = [v for v in feed.vessels(garden, [half], told, water) if v.way is feed.FeedWay.BARREL]
    assert now.is_reckoned
    assert now.volume == approx(by_log[-1])
    answer = feed.answer_feed(garden, dipped, dipped.volume, 0.004, 100)
    assert answer.dose.concentrate == approx(0.004 * dipped.volume)
    codes = [reason.code for reason in answer.verdict.reasons]
    assert codes[0] == "keeping-half-before-fruit"
    assert answer.verdict.reasons[0].values["half"].value == approx(0.002 * dipped.volume)
    assert "keeping-feed-not-left-standing" in codes


def test_a_reserve_filled_before_rain_is_told_by_what_it_brings():
    """The season run again without it: what is moved makes room for rain."""
    garden = laid()
    (barrel,) = garden.stores
    tote = barrel.model_copy(update={"id": "tote", "name": "Reserve", "volume_m3": 0.6})
    moves = {"moves_to": "tote", "moves_m3": 0.2, "moves_before_m": 0.004, "gives_back_below": 0.5}
    garden = edits.put_all(garden, [("stores", tote), ("stores", barrel.model_copy(update=moves))])
    chain = run_chain(garden, RECORD)
    season = chain.season
    (figure,) = [
        figure
        for store in chain.store.groups
        for figure in store.figures
        if figure.label.startswith("Moving water")
    ]
    brings = (season.met_by(season.run) - season.met_by(season.without_moves)) / RECORD.years
    assert figure.amount.value == approx(brings / 1000)
    assert brings > 0
    assert not any(
        figure.label.startswith("Moving water")
        for store in run_chain(laid(), RECORD).store.groups
        for figure in store.figures
    )


def test_a_tank_that_only_a_hand_fills_is_dipped_every_week():
    garden = laid(dripper="float-pot", kept_by=KeptBy.EACH, columns=4)
    by_hand = edits.replace(garden, downspouts=())
    today = date(2026, 7, 10)

    def tasks(changed):
        found = upkeep.answer_upkeep(run_chain(changed, RECORD), [], today).tasks
        return {task.key: task for task in found}

    assert "refill-shed-barrel" not in tasks(garden)
    task = tasks(by_hand)["refill-shed-barrel"]
    assert (task.due - today).days == 7
    assert task.kind == "dip"


def test_floats_on_a_tap_want_no_air_release_for_there_is_pressure():
    garden = laid("garden-tap", "float-pot", kept_by=KeptBy.EACH, columns=12)
    codes = {breach.message.code for breach in rules.find_all(garden, rules.states_of(garden))}
    assert "lay-floats-without-air-release" not in codes
