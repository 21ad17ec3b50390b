"""Keep: what the log says of the plan, and what is taken over from it."""

from fastapi import APIRouter, HTTPException, Request
from pydantic import ValidationError
from starlette.responses import Response

from euhydra.garden import quantities
from euhydra.garden.quantities import System
from euhydra.garden.sentences import say
from euhydra.planner.answers import Gap
from euhydra.planner.keeping import advice
from euhydra.planner.learning import taking_over
from euhydra.records import gardens
from euhydra.web.desk import Db, Desk, RowId, Typed, open_desk
from euhydra.web.drawing import record_strip
from euhydra.web.logged_year import is_past, learned_of, said_in
from euhydra.web.pages.station import Shown, StationPage, back_to, based_on, show_page
from euhydra.web.pages.year_choices import year_choices

router = APIRouter()


def show_judge(request: Request, desk: Desk, at: str) -> Shown:
    """What the log says: per bed what to do, and what it shows of lines, stores and roofs."""
    learned = learned_of(request, desk, at)
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
    answer = said_in(request, desk, at)
    return Shown(
        answer,
        None,
        {
            "strip": record_strip.draw(learned.told, [s.water for s in learned.stores]),
            "advice_names": advice.ADVICE_NAMES,
            "can_be_taken_over": taking_over.can_be_taken_over,
            "past_year": at if is_past(desk, at) else "",
        },
    )


@router.post("/gardens/{garden_id}/lessons", name="learn")
def learn(request: Request, garden_id: RowId, db: Db, typed: Typed) -> Response:
    """Take over what the log shows: a new revision, which undo takes back."""
    desk = open_desk(request, db, garden_id)
    at = typed.get("at", "")
    learned = learned_of(request, desk, at)
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
        return show_page(
            request, desk, PAGE, at, status=422, faults={claim.key: fault}, typed=typed
        )
    try:
        changed = taking_over.taken_over(garden, claim)
    except ValidationError:
        fault = f"“{claim.name}”: the plan takes no {then} there. Look for a leak, a clog or a wrong entry first."
        return show_page(
            request, desk, PAGE, at, status=422, faults={claim.key: fault}, typed=typed
        )
    change = f"“{claim.name}”: planned with {then}, as the log shows"
    gardens.save(db, garden_id, based_on(typed), changed, change)
    return back_to(request, garden_id, PAGE.key, at)


def _percent(share: float) -> str:
    return quantities.show(share, "share", System.METRIC)


PAGE = StationPage(
    key="judge",
    station="keep",
    tab="What it says",
    question="Is it too dry, too wet, or right?",
    show=show_judge,
    choices=year_choices,
)
