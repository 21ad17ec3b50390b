"""All gardens, a new one, its place, its units; undo and redo; downloads."""

from collections.abc import Mapping
from typing import Annotated, Any

from fastapi import APIRouter, Form, HTTPException, Request
from pydantic import ValidationError
from starlette.responses import PlainTextResponse, RedirectResponse, Response

from euhydra.formats import inp
from euhydra.garden import (
    document,
    edits,
    goods,
    latitudes,
    normals,
    quantities,
    reference_climates,
)
from euhydra.garden.examples import EXAMPLES
from euhydra.garden.model import Garden, Place
from euhydra.garden.part import quantity_of
from euhydra.garden.quantities import KINDS, QuantityError, System
from euhydra.garden.reference_climates import Located
from euhydra.planner.answers import Gap, PlanError
from euhydra.planner.beginning.asks import way_kinds
from euhydra.planner.water import zones
from euhydra.records import gardens, weather
from euhydra.records.gardens import Revision, StaleWriteError
from euhydra.web.desk import Db, RowId, Typed, open_desk, render
from euhydra.web.network_file import network_file
from euhydra.web.pages import weather_places
from euhydra.web.pages.station import pages_of

router = APIRouter()

SAME_DEG, SAME_M = 0.01, 5.0
"""Apart in latitude [°] and height [m] up to which a new garden lies where another does, and takes its
weather. Our choice: little, for a latitude runs round the Earth."""

Text = Annotated[str, Form()]


@router.get("/", name="home")
def home(request: Request, db: Db, restored: bool = False) -> Response:
    """Every garden, and the way to a new one."""
    return show_home(request, db, typed=_where_the_last_lies(db), errors={}, restored=restored)


def show_home(request: Request, db: Db, status: int = 200, **more: Any) -> Response:
    """The first page, with what was typed and what is wrong with it."""
    places = [place.label for place in reference_climates.all_places()]
    entries = gardens.all_gardens(db)
    shown = {entry.name for entry in entries if entry.is_demo}
    return render(
        request,
        "home.html",
        status=status,
        entries=entries,
        places=places,
        ways=way_kinds().values(),
        examples={k: e for k, e in EXAMPLES.items() if e.name not in shown},
        nearby=_town_of_the_last(db),
        **more,
    )


def _own_gardens(db: Db) -> list[Revision]:
    """Gardens but for the demo, the newest first."""
    own = (entry for entry in gardens.all_gardens(db) if not entry.is_demo)
    return [gardens.current(db, entry.id) for entry in own][::-1]


def _where_the_last_lies(db: Db) -> dict[str, str]:
    """Place and units of the newest garden, for one beside it; nothing before there is any."""
    last = next(iter(_own_gardens(db)), None)
    return {} if last is None else _typed_place(last.garden) | {"name": ""}


def _town_of_the_last(db: Db) -> str:
    """The town whose months the newest garden takes; "" where it takes none."""
    last = next(iter(_own_gardens(db)), None)
    known = weather.in_use(db, last.garden_id) if last else None
    return (
        known.name.removeprefix(weather_places.USUAL_MONTHS)
        if known and known.name.startswith(weather_places.USUAL_MONTHS)
        else ""
    )


def _typed_place(garden: Garden) -> dict[str, str]:
    """Name, place and units of a garden as they stand in their fields."""
    return {
        "name": garden.name,
        "latitude_deg": quantities.show_number(garden.place.latitude_deg, "angle", garden.units, 6),
        "elevation_m": quantities.typed(garden.place.elevation_m, "elevation", garden.units),
        "units": garden.units,
        "hose_thread": garden.place.hose_thread,
    }


@router.post("/examples/{example_id}", name="look_at_example")
def look_at_example(request: Request, example_id: str, db: Db) -> Response:
    """An invented garden laid beside the owner's, to look at and to change."""
    example = EXAMPLES.get(example_id)
    if example is None:
        raise HTTPException(404, "There is no such example.")
    garden_id = gardens.create(db, example.garden(), is_demo=True)
    months = dict(example.months())
    record = normals.make_days(months)
    weather.add(db, garden_id, record, example.weather_name, months)
    return RedirectResponse(request.url_for("station", garden_id=garden_id, station="lay"), 303)


