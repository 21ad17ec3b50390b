"""Gardens as people build them, from an empty program and through the pages alone."""

import pytest
from playwright.sync_api import Page, expect

from building import answers, barrel, bed, begin, lay, lay_it, rain, tap
from served import fill_form

pytestmark = pytest.mark.browser


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


def test_one_barrel_and_the_can(page: Page, empty):
    """A barrel under its downspout, and nothing but a can: cans, the store's years, list, steps, log."""
    garden = begin(page, empty.url)
    rain(page, garden)
    barrel(page, garden)
    bed(page, garden, "Beans", "bean")
    fill_form(page, "bed-hand", {"By hand from": "store", "By hand every so many days": "2"})
    page.goto(f"{garden}/time")
    july = page.get_by_role("row", name="July")
    expect(july).to_contain_text("cans")
    expect(july).to_contain_text("every 2 days")
    answers(page, garden, "catch", "store", "shares", "need", "time", "years", "build", "steps")
    page.goto(f"{garden}/shares")
    expect(page.get_by_role("row", name="Beans")).to_contain_text("Barrel, by hand")
    page.goto(f"{garden}/store")
    expect(page.locator(".verdict .summary").first).to_contain_text(
        "“Barrel” holds 200 L, too little"
    )
    # The card has the bed; nothing is left to lay.
    page.goto(f"{garden}/card")
    expect(page.get_by_role("heading", name="Beans: by hand")).to_be_visible()
    expect(page.get_by_role("link", name="Next: ")).to_have_count(0)
    # List and steps know the barrel, its stand and its diverter, and no hose.
    page.goto(f"{garden}/build")
    expect(page.get_by_role("row", name="Downspout diverter")).to_have_count(1)
    expect(page.get_by_role("row", name="Hose or tube")).to_have_count(0)
    page.goto(f"{garden}/steps")
    expect(page.get_by_role("heading", name="Drill and set “Barrel”")).to_be_visible()


def test_a_soaker_in_a_long_bed_under_the_barrel(page: Page, empty):
    """One soaker in an S, a dial timer, and help by can, which the pages tell with and without."""
    garden = begin(page, empty.url)
    rain(page, garden)
    barrel(page, garden)
    bed(page, garden, "Border", "flower", "5 m")
    page.goto(f"{garden}/lay")
    wish = page.locator("#for-me")
    wish.get_by_label("How", exact=True).select_option("soaker")
    wish.get_by_label("Timer at its head").select_option("dial-ball")
    with page.expect_navigation():
        wish.get_by_role("button", name="Lay it").click()
    answers(page, garden, "push", "lay", "time", "store", "shares", "steps", "build")
    page.goto(f"{garden}/lay?at=bed")
    fill_form(page, "bed-hand", {"By hand from": "store"})
    page.goto(f"{garden}/shares")
    expect(page.locator(".verdict")).to_contain_text("You help “Border” out by hand from “Barrel”")
    page.goto(f"{garden}/build")
    expect(page.get_by_role("row", name="Soaker hose")).to_have_count(1)


def test_patio_pots_on_the_tap(page: Page, empty):
    """Pots with a dripper each on small tube, head assembly at the tap, a timer with a dial."""
    garden = begin(page, empty.url)
    rain(page, garden)
    page.goto(f"{garden}/taps")
    fill_form(page, "tap", {"Name": "Patio tap", "The bucket holds": "10 L", "It fills in": "30 s"})
    page.goto(f"{garden}/lay")
    pots = {"Name": "Pots", "Width of one": "30 cm", "In a row": "4", "Rows": "2"}
    grows = {"What grows in them": "patio-flowers", "Planted or out on": "5 May"}
    fill_form(page, "pots", pots | grows)
    page.goto(f"{garden}/lay")
    wish = page.locator("#for-me")
    wish.get_by_label("Timer at its head").select_option("dial-solenoid")
    with page.expect_navigation():
        wish.get_by_role("button", name="Lay it").click()
    answers(
        page, garden, "taps", "need", "push", "lay", "time", "shares", "years", "build", "steps"
    )
    # A tap garden is not told of roofs to describe or stores to by-pass.
    page.goto(f"{garden}/card")
    expect(page.get_by_text("stores by-passed")).to_have_count(0)
    expect(page.get_by_text("as full as it usually stands")).to_have_count(0)
    page.goto(f"{garden}/steps")
    expect(page.get_by_role("link", name="Next: ")).to_have_count(0)
    expect(page.get_by_role("listitem").filter(has_text="Head of")).to_contain_text("Screen filter")


