"""Every page: accessible in light and dark, on desk and phone, by keyboard, and small."""

import sqlite3
import time
from collections.abc import Iterator

import pytest
from playwright.sync_api import Browser, Page, expect

from barriers import barriers, too_wide
from euhydra.records import log
from plan_page import until
from served import DESK, PAGES, PHONE
from sweeps import swept
from words_apart import crowded_words, sentences_in_columns

pytestmark = pytest.mark.browser

# Parses each Alpine expression without running it; faults come as console warnings.
LINT = """
const walk = (root) => { for (const el of root.querySelectorAll('*')) {
  for (const a of el.attributes) {
    if (!/^(x-|@|:)/.test(a.name) || /^x-(ref|cloak|transition|teleport|ignore|id)/.test(a.name)) continue
    let v = a.value.trim(); if (!v) continue
    if (a.name === 'x-for') v = v.replace(/^.*?\\s+(?:in|of)\\s+/s, '')
    Alpine.evaluate(el, 'false && (' + v.replace(/;\\s*$/, '') + ')')
  }
  if (el instanceof HTMLTemplateElement) walk(el.content)
} }
walk(document)
"""


@pytest.fixture(scope="module")
def walker(browser: Browser) -> Iterator[Page]:
    """One page that walks through all of them."""
    context = browser.new_context(viewport=DESK)
    yield context.new_page()
    context.close()


WIDTHS = (320, 640, 768, 992, 1216, 1600)
"""The smallest phone, where layouts turn, for each is at its narrowest there, and a wide desk. [px]"""

AT_A_DESK = (
    "",
    *(f"gardens/1/{page}" for page in ("catch", "push", "time", "build")),
)
"""Pages of unlike make; the plan and what is read outdoors are looked at on a phone."""

OUTDOORS = tuple(f"gardens/1/{page}" for page in ("today", "keep", "steps", "lay"))
"""What somebody reads beside the bed, and the plan."""

WIDE_AT_ONCE = ("gardens/1/lay", "gardens/1/time")
"""A plan, and a wide table."""


@pytest.fixture
def told(walker: Page) -> Iterator[Page]:
    """The walker, whose console has nothing to say."""
    said: list[str] = []
    note = lambda m: said.append(m.text) if m.type in ("warning", "error") else None  # noqa: E731
    walker.on("console", note)
    yield walker
    walker.remove_listener("console", note)
    assert said == []


@pytest.mark.parametrize("path", swept(PAGES, AT_A_DESK))
def test_no_barrier_on_a_desk_in_light(told: Page, demo, path):
    """And every expression can be read."""
    told.set_viewport_size(DESK)
    told.emulate_media(color_scheme="light")
    told.goto(f"{demo.url}/{path}")
    assert barriers(told) == []
    assert crowded_words(told) == []
    assert sentences_in_columns(told) == []
    told.evaluate(LINT)


@pytest.mark.parametrize("path", swept(PAGES, OUTDOORS))
def test_no_barrier_on_a_phone_in_dark(told: Page, demo, path):
    told.set_viewport_size(PHONE)
    told.emulate_media(color_scheme="dark")
    told.goto(f"{demo.url}/{path}")
    assert barriers(told) == []
    assert crowded_words(told) == []


@pytest.mark.parametrize("path", swept(PAGES, WIDE_AT_ONCE))
def test_nobody_scrolls_sideways_to_read(told: Page, demo, path):
    told.goto(f"{demo.url}/{path}")
    assert too_wide(told, WIDTHS) == {}
    told.evaluate("document.documentElement.style.fontSize = '200%'")
    assert too_wide(told, WIDTHS) == {}, "letters of twice the size"


def test_the_drawing_is_on_the_first_screen(page: Page, demo):
    for station in (
        "catch",
        "greywater",
        "store",
        "shares",
        "need",
        "push",
        "time",
        "week",
        "years",
        "away",
    ):
        page.goto(f"{demo.url}/gardens/1/{station}")
        box = page.locator(
            "figure, svg.week, .card-table, [aria-label=Drawing] table"
        ).first.bounding_box()
        assert box["y"] + min(box["height"], 300) <= DESK["height"]


def test_a_working_opens_and_closes_by_keyboard(page: Page, demo):
    page.goto(f"{demo.url}/gardens/1/store")
    figure = page.locator(".figure").first
    figure.focus()
    page.keyboard.press("Enter")
    expect(page.locator(".working:popover-open")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.locator(".working:popover-open")).to_have_count(0)
    expect(figure).to_be_focused()


