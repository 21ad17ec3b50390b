"""Keep: what is due, the lists of winter and spring, and the calendar of both."""

from datetime import UTC, date, datetime

from fastapi import APIRouter, Request
from starlette.responses import Response

from euhydra.formats import calendar
from euhydra.formats.calendar import CalendarEvent
from euhydra.garden.sentences import say
from euhydra.planner.answers import Gap
from euhydra.planner.keeping import upkeep
from euhydra.planner.keeping.upkeep import Upkeep
from euhydra.records import log
from euhydra.web.desk import Db, Desk, RowId, open_desk
from euhydra.web.pages.gardens import download
from euhydra.web.pages.station import Shown, StationPage

router = APIRouter()


def show_upkeep(request: Request, desk: Desk, at: str) -> Shown:
    """What is due, and the lists of winter and spring."""
    if not desk.revision.garden.parts:
        return Shown(
            None,
            Gap(
                say(
                    "upkeep-nothing-yet",
                    "There is nothing to keep up yet: draw a store or a line on Lay.",
                )
            ),
        )
    return Shown(upkeep_of(request, desk), None, {"today": date.today()})


def upkeep_of(request: Request, desk: Desk) -> Upkeep:
    """With the whole log, since some things are done once in years."""
    with desk.reading(request) as conn:
        kinds = ("flush", "upkeep", "battery", "setting", "finger", "planting", "leaf")
        done = log.in_order(conn, desk.revision.garden_id, None, *kinds)
    return upkeep.answer_upkeep(desk.chain, done, date.today())


def upkeep_events(answer: Upkeep, desk: Desk) -> list[CalendarEvent]:
    """Everything that is due, each on its day."""
    units = desk.revision.garden.units
    return [
        CalendarEvent(
            f"{task.key}-garden{desk.revision.garden_id}@euhydra",
            task.title,
            task.why.told(units),
            max(task.due, answer.today),
        )
        for task in answer.tasks
    ]


@router.get("/gardens/{garden_id}/upkeep.ics", name="upkeep_calendar")
def upkeep_calendar(request: Request, garden_id: RowId, db: Db) -> Response:
    """Everything that is due, for the owner's calendar."""
    desk = open_desk(request, db, garden_id)
    entries = upkeep_events(upkeep_of(request, desk), desk)
    text = calendar.write(entries, datetime.now(UTC)).decode()
    return download(text, "upkeep.ics", "text/calendar")


PAGE = StationPage(
    key="upkeep",
    station="keep",
    tab="Upkeep",
    question="What wants doing, and what when the frost comes?",
    show=show_upkeep,
)
