"""Gardens with one flaw each: it stands first, and a practitioner's cure is among the first two and works.

The flaws are those of common practice; which cure comes first too.
"""

import tomllib
from functools import cache, partial
from operator import itemgetter
from pathlib import Path

import pytest

from euhydra.core.weather import DailyWeather
from euhydra.garden import changes, normals, reference_climates
from euhydra.garden.quantities import System
from euhydra.garden.store_groups import group_below, groups_of
from euhydra.planner.answers import Gap, Mark, PlanError, Verdict
from euhydra.planner.catch import greywater, taps
from euhydra.planner.chain import begin_chain, run_chain
from euhydra.planner.judgement import trying
from euhydra.planner.judgement.answer import BEFORE_TIMERS, Judgement, judge
from euhydra.planner.judgement.finding import Severity, finding_kinds
from euhydra.planner.need import lifting
from euhydra.planner.need.daily import Need
from euhydra.planner.push.answer import PushAnswer
from euhydra.planner.season.by_hand import by_hand
from euhydra.planner.store import spill, standing, wet_ground
from euhydra.planner.store.installing import plan_installation
from euhydra.planner.store.storms import storm_figures
from sound_gardens import BASES, RECORD, SOUND, UNSOUND, YEARS_MADE, warmer
from sweeps import swept
from told import fails_alone

KNOWN = tomllib.loads(
    (Path(__file__).parents[1] / "data" / "known_answers.toml").read_text("utf-8")
)["garden"]
"""One row a garden."""

OF_EACH_CURE = list({row["cure"]: row for row in reversed(KNOWN)}.values())
"""The first row of each."""

by_row = partial(pytest.mark.parametrize, "row", scope="module")
"""All that is asked of a row follows each other, so that its garden is solved once."""

FIRST_CURES = 2
"""Among how many the cure has to be."""


ALWAYS_SAID = {"store-ground-bears"}
"""Marked as “works, but” for a caution that always holds."""


def flawed(row: dict) -> Judgement:
    """The garden of a row, judged."""
    return _flawed(KNOWN.index(row))


@cache
def _flawed(index: int) -> Judgement:
    row = KNOWN[index]
    garden = (BASES | UNSOUND)[row["base"]](System(row.get("units", "metric")))
    edits = [
        each | {"fields": {k: None if v == "" else v for k, v in each.get("fields", {}).items()}}
        for each in row["edits"]
    ]
    return judge(run_chain(changes.done_to(garden, changes.from_json(edits)), _weather(row)))


def _weather(row: dict) -> DailyWeather:
    """That of all gardens, unless its row names a climate, or how much warmer it is."""
    if "climate" in row:
        place = reference_climates.place_named(row["climate"])
        assert place is not None
        return normals.make_days(place.at_height(place.elevation_m), YEARS_MADE)
    return warmer(row["warmer"]) if "warmer" in row else RECORD


@by_row(KNOWN, ids=[row["name"] for row in KNOWN])
def test_the_flaw_stands_first(row):
    judged = flawed(row)
    first = judged.findings[0]
    assert row["finds"] in (first.code, "any")
    station = judged.stations[first.station]
    assert station.mark is not None
    assert station.mark is first.severity.mark or station.findings[0] is not first


@by_row(swept(KNOWN, OF_EACH_CURE, itemgetter("name")))
def test_its_cure_works(row):
    judged = flawed(row)
    first = judged.findings[0]
    offered = list(trying.cures_of(judged, first, most=FIRST_CURES))
    if row["cure"] == "none":
        assert not offered
        return
    assert offered
    assert row["cure"] == "any" or row["cure"] in [cure.change.code for cure in offered]
    # What is promised is what the garden with its edits shows, worked out again from the document.
    cure = offered[0]
    cured = changes.done_to(judged.chain.garden, cure.edits)
    again = judge(run_chain(cured, judged.chain.record))
    assert first.key not in again.keys
    shown = trying.figures_of(again.chain, first)
    assert {name: new.value for name, (_, new) in cure.promises.items()} == {
        name: amount.value for name, amount in shown.items()
    }


