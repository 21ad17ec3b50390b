"""The garden's weather: usual months typed by hand, or a daily file brought in."""

from typing import Annotated, Any

import numpy as np
from fastapi import APIRouter, File, HTTPException, Request, UploadFile
from starlette.responses import RedirectResponse, Response

from euhydra.core.constants import MM_PER_M
from euhydra.core.weather import DailyWeather
from euhydra.formats import weather_csv
from euhydra.formats.weather_columns import (
    DATE_ORDER,
    NEEDED,
    OURS,
    SPOKEN,
    UnitsNeededError,
    WeatherFileError,
    WeatherValueError,
)
from euhydra.garden import climate_kinds, normals, quantities, reference_climates
from euhydra.garden.normals import NormalsError
from euhydra.garden.quantities import KINDS, QuantityError, System
from euhydra.garden.sentences import lowered
from euhydra.records import gardens, uploads, weather
from euhydra.records.uploads import SaidOfFile, Upload
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

UNIT_WORDS = {
    "mm": "millimetres",
    "cm": "centimetres",
    "in": "inches",
    "tenth_mm": "tenths of a millimetre",
    "c": "degrees Celsius",
    "f": "degrees Fahrenheit",
    "tenth_c": "tenths of a degree Celsius",
    "k": "kelvin",
    "pct": "percent",
    "m_s": "metres a second",
    "km_h": "kilometres an hour",
    "mph": "miles an hour",
    "kn": "knots",
    "mj_m2": "megajoules a square metre",
}

COLUMN_WORDS = {
    "": "left out",
    DATE_ORDER: "the date",
    "precip": "rain",
    "tmin": "lowest temperature",
    "tmax": "highest temperature",
    "et0": "reference need (ET0)",
    "rhmin": "lowest humidity",
    "rhmax": "highest humidity",
    "wind": "wind",
    "solar": "sunshine, as energy",
}
"""What a column of a file may be."""

ORDERS = {"dm": "day first, 31/5/2020", "md": "month first, 5/31/2020"}

NO_TEMPERATURES = (
    "Has the file no temperatures? Choose a town first: its usual ones stand in for them."
)

MOST_GAPS_SHOWN = 12


