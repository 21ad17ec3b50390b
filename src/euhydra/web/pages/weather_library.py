"""The weather library: records joined, forgotten, and years made up like a record."""

import numpy as np
from fastapi import APIRouter, HTTPException, Request
from starlette.responses import RedirectResponse, Response

from euhydra.core import joining
from euhydra.garden import climate_kinds, normals, quantities
from euhydra.garden.quantities import QuantityError
from euhydra.garden.sentences import counted
from euhydra.records import weather
from euhydra.records.weather import RecordInfo
from euhydra.web.desk import Db, RowId, Typed, open_desk
from euhydra.web.pages.weather import REMAINING_FAULTS, show_weather

router = APIRouter()

MOST_YEARS = 60
"""Most years that are made up at once."""

SEED = 20120229
"""Seed of the days that fill gaps: the same records always join to the same days."""


@router.post("/gardens/{garden_id}/weather/take/{record_id}", name="take_weather")
def take_weather(request: Request, garden_id: RowId, record_id: RowId, db: Db) -> Response:
    """Plan with what another garden is planned with."""
    open_desk(request, db, garden_id)
    if not weather.take(db, garden_id, record_id):
        raise HTTPException(404, "This weather record is not there.")
    return _back(request, garden_id)


@router.post("/gardens/{garden_id}/weather/join", name="join_weather")
def join_weather(request: Request, garden_id: RowId, db: Db, typed: Typed) -> Response:
    """Make one record of two; where they disagree the owner has to say which to trust."""
    desk = open_desk(request, db, garden_id)
    first, second = (_record(db, garden_id, typed.get(name, "")) for name in ("first", "second"))
    if first is None or second is None or first.id == second.id:
        return show_weather(request, desk, db, 422, join_fault="Choose two different records.")
    trusted, other = weather.days(db, first.id), weather.days(db, second.id)
    apart = joining.disagreements(trusted, other)
    if len(apart) and "trust" not in typed:
        question = {
            "first": first,
            "second": second,
            "days": len(apart),
            "on": str(apart[0]),
        }
        return show_weather(request, desk, db, 422, join_question=question)
    try:
        joined = joining.join(
            trusted,
            other,
            climate_kinds.kind_of_record(trusted).swings,
            np.random.default_rng(SEED),
        )
    except ValueError as error:
        return show_weather(request, desk, db, 422, join_fault=f"They cannot be joined: {error}.")
    made_up = joining.spans(joined.record.days, joined.is_made_up)
    weather.add(
        db,
        garden_id,
        joined.record,
        f"{first.name} + {second.name}"[:120],
        origin="joined",
        notes=_joined_notes(first, second, int(joined.is_made_up.sum()), len(made_up)),
        made_up=made_up,
    )
    return _back(request, garden_id)


@router.post("/gardens/{garden_id}/weather/more", name="more_weather")
def more_weather(request: Request, garden_id: RowId, db: Db, typed: Typed) -> Response:
    """Make up years that are like a record."""
    desk = open_desk(request, db, garden_id)
    like = _record(db, garden_id, typed.get("like", ""))
    if like is None:
        return show_weather(request, desk, db, 422, more_fault="Choose a record to be like.")
    try:
        years = quantities.whole(typed.get("years", ""))
    except QuantityError as error:
        return show_weather(request, desk, db, 422, more_fault=str(error))
    if not 1 <= years <= MOST_YEARS:
        fault = f"Type how many years, 1 to {MOST_YEARS}."
        return show_weather(request, desk, db, 422, more_fault=fault)
    try:
        record = normals.make_years_like(weather.days(db, like.id), years)
    except ValueError as error:
        return show_weather(request, desk, db, 422, more_fault=f"Not possible: {error}.")
    notes = (
        f"{counted(years, 'year')} of days made up from the climate of “{like.name}”: rain after dry and wet days, heat "
        "on them, and what lasts for weeks (Richardson 1981, Wilks 1999). Single years differ as they do "
        f"there. {REMAINING_FAULTS}"
    )
    weather.add(
        db, garden_id, record, f"Years like {like.name}"[:120], notes=notes, origin="generated"
    )
    return _back(request, garden_id)


@router.post("/gardens/{garden_id}/weather/forget/{record_id}", name="forget_weather")
def forget_weather(request: Request, garden_id: RowId, record_id: RowId, db: Db) -> Response:
    """Forget a record that the garden is not planned with."""
    if not weather.remove(db, garden_id, record_id):
        raise HTTPException(409, "A record in use cannot be forgotten: plan with another first.")
    return _back(request, garden_id)


def _record(db: Db, garden_id: int, typed: str) -> RecordInfo | None:
    records = weather.records(db, garden_id)
    return next((record for record in records if str(record.id) == typed), None)


def _joined_notes(first: RecordInfo, second: RecordInfo, days: int, spans: int) -> str:
    notes = f"Where both have a day, “{first.name}” counts, else “{second.name}”."
    if days:
        notes += (
            f" Made up from the others, since neither has them: {counted(days, 'day')} in "
            f"{counted(spans, 'gap')}."
        )
    return notes


def _back(request: Request, garden_id: int) -> Response:
    return RedirectResponse(request.url_for("weather", garden_id=garden_id), 303)