def test_two_beds_on_one_tap_with_a_dial_each(page: Page, empty):
    """The second takes a place that a splitter makes at the tap; each has its own settings."""
    garden = begin(page, empty.url)
    rain(page, garden)
    tap(page, garden)
    bed(page, garden, "Peppers", "pepper")
    bed(page, garden, "Salad", "lettuce")
    for name in ("Peppers", "Salad"):
        lay(page, garden, name, begins_at="tap", line="line-2", timer="dial-solenoid")
    page.goto(f"{garden}/build")
    expect(page.get_by_role("row", name="Splitter with two taps")).to_have_count(1)
    page.goto(f"{garden}/card")
    for name in ("Peppers", "Salad"):
        expect(page.get_by_role("heading", name=f"{name}: what to set")).to_be_visible()
    page.goto(f"{garden}/steps")
    heads = page.get_by_role("listitem").filter(has=page.get_by_role("heading", name="Head of"))
    expect(heads.first).to_contain_text("splitter with two taps")
    expect(heads.last).not_to_contain_text("splitter with two taps")  # it is there by then
    answers(page, garden, "push", "lay", "time", "week", "shares", "years", "build", "steps")


def test_a_bed_on_barrel_and_tap_is_not_watered_twice(page: Page, empty):
    """The barrel waters it; the tap's zone stands by for when that is empty."""
    garden = begin(page, empty.url)
    rain(page, garden)
    barrel(page, garden)
    tap(page, garden)
    bed(page, garden, "Peppers", "pepper")
    lay(page, garden, "Peppers", begins_at="store", timer="dial-ball", hose="7.5 m")
    lay(
        page, garden, "Peppers", begins_at="tap", line="line-2", timer="dial-solenoid", there="left"
    )
    page.goto(f"{garden}/shares")
    row = page.get_by_role("row", name="Peppers")
    expect(row).to_contain_text("Barrel")
    expect(row).to_contain_text("Yard tap")
    page.goto(f"{garden}/steps")
    expect(page.get_by_text("“Peppers, hose”: cut 7.5 m")).to_be_visible()
    page.goto(f"{garden}/time")
    page.get_by_label("Which one").get_by_role("link").last.click()
    expect(page.locator(".answer > .verdict .summary")).to_contain_text("Leave it off")
    page.goto(f"{garden}/card")
    expect(page.get_by_role("heading", name="what to set")).to_have_count(1)


def test_the_laundry_in_lines_with_a_second_branch_for_the_dry_months(page: Page, empty):
    """A drum, its pump with a float, lines to two beds, of which one is open from May to September."""
    garden = begin(page, empty.url)
    rain(page, garden)
    bed(page, garden, "Currants", "currant", "4 m")
    bed(page, garden, "Flowers", "flower", "4 m")
    page.goto(f"{garden}/greywater")
    fill_form(page, "greywater", {"Name": "Laundry", "Washdays and loads": "Mon 2, Thu, Sat 2"})
    verdict = page.locator(".verdict .summary").first
    expect(verdict).to_contain_text("leads nowhere yet")
    drum = {"Surge drum holds": "120 L", "Ground the drum stands on": "1 m"}
    fill_form(page, "greywater-drum", drum | {"It empties by": "pump"})
    page.goto(f"{garden}/lay")
    wish = page.locator("#for-me")
    wish.get_by_text("And with it, on the same timer").click()
    wish.get_by_role("checkbox", name="Flowers").check()
    wish.locator("[name=valves]").check()
    lay_it(page, "Currants", begins_at="greywater", line="tape")
    expect(page.locator("#verdict .summary")).to_contain_text("104 of 104 outlets")
    page.goto(f"{garden}/lay?at=bed-2-valve")
    fill_form(page, "bed-2-valve", {"Open in these months": "May to September"})
    page.goto(f"{garden}/greywater")
    flowers = page.get_by_role("row", name="Flowers").first
    expect(flowers).to_contain_text("0 L")
    expect(page.get_by_role("columnheader", name="May to September")).to_be_visible()
    expect(verdict).to_have_text("“Currants, Flowers” can have all 250 L a week, at once.")
    answers(page, garden, "push", "lay", "time", "shares", "need", "years", "build", "steps")
    page.goto(f"{garden}/time")
    expect(verdict).to_contain_text("Nothing is set on")
    # One pump: that in the lines. Its drum, its stand and its lint are on list, steps and upkeep.
    page.goto(f"{garden}/build")
    expect(page.get_by_role("row", name="12 V pump, small")).to_have_count(1)
    expect(page.get_by_role("row", name="Drain pump with float switch")).to_have_count(0)
    page.goto(f"{garden}/steps")
    expect(page.get_by_role("heading", name="Washing water: “Laundry”")).to_be_visible()
    page.goto(f"{garden}/first-run")
    expect(page.get_by_text("before anything else")).to_be_visible()
    page.goto(f"{garden}/upkeep")
    expect(page.get_by_text("Lint bag and filter of “Laundry”").first).to_be_visible()
    expect(page.get_by_role("link", name="Next: ")).to_have_count(0)
