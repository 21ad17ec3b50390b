"""Ways to begin: every one makes a garden that holds together, answers, and passes the program's own rules.

Measures and what such systems are made of: common practice.
"""

from itertools import pairwise
from math import hypot
from operator import attrgetter

import numpy as np
import pytest
from pytest import approx
from shapely import LineString

from beginnings import OF_EACH_WATER, WAYS, begun, empty, place
from euhydra.core.tried_days import Gives
from euhydra.garden import (
    changes,
    document,
    edits,
    kinds,
    quantities,
    shapes,
)
from euhydra.garden.part import quantity_of
from euhydra.garden.pipes import Pipe
from euhydra.garden.quantities import QuantityError, System
from euhydra.planner.answers import Mark, PlanError
from euhydra.planner.beginning import sources, ways
from euhydra.planner.beginning.asks import OVERFLOWING, way_kinds
from euhydra.planner.beginning.glance import LASTS, Addition, glance_at
from euhydra.planner.beginning.scene import HANG_TOGETHER, Scene
from euhydra.planner.chain import run_chain
from euhydra.planner.judgement import assumed, trying
from euhydra.planner.judgement.answer import judge
from euhydra.planner.judgement.finding import Severity
from euhydra.planner.lay import rules
from euhydra.planner.need.answer import answer_need
from euhydra.planner.parts import counting
from euhydra.planner.season import shares
from euhydra.planner.season.by_hand import by_hand
from euhydra.planner.store import cures
from euhydra.planner.store.installing import plan_installation
from euhydra.planner.water import zones
from sweeps import swept

OF_THE_PLACE = {
    "store-too-small",
    "store-too-little-comes",
    "catch-washing-too-little",
    "time-more-than-need",
    "time-water-stand-run",
    "need-planted-into-frost",
}
"""What the climate, the size of a store, the soil or a hand that comes seldom bring about; no way does."""


def ids(parts) -> set[str]:
    return {part.id for part in parts}


@pytest.mark.parametrize(
    ("town", "units"),
    swept([("Brussels", System.METRIC), ("Tunis", System.US)], [("Tunis", System.US)]),
)
@pytest.mark.parametrize("way", swept(WAYS, OF_EACH_WATER))
def test_what_a_way_makes_answers_and_passes_the_rules(way, town, units):
    garden = begun(way, town, units)
    assert document.loads(document.dumps(garden)) == garden
    judged = judge(run_chain(garden, place(town)[1]))
    grave = {f.code for f in judged.findings if f.severity is not Severity.BETTER}
    assert grave <= OF_THE_PLACE
    if way == "can":
        assert judged.stations["time"].summary.code == "station-by-hand"
    waits = {key for key, each in judged.stations.items() if each.needed and each.mark is None}
    assert waits == set()
    assert rules.find_all(garden, rules.states_of(garden)) == ()
    assert counting.faults(garden) == []
    fed = {spout.leads_to for spout in garden.downspouts}
    sheets = [plan_installation(s) for s in garden.stores if s.id in fed and not s.is_below_ground]
    assert {sheet.verdict.mark for sheet in sheets} <= {Mark.WORKS}


def test_there_is_a_way_for_every_system_and_each_asks_for_ten_measures_at_most():
    assert len(WAYS) == 17  # sixteen systems, and the can
    assert set(way_kinds()) == set(ways.BUILDERS)
    assert max(len(way.asks) for way in way_kinds().values()) <= 10
    for way in way_kinds().values():
        assert {ask.at for ask in way.asks} <= set(way.draws)
        for ask in way.asks:
            assert ask.is_choice or ask.low <= ask.usual <= ask.high
            for units in System:
                shown = ask.show(ask.usual_in(units), units)
                again = ask.parse(shown, units)
                if ask.is_choice:
                    assert again == ask.usual
                else:
                    assert again == approx(ask.usual_in(units), rel=0.01)


