"""Gardens as people build them, from an empty program and through the pages alone."""

import pytest
from playwright.sync_api import Page, expect

from served import fill_form

pytestmark = pytest.mark.browser


def begin(page: Page, url: str) -> str:
    """A garden without anything in it; the beginning of its addresses."""
    page.goto(url)
    page.get_by_label("Name").fill("Quince Corner")
    page.get_by_label("Latitude, degrees").fill("48")
    page.get_by_label("Height above the sea").fill("120 m")
    with page.expect_navigation():
        page.get_by_role("button", name="Begin").click()
    return page.url.rpartition("/")[0]


def test_four_beds_on_one_timer_are_laid_in_one_go(page: Page, empty):
    """The commonest of all: raised beds on the garden tap, one timer, drip line in each."""
    garden = begin(page, empty.url)
    page.goto(f"{garden}/taps")
    fill_form(page, "tap", {"Name": "Yard tap", "The bucket holds": "10 L", "It fills in": "20 s"})
    page.goto(f"{garden}/lay")
    measures = {"Length of the bed": "2.4 m", "Width of the bed": "0.9 m", "How many alike": "4"}
    grows = {"Soil": "loam", "Crop": "tomato", "Planted or sown on": "10 May"}
    fill_form(page, "bed", {"Name": "Bed"} | measures | grows)
    page.goto(f"{garden}/lay")
    wish = page.locator("#for-me")
    wish.get_by_label("For", exact=True).select_option(label="Bed 1")
    wish.get_by_text("And with it, on the same timer").click()
    for number in (2, 3, 4):
        wish.get_by_role("checkbox", name=f"Bed {number}").check()
    wish.get_by_label("Kind of line").select_option("line-2")
    wish.get_by_label("Timer at its head").select_option("week-ball")
    with page.expect_navigation():
        wish.get_by_role("button", name="Lay it").click()
    verdict = page.locator("#verdict .summary")
    expect(verdict).to_have_text("64 of 64 outlets give within a tenth of their due.")
    expect(page.get_by_role("row", name="Bed 1, Bed 2, Bed 3, Bed 4")).to_contain_text("100 %")
    # The list has one of each at the head, and joints for three branches.
    page.goto(f"{garden}/build")
    for piece in ("Weekday timer", "Backflow preventer", "Screen filter", "regulator"):
        row = page.get_by_role("row", name=piece)
        expect(row).to_have_count(1)
    expect(page.get_by_role("row", name="Tee, 12.7 mm Bed 1, pipe for 4")).to_contain_text("3")
    # One change, which one undo takes back.
    page.goto(f"{garden}/need")
    with page.expect_navigation():
        page.get_by_role("button", name="Undo", exact=True).click()
    page.goto(f"{garden}/lay")
    expect(verdict).to_contain_text("No line waters anything yet")
