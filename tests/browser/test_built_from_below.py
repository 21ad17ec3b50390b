"""Planters that water themselves, built from an empty program through the pages alone."""

import pytest
from playwright.sync_api import Page, expect

from building import answers, barrel, begin, lay, rain
from served import fill_form

pytestmark = pytest.mark.browser


def planters(page: Page, garden: str, below: dict[str, str], **more: str) -> None:
    """A row of buckets on the ground, and how their water is kept."""
    page.goto(f"{garden}/lay")
    size = {"Width of one": "30 cm", "Dripper above the ground": "0 cm"} | more
    grows = {"What grows in them": "pepper", "Planted or out on": "15 May"}
    fill_form(page, "add-pots", {"Name": "Buckets"} | size | grows)
    page.goto(f"{garden}/lay?at=pots")
    fill_form(page, "pots-pot-below", below)


def test_wicking_buckets_in_a_trough(page: Page, empty):
    """Barrel, float valve, trough, two rows of buckets: no timer is asked for anywhere."""
    garden = begin(page, empty.url)
    rain(page, garden)
    barrel(page, garden)
    trough = {"A float keeps their water": "trough", "Width of the trough": "70 cm"}
    planters(
        page, garden, trough, **{"In a row": "6", "Rows": "2", "From one to the next": "35 cm"}
    )
    lay(page, garden, "Buckets", begins_at="store")
    verdict = page.locator(".answer > .verdict .summary").first
    page.goto(f"{garden}/push")
    expect(verdict).to_contain_text("One float keeps “Buckets” full: 12 of")
    expect(page.get_by_text("Store and planters last without rain", exact=True)).to_be_visible()
    page.goto(f"{garden}/need")
    expect(page.get_by_role("heading", name="Does the water rise to the plants?")).to_be_visible()
    expect(page.get_by_role("row", name="Loam")).to_contain_text("never")
    page.goto(f"{garden}/time")
    expect(verdict).to_contain_text("a float lets in what they drink")
    page.goto(f"{garden}/week")
    expect(verdict).to_contain_text("Nothing runs by the clock")
    page.goto(f"{garden}/build")
    for good in ("Gutter or channel", "Plank that a trough lies on", "Float valve in a box"):
        expect(page.get_by_role("row", name=good)).to_have_count(1)
    page.goto(f"{garden}/steps")
    expect(page.get_by_role("heading", name="Trough of “Buckets”")).to_be_visible()
    expect(page.get_by_role("link", name="Next: ")).to_have_count(0)
    answers(page, garden, "store", "need", "lay", "shares", "years", "build", "steps", "away")


def test_two_dozen_trays_that_fill_when_they_are_dry(page: Page, empty):
    """Wide pipe with a filter and an air release, a valve in each tray, nothing to mend."""
    garden = begin(page, empty.url)
    rain(page, garden)
    barrel(page, garden)
    planters(page, garden, {"A float keeps their water": "each"}, **{"In a row": "12", "Rows": "2"})
    lay(page, garden, "Buckets", begins_at="store", dripper="float-dry")
    page.goto(f"{garden}/build")
    for good, count in (
        ("Fill-and-dry valve", "24"),
        ("Air release at a high place", "1"),
        ("Screen filter", "1"),
    ):
        expect(page.get_by_role("row", name=good)).to_contain_text(count)
    page.goto(f"{garden}/lay")
    expect(page.locator("#verdict .summary")).to_contain_text("24 of 24")
    page.goto(f"{garden}/steps")
    expect(page.get_by_text("screwed level into its pot or tray").first).to_be_visible()
    answers(page, garden, "store", "need", "push", "time", "shares", "years", "build", "away")


def test_what_cannot_be_is_refused_at_its_field(page: Page, empty):
    """A wick longer than the pot, a tube that does not reach: in words, and nothing typed is lost."""
    garden = begin(page, empty.url)
    rain(page, garden)
    planters(page, garden, {"A float keeps their water": "chain"}, **{"In a row": "6"})
    page.goto(f"{garden}/lay?at=pots")
    form = page.locator("#pots-pot-below")
    form.locator("> summary").click()
    wick, tube = (
        form.get_by_label("From its foot up to the mix"),
        form.get_by_label("Tube from one to the next"),
    )
    wick.fill("60 cm")
    tube.fill("10 cm")
    with page.expect_navigation():
        form.get_by_role("button", name="Save").click()
    expect(form.locator(".fault")).to_have_count(2)
    expect(wick).to_have_value("60 cm")
    expect(tube).to_have_value("10 cm")


def test_pots_with_a_float_valve_each_on_small_tube(page: Page, empty):
    """A small tank over pots: a valve in each on 4 mm tube, a screen before them, no timer."""
    garden = begin(page, empty.url)
    rain(page, garden)
    barrel(page, garden)
    planters(page, garden, {"A float keeps their water": "each"}, **{"In a row": "6"})
    lay(page, garden, "Buckets", begins_at="store", dripper="float-pot")
    page.goto(f"{garden}/build")
    expect(page.get_by_role("row", name="Float valve in a pot")).to_have_count(1)
    expect(page.get_by_role("row", name="Screen filter")).to_have_count(1)
    expect(page.get_by_role("row", name="timer")).to_have_count(0)
    page.goto(f"{garden}/time")
    expect(page.locator(".answer > .verdict .summary")).to_contain_text("a float lets in")
    answers(page, garden, "store", "need", "push", "lay", "shares", "years", "build", "steps")


def test_a_chain_of_planters_behind_one_float_box(page: Page, empty):
    """Narrow tubes starve the last ones; what Push offers, typed, carries them all."""
    empty.seek_cures(after_ms=0)
    garden = begin(page, empty.url)
    rain(page, garden)
    barrel(page, garden)
    chain = {"A float keeps their water": "chain", "Inside width of that tube": "4 mm"}
    planters(page, garden, chain, **{"In a row": "12"})
    lay(page, garden, "Buckets", begins_at="store")
    verdict = page.locator(".answer > .verdict .summary").first
    page.goto(f"{garden}/push")
    expect(page.get_by_role("heading", name="How high does the water stand along")).to_be_visible()
    expect(verdict).to_contain_text("“Buckets”")
    cure = page.locator(".cures").first
    expect(cure).to_contain_text("Tubes")
    page.goto(f"{garden}/lay?at=pots")
    fill_form(page, "pots-pot-below", {"Inside width of that tube": "13 mm"})
    page.goto(f"{garden}/push")
    expect(verdict).to_contain_text("One float carries all 12")
    page.goto(f"{garden}/steps")
    expect(page.get_by_role("heading", name="Float box and planters of “Buckets”")).to_be_visible()
    answers(page, garden, "store", "need", "lay", "shares", "years", "build", "steps", "away")
    # And it can be logged: a low level at the float is told apart from thirst at its end.
    page.goto(f"{garden}/keep")
    page.get_by_role("button", name="Level under planters").click()
    form = page.get_by_role("form", name="Level under planters")
    form.get_by_label("Water over the floor of box or trough").fill("1 cm")
    form.get_by_role("button", name="Keep it").click()
    expect(page.locator("ol.log")).to_contain_text("Level under planters · Buckets: 1 cm")
    page.goto(f"{garden}/fault")
    page.get_by_role("link", name="All of them droop").click()
    expect(page.locator(".answer > .verdict .summary")).to_contain_text(
        "Look first here: the screen"
    )