REMAINING_FAULTS = (
    "Not in them: the greatest storms of a lifetime, and any trend. Where winters are cold and summers hot, "
    "the hottest day of a year comes out a few degrees too hot."
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


@router.post("/gardens/{garden_id}/weather/file", name="upload_weather")
def upload_weather(
    request: Request, garden_id: RowId, db: Db, file: Annotated[UploadFile | None, File()] = None
) -> Response:
    """Take a daily file: straight in, or with a question about its units or gaps first."""
    desk = open_desk(request, db, garden_id)
    raw = file.file.read() if file else b""
    if file is None or not raw:
        fault = "Choose a file first: this one is empty." if file else "Choose a file first."
        return show_weather(request, desk, db, 422, file_fault=fault)
    try:
        text = weather_csv.decode(raw)
    except WeatherFileError as error:
        return show_weather(request, desk, db, 422, file_fault=str(error))
    upload_id = uploads.keep(db, garden_id, (file.filename or "weather.csv")[:80], text)
    return _take_in(request, desk, db, upload_id, _known_of(db, text), fill=False)


@router.post("/gardens/{garden_id}/weather/file/{upload_id}", name="answer_upload")
def answer_upload(
    request: Request, garden_id: RowId, upload_id: RowId, db: Db, typed: Typed
) -> Response:
    """Take in a file that waited for an answer."""
    desk = open_desk(request, db, garden_id)
    upload = uploads.find(db, garden_id, upload_id)
    said = _said(typed, upload.text) if upload else SaidOfFile()
    return _take_in(request, desk, db, upload_id, said, fill="fill" in typed)


@router.post("/gardens/{garden_id}/weather/use/{record_id}", name="use_weather")
def use_weather(request: Request, garden_id: RowId, record_id: RowId, db: Db) -> Response:
    """Plan with a record the garden had before."""
    if not weather.use(db, garden_id, record_id):
        raise HTTPException(404, "This weather record is not there.")
    return RedirectResponse(request.url_for("weather", garden_id=garden_id), 303)


def _take_in(
    request: Request, desk: Desk, db: Db, upload_id: int, said: SaidOfFile, fill: bool
) -> Response:
    garden_id = desk.revision.garden_id
    upload = uploads.find(db, garden_id, upload_id)
    if upload is None:
        return show_weather(
            request, desk, db, 409, file_fault="The file is no longer here: choose it again."
        )
    months = desk.weather.normals if desk.weather else None
    try:
        sheet = weather_csv.sheet(upload.text, said.columns)
        lacks = [n for n in ("tmin", "tmax") if n not in sheet.names]
        # A gauge log has no temperatures: those of the usual months stand in.
        needed = ("precip",) if len(lacks) == 2 and months else tuple(NEEDED)
        read = weather_csv.read(upload.text, said.units, needed, said.columns)
    except WeatherFileError as error:
        question = _about_columns(upload, said, error)
        if question is None or isinstance(error, WeatherValueError):
            name = upload.name
            return show_weather(request, desk, db, 422, file_fault=str(error), file_name=name)
        if {"tmin", "tmax"}.isdisjoint(question["sheet"].names) and not months:
            question["fault"] = f"{question['fault']} {NO_TEMPERATURES}"
        return show_weather(request, desk, db, question=question)
    if said.columns or said.units:
        uploads.remember(db, sheet.shape, said)
    if read.gaps and not fill:
        shown = list(read.gaps.items())[:MOST_GAPS_SHOWN]
        gaps = [(day, [SPOKEN[name] for name in lacking]) for day, lacking in shown]
        question = {
            "upload": upload,
            "gaps": gaps,
            "gap_count": len(read.gaps),
            "units": said.units,
            "columns": [said.columns.get(header, "") for header in sheet.header]
            if said.columns
            else [],
        }
        return show_weather(request, desk, db, question=question)
    record = weather_csv.fill_gaps(read) if read.gaps else read.record()
    notes = _notes(read, sheet)
    if "tmin" not in needed and months and desk.weather:
        record = normals.with_temperatures_of(record, months)
        notes = f"{notes} Temperatures are those of “{desk.weather.name}”: the file has none."
    weather.add(db, garden_id, record, upload.name, notes=notes)
    uploads.forget(db, upload_id)
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
        rain_a_year=_rain_a_year(desk),
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


def _rain_a_year(desk: Desk) -> str:
    """What the usual months in use come to, which a gauge may set right; "" for a daily file."""
    info, system = desk.weather, desk.revision.garden.units
    if info is None or info.normals is None:
        return ""
    rain = sum(mm or 0.0 for mm in info.normals["precip_mm"]) / MM_PER_M
    return quantities.show(rain, "rain", system)


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
    return {
        f"{column}-{month}": quantities.show_number(_inside(value, kind), kind, system, 4)
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
        f"{years} years of days made up from the twelve months. They swing as where it is like this: "
        f"{lowered(kind.name)} ({lowered(kind.source)}). Heat, dry spells and dry years come as there; "
        f"each month's mean is as typed. {REMAINING_FAULTS}"
    )


def _known_of(db: Db, text: str) -> SaidOfFile:
    """What was said of the last file of that shape."""
    try:
        return uploads.remembered(db, weather_csv.sheet(text).shape)
    except WeatherFileError:
        return SaidOfFile()


def _about_columns(
    upload: Upload, said: SaidOfFile, error: WeatherFileError
) -> dict[str, Any] | None:
    """The first rows with what each column is taken for; None where it is no table of days."""
    try:
        sheet = weather_csv.sheet(upload.text, said.columns)
    except WeatherFileError:
        return None
    needed = error.needed if isinstance(error, UnitsNeededError) else {}
    units = [
        said.units.get(name) or said.units.get("temp", "") or likely
        for name, likely in zip(sheet.names, sheet.units, strict=True)
    ]
    return {
        "upload": upload,
        "sheet": sheet,
        "units": units,
        "fault": str(error),
        "names": COLUMN_WORDS,
        "unit_words": UNIT_WORDS,
        "orders": ORDERS if DATE_ORDER in needed or DATE_ORDER in said.units else {},
    }


def _said(typed: dict[str, str], text: str) -> SaidOfFile:
    """What was chosen of each column, by its header; nothing of one that is left as it is taken."""
    try:
        sheet = weather_csv.sheet(text)
    except WeatherFileError:
        return SaidOfFile({}, _units(typed))
    columns = {
        header: typed[f"column-{i}"]
        for i, header in enumerate(sheet.header)
        if f"column-{i}" in typed
    }
    units = dict(_units(typed))
    for i in range(len(sheet.header)):
        name, unit = typed.get(f"column-{i}", ""), typed.get(f"unit-of-{i}", "")
        if name in OURS and unit in OURS[name].units:
            units[name] = unit
    return SaidOfFile(columns, units)


def _notes(read: weather_csv.WeatherFile, sheet: weather_csv.Sheet) -> str:
    taken = (
        f"“{header}” as {COLUMN_WORDS[name]}"
        for header, name in zip(sheet.header, sheet.names, strict=True)
        if name
    )
    notes = [f"{len(read.days)} days. Taken: {', '.join(taken)}."]
    if read.left_out:
        notes.append("Columns not understood and left out: " + ", ".join(read.left_out) + ".")
    if read.gaps:
        notes.append(
            f"{len(read.gaps)} days were missing or incomplete and are filled: no rain, temperatures "
            "straight across."
        )
    return " ".join(notes)


def _units(typed: dict[str, str]) -> dict[str, str]:
    prefix = "unit-"
    return {
        name.removeprefix(prefix): value
        for name, value in typed.items()
        if name.startswith(prefix) and value and not name.startswith("unit-of-")
    }
