"""The log of one growing year, which pages of Keep are turned to: its entries, and what they show together."""

from datetime import date, datetime, time, timedelta
from typing import TYPE_CHECKING

from fastapi import Request

from euhydra.garden.logbook import LogEntry
from euhydra.planner.answers import Gap
from euhydra.planner.judgement.finding import Finding
from euhydra.planner.judgement.keep_findings import keep_findings
from euhydra.planner.keeping import growing_year
from euhydra.planner.learning.answer import Learned
from euhydra.planner.learning.answer import learn as learn_from
from euhydra.planner.learning.said import LogSays, said_of
from euhydra.records import log

if TYPE_CHECKING:
    from euhydra.web.desk import Desk


def learned_of(request: Request, desk: "Desk", at: str = "") -> Learned | Gap:
    """The log of a year as one state, worked out once for this garden and this log."""

    def compute() -> Learned | Gap:
        day = day_told(desk, at)
        return learn_from(desk.chain, log_of(request, desk, day), day)

    return desk.kept_with_log(request, ("learned", at if is_past(desk, at) else ""), compute)


def day_told(desk: "Desk", at: str) -> date:
    """The day up to which a year is told: its last, if it is over; of the present one today.

    While nothing is logged this year, the last day of the log, so that last year is told.
    """
    today = date.today()
    year = _year(desk, at)
    if year is not None and growing_year.ends(year) < today:
        return growing_year.ends(year)
    if (
        year is None
        and desk.logged
        and desk.logged[1] < growing_year.begins(today, _latitude(desk))
    ):
        return desk.logged[1]
    return today


def is_past(desk: "Desk", at: str) -> bool:
    """Whether the page is turned to a year that is over."""
    year = _year(desk, at)
    return year is not None and growing_year.ends(year) < date.today()


def findings_of(request: Request, desk: "Desk") -> tuple[Finding, ...]:
    """What the log of this year says is wrong; nothing while it is empty."""
    if desk.logged is None:
        return ()
    learned = learned_of(request, desk)
    if isinstance(learned, Gap) or not learned.told.log:
        return ()
    return keep_findings(learned, said_in(request, desk))


def said_in(request: Request, desk: "Desk", at: str = "") -> LogSays:
    """What the log of a year says, in its order."""
    learned = learned_of(request, desk, at)
    assert isinstance(learned, Learned)
    is_over = is_past(desk, at)
    day = learned.told.today if is_over else date.today()
    return desk.kept_with_log(
        request, ("said", day), lambda: said_of(learned, day, is_over=is_over)
    )


def years_of(desk: "Desk") -> list[date]:
    """First day of every year of which something is logged, the latest first."""
    if desk.logged is None:
        return []
    first, last = desk.logged
    return growing_year.between(first, max(last, date.today()), _latitude(desk))


def log_of(request: Request, desk: "Desk", day: date) -> list[LogEntry]:
    """Everything in the log of the growing year that a day lies in, oldest first."""
    first = growing_year.begins(day, _latitude(desk))
    with desk.reading(request) as conn:
        found = log.in_order(conn, desk.revision.garden_id, datetime.combine(first, time()))
    # A clock that was set back makes entries of days to come: they are judged when they have come.
    return [entry for entry in found if entry.at.date() <= day + timedelta(days=1)]


def _year(desk: "Desk", at: str) -> date | None:
    return next((year for year in years_of(desk) if str(year.year) == at), None)


def _latitude(desk: "Desk") -> float:
    return desk.revision.garden.place.latitude_deg
