"""The plan on simulated devices: what it does when all is well, and about each fault."""

import pytest
from pytest import approx

from euhydra.core.delivery import DrainCurve
from euhydra.devices.bench import Bench, StoreRig, ZoneRig
from euhydra.devices.faults import Fault
from euhydra.devices.keeper import KeeperPlan
from euhydra.devices.simulated import DAY, SimulatedForecast, World
from euhydra.garden.quantities import System
from euhydra.garden.sentences import Amount

STEADY = DrainCurve.of([10.0, 210.0], [60.0, 60.0])  # a litre a minute
DAYS = 5
RUNS = tuple((day * DAY + 300, day * DAY + 330) for day in range(DAYS))  # 5:00 to 5:30
PAUSES = ((1, 5.0), (2, 10.0))


def bench(rain=(0.0,) * DAYS, *, level=200.0, on_tap=False, has_pump=False):
    plan = KeeperPlan("Bed", RUNS, PAUSES)
    zone = ZoneRig(plan, STEADY, None if on_tap else 0, True, True, has_pump)
    store = StoreRig("Barrel", 210.0, 10.0, level, 20.0)
    return Bench([store], [zone], rain, (12.0,) * DAYS, (24.0,) * DAYS)


def at(hour, minute=0, day=0):
    return day * DAY + hour * 60 + minute


def said(b):
    return {notice.code for notice in b.read().notices}


def told(b):
    return {notice.code for _, notice in b.read().log}


def test_a_day_as_planned():
    b = bench()
    b.advance(at(5, 15))
    zone = b.read().zones[0]
    assert zone.is_open
    assert zone.flow == approx(60)
    b.advance(at(12) - at(5, 15))
    reading = b.read()
    assert not reading.zones[0].is_open
    assert reading.zones[0].given_today == approx(30)
    assert reading.stores[0].level == approx(170)
    assert reading.notices == ()


def test_water_is_neither_made_nor_lost():
    b = bench(rain=(0.0, 12.0, 0.0, 0.0, 3.0), level=180.0)
    given = 0.0
    while not b.is_over:
        b.advance(1)
        given += b.meters[0].now / 60
    store = b.stores[0]
    assert store.level + given + store.spilled == approx(180.0 + 20.0 * 15.0)


def test_rain_pauses_the_timer_by_depth():
    b = bench(rain=(11.0, 0.0, 0.0, 0.0, 0.0))
    b.advance(at(12, day=1))
    assert b.read().zones[0].given_today == 0
    (paused,) = b.read().notices
    assert (paused.code, paused.values["days"]) == ("bench-paused", Amount.days(2))
    assert "bench-run-passed" not in told(b)  # a pause is no fault
    b.advance(at(12, day=3) - at(12, day=1))
    assert b.read().zones[0].given_today == approx(30)
    assert said(b) == set()


def test_rain_that_is_forecast_spares_the_run():
    b = bench(rain=(0.0, 15.0, 0.0, 0.0, 0.0))
    b.advance(at(12, day=1))
    assert b.read().zones[0].given_today == 0
    assert "bench-rain-forecast" in told(b)


def test_without_a_forecast_the_run_is_not_spared():
    b = bench(rain=(0.0, 15.0, 0.0, 0.0, 0.0))
    b.set_fault(Fault.LOST_FORECAST, True)
    b.advance(at(12, day=1))
    assert b.read().zones[0].given_today == approx(30)
    assert "bench-no-forecast" in said(b)


@pytest.mark.parametrize(
    ("fault", "when", "code", "given"),
    [
        (Fault.STUCK_SHUT, at(5, 10), "bench-nothing-comes", 0),
        (Fault.STUCK_OPEN, at(2), "bench-leaks", None),
        (Fault.FLAT_BATTERY, at(5, 10), "bench-run-passed", 0),
        (Fault.CLOGGED_FILTER, at(5, 10), "bench-flow-weak", None),
        (Fault.EMPTY_STORE, at(5, 10), "bench-store-empty", 0),
        (Fault.FROST, at(5, 10), "bench-frost", 0),
        (Fault.WRONG_CLOCK, at(11, 10), "bench-clock-wrong", None),
    ],
)
def test_every_fault_is_noticed_with_what_to_do(fault, when, code, given):
    b = bench()
    b.set_fault(fault, True)
    b.advance(when + 1)
    assert code in said(b)
    if given is not None:
        assert b.read().zones[0].given_today == given
    b.set_fault(fault, False)
    b.advance(at(20) - when)
    assert said(b) == set()  # mended, it is no longer said
    assert code in told(b)  # but it was


def test_a_weak_flow_is_told_in_the_reader_s_units():
    b = bench()
    b.set_fault(Fault.CLOGGED_FILTER, True)
    b.advance(at(5, 11))
    (weak,) = b.read().notices
    assert (weak.values["flow"].value, weak.values["expected"].value) == (
        approx(24 / 3.6e6),
        approx(60 / 3.6e6),
    )
    assert "6.34 gal/h of 15.9 gal/h" in weak.told(System.US)


def test_a_valve_stuck_open_empties_the_store_and_no_further():
    b = bench()
    b.set_fault(Fault.STUCK_OPEN, True)
    b.advance(at(12))
    assert b.read().stores[0].level == approx(10.0)


def test_a_pump_does_not_run_dry():
    b = bench(level=15.0, has_pump=True)
    b.advance(at(5, 20))
    assert not b.keeper.lines[0].pump.is_running
    assert b.read().stores[0].level >= 10.0


def test_a_tap_gives_whatever_the_stores_hold():
    b = bench(on_tap=True)
    b.set_fault(Fault.EMPTY_STORE, True)
    b.advance(at(12))
    assert b.read().zones[0].given_today == approx(30)


def test_after_the_last_day_time_stands_still():
    b = bench()
    b.advance(DAYS * DAY + 500)
    assert b.is_over
    assert b.read().minute == DAYS * DAY
    assert SimulatedForecast(World((3.0,), (1.0,), (2.0,))).rain_tomorrow() == 3.0
