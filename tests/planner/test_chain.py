"""The chain from roof to timer, on the demo garden and on changes to it."""

import pytest
from pytest import approx

from euhydra.core import programme
from euhydra.garden import demo, edits, normals
from euhydra.garden.quantities import System
from euhydra.planner.answers import Gap, Mark, PlanError
from euhydra.planner.chain import run_chain
from euhydra.planner.judgement import trying
from euhydra.planner.judgement.answer import judge
from euhydra.planner.push import cures, shortfalls, splitting
from euhydra.planner.time import outcomes
from euhydra.planner.water import solving, zones
from gardens import long_row, one_barrel, with_part

RECORD = normals.make_days(demo.normals(), 4)


@pytest.fixture(scope="module")
def chain():
    return run_chain(one_barrel(), RECORD)


def test_catch_is_area_times_runoff_times_rain(chain):
    # 4.2 × 3 m × 0.8 × 721 mm (sum of the demo's months), less the first flush.
    without_flush = 4.2 * 3 * 0.8 * 721
    caught, flushed = (f.amount.value * 1000 for f in (chain.catch.year, chain.catch.flushed))
    assert caught + flushed == approx(without_flush, rel=1e-3)
    assert sum(chain.catch.by_month) == approx(chain.catch.year.amount.value * 1000)


def test_head_is_a_difference_of_heights(chain):
    full, half, low = chain.planted[0].push.levels
    assert full.figures[0].amount.value == approx(1.2 + 0.4 + 1.0 - (0.6 + 0.2))
    assert full.state.flow > half.state.flow > low.state.flow > 0
    assert chain.planted[0].push.verdict.mark is Mark.WORKS


def test_settings_are_positions_of_the_timer_and_near_the_need(chain):
    positions = chain.planted[0].time.timer.positions
    months = [m for m in chain.planted[0].time.months if m.setting]
    assert {m.month for m in months} == {5, 6, 7, 8, 9}
    time = chain.planted[0].time
    as_planned = [m.setting.position if m.setting else outcomes.OFF for m in time.months]
    (told,) = outcomes.lived(time.chosen_on, [as_planned])
    for month in months:
        assert month.setting.position.run_minutes in positions.run_minutes
        assert month.setting.position.interval_days in positions.interval_days
        (bed,) = told[month.month - 1].beds
        assert bed.stressed <= programme.STRESSED_DAYS  # the rule that the settings claim


def test_water_balances_through_the_season(chain):
    assert abs(chain.store.season.run.residual(0)) < 1e-6
    assert abs(chain.store.season.beds[0].mass_balance_residual) < 1e-6


def test_more_barrels_are_proposed_and_are_enough_once_they_are_there(chain):
    judged = judge(chain)
    short = next(f for f in judged.findings if f.code == "store-too-small")
    cure = next(trying.cures_of(judged, short))
    assert cure.change.code == "cure-more-stores"
    count = cure.change.values["count"]
    enough, fewer = (
        run_chain(with_part(one_barrel(), "stores", count=n), RECORD) for n in (count, count - 1)
    )
    promised = cure.promises["met"][1].value
    assert enough.store.groups[0].run.volumetric_reliability == promised
    assert enough.store.groups[0].summary.mark is Mark.WORKS
    assert fewer.store.groups[0].summary.mark is not Mark.WORKS


def test_linked_barrels_share_one_level(chain):
    # Volumes add, heights do not: the head is that of one barrel (field practice, CP).
    linked = run_chain(with_part(one_barrel(), "stores", count=3), RECORD)
    assert linked.planted[0].push.at("full").state.flow == approx(
        chain.planted[0].push.at("full").state.flow
    )
    assert linked.planted[0].push.curve.full == approx(3 * chain.planted[0].push.curve.full)
    assert linked.planted[0].push.curve.dead == approx(3 * chain.planted[0].push.curve.dead)


def test_raising_the_barrel_shortens_the_minutes(chain):
    raised = run_chain(with_part(one_barrel(), "stores", stand_m=1.4), RECORD)
    assert (
        raised.planted[0].push.at("half").state.flow > chain.planted[0].push.at("half").state.flow
    )
    july, before = raised.planted[0].time.months[6], chain.planted[0].time.months[6]
    a_day = july.choice.exact_minutes / july.setting.position.interval_days
    assert a_day < before.choice.exact_minutes / before.setting.position.interval_days


def test_the_raise_proposed_cures_and_a_step_less_does_not():
    garden = with_part(one_barrel(), "beds", raised_m=1.7)  # outlets above the nearly empty barrel
    chain = run_chain(garden, RECORD)
    assert chain.planted[0].push.verdict.mark is not Mark.WORKS
    raise_by = next(
        c.change.values["by"].value
        for c in cures.find_cures(chain.planted[0].push.zone, chain.planted[0].push.duty)
        if "by" in c.change.values
    )
    zone, duty = chain.planted[0].push.zone, chain.planted[0].push.duty
    assert not shortfalls.find_shortfalls(zones.raised(zone, raise_by), duty)
    assert shortfalls.find_shortfalls(
        zones.raised(zone, raise_by - cures.RAISE_STEPS[System.METRIC]), duty
    )


def test_a_valve_that_needs_tap_pressure_is_found_and_another_proposed():
    chain = run_chain(with_part(one_barrel(), "timers", kind="dial-solenoid"), RECORD)
    verdict = chain.planted[0].push.verdict
    assert verdict.mark is Mark.FAILS
    assert verdict.reasons[0].code == "push-valve-head-needs"
    judged = judge(chain)
    found = next(f for f in judged.findings if f.code == "push-valve-does-not-open")
    assert "ball valve" in str(next(trying.cures_of(judged, found)).change)
    assert isinstance(chain.planted[0].time, Gap)


def test_far_above_the_barrel_only_a_pump_helps():
    chain = run_chain(with_part(one_barrel(), "beds", ground_m=6.0), RECORD)
    assert chain.planted[0].push.verdict.mark is Mark.FAILS
    judged = judge(chain)
    found = next(f for f in judged.findings if f.code == "push-water-too-low")
    assert {c.change.code for c in trying.cures_of(judged, found)} <= {
        "cure-pump",
        "cure-pump-regulated",
    }


def test_stations_say_what_they_wait_for(demo_garden):
    empty = edits.replace(
        one_barrel(),
        roofs=(),
        downspouts=(),
        stores=(),
        pipes=(),
        beds=(),
        timers=(),
    )
    chain = run_chain(empty, RECORD)
    assert "roof" in str(chain.catch.sentence)
    assert "bed" in str(chain.plant().sentence)
    assert isinstance(run_chain(demo_garden, None).catch, Gap)
    no_timer = edits.remove(demo_garden, "top-timer")
    assert run_chain(no_timer, RECORD).planted[0].time.sentence.code == "time-no-timer"


def test_an_unconnected_bed_is_named(demo_garden):
    loose = edits.remove(demo_garden, "top-hose")
    with pytest.raises(PlanError, match="“Top step” is not connected"):
        zones.zone_named(loose, "top-bed")


def test_feeding_the_middle_evens_out_a_long_line():
    end = solving.solve_zone(zones.zone_named(long_row(60.0, "hole-1")), 1.0)
    split = splitting.fed_from_middle(zones.zone_named(long_row(60.0, "hole-1")))
    assert split is not None
    middle = solving.solve_zone(split, 1.0)
    assert len(end.outlet_flow) == len(middle.outlet_flow) == 200
    assert middle.lowest_share > end.lowest_share
