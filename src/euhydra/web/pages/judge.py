"""Keep: what the log says of the plan, and what is taken over from it."""

from dataclasses import dataclass
from datetime import date, datetime, time, timedelta

from fastapi import APIRouter, HTTPException, Request
from pydantic import ValidationError
from starlette.responses import Response

from euhydra.garden import quantities
from euhydra.garden.logbook import LogEntry
from euhydra.garden.quantities import System
from euhydra.garden.sentences import say
from euhydra.planner.answers import Gap, Mark, Verdict
from euhydra.planner.keeping import advice, drift, hindcast, lessons
from euhydra.planner.keeping.advice import Advice, BedReading
from euhydra.planner.keeping.drift import Drift
from euhydra.planner.keeping.hindcast import Hindcast
from euhydra.planner.keeping.lessons import Lesson
from euhydra.records import gardens, log
from euhydra.records.log import Search
from euhydra.web.desk import Db, Desk, RowId, Typed, open_desk
from euhydra.web.drawing import record_strip
from euhydra.web.pages.station import Shown, StationPage, back_to, based_on, show_page

router = APIRouter()


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
        found = log.in_order(conn, desk.revision.garden_id, datetime.combine(first, time()))
    # A clock that was set back makes entries of days to come: they are judged when they have come.
    return [entry for entry in found if entry.at.date() <= day + timedelta(days=1)]


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
                say(
                    "judge-log-empty",
                    "The log of this year is empty: a finger in the soil and a dip of the store begin it.",
                )
            ),
        )
    answer = desk.kept_with_log(request, "judged", lambda: judged(told, date.today()))
    return Shown(
        answer,
        None,
        {
            "strip": record_strip.draw(told),
            "advice_names": advice.ADVICE_NAMES,
        },
    )


def judged(told: Hindcast, today: date) -> JudgeAnswer:
    """The verdict first: what a finger asks for, else what drifts, else that all agrees."""
    found = advice.readings(told, today)
    taught, drifts = lessons.lessons(told), drift.drifts(told)
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
        return Verdict(Mark.BUT, say("judge-drift", "{title}.", title=first_drift.title), reasons)
    if found:
        return Verdict(
            Mark.WORKS,
            say("judge-all-agrees", "What was felt and seen agrees with the plan."),
            tuple(learned[:1]),
        )
    return Verdict(
        Mark.BUT,
        say(
            "judge-no-finger-test",
            "No finger test of the last two weeks is in the log: feel the soil of a bed, a finger "
            "deep.",
        ),
        tuple(learned[:1]),
    )


@router.post("/gardens/{garden_id}/lessons", name="learn")
def learn(request: Request, garden_id: RowId, db: Db, typed: Typed) -> Response:
    """Take over what the log teaches: a new revision, which undo takes back."""
    desk = open_desk(request, db, garden_id)
    told = told_of(request, desk)
    if isinstance(told, Gap):
        raise HTTPException(409, str(told.sentence))
    lesson = next((x for x in lessons.lessons(told) if x.key == typed.get("lesson")), None)
    if lesson is None:
        raise HTTPException(409, "The log no longer says this: look at the page again.")
    if lesson.is_beyond and typed.get("sure") != "yes":
        fault = (
            f"{lesson.title}: {_percent(lesson.then)} is beyond what is likely "
            f"({_percent(lesson.bounds[0])} to {_percent(lesson.bounds[1])}). "
            "Look for a leak, a clog or a wrong entry first. If you are sure, tick it and take it over again."
        )
        return show_page(request, desk, PAGE, status=422, faults={lesson.key: fault}, typed=typed)
    try:
        changed = lessons.apply(desk.revision.garden, lesson)
    except ValidationError:
        fault = f"{lesson.title}: the plan takes no {_percent(lesson.then)} there. Look for a leak, a clog or a wrong entry first."
        return show_page(request, desk, PAGE, status=422, faults={lesson.key: fault}, typed=typed)
    gardens.save(db, garden_id, based_on(typed), changed, f"{lesson.title}: learned from the log")
    return back_to(request, garden_id, PAGE.key)


def _percent(share: float) -> str:
    return quantities.show(share, "share", System.METRIC)


PAGE = StationPage(
    key="judge",
    station="keep",
    tab="What it says",
    question="Is it too dry, too wet, or right?",
    show=show_judge,
)
