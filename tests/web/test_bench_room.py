"""A bench's own time: whoever looks, and however often, it runs at its speed and no faster."""

import asyncio
import json
from collections.abc import Coroutine
from concurrent.futures import ThreadPoolExecutor
from types import SimpleNamespace
from typing import Any, TypeVar

import pytest
from fastapi import HTTPException

from euhydra.devices.faults import Fault
from euhydra.devices.simulated import DAY
from euhydra.garden import demo, normals
from euhydra.garden.quantities import System
from euhydra.planner.chain import run_chain
from euhydra.web import bench_rig, bench_room
from euhydra.web.bench_room import MOST_AT_ONCE, MOST_VIEWERS, BenchRoom, BenchRun
from euhydra.web.pages import bench as bench_page

JULY = 7

T = TypeVar("T")


class Clock:
    """A clock that is turned by hand. [s]"""

    now = 100.0

    def __call__(self) -> float:
        return self.now


@pytest.fixture(scope="module")
def planned():
    return run_chain(demo.garden(), normals.make_days(demo.normals(), 2))


@pytest.fixture
def clock(monkeypatch):
    clock = Clock()
    monkeypatch.setattr(bench_room, "monotonic", clock)
    return clock


@pytest.fixture
def run(planned, clock) -> BenchRun:
    bench, first, zone_ids = bench_rig.build(planned, JULY)
    return BenchRun(bench, first, zone_ids, JULY, (1,), _looked=clock.now)


def test_it_stands_until_it_is_played_and_again_after_a_pause(run, clock):
    clock.now += 50
    assert run.look().minute == 0
    run.play(True)
    clock.now += 0.5
    assert run.look().minute == 30  # half a second at sixty minutes a second
    run.play(False)
    clock.now += 100
    assert run.look().minute == 30


@pytest.mark.parametrize("speed", bench_room.SPEEDS.values())
def test_two_who_watch_see_one_time(run, clock, speed):
    run.speed = speed
    run.play(True)
    for _ in range(40):
        clock.now += 0.025
        run.look()
        run.look()
    assert run.look().minute == pytest.approx(speed, abs=1)


def test_after_a_long_absence_it_catches_up_a_little_and_goes_on(run, clock):
    run.play(True)
    clock.now += 3600
    assert run.look().minute == MOST_AT_ONCE
    clock.now += 0.5
    # No debt of an hour is worked off: half a second's minutes, and at most one that was owed.
    assert run.look().minute <= MOST_AT_ONCE + 31


def test_after_its_last_day_it_no_longer_plays(run, clock):
    run.bench.advance(60 * DAY)
    assert run.bench.is_over
    run.play(True)
    assert not run.is_playing


@pytest.mark.parametrize("fault", list(Fault))
def test_every_fault_is_switched_on_and_off(run, fault):
    run.switch(fault, True)
    assert run.faults == [fault]
    run.switch(fault, False)
    assert run.faults == []


@pytest.mark.parametrize("system", list(System))
def test_a_reading_is_told_in_the_reader_s_units(run, system):
    run.step(6 * 60)
    told = bench_page.told(run, run.look(), system)
    unit, other = ("L", "gal") if system is System.METRIC else ("gal", "L")
    words = json.dumps([told["zones"], told["stores"]])
    assert f" {unit}" in words
    assert f' {other}"' not in words
    assert told["clock"].endswith("6:00")
    assert [z["id"] for z in told["zones"]] == run.zone_ids
    assert all(0 <= s["percent"] <= 100 for s in told["stores"])


class Watching:
    """A request whose reader leaves after some readings."""

    def __init__(self, room: BenchRoom, readings: int) -> None:
        self.app = SimpleNamespace(state=SimpleNamespace(benches=room))
        self.left = readings

    async def is_disconnected(self) -> bool:
        self.left -= 1
        return self.left < 0


def alone(doing: Coroutine[Any, Any, T]) -> T:
    """Run it on a thread of its own: the browser tests leave a loop running on this one."""
    with ThreadPoolExecutor(1) as pool:
        return pool.submit(asyncio.run, doing).result()


@pytest.fixture
def room(run) -> BenchRoom:
    room = BenchRoom()
    room.put(1, run)
    return room


async def _watched(room: BenchRoom, run: BenchRun, readings: int) -> list[str]:
    events = bench_page._events(Watching(room, readings), run, System.METRIC)
    return [text async for text in events]


def test_a_stream_tells_what_changes_and_beats_where_nothing_does(room, run, monkeypatch):
    monkeypatch.setattr(bench_page, "BEAT", 0.0)
    first, second, third = alone(_watched(room, run, 3))
    assert json.loads(first.removeprefix("data: "))["clock"].endswith("0:00")
    assert second == third == ":\n\n"
    assert room.viewers == 0  # the one that left is no longer counted


def test_too_many_watchers_are_sent_away(room, run):
    room.viewers = MOST_VIEWERS
    with pytest.raises(HTTPException, match="Too many"):
        alone(bench_page.stream(Watching(room, 1), 1))
    assert alone(_watched(room, run, 3)) == []  # let in before, and too many meanwhile


def test_a_bench_that_is_replaced_ends_its_streams(room, run, planned):
    """Turning the month is no way to more streams: those of the former month end."""
    room.put(1, BenchRun(*bench_rig.build(planned, JULY), JULY + 1, (2,)))
    assert alone(_watched(room, run, 1000)) == []
    assert room.viewers == 0
    for garden_id in range(2, 40):
        room.put(garden_id, BenchRun(*bench_rig.build(planned, JULY), JULY, (garden_id,)))
    assert sum(room.find(n) is not None for n in range(40)) == bench_room.MOST_BENCHES
