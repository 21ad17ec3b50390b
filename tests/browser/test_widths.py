"""No page is wider than its window, from the smallest phone to a wide desk: nobody scrolls sideways to read."""

import pytest
from playwright.sync_api import Page

from served import PAGES

pytestmark = pytest.mark.browser

WIDTHS = (320, 360, 640, 720, 768, 1024, 1600)
"""Where layouts turn, and just beside. [px]"""


@pytest.mark.parametrize("path", PAGES)
def test_a_page_is_no_wider_than_its_window(page: Page, demo, path):
    page.goto(f"{demo.url}/{path}")
    over = {}
    for width in WIDTHS:
        page.set_viewport_size({"width": width, "height": 800})
        over[width] = page.evaluate("document.documentElement.scrollWidth - innerWidth")
    assert {width: px for width, px in over.items() if px > 0} == {}


@pytest.mark.parametrize("path", PAGES)
def test_letters_of_twice_the_size_make_no_page_wider_than_its_window(page: Page, demo, path):
    page.goto(f"{demo.url}/{path}")
    page.evaluate("document.documentElement.style.fontSize = '200%'")
    over = {}
    for width in (320, 390, 768, 1280):
        page.set_viewport_size({"width": width, "height": 800})
        over[width] = page.evaluate("document.documentElement.scrollWidth - innerWidth")
    assert {width: px for width, px in over.items() if px > 0} == {}
