"""Cures as they are found, done with one touch; and all answers as a document."""

from collections.abc import Callable, Iterator, Sequence
from functools import partial
from typing import Literal

from fastapi import APIRouter, HTTPException, Request
from starlette.responses import HTMLResponse, RedirectResponse, Response, StreamingResponse

from euhydra.formats import answers_json
from euhydra.garden import changes, quantities
from euhydra.planner.judgement import assumed, trying
from euhydra.planner.judgement.answer import Judgement
from euhydra.planner.judgement.assumed import Assumed
from euhydra.planner.judgement.finding import Finding
from euhydra.planner.judgement.trying import TriedCure
from euhydra.records import gardens
from euhydra.web.answers_file import answers_of
from euhydra.web.desk import Db, Desk, RowId, Typed, open_desk, piece_of
from euhydra.web.kept import FoundSoFar
from euhydra.web.pages.gardens import download
from euhydra.web.pages.station import StationPage, Tells, back_to, based_on, found_on, pages_of
from euhydra.web.pieces import END, in_pieces

router = APIRouter()

MOST_CURED = 6
"""Findings of a page whose cures are sought."""

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
    is_whole = cures and station is None
    weighed = assumed.weighed(judged, _weighed_once(request, desk)) if is_whole else ()
    sought = partial(_cures, request, desk) if cures else None
    document = answers_of(judged, station, sought, weighed)
    return download(answers_json.write(document), "answers.json", "application/json")


@router.get("/gardens/{garden_id}/cures/{key}", name="cures")
def cures(request: Request, garden_id: RowId, key: str, db: Db, at: str = "") -> StreamingResponse:
    """The first cure of each finding that a page tells, as it is found; it ends when nobody listens."""
    desk, page = open_desk(request, db, garden_id), _page(request, key)
    found = found_on(request, desk, page, at)

    def told() -> Iterator[str]:
        for finding in found[:MOST_CURED]:
            offered = _cures(request, desk, finding, 1)
            yield _told(request, desk, page, at, finding, offered, "_cures.html") + END

    return in_pieces(told())


@router.get("/gardens/{garden_id}/cures/{key}/others", name="other_cures")
def other_cures(
    request: Request,
    garden_id: RowId,
    key: str,
    db: Db,
    at: str = "",
    code: str = "",
    about: str = "",
    part: str = "",
) -> HTMLResponse:
    """What else would cure a finding."""
    desk, page = open_desk(request, db, garden_id), _page(request, key)
    finding = _finding(desk.judgement(request), code, about, part)
    if finding is None:
        raise HTTPException(404, "That is not found any more.")
    offered = _cures(request, desk, finding)
    return HTMLResponse(_told(request, desk, page, at, finding, offered, "_other_cures.html"))


def _told(
    request: Request,
    desk: Desk,
    page: StationPage,
    at: str,
    finding: Finding,
    offered: tuple[TriedCure, ...],
    template: str,
) -> str:
    """A finding's cures as a piece of the page."""
    return piece_of(
        request,
        template,
        desk,
        names=trying.FIGURE_NAMES,
        page_key=page.key,
        at=at,
        finding=finding,
        cures=offered,
    )


@router.get("/gardens/{garden_id}/measure", name="measure")
def measure(request: Request, garden_id: RowId, db: Db) -> StreamingResponse:
    """Values taken as usual, those first that are worth measuring next: the list grows as they are weighed."""
    desk = open_desk(request, db, garden_id)
    judged = desk.judgement(request)

    def told() -> Iterator[str]:
        found: list[Assumed] = []
        for each in assumed.weighing(judged, _weighed_once(request, desk)):
            found.append(each)
            if each.matters > 0:
                yield _worth_measuring(request, desk, found) + END
        yield _worth_measuring(request, desk, found) + END

    return in_pieces(told())


def _weighed_once(request: Request, desk: Desk) -> assumed.Keep:
    """What was weighed for this garden and weather is not weighed again, though nobody waited for the rest."""

    def keep(place: int, weigh: Callable[[], Assumed]) -> Assumed:
        found: Assumed = desk.kept(request, ("weighed", place), weigh)
        return found

    return keep


def _worth_measuring(request: Request, desk: Desk, found: Sequence[Assumed]) -> str:
    worth = [each for each in assumed.in_order(found) if each.matters > 0][:MOST_MEASURED]
    return piece_of(request, "_measure.html", desk, weighed=worth)


@router.post("/gardens/{garden_id}/cure", name="do_cure")
def do_cure(request: Request, garden_id: RowId, db: Db, typed: Typed) -> RedirectResponse:
    """Do a cure that was offered: a new revision, which undo takes back."""
    desk, page = open_desk(request, db, garden_id), _page(request, typed.get("page", ""))
    fields = (typed.get(name, "") for name in ("code", "about", "part"))
    finding = _finding(desk.judgement(request), *fields)
    number = quantities.whole_or(typed.get("number", ""), 0)
    offered = (
        _cures(request, desk, finding, number + 1)
        if finding and number < trying.MOST_OFFERED
        else ()
    )
    if not 0 <= number < len(offered):
        raise HTTPException(409, "That is not found any more, so there is nothing to cure.")
    cure = offered[number]
    system = desk.revision.garden.units
    change = cure.change.told(system)
    cured = changes.done_to(desk.revision.garden, cure.edits)
    done = gardens.save(db, garden_id, based_on(typed), cured, change)
    return back_to(request, garden_id, page.key, typed.get("at", ""), done)


def _finding(judged: Judgement, code: str, about: str, part: str) -> Finding | None:
    return next((each for each in judged.findings if each.key == (code, about, part)), None)


def _cures(
    request: Request, desk: Desk, finding: Finding, most: int = trying.MOST_OFFERED
) -> tuple[TriedCure, ...]:
    """The first cures of a finding: for this garden and weather none is sought twice."""
    judged = desk.judgement(request)
    sought: FoundSoFar[TriedCure] = desk.kept(
        request,
        ("cures", finding.key),
        lambda: FoundSoFar(lambda: trying.cures_of(judged, finding)),
    )
    return sought.first(most)


def _page(request: Request, key: str) -> StationPage:
    page = pages_of(request).get(key)
    if page is None or page.tells is Tells.NOTHING:
        raise HTTPException(404, "There is no such page.")
    return page
