"""Keep: what the log says of the plan, and what is taken over from it."""

from datetime import date, datetime, time, timedelta

from fastapi import APIRouter, HTTPException, Request
from pydantic import ValidationError
from starlette.responses import Response

from euhydra.garden import quantities
from euhydra.garden.logbook import LogEntry
from euhydra.garden.quantities import System
from euhydra.garden.sentences import say
from euhydra.planner.answers import Gap
from euhydra.planner.keeping import advice, hindcast
from euhydra.planner.keeping.hindcast import Hindcast
from euhydra.planner.learning import taking_over
from euhydra.planner.learning.answer import Learned
from euhydra.planner.learning.answer import learn as learn_from
from euhydra.planner.learning.said import said_of
from euhydra.records import gardens, log
from euhydra.records.log import Search
from euhydra.web.desk import Db, Desk, RowId, Typed, open_desk
from euhydra.web.drawing import record_strip
from euhydra.web.pages.station import Shown, StationPage, back_to, based_on, show_page

router = APIRouter()

LONGEST_CHANGE = 120
"""Letters of what is said of a change."""


def learned_of(request: Request, desk: Desk) -> Learned | Gap:
    """The log of the year as one state, worked out once for this garden and this log."""

    def compute() -> Learned | Gap:
        day = _as_of(request, desk)
        return learn_from(desk.chain, log_of(request, desk, day), day)

    return desk.kept_with_log(request, "learned", compute)


def told_of(request: Request, desk: Desk) -> Hindcast | Gap:
    """The logged year run through the plan, by what was measured."""
    learned = learned_of(request, desk)
    return learned if isinstance(learned, Gap) else learned.told


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


def show_judge(request: Request, desk: Desk, at: str) -> Shown:
    """What the log says: per bed what to do, and what it shows of lines, stores and roofs."""
    learned = learned_of(request, desk)
    if isinstance(learned, Gap):
        return Shown(None, learned)
    if not learned.told.log:
        return Shown(
            None,
            Gap(
                say(
                    "judge-log-empty",
                    "The log of this year is empty: a finger in the soil and a dip of the store begin it.",
                )
            ),
        )
    answer = desk.kept_with_log(request, "judged", lambda: said_of(learned, date.today()))
    return Shown(
        answer,
        None,
        {
            "strip": record_strip.draw(learned.told, [s.water for s in learned.stores]),
            "advice_names": advice.ADVICE_NAMES,
            "can_be_taken_over": taking_over.can_be_taken_over,
        },
    )


@router.post("/gardens/{garden_id}/lessons", name="learn")
def learn(request: Request, garden_id: RowId, db: Db, typed: Typed) -> Response:
    """Take over what the log shows: a new revision, which undo takes back."""
    desk = open_desk(request, db, garden_id)
    learned = learned_of(request, desk)
    if isinstance(learned, Gap):
        raise HTTPException(409, str(learned.sentence))
    known = {c.key: c for c in learned.claims if taking_over.can_be_taken_over(c)}
    claim = known.get(typed.get("claim", ""))
    if claim is None:
        raise HTTPException(409, "The log no longer says this: look at the page again.")
    garden = desk.revision.garden
    then = _percent(taking_over.planned_with(garden, claim))
    if taking_over.is_beyond(garden, claim) and typed.get("sure") != "yes":
        low, high = taking_over.BOUNDS[claim.kind]
        fault = (
            f"“{claim.name}”: {then} is beyond what is likely ({_percent(low)} to {_percent(high)}). "
            "Look for a leak, a clog or a wrong entry first. If you are sure, tick it and take it over again."
        )
        return show_page(request, desk, PAGE, status=422, faults={claim.key: fault}, typed=typed)
    try:
        changed = taking_over.taken_over(garden, claim)
    except ValidationError:
        fault = f"“{claim.name}”: the plan takes no {then} there. Look for a leak, a clog or a wrong entry first."
        return show_page(request, desk, PAGE, status=422, faults={claim.key: fault}, typed=typed)
    change = f"“{claim.name}”: planned with {then}, as the log shows"
    gardens.save(db, garden_id, based_on(typed), changed, change[:LONGEST_CHANGE])
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
