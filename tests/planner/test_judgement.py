"""One judgement: causes before symptoms, marks by findings, cures that cure, what is assumed."""

from functools import cache
from itertools import islice

import pytest

from euhydra.garden import edits
from euhydra.garden.model import Garden
from euhydra.garden.part import Point
from euhydra.garden.sentences import say
from euhydra.planner.answers import Mark, Verdict
from euhydra.planner.beginning import ways
from euhydra.planner.beginning.asks import way_kinds
from euhydra.planner.chain import run_chain
from euhydra.planner.judgement import assumed, losses, supply, telling, trying
from euhydra.planner.judgement.answer import Judgement, judge
from euhydra.planner.judgement.finding import Finding, Severity, by_weight
from gardens import (
    abroad,
    four_on_a_tap,
    one_barrel,
    soggy,
    tapped,
    three_troughs,
    two_sources,
    with_part,
)
from sound_gardens import RECORD, barrel_bed, tap_bed
from sweeps import swept

GARDENS = {
    "abroad": abroad,
    "one barrel": one_barrel,
    "four on a tap": lambda: four_on_a_tap(60.0),
    "soggy": soggy,
    "tapped": tapped,
    "troughs": three_troughs,
    "two sources": two_sources,
    "diaphragm": lambda: with_part(one_barrel(), "timers", kind="dial-solenoid"),
    "far below": lambda: with_part(one_barrel(), "beds", ground_m=6.0),
}


@cache
def judged(name: str) -> Judgement:
    return judge(run_chain(GARDENS[name](), RECORD))


@pytest.mark.parametrize(
    "name", swept(GARDENS, ["one barrel", "abroad", "troughs", "two sources", "far below"])
)
def test_no_station_is_said_to_work_while_a_finding_of_it_weighs(name):
    for key, station in judged(name).stations.items():
        marks = [finding.severity.mark for finding in judged(name).at(key)]
        assert station.findings == by_weight(station.findings)
        if marks:
            assert station.mark is max([*marks, Mark.WORKS], key=list(Mark).index)
        assert station.mark is not Mark.WORKS or all(mark is Mark.WORKS for mark in marks)


SHORT = {"store-too-small", "store-too-little-comes"}
"""What shows now that plants are given water, however long they are dry for want of more."""


@pytest.mark.parametrize(
    "name",
    swept(
        ["one barrel", "tapped", "diaphragm", "far below", "two sources"],
        ["one barrel", "far below", "two sources"],
    ),
)
def test_every_cure_of_every_finding_does_what_it_promises(name):
    now = judged(name)
    for finding in now.findings:
        for trial in islice(trying.trials_of(now, finding), trying.MOST_OFFERED):
            after = trial.after
            assert finding.key not in after.keys
            new = {f.key: f for f in after.findings if f.key not in now.keys}
            is_greener = trying.driest(after.chain) < trying.driest(now.chain)
            for other in new.values():
                is_of_thirst = other.severity is Severity.PLANTS_SUFFER or other.code in SHORT
                assert (
                    other.severity.weight > finding.severity.weight
                    or other.severity is Severity.BETTER
                    or (is_of_thirst and is_greener)
                )


def test_what_a_store_without_water_brings_about_is_told_under_its_cause():
    garden = barrel_bed()
    spout = garden.downspouts[0].model_copy(update={"leads_to": None})
    now = judge(run_chain(edits.put(garden, "downspouts", spout), RECORD))
    first = now.findings[0]
    assert first.code == "catch-downspout-leads-nowhere"
    assert first in now.at("store")
    assert now.stations["store"].mark is Mark.FAILS
    assert not [f for f in now.findings if f.code.startswith("store-too")]


def test_the_piece_that_takes_the_head_is_named_with_what_it_takes():
    garden = barrel_bed()
    hose = next(pipe for pipe in garden.pipes if pipe.id == "bed-hose")
    garden = edits.put(garden, "pipes", hose.model_copy(update={"bore_m": 0.003}))
    now = judge(run_chain(garden, RECORD))
    first = now.findings[0]
    assert first.parts[0] == "bed-hose"
    state = now.chain.zones[0].push.usual.state
    taken = losses.losses_to(state, state.weakest.node)
    # What the parts take, and what is left on the outlet, come to the head there is.
    left = float(state.outlet_head.min())
    assert sum(loss.head for loss in taken) + left == pytest.approx(taken[0].of, abs=1e-6)
    assert first.cause.values["takes"].value == pytest.approx(taken[0].head)


