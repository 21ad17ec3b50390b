"""A server that is kept waiting hangs up, and goes on answering everybody else."""

import socket
import time
from collections.abc import Iterator
from contextlib import ExitStack
from urllib.request import urlopen

import pytest

from euhydra.web import connections
from served import Served


@pytest.fixture
def server(tmp_path) -> Iterator[Served]:
    served = Served(tmp_path)
    yield served
    served.stop()


def half_sent(server: Served, stack: ExitStack) -> socket.socket:
    """A request that stops in the middle of its headers."""
    asking = stack.enter_context(socket.create_connection(("127.0.0.1", server.port)))
    asking.sendall(b"GET / HTTP/1.1\r\nHost: 127.0.0.1\r\nX-Half")
    return asking


def is_closed(asking: socket.socket) -> bool:
    asking.settimeout(5)
    try:
        return asking.recv(100) == b""
    except ConnectionResetError:
        return True


def test_half_sent_requests_shut_nobody_out(server):
    """The silent ones go, the longest silent first, and whoever asks is answered."""
    with ExitStack() as stack:
        for _ in range(4 * connections.MOST_FROM_ONE):
            half_sent(server, stack)
        began = time.monotonic()
        for _ in range(5):
            with urlopen(server.url, timeout=5) as answer:
                assert answer.status == 200
        assert time.monotonic() - began < connections.HEADERS_WITHIN
        assert len(connections.BoundedProtocol._open) <= connections.MOST_FROM_ONE


def test_a_request_that_is_never_asked_is_hung_up_on(server, monkeypatch):
    monkeypatch.setattr(connections, "HEADERS_WITHIN", 0.2)
    with ExitStack() as stack:
        assert is_closed(half_sent(server, stack))
        nothing = stack.enter_context(socket.create_connection(("127.0.0.1", server.port)))
        assert is_closed(nothing)


def test_a_body_that_stands_still_is_hung_up_on(server, monkeypatch):
    monkeypatch.setattr(connections, "SILENT_FOR", 0.2)
    with socket.create_connection(("127.0.0.1", server.port)) as asking:
        asking.sendall(
            b"POST /gardens HTTP/1.1\r\nHost: 127.0.0.1\r\nOrigin: http://127.0.0.1\r\n"
            b"Content-Type: application/x-www-form-urlencoded\r\nContent-Length: 100\r\n\r\nname=a"
        )
        assert is_closed(asking)


def test_no_answer_says_which_server_this_is(server):
    with urlopen(server.url) as answer:
        assert answer.headers["server"] is None
