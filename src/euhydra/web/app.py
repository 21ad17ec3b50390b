"""The web application, put together."""

from collections.abc import Sequence
from pathlib import Path
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.staticfiles import StaticFiles
from starlette.exceptions import HTTPException
from starlette.middleware.trustedhost import TrustedHostMiddleware
from starlette.responses import Response

from euhydra.core.weather import DailyWeather
from euhydra.planner.chain import Chain
from euhydra.planner.store.sizing import SizeCurve
from euhydra.records import database
from euhydra.records.gardens import NoSuchGardenError, StaleWriteError
from euhydra.web import gate
from euhydra.web.bench_room import BenchRun
from euhydra.web.desk import HERE, Recent, render
from euhydra.web.gate import Gate, Throttle
from euhydra.web.pages import (
    backups,
    bench,
    build,
    exports,
    gardens,
    growing,
    keep,
    keep_routes,
    library,
    plan,
    sheets,
    stations,
    tracing,
    weather,
)
from euhydra.web.security import LimitedBody, SameOriginWrites, SecurityHeaders

LOCAL_HOSTS = ["127.0.0.1", "localhost"]

RECORDS = 4
"""Weather records whose days are kept."""

SEASON_ANSWERS = 96
"""Answers of the seasons' pages that are kept."""


def create_app(data: Path, home_hosts: Sequence[str] = ()) -> FastAPI:
    """The application over a data folder, which is made or brought up to date.

    Parameters
    ----------
    home_hosts : Names and addresses under which the home network reaches it. With any, the
        passphrase stands before every page.

    Raises
    ------
    DatabaseError : if the folder cannot be used.
    """
    app = FastAPI(title="Euhydra", docs_url=None, redoc_url=None, openapi_url=None)
    app.state.database = database.prepare(data)
    app.state.data = data
    app.state.chains = Recent[Chain]()
    app.state.records = Recent[DailyWeather](RECORDS)
    app.state.size_curves = Recent[SizeCurve]()
    app.state.season_answers = Recent[Any](SEASON_ANSWERS)
    app.state.benches = dict[int, BenchRun]()
    app.mount("/static", StaticFiles(directory=HERE / "static"), name="static")
    app.include_router(backups.router)
    app.include_router(gardens.router)
    app.include_router(weather.router)
    app.include_router(library.router)
    app.include_router(sheets.router)
    app.include_router(plan.router)
    app.include_router(tracing.router)
    app.include_router(growing.router)
    app.include_router(exports.router)
    app.include_router(bench.router)
    app.include_router(build.router)
    app.include_router(keep.router)
    app.include_router(keep_routes.router)
    app.include_router(stations.router)  # last: its paths would take the others'
    app.add_middleware(LimitedBody)
    if home_hosts:
        app.state.throttle = Throttle()
        app.include_router(gate.router)
        app.add_middleware(Gate, data=data)
    app.add_middleware(SameOriginWrites)
    app.add_middleware(TrustedHostMiddleware, allowed_hosts=[*LOCAL_HOSTS, *home_hosts])
    app.add_middleware(SecurityHeaders)
    app.add_exception_handler(NoSuchGardenError, _not_found)
    app.add_exception_handler(StaleWriteError, _stale)
    app.add_exception_handler(HTTPException, _http_error)
    app.add_exception_handler(RequestValidationError, _bad_request)
    app.add_exception_handler(Exception, _broken)
    return app


def _not_found(request: Request, error: Exception) -> Response:
    return render(request, "error.html", status=404, message=str(error))


def _stale(request: Request, error: Exception) -> Response:
    return render(request, "error.html", status=409, message=str(error))


def _http_error(request: Request, error: Exception) -> Response:
    assert isinstance(error, HTTPException)
    message = error.detail if error.detail != "Not Found" else "There is no such page."
    return render(request, "error.html", status=error.status_code, message=message)


def _bad_request(request: Request, error: Exception) -> Response:
    return render(
        request, "error.html", status=422,
        message="The address or the form is not one of this program's. Nothing was changed.",
    )  # fmt: skip


def _broken(request: Request, error: Exception) -> Response:
    """The last resort; the server's log has the particulars."""
    message = (
        "The program failed on this page, which is its fault, not yours. What was saved is safe; "
        "undo the last change if the page keeps failing."
    )
    return render(request, "error.html", status=500, message=message)
