"""What stands between the network and the pages: headers, origin of writes, size of uploads.

Pure ASGI, because the framework's own middleware costs half a millisecond a request.
"""

import logging
from collections.abc import Callable, Sequence
from urllib.parse import urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.requests import Request
from starlette.responses import PlainTextResponse, Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

SECURITY_HEADERS = {
    "content-security-policy": (
        "default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; "
        "img-src 'self' data:; worker-src 'self'; manifest-src 'self'; connect-src 'self'; base-uri 'none'; form-action 'self'; "
        "frame-ancestors 'none'"
    ),
    "x-content-type-options": "nosniff",
    "referrer-policy": "same-origin",
    "cross-origin-opener-policy": "same-origin",
}

SHIPPED = "/static/"
"""Files of the program, which anybody may keep; everything else is somebody's garden."""

MOST_BODY = 10_000_000
"""Largest request body. [bytes]"""

MOST_BACKUP = 500_000_000
"""Largest backup that is taken. [bytes]"""

LARGER = {"/restore": MOST_BACKUP}
"""Paths that take more."""

MOST_FIGURES = 15
"""Figures of a length that is read at all."""

SAFE_METHODS = {"GET", "HEAD", "OPTIONS"}


class SecurityHeaders:
    """Adds the security headers to every answer."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass the request on."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return

        async def send_with_headers(message: Message) -> None:
            if message["type"] == "http.response.start":
                headers = MutableHeaders(scope=message)
                headers.update(SECURITY_HEADERS)
                if not scope["path"].startswith(SHIPPED):
                    headers.setdefault("cache-control", "no-store")
            await send(message)

        await self.app(scope, receive, send_with_headers)


class LastResort:
    """Answers in words where anything within fails, and tells the log the particulars."""

    def __init__(self, app: ASGIApp, answer: Callable[[Request, Exception], Response]) -> None:
        self.app = app
        self.answer = answer

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass the request on; what has begun to be answered cannot be answered otherwise."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        has_begun = False

        async def send_noted(message: Message) -> None:
            nonlocal has_begun
            has_begun = True
            await send(message)

        try:
            await self.app(scope, receive, send_noted)
        except Exception as error:
            logging.getLogger("uvicorn.error").exception("%s %s", scope["method"], scope["path"])
            if has_begun:
                raise
            await self.answer(Request(scope), error)(scope, receive, send)


class OwnRequests:
    """Refuses what does not come from a page of this program.

    A page of another site can lead the owner's browser here under a name of its own, or send a write
    through it. Every browser of today says of a write where it comes from; what does not is no
    browser's.
    """

    def __init__(self, app: ASGIApp, hosts: Sequence[str]) -> None:
        self.app = app
        self.hosts = frozenset(host.lower() for host in hosts)

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass the request on, or refuse it."""
        if scope["type"] == "http" and (refused := self._refused(scope)):
            await refused(scope, receive, send)
            return
        await self.app(scope, receive, send)

    def _refused(self, scope: Scope) -> Response | None:
        headers = Headers(scope=scope)
        named = headers.getlist("host")
        if len(named) != 1 or _name_of(named[0]) not in self.hosts:
            return PlainTextResponse(
                "Euhydra does not answer to this name of the computer. Open it by one of the addresses "
                "that it printed when it started; --name adds another.",
                400,
            )
        if scope["method"] in SAFE_METHODS or _is_own(headers):
            return None
        return PlainTextResponse(
            "This does not come from a page of this program and was refused; nothing was changed. "
            "Open Euhydra in your browser, and send it from there.",
            403,
        )


def _name_of(host: str) -> str:
    """A host without its port."""
    try:
        return urlsplit(f"//{host}").hostname or ""
    except ValueError:
        return ""


def _is_at(origin: str, host: str | None) -> bool:
    """Whether an origin is that host; one that cannot be read is nobody's."""
    try:
        return urlsplit(origin).netloc == host
    except ValueError:
        return False


def _is_own(headers: Headers) -> bool:
    """Whether a write says that it comes from a page of this program."""
    origin, site = headers.get("origin"), headers.get("sec-fetch-site")
    if origin is not None and not _is_at(origin, headers.get("host")):
        return False
    return site == "same-origin" or (site is None and origin is not None)


class BodyTooLargeError(Exception):
    """More bytes arrive than are taken."""


class LimitedBody:
    """Refuses request bodies over `MOST_BODY`, or what `LARGER` allows, told or counted."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass the request on, or refuse it."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        told = Headers(scope=scope).get("content-length", "0")
        most = LARGER.get(scope["path"], MOST_BODY)
        if not told.isdecimal() or len(told) > MOST_FIGURES or int(told) > most:
            await self._refuse(scope, receive, send)
            return
        seen = 0

        async def counted() -> Message:
            nonlocal seen
            message = await receive()
            seen += len(message.get("body", b""))
            if seen > most:
                raise BodyTooLargeError
            return message

        try:
            await self.app(scope, counted, send)
        except BodyTooLargeError:
            await self._refuse(scope, receive, send)

    async def _refuse(self, scope: Scope, receive: Receive, send: Send) -> None:
        text = (
            f"The file is larger than {LARGER.get(scope['path'], MOST_BODY) // 1_000_000} MB; nothing was changed. "
            "Go back and choose a smaller one: of a photo a smaller size, of a weather file the years you need."
        )
        await PlainTextResponse(text, 413)(scope, receive, send)
