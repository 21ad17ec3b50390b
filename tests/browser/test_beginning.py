"""Each way to begin, from an empty program to a garden that answers everywhere, as a stranger would do it."""

import pytest
from playwright.sync_api import Page, expect

from barriers import barriers
from euhydra.planner.beginning.asks import way_kinds
from served import PHONE, Served, fill_form
from sweeps import again, swept
from typed import bed, begin, rain, roof

pytestmark = pytest.mark.browser

WAYS = ("barrel", "troughs", "washing", "can")
"""A barrel, floats, washing water and no line at all; the others keep their pages in tests/web."""


@pytest.fixture(scope="module")
def served(tmp_path_factory: pytest.TempPathFactory):
    """One program for all of them: a garden begun beside others is none the worse."""
    served = Served(tmp_path_factory.mktemp("begun") / "data")
    yield served
    served.stop()


def answered(page: Page) -> None:
    whole = "[x-ref=glance] dl:not([data-awaited]), [x-ref=glance] .mark"
    expect(page.locator(whole).first).to_be_visible(timeout=60_000)


@pytest.mark.parametrize("key", swept(WAYS, ["barrel"]))
def test_one_town_and_two_clicks_make_a_garden_that_answers(page: Page, served: Served, key):
    way = way_kinds()[key]
    page.goto(served.url)
    page.get_by_label("Your town, or one near it").fill("Brussels")
    with page.expect_navigation():
        page.get_by_role("button", name=way.name).click()
    answered(page)
    assert page.locator("[data-usual]").count() == len(way.asks) <= 10  # fields
    with page.expect_navigation(timeout=60_000):
        page.get_by_role("button", name="Keep this garden").click()
    expect(page.get_by_role("status")).to_contain_text("Kept.")
    garden = page.url.rpartition("/")[0]
    page.set_viewport_size(PHONE)
    for path in ("steps", "build", "card"):
        page.goto(f"{garden}/{path}")
        assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")


def test_answers_follow_what_is_typed_and_what_is_typed_is_kept(page: Page, served: Served):
    page.goto(f"{served.url}/begin/barrel?town=Brussels")
    answered(page)
    lasts = page.locator("[x-ref=glance] div", has_text="lasts without rain").locator("dd")
    before = lasts.inner_text()
    barrel = page.get_by_label("One barrel holds")
    expect(barrel).to_have_class("input border-dashed")
    barrel.fill("400 L")
    expect(lasts).not_to_have_text(before)
    expect(page.locator("[x-ref=glance] [data-awaited]")).to_have_count(0)
    expect(barrel).to_have_class("input")
    promised = lasts.inner_text()
    barrel.fill("a lot")
    expect(page.locator("[x-ref=glance]")).to_contain_text("One barrel holds")
    barrel.fill("400 L")
    expect(lasts).to_have_text(promised)
    with page.expect_navigation(timeout=60_000):
        page.get_by_role("button", name="Keep this garden").click()
    page.goto(page.url.rpartition("/")[0] + "/store")
    expect(page.locator("main")).to_contain_text(promised)
    expect(page.get_by_label("Holds, to the overflow").first).to_have_value("400 L")


def test_other_units_keep_what_was_typed(page: Page, served: Served):
    page.goto(f"{served.url}/begin/tap?town=Atlanta")
    answered(page)
    page.get_by_label("How many beds").fill("3")
    with page.expect_navigation():
        page.get_by_label("Units").select_option("us")
    expect(page.get_by_label("How many beds")).to_have_value("3")
    expect(page.get_by_label("One bed, length")).to_have_value("10 ft")
    answered(page)
    expect(page.locator("[x-ref=glance]")).to_contain_text("gal")


@again("browser/test_beginning.py::test_one_town_and_two_clicks_make_a_garden_that_answers")
def test_pots_are_added_to_a_garden_and_fed_from_its_barrel(page: Page, empty: Served):
    page.goto(f"{empty.url}/begin/barrel?town=Brussels")
    answered(page)
    with page.expect_navigation(timeout=60_000):
        page.get_by_role("button", name="Keep this garden").click()
    page.get_by_role("link", name="Add more").click()
    page.get_by_role("button", name="Pots on a patio").click()
    answered(page)
    with page.expect_navigation():
        page.get_by_label("Its water comes from").select_option(label="“Barrel”, which is there")
    expect(page.get_by_label("Your bucket holds")).to_have_count(0)
    answered(page)
    with page.expect_navigation(timeout=60_000):
        page.get_by_role("button", name="Add it to “My garden”").click()
    expect(page.locator("svg [data-part=pots]").first).to_be_attached()
    page.get_by_role("button", name="Undo").click()
    expect(page.locator("svg [data-part=pots]")).to_have_count(0)


def test_without_a_town_it_asks_for_one_and_coordinates_do_too(page: Page, empty: Served):
    page.goto(f"{empty.url}/begin/can")
    expect(page.locator("[x-ref=glance]")).to_contain_text("a town near it")
    page.get_by_role("button", name="Keep this garden").click()
    expect(page.get_by_role("status")).to_contain_text("a town near it")
    page.get_by_label("A town near it").fill("36.9 N, 10.1 E")
    answered(page)
    with page.expect_navigation(timeout=60_000):
        page.get_by_role("button", name="Keep this garden").click()
    page.goto(page.url.rpartition("/")[0] + "/weather")
    expect(page.locator("main")).to_contain_text("Tunis")


def test_each_next_step_leads_to_its_form_open(page: Page, empty: Served):
    garden = begin(page, empty.url)
    rain(page, garden)
    sizes = {"Name": "Barrel", "Holds, to the overflow": "200 L", "Water depth when full": "85 cm"}
    steps = {
        "add-roof": lambda: roof(page, garden),
        "add-store": lambda: fill_form(page, "store", sizes),
        "add-bed": lambda: bed(page, garden, "Bed", "bean"),
        "for-me": lambda: None,
    }
    for form, describe in steps.items():
        page.goto(f"{garden}/push")
        page.locator("a[href*='#open-']").click()
        opened = page.locator(f"#{form}")
        expect(opened).to_have_attribute("open", "")
        assert opened.evaluate("e => e.contains(document.activeElement)")
        describe()


@pytest.mark.parametrize(
    "path",
    swept(["", "/begin/planters?town=Brussels"], ["/begin/planters?town=Brussels"]),
)
def test_it_is_sound_for_every_hand_and_eye(page: Page, served: Served, path: str):
    page.goto(f"{served.url}{path}")
    if path:
        answered(page)
    assert barriers(page) == []
    page.set_viewport_size(PHONE)
    assert barriers(page) == []


def test_an_example_lies_beside_the_own_and_is_in_us_units(page: Page, empty: Served):
    page.goto(empty.url)
    with page.expect_navigation():
        page.get_by_role("button", name="Copper Balcony").click()
    expect(page.locator("main")).to_contain_text("ft")
    answers = page.request.get(page.url.rpartition("/")[0] + "/answers.json?cures=no").json()
    marks = {each["mark"] for each in answers["stations"].values() if each["needed"]}
    assert marks == {"works"}
    page.goto(empty.url)
    expect(page.get_by_role("link", name="Copper Balcony")).to_be_visible()
    expect(page.get_by_role("button", name="Copper Balcony")).to_have_count(0)
