"""Build: the steps with their ticks."""

from typing import Annotated

from fastapi import APIRouter, Form, Request
from starlette.responses import JSONResponse, Response

from euhydra.planner.steps.answer import answer_steps
from euhydra.records import prices
from euhydra.web.desk import Db, Desk, RowId, open_desk, render
from euhydra.web.drawing import plan
from euhydra.web.pages import shopping
from euhydra.web.pages.plan_pieces import box_of, cut_from
from euhydra.web.pages.station import NOTHING_YET, Shown, StationPage, Tells, found_on, verdict_on

router = APIRouter()


def show_steps(request: Request, desk: Desk, at: str) -> Shown:
    """The steps, each with its small drawing."""
    garden = desk.revision.garden
    if not garden.parts:
        return Shown(None, NOTHING_YET)
    with desk.reading(request) as conn:
        done = prices.ticked(conn, desk.revision.garden_id, "step")
    answer = answer_steps(garden, done)
    bounds = plan.bounds_of(garden)
    boxes = {
        step.key: box_of(bounds, step.parts)
        for step in answer.steps
        if any(part in bounds for part in step.parts)
    }
    return Shown(answer, None, {"done": done, "boxes": boxes} | cut_from(request, desk))


@router.post("/gardens/{garden_id}/tick", name="tick")
def tick(
    request: Request,
    garden_id: RowId,
    db: Db,
    which: Annotated[prices.List, Form(alias="list")],
    item: Annotated[str, Form(max_length=200)],
    on: Annotated[bool, Form()] = False,
) -> Response:
    """Tick something off; answers with the page's new verdict, for the page to show."""
    desk = open_desk(request, db, garden_id)
    prices.tick(db, garden_id, which, item, on)
    page = PAGE if which == "step" else shopping.PAGE
    shown = page.show(request, desk, "")
    judged_so = verdict_on(page, shown, found_on(request, desk, page, ""))
    verdict = render(request, "_verdict_only.html", desk, answer=shown.answer, judged_so=judged_so)
    return JSONResponse({"verdict": bytes(verdict.body).decode()})


PAGE = StationPage(
    key="steps",
    station="build",
    tab="Steps",
    question="In what order do I put it together?",
    show=show_steps,
    tells=Tells.GRAVE,
)
