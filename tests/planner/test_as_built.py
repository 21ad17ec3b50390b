"""What people build around stores and heads: siphons, overflow pipes, floating intakes, restrictors,
drains, master valves, visits by turns, deep waterings by hand.
"""

import json
from datetime import date
from math import hypot

import numpy as np
import pytest
from pydantic import ValidationError
from pytest import approx

from euhydra.garden import catalogue, demo, document, edits, normals
from euhydra.garden.catalogue import WorksBy
from euhydra.garden.model import Garden
from euhydra.garden.pipes import Fitting, Pump
from euhydra.garden.roofs import Downspout
from euhydra.garden.sources import Uncaught, WetGround
from euhydra.garden.store_groups import group_of, siphon_lift
from euhydra.garden.stores import FLOAT_HANGS, Intake, LinkKind, Store
from euhydra.planner.chain import run_chain
from euhydra.planner.judgement import trying
from euhydra.planner.judgement.answer import judge
from euhydra.planner.lay import rules
from euhydra.planner.parts import counting
from euhydra.planner.season import absence, works
from euhydra.planner.season.absence import Absence
from euhydra.planner.steps.answer import steps_of
from euhydra.planner.store import linking, wet_ground
from euhydra.planner.water import zones
from gardens import one_barrel, tapped, two_sources, with_part

RECORD = normals.make_days(demo.normals(), 3)


def goods(garden) -> dict[str, float]:
    found: dict[str, float] = {}
    for use in counting.uses_of(garden):
        found[use.good.key] = found.get(use.good.key, 0.0) + use.amount
    return found


def taken(garden) -> dict[str, int]:
    found: dict[str, int] = {}
    for step in steps_of(garden):
        for use in step.takes:
            found[use.good.key] = found.get(use.good.key, 0) + 1
    return found


def barrel(name: str, x: float, **fields) -> Store:
    values = {"volume_m3": 0.2, "height_m": 0.8, "across_m": 0.6, "stand_m": 0.3}
    return Store.model_validate(
        {"id": name, "name": name.title(), "at": {"x_m": x, "y_m": -6.0}} | values | fields
    )


# Siphons and overflow pipes.


def test_a_siphon_is_as_long_as_its_way_over_both_rims():
    garden = edits.put(one_barrel(), "stores", barrel("one", 0.0, rim_m=0.9))
    other = barrel("two", 2.0, rim_m=0.9, linked_to="one", link_by=LinkKind.SIPHON)
    garden = edits.put(garden, "stores", other)
    (link,) = linking.links_of(garden)
    # Up 0.85 m from its foot and 0.1 m over, twice, and 1.4 m from wall to wall.
    assert link.hose_m == approx(2 * 0.95 + 1.4)
    found = goods(garden)
    assert found["siphon-hose"] == approx(link.hose_m)
    assert found["siphon-cup"] == 2
    assert "link-set" not in found
    (step,) = [step for step in steps_of(garden) if step.key.startswith("link-")]
    assert {"siphon-hose", "siphon-cup"} <= {use.good.key for use in step.takes}
    assert siphon_lift(group_of(garden.stores, "one")) == approx(0.9 - 0.05)


def test_a_siphon_that_would_rise_too_high_is_refused():
    tall = {"height_m": 4.0, "volume_m3": 1.0, "across_m": None, "stand_m": 0.0}
    garden = edits.put(one_barrel(), "stores", barrel("low", 0.0, **tall))
    high = barrel("high", 2.0, **tall | {"ground_m": 3.5, "linked_to": "low"})
    edits.put(garden, "stores", high)  # by a pipe at the bottom it may be
    siphon = high.model_copy(update={"link_by": LinkKind.SIPHON})
    with pytest.raises(ValidationError) as caught:
        edits.put(garden, "stores", siphon)
    assert "7 m" in document.message_of(caught.value.errors()[0])


def test_an_overflow_into_a_lower_store_has_its_pipe_and_its_step():
    low = barrel("low", 0.0, stand_m=0.0)
    garden = edits.put(one_barrel(), "stores", low)
    spills = barrel("high", 3.0, ground_m=1.0, overflow_to="low")
    garden = edits.put(garden, "stores", spills)
    drop = spills.overflow_m - low.rim_height_m
    assert goods(garden)["overflow-pipe"] == approx(hypot(3.0 - 0.6, drop) + linking.SLACK)
    said = [s.code for step in steps_of(garden) for s in step.sentences]
    assert said.count("steps-overflow-pipe") == 1
    assert linking.overflow_pipe_m(garden, garden.stores[0]) == 0