def test_what_is_typed_is_known_and_what_is_not_is_assumed():
    way = way_kinds()["totes"]
    garden = ways.begin(empty(), way, {"barrels": 4, "roof_length": 8.0})
    (roof,), (totes,) = garden.roofs, garden.stores
    assert (roof.length_m, totes.count) == (8.0, 4)
    assert roof.confirmed == ("length_m",)
    assert "width_m" in assumed.assumed_of(roof, "roofs", System.METRIC)
    assert "length_m" not in assumed.assumed_of(roof, "roofs", System.METRIC)
    assert {"across_m", "height_m"} <= set(totes.assumed)  # nobody was asked
    known = roof.model_copy(update={"confirmed": ("length_m", "width_m")})
    assert "width_m" not in assumed.assumed_of(known, "roofs", System.METRIC)


@pytest.mark.parametrize("way", WAYS)
def test_what_is_added_stands_clear_of_what_is_there(way):
    before = begun("barrel")
    after = ways.begin(before, way_kinds()[way], {}, place("Brussels")[1])
    there = {part.id for part in before.parts}
    assert there <= {part.id for part in after.parts}
    assert len({part.name for part in after.parts}) == len(after.parts)
    old = [o for part in before.parts for o in kinds.outlines_of(part)]
    new = [o for part in after.parts if part.id not in there for o in kinds.outlines_of(part)]
    assert not any(a.intersects(b) for a in old for b in new)


@pytest.mark.parametrize(
    "way",
    swept(
        ["tap", "soaker", "patio", "towers", "troughs", "planters", "barrel"],
        ["tap", "barrel"],
    ),
)
def test_what_is_added_may_drink_from_what_is_there(way):
    before = begun("totes")
    after = ways.begin(before, way_kinds()[way], {}, place("Brussels")[1], before.stores[0].id)
    assert (after.stores, after.taps, after.roofs) == (before.stores, (), before.roofs)
    added = {part.id for part in after.planted} - {part.id for part in before.planted}
    watered = {part.id for zone in zones.zones_of(after) for part in zone.watered}
    assert added
    assert added <= watered
    judged = judge(run_chain(after, place("Brussels")[1]))
    assert not any(f.severity.is_grave for f in judged.findings)
    assert "season-day-all-run" not in {f.code for f in judged.findings}
    assert counting.faults(after) == []


@pytest.mark.parametrize("way", ["patio", "soaker", "tap"])
@pytest.mark.parametrize("base", ["tap", "totes", "barrel", "cellar"])
def test_heads_on_one_source_hang_side_by_side_and_run_in_turn(base, way):
    before = begun(base)
    source = (*before.stores, *before.taps)[0]
    after = ways.begin(before, way_kinds()[way], {}, place("Brussels")[1], source.id)
    there = {(p.at.x_m, p.at.y_m) for p in before.pieces if p.id in ids(after.pieces)}
    new = [
        p.at for p in after.pieces if p.id not in ids(before.pieces) and p.begins_at != source.id
    ]
    near = [hypot(p.x_m - x, p.y_m - y) for p in new for x, y in there]
    assert near
    assert min(near) > 0.05
    if source in before.stores:
        spans = sorted((t.starts_s, t.starts_s + t.window_s) for t in after.timers)
        assert all(a[1] <= b[0] for a, b in pairwise(spans))
        assert len(spans) == 2


@pytest.mark.parametrize(
    ("base", "way"),
    [
        ("barrel", "troughs"),
        ("cellar", "troughs"),
        ("patio", "planters"),
        ("floats", "planters"),
        ("totes", "patio"),
        ("terraces", "soaker"),
        ("tap", "towers"),
    ],
)
def test_a_hose_to_what_lies_beyond_goes_round_what_is_there(base, way):
    before = begun(base)
    source = (*before.stores, *before.taps)[0]
    after = ways.begin(before, way_kinds()[way], {}, place("Brussels")[1], source.id)
    assert counting.faults(after) == []
    outlines = [
        outline
        for part in (*before.planted, *before.stores)
        if part.id != source.id
        for outline in kinds.outlines_of(part)
    ]
    new = (pipe for pipe in after.pipes if pipe.id not in ids(before.pipes))
    drawn = [LineString([(p.x_m, p.y_m) for p in pipe.path]) for pipe in new]
    assert drawn
    assert not any(line.intersects(outline) for line in drawn for outline in outlines)


