"""The web application, put together."""

import mimetypes
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
from euhydra.web.desk import render
from euhydra.web.gate import Gate, Throttle
from euhydra.web.kept import KeptResults
from euhydra.web.pages import (
    backups,
    bench,
    gardens,
    judge,
    labels,
    lay,
    log,
    need,
    plan_edits,
    programme_files,
    push,
    report,
    shopping,
    stations,
    steps,
    store,
    time,
    tracing,
    upkeep,
    weather,
    weather_library,
    years,
)
from euhydra.web.rendering import HERE
from euhydra.web.security import LimitedBody, SameOriginWrites, SecurityHeaders

ROUTED = (
    backups,
    gardens,
    weather,
    weather_library,
    store,
    plan_edits,
    lay,
    push,
    tracing,
    need,
    time,
    programme_files,
    bench,
    years,
    shopping,
    steps,
    labels,
    log,
    judge,
    upkeep,
    report,
    stations,  # last: its paths would take the others'
)
"""Modules with routes of their own."""

LOCAL_HOSTS = ["127.0.0.1", "localhost"]

RECORDS = 4
"""Weather records whose days are kept."""

ANSWERS = 96
"""Answers of pages that are kept."""


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
    app.state.pages = stations.PAGES
    app.state.chains = KeptResults[Chain]()
    app.state.records = KeptResults[DailyWeather](RECORDS)
    app.state.size_curves = KeptResults[SizeCurve]()
    app.state.answers = KeptResults[Any](ANSWERS)
    app.state.benches = dict[int, BenchRun]()
    mimetypes.add_type("application/manifest+json", ".webmanifest")
    app.mount("/static", StaticFiles(directory=HERE / "static"), name="static")
    for module in ROUTED:
        app.include_router(module.router)
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
        request,
        "error.html",
        status=422,
        message="The address or the form is not one of this program's. Nothing was changed.",
    )


def _broken(request: Request, error: Exception) -> Response:
    """The last resort; the server's log has the particulars."""
    message = (
        "The program failed on this page, which is its fault, not yours. What was saved is safe; "
        "undo the last change if the page keeps failing."
    )
    return render(request, "error.html", status=500, message=message)
