"""Serving to this computer, and laying out the demo."""

import gc
import importlib
import socket
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime
from pathlib import Path
from threading import Timer

import click
import uvicorn
from starlette.middleware.gzip import GZipMiddleware
from starlette.types import ASGIApp

from euhydra.formats import log_csv
from euhydra.garden import demo, logbook, normals
from euhydra.garden.logbook import LogEntry
from euhydra.records import database, gardens, log, passphrase, weather
from euhydra.records.database import DatabaseError
from euhydra.web import rendering
from euhydra.web.app import create_app
from euhydra.web.connections import BoundedProtocol

HOST = "127.0.0.1"
"""This computer only."""

ANYWHERE = "0.0.0.0"
"""Every network of this computer."""


COMPILED = "compiled"
"""Folder beside the database in which templates are kept as they were compiled; it may go at any time."""

FIRST_PAGE = 1.0
"""Time in which the first page goes out, and nothing else is to be done. [s]"""

WASTE_AFTER = 5_000, 10, 3
"""Things newly made after which waste among them is looked for; rounds of this after which it is among what
stayed, and rounds of that after which among all. An answer makes some ten thousand things, and was looked
through ten times on the way; a page that was shown keeps its garden in rings that only the last round finds.
"""


@dataclass(frozen=True)
class Certificate:
    """What proves to a browser which computer it talks to: two files, as an authority gives them."""

    certificate: Path
    key: Path


UNSEALED = (
    "Nothing is sealed on the way: whoever listens on the home network can read the passphrase and "
    "the gardens. With --certificate and --key it is sealed; docs/home-server.md says how."
)


def seed_demo(data: Path, reset: bool = False, with_log: bool = False) -> None:
    """Lay out the demo garden with its weather, if it is not there or is to be reset.

    Parameters
    ----------
    with_log : Whether the log of the last summer that is over is laid beside it.
    """
    conn = database.connect(_prepared(data))
    try:
        if reset:
            gardens.delete_demo(conn)
        if any(entry.is_demo for entry in gardens.all_gardens(conn)):
            return
        garden_id = gardens.create(conn, demo.garden(), is_demo=True)
        months = demo.normals()
        weather.add(conn, garden_id, normals.make_days(months), demo.WEATHER_NAME, months)
        if with_log:
            log.add_all(conn, garden_id, _log_before(date.today()))
    finally:
        conn.close()


def _log_before(today: date) -> list[tuple[str, LogEntry]]:
    """The demo's log, moved by whole years so that it ends before today."""
    rows = log_csv.read(demo.log_text(), demo.garden(), datetime.max - logbook.AHEAD)
    last = max(row.entry.at for row in rows).date()
    years = today.year - last.year - ((today.month, today.day) <= (last.month, last.day))
    return [
        (row.id, replace(row.entry, at=row.entry.at.replace(year=row.entry.at.year + years)))
        for row in rows
    ]


def compressed(data: Path, home_hosts: Sequence[str] = ()) -> ASGIApp:
    """The application as it is served: with its answers compressed on the way out."""
    return GZipMiddleware(create_app(data, home_hosts), minimum_size=1000, compresslevel=5)


def home_hosts(names: Sequence[str]) -> list[str]:
    """Names and addresses of this computer in the home network, with those that the owner adds."""
    name = socket.gethostname().lower()
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe:
        try:
            probe.connect(("192.0.2.1", 9))  # nothing is sent: it only picks the way there
            address = [probe.getsockname()[0]]
        except OSError:
            address = []
    return list(dict.fromkeys([*names, *address, name, f"{name}.local"]))


def serve_home(
    data: Path, port: int, names: Sequence[str], certificate: Certificate | None = None
) -> None:
    """Serve the home network until stopped, behind the passphrase.

    Parameters
    ----------
    names : Further names and addresses of this computer there.
    certificate : Seals what goes over the network; None leaves it readable to who listens in.

    Raises
    ------
    ClickException : if there is no passphrase yet, the folder cannot be used or the port is taken.
    """
    _prepared(data)
    if not passphrase.is_set(data):
        raise click.ClickException(
            "The home network is not served without a passphrase, for anybody on it could change your gardens. "
            f"Choose one first: euhydra passphrase --data {data}"
        )
    hosts = home_hosts(names)
    scheme = "https" if certificate else "http"
    said = [f"On the home network: {scheme}://{host}:{port}" for host in hosts]
    if certificate is None:
        said.append(UNSEALED)
    _serve(data, ANYWHERE, port, said, hosts, certificate)


def serve(data: Path, port: int, *said: str) -> None:
    """Serve this computer until stopped; `said` is printed once nothing stands in the way.

    Raises
    ------
    ClickException : if the folder cannot be used or the port is taken.
    """
    _prepared(data)
    _serve(data, HOST, port, said)


def config(
    app: ASGIApp, host: str = HOST, port: int = 0, certificate: Certificate | None = None
) -> uvicorn.Config:
    """How it is served: bounded connections, and no word of which server this is."""
    return uvicorn.Config(
        app,
        host=host,
        port=port,
        log_level="warning",
        http=BoundedProtocol,
        ws="none",
        server_header=False,
        ssl_certfile=certificate.certificate if certificate else None,
        ssl_keyfile=certificate.key if certificate else None,
    )


def _serve(
    data: Path,
    host: str,
    port: int,
    said: Sequence[str],
    hosts: Sequence[str] = (),
    certificate: Certificate | None = None,
) -> None:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((host, port))
        except OSError:
            raise click.ClickException(
                f"Port {port} is taken: stop the other program, or choose another port "
                f"(--port {port + 1}, or PORT={port + 1} with make)."
            ) from None
    for line in said:
        click.echo(line)
    rendering.keep_compiled(data / COMPILED)
    app = compressed(data, hosts)
    # What stays to the end is not looked through for waste again and again while answers are made.
    gc.freeze()
    gc.set_threshold(*WASTE_AFTER)
    later = Timer(FIRST_PAGE, _bring_in_the_rest)
    later.daemon = True
    later.start()
    uvicorn.Server(config(app, host, port, certificate)).run()


def _bring_in_the_rest() -> None:
    """What no list of gardens needs, but every page of one: it is there before anybody has chosen."""
    for library in ("scipy.linalg", "scipy.sparse.linalg", "pint"):
        importlib.import_module(library)


def _prepared(data: Path) -> Path:
    try:
        return database.prepare(data)
    except DatabaseError as error:
        raise click.ClickException(str(error)) from None
