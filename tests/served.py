"""A real server on this machine for the browser tests, and what they do on its pages."""

import atexit
import os
import re
import shutil
import socket
import tempfile
import threading
import time
from collections.abc import Sequence
from contextlib import closing
from functools import cache
from pathlib import Path
from typing import Any

import uvicorn
from fastapi import FastAPI
from fastapi.testclient import TestClient
from playwright.sync_api import Page

from euhydra.garden import demo, normals
from euhydra.garden.model import Garden
from euhydra.records import database, gardens, weather
from euhydra.web import server
from euhydra.web.app import create_app
from euhydra.web.pages.stations import PAGES as STATION_PAGES
from euhydra.web.server import compressed

BROWSERS = ("/usr/bin/chromium-headless-shell", "/usr/bin/chromium")
"""The shell has no window of its own and is a third quicker."""

CHROMIUM = os.environ.get("CHROMIUM") or next(filter(os.path.exists, BROWSERS), BROWSERS[0])
ARGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]
PAGES = [
    "",
    *(
        f"gardens/1/{page}"
        for page in (
            "place",
            "weather",
            *STATION_PAGES,
            "fault?at=shed-timer&seen=all-weak",
            "lines/shed-hose",
            "log/1",
            "card",
            "installation",
        )
    ),
]
"""Every page of the first garden, and the list of gardens."""

DESK = {"width": 1280, "height": 800}
PHONE = {"width": 390, "height": 844}


@cache
def _laid(with_log: bool) -> Path:
    """A data folder with the demo, laid out once in each process."""
    data = Path(tempfile.mkdtemp(prefix="euhydra-demo-"))
    atexit.register(shutil.rmtree, data, ignore_errors=True)
    server.seed_demo(data, with_log=with_log)
    return data


def lay_demo(data: Path, with_log: bool = False) -> None:
    """The demo in a folder of its own, as `seed_demo` lays it out."""
    shutil.copytree(_laid(with_log), data, dirs_exist_ok=True)


NEVER_MS = 2_000_000_000
"""Longer than any test; more than a browser's clock can hold would be at once."""


class Served:
    """The application over a data folder, on a port of its own."""

    def __init__(self, data: Path, port: int = 0, home_hosts: Sequence[str] = ()) -> None:
        self.data = data
        with socket.socket() as free:
            free.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            free.bind(("127.0.0.1", port))
            self.port = free.getsockname()[1]
        self.app = compressed(data, home_hosts)
        self.seek_cures(NEVER_MS)
        self.server = uvicorn.Server(server.config(self.app, port=self.port))
        self.thread = threading.Thread(target=self.server.run, daemon=True)
        self.thread.start()
        while not self.server.started:
            time.sleep(0.02)

    def seek_cures(self, after_ms: int) -> None:
        """Have pages ask for cures so long after they are there: only tests of cures want them."""
        self.app.app.state.cures_after_ms = after_ms  # under what compresses

    @property
    def url(self) -> str:
        """Address of the first page."""
        return f"http://127.0.0.1:{self.port}"

    def stop(self) -> None:
        """End the server, as closing the program does."""
        self.server.should_exit = True
        self.thread.join(10)


def client_of(app: FastAPI, base_url: str = "http://127.0.0.1", **options: Any) -> TestClient:
    """A client that says where its writes come from, as every browser does."""
    return TestClient(app, base_url=base_url, headers={"origin": base_url}, **options)


SAVES = re.compile("^(Save|Add it)$")
"""What the button of a part's form says."""


def fill_form(page: Page, key: str, answers: dict[str, str]) -> None:
    """Fill some fields of a part's form, or of the form that adds it, and send it."""
    place = key if page.locator(f"#{key}").count() else f"add-{key.removeprefix('add-')}"
    form = page.locator(f"#{place}")
    if not form.evaluate("e => e.open"):
        form.locator("> summary").click()
    for label, answer in answers.items():
        field = form.get_by_label(label, exact=True)
        if field.evaluate("e => e.tagName") == "SELECT":
            field.select_option(answer)
        else:
            field.fill(answer)
    with page.expect_navigation():
        form.get_by_role("button", name=SAVES).first.click()
    assert page.locator(f"#{place} .fault, #{place} .fault-box").count() == 0


def type_months(page: Page) -> None:
    """Plan with the demo's twelve months."""
    fill_months(page)
    page.get_by_role("button", name="Plan with these months").click()


def fill_months(page: Page) -> None:
    """The demo's twelve months, put into their fields at once, but for one that is typed."""
    columns = demo.normals()
    page.evaluate(
        """columns => {
          for (const [column, months] of Object.entries(columns))
            months.forEach((value, i) => {
              document.querySelector(`input[name='${column}-${i + 1}']`).value = value;
            });
        }""",
        columns,
    )
    page.locator("input[name='precip_mm-1']").fill(str(columns["precip_mm"][0]))


def served_garden(data: Path, garden: Garden | None, has_weather: bool = True) -> TestClient:
    """The application over one garden; over the demo with its log where none is given."""
    if garden is None:
        lay_demo(data, with_log=True)
        return client_of(create_app(data))
    client = client_of(create_app(data))
    with closing(database.connect(client.app.state.database)) as conn:
        garden_id = gardens.create(conn, garden)
        if has_weather:
            months = demo.normals()
            weather.add(conn, garden_id, normals.make_days(months, 2), "Usual months", months)
    return client