def test_what_is_told_of_an_addition_is_its_own():
    _, record = place("Brussels")
    before = begun("totes")
    feed = before.stores[0].id
    after = ways.begin(before, way_kinds()["patio"], {}, record, feed)
    judged = judge(run_chain(after, record))
    told = glance_at(judged, Addition.to(before, after, feed))
    new = [plant for plant in judged.chain.planted if plant.part.id not in ids(before.planted)]
    pots = sum(plant.need.year_litres for plant in new)
    figures = dict(told.figures)
    assert figures["The plants ask, a year"].value * 1000 == approx(pots)
    assert not any("roof" in label for label in figures)
    assert LASTS in figures  # of the store that feeds them
    zone = judged.chain.zone(new[0].part.id)
    assert told.hardest in zone.time.set_months
    whole = dict(glance_at(judged).figures)
    assert whole["The plants ask, a year"].value * 1000 > pots


def test_barrels_joined_by_overflow_alone_leave_their_water_behind():
    garden = ways.begin(empty("Tunis"), way_kinds()["overflowing"], {"joined": OVERFLOWING})
    assert [store.count for store in garden.stores] == [1, 1, 1]
    codes = {f.code for f in judge(run_chain(garden, place("Tunis")[1])).findings}
    assert "store-only-spills-over" in codes


def test_washing_water_goes_outdoors_in_the_dry_months_of_either_hemisphere():
    for town, month in (("Brussels", 7), ("Sydney", 1)):
        (valve,) = (f for f in begun("washing", town).fittings if f.open_months)
        assert month in valve.open_months


def test_what_cannot_be_is_refused_with_what_can():
    ask = next(ask for ask in way_kinds()["barrel"].asks if ask.id == "barrel")
    with pytest.raises(QuantityError, match="30 L to 1500 L"):
        ask.parse("5000 L", System.METRIC)
    timer = next(ask for ask in way_kinds()["barrel"].asks if ask.id == "timer")
    with pytest.raises(QuantityError, match="dial-ball"):
        timer.parse("week-solenoid", System.METRIC)


def is_round(shown: float) -> bool:
    """Whether a number has three digits at most."""
    return shown == approx(float(f"{shown:.3g}"), rel=1e-9)


@pytest.mark.parametrize("way", WAYS)
def test_what_nobody_was_asked_about_is_round_in_the_units_shown(way):
    """Places of parts and heights of the ground hang together with others, and may be odd."""
    garden = begun(way, "Tunis", System.US)
    odd = [
        (part.name, name, value)
        for part in (p for p in garden.parts if not isinstance(p, Pipe))
        for name, info in type(part).model_fields.items()
        if isinstance(value := getattr(part, name), float)
        and name not in (*HANG_TOGETHER, "begins_along_m")
        if (kind := quantity_of(info)) in quantities.KINDS
        if not is_round(quantities.from_si(value, kind, System.US))
    ]
    assert odd == []


