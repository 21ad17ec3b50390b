"""Before the home network stands a gate: a passphrase, and a session for each device that knows it."""

from collections import OrderedDict
from pathlib import Path
from threading import Lock
from time import monotonic
from typing import Annotated
from urllib.parse import quote

from fastapi import APIRouter, Form, Request
from starlette.datastructures import URL
from starlette.requests import HTTPConnection
from starlette.responses import PlainTextResponse, RedirectResponse, Response
from starlette.types import ASGIApp, Receive, Scope, Send

from euhydra.garden.sentences import counted
from euhydra.records import passphrase, sessions
from euhydra.records.sessions import Session
from euhydra.web.desk import RowId, render

COOKIE = "euhydra-session"

TRIES, PAUSE = 5, 60.0
"""Passphrases tried from one address before it has to wait, and how long. [s]"""

MOST_ADDRESSES = 1000

THIS_COMPUTER = ("127.0.0.1", "::1")
"""Its owner sits before it, and never has to wait."""

OPEN_PATHS = ("/enter", "/static/", "/sw.js", "/feed/", "/contrast")
"""What may be seen from before the gate; calendars bring an address that nobody guesses instead."""

router = APIRouter()


class Throttle:
    """Counts tries by address, before they are looked at; the oldest are forgotten first."""

    def __init__(self) -> None:
        self._tries: OrderedDict[str, tuple[int, float]] = OrderedDict()
        self._lock = Lock()

    def begin(self, address: str) -> float:
        """Count a try; more than none is how long this address has to wait instead. [s]"""
        if address in THIS_COMPUTER:
            return 0.0
        with self._lock:
            count, last = self._tries.pop(address, (0, 0.0))
            waits = last + PAUSE - monotonic()
            if count >= TRIES and waits > 0:
                self._tries[address] = (count, last)
                return waits
            self._tries[address] = (1 if count >= TRIES else count + 1, monotonic())
            while len(self._tries) > MOST_ADDRESSES:
                self._tries.popitem(last=False)
            return 0.0

    def right(self, address: str) -> None:
        """It was the right one: nothing is held against the address."""
        with self._lock:
            self._tries.pop(address, None)


class Gate:
    """Lets through who has a session; the others are sent to the passphrase."""

    def __init__(self, app: ASGIApp, data: Path) -> None:
        self.app = app
        self.data = data

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass the request on, or turn it back."""
        if scope["type"] != "http" or self._may_pass(HTTPConnection(scope)):
            await self.app(scope, receive, send)
            return
        answer: Response = PlainTextResponse("The passphrase is wanted first.", 401)
        if scope["method"] == "GET" and "text/html" in HTTPConnection(scope).headers.get(
            "accept", ""
        ):
            back = quote(str(URL(scope=scope).replace(scheme="", netloc="")), safe="")
            answer = RedirectResponse(f"/enter?back={back}", 303)
        await answer(scope, receive, send)

    def _may_pass(self, request: HTTPConnection) -> bool:
        path = request.url.path
        if any(path == p or (p.endswith("/") and path.startswith(p)) for p in OPEN_PATHS):
            return True
        return session_of(request, self.data) is not None


def session_of(request: HTTPConnection, data: Path) -> Session | None:
    """The session that a request shows."""
    return sessions.find(data, request.cookies.get(COOKIE, ""), sessions.moment())


@router.get("/enter", name="enter")
def enter_page(request: Request, back: str = "/") -> Response:
    """Asks for the passphrase."""
    return render(request, "enter.html", back=back, fault="")


@router.post("/enter", name="entered")
def entered(
    request: Request,
    phrase: Annotated[str, Form(max_length=1000)] = "",
    back: Annotated[str, Form()] = "/",
) -> Response:
    """Takes the passphrase, and goes on to the page that was wanted."""
    data: Path = request.app.state.data
    throttle: Throttle = request.app.state.throttle
    address = request.client.host if request.client else ""
    waits = throttle.begin(address)
    if waits > 0:
        fault = f"Too many wrong tries: wait {counted(round(waits), 'second')}, then try again."
        return render(request, "enter.html", None, 429, back=back, fault=fault)
    if not passphrase.is_right(data, phrase):
        fault = "That is not the passphrase. It was chosen on the computer that keeps the gardens."
        return render(request, "enter.html", None, 403, back=back, fault=fault)
    throttle.right(address)
    token = sessions.begin(data, _device(request, address), sessions.moment())
    answer = RedirectResponse(own_path(back), 303)
    answer.set_cookie(
        COOKIE,
        token,
        max_age=int(sessions.LASTS.total_seconds()),
        httponly=True,
        samesite="lax",
        secure=request.url.scheme == "https",
    )
    return answer


@router.get("/devices", name="devices")
def devices_page(request: Request) -> Response:
    """Every device that may come in, and when it was last here."""
    data: Path = request.app.state.data
    here = session_of(request, data)
    return render(request, "devices.html", devices=sessions.every(data), this=here)


@router.post("/devices/{session_id}/end", name="end_session")
def end_session(request: Request, session_id: RowId) -> Response:
    """Let a device in no more; its own way out is the same."""
    data: Path = request.app.state.data
    here = session_of(request, data)
    sessions.end(data, session_id)
    if here is not None and here.id != session_id:
        return RedirectResponse(request.url_for("devices"), 303)
    answer = RedirectResponse(request.url_for("enter"), 303)
    answer.delete_cookie(COOKIE)
    return answer


def _device(request: Request, address: str) -> str:
    """Words that tell one device of the house from another."""
    agent = request.headers.get("user-agent", "")
    kind = "A phone" if "Mobile" in agent else "A computer or tablet" if agent else "A program"
    return f"{kind} at {address}"


def own_path(back: str) -> str:
    """A path of this program, never another site's address."""
    is_own = back.startswith("/") and not back.startswith(("//", "/\\")) and "\n" not in back
    return back if is_own else "/"
