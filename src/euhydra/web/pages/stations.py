"""The stations: each answers its question, and takes the parts it is about."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from fastapi import APIRouter, HTTPException, Request
from starlette.responses import RedirectResponse, Response

from euhydra.garden.model import Garden
from euhydra.planner.answers import Gap
from euhydra.planner.store import sizing
from euhydra.planner.store.answer import GroupAnswer
from euhydra.planner.store.sizing import SizeCurve
from euhydra.records import gardens
from euhydra.records.gardens import StaleWriteError
from euhydra.web.desk import Db, Desk, Recent, Typed, open_desk, render
from euhydra.web.drawing import charts
from euhydra.web.forms import FormError, FormOn, FormView, NoSuchPartError
from euhydra.web.pages import answers, season_answers
from euhydra.web.part_forms import PART_FORMS, PartForm

router = APIRouter()


@dataclass(frozen=True)
class StationPage:
    """A page of a station: its question and the forms beside its drawing.

    station : The station on the stream that it belongs to.
    tab : Its name among that station's pages.
    """

    key: str
    station: str
    tab: str
    question: str
    form_keys: tuple[str, ...]


STATIONS = {
    page.key: page
    for page in (
        StationPage(
            "catch", "catch", "Roofs", "How much water can I catch, and from which roof?",
            ("roof", "downspout"),
        ),
        StationPage(
            "greywater", "catch", "Greywater", "What can the washing water do, and where may it go?",
            ("greywater", "drum"),
        ),
        StationPage("taps", "catch", "Tap and well", "What does the tap or the well give?", ("tap",)),
        StationPage(
            "store", "store", "Stores", "How many barrels, and when do they run dry?",
            ("store", "joints", "reserve", "standing"),
        ),
        StationPage(
            "shares", "store", "Who gets which water", "Which bed gets which water, and what does it cost?",
            ("sources", "pot-sources"),
        ),
        StationPage("wet", "store", "Too wet", "How does a soggy corner get dry again?", ("wet",)),
        StationPage(
            "need", "need", "", "What does this drink, and how many cans is that?",
            ("bed", "thirst", "pots", "pot-thirst", "planting", "own-crop"),
        ),
        StationPage(
            "push", "push", "", "Is height enough, or do I need a pump?", ("pump", "pipe", "joint", "fitting"),
        ),
        StationPage(
            "lay", "lay", "", "What goes where, and what does each plant get?",
            ("bed", "sources", "pots", "pot-sources", "pipe", "joint", "pump", "fitting", "timer", "patch", "spot", "roof", "store", "tap"),
        ),
        StationPage(
            "time", "time", "Settings", "What do I set on the timer I own?",
            ("timer", "now-set", "own-timer"),
        ),
        StationPage("week", "time", "The week", "What runs when, and is there water for it?", ()),
        StationPage("years", "time", "Through the years", "How often does anything go dry?", ()),
        StationPage("away", "time", "Away", "I am away for two weeks: will it hold?", ()),
        StationPage("bench", "time", "On the bench", "What happens when something breaks?", ()),
        StationPage("build", "build", "Shopping list", "What do I buy, and what does it come to?", ()),
        StationPage("steps", "build", "Steps", "In what order do I put it together?", ()),
        StationPage("labels", "build", "Labels", "Which hose is which?", ()),
        StationPage("first-run", "build", "First run", "Does it give what it should?", ()),
        StationPage("keep", "keep", "Log", "What did I see, and what did I do?", ()),
        StationPage("judge", "keep", "What it says", "Is it too dry, too wet, or right?", ()),
        StationPage("fault", "keep", "Find the fault", "Something is weak, dry or wet: what is wrong?", ()),
        StationPage("upkeep", "keep", "Upkeep", "What wants doing, and what when the frost comes?", ()),
        StationPage("feed", "keep", "Feed", "How much feed goes in?", ()),
        StationPage("report", "keep", "The season", "What did the season bring, and what do I change?", ()),
    )
}  # fmt: skip

STATION_PATH = "/gardens/{garden_id}/{station}"


@router.get(STATION_PATH, name="station")
def station_page(request: Request, garden_id: int, station: str, db: Db, at: str = "") -> Response:
    """A station of the watercourse; `at` names the bed or the store that it is about."""
    page = _page(station)
    return _show(request, open_desk(request, db, garden_id), page, at)


@router.get("/gardens/{garden_id}/store/sizes", name="sizes")
def sizes(request: Request, garden_id: int, db: Db, at: str = "") -> dict[str, Any]:
    """The size curve, for the page to draw once it has been worked out."""
    desk = open_desk(request, db, garden_id)
    answer = _group(desk, at)
    curves: Recent[SizeCurve] = request.app.state.size_curves

    def compute() -> SizeCurve:
        return sizing.size_curve(answer.group, answer.tank, answer.season, answer.hardest)

    curve = curves.get((*desk.key, answer.tank), compute)
    return charts.size_chart(curve, desk.revision.garden.units)


@router.get("/gardens/{garden_id}/store/year", name="store_year")
def store_year(request: Request, garden_id: int, db: Db, year: int, at: str = "") -> dict[str, Any]:
    """One year of a store, day by day."""
    desk = open_desk(request, db, garden_id)
    answer = _group(desk, at)
    if year not in charts.years_of(answer):
        raise HTTPException(404, f"There is no weather of {year}.")
    return charts.store_year(answer, year, desk.revision.garden.units)


@router.get("/gardens/{garden_id}/years/bed", name="bed_year")
def bed_year(
    request: Request, garden_id: int, db: Db, year: int, at: str = "", plan: str = ""
) -> dict[str, Any]:
    """One year of a bed's root zone, day by day, under the plan called so."""
    series = season_answers.bed_year(request, open_desk(request, db, garden_id), plan, at, year)
    if isinstance(series, Gap):
        raise HTTPException(404, series.message)
    return series