@pytest.mark.parametrize(
    "way",
    swept(
        [w for w in WAYS if {"barrel", "tank"} & {a.id for a in way_kinds()[w].asks}],
        ["barrel", "cellar"],
    ),
)
def test_a_store_of_any_size_fits_into_walls_of_round_measures(way):
    asked = next(ask for ask in way_kinds()[way].asks if ask.id in ("barrel", "tank"))
    usual = next(
        s for s in begun(way, "Tunis").stores if s.name not in ("Reserve", "Lower barrels")
    )
    for share in np.linspace(0.0, 1.0, 40):
        volume = float(asked.low + share * (asked.high - asked.low))
        for units in System:
            scene = Scene(empty("Tunis", units), {}, {"stores.volume_m3"})
            is_barrel = usual.kind == "barrel"
            sizes = (
                sources.barrel(scene, volume)
                if is_barrel
                else sources.tank(scene, volume, usual.height_m) | {"kind": usual.kind}
            )
            sources.store(scene, "Store", sunk_m=usual.sunk_m, **sizes)
            (store,) = scene.garden.stores
            assert store.volume_m3 == volume
            assert plan_installation(store).verdict.mark is Mark.WORKS
    for share in np.linspace(0.0, 1.0, 4):  # and the whole garden with it
        volume = float(asked.low + share * (asked.high - asked.low))
        for units in System:
            garden = ways.begin(empty("Tunis", units), way_kinds()[way], {asked.id: volume})
            assert volume in [store.volume_m3 for store in garden.stores]


def test_beds_lie_apart_and_the_house_beside_them():
    garden = begun("pairs")
    outlines = [shapes.of_bed(bed) for bed in garden.beds]
    assert not any(a.intersects(b) for i, a in enumerate(outlines) for b in outlines[:i])
    couplings = [f for f in garden.fittings if f.kind == "quick"]
    assert [f.is_visited for f in couplings] == [True]
    assert len(zones.zones_of(garden)) == 3


@pytest.mark.parametrize("key", swept(way_kinds(), ["barrel", "pairs", "towers"]))
def test_the_largest_garden_that_may_be_typed_holds_together(key):
    way = way_kinds()[key]
    most = {ask.id: ask.high for ask in way.asks if not ask.is_choice}
    most |= {ask.id: int(ask.high) for ask in way.asks if ask.kind == "count"}
    if "bed_length" in most:
        with pytest.raises(PlanError) as refused:
            ways.begin(empty(), way, most | {"beds": 8, "bed_width": 2.0, "bed_length": 15.0})
        assert refused.value.sentence.code == "begin-too-large"
        most |= {"bed_length": ways.MOST_GROUND / 2 / most.get("beds", most.get("terraces", 1))}
    garden = ways.begin(empty(), way, most)
    assert document.loads(document.dumps(garden)) == garden


def test_what_a_hand_leaves_lacking_is_not_laid_to_a_store_that_holds_water():
    """A valve opened once a fortnight for less than the ground takes: no larger store would bring a drop more."""
    garden = begun("cellar", "Denver", System.US)
    garden = edits.remove(garden, garden.timers[0].id)
    for bed in garden.beds:
        garden = edits.put(garden, "beds", bed.model_copy(update={"by_hand_d": 14}))
    judged = judge(run_chain(garden, place("Denver")[1]))
    (group,) = judged.chain.store.groups
    run, capacity = group.run, group.season.works.tanks[0].capacity
    assert run.level.min() > run.dead + 0.5 * (capacity - run.dead)
    assert run.volumetric_reliability < 0.95
    assert group.sums.carries == 1.0
    assert group.summary.mark is Mark.WORKS
    assert {f.code for f in judged.findings} & {
        "store-too-small",
        "store-too-little-comes",
    } == set()


def test_a_timer_that_goes_by_the_weather_keeps_its_promise_where_there_is_water():
    """Buried tanks that stay a fifth full: what its runs of a hot day leave lacking they bring on the next."""
    garden = begun("cellar", "Lisbon")
    chain = run_chain(garden, place("Lisbon")[1])
    (zone,), (group,) = chain.zones, chain.store.groups
    assert zone.time.timer.gives is Gives.LACKING
    assert group.run.level.min() > 0.15 * chain.season.works.tanks[0].capacity
    assert zone.time.promised < 0.05
    assert zone.time.verdict.summary.code == "time-too-dry-in-all"
    assert group.run.volumetric_reliability > 0.98


