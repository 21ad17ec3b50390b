"""Cures as they are found, done with one touch; and all answers as a document."""

from typing import Literal

from fastapi import APIRouter, HTTPException, Request
from starlette.responses import RedirectResponse, Response

from euhydra.formats import answers_json
from euhydra.garden import changes, quantities
from euhydra.planner.judgement import assumed, telling, trying
from euhydra.planner.judgement.assumed import Assumed
from euhydra.planner.judgement.finding import Finding
from euhydra.planner.judgement.trying import TriedCure
from euhydra.records import gardens
from euhydra.web.answers_file import answers_of
from euhydra.web.desk import Db, Desk, RowId, Typed, open_desk, render
from euhydra.web.pages.gardens import download
from euhydra.web.pages.station import StationPage, based_on, pages_of

router = APIRouter()

LONGEST_CHANGE = 120
"""Letters of what is said of a change."""

MOST_MEASURED = 5
"""Values that are told to be worth measuring."""

StationKey = Literal["catch", "store", "need", "push", "lay", "time", "build", "keep"]


@router.get("/gardens/{garden_id}/answers.json", name="answers")
def answers(
    request: Request,
    garden_id: RowId,
    db: Db,
    station: StationKey | None = None,
    cures: bool = True,
) -> Response:
    """Every station's answer for machines; cures take a while, and may be left out."""
    desk = open_desk(request, db, garden_id)
    judged = desk.judgement(request)
    weighed = assumed.weighed(judged) if cures and station is None else ()
    document = answers_of(judged, station, with_cures=cures, assumed=weighed)
    return download(answers_json.write(document), "answers.json", "application/json")


@router.get("/gardens/{garden_id}/cures/{key}", name="cures")
def cures(
    request: Request, garden_id: RowId, key: str, db: Db, at: str = "", n: int = 0
) -> Response:
    """What would cure the finding at a place among those that a page tells."""
    desk, page = open_desk(request, db, garden_id), _page(request, key)
    found = telling.found_at(desk.judgement(request), page.station, page.about(desk, at))
    if not 0 <= n < len(found):
        raise HTTPException(404, "Nothing of that is found any more.")
    finding = found[n]
    return render(
        request,
        "_cures.html",
        desk,
        finding=finding,
        cures=_cures(request, desk, finding),
        is_only=len(found) == 1,
        page_key=page.key,
        names=trying.FIGURE_NAMES,
        at=at,
    )


@router.get("/gardens/{garden_id}/measure", name="measure")
def measure(request: Request, garden_id: RowId, db: Db) -> Response:
    """Values taken as usual, those first that are worth measuring next."""
    desk = open_desk(request, db, garden_id)
    judged = desk.judgement(request)
    found: tuple[Assumed, ...] = desk.kept(request, "assumed", lambda: assumed.weighed(judged))
    parts = {part.id: part for part in desk.revision.garden.parts}
    labels = {
        (each.part_id, each.field): type(parts[each.part_id]).model_fields[each.field].title
        for each in found
    }
    weighed = [each for each in found if each.matters > 0][:MOST_MEASURED]
    return render(request, "_measure.html", desk, weighed=weighed, labels=labels)


@router.post("/gardens/{garden_id}/cure", name="do_cure")
def do_cure(request: Request, garden_id: RowId, db: Db, typed: Typed) -> RedirectResponse:
    """Do a cure that was offered: a new revision, which undo takes back."""
    desk, page = open_desk(request, db, garden_id), _page(request, typed.get("page", ""))
    key = (typed.get("code", ""), typed.get("about", ""), typed.get("part", ""))
    judged = desk.judgement(request)
    finding = next((each for each in judged.findings if each.key == key), None)
    number = quantities.whole_or(typed.get("number", ""), 0)
    offered = _cures(request, desk, finding) if finding else ()
    if not 0 <= number < len(offered):
        raise HTTPException(409, "That is not found any more, so there is nothing to cure.")
    cure = offered[number]
    system = desk.revision.garden.units
    change = cure.change.told(system)[:LONGEST_CHANGE]
    cured = changes.done_to(desk.revision.garden, cure.edits)
    gardens.save(db, garden_id, based_on(typed), cured, change)
    url = request.url_for("station", garden_id=garden_id, station=page.key)
    asked = {"done": "1"} | ({"at": at} if (at := typed.get("at", "")) else {})
    return RedirectResponse(url.include_query_params(**asked), 303)


def _cures(request: Request, desk: Desk, finding: Finding) -> tuple[TriedCure, ...]:
    judged = desk.judgement(request)
    found: tuple[TriedCure, ...] = desk.kept(
        request, ("cures", finding.key), lambda: tuple(trying.cures_of(judged, finding))
    )
    return found


def _page(request: Request, key: str) -> StationPage:
    page = pages_of(request).get(key)
    if page is None or not page.is_judged:
        raise HTTPException(404, "There is no such page.")
    return page