@router.post("/gardens", name="new_garden")
def new_garden(request: Request, db: Db, typed: Typed) -> Response:
    """Begin a garden: name and place."""
    town = typed.get("town", "").strip()
    where = reference_climates.located(town)
    values, errors = _read_place(_filled_in(typed, where, _where_the_last_lies(db)))
    if town and where is None:
        errors["town"] = weather_places.not_known(town)
    if errors:
        return show_home(request, db, status=422, typed=typed, errors=errors)
    garden = Garden.model_validate(values)
    if where is not None:
        garden_id = gardens.create(db, garden)
        weather_places.give(db, garden_id, garden, where)
        return RedirectResponse(request.url_for("garden", garden_id=garden_id), 303)
    there = next((r for r in _own_gardens(db) if _is_there(r.garden.place, garden.place)), None)
    known = None if there is None else weather.in_use(db, there.garden_id)
    garden_id = gardens.create(db, garden)
    if known is None:
        return RedirectResponse(request.url_for("weather", garden_id=garden_id), 303)
    weather.take(db, garden_id, known.id)
    return RedirectResponse(request.url_for("garden", garden_id=garden_id), 303)


def _filled_in(typed: Typed, where: Located | None, shown: Mapping[str, str]) -> dict[str, str]:
    """What was typed, and what the town says where the fields stand empty, or as they were shown."""
    units_of = quantities.US_UNITS_IN if typed.get("units") == System.US else ""
    country = units_of if where is None else where.place.country
    units = typed.get("units") or quantities.usual_system(country)
    filled = dict(typed) | {"hose_thread": goods.hose_thread_in(country), "units": units}
    if where is None:
        return filled
    told = {
        "latitude_deg": f"{where.latitude}",
        "elevation_m": f"{where.place.elevation_m} m",
    }
    for name, value in told.items():
        if filled.get(name, "") in ("", shown.get(name, "")):
            filled[name] = value
    return filled


def _is_there(one: Place, other: Place) -> bool:
    """Whether the weather of one place is that of the other."""
    return (
        abs(one.latitude_deg - other.latitude_deg) <= SAME_DEG
        and abs(one.elevation_m - other.elevation_m) <= SAME_M
    )


@router.get("/gardens/{garden_id}/place", name="place")
def place_page(request: Request, garden_id: RowId, db: Db) -> Response:
    """Name, place and units of a garden."""
    desk = open_desk(request, db, garden_id)
    garden = desk.revision.garden
    typed = _typed_place(garden)
    history = gardens.history(db, garden_id)
    return render(request, "place.html", desk, typed=typed, errors={}, history=history)


@router.post("/gardens/{garden_id}/place", name="save_place")
def save_place(
    request: Request, garden_id: RowId, db: Db, typed: Typed, based_on: Annotated[int, Form()]
) -> Response:
    """Take name, place and units as typed."""
    values, errors = _read_place(typed)
    status = 422
    if not errors:
        try:
            garden = edits.replace(gardens.current(db, garden_id).garden, **values)
            gardens.save(db, garden_id, based_on, garden, "Name and place: changed")
            return RedirectResponse(request.url_for("place", garden_id=garden_id), 303)
        except StaleWriteError as error:
            errors, status = {"name": str(error)}, 409
    desk = open_desk(request, db, garden_id)
    history = gardens.history(db, garden_id)
    return render(request, "place.html", desk, status, typed=typed, errors=errors, history=history)


@router.post("/gardens/{garden_id}/units", name="switch_units")
def switch_units(
    request: Request,
    garden_id: RowId,
    db: Db,
    based_on: Annotated[int, Form()],
    back: Text = "catch",
    at: Text = "",
) -> Response:
    """Show the garden in the other system of units."""
    garden = gardens.current(db, garden_id).garden
    other = System.US if garden.units is System.METRIC else System.METRIC
    changed = edits.replace(garden, units=other)
    gardens.save(db, garden_id, based_on, changed, f"Units: {other}")
    return _back(request, garden_id, back, at)


@router.post("/gardens/{garden_id}/undo", name="undo")
def undo(
    request: Request, garden_id: RowId, db: Db, back: Text = "catch", at: Text = ""
) -> Response:
    """Step back one change."""
    gardens.undo(db, garden_id)
    return _back(request, garden_id, back, at)


