"""The order of what the log says: plants that suffer first, a cause before what follows from it."""

from dataclasses import replace
from datetime import date, datetime, timedelta

import pytest

from euhydra.garden import demo, normals
from euhydra.garden.logbook import LogEntry
from euhydra.planner import chain
from euhydra.planner.answers import Mark
from euhydra.planner.judgement.answer import judge
from euhydra.planner.judgement.keep_findings import with_log
from euhydra.planner.keeping import hindcast
from euhydra.planner.learning.answer import learned
from euhydra.planner.learning.claim import Claim, ClaimKind
from euhydra.planner.learning.said import said_of

TODAY = date(2026, 7, 20)


def ago(days, hour=9):
    return datetime(TODAY.year, TODAY.month, TODAY.day, hour) - timedelta(days=days)


def finger(word):
    return LogEntry("finger", ago(0), "top-bed", (), word)


DRY = [
    LogEntry("rain", ago(40, 12), None, (0.0,)),
    LogEntry("setting", ago(30), "top-timer", (60.0, 86400.0)),
    finger("dry"),
]


@pytest.fixture(scope="module")
def planned():
    return chain.run_chain(demo.garden(), normals.make_days(demo.normals(), 4))


def read(planned, *entries):
    known = hindcast.hindcast(planned, sorted(entries, key=lambda e: e.at), TODAY)
    return learned(known)


def claimed(planned, kind: ClaimKind, part_id: str):
    claim = Claim(kind, part_id, part_id, 0.5, 0.4, 0.6, TODAY - timedelta(20), None, 0.99)
    return replace(read(planned, *DRY), claims=(claim,))


def test_the_verdict_says_why_and_what_to_set(planned):
    verdict = said_of(read(planned, *DRY), TODAY).verdict
    assert verdict.mark is Mark.BUT
    assert verdict.summary.values["said"].code == "keeping-dry-give-now"
    why, what = verdict.reasons
    assert why.code == "keeping-sums-was-within"
    assert what.code == "keeping-set-as-planned-now"


def test_the_verdict_is_calm_where_all_agrees_and_asks_where_nobody_felt(planned):
    assert said_of(read(planned, finger("right")), TODAY).verdict.mark is Mark.WORKS
    silent = said_of(read(planned, LogEntry("battery", ago(3), "top-timer")), TODAY).verdict
    assert silent.summary.code == "judge-no-finger-test"


def test_nobody_is_asked_to_feel_the_soil_where_nothing_grows(planned):
    winter = date(TODAY.year, 12, 30)
    log = [LogEntry("battery", datetime(TODAY.year, 12, 27, 9), "top-timer")]
    verdict = said_of(learned(hindcast.hindcast(planned, log, winter)), winter).verdict
    assert (verdict.mark, verdict.summary.code) == (Mark.WORKS, "judge-nothing-grows")


@pytest.mark.parametrize("part_id", ["top-line-1", "top-timer", "corner-tank"])
def test_what_keeps_water_from_a_dry_bed_comes_before_it(planned, part_id):
    verdict = said_of(claimed(planned, ClaimKind.CLOG, part_id), TODAY).verdict
    assert verdict.summary.code == "learned-clog"
    assert verdict.reasons[0].code == "keeping-sign-says"


@pytest.mark.parametrize("part_id", ["shed-barrel", "garden-tap"])
def test_a_dry_bed_comes_before_a_fault_elsewhere(planned, part_id):
    verdict = said_of(claimed(planned, ClaimKind.LEAK, part_id), TODAY).verdict
    assert verdict.summary.code == "keeping-sign-says"
    assert [r.code for r in verdict.reasons] == ["learned-leak"]


def test_the_stream_is_marked_as_the_page_is(planned):
    of_plan = judge(planned)
    for word, rain in (("muddy", 0.03), ("dry", 0.0), ("right", 0.0)):
        night = LogEntry("rain", ago(0, 8), None, (rain,))
        log = sorted([*DRY[:2], night, finger(word)], key=lambda e: e.at)
        page = said_of(read(planned, *log), TODAY).verdict
        assert with_log(of_plan, log, TODAY).stations["keep"].mark is page.mark


def test_a_fault_comes_before_soil_that_is_too_wet(planned):
    wet = [LogEntry("setting", ago(30), "top-timer", (7200.0, 86400.0)), DRY[0], finger("muddy")]
    leak = Claim(ClaimKind.LEAK, "garden-tap", "Tap", 30, 20, 40, ago(9).date(), None, 0.99)
    known = replace(read(planned, *wet), claims=(leak,))
    assert said_of(known, TODAY).verdict.summary.code == "learned-leak"


def test_keep_stands_as_the_log_says(planned):
    of_plan = judge(planned)
    assert of_plan.stations["keep"].mark is Mark.WORKS
    assert with_log(of_plan, [], TODAY) == of_plan
    told = with_log(of_plan, sorted(DRY, key=lambda e: e.at), TODAY)
    keep = told.stations["keep"]
    assert (keep.mark, keep.summary.code) == (Mark.BUT, "keeping-sign-says")
    assert [f.parts for f in keep.findings] == [("top-bed",)]
    others = [key for key in told.stations if key != "keep"]
    assert [told.stations[k] for k in others] == [of_plan.stations[k] for k in others]
