"""Gravity and pumps beside one another, the least pump, and what a pump can suck."""

import pytest
from pytest import approx

from euhydra.core import pumps
from euhydra.garden import edits, plumbing
from euhydra.garden.pipes import Pump
from euhydra.planner.lay import rules
from euhydra.planner.push import cures, drives, shortfalls
from euhydra.planner.push.drives import Drive
from euhydra.planner.push.shortfalls import Duty
from euhydra.planner.steps.zone_steps import zone_steps
from euhydra.planner.water import laws, solving, zones
from euhydra.planner.water.cut_lengths import cut_lengths
from gardens import four_on_a_tap, one_barrel, tapped, with_part

DUTY = Duty(0.02)


def uphill(metres: float):
    """The small garden's zone with its bed so high. [m]"""
    return zones.zone_named(with_part(one_barrel(), "beds", ground_m=metres))


def pumped(kind: str = "transfer", ground_m: float = 0.6, **fields):
    """A zone with a pump of some kind before its timer."""
    garden = with_part(one_barrel(), "beds", ground_m=ground_m)
    pump = Pump(id="pump", name="Pump", kind=kind, **fields)
    return zones.zone_named(edits.put_before(garden, "pumps", pump, "shed-timer"))


def notes_of(drive: Drive) -> str:
    return " ".join(str(note) for note in drive.notes)


def test_a_zone_that_has_a_pump_or_a_tap_is_compared_with_nothing():
    (alone,) = drives.compare(pumped(), DUTY)
    assert alone.name == plumbing.pump_kinds()["transfer"].name
    (tap,) = drives.compare(zones.zone_named(tapped()), DUTY)
    assert (tap.name, tap.price, tap.energy_wh) == ("The tap's pressure", 0, 0)


def test_the_least_pump_is_the_first_in_the_list_that_works():
    zone = uphill(3.0)
    assert not shortfalls.works(zone, DUTY)
    least = drives.smallest_pump(zone, DUTY)
    for kind in plumbing.pump_kinds().values():
        works = shortfalls.works(drives.with_pump(zone, kind), DUTY)
        if kind.id == least.id:
            assert works
            break
        assert not works
    assert drives.smallest_pump(zone, DUTY, 230.0).volts == 230
    assert drives.smallest_pump(uphill(45.0), DUTY) is None


def test_a_pump_tried_takes_the_source_s_place_and_nothing_else():
    zone = uphill(3.0)
    kind = plumbing.pump_kinds()["barrel"]
    tried = drives.with_pump(zone, kind)
    assert [p.begins_at for p in tried.way.parts if p.id == zone.head.id] == ["tried-pump"]
    assert tried.head.begins_at == "tried-pump"
    assert len(tried.outlets) == len(zone.outlets)
    assert zone.head.begins_at == zone.source.id  # the zone that was asked about stays


def test_energy_is_power_times_hours():
    for drive in drives.compare(uphill(1.5), DUTY):
        kind = next((k for k in plumbing.pump_kinds().values() if k.name == drive.name), None)
        if kind is None:
            assert drive.energy_wh == 0
        elif drive.hours is not None:
            assert drive.energy_wh == approx(kind.power_w * drive.hours.value / 3600)
            # The day's litres over the rate of the zone, within what the falling level adds.
            flat = DUTY.need_m3 / drive.flow.value / 3600
            assert drive.hours.value / 3600 == approx(flat, rel=0.35)


def test_a_battery_lasts_as_its_label_says():
    # 20 Ah at 12 V, half of it used, against 45 W: 2 h 40 min. By hand.
    zone = pumped("battery-mid")
    (drive,) = drives.compare(zone, DUTY)
    battery = next(n for n in drive.notes if n.code == "push-battery-runs")
    assert battery.values["hours"].value == approx(20 * 12 * 0.5 / 45 * 3600)
    (own,) = drives.compare(pumped("battery-mid", battery_ah=40.0), DUTY)
    larger = next(n for n in own.notes if n.code == "push-battery-runs")
    assert larger.values["hours"].value == approx(2 * battery.values["hours"].value)
    assert "A 40 Ah battery" in str(larger)


@pytest.mark.parametrize("kind", [k.id for k in plumbing.pump_kinds().values()])
def test_every_pump_is_told_where_it_runs_and_warned_of_air(kind):
    zone = pumped(kind, ground_m=2.0)
    (drive,) = drives.compare(zone, DUTY)
    assert "dry-run guard" in notes_of(drive)
    state = solving.solve_zone(zone, zone.levels[zone.usual_level])
    runs = next(n for n in drive.notes if n.code == "push-pump-runs-at")
    assert runs.values["flow"].value == state.flows["pump"]
    assert ("battery" in notes_of(drive)) == (plumbing.pump_kinds()[kind].volts < 50)


@pytest.mark.parametrize(
    ("height", "words"),
    [(-0.5, "fills by itself"), (3.0, "m by suction"), (9.0, "cannot suck so high")],
)
def test_what_a_pump_has_to_suck(height, words):
    zone = pumped("transfer", height_m=height, suction_m=10.0)
    assert words in notes_of(drives.compare(zone, DUTY)[0])
    lift = drives.suction_lift(zone, zone.pumps[0])
    low = zone.surface_at(zones.NEARLY_EMPTY)
    assert lift == approx(zone.source.ground_m + height - low)