def test_every_headline_figure_has_a_working(page: Page, demo):
    for station in ("catch", "store", "push", "time"):
        page.goto(f"{demo.url}/gardens/1/{station}")
        for figure in page.locator(".figure").all():
            target = figure.get_attribute("popovertarget")
            assert page.locator(f"#{target} .formula").inner_text() != "" or not figure.is_visible()


def test_the_size_marker_follows_mouse_keyboard_and_touch(browser: Browser, demo):
    context = browser.new_context(viewport=DESK, has_touch=True)
    page = context.new_page()
    page.goto(f"{demo.url}/gardens/1/store?at=shed-barrel")
    slider = page.locator("#size")
    size = page.locator("dd[x-text=litres]")
    expect(size).to_have_text("300 L")
    expect(slider).to_be_visible()  # its text comes first, and what is hidden takes no key

    slider.focus()
    page.keyboard.press("End")
    expect(size).to_have_text("2,000 L")

    paper = page.locator("[x-data=sizes] svg.drawing")
    paper.hover()  # in view, and standing still
    box = paper.bounding_box()
    middle = box["y"] + box["height"] / 2
    page.mouse.move(box["x"] + box["width"] * 0.9, middle)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] * 0.5, middle, steps=5)
    page.mouse.up()
    dragged = size.inner_text()
    assert 900 < int(dragged.replace(",", "").removesuffix(" L")) < 1100

    page.touchscreen.tap(box["x"] + box["width"] * 0.25, middle)
    expect(size).not_to_have_text(dragged)
    context.close()


def test_first_page_is_small(browser: Browser, demo):
    context = browser.new_context(viewport=DESK)
    page = context.new_page()
    session = context.new_cdp_session(page)
    session.send("Network.enable")
    received: list[float] = []
    session.on("Network.loadingFinished", lambda e: received.append(e["encodedDataLength"]))
    page.goto(f"{demo.url}/gardens/1/catch")
    page.wait_for_load_state("networkidle")
    context.close()
    assert len(received) >= 5
    assert sum(received) < 350_000


def test_fonts_are_our_own(page: Page, demo):
    page.goto(f"{demo.url}/gardens/1/catch")
    page.evaluate("document.fonts.ready.then(() => true)")
    faces = page.evaluate("[...document.fonts].map(f => [f.family, f.status])")
    assert len(faces) == 2
    assert {status for _, status in faces} == {"loaded"}


def test_touch_opens_a_working_on_a_phone(browser: Browser, demo):
    context = browser.new_context(viewport=PHONE, has_touch=True, is_mobile=True)
    page = context.new_page()
    page.goto(f"{demo.url}/gardens/1/catch")
    page.locator(".figure").first.tap()
    expect(page.locator(".working:popover-open")).to_be_visible()
    context.close()


def test_a_hint_is_given_on_the_first_visit_alone(page: Page, demo):
    page.goto(f"{demo.url}/gardens/1/need")
    said = page.locator("[x-data=hint]")
    expect(said).to_be_visible()
    said.get_by_role("button").click()
    expect(said).to_be_hidden()
    page.goto(f"{demo.url}/gardens/1/time")
    expect(said).to_be_visible()
    page.goto(f"{demo.url}/gardens/1/need")
    expect(said).to_be_hidden()


def test_a_page_that_takes_long_says_so_and_can_be_given_up(page: Page, demo, monkeypatch):
    page.goto(f"{demo.url}/gardens/1/catch")
    at_once = log.count

    def slow(conn: sqlite3.Connection, garden_id: int) -> int:
        time.sleep(3)
        return at_once(conn, garden_id)

    monkeypatch.setattr(log, "count", slow)
    # In the page itself: while it waits for another, nobody else is answered.
    page.evaluate("""() => {
      const bar = document.getElementById("waiting");
      setTimeout(() => document.querySelector("a[href$='/store']").click(), 50);
      setTimeout(() => { window.atOnce = !bar.hidden; }, 400);
      setTimeout(() => {
        window.later = [!bar.hidden, bar.querySelector("[aria-live]").textContent !== ""];
        bar.querySelector("button").click();
      }, 1800);
    }""")
    until(page, "window.later !== undefined")
    assert page.evaluate("[window.atOnce, ...window.later]") == [False, True, True]
    expect(page.locator("#waiting")).to_be_hidden()
    assert page.url.endswith("/catch")
    page.wait_for_timeout(2000)  # what was given up is not shown when it is there
    assert page.url.endswith("/catch")
