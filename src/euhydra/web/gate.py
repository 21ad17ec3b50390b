"""Before the home network stands a gate: a passphrase, and a session for those who know it."""

from collections import OrderedDict
from pathlib import Path
from threading import Lock
from time import monotonic
from typing import Annotated
from urllib.parse import quote

from fastapi import APIRouter, Form, Request
from itsdangerous import BadSignature, TimestampSigner
from starlette.datastructures import URL
from starlette.requests import HTTPConnection
from starlette.responses import PlainTextResponse, RedirectResponse, Response
from starlette.types import ASGIApp, Receive, Scope, Send

from euhydra.records import passphrase
from euhydra.web.desk import render

COOKIE = "euhydra-session"

LASTS = 90 * 86400
"""A session. [s]"""

TRIES, PAUSE = 5, 60.0
"""Wrong passphrases from one address before it has to wait, and how long. [s]"""

MOST_ADDRESSES = 1000

OPEN_PATHS = ("/enter", "/static/", "/sw.js")
"""What may be seen from before the gate."""

router = APIRouter()


class Throttle:
    """Counts wrong tries by address; the oldest are forgotten first."""

    def __init__(self) -> None:
        self._tries: OrderedDict[str, tuple[int, float]] = OrderedDict()
        self._lock = Lock()

    def waits(self, address: str) -> float:
        """How long an address still has to wait. [s]"""
        with self._lock:
            count, last = self._tries.get(address, (0, 0.0))
            return max(0.0, last + PAUSE - monotonic()) if count >= TRIES else 0.0

    def wrong(self, address: str) -> None:
        """A wrong try."""
        with self._lock:
            count, last = self._tries.pop(address, (0, 0.0))
            fresh = monotonic() - last < PAUSE
            self._tries[address] = (count + 1 if fresh or count < TRIES else 1, monotonic())
            while len(self._tries) > MOST_ADDRESSES:
                self._tries.popitem(last=False)

    def right(self, address: str) -> None:
        """The right one: nothing is held against the address."""
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
        try:
            signer(self.data).unsign(request.cookies.get(COOKIE, ""), max_age=LASTS)
        except BadSignature:
            return False
        return True


def signer(data: Path) -> TimestampSigner:
    """Signs sessions with the key of the present passphrase."""
    return TimestampSigner(passphrase.session_key(data), salt="session")


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
    waits = throttle.waits(address)
    if waits > 0:
        fault = f"Too many wrong tries: wait {waits:.0f} seconds, then try again."
        return render(request, "enter.html", None, 429, back=back, fault=fault)
    if not passphrase.is_set(data) or not passphrase.is_right(data, phrase):
        throttle.wrong(address)
        fault = "That is not the passphrase. It was chosen on the computer that keeps the gardens."
        return render(request, "enter.html", None, 403, back=back, fault=fault)
    throttle.right(address)
    answer = RedirectResponse(_own_path(back), 303)
    answer.set_cookie(
        COOKIE, signer(data).sign("in").decode(), max_age=LASTS, httponly=True, samesite="lax"
    )
    return answer


def _own_path(back: str) -> str:
    """A path of this program, never another site's address."""
    is_own = back.startswith("/") and not back.startswith(("//", "/\\")) and "\n" not in back
    return back if is_own else "/"
