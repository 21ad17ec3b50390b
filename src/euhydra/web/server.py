"""Serving to this computer, and laying out the demo."""

import socket
from collections.abc import Sequence
from dataclasses import replace
from datetime import date, datetime
from pathlib import Path

import click
import uvicorn
from starlette.middleware.gzip import GZipMiddleware
from starlette.types import ASGIApp

from euhydra.formats import log_csv
from euhydra.garden import demo, logbook, normals
from euhydra.garden.logbook import LogEntry
from euhydra.records import database, gardens, log, passphrase, weather
from euhydra.records.database import DatabaseError
from euhydra.web.app import create_app

HOST = "127.0.0.1"
"""This computer only."""

ANYWHERE = "0.0.0.0"
"""Every network of this computer."""


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


def serve_home(data: Path, port: int, names: Sequence[str]) -> None:
    """Serve the home network until stopped, behind the passphrase.

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
    said = [f"On the home network: http://{host}:{port}" for host in hosts]
    _serve(compressed(data, hosts), ANYWHERE, port, said)


def serve(data: Path, port: int, *said: str) -> None:
    """Serve this computer until stopped; `said` is printed once nothing stands in the way.

    Raises
    ------
    ClickException : if the folder cannot be used or the port is taken.
    """
    _prepared(data)
    _serve(compressed(data), HOST, port, said)


def _serve(app: ASGIApp, host: str, port: int, said: Sequence[str]) -> None:
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
    uvicorn.run(app, host=host, port=port, log_level="warning")


def _prepared(data: Path) -> Path:
    try:
        return database.prepare(data)
    except DatabaseError as error:
        raise click.ClickException(str(error)) from None
