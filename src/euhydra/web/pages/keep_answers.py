"""What the pages of Keep show."""

from dataclasses import dataclass
from datetime import date, datetime, time

from fastapi import Request

from euhydra.garden import logbook
from euhydra.garden.logbook import LogEntry
from euhydra.planner.answers import Gap, Mark, Sentence, Verdict
from euhydra.planner.keeping import advice, drift, hindcast, report
from euhydra.planner.keeping.advice import Advice, BedReading
from euhydra.planner.keeping.drift import Drift
from euhydra.planner.keeping.hindcast import Hindcast
from euhydra.planner.keeping.lessons import Lesson, lessons
from euhydra.records import log
from euhydra.records.log import Search
from euhydra.web import log_words
from euhydra.web.desk import Desk
from euhydra.web.drawing import charts, record_strip
from euhydra.web.log_words import EntryShown
from euhydra.web.pages.shown import Shown

A_PAGE = 30
"""Entries on a page."""


@dataclass(frozen=True)
class LogAnswer:
    """What the log says at a glance."""

    verdict: Verdict


def show_log(request: Request, desk: Desk, at: str) -> Shown:
    """The forms, and the newest entries, or those that are looked for."""
    garden, asked = desk.revision.garden, request.query_params
    names = {part.id: part.name for part in garden.parts}
    text = asked.get("text", "").strip()
    wanted = Search(
        asked.get("kind", ""), asked.get("part", ""), text,
        tuple(key for key, name in names.items() if text and text.lower() in name.lower()),
    )  # fmt: skip
    typed_page = asked.get("page", "1")
    page = int(typed_page[:6]) if typed_page.isdecimal() else 1
    with desk.reading(request) as conn:
        found = log.find(
            conn, desk.revision.garden_id, wanted, A_PAGE + 1, (max(page, 1) - 1) * A_PAGE
        )
        latest = [
            kept
            for kind in LATEST
            for kept in log.find(conn, desk.revision.garden_id, Search(kind), 1)
        ]
    rows = [log_words.shown(kept, garden, names) for kept in found[:A_PAGE]]
    said = [log_words.shown(kept, garden, names) for kept in latest]
    return Shown(LogAnswer(_verdict(desk, said)), None, {
        "entries": rows, "has_more": len(found) > A_PAGE, "page_number": max(page, 1),
        "search": wanted, "kinds": log_words.kinds_shown(garden), "groups": GROUPS,
        "all_kinds": logbook.entry_kinds(), "parts": garden.parts,
    })  # fmt: skip


GROUPS = {"measured": "I measured", "seen": "I saw", "done": "I did"}


LATEST = ("rain", "dip", "finger")
"""Kinds whose latest entry stands at the top."""


def _verdict(desk: Desk, latest: list[EntryShown]) -> Verdict:
    if not desk.entries:
        return Verdict(
            Mark.BUT,
            Sentence(
                "Nothing is in the log yet. Ten seconds a day are enough: rain, a dip, a finger in the soil."
            ),
        )
    count = desk.entries
    said = [
        f"{e.kind}{' of ' + e.about if e.about else ''}, {e.day}: {e.said}"
        for e in latest
        if e.said
    ]
    summary = Sentence(f"{count} {'entries' if count > 1 else 'entry'} so far.")
    return Verdict(Mark.WORKS, summary, (Sentence(f"Latest: {'; '.join(said)}."),) if said else ())


def told_of(request: Request, desk: Desk) -> Hindcast | Gap:
    """The logged year run through the plan, worked out once for this garden and this log."""

    def compute() -> Hindcast | Gap:
        day = _as_of(request, desk)
        return hindcast.hindcast(desk.chain, log_of(request, desk, day), day)

    return desk.kept_with_log(request, "hindcast", compute)


def _as_of(request: Request, desk: Desk) -> date:
    """Today; while nothing is logged this year, the last day of the log, so that last year is told."""
    today = date.today()
    first = hindcast.year_begins(today, desk.revision.garden.place.latitude_deg)
    with desk.reading(request) as conn:
        newest = log.find(conn, desk.revision.garden_id, Search(), 1)
    if newest and newest[0].entry.at.date() < first:
        return newest[0].entry.at.date()
    return today


def log_of(request: Request, desk: Desk, day: date) -> list[LogEntry]:
    """Everything in the log of the growing year that a day lies in, oldest first."""
    first = hindcast.year_begins(day, desk.revision.garden.place.latitude_deg)
    with desk.reading(request) as conn:
        return log.in_order(conn, desk.revision.garden_id, datetime.combine(first, time()))


@dataclass(frozen=True)
class JudgeAnswer:
    """Everything that the log says of the plan."""

    readings: list[BedReading]
    lessons: list[Lesson]
    drifts: list[Drift]
    verdict: Verdict


def show_judge(request: Request, desk: Desk, at: str) -> Shown:
    """What the log says: per bed what to do, what it teaches, what drifts."""
    told = told_of(request, desk)
    if isinstance(told, Gap):
        return Shown(None, told)
    if not told.log:
        return Shown(
            None,
            Gap(
                "The log of this year is empty: a finger in the soil and a dip of the store begin it."
            ),
        )
    answer = desk.kept_with_log(request, "judged", lambda: judged(told, date.today()))
    return Shown(answer, None, {
        "strip": record_strip.draw(told), "advice_names": advice.ADVICE_NAMES,
    })  # fmt: skip


def judged(told: Hindcast, today: date) -> JudgeAnswer:
    """The verdict first: what a finger asks for, else what drifts, else that all agrees."""
    found = advice.readings(told, today)
    taught, drifts = lessons(told), drift.drifts(told)
    return JudgeAnswer(found, taught, drifts, _said_first(found, taught, drifts))


def _said_first(found: list[BedReading], taught: list[Lesson], drifts: list[Drift]) -> Verdict:
    acts = [r for r in found if r.advice is not Advice.LEAVE]
    learned = [t.said for t in taught if t.estimate.differs]
    if acts:
        first = acts[0]
        return Verdict(
            Mark.BUT,
            first.summary,
            (first.reasons[0], *first.reasons[1:][-1:]),  # why, and what to set
        )
    if drifts:
        first_drift, *others = drifts
        reasons = (first_drift.summary, *(d.said for d in others[:1]))
        return Verdict(Mark.BUT, Sentence(f"{first_drift.title}."), reasons)
    if found:
        return Verdict(
            Mark.WORKS, Sentence("What was felt and seen agrees with the plan."), tuple(learned[:1])
        )
    return Verdict(
        Mark.BUT,
        Sentence("No finger test of the last two weeks is in the log: feel the soil of a bed, a finger deep."),
        tuple(learned[:1]),
    )  # fmt: skip


def show_report(request: Request, desk: Desk, at: str) -> Shown:
    """The season told."""
    told = told_of(request, desk)
    if isinstance(told, Gap):
        return Shown(None, told)
    season = desk.kept_with_log(request, "report", lambda: report.report(told, told.today))
    return Shown(season, None, {"chart": charts.season_chart(season, desk.revision.garden.units)})