def test_a_regulator_takes_head_on_purpose():
    state = judge(run_chain(tap_bed(), RECORD)).chain.zones[0].push.usual.state
    taken = losses.losses_to(state, state.weakest.node)
    assert "bed-regulator" not in {loss.part.id for loss in taken}
    assert all(loss.share < losses.TAKES_MOST for loss in taken)


def test_a_garden_on_a_tap_needs_neither_roof_nor_store():
    stations = judge(run_chain(tap_bed(), RECORD)).stations
    unused = [key for key, station in stations.items() if not station.needed]
    assert unused == ["catch", "store"]
    for key in unused:
        assert stations[key].mark is None
        assert stations[key].summary.code == "station-not-needed"
        assert "“Tap”" in str(stations[key].summary)
    assert not supply.drinks_from_stores(tap_bed())
    assert supply.drinks_from_stores(barrel_bed())


def test_a_page_tells_the_worst_first_then_its_facts_and_what_could_be_better_last():
    worse = Finding.of(
        say("store-too-heavy", "Heavy."), "tank", symptoms=(say("a-symptom", "It sinks."),)
    )
    better = Finding.of(say("store-stands-but-keep", "Keep some."), "tank")
    sound = Verdict(
        Mark.WORKS, say("store-met", "It gives all."), (say("store-open-water", "It dries."),)
    )
    told = telling.verdict_of((worse, better), sound)
    assert told.mark is Mark.FAILS
    codes = [told.summary.code, *(reason.code for reason in told.reasons)]
    assert codes == ["store-too-heavy", "a-symptom", "store-open-water", "store-stands-but-keep"]
    alone = telling.verdict_of((better,), sound)
    assert alone.mark is Mark.WORKS
    assert alone.summary.code == "store-met"


def test_what_is_assumed_is_weighed_by_what_its_range_changes():
    garden = barrel_bed()
    bed = garden.beds[0].model_copy(update={"ground_m": 0.85})
    typed = assumed.assumed_in(edits.put(garden, "beds", bed))
    assert ("bed", "ground_m") not in {(each.parts[0].id, each.usual.field) for each in typed}
    now = judge(run_chain(garden, RECORD))
    found = assumed.weighed(now)
    assert [each.matters for each in found] == sorted(
        (each.matters for each in found), reverse=True
    )
    by_field = {(each.parts[0].id, each.usual.field): each.matters for each in found}
    assert by_field["roof", "gutter_width_m"] >= 0
    assert ("bed", "ground_m") in by_field


def test_a_store_that_runs_off_a_slope_is_blamed_on_the_slope():
    garden = barrel_bed()
    bed = garden.beds[0].model_copy(update={"slope": 0.2, "soil": "clay"})
    now = judge(run_chain(edits.put(garden, "beds", bed), RECORD))
    first = now.findings[0]
    assert first.code == "time-water-stand-run"
    assert first in now.at("store")
    assert "store-too-small" in {symptom.code for symptom in first.symptoms}
    assert "store-too-small" in {finding.code for finding in now.folded}


def test_a_bed_beside_its_lines_is_judged_all_the_same():
    """As after it was drawn elsewhere: its lines wet none of it."""
    garden = barrel_bed()
    at = Point(x_m=garden.beds[0].at.x_m + 20, y_m=garden.beds[0].at.y_m)
    away = garden.beds[0].model_copy(update={"at": at, "slope": 0.05})
    now = judge(run_chain(edits.put(garden, "beds", away), RECORD))
    assert "lay-lines-end-short" in {finding.code for finding in now.findings}
    assert now.chain.planted[0].need.wetted > 0


def test_what_cans_are_filled_from_is_built_and_without_it_there_is_nothing_to_build():
    ground = Garden(name="Cans", place=barrel_bed().place)
    begun = {way: ways.begin(ground, way_kinds()[way], {}, RECORD) for way in ("can", "barrel")}
    barrel = begun["barrel"]
    beds = tuple(b.model_copy(update={"hand_from": barrel.stores[0].id}) for b in barrel.beds)
    by_can = edits.replace(barrel, pipes=(), timers=(), fittings=(), beds=beds)
    for garden, needed in ((begun["can"], False), (by_can, True), (barrel, True)):
        assert judge(run_chain(garden, RECORD)).stations["build"].needed is needed