def test_a_floating_intake_leaves_the_water_that_it_hangs_over():
    garden = one_barrel()
    floating = with_part(garden, "stores", intake=Intake.FLOATING)
    (before,), (after,) = zones.zones_of(garden), zones.zones_of(floating)
    store = floating.stores[0]
    assert after.dead_m3 == approx(FLOAT_HANGS * store.plan_m2)
    assert after.usable_m3 < before.usable_m3
    assert goods(floating)["float-intake"] == 1
    assert taken(floating)["float-intake"] == 1


# Restrictors and drains.


def loose(garden, **fields):
    spout = Downspout(id="loose", name="Loose", roof_id="shed-roof", share=0.5, **fields)
    first = garden.downspouts[0].model_copy(update={"share": 0.5})
    return edits.put_all(garden, [("downspouts", first), ("downspouts", spout)])


def test_loose_downspouts_run_onto_wet_ground_and_a_restrictor_holds_them_back():
    ground = WetGround(id="corner", name="Corner", area_m2=30.0, storm_s=3600.0)

    def brings(garden, uncaught: Uncaught) -> float:
        own = ground.model_copy(update={"uncaught": uncaught})
        return wet_ground.answer_wet(garden, own).figures[0].amount.value

    open_one, held = loose(one_barrel()), loose(one_barrel(), restricted_m3_s=1e-5)
    apart = brings(open_one, Uncaught.ELSEWHERE)
    here = brings(open_one, Uncaught.HERE)
    roof = open_one.roofs[0]
    assert here - apart == approx(0.5 * roof.plan_area_m2 * 0.8 * ground.storm_m, rel=0.2)
    assert brings(held, Uncaught.HERE) - apart == approx(1e-5 * 3600)
    assert goods(held)["restrictor"] == 1
    assert taken(held)["restrictor"] == 1
    assert "restrictor" not in goods(open_one)


def test_loose_downspouts_that_keep_it_wet_are_named_as_the_cure():
    ground = WetGround(
        id="corner",
        name="Corner",
        area_m2=10.0,
        storm_m=0.1,
        uncaught=Uncaught.HERE,
        pump_m3_s=1e-5,
        drop_m=0.2,
    )
    soaked = edits.put(loose(one_barrel()), "wet_grounds", ground)
    found = next(iter(wet_ground.faults_of(wet_ground.storm_on(soaked, ground))))
    assert found.code == "store-takes-after-storm"
    judged = judge(run_chain(soaked, None))
    finding = next(f for f in judged.findings if f.code == found.code)
    trial = next(trying.trials_of(judged, finding))
    assert trial.cure.change.code == "cure-spouts-elsewhere"
    assert finding.key not in trial.after.keys


# A controller with several stations.


def test_a_master_valve_wants_a_controller():
    garden = one_barrel()
    timer = garden.timers[0]
    master = Fitting(id="master", name="Master", kind="master", begins_at=timer.begins_at)
    moved = timer.model_copy(update={"begins_at": "master"})
    garden = edits.put_all(garden, [("fittings", master), ("timers", moved)])

    def codes(changed) -> set[str]:
        found = rules.find_all(changed, rules.states_of(changed))
        return {breach.message.code for breach in found}

    assert "lay-master-without-controller" in codes(garden)
    stations = with_part(garden, "timers", kind=several())
    assert "lay-master-without-controller" not in codes(stations)
    said = [s.code for step in steps_of(stations) for s in step.sentences]
    assert "steps-wire-master" in said


def several() -> str:
    """A kind of timer with several stations."""
    return next(kind.id for kind in catalogue.timers().values() if kind.outlets > 1)


def pumped(pump_kind: str, **timer) -> Garden:
    """One barrel with a pump before its timer."""
    garden = one_barrel()
    head = garden.timers[0]
    pump = Pump(id="pump", name="Pump", kind=pump_kind, begins_at=head.begins_at)
    moved = head.model_copy(update={"begins_at": "pump"} | timer)
    return edits.put_all(garden, [("pumps", pump), ("timers", moved)])


STARTERS = {"pump-relay", "pump-time-switch"}


@pytest.mark.parametrize(
    ("pump", "works_by", "starter", "code"),
    [
        ("barrel", {}, "pump-time-switch", "pump-starts-by-time-switch"),
        ("battery-mid", {}, "pump-time-switch", "pump-starts-by-time-switch"),
        ("barrel", {"kind": "wind-up"}, None, "pump-starts-by-hand"),
        ("house", {}, None, "pump-starts-itself"),
        ("barrel", {"kind": "several"}, "pump-relay", "pump-starts-by-relay"),
    ],
)
def test_a_timer_only_opens_a_valve_so_something_starts_the_pump(pump, works_by, starter, code):
    kinds = {"several": several(), "wind-up": wound_up()}
    garden = pumped(pump, **{key: kinds[kind] for key, kind in works_by.items()})
    listed = {good: count for good, count in goods(garden).items() if good in STARTERS}
    assert listed == ({starter: 1} if starter else {})
    assert {k: v for k, v in taken(garden).items() if k in STARTERS} == listed
    said = [s.code for step in steps_of(garden) for s in step.sentences]
    assert code in said
    assert ("steps-join-battery-last" in said) == (pump == "battery-mid")


