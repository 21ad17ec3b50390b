"""A real browser on a real server, and no tolerance for console messages."""

from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Browser, ConsoleMessage, Page, expect, sync_playwright

from served import ARGS, CHROMIUM, DESK, Served, lay_demo

# A busy machine may take some seconds for a page; what is shown counts here, not how soon.
expect.set_options(timeout=20_000)


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGS)
        yield browser
        browser.close()


def is_told(message: ConsoleMessage) -> bool:
    """Whether a message is no tolerable one: cures are asked for late, when the server may be gone."""
    is_late = "/cures/" in message.location["url"] and "net::ERR" in message.text
    return message.type in ("warning", "error") and not is_late


@pytest.fixture
def page(browser: Browser) -> Iterator[Page]:
    """A page at desk size; any console warning, console error or page error fails the test."""
    context = browser.new_context(viewport=DESK, accept_downloads=True)
    page = context.new_page()
    said: list[str] = []
    page.on("console", lambda m: said.append(m.text) if is_told(m) else None)
    page.on("pageerror", lambda error: said.append(str(error)))
    yield page
    context.close()
    # A refused form answers 422 or 409, which Chromium notes: that is meant.
    assert [text for text in said if "status of 4" not in text] == []


@pytest.fixture
def empty(tmp_path: Path) -> Iterator[Served]:
    """The program as it is first started, without the demo."""
    served = Served(tmp_path / "data")
    yield served
    served.stop()


@pytest.fixture(scope="session")
def demo(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Served]:
    """The demo garden, for tests that change nothing."""
    data = tmp_path_factory.mktemp("demo")
    lay_demo(data, with_log=True)
    served = Served(data)
    yield served
    served.stop()


@pytest.fixture
def own_demo(tmp_path: Path) -> Iterator[Served]:
    """The demo garden, for one test that changes it."""
    data = tmp_path / "data"
    lay_demo(data)
    served = Served(data)
    yield served
    served.stop()
