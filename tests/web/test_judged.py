"""Plan and record on one strip."""

from datetime import date, datetime, timedelta

import pytest
from pytest import approx

from euhydra.garden import demo, normals
from euhydra.garden.logbook import LogEntry
from euhydra.planner import chain
from euhydra.planner.keeping import hindcast
from euhydra.web.drawing import record_strip

TODAY = date(2026, 7, 20)


def ago(days, hour=9):
    return datetime(TODAY.year, TODAY.month, TODAY.day, hour) - timedelta(days=days)


@pytest.fixture(scope="module")
def planned():
    return chain.run_chain(demo.garden(), normals.make_days(demo.normals(), 4))


def told(planned, *entries):
    return hindcast.hindcast(planned, sorted(entries, key=lambda e: e.at), TODAY)


def points(lane):
    return [tuple(map(float, pair.split(","))) for pair in lane.line.split()]


def test_a_lane_follows_the_root_zone_between_full_and_dry(planned):
    known = told(planned, LogEntry("finger", ago(1), "top-bed", (), "dry"))
    lane = next(
        x for x in record_strip.draw(known, known.season.run.level).lanes if x.name == "Top step"
    )
    ys = [y for _, y in points(lane)]
    assert all(lane.top - 0.1 <= y <= lane.top + record_strip.LANE + 0.1 for y in ys)
    track = known.track("top-bed")
    last = track.filled[known.day(ago(0))]
    assert ys[-1] == approx(lane.top + record_strip.LANE * last / record_strip.MOST_GONE, abs=0.1)
    assert lane.mark_y == approx(lane.top + record_strip.LANE / record_strip.MOST_GONE)


def test_signs_stand_on_their_days(planned):
    words = ("dry", "right", "muddy")
    known = told(
        planned, *(LogEntry("finger", ago(10 - i), "top-bed", (), w) for i, w in enumerate(words))
    )
    lane = next(
        x for x in record_strip.draw(known, known.season.run.level).lanes if x.name == "Top step"
    )
    assert [s.shape for s in lane.signs] == list(words)
    gaps = [b.x - a.x for a, b in zip(lane.signs, lane.signs[1:], strict=False)]
    step = (record_strip.WIDTH - 2 * record_strip.LEFT) / record_strip.DAYS_SHOWN
    assert gaps == [approx(step, abs=0.11)] * 2


def test_a_dip_stands_as_high_as_the_store_was_full(planned):
    full, empty = (
        LogEntry("dip", ago(20), "shed-barrel", (0.9,)),
        LogEntry("dip", ago(2), "shed-barrel", (0.0,)),
    )
    known = told(planned, full, empty)
    lanes = record_strip.draw(known, known.season.run.level).lanes
    lane = next(x for x in lanes if x.name == "Shed barrel")
    high, low = lane.signs
    assert lane.top <= high.y < lane.top + 10
    assert low.y == approx(lane.top + record_strip.LANE)
    assert high.x < low.x


def test_rain_hangs_from_above_by_its_depth(planned):
    rains = [
        LogEntry("rain", ago(200, 18), None, (0.0,)),
        LogEntry("rain", ago(6, 18), None, (0.03,)),
        LogEntry("rain", ago(3, 18), None, (0.015,)),
    ]
    known = told(planned, *rains)
    strip = record_strip.draw(known, known.season.run.level)
    heaviest = max(h for _, h in strip.rain)
    assert heaviest == 34
    half = [h for _, h in strip.rain if h == approx(17, abs=0.1)]
    assert half


def test_only_what_grows_has_a_lane_and_only_the_newest_days_are_shown(planned):
    old = LogEntry("finger", ago(300), "top-bed", (), "dry")
    known = told(planned, old, LogEntry("finger", ago(1), "top-bed", (), "dry"))
    strip = record_strip.draw(known, known.season.run.level)
    lane = next(x for x in strip.lanes if x.name == "Top step")
    assert len(lane.signs) == 1
    assert {lane.name for lane in strip.lanes} >= {"Shed barrel", "Top step"}
    assert [name for name, _ in strip.months] == ["April", "May", "June", "July"]
