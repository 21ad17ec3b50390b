"""Keep: what the log teaches is taken over; the upkeep as a calendar; the season as a table."""

from datetime import UTC, datetime, time, timedelta

from fastapi import APIRouter, HTTPException, Request
from pydantic import ValidationError
from starlette.responses import RedirectResponse, Response

from euhydra.core.constants import LITRES_PER_CUBIC_METRE
from euhydra.formats import calendar, report_csv
from euhydra.formats.calendar import CalendarEvent
from euhydra.garden import quantities
from euhydra.garden.quantities import System
from euhydra.planner.answers import Gap
from euhydra.planner.dates import MONTH_NAMES
from euhydra.planner.keeping import lessons, report
from euhydra.records import gardens
from euhydra.web.desk import Db, Typed, open_desk
from euhydra.web.pages import care_answers, keep_answers, stations
from euhydra.web.pages.gardens import download
from euhydra.web.pages.stations import based_on

router = APIRouter()

TASK_AT, TASK_TAKES = time(9), timedelta(minutes=30)
"""When a task stands in the calendar, and how long."""


@router.post("/gardens/{garden_id}/lessons", name="learn")
def learn(request: Request, garden_id: int, db: Db, typed: Typed) -> Response:
    """Take over what the log teaches: a new revision, which undo takes back."""
    desk = open_desk(request, db, garden_id)
    told = keep_answers.told_of(request, desk)
    if isinstance(told, Gap):
        raise HTTPException(409, told.message)
    lesson = next((x for x in lessons.lessons(told) if x.key == typed.get("lesson")), None)
    if lesson is None:
        raise HTTPException(409, "The log no longer says this: look at the page again.")
    if lesson.is_beyond and typed.get("sure") != "yes":
        fault = (
            f"{lesson.title}: {_percent(lesson.then)} is beyond what is likely "
            f"({_percent(lesson.bounds[0])} to {_percent(lesson.bounds[1])}). "
            "Look for a leak, a clog or a wrong entry first. If you are sure, tick it and take it over again."
        )
        return stations.show(request, desk, "judge", "", {lesson.key: fault}, typed)
    try:
        changed = lessons.apply(desk.revision.garden, lesson)
    except ValidationError:
        fault = f"{lesson.title}: the plan takes no {_percent(lesson.then)} there. Look for a leak, a clog or a wrong entry first."
        return stations.show(request, desk, "judge", "", {lesson.key: fault}, typed)
    gardens.save(db, garden_id, based_on(typed), changed, f"{lesson.title}: learned from the log")
    return RedirectResponse(request.url_for("station", garden_id=garden_id, station="judge"), 303)


@router.get("/gardens/{garden_id}/upkeep.ics", name="upkeep_calendar")
def upkeep_calendar(request: Request, garden_id: int, db: Db) -> Response:
    """Everything that is due, for the owner's calendar."""
    desk = open_desk(request, db, garden_id)
    answer = care_answers.upkeep_of(request, desk)
    entries = [
        CalendarEvent(
            f"{task.key}-garden{garden_id}@euhydra", task.title, "",
            datetime.combine(max(task.due, answer.today), TASK_AT), TASK_TAKES,
        )
        for task in answer.tasks
    ]  # fmt: skip
    text = calendar.write(entries, datetime.now(UTC)).decode()
    return download(text, "upkeep.ics", "text/calendar")


@router.get("/gardens/{garden_id}/season.csv", name="season_csv")
def season_table(request: Request, garden_id: int, db: Db) -> Response:
    """The season's report as a table."""
    desk = open_desk(request, db, garden_id)
    told = keep_answers.told_of(request, desk)
    if isinstance(told, Gap):
        raise HTTPException(409, told.message)
    text = report_csv.write(_rows(report.report(told, told.today)))
    return download(text, "season.csv", "text/csv")


def _percent(share: float) -> str:
    return quantities.show(share, "share", System.METRIC)


def _rows(found: report.SeasonReport) -> list[report_csv.ReportRow]:
    rows = []
    for s in found.sources:
        values = (("reckoned_m3", s.reckoned), ("metered_m3", s.metered), ("money", s.money))
        rows += [
            report_csv.ReportRow("source", s.name, what, v) for what, v in values if v is not None
        ]
    for b in found.beds:
        values = (("watered_m3", b.watered), ("dry_days", b.dry_days), ("harvest_kg", b.harvest_kg))
        rows += [report_csv.ReportRow("bed", b.name, what, v) for what, v in values]
    for month, given, drunk in zip(MONTH_NAMES, found.given, found.drunk, strict=True):
        for what, litres in (("given_m3", given), ("drunk_m3", drunk)):
            rows.append(report_csv.ReportRow("month", month, what, litres / LITRES_PER_CUBIC_METRE))
    return rows
