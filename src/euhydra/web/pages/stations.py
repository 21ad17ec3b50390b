"""Every page of every station, in the order of the water, and the routes that all of them share."""

from collections.abc import Sequence

from fastapi import APIRouter, HTTPException, Request
from starlette.responses import Response
from starlette.routing import Match

from euhydra.garden.model import Garden
from euhydra.garden.part import Part
from euhydra.records import gardens
from euhydra.records.gardens import StaleWriteError
from euhydra.web.desk import Db, RowId, Typed, open_desk
from euhydra.web.forms import FormError, FormOn, NoSuchPartError
from euhydra.web.forms_on_several import FormOnSeveral, ids_of
from euhydra.web.pages import (
    away,
    bench,
    catch,
    fault,
    feed,
    first_run,
    judge,
    labels,
    lay,
    log,
    need,
    push,
    report,
    shopping,
    steps,
    store,
    time,
    today,
    upkeep,
    week,
    years,
)
from euhydra.web.pages.station import StationPage, back_to, based_on, show_page
from euhydra.web.part_forms import PART_FORMS, PartForm

router = APIRouter()

PAGES = {
    page.key: page
    for page in (
        catch.ROOFS,
        catch.GREYWATER,
        catch.TAPS,
        store.STORES,
        store.SHARES,
        store.WET,
        need.PAGE,
        push.PAGE,
        lay.PAGE,
        time.PAGE,
        week.PAGE,
        years.PAGE,
        away.PAGE,
        bench.PAGE,
        shopping.PAGE,
        steps.PAGE,
        labels.PAGE,
        first_run.PAGE,
        log.PAGE,
        today.PAGE,
        judge.PAGE,
        fault.PAGE,
        upkeep.PAGE,
        feed.PAGE,
        report.PAGE,
    )
}
"""By key."""

STATION_PATH = "/gardens/{garden_id}/{station}"


@router.get(STATION_PATH, name="station")
def station_page(
    request: Request, garden_id: RowId, station: str, db: Db, at: str = ""
) -> Response:
    """A station of the watercourse; `at` names the bed or the store that it is about."""
    if station not in PAGES and _takes_a_form(request):
        return garden_page(request, garden_id, db)  # a refused form, loaded again
    return show_page(request, open_desk(request, db, garden_id), _page(station), at)


def _takes_a_form(request: Request) -> bool:
    scope = {**request.scope, "method": "POST"}
    return any(route.matches(scope)[0] is Match.FULL for route in request.app.routes)


@router.get("/gardens/{garden_id}", name="garden")
def garden_page(request: Request, garden_id: RowId, db: Db) -> Response:
    """A garden by its number alone: this morning where it is built or its log kept, else its first station."""
    if today.comes_first(db, garden_id):
        return back_to(request, garden_id, today.PAGE.key)
    return back_to(request, garden_id, next(iter(PAGES)))


@router.post(STATION_PATH + "/{key}", name="save_part")
def save_part(
    request: Request, garden_id: RowId, station: str, key: str, db: Db, typed: Typed
) -> Response:
    """Take a part as typed: a new revision, or the page again with what is wrong."""
    page, at = _page(station), typed.get("at", "")
    if key not in page.form_keys:
        raise HTTPException(404, f"There is no form “{key}” here.")
    desk = open_desk(request, db, garden_id)
    garden = desk.revision.garden
    try:
        before = page.before(desk, at)
        form = _form_on(PART_FORMS[key], garden, typed.get("part_id", ""), before)
    except NoSuchPartError as error:
        raise HTTPException(409, str(error)) from None
    if isinstance(form, FormOn) and form.part is None and not form.can_be_asked:
        raise HTTPException(409, "Something this leads to is not there yet: add that first.")
    try:
        changed = form.read(typed)
        known = {part.id for part in garden.parts}
        parts = getattr(changed, form.form.collection)
        added = [part for part in parts if part.id not in known]
        change = _change(form, added)
        done = gardens.save(db, garden_id, based_on(typed), changed, change)
    except FormError as error:
        return show_page(request, desk, page, at, status=422, retyped=error.view)
    except StaleWriteError as error:
        retyped = form.show_retyped(typed, str(error))
        return show_page(request, desk, page, at, status=409, retyped=retyped)
    at = added[0].id if added and page.turns_to_new else at
    return back_to(request, garden_id, station, at, done)


def _change(form: FormOn | FormOnSeveral, added: Sequence[Part]) -> str:
    """What a form does, as undo and the page name it."""
    if added:
        return f"{form.form.noun} “{added[0].name}” added"
    if isinstance(form, FormOn) and form.part is not None:
        return f"{form.form.noun} “{form.part.name}” changed"
    return f"{form.form.noun}: several changed"


def _form_on(form: PartForm, garden: Garden, part_id: str, before: str) -> FormOn | FormOnSeveral:
    ids = ids_of(part_id)
    if len(ids) > 1:
        return FormOnSeveral.of(form, garden, ids)
    return FormOn.of(form, garden, part_id, before)


def _page(station: str) -> StationPage:
    if station not in PAGES:
        raise HTTPException(404, "There is no such page.")
    return PAGES[station]
