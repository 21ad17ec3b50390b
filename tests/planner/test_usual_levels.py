"""Timers are set for the level at which their store usually stands: it is about what comes of it, and
the promise holds on stores as it does on taps.
"""

import numpy as np
import pytest

from euhydra.garden import demo, normals
from euhydra.planner import chain
from euhydra.planner.answers import PlanError
from euhydra.planner.chain import run_chain
from euhydra.planner.season import usual_levels
from gardens import one_barrel, tapped, with_part
from planner.test_promise import PLACES, PROMISED, SLACK, halves
from sweeps import swept


def barrels(count: int):
    return with_part(one_barrel(), "stores", count=count)


def levels(planned) -> np.ndarray:
    """Share of the drawable water from which each month's runs are set."""
    design = planned.zones[0].time.design
    return (np.array(design.levels) - design.curve.dead) / (design.curve.full - design.curve.dead)


def asked_and_held(season):
    """Litres asked on each day, and the level on its morning."""
    (way,), (evenings,) = season.ways, season.run.level
    mornings = np.r_[evenings[:1], evenings[:-1]]
    asked = season.works.waterings[0].asked
    return asked, mornings, mornings - way.push.curve.runs_dry_at > asked.max()


@pytest.mark.parametrize("place", swept(PLACES, ["tunis"]))
def test_runs_are_set_for_the_level_that_comes_of_them(place):
    for count in (1, 8):
        planned = run_chain(barrels(count), halves(place)[0])
        asked, mornings, holds = asked_and_held(planned.season)
        curve = planned.zones[0].time.design.curve
        for month in (6, 7, 8, 9):
            here = (planned.record.month == month) & (asked > 0) & holds
            if here.sum() > 30:
                real = np.average(mornings[here], weights=asked[here])
                real = (real - curve.dead) / (curve.full - curve.dead)
                assert levels(planned)[month - 1] == pytest.approx(real, abs=0.2)


def test_a_store_that_is_drawn_down_is_given_longer_runs_than_one_that_stays_full():
    small, large = (run_chain(barrels(n), halves("champion")[0]) for n in (1, 8))
    assert (levels(small)[5:9] < levels(large)[5:9] - 0.1).all()
    for month in (7, 8):
        minutes = [p.zones[0].time.design.exact_minutes(20.0, month) for p in (small, large)]
        assert minutes[0] > 1.05 * minutes[1]


@pytest.mark.parametrize("place", swept(PLACES, ["tunis"]))
@pytest.mark.parametrize("count", [3, 8])
def test_the_promise_holds_on_a_store_while_it_holds_water(place, count):
    garden = barrels(count)
    first, second = halves(place)
    (zone,) = run_chain(garden, first).zones
    season = chain.followed(run_chain(garden, second), {zone.zone.id: zone.time.programme})
    (run,), (way,) = season.beds, season.ways
    _, _, holds = asked_and_held(season)
    days = way.need.is_growing & holds
    assert days.sum() > 0.3 * way.need.is_growing.sum()
    assert run.is_stressed[days].mean() <= PROMISED + SLACK


def test_a_tap_has_no_levels_and_a_garden_that_cannot_be_run_none_either(monkeypatch):
    record = halves("champion")[0]
    ways = chain.ways_of(run_chain(tapped(), record).planted)
    assert usual_levels.usual_levels(tapped(), record, ways) == {}
    ways = chain.ways_of(run_chain(barrels(1), record).planted)
    assert set(usual_levels.usual_levels(barrels(1), record, ways)) == {ways[0].push.zone.id}

    def cannot(*_):
        raise PlanError(chain.NO_BED.sentence)

    monkeypatch.setattr(usual_levels.replay, "replay", cannot)
    assert usual_levels.usual_levels(barrels(1), record, ways) == {}


def test_beds_that_draw_on_no_store_change_no_level(monkeypatch):
    garden, record = demo.garden(), normals.make_days(demo.normals(), 2)
    begun = chain.begin_chain(garden, record)
    ways = chain.ways_of(begun.first_answers.planted)
    levels_found = usual_levels.usual_levels(garden, record, ways)
    assert len(levels_found) > 1
    monkeypatch.setattr(usual_levels, "_touches_stores", lambda garden, way: True)
    assert usual_levels.usual_levels(garden, record, ways) == levels_found
