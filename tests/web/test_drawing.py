"""What is drawn: widths follow litres, heights follow metres, charts follow the units."""

import re
from collections.abc import Iterable
from itertools import combinations, pairwise
from math import hypot

import pytest
from pytest import approx

from euhydra.garden import demo, edits, normals
from euhydra.garden.pipes import Fitting
from euhydra.garden.quantities import System
from euhydra.garden.sources import WetGround
from euhydra.planner.answers import Gap, Mark
from euhydra.planner.chain import begin_chain, run_chain
from euhydra.planner.judgement.answer import judge
from euhydra.web.drawing import (
    charts,
    drains,
    fall,
    outlet_table,
    piece_places,
    trench,
    watercourse,
)
from gardens import one_barrel
from sound_gardens import BASES, washing_lines

RECORD = normals.make_days(demo.normals(), 2)


@pytest.fixture(scope="module")
def chain():
    return run_chain(one_barrel(), RECORD)


def breadth_at(path: str, x: float) -> float:
    """Height of a band at one of its turning points."""
    heights = [float(y) for px, y in re.findall(r"(-?[\d.]+),(-?[\d.]+)", path) if float(px) == x]
    return max(heights) - min(heights)


def test_the_stream_narrows_as_the_litres_do(chain):
    drawn = watercourse.draw(chain, judge(chain), 3)
    years = RECORD.years
    run = chain.store.groups[0].run
    caught, given = run.inflow.sum() / years, run.supplied.sum() / years
    assert breadth_at(drawn.path, 0.0) == approx(watercourse.WIDEST, abs=0.1)
    expected = max(watercourse.NARROWEST, watercourse.WIDEST * given / caught)
    assert breadth_at(drawn.path, 225.0) == approx(expected, abs=0.2)
    assert drawn.sides[0].litres == approx(caught - given, rel=1e-6)


def test_what_is_caught_without_a_roof_is_what_is_washed():
    chain = run_chain(washing_lines(), RECORD)
    catch, *_, time, _, _ = watercourse.draw(chain, judge(chain), 0).stations
    (drum,) = chain.garden.greywaters
    assert catch.headline.value == approx(sum(drum.week_m3))
    assert (catch.mark, catch.leads_to) == (Mark.WORKS, "greywater")
    assert time.headline.value == 1


def test_a_garden_without_weather_has_a_dry_bed(demo_garden):
    dry = run_chain(demo_garden, None)
    drawn = watercourse.draw(dry, judge(dry), 0)
    assert drawn.is_dry
    assert not drawn.sides
    assert [s.key for s in drawn.stations if s.headline is None] == [
        "catch",
        "store",
        "need",
        "time",
    ]


def test_heights_on_the_fall_are_to_scale(chain):
    drawn = fall.draw(chain.planted[0].push, System.METRIC)
    zone = chain.planted[0].push.zone
    store, vessel = zone.source, drawn.vessel
    a_metre = (vessel.base - vessel.top) / store.height_m
    assert drawn.metre == approx(a_metre, abs=0.2)
    assert vessel.ground - vessel.base == approx(store.stand_m * a_metre, abs=0.2)
    assert drawn.end_y - vessel.base == approx((store.base_m - 0.8) * a_metre, abs=0.2)
    assert drawn.scale_bar == approx(drawn.tick_m * a_metre, abs=0.2)
    assert [level.y for level in drawn.levels] == sorted(level.y for level in drawn.levels)


def test_the_line_of_head_only_falls(chain):
    for level in fall.draw(chain.planted[0].push, System.METRIC).levels:
        heights = [float(point.split(",")[1]) for point in level.head_line.split()]
        assert heights == sorted(heights)  # y grows downwards


def test_a_steep_garden_still_gets_a_scale_bar(demo_garden):
    bed = demo_garden.beds[0].model_copy(update={"ground_m": -45.0})
    chain = run_chain(edits.put(demo_garden, "beds", bed), RECORD)
    for system in System:
        drawn = fall.draw(chain.planted[0].push, system)
        assert fall.LEAST_BAR <= drawn.scale_bar <= fall.HEIGHT


def test_charts_speak_the_gardens_units(chain):
    metric, us = (charts.catch_chart(chain, system) for system in System)
    assert (metric.unit, us.unit) == ("L", "gal")
    assert metric.given[0] == approx(us.given[0] * 3.785411784, abs=0.05)
    year = charts.store_chart(chain.store.groups[0], System.US)
    assert year["full"] == approx(300 / 3.785411784, abs=0.01)
    assert max(year["level"]) <= year["full"] + 0.01
    assert (year["first"], year["last"]) == (2001, 2002)


def test_a_record_that_begins_in_july_leaves_the_first_half_year_blank(demo_garden):
    half = {name: getattr(RECORD, name)[181:] for name in ("precip", "temp_min", "temp_max")}
    record = type(RECORD).of(RECORD.days[181:], **half)
    group = run_chain(demo_garden, record).store.groups[0]
    first = charts.store_year(group, 2001, System.METRIC)
    assert first["start"] == 181
    assert len(first["level"]) == len(first["rain"]) == 365 - 181


