"""The morning's acts and what is due under an address that a phone's calendar subscribes to."""

from collections.abc import Iterator
from datetime import UTC, datetime

from fastapi import APIRouter, HTTPException, Request
from starlette.responses import RedirectResponse, Response

from euhydra.formats import calendar
from euhydra.formats.calendar import CalendarEvent
from euhydra.planner.answers import Gap
from euhydra.planner.today.answer import TodayAnswer
from euhydra.planner.today.choosing import Do
from euhydra.records import feeds
from euhydra.web.desk import Db, Desk, RowId, open_desk
from euhydra.web.pages.today import today_of
from euhydra.web.pages.upkeep import upkeep_events, upkeep_of

router = APIRouter()

NOTHING_TO_DO = (Do.AS_SET, Do.LEAVE)


@router.get("/feed/{token}.ics", name="feed")
def feed(request: Request, token: str, db: Db) -> Response:
    """The calendar of the garden that an address is of."""
    garden_id = feeds.garden_of(request.app.state.data, token)
    if garden_id is None:
        raise HTTPException(404, "No calendar is here any more: its address was renewed.")
    desk = open_desk(request, db, garden_id)
    events = [*_mornings(request, desk), *upkeep_events(upkeep_of(request, desk), desk)]
    return Response(calendar.write(events, datetime.now(UTC)), media_type="text/calendar")


@router.post("/gardens/{garden_id}/feed/renewed", name="renew_feed")
def renew(request: Request, garden_id: RowId) -> Response:
    """Give the calendar another address."""
    feeds.renew(request.app.state.data, garden_id)
    url = request.url_for("station", garden_id=garden_id, station="today")
    return RedirectResponse(f"{url}#calendar", 303)


def _mornings(request: Request, desk: Desk) -> Iterator[CalendarEvent]:
    found = today_of(request, desk, {})
    if isinstance(found, Gap):
        return
    yield from _acts(found, desk)


def _acts(found: TodayAnswer, desk: Desk) -> Iterator[CalendarEvent]:
    units, garden_id = desk.revision.garden.units, desk.revision.garden_id
    for act in found.acts:
        if act.do not in NOTHING_TO_DO:
            yield CalendarEvent(
                f"today-{act.about}-{found.day}-garden{garden_id}@euhydra",
                act.said.told(units),
                act.reason.told(units),
                found.day,
            )
