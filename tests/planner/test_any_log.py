"""Whatever is in the log, Keep answers in words, within bounds, and alike however it came in."""

from datetime import date, datetime, timedelta

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from euhydra.garden import demo, normals
from euhydra.garden.logbook import EntryKind, LogEntry, entry_kinds
from euhydra.planner import chain
from euhydra.planner.answers import Gap
from euhydra.planner.keeping import advice, diagnosis, hindcast, upkeep
from euhydra.planner.keeping.symptoms import SYMPTOMS
from euhydra.planner.keeping.uneven import uneven_lines
from euhydra.planner.learning import answer as learning
from euhydra.planner.learning import taking_over
from euhydra.planner.learning.report import report
from told import faults_in

TODAY = date(2026, 8, 14)
GARDEN = demo.garden()
GONE = "gone-bed"
YEAR_MINUTES = 400 * 24 * 60
"""Entries reach back further than the season that is told. [min]"""


@pytest.fixture(scope="module")
def planned():
    return chain.run_chain(GARDEN, normals.make_days(demo.normals(), 3))


def _amounts(draw: st.DrawFn, kind: EntryKind) -> tuple[float | None, ...]:
    found: list[float | None] = []
    for amount in kind.amounts:
        values = st.floats(amount.least, amount.most) | st.sampled_from([amount.least, amount.most])
        if amount.many:
            found += draw(st.lists(values, min_size=2, max_size=9))
        else:
            found.append(draw(st.none() | values if amount.optional else values))
    return tuple(found)


@st.composite
def entries(draw: st.DrawFn) -> LogEntry:
    """One that the log would take: of any kind, about any part, or one that is gone."""
    kind = draw(st.sampled_from(list(entry_kinds().values())))
    parts = [part.id for part in kind.parts(GARDEN)]
    return LogEntry(
        kind.id,
        datetime(2026, 8, 14, 20) - timedelta(minutes=draw(st.integers(0, YEAR_MINUTES))),
        draw(st.sampled_from([*parts, GONE])) if parts else None,
        _amounts(draw, kind),
        draw(st.sampled_from(list(kind.words))) if kind.words else "",
        draw(st.sampled_from(["", "as ever", "{litres} & <b>"])),
    )


LOGS = st.lists(entries(), max_size=40)
THOROUGH = settings(max_examples=25, suppress_health_check=list(HealthCheck))


def in_order(log: list[LogEntry]) -> list[LogEntry]:
    return sorted(log, key=lambda entry: entry.at)


@THOROUGH
@given(log=LOGS)
def test_every_answer_can_be_said(planned, log):
    log = in_order(log)
    told = hindcast.hindcast(planned, log, TODAY)
    assert not isinstance(told, Gap)
    learned = learning.learned(told)
    answers = [
        advice.readings(learned.told, TODAY),
        learned.claims,
        list(uneven_lines(told)),
        report(learned),
        upkeep.answer_upkeep(planned, log, TODAY),
    ]
    assert faults_in(answers) == []


@THOROUGH
@given(log=LOGS)
def test_water_in_the_root_zones_is_neither_made_nor_lost(planned, log):
    told = hindcast.hindcast(planned, in_order(log), TODAY)
    for track in told.tracks:
        assert np.all(track.watered >= 0)
        assert np.isfinite(track.watered).all()
        filled = track.filled[~np.isnan(track.filled)]
        assert np.all(filled >= -1e-9)
    learned = learning.learned(told)
    season = report(learned)
    rain = season.rain.gauge + season.rain.before
    assert rain * 1000 == pytest.approx(float(told.record.precip.sum()))
    beds = sum(float(track.watered.sum()) for track in learned.told.tracks)
    assert sum(season.given) == pytest.approx(beds)
    assert sum(row.watered for row in season.beds) * 1000 == pytest.approx(beds)


@THOROUGH
@given(log=LOGS)
def test_what_is_learned_stays_within_its_bounds_and_fits_the_garden(planned, log):
    told = hindcast.hindcast(planned, in_order(log), TODAY)
    for claim in learning.learned(told).claims:
        assert claim.low <= claim.value <= claim.high
        assert claim.chance >= 0.95
        if taking_over.can_be_taken_over(claim) and not taking_over.is_beyond(GARDEN, claim):
            changed = taking_over.taken_over(GARDEN, claim)
            assert [p.id for p in changed.parts] == [p.id for p in GARDEN.parts]


@THOROUGH
@given(log=LOGS)
def test_tasks_come_in_order_each_once_and_none_is_due_before_it_was_done(planned, log):
    answer = upkeep.answer_upkeep(planned, in_order(log), TODAY)
    keys = [task.key for task in answer.tasks]
    assert len(set(keys)) == len(keys)
    assert [t.due for t in answer.tasks] == sorted(t.due for t in answer.tasks)
    for task in answer.tasks:
        assert task.last is None or task.last <= task.due
        assert task.kind in entry_kinds()


@THOROUGH
@given(log=LOGS)
def test_what_was_logged_before_the_season_changes_nothing_of_its_rain_and_cans(planned, log):
    """Rain and cans of another year are not of this one; settings and dips may reach over."""
    told = hindcast.hindcast(planned, in_order(log), TODAY)
    begins = told.record.days[0].astype(object)
    kept = [e for e in log if e.kind not in ("rain", "watered") or e.at.date() >= begins]
    same = hindcast.hindcast(planned, in_order(kept), TODAY)
    for track, again in zip(told.tracks, same.tracks, strict=True):
        assert np.array_equal(track.watered, again.watered)
    assert np.array_equal(told.record.precip, same.record.precip)


@settings(max_examples=15, suppress_health_check=list(HealthCheck))
@given(log=LOGS, symptom=st.sampled_from(list(SYMPTOMS)))
def test_a_fault_is_told_for_every_zone(planned, log, symptom):
    for zone in planned.zones:
        found = diagnosis.diagnose(zone.zone, symptom, in_order(log))
        assert faults_in(found) == []


def test_a_can_of_last_winter_waters_nothing_this_year(planned):
    before = LogEntry("watered", datetime(2025, 12, 31, 23, 59), "top-bed", (5.8,))
    today = LogEntry("watered", datetime(2026, 1, 1, 0, 0), "top-bed", (0.01,))
    alone = hindcast.hindcast(planned, [], TODAY)
    both = hindcast.hindcast(planned, [before, today], TODAY)
    i = next(i for i, t in enumerate(both.tracks) if t.way.need.part.id == "top-bed")
    more = both.tracks[i].watered - alone.tracks[i].watered
    assert more[0] == pytest.approx(10.0)
    assert more[1:].sum() == pytest.approx(0.0)
