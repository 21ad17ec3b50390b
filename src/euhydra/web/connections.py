"""Connections to the server: so many, so many from one address, and none that never says what it wants."""

from asyncio import TimerHandle, Transport
from typing import ClassVar

from uvicorn.protocols.http.httptools_impl import HttpToolsProtocol

MOST_CONNECTIONS = 240
"""At once. An ordinary system lets a program open 1,024 files."""

MOST_FROM_ONE = 60
"""From one address: ten browsers, at six connections each."""

HEADERS_WITHIN = 10.0
"""A request has to be asked for in this time. [s]"""

SILENT_FOR = 60.0
"""A body may pause no longer. [s]"""


class BoundedProtocol(HttpToolsProtocol):
    """The server's own protocol, which hangs up on whoever keeps it waiting.

    Where there are too many, the one goes that has been silent longest: who asks, is answered.
    """

    _open: ClassVar[dict["BoundedProtocol", str]] = {}
    _patience: TimerHandle | None = None
    _has_asked = False

    def connection_made(self, transport: Transport) -> None:  # type: ignore[override]
        """Take a connection, in the place of a silent one where there are too many."""
        super().connection_made(transport)
        peer = transport.get_extra_info("peername")
        address = str(peer[0]) if peer else ""
        self._open[self] = address
        self._wait(HEADERS_WITHIN)
        from_here = [other for other, where in self._open.items() if where == address]
        crowd = from_here if len(from_here) > MOST_FROM_ONE else list(self._open)
        if len(from_here) > MOST_FROM_ONE or len(crowd) > MOST_CONNECTIONS:
            next(other for other in crowd if other is self or not other._has_asked)._hang_up()

    def connection_lost(self, exc: Exception | None) -> None:
        """Forget it."""
        self._stop_waiting()
        self._open.pop(self, None)
        super().connection_lost(exc)

    def data_received(self, data: bytes) -> None:
        """Something comes: of a request that is not whole yet, the rest has to come soon."""
        if self._patience is None and (self.cycle is None or self.cycle.response_complete):
            self._wait(HEADERS_WITHIN)
        super().data_received(data)

    def on_headers_complete(self) -> None:
        """It is known what is wanted; a body may take its time, but not stand still."""
        super().on_headers_complete()
        self._has_asked = True
        self._wait(SILENT_FOR)

    def on_body(self, body: bytes) -> None:
        """More of it."""
        super().on_body(body)
        self._wait(SILENT_FOR)

    def on_message_complete(self) -> None:
        """All of it is here: from now on the other side waits."""
        self._stop_waiting()
        super().on_message_complete()

    def _wait(self, seconds: float) -> None:
        self._stop_waiting()
        self._patience = self.loop.call_later(seconds, self._hang_up_unless_held)

    def _stop_waiting(self) -> None:
        if self._patience is not None:
            self._patience.cancel()
            self._patience = None

    def _hang_up_unless_held(self) -> None:
        # A reader that is held back until the page has taken what came is not the other side's fault.
        if self.flow.read_paused:
            self._wait(SILENT_FOR)
        else:
            self._hang_up()

    def _hang_up(self) -> None:
        self._open.pop(self, None)
        self.transport.abort()