def test_high_in_the_mountains_air_presses_less():
    garden = one_barrel()
    pump = Pump(id="pump", name="Pump", kind="house", height_m=6.0, suction_m=8.0)
    garden = edits.put_before(garden, "pumps", pump, "shed-timer")
    assert drives.suction_fault(zones.zone_named(garden), garden.pumps[0]) is None
    place = garden.place.model_copy(update={"elevation_m": 3500.0})
    high = edits.replace(garden, place=place)
    fault = drives.suction_fault(zones.zone_named(high), high.pumps[0])
    assert fault is not None
    assert fault.code == "push-suction-head-spare"


def test_air_pressure_of_the_worked_example():
    # Allen et al. (1998), FAO-56, example 2: 81.8 kPa at 1800 m.
    spare = pumps.suction_head_available(0.0, 0.0, 1800.0) + pumps.VAPOUR_HEAD
    assert spare * 998.2 * 9.80665 / 1000 == approx(81.8, rel=0.005)


@pytest.mark.parametrize("metres", [1.8, 3.0, 6.0])
def test_the_least_head_is_enough_and_a_little_less_is_not(metres):
    zone = uphill(metres)
    least = drives.least_head(zone, DUTY, 30.0)
    assert shortfalls.works(zones.raised(zone, least), DUTY)
    assert not shortfalls.works(zones.raised(zone, least - 0.15), DUTY)


def test_no_head_is_sought_over_the_most_nor_on_a_tap():
    assert drives.least_head(uphill(20.0), DUTY, 5.0) is None
    assert drives.least_head(zones.zone_named(tapped()), DUTY, 30.0) is None
    assert drives.least_head(zones.zones_of(four_on_a_tap(60))[0], None, 30.0) is None


def test_a_switch_starts_seldom_where_the_zone_takes_what_the_pump_gives():
    small, large = (pumped("house", band_m3=band) for band in (0.001, 0.02))
    for zone in (small, large):
        state = solving.solve_zone(zone, zone.levels[zone.usual_level])
        starts = drives.cycling(zone.pumps[0], state)
        (drive,) = drives.compare(zone, DUTY)
        assert ("would start" in notes_of(drive)) == (starts > drives.MOST_STARTS)
    # Twenty times the vessel, a twentieth of the starts.
    state = solving.solve_zone(small, 0.5)
    few = drives.cycling(large.pumps[0], state)
    assert drives.cycling(small.pumps[0], state) == approx(20 * few)


def test_an_own_pump_draws_what_its_label_says_and_its_battery_lasts_by_that():
    # 20 Ah at 12 V, half of it used, against 60 W: 2 h. By hand.
    zone = pumped("battery-mid", power_w=60.0)
    (drive,) = drives.compare(zone, DUTY)
    told = next(note for note in drive.notes if note.code == "push-battery-runs")
    assert told.values["hours"].value == approx(2 * 3600)
    if drive.hours is not None:
        assert drive.energy_wh == approx(60 * drive.hours.value / 3600)


@pytest.mark.parametrize(
    ("kind", "fields", "code"),
    [
        ("barrel", {}, "push-sits-in-water"),
        ("transfer", {"suction_m": 1.0, "height_m": -1.0}, "push-stands-below-water"),
        ("transfer", {"suction_m": 2.0, "height_m": 2.0}, "push-lifts-suction-fill"),
    ],
)
def test_priming_is_told_once_by_where_the_pump_stands(kind, fields, code):
    zone = pumped(kind, **fields)
    (drive,) = drives.compare(zone, DUTY)
    assert drive.upkeep.code == code
    noted = next(note for note in drive.notes if note.code == "push-priming")
    step = next(s for s in zone_steps(zone, cut_lengths(zone.garden)) if s.key.startswith("pump-"))
    for said in (noted.values["how"], step.sentences[0].values["priming"]):
        assert said.code == code


@pytest.mark.parametrize("kind", ["barrel", "transfer", "house"])
def test_a_pump_too_strong_for_its_lines_is_told_on_push_as_on_lay_and_both_cures_hold(kind):
    garden = edits.put_before(
        one_barrel(), "pumps", Pump(id="pump", name="Pump", kind=kind), "shed-timer"
    )
    zone = zones.zone_named(garden)
    (fault,) = [f for f in shortfalls.find_shortfalls(zone, None) if f.cause == "pressure"]
    breaches = rules.find_all(garden, rules.states_of(garden))
    assert "lay-too-much-head" in {breach.message.code for breach in breaches}
    assert fault.reason.values["most"].value == 10.0
    codes = {cure.change.code: cure for cure in cures.find_cures(zone, None)}
    throttled = codes["push-throttle-pump"].change.values
    # Just under what the line bears: no more is taken than has to be.
    assert 9.0 < throttled["head"].value <= 10.0
    # As far throttled, the pump's own curve meets the flow told: its head is lost in the valve.
    curve = laws.pump_curve(zone.pumps[0])
    assert curve.head_at(throttled["flow"].value) > throttled["head"].value
    regulated = codes["push-add-regulator"]
    assert regulated.outcome.values["flow"].value < fault_flow(zone)


def fault_flow(zone) -> float:
    return solving.solve_zone(zone, zone.levels[zone.usual_level]).flow
