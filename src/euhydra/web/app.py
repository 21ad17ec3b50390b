"""The web application, put together."""

import mimetypes
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.staticfiles import StaticFiles
from starlette.exceptions import HTTPException
from starlette.responses import JSONResponse, RedirectResponse, Response
from starlette.routing import Match

from euhydra.core.weather import DailyWeather
from euhydra.planner.chain import Chain
from euhydra.planner.store.sizing import SizeCurve
from euhydra.records import database
from euhydra.records.gardens import NoSuchGardenError, StaleWriteError
from euhydra.web import gate
from euhydra.web.bench_room import BenchRoom
from euhydra.web.desk import render
from euhydra.web.gate import Gate, Throttle
from euhydra.web.kept import KeptResults
from euhydra.web.pages import (
    backups,
    beginning,
    bench,
    calendar_feed,
    contrast,
    cures,
    forecasts,
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
    weather_files,
    weather_library,
    weather_places,
    years,
)
from euhydra.web.rendering import HERE
from euhydra.web.security import LastResort, LimitedBody, OwnRequests, SecurityHeaders
from euhydra.web.troubles import trouble_of

ROUTED = (
    backups,
    gardens,
    beginning,
    cures,
    weather,
    weather_files,
    weather_library,
    weather_places,
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
    calendar_feed,
    forecasts,
    contrast,
    stations,  # last: its paths would take the others'
)
"""Modules with routes of their own."""

LOCAL_HOSTS = ["127.0.0.1", "localhost"]

RECORDS = 4
"""Weather records whose days are kept."""

CURES_AFTER_MS = 800
"""Time after which a page that is still looked at asks for cures. [ms]"""


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
    # Held open, so that reading goes on where no file can be made any more: SQLite removes its
    # write-ahead log with the last connection, and a full disk has no room for another.
    app.state.held = database.connect(app.state.database)
    app.state.data = data
    app.state.pages = stations.PAGES
    app.state.chains = KeptResults[Chain]()
    app.state.records = KeptResults[DailyWeather](RECORDS)
    app.state.size_curves = KeptResults[SizeCurve]()
    app.state.answers = KeptResults[KeptResults[Any]]()
    app.state.benches = BenchRoom()
    app.state.cures_after_ms = CURES_AFTER_MS
    mimetypes.add_type("application/manifest+json", ".webmanifest")
    app.mount("/static", StaticFiles(directory=HERE / "static"), name="static")
    for module in ROUTED:
        app.router.routes.extend(module.router.routes)
    app.add_middleware(LimitedBody)
    app.state.has_gate = bool(home_hosts)
    app.state.home_hosts = tuple(home_hosts)
    if home_hosts:
        app.state.throttle = Throttle()
        app.router.routes.extend(gate.router.routes)
        app.add_middleware(Gate, data=data)
    app.add_middleware(OwnRequests, hosts=[*LOCAL_HOSTS, *home_hosts])
    app.add_middleware(LastResort, answer=_broken)
    app.add_middleware(SecurityHeaders)
    app.add_exception_handler(NoSuchGardenError, _not_found)
    app.add_exception_handler(StaleWriteError, _stale)
    app.add_exception_handler(HTTPException, _http_error)
    app.add_exception_handler(RequestValidationError, _bad_request)
    return app


def _not_found(request: Request, error: Exception) -> Response:
    return _failed(request, 404, str(error))


def _stale(request: Request, error: Exception) -> Response:
    return _failed(request, 409, str(error))


def _http_error(request: Request, error: Exception) -> Response:
    assert isinstance(error, HTTPException)
    if request.method == "GET" and (page := _page_of_form(request)):
        return RedirectResponse(page, 303)
    message = IN_OUR_WORDS.get(error.detail, error.detail)
    if error.status_code == 400:
        message = UNREADABLE
    return _failed(request, error.status_code, message)


def _page_of_form(request: Request) -> str | None:
    """Where an address takes forms only, as after a refused one: the page above it."""
    path: str = request.scope["path"]
    if _match(request, path) is not Match.PARTIAL:
        return None
    while path := path.rpartition("/")[0]:
        if _match(request, path) is Match.FULL:
            return path
    return "/"


def _match(request: Request, path: str) -> Match:
    """Whether some route takes the path: as it is asked for, in another way only, or none."""
    scope = {**request.scope, "path": path}
    found = {route.matches(scope)[0] for route in request.app.routes}
    return next((m for m in (Match.FULL, Match.PARTIAL) if m in found), Match.NONE)


UNREADABLE = (
    "What was sent cannot be read: it is cut short, or not what a form of this program sends. "
    "Nothing was changed. Go back, load the page again, and send it once more."
)

IN_OUR_WORDS = {
    "Not Found": "There is no such page.",
    "Method Not Allowed": "This address does not take that. Nothing was changed.",
}


def _bad_request(request: Request, error: Exception) -> Response:
    message = "The address or the form is not one of this program's. Nothing was changed."
    return _failed(request, 422, message)


def _broken(request: Request, error: Exception) -> Response:
    """The last resort; the server's log has the particulars."""
    if trouble := trouble_of(error):
        return _failed(request, trouble.status, trouble.message)
    message = (
        "The program failed on this page, which is its fault, not yours. What was saved is safe; "
        "undo the last change if the page keeps failing."
    )
    return _failed(request, 500, message)


def _failed(request: Request, status: int, message: str) -> Response:
    """A page with a way back; where a script asked, the message alone."""
    if "application/json" in (request.headers.get("accept", ""), _sent_as(request)):
        return JSONResponse({"message": message}, status)
    return render(request, "error.html", status=status, message=message)


def _sent_as(request: Request) -> str:
    return request.headers.get("content-type", "").partition(";")[0].strip()
