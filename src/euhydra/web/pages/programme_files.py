"""The programme taken elsewhere: as a table and as a calendar."""

from datetime import UTC, date, datetime, time, timedelta
from typing import Annotated

from fastapi import APIRouter, HTTPException, Query, Request
from starlette.responses import Response

from euhydra.core.constants import LITRES_PER_CUBIC_METRE
from euhydra.formats import calendar, programme_csv
from euhydra.formats.calendar import CalendarEvent
from euhydra.formats.programme_csv import ProgrammeRow
from euhydra.garden import quantities
from euhydra.garden.quantities import System
from euhydra.garden.sentences import Amount
from euhydra.planner.dates import WEEKDAYS, hour_in_words, how_often
from euhydra.planner.time.answer import TimeAnswer
from euhydra.planner.time.orders import NEW_PLANTS, MonthOrder, month_orders
from euhydra.web.desk import Db, Desk, RowId, open_desk
from euhydra.web.pages.gardens import download
from euhydra.web.pages.time import timed

router = APIRouter()

LAST_YEAR = 9000
"""Latest year that a calendar is written for."""

SETTING_TAKES = timedelta(minutes=15)
"""How long it takes to set a timer anew."""


@router.get("/gardens/{garden_id}/programme.csv", name="programme_csv")
def programme_table(request: Request, garden_id: RowId, db: Db, zone: str = "") -> Response:
    """Settings of every timer, or of one zone's, by month."""
    desk = open_desk(request, db, garden_id)
    units = desk.revision.garden.units
    rows = (_row(order, units) for order in _orders(desk, zone))
    return download(programme_csv.write(rows), "programme.csv", "text/csv")


@router.get("/gardens/{garden_id}/programme.ics", name="calendar")
def programme_calendar(
    request: Request,
    garden_id: RowId,
    db: Db,
    zone: str = "",
    year: Annotated[int, Query(ge=0, le=LAST_YEAR)] = 0,
) -> Response:
    """When to set each timer anew, and every run that somebody has to start."""
    desk = open_desk(request, db, garden_id)
    units, now = desk.revision.garden.units, datetime.now(UTC)
    entries = [
        entry
        for order in _orders(desk, zone)
        if order.month != NEW_PLANTS  # told in every month's entry
        for entry in _entries(garden_id, order, _from(order, year, date.today()), units)
    ]
    text = calendar.write(entries, now).decode()
    return download(text, "programme.ics", "text/calendar")


def _orders(desk: Desk, zone: str) -> list[MonthOrder]:
    orders = month_orders(timed(desk))
    found = [o for o in orders if zone in ("", o.answer.zone.id)]
    if not found:
        raise HTTPException(409, "No zone has a timer yet: see Settings on Time.")
    return found


def _row(order: MonthOrder, units: System) -> ProgrammeRow:
    zone, timer = order.answer.zone.name, order.answer.timer.name
    position = order.position
    month = "new plants" if order.month == NEW_PLANTS else str(order.month)
    if position is None:
        return ProgrammeRow(zone, timer, month, "", "", "", "", "", "", "")
    by_week = bool(position.weekdays)
    return ProgrammeRow(
        zone,
        timer,
        month,
        f"{position.run_minutes:g}",
        f"{position.runs_a_day}",
        "" if by_week else f"{position.mean_days:g}",
        " ".join(WEEKDAYS[day] for day in position.weekdays),
        " ".join(hour_in_words(start) for start in order.starts),
        f"{quantities.from_si(order.litres_a_run / LITRES_PER_CUBIC_METRE, 'volume', units):.1f}",
        quantities.KINDS["volume"].display(units).sign,
    )


def _for_new(answer: TimeAnswer) -> str:
    new = answer.programme.new
    if new is None:
        return ""
    return f" New plants, for two weeks: {new.run_minutes:g} min, {how_often(new)}."


def _from(order: MonthOrder, year: int, today: date) -> date:
    """The first day of a month's entries: of a year that is asked for, else of the twelve months to come."""
    if year:
        return date(year, order.month, 1)
    begins = date(today.year + (order.month < today.month), order.month, 1)
    return max(begins, today)


def _entries(garden_id: int, order: MonthOrder, since: date, units: System) -> list[CalendarEvent]:
    zone, position, year = order.answer.zone, order.position, since.year
    first = datetime.combine(since, time())
    stem = f"{zone.id}-{year}-{order.month:02}-garden{garden_id}@euhydra"
    if position is None:
        before = order.answer.months[order.month - 2].setting
        if before is None:
            return []
        return [
            CalendarEvent(
                f"off-{stem}",
                f"{zone.name}: timer off",
                "Rain and soil carry it, or nothing grows.",
                first + timedelta(hours=8),
                SETTING_TAKES,
            )
        ]
    words = f"{position.run_minutes:g} min, {how_often(position)}"
    starts = ", ".join(hour_in_words(start) for start in order.starts)
    if not order.answer.timer.wants_somebody:
        about = f"{order.answer.timer.name}. Starts: {starts}.{_for_new(order.answer)}"
        return [
            CalendarEvent(
                f"set-{stem}",
                f"{zone.name}: set {words}",
                about,
                first + timedelta(hours=8),
                SETTING_TAKES,
            )
        ]
    end = datetime(year + order.month // 12, order.month % 12 + 1, 1) - timedelta(seconds=1)
    while position.weekdays and first.weekday() not in position.weekdays:
        first += timedelta(days=1)  # a repetition has to begin on one of its own days
    return [
        CalendarEvent(
            f"run{number}-{stem}",
            f"{zone.name}: water {position.run_minutes:g} min",
            f"{Amount.litres(order.litres_a_run).told(units)} a run; skip it after good rain.",
            first + timedelta(seconds=start),
            timedelta(minutes=position.run_minutes),
            0 if position.weekdays else round(position.mean_days),
            position.weekdays,
            end,
        )
        for number, start in enumerate(order.starts, 1)
    ]