def sections(judged: Judgement) -> list[Verdict]:
    """Every verdict that a section of a page shows by itself, beside that of its station."""
    chain = judged.chain
    garden, groups = chain.garden, groups_of(chain.garden.stores)
    hour = [storm_figures(garden, group) for group in groups]
    lifts = [
        lifting.lifting_of(plant.need, garden)
        for plant in chain.planted
        if isinstance(plant.need, Need)
    ]
    led = {spout.leads_to for spout in garden.downspouts}
    return [
        *(standing.answer_standing(store).verdict for store in garden.stores),
        *(plan_installation(store).verdict for store in garden.stores if store.id in led),
        *(
            spill.answer_spill(group, storms[-1].amount.value, None).verdict
            for group, storms in zip(groups, hour, strict=True)
            if storms and group_below(group, groups, garden.downspouts) is None
        ),
        *(wet_ground.answer_wet(garden, ground).verdict for ground in garden.wet_grounds),
        *(lift.verdict for lift in lifts if lift),
        *(wetting.verdict for wetting in chain.lay.wettings),
        *(
            float_chain.verdict
            for zone in chain.zones
            if isinstance(zone.push, PushAnswer)
            for float_chain in zone.push.chains
        ),
        *(greywater.answer_washing(garden, system).verdict for system in garden.greywaters),
        *(taps.tap_verdict(tap) for tap in garden.taps),
        *(
            hand.verdict
            for hand in ([] if isinstance(chain.season, Gap) else by_hand(chain.season))
        ),
    ]


def said(verdict: Verdict) -> set[str]:
    """Codes of all that it says."""
    return {verdict.summary.code, *(reason.code for reason in verdict.reasons)}


@by_row(KNOWN, ids=[row["name"] for row in KNOWN])
def test_no_section_warns_of_what_no_finding_tells(row):
    judged = flawed(row)
    told = [*judged.findings, *judged.folded]
    codes = {f.code for f in told} | {s.code for f in told for s in f.symptoms}
    bad = [verdict for verdict in sections(judged) if verdict.mark is not Mark.WORKS]
    silent = [said(verdict) for verdict in bad if not said(verdict) & (codes | ALWAYS_SAID)]
    assert silent == []
    failing = {verdict.summary.code for verdict in bad if verdict.mark is Mark.FAILS}
    weights = {f.code: f.severity for f in reversed(told)}
    light = {code for code in failing if code in weights and weights[code].mark is not Mark.FAILS}
    assert light == set()


@by_row(KNOWN, ids=[row["name"] for row in KNOWN])
def test_no_page_says_that_it_does_not_work_where_its_station_does(row):
    assert fails_alone(flawed(row)) == set()


@by_row(KNOWN, ids=[row["name"] for row in KNOWN])
def test_need_push_and_lay_find_all_before_any_timer_is_set(row):
    chain = flawed(row).chain
    begun = begin_chain(chain.garden, chain.record)
    for station, collect in BEFORE_TIMERS.items():
        early = {f.key for f in collected(collect, begun.first_answers)}
        assert early == {f.key for f in collected(collect, chain)}, station


def collected(collect, chain):
    """What a station finds, as far as it can be worked out."""
    try:
        yield from collect(chain)
    except PlanError:
        return


@cache
def sound(name: str) -> Judgement:
    return judge(run_chain(SOUND[name](), RECORD))


@pytest.mark.parametrize("name", SOUND)
def test_a_sound_garden_raises_nothing_that_weighs(name):
    judged = sound(name)
    grave = [f.code for f in judged.findings if f.severity is not Severity.BETTER]
    assert grave == []
    marks = {each.mark.value for each in judged.stations.values() if each.mark and each.needed}
    assert marks == {"works"}
    assert fails_alone(judged) == set()


def test_every_finding_that_weighs_has_a_garden_has_a_garden():
    made_for = {row["finds"] for row in KNOWN}
    kinds = (
        finding_kinds().items()
    )  # what the log says is of no garden's: seasons are played for it
    grave = {c for c, k in kinds if k.severity is not Severity.BETTER and k.station != "keep"}
    assert grave <= made_for
    assert len(KNOWN) >= 60
    assert len(SOUND) >= 20
    assert {row.get("units", "metric") for row in KNOWN} == {"metric", "us"}


def test_every_cure_has_a_finding():
    assert set(trying.REMEDIES) <= set(finding_kinds())
