"""Weather by the name of a town: the usual months of a place that ships with the program."""

from fastapi import APIRouter, HTTPException, Request
from starlette.responses import RedirectResponse, Response

from euhydra.core.constants import MM_PER_M
from euhydra.garden import normals, reference_climates
from euhydra.garden.model import Garden
from euhydra.garden.normals import NormalsError
from euhydra.garden.quantities import QuantityError, System, parse, show
from euhydra.garden.reference_climates import SOURCE, Located, ReferenceClimate
from euhydra.records import weather
from euhydra.web.desk import Db, RowId, Typed, open_desk
from euhydra.web.pages.weather import made_up, show_weather

router = APIRouter()

Months = dict[str, list[float | None]]

USUAL_MONTHS = "Usual months of "
"""How the weather of a town is called, before its name."""

WORTH_A_WORD = 50.0
"""Difference of height from which its warmth is said. [m] A third of a degree."""

FEWEST_TIMES, MOST_TIMES = 0.3, 3.0
"""A gauge's year over the months' that are still the same climate. [-] Our choice."""

MOST_NAMED = 4
"""Places that are named for one that is not known."""

ANOTHER = "That is another climate: choose another town, or type the months."


@router.post("/gardens/{garden_id}/weather/place", name="take_climate")
def take_climate(request: Request, garden_id: RowId, db: Db, typed: Typed) -> Response:
    """Plan with the usual months of a town."""
    desk = open_desk(request, db, garden_id)
    text = typed.get("town", "")
    where = reference_climates.located(text)
    if where is None:
        return show_weather(
            request, desk, db, 422, town=text, town_fault=not_known(text), like=_like(text)
        )
    give(db, garden_id, desk.revision.garden, where)
    return RedirectResponse(request.url_for("weather", garden_id=garden_id), 303)


@router.post("/gardens/{garden_id}/weather/right", name="put_right")
def put_right(request: Request, garden_id: RowId, db: Db, typed: Typed) -> Response:
    """Usual months with as much rain, and as hot summers, as their owner knows of a year."""
    desk = open_desk(request, db, garden_id)
    info, system = desk.weather, desk.revision.garden.units
    if info is None or info.normals is None:
        raise HTTPException(
            409, "Only usual months can be set right: a daily file says what it says."
        )
    columns, known, faults = _set_right(info.normals, typed, system)
    if not faults and known:
        try:
            made = normals.make_days(columns)
        except NormalsError as error:
            told = error.faults.get((normals.HOTTEST, 1))
            faults["hottest"] = told.told(system) if told else ANOTHER
    if faults or not known:
        faults = faults or {"rain": "Type at least one of them."}
        return show_weather(request, desk, db, 422, typed_right=typed, right_faults=faults)
    notes = f"Set right by what you know: {' and '.join(known)}. {made_up(made)}"
    weather.add(db, garden_id, made, info.name, columns, notes)
    return RedirectResponse(request.url_for("weather", garden_id=garden_id), 303)


def _set_right(
    months: Months, typed: Typed, system: System
) -> tuple[Months, list[str], dict[str, str]]:
    """The months, what was said of them in words, and what is wrong with what was typed."""
    known: list[str] = []
    faults: dict[str, str] = {}
    for name, kind in (("rain", "rain"), ("hottest", "temperature")):
        text = typed.get(name, "").strip()
        if not text:
            continue
        try:
            value = parse(text, kind, system)
            if name == "rain":
                months = _with_rain_of(months, value * MM_PER_M)
                known.append(f"{show(value, kind, system)} of rain a year")
            else:
                months = months | {normals.HOTTEST: [value]}
                known.append(f"hottest days of {show(value, kind, system)}")
        except QuantityError as error:
            faults[name] = str(error)
        except NormalsError:
            faults[name] = ANOTHER
    return months, known, faults


def _with_rain_of(months: Months, a_year: float) -> Months:
    """Usual months with so much rain in a year, each its part of it. [mm]

    Raises
    ------
    NormalsError : if that is another climate.
    """
    times = a_year / max(sum(mm or 0.0 for mm in months["precip_mm"]), 1e-9)
    if not FEWEST_TIMES <= times <= MOST_TIMES:
        raise NormalsError({})
    return months | {"precip_mm": [round((mm or 0.0) * times, 1) for mm in months["precip_mm"]]}


def give(db: Db, garden_id: int, garden: Garden, where: Located) -> None:
    """Plan a garden with the usual months of a place, at the garden's own height."""
    place = where.place
    columns = place.at_height(garden.place.elevation_m)
    record = normals.make_days(columns)
    weather.add(
        db,
        garden_id,
        record,
        f"{USUAL_MONTHS}{place.label}",
        columns,
        f"{_distance_told(where)}{_height_told(garden, place)}{SOURCE}. {made_up(record)}",
    )


def not_known(text: str) -> str:
    """What is said of a town that is not in the table, or of several that are meant."""
    said, like = f"“{text.strip():.40}”", _like(text)
    if len(like) == 1:
        return f"{said} is not known here. Is it {like[0]}?"
    if like:
        return f"{said} could be {'; '.join(like[:MOST_NAMED])}: choose one."
    return (
        f"{said} is not among the {len(reference_climates.all_places())} places known here: "
        "type a larger town with such weather, or latitude and longitude, such as 50.8, 4.4."
    )


def _like(text: str) -> list[str]:
    return [place.label for place in reference_climates.places_like(text)]


def _distance_told(where: Located) -> str:
    return f"The nearest known, {where.distance_km:.0f} km away. " if where.distance_km >= 1 else ""


def _height_told(garden: Garden, place: ReferenceClimate) -> str:
    higher = garden.place.elevation_m - place.elevation_m
    if abs(higher) < WORTH_A_WORD:
        return ""
    by = show(abs(higher), "elevation", garden.units, 2)
    cooler = "cooler" if higher > 0 else "warmer"
    which = "higher" if higher > 0 else "lower"
    return (
        f"Your garden lies {by} {which}, and is taken to be that much {cooler}: 0.65 °C for 100 m. "
    )
