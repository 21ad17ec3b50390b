"""Weather by file: brought in, its columns set right by its owner, its gaps filled on their word."""

from typing import Annotated, Any

from fastapi import APIRouter, File, Form, Request, UploadFile
from starlette.responses import RedirectResponse, Response

from euhydra.formats import weather_csv, weather_sheet, weather_table
from euhydra.formats.weather_columns import (
    DATE_ORDER,
    NEEDED,
    OURS,
    SPOKEN,
    UnitsNeededError,
    WeatherFileError,
    WeatherValueError,
)
from euhydra.garden import normals
from euhydra.garden.sentences import counted
from euhydra.records import uploads, weather
from euhydra.records.uploads import SaidOfFile, Upload
from euhydra.web.desk import Db, Desk, RowId, Typed, open_desk
from euhydra.web.pages.weather import show_weather

router = APIRouter()

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

MOST_GAPS_SHOWN = 12

NO_TEMPERATURES = (
    "Has the file no temperatures? Choose a town first: its usual ones stand in for them."
)


@router.post("/gardens/{garden_id}/weather/file", name="upload_weather")
def upload_weather(
    request: Request,
    garden_id: RowId,
    db: Db,
    file: Annotated[UploadFile | None, File()] = None,
    look: Annotated[str, Form()] = "",
) -> Response:
    """Take a daily file: straight in, or with a question about its columns or gaps first.

    With `look` its columns are shown whether anything is unclear or not.
    """
    desk = open_desk(request, db, garden_id)
    raw = file.file.read() if file else b""
    if file is None or not raw:
        fault = "Choose a file first: this one is empty." if file else "Choose a file first."
        return show_weather(request, desk, db, 422, file_fault=fault)
    try:
        text = weather_table.decode(raw)
    except WeatherFileError as error:
        return show_weather(request, desk, db, 422, file_fault=str(error))
    upload_id = uploads.keep(db, garden_id, (file.filename or "weather.csv")[:80], text)
    known = _known_of(db, text)
    question = _about_columns(Upload(upload_id, file.filename or "", text), known)
    if look and question is not None:
        return show_weather(request, desk, db, question=question)
    return _take_in(request, desk, db, upload_id, known, fill=False)


@router.post("/gardens/{garden_id}/weather/file/{upload_id}", name="answer_upload")
def answer_upload(
    request: Request, garden_id: RowId, upload_id: RowId, db: Db, typed: Typed
) -> Response:
    """Take in a file that waited for an answer."""
    desk = open_desk(request, db, garden_id)
    upload = uploads.find(db, garden_id, upload_id)
    said = _said(typed, upload.text) if upload else SaidOfFile()
    return _take_in(request, desk, db, upload_id, said, fill="fill" in typed)


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
        sheet = weather_sheet.sheet(upload.text, said.columns)
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


def _known_of(db: Db, text: str) -> SaidOfFile:
    """What was said of the last file of that shape."""
    try:
        return uploads.remembered(db, weather_sheet.sheet(text).shape)
    except WeatherFileError:
        return SaidOfFile()


def _about_columns(
    upload: Upload, said: SaidOfFile, error: WeatherFileError | None = None
) -> dict[str, Any] | None:
    """The first rows with what each column is taken for; None where it is no table of days."""
    try:
        sheet = weather_sheet.sheet(upload.text, said.columns)
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
        "fault": str(error or ""),
        "names": COLUMN_WORDS,
        "unit_words": UNIT_WORDS,
        "orders": ORDERS if DATE_ORDER in needed or DATE_ORDER in said.units else {},
    }


def _said(typed: dict[str, str], text: str) -> SaidOfFile:
    """What was chosen of each column, by its header; nothing of one that is left as it is taken."""
    try:
        sheet = weather_sheet.sheet(text)
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


def _units(typed: dict[str, str]) -> dict[str, str]:
    prefix = "unit-"
    return {
        name.removeprefix(prefix): value
        for name, value in typed.items()
        if name.startswith(prefix) and value and not name.startswith("unit-of-")
    }


def _notes(read: weather_csv.WeatherFile, sheet: weather_sheet.Sheet) -> str:
    taken = (
        f"“{header}” as {COLUMN_WORDS[name]}"
        for header, name in zip(sheet.header, sheet.names, strict=True)
        if name
    )
    notes = [f"{counted(len(read.days), 'day')}. Taken: {', '.join(taken)}."]
    if read.left_out:
        notes.append("Columns not understood and left out: " + ", ".join(read.left_out) + ".")
    if read.gaps:
        notes.append(
            f"{counted(len(read.gaps), 'day')} missing or incomplete, filled: no rain, temperatures straight across."
        )
    return " ".join(notes)