@router.post("/gardens/{garden_id}/remove", name="remove_part")
def remove_part(
    request: Request,
    garden_id: RowId,
    db: Db,
    part_id: Text,
    based_on: Annotated[int, Form()],
    back: Text = "catch",
) -> Response:
    """Take a part out, with what cannot be without it. Undo brings all of it back."""
    garden = gardens.current(db, garden_id).garden
    part = next((p for p in garden.parts if p.id == part_id), None)
    if part is not None:
        try:
            changed = edits.remove(garden, part_id)
        except ValidationError as error:
            message = document.message_of(error.errors()[0], garden.units)
            raise HTTPException(422, f"“{part.name}” stays: {message}") from None
        gardens.save(db, garden_id, based_on, changed, f"{part.name}: removed")
    return _back(request, garden_id, back)


@router.post("/gardens/{garden_id}/redo", name="redo")
def redo(
    request: Request, garden_id: RowId, db: Db, back: Text = "catch", at: Text = ""
) -> Response:
    """Step forward again."""
    gardens.redo(db, garden_id)
    return _back(request, garden_id, back, at)


@router.get("/gardens/{garden_id}/garden.json", name="download_garden")
def download_garden(garden_id: RowId, db: Db) -> Response:
    """The garden document."""
    text = document.dumps(gardens.current(db, garden_id).garden)
    return download(text, "garden.json", "application/json")


@router.get("/gardens/{garden_id}/network.inp", name="download_network")
def download_network(garden_id: RowId, db: Db, at: str = "") -> Response:
    """The pipe network of a bed with the store full, for anyone to solve again."""
    garden = gardens.current(db, garden_id).garden
    try:
        text = network_file(zones.zone_named(garden, at))
        return download(text, "network.inp", "text/plain")
    except (PlanError, inp.InpError) as error:
        return PlainTextResponse(Gap.of(error).told(garden.units), 409)


@router.get("/quantity", name="quantity")
def quantity(kind: str, text: str = "", system: System = System.METRIC) -> dict[str, str]:
    """How a typed quantity is understood, in both systems; `error` if it is not."""
    if kind not in KINDS or len(text) > 60:
        return {"error": "Not a quantity."}
    try:
        value = quantities.parse(text, kind, system)
    except QuantityError as error:
        return {"error": str(error)}
    other = System.US if system is System.METRIC else System.METRIC
    shown = (quantities.show(value, kind, s, 4) for s in (system, other))
    return {"understood": " = ".join(dict.fromkeys(shown))}


def _read_place(typed: dict[str, str]) -> tuple[dict[str, object], dict[str, str]]:
    """Fields of a garden from the typed place, and what is wrong with them."""
    system = System.US if typed.get("units") == System.US else System.METRIC
    name = typed.get("name", "").strip()
    errors: dict[str, str] = {}
    place: dict[str, object] = {}
    if typed.get("hose_thread"):
        place["hose_thread"] = typed["hose_thread"]
    for field in ("latitude_deg", "elevation_m"):
        kind, said = quantity_of(Place.model_fields[field]), typed.get(field, "")
        try:
            is_latitude = field == "latitude_deg"
            place[field] = (
                latitudes.parse(said) if is_latitude else quantities.parse(said, kind, system)
            )
        except QuantityError as error:
            errors[field] = str(error)
    try:
        Place.model_validate(place)
    except ValidationError as error:
        for detail in error.errors():
            errors.setdefault(str(detail["loc"][0]), document.message_of(detail))
    if not 1 <= len(name) <= 60:
        errors["name"] = "Give the garden a name of up to 60 letters."
    return {"name": name, "units": system, "place": place}, errors


def _back(request: Request, garden_id: int, back: str, at: str = "") -> Response:
    pages = {"place", "weather", "card", "installation"}
    if back in pages:
        return RedirectResponse(request.url_for(back, garden_id=garden_id), 303)
    known = back if back in pages_of(request) else "catch"
    url = request.url_for("station", garden_id=garden_id, station=known)
    return RedirectResponse(url.include_query_params(at=at) if at else url, 303)


def download(text: str, name: str, kind: str) -> Response:
    """A file to be kept."""
    headers = {"content-disposition": f'attachment; filename="{name}"'}
    return Response(text, media_type=f"{kind}; charset=utf-8", headers=headers)
