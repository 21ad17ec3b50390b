"""A garden's forecast: brought as a file, or asked of the service's stand-in."""

from collections.abc import Sequence
from datetime import date, datetime
from typing import Annotated

from fastapi import APIRouter, File, Request, UploadFile
from starlette.responses import Response

from euhydra.devices.forecast_service import ForecastStandIn
from euhydra.devices.protocols import DeviceError, WeekForecast
from euhydra.formats import forecast_csv
from euhydra.formats.forecast_csv import ForecastFileError, ForecastRow
from euhydra.planner.answers import PlanError
from euhydra.planner.today.ahead import ForecastDay
from euhydra.records import forecasts
from euhydra.records.forecasts import KeptForecast
from euhydra.web.desk import Db, Desk, RowId, open_desk
from euhydra.web.pages import today
from euhydra.web.pages.station import back_to, show_page

router = APIRouter()

STAND_IN = "the program's stand-in for a weather service"


@router.post("/gardens/{garden_id}/forecast", name="bring_forecast")
def bring(
    request: Request, garden_id: RowId, db: Db, file: Annotated[UploadFile, File()]
) -> Response:
    """Take a forecast from a file."""
    desk = open_desk(request, db, garden_id)
    try:
        rows = forecast_csv.read(file.file.read().decode("utf-8-sig"))
        _checked(rows)
    except UnicodeDecodeError:
        return _refused(request, desk, "This is not a table of text: save it as CSV in UTF-8.")
    except ForecastFileError as error:
        return _refused(request, desk, str(error))
    except PlanError as error:
        return _refused(request, desk, error.sentence.told(desk.revision.garden.units))
    _keep(db, garden_id, file.filename or "a file", rows)
    return back_to(request, garden_id, today.PAGE.key)


def _checked(rows: Sequence[ForecastRow]) -> None:
    """Whether such days can be, and some of them are still to come.

    Raises
    ------
    PlanError, ForecastFileError
    """
    for row in rows:
        ForecastDay(row.day, row.rain, row.chance, row.lowest, row.highest)
    if not any(row.day >= date.today() for row in rows):
        last = max((row.day.isoformat() for row in rows), default="")
        raise ForecastFileError(
            f"This forecast ends on {last}, before this morning: bring a newer one."
            if last
            else "There is no day in it: a line each, such as 2026-07-12,4.5."
        )


@router.post("/gardens/{garden_id}/forecast/asked", name="ask_forecast")
def ask(request: Request, garden_id: RowId, db: Db) -> Response:
    """Take what the service tells."""
    desk = open_desk(request, db, garden_id)
    if desk.chain.record is None:
        return _refused(request, desk, "There is no weather yet: say where the garden is.")
    service: WeekForecast = ForecastStandIn(desk.chain.record)
    try:
        told = service.days_from(date.today())
    except DeviceError as error:
        return _refused(request, desk, str(error))
    rows = [
        ForecastRow(
            d.day, round(d.rain, 1), round(d.chance, 2), round(d.lowest, 1), round(d.highest, 1)
        )
        for d in told
    ]
    _keep(db, garden_id, STAND_IN, rows)
    return back_to(request, garden_id, today.PAGE.key)


@router.post("/gardens/{garden_id}/forecast/forgotten", name="forget_forecast")
def forget(request: Request, garden_id: RowId, db: Db) -> Response:
    """Go without a forecast again."""
    forecasts.forget(db, garden_id)
    return back_to(request, garden_id, today.PAGE.key)


def _keep(db: Db, garden_id: int, told_by: str, rows: Sequence[ForecastRow]) -> None:
    kept = KeptForecast(told_by, forecast_csv.write(rows), datetime.now())
    forecasts.keep(db, garden_id, kept)


def _refused(request: Request, desk: Desk, fault: str) -> Response:
    return show_page(request, desk, today.PAGE, status=422, faults={"forecast": fault})