def test_every_outlet_is_in_the_table_and_follows_its_law(chain):
    table = outlet_table.rows_of(chain.planted[0].push, System.METRIC)
    assert [len(row.flows) for row in table.rows["half"]] == [10, 10]
    total = sum(float(q) for row in table.rows["full"] for q in row.flows)
    assert total == approx(chain.planted[0].push.at("full").state.flow * 3.6e6, rel=0.01)
    # The demo's outlets give 1 L/h at 1 m with x = 0.5: the printed head leads to the printed flow.
    for rows in table.rows.values():
        for row in rows:
            for flow, head in zip(row.flows, row.heads, strict=True):
                assert float(flow) == approx(float(head) ** 0.5, abs=0.006)


def test_what_drains_where_keeps_heights_to_scale(demo_garden):
    west = demo_garden.downspouts[1].model_copy(update={"leads_to": None})
    drawn = drains.draw(edits.put(demo_garden, "downspouts", west))
    heights = {store.id: store for store in demo_garden.stores}
    shapes = dict(zip([s.id for s in demo_garden.stores], drawn.stores, strict=True))
    wall, shed = shapes["wall-tank"], shapes["shed-barrel"]
    a_metre = wall.height / heights["wall-tank"].top_m
    assert shed.height == approx(heights["shed-barrel"].top_m * a_metre, abs=0.2)
    rise = heights["wall-tank"].base_m - heights["shed-barrel"].base_m
    assert (shed.y + shed.height) - (wall.y + wall.height) == approx(rise * a_metre, abs=0.3)
    # Linked tanks stand full to one height, and one of the downspouts leads nowhere.
    assert wall.water_y == shapes["corner-tank"].water_y
    assert [spout.is_led for spout in drawn.spouts] == [True, False, True]
    assert all(0 <= ending.x <= drains.WIDTH for ending in drawn.endings)


@pytest.mark.parametrize(
    ("drop", "deep", "across"), [(0.1, 0.6, 0.5), (0.5, 1.5, 1.2), (0.02, 0.3, 0.3)]
)
def test_a_trench_is_drawn_to_one_scale_below_the_ground(drop, deep, across):
    ground = WetGround(
        id="corner",
        name="Corner",
        area_m2=40.0,
        drop_m=drop,
        sump_depth_m=deep,
        sump_across_m=across,
    )
    drawn = trench.draw(ground)
    downwards = [
        drawn.outlet,
        drawn.ground,
        drawn.pipe_start,
        drawn.pipe_end,
        drawn.float_on,
        drawn.float_off,
        drawn.sump_bottom,
        trench.HEIGHT,
    ]
    assert downwards == sorted(downwards)
    scale = (drawn.float_off - drawn.float_on) / deep
    assert (drawn.pipe_end - drawn.pipe_start) / drop == approx(scale, rel=0.1, abs=5)
    assert (drawn.pipe_start - drawn.ground) / trench.COVER == approx(scale, rel=0.02)
    assert drawn.sump_left < drawn.sump_right < trench.OUTLET_X


def test_parts_of_one_name_are_drawn_each_where_it_is(demo_garden):
    """Nothing keeps a gardener from calling two pipes the same."""
    alike = tuple(pipe.model_copy(update={"name": "Pipe"}) for pipe in demo_garden.pipes)
    for zone in run_chain(edits.replace(demo_garden, pipes=alike), RECORD).zones:
        drawn = fall.draw(zone.push, System.METRIC)
        assert len({(loss.x, loss.y) for loss in drawn.losses}) == len(drawn.losses)


def overlapping(places: Iterable[tuple[float, float]]) -> int:
    """Pairs of signs that lie on each other by more than a hair."""
    least = piece_places.PIECE_SIZE - 2 * piece_places.STEP
    return sum(
        abs(a[0] - b[0]) < least and abs(a[1] - b[1]) < least for a, b in combinations(places, 2)
    )


def test_signs_of_pieces_never_lie_on_each_other_and_read_in_order():
    garden = demo.garden()
    assert overlapping(piece_places.piece_places(garden).values()) == 0
    # Set in at one end of a pipe, time and again, pieces lie on the very spot of what is there.
    timer = garden.timers[0]
    feeds = next(p for p in garden.fed if p.begins_at == timer.id)
    for n in range(4):
        piece = Fitting(
            id=f"more-{n}", name=f"More {n}", kind="filter", at=timer.at, begins_at=timer.id
        )
        garden = edits.put_before(garden, "fittings", piece, feeds.id)
    places = piece_places.piece_places(garden)
    assert overlapping(places.values()) == 0
    beside = [places[f"more-{n}"] for n in range(4)]
    off = [hypot(x - timer.at.x_m, y - timer.at.y_m) for x, y in beside]
    assert off == sorted(off)
    assert max(off) < 6 * piece_places.PIECE_SIZE


@pytest.mark.parametrize("build", BASES.values(), ids=BASES)
def test_words_on_the_fall_keep_a_row_apart(build):
    garden = build()
    for zone in begin_chain(garden, None).pushed:
        if isinstance(zone.push, Gap):
            continue
        drawn = fall.draw(zone.push, garden.units)
        words = [level.word_y for level in drawn.levels]
        assert all(b - a >= fall.ROW - 0.1 for a, b in pairwise(words))
        assert abs(drawn.head_y - drawn.end_name_y) >= fall.ROW