@router.post("/gardens/{garden_id}/{station}/{key}", name="save_part")
def save_part(
    request: Request, garden_id: int, station: str, key: str, db: Db, typed: Typed
) -> Response:
    """Take a part as typed: a new revision, or the page again with what is wrong."""
    page, at = _page(station), typed.get("at", "")
    if key not in page.form_keys:
        raise HTTPException(404, f"There is no form “{key}” here.")
    desk = open_desk(request, db, garden_id)
    garden = desk.revision.garden
    try:
        before = answers.first_piece(desk, page.key, at)
        form = FormOn.of(PART_FORMS[key], garden, typed.get("part_id", ""), before)
    except NoSuchPartError as error:
        raise HTTPException(409, str(error)) from None
    if form.part is None and not form.can_be_asked:
        raise HTTPException(409, "Something this leads to is not there yet: add that first.")
    try:
        changed = form.read(typed)
        gardens.save(db, garden_id, based_on(typed), changed, f"{form.form.noun}: changed")
    except FormError as error:
        return _show(request, desk, page, at, error.view, 422)
    except StaleWriteError as error:
        return _show(request, desk, page, at, form.show_retyped(typed, str(error)), 409)
    known = {part.id for part in garden.parts}
    added = [part.id for part in getattr(changed, form.form.collection) if part.id not in known]
    # To the top of the page, where the verdict stands; what was just added is shown.
    at = added[0] if added and (form.form.key == "store" or page.key == "lay") else at
    return _back(request, garden_id, station, at)


def based_on(typed: Typed) -> int:
    """Revision that a form was shown from."""
    shown = typed.get("based_on", "")
    return int(shown) if shown.isdecimal() else 0


def _back(request: Request, garden_id: int, station: str, at: str) -> Response:
    url = request.url_for("station", garden_id=garden_id, station=station)
    return RedirectResponse(url.include_query_params(at=at) if at else url, 303)


def _page(station: str) -> StationPage:
    if station not in STATIONS:
        raise HTTPException(404, f"There is no station “{station}”.")
    return STATIONS[station]


def _group(desk: Desk, at: str) -> GroupAnswer:
    answer = desk.chain.store
    if isinstance(answer, Gap):
        raise HTTPException(409, answer.message)
    return answer.group(at)


def _show(
    request: Request,
    desk: Desk,
    page: StationPage,
    at: str = "",
    retyped: FormView | None = None,
    status: int = 200,
    wished: Typed | None = None,
    fault: str = "",
    faults: dict[str, str] | None = None,
) -> Response:
    shown = answers.ANSWERS[page.key](request, desk, at)
    views = _forms(desk, page, at)
    if retyped:
        views = [retyped if view.id == retyped.id else view for view in views]
    return render(
        request, f"{page.key}.html", desk, status,
        station=page, at=at, forms=views, gap=shown.gap, answer=shown.answer,
        tabs=[p for p in STATIONS.values() if p.station == page.station and p.tab],
        choices=answers.choices(desk, page.key, at), wished=wished or {}, wish_fault=fault,
        faults=faults or {},
        **shown.more,
    )  # fmt: skip


def _forms(desk: Desk, page: StationPage, at: str) -> list[FormView]:
    """A part's own form, then those that ask more about it; last the forms that add one."""
    garden = desk.revision.garden
    keys = [PART_FORMS[key] for key in page.form_keys]
    shown: list[FormView] = []
    for form in keys:
        if form.is_facet and any(f.collection == form.collection for f in keys if not f.is_facet):
            continue
        for part in answers.parts_at(desk, form.collection, page.key, at):
            shown += _views_of(garden, part.id, form, keys)
    for form in keys:
        adding = FormOn.of(form, garden, "", answers.first_piece(desk, page.key, at))
        if form.can_add and form.station in (page.key, "") and adding.can_be_asked:
            shown.append(adding.show())
    return shown


def _views_of(
    garden: Garden, part_id: str, form: PartForm, keys: Sequence[PartForm]
) -> list[FormView]:
    facets = [f for f in keys if f.is_facet and f.collection == form.collection]
    views = (FormOn.of(each, garden, part_id).show() for each in dict.fromkeys((form, *facets)))
    return [view for view in views if view.fields]


def forms_of_part(garden: Garden, part_id: str) -> list[FormView]:
    """The form of one part, and those that ask more about it."""
    keys = list(PART_FORMS.values())
    for form in keys:
        if not form.is_facet and any(p.id == part_id for p in getattr(garden, form.collection)):
            return _views_of(garden, part_id, form, keys)
    return []


def show(
    request: Request, desk: Desk, key: str, at: str, faults: dict[str, str], typed: Typed,
    status: int = 422,
) -> Response:  # fmt: skip
    """A station again, with what was typed outside its forms and what is wrong with it, by field."""
    return _show(request, desk, STATIONS[key], at, None, status, typed, faults=faults)


def show_lay(request: Request, desk: Desk, typed: Typed, fault: str, status: int) -> Response:
    """Lay again, with what was asked for and what is wrong with it."""
    return _show(
        request, desk, STATIONS["lay"], typed.get("waters", ""), None, status, typed, fault
    )
