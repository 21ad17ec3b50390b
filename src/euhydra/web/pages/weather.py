"""The garden's weather: usual months typed by hand, or a daily file brought in."""

from typing import Any

import numpy as np
from fastapi import APIRouter, HTTPException, Request
from starlette.responses import RedirectResponse, Response

from euhydra.core.constants import MM_PER_M
from euhydra.core.weather import DailyWeather
from euhydra.garden import climate_kinds, normals, quantities, reference_climates
from euhydra.garden.normals import NormalsError
from euhydra.garden.quantities import KINDS, QuantityError, System
from euhydra.garden.sentences import counted, lowered
from euhydra.planner.need.usual_year import told_of
from euhydra.records import gardens, weather
from euhydra.records.weather import RecordInfo
from euhydra.web.desk import Db, Desk, RowId, Typed, open_desk, render
from euhydra.web.drawing import charts, climates

router = APIRouter()

NORMAL_COLUMNS = {
    "precip_mm": ("Rain", "rain"),
    "tmin_c": ("Lowest, mean", "temperature"),
    "tmax_c": ("Highest, mean", "temperature"),
    "wet_days": ("Wet days", "plain"),
}
"""Column of the typed months → label and kind of quantity."""

INCH_DECIMALS = {"rain": 2}
"""Decimals of a gauge that is read in inches. Common practice."""


REMAINING_FAULTS = (
    "Not in them: the greatest storms of a lifetime, and any trend. Where winters are cold and summers hot, the "
    "hottest day of a year comes out a few degrees too hot, unless you say what it reaches."
)
"""What made-up days lack, for their notes. The hottest day of a mean year: 43.7 °C beside the 39.9 of a
record in Nebraska, 31.6 beside 31.8 at Brussels, 41.3 beside 42.7 at Tunis."""


@router.get("/gardens/{garden_id}/weather", name="weather")
def weather_page(request: Request, garden_id: RowId, db: Db) -> Response:
    """What weather the garden is planned with."""
    return show_weather(request, open_desk(request, db, garden_id), db)


@router.post("/gardens/{garden_id}/weather/months", name="save_months")
def save_months(request: Request, garden_id: RowId, db: Db, typed: Typed) -> Response:
    """Take twelve usual months as typed, and make days of them."""
    desk = open_desk(request, db, garden_id)
    units = desk.revision.garden.units
    columns, errors = _read_months(typed, units)
    if not errors:
        try:
            record = normals.make_days(columns)
            weather.add(db, garden_id, record, "Usual months, typed", columns, made_up(record))
            return RedirectResponse(request.url_for("weather", garden_id=garden_id), 303)
        except NormalsError as error:
            errors = {f"{c}-{m}": told.told(units) for (c, m), told in error.faults.items()}
    return show_weather(request, desk, db, 422, typed=typed, errors=errors)


@router.post("/gardens/{garden_id}/weather/use/{record_id}", name="use_weather")
def use_weather(request: Request, garden_id: RowId, record_id: RowId, db: Db) -> Response:
    """Plan with a record the garden had before."""
    if not weather.use(db, garden_id, record_id):
        raise HTTPException(404, "This weather record is not there.")
    return RedirectResponse(request.url_for("weather", garden_id=garden_id), 303)


def show_weather(
    request: Request,
    desk: Desk,
    db: Db,
    status: int = 200,
    typed: dict[str, str] | None = None,
    errors: dict[str, str] | None = None,
    **more: Any,
) -> Response:
    """The page, with what was typed and what is wrong with it; `more` goes to the template."""
    system = desk.revision.garden.units
    record = desk.chain.record
    records = weather.records(db, desk.revision.garden_id)
    return render(
        request,
        "weather.html",
        desk,
        status,
        records=records,
        told=told_of(record) if record else None,
        usual=_usual(desk, record),
        places=[place.label for place in reference_climates.all_places()],
        elsewhere=weather.elsewhere(db, desk.revision.garden_id),
        garden_names={entry.id: entry.name for entry in gardens.all_gardens(db)},
        columns=NORMAL_COLUMNS,
        unit_signs={kind: KINDS[kind].display(system).sign for _, kind in NORMAL_COLUMNS.values()},
        typed=typed if typed is not None else _shown_months(desk, system),
        errors=errors or {},
        chart=charts.weather_chart(record, desk.revision.garden) if record else None,
        years=climates.years_of(record, desk.weather, system) if record and desk.weather else None,
        compared=_compared(db, desk, records),
        **more,
    )


def _usual(desk: Desk, record: DailyWeather | None) -> dict[str, str]:
    """What a year of the usual months in use comes to, which its owner may set right; nothing for a daily file."""
    info, system = desk.weather, desk.revision.garden.units
    if record is None or info is None or info.normals is None:
        return {}
    rain = sum(mm or 0.0 for mm in info.normals["precip_mm"]) / MM_PER_M
    return {
        "rain": quantities.show(rain, "rain", system),
        "hottest": quantities.show(normals.hottest_of(record), "temperature", system, 2),
    }


def _compared(db: Db, desk: Desk, records: list[RecordInfo]) -> list[climates.Compared]:
    """All records side by side, where there are several."""
    if len(records) < 2:
        return []
    days = [(info, weather.days(db, info.id)) for info in records]
    return climates.compare(days, desk.revision.garden)


def _shown_months(desk: Desk, system: System) -> dict[str, str]:
    typed = desk.weather.normals if desk.weather else None
    if not typed:
        return {}
    finest = INCH_DECIMALS if system is System.US else {}
    return {
        f"{column}-{month}": quantities.show_number(
            _inside(value, kind), kind, system, 4, finest.get(kind)
        )
        for column, (_, kind) in NORMAL_COLUMNS.items()
        for month, value in enumerate(typed[column], 1)
        if value is not None
    }


def _inside(value: float, kind: str) -> float:
    return value / 1000 if kind == "rain" else value  # rain is in metres inside


def _read_months(
    typed: dict[str, str], system: System
) -> tuple[dict[str, list[float | None]], dict[str, str]]:
    columns: dict[str, list[float | None]] = {name: [] for name in NORMAL_COLUMNS}
    errors: dict[str, str] = {}
    for column, (_, kind) in NORMAL_COLUMNS.items():
        for month in range(1, 13):
            text = typed.get(f"{column}-{month}", "").strip()
            value: float | None = None
            if text or column != "wet_days":
                try:
                    value = quantities.parse(text, kind, system) * (1000 if kind == "rain" else 1)
                except QuantityError as error:
                    errors[f"{column}-{month}"] = str(error)
            columns[column].append(value)
    return columns, errors


def made_up(record: DailyWeather) -> str:
    """How days were made up from twelve months, for the notes of their record."""
    years = len(np.unique(record.year))
    kind = climate_kinds.kind_of_record(record)
    return (
        f"{counted(years, 'year')} of days made up from the twelve months. They swing as where it is like this: "
        f"{lowered(kind.name)} ({lowered(kind.source)}). Heat, dry spells and dry years come as there; "
        f"each month's mean is as typed. {REMAINING_FAULTS}"
    )