@pytest.mark.parametrize("amp_hours", [0.5, 7.0, 400.0])
def test_how_long_a_battery_lasts_is_told_in_plain_days(amp_hours):
    garden = pumped("battery-mid")
    garden = with_part(garden, "pumps", battery_ah=amp_hours)
    push = run_chain(garden, RECORD).zones[0].push
    notes = [note for drive in push.drives for note in drive.notes]
    told = [note.values["days"] for note in notes if note.code == "push-battery-runs"]
    assert told
    for days in told:
        number = days.value / 86400
        assert number == pytest.approx(round(number, 1 if number < 10 else 0))


def wound_up() -> str:
    """A kind of timer that somebody winds up for each run."""
    return next(k.id for k in catalogue.timers().values() if k.works_by is WorksBy.WINDUP)


# By turns and by hand.


@pytest.mark.parametrize(("visits", "least"), [(None, 1.0), (2, 3.5), (1, 7.0), (14, 1.0)])
def test_nothing_is_moved_oftener_than_somebody_comes(visits, least):
    garden = edits.remove(one_barrel(), "shed-timer")
    first = next(p for p in garden.pipes if p.begins_at == "shed-barrel")
    turns = Fitting(
        id="turns",
        name="Turns",
        kind="quick",
        begins_at="shed-barrel",
        turn="by-turns",
        visits_week=visits,
    )
    moved = first.model_copy(update={"begins_at": "turns"})
    garden = edits.put_all(garden, [("fittings", turns), ("pipes", moved)])
    (zone,) = zones.zones_of(garden)
    assert min(zone.timer.positions.interval_days) == least


def test_a_deep_watering_once_a_week_comes_beside_the_line():
    garden = with_part(one_barrel(), "stores", volume_m3=3.0)
    deep = with_part(garden, "beds", hand_from="shed-barrel", deep_m3=0.03, deep_every_d=7)
    plain, found = run_chain(garden, RECORD).season, run_chain(deep, RECORD).season
    hand = found.run.given[0][0]
    growing = found.ways[0].need.is_growing
    days = np.flatnonzero(hand > 1e-9)
    assert set((days % 7).tolist()) == {0}
    assert hand.max() <= 30.0 + 1e-6
    assert growing[days].all()
    assert found.run.supplied(0).sum() > plain.run.supplied(0).sum()
    stressed = found.beds[0].is_stressed.sum()
    assert stressed <= plain.beds[0].is_stressed.sum()
    assert works.deep_litres(found.ways[0].need).sum() >= hand.sum() - 1e-6


def test_a_deep_watering_from_the_tap_draws_from_the_tap():
    garden = two_sources()
    (tap,) = garden.taps
    garden = with_part(garden, "beds", hand_from=tap.id, deep_m3=0.02)
    season = run_chain(garden, RECORD).season
    order = season.orders[0]
    assert order.is_deep
    assert order.all[0].id == tap.id
    assert season.run.given[0][0].sum() > 0


def test_an_older_document_has_its_drains_below_everything():
    old = json.loads(document.dumps(edits.put(demo.garden(), "wet_grounds", wet())))
    old["schema_version"] = 2
    old["wet_grounds"][0].pop("at")
    garden = document.loads(json.dumps(old))
    lowest = min(bed.at.y_m for bed in (*garden.beds, *garden.stores))
    assert garden.wet_grounds[0].at.y_m < lowest


def wet() -> WetGround:
    return WetGround(id="corner", name="Corner", area_m2=20.0)


def test_what_only_a_hand_would_have_given_is_given_by_nobody_else():
    """Without the hand, and while it is away, the tap's line brings what its timer does, and no more."""
    plain = tapped()
    (tap,) = plain.taps
    deep = with_part(plain, "beds", hand_from=tap.id, deep_m3=0.05, deep_every_d=7)
    before, after = run_chain(plain, RECORD).season, run_chain(deep, RECORD).season
    assert after.orders[0].is_deep
    (alone,) = after.without_help
    (now,) = before.beds
    assert np.array_equal(alone.is_stressed, now.is_stressed)
    first = date(2026, 7, 1)
    gone = Absence(first, date(2026, 7, 15), first, tuple(1.0 for _ in after.groups))
    span = slice(180, 194)
    (same,) = absence.works_of(before, gone, span).waterings
    (left,) = absence.works_of(after, gone, span).waterings
    assert left.wanted == approx(same.wanted)
