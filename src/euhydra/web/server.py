"""Serving to this computer, and laying out the demo."""

import socket
from pathlib import Path

import click
import uvicorn
from starlette.middleware.gzip import GZipMiddleware
from starlette.types import ASGIApp

from euhydra.garden import demo, normals
from euhydra.records import database, gardens, weather
from euhydra.records.database import DatabaseError
from euhydra.web.app import create_app

HOST = "127.0.0.1"
"""This computer only. Serving the home network waits for a passphrase."""


def seed_demo(data: Path, reset: bool = False) -> None:
    """Lay out the demo garden with its weather, if it is not there or is to be reset."""
    conn = database.connect(_prepared(data))
    try:
        if reset:
            gardens.delete_demo(conn)
        if any(entry.is_demo for entry in gardens.all_gardens(conn)):
            return
        garden_id = gardens.create(conn, demo.garden(), is_demo=True)
        months = demo.normals()
        weather.add(conn, garden_id, normals.make_days(months), demo.WEATHER_NAME, months)
    finally:
        conn.close()


def compressed(data: Path) -> ASGIApp:
    """The application as it is served: with its answers compressed on the way out."""
    return GZipMiddleware(create_app(data), minimum_size=1000, compresslevel=5)


def serve(data: Path, port: int) -> None:
    """Serve until stopped.

    Raises
    ------
    ClickException : if the folder cannot be used or the port is taken.
    """
    _prepared(data)
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((HOST, port))
        except OSError:
            raise click.ClickException(
                f"Port {port} is taken: stop the other program, or choose another port "
                f"(--port {port + 1}, or PORT={port + 1} with make)."
            ) from None
    uvicorn.run(compressed(data), host=HOST, port=port, log_level="warning")


def _prepared(data: Path) -> Path:
    try:
        return database.prepare(data)
    except DatabaseError as error:
        raise click.ClickException(str(error)) from None