def test_what_is_missing_is_one_figure_and_what_runs_on_into_other_barrels_is_not_told_as_lost():
    garden = begun("terraces", "Tunis")
    judged = judge(run_chain(garden, place("Tunis")[1]))
    (short,) = (f for f in judged.findings if f.code == "store-too-small")
    upper, lower = garden.stores
    assert short.about == upper.id
    fed = shares.answer_balance(judged.chain.season).beds[0]
    assert short.cause.values["lacks"].value == approx(fed.unmet / 1000, rel=1e-6)
    (onward,) = (s for s in short.symptoms if s.code == "store-spills-on")
    assert onward.values["below"] == lower.name


@pytest.mark.parametrize("way", WAYS)
def test_no_hose_lies_across_a_store_that_it_does_not_come_from(way):
    garden = begun(way)
    stores = [(store.id, o) for store in garden.stores for o in kinds.outlines_of(store)]
    crossed = [
        (zone.name, store)
        for zone in zones.zones_of(garden)
        for pipe in zone.pipes
        for store, outline in stores
        if store != zone.source.id
        and LineString(map(attrgetter("x_m", "y_m"), pipe.path)).intersects(outline)
    ]
    assert crossed == []


def test_what_is_young_is_watered_for_dry_years_though_rain_carries_it_in_a_mean_one():
    garden = begun("barrel", "Dublin")
    (zone,) = run_chain(garden, place("Dublin")[1]).zones
    may = zone.time.months[4]
    assert zone.time.design.counts_on_rain(5)
    assert may.need is None  # it is told in words, for its figure would be none
    drunk = zone.time.design.drinks[4] * zone.time.design.area_m2
    assert may.setting.litres_a_day > 0.1 * drunk  # and not a minute's run of nothing
    given, asked = zone.time.while_new
    assert given.value == approx(asked.value, rel=0.1)


def test_one_larger_tank_comes_before_barrels_by_the_dozen():
    garden = begun("barrel", "Phoenix")
    judged = judge(run_chain(garden, place("Phoenix")[1]))
    (short,) = (f for f in judged.findings if f.code == "store-too-small")
    offered = [cure.change for cure in trying.cures_of(judged, short, most=2)]
    assert [change.code for change in offered] == ["cure-larger-tank", "cure-more-stores"]
    assert offered[1].values["count"] > cures.FEW_STORES


@pytest.mark.parametrize(("way", "town"), [("totes", "Portland"), ("barrel", "Phoenix")])
def test_a_larger_tank_holds_as_much_as_told_and_more_than_all_it_takes_the_place_of(way, town):
    garden = begun(way, town)
    judged = judge(run_chain(garden, place(town)[1]))
    (short,) = (f for f in judged.findings if f.code == "store-too-small")
    cure = next(
        cure
        for cure in trying.cures_of(judged, short, most=9)
        if cure.change.code == "cure-larger-tank"
    )
    (before,), (after,) = garden.stores, changes.done_to(garden, cure.edits).stores
    assert cure.change.values["litres"].value == approx(after.total_m3)
    assert after.total_m3 > before.total_m3


@pytest.mark.parametrize("way", ["drilled", "can"])
def test_months_of_a_season_over_the_new_year_stand_in_its_order(way):
    garden = begun(way, "Perth")
    chain = run_chain(garden, place("Perth")[1])
    needs = [answer_need(each.need, garden) for each in chain.planted]
    told = [*(zone.time for zone in chain.zones), *by_hand(chain.season), *needs]
    assert len(told) >= 2
    for answer in told:
        months = [each.month for each in answer.season_months]
        assert {12, 1} <= set(months)
        assert all(b == a % 12 + 1 for a, b in pairwise(months))
    if chain.zones:
        assert chain.zones[0].time.season_months[0].month == garden.beds[0].planting.month
