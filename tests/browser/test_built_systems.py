"""More systems as people build them: towers, chains of barrels, pumps, drilled pipe, hoses moved by hand, drains."""

import pytest
from playwright.sync_api import Page, expect

from building import answers, barrel, bed, begin, lay, lay_it, rain, roof, tap
from served import fill_form

pytestmark = pytest.mark.browser


def test_stacked_towers_teed_from_one_line(page: Page, empty):
    """Four towers, a small valve on each, one timer: throttled at the first run, filled by the watch."""
    garden = begin(page, empty.url)
    rain(page, garden)
    tap(page, garden)
    page.goto(f"{garden}/lay")
    tower = {
        "Name": "Tower",
        "They are": "tower",
        "Width of one": "40 cm",
        "Tiers, one over another": "4",
    }
    grows = {
        "What grows in them": "strawberry",
        "Planted or out on": "1 May",
        "How many alike": "4",
    }
    fill_form(page, "pots", tower | grows)
    page.goto(f"{garden}/lay")
    wish = page.locator("#for-me")
    wish.get_by_text("And with it, on the same timer").click()
    for number in (2, 3, 4):
        wish.get_by_role("checkbox", name=f"Tower {number}").check()
    wish.locator("[name=valves]").check()
    lay_it(page, "Tower 1", begins_at="tap", timer="week-ball")
    page.goto(f"{garden}/build")
    expect(page.get_by_role("row", name="Valve to throttle a branch")).to_contain_text("4")
    page.goto(f"{garden}/first-run")
    expect(page.get_by_text("stays open").first).to_be_visible()
    answers(page, garden, "need", "push", "lay", "time", "years", "build", "steps")


def test_barrels_at_the_house_spill_to_siphoned_ones_below(page: Page, empty):
    """An overflow into a lower group joined by siphon, gravity to two terraces, the tap as second source."""
    garden = begin(page, empty.url)
    rain(page, garden)
    tap(page, garden)
    roof(page, garden)
    page.goto(f"{garden}/store")
    size = {"Holds, to the overflow": "200 L", "Water depth when full": "85 cm"}
    low = {"Name": "Lower barrels", "How many alike, linked": "3", "Ground it stands on": "1 m"}
    fill_form(page, "store", low | size)
    fill_form(page, "store-joints", {"They are linked by": "siphon"})
    high = {"Name": "House barrel", "Ground it stands on": "2.5 m", "Height of the stand": "30 cm"}
    fill_form(page, "add-store", high | size)
    page.goto(f"{garden}/store?at=store-2")
    fill_form(page, "store-2-joints", {"Its overflow runs": "store"})
    page.goto(f"{garden}/catch")
    fill_form(page, "downspout", {"Leads to": "store-2"})
    for name, ground in (("Upper terrace", "0.6 m"), ("Lower terrace", "0 m")):
        bed(page, garden, name, "tomato", ground=ground)
    lay(page, garden, "Upper terrace", begins_at="store-2", timer="dial-ball")
    lay(page, garden, "Lower terrace", begins_at="store", timer="dial-ball")
    lay(page, garden, "Lower terrace", begins_at="tap", line="line-2", there="left")
    page.goto(f"{garden}/build")
    expect(page.get_by_role("row", name="Siphon hose")).to_have_count(1)
    expect(page.get_by_role("row", name="from an overflow to the next inlet")).to_have_count(1)
    expect(page.get_by_role("row", name="Linking set")).to_have_count(0)
    page.goto(f"{garden}/steps")
    expect(page.get_by_text("until no air is in it").first).to_be_visible()
    page.goto(f"{garden}/shares")
    row = page.get_by_role("row", name="Lower terrace")
    expect(row).to_contain_text("Lower barrels")
    expect(row).to_contain_text("Yard tap")
    answers(page, garden, "catch", "store", "need", "push", "lay", "time", "week", "years", "away")


def test_gravity_is_too_weak_for_raised_beds_and_a_pump_is_added(page: Page, empty):
    """A barrel on the ground, a bed raised as high: Push says so, the pump set in there does it."""
    garden = begin(page, empty.url)
    rain(page, garden)
    barrel(page, garden)
    bed(page, garden, "Raised bed", "pepper", raised="1.2 m")
    lay(page, garden, "Raised bed", timer="dial-ball")
    verdict = page.locator(".answer > .verdict .summary").first
    page.goto(f"{garden}/push")
    expect(verdict).to_contain_text("below the highest outlet")
    fill_form(page, "add-pump", {"Name": "Transfer pump", "Kind of pump": "transfer"})
    page.goto(f"{garden}/push")
    expect(verdict).not_to_contain_text("not enough")
    page.goto(f"{garden}/steps")
    expect(page.get_by_role("heading", name="Pump of “Raised bed”")).to_be_visible()
    page.goto(f"{garden}/build")
    expect(page.get_by_role("row", name="Transfer pump, mains")).to_have_count(1)
    page.goto(f"{garden}/first-run")
    expect(page.get_by_text("“Transfer pump”, before anything else")).to_be_visible()
    answers(page, garden, "store", "time", "week", "shares", "years", "build", "steps")


def test_downspouts_joined_into_sunken_tanks_with_a_pump(page: Page, empty):
    """Four downspouts in one pipe, leaf guard, first flush, two tanks sunk, floating intake, weather timer."""
    garden = begin(page, empty.url)
    rain(page, garden)
    roof(page, garden)
    page.goto(f"{garden}/store")
    size = {"Holds, to the overflow": "1500 L", "Water depth when full": "1.2 m"}
    sunk = {"Sunk into the ground": "1.4 m", "How many alike, linked": "2"}
    fill_form(page, "store", {"Name": "Deck tanks", "Water is drawn": "floating"} | size | sunk)
    page.goto(f"{garden}/catch")
    share = {"Share of the roof on it": "25 %", "Leaves are kept out by": "mesh"}
    fill_form(page, "downspout", share | {"First flush, as rain": "0.4 mm"})
    for number in (2, 3, 4):
        name = {"Name": f"Downspout {number}", "Leads to": "downspout"}
        fill_form(page, "add-downspout", name | {"Share of the roof on it": "25 %"})
    bed(page, garden, "Border", "flower", "6 m")
    lay(page, garden, "Border", timer="weather")
    page.goto(f"{garden}/push")
    fill_form(page, "add-pump", {"Name": "Tank pump", "Kind of pump": "barrel"})
    page.goto(f"{garden}/build")
    for good in ("Floating intake", "Branch that joins two downspouts", "Barrel pump, mains"):
        expect(page.get_by_role("row", name=good)).to_have_count(1)
    page.goto(f"{garden}/steps")
    expect(page.get_by_text("Screw the floating intake").first).to_be_visible()
    answers(page, garden, "catch", "store", "need", "push", "lay", "time", "years", "build")


def test_a_battery_pump_and_a_drilled_pipe_over_a_row(page: Page, empty):
    """Home-made: a barrel, a 12 V pump, a pipe with holes; battery hours, drill, and which hole gives more."""
    garden = begin(page, empty.url)
    rain(page, garden)
    barrel(page, garden)
    bed(page, garden, "Row", "bean", "6 m", width="60 cm")
    lay(page, garden, "Row", line="hole-1", rows="1")
    page.goto(f"{garden}/push")
    battery = {"Battery, ampere-hours": "20", "Draws, watts": "15"}
    fill_form(page, "add-pump", {"Name": "Bilge pump", "Kind of pump": "solar-small"} | battery)
    page.goto(f"{garden}/push")
    expect(page.get_by_text("A 20 Ah battery")).to_be_visible()
    expect(page.get_by_text("“Row, row 1”: friction takes").first).to_be_visible()
    page.goto(f"{garden}/build")
    for good in ("Battery, 12 V", "Fuse in its holder", "Float switch", "Drill bit"):
        expect(page.get_by_role("row", name=good)).to_have_count(1)
    page.goto(f"{garden}/lay")
    expect(page.locator("#verdict .summary")).to_contain_text("outlets give within a tenth")
    answers(page, garden, "need", "push", "lay", "store", "shares", "build", "steps")


def test_hoses_moved_between_quick_couplings(page: Page, empty):
    """Two beds with a soaker each on one coupling by turns, three visits a week: the settings are a rota."""
    garden = begin(page, empty.url)
    rain(page, garden)
    tap(page, garden)
    for name in ("North bed", "South bed"):
        bed(page, garden, name, "flower", "5 m")
    page.goto(f"{garden}/lay")
    quick = {"Name": "Coupling", "Kind of piece": "quick", "Fed by": "tap"}
    turns = {"What it feeds is opened": "by-turns"}
    visits = {"Somebody moves it, at most so many times a week": "4"}
    fill_form(page, "fitting", quick)
    page.goto(f"{garden}/lay?at=fitting")
    fill_form(page, "fitting", turns | visits)
    for name in ("North bed", "South bed"):
        lay(page, garden, name, begins_at="fitting", method="soaker", timer="")
    page.goto(f"{garden}/time")
    expect(page.locator(".answer > .verdict .summary")).not_to_contain_text("Not yet")
    expect(page.get_by_role("row", name="July")).to_be_visible()
    answers(page, garden, "taps", "need", "push", "lay", "week", "shares", "years", "build")
    page.goto(f"{garden}/steps")
    expect(page.get_by_text("quick coupling").first).to_be_visible()


def test_ground_that_is_too_wet_is_drained(page: Page, empty):
    """Flat ground: trench, sump and pump lie on the plan, in the list and in the steps."""
    garden = begin(page, empty.url)
    barrel(page, garden)
    page.goto(f"{garden}/wet")
    wet = {"Name": "Lower lawn", "Area that drains there": "60 m2", "Perforated pipe": "8 m"}
    flat = {"Its lower end is lower by": "0 cm", "Downspouts that no store takes": "here"}
    fill_form(page, "wet", wet | flat)
    verdict = page.locator(".answer > .verdict").first
    expect(verdict).to_contain_text("The ground is flat, so the trench has to fall")
    page.goto(f"{garden}/build")
    for good in ("Perforated pipe", "Bag of clean gravel", "Sump with lid", "Sump pump"):
        expect(page.get_by_role("row", name=good)).to_have_count(1)
    page.goto(f"{garden}/steps")
    expect(page.get_by_role("heading", name="Drain “Lower lawn”")).to_be_visible()
    page.goto(f"{garden}/lay")
    expect(page.locator('.drain[data-part="wet"]')).to_have_count(1)


def test_linked_totes_on_a_terrace_and_beds_on_one_plain_timer(page: Page, empty):
    """Four totes of one level, one downspout, gravity to two beds through one dial timer: how long a day."""
    garden = begin(page, empty.url)
    rain(page, garden)
    roof(page, garden)
    page.goto(f"{garden}/store")
    size = {"Holds, to the overflow": "1000 L", "Water depth when full": "1 m"}
    totes = {"Name": "Totes", "Kind of store": "tote", "How many alike, linked": "4"}
    fill_form(page, "store", totes | size | {"Ground it stands on": "1.2 m"})
    fill_form(page, "store-joints", {"Its overflow runs": "in-rain-garden"})
    for name in ("East bed", "West bed"):
        bed(page, garden, name, "tomato", "5 m")
    page.goto(f"{garden}/lay")
    wish = page.locator("#for-me")
    wish.get_by_text("And with it, on the same timer").click()
    wish.get_by_role("checkbox", name="West bed").check()
    lay_it(page, "East bed", begins_at="store", timer="dial-ball")
    page.goto(f"{garden}/time")
    expect(page.get_by_role("row", name="July")).to_contain_text("min")
    page.goto(f"{garden}/build")
    expect(page.get_by_role("row", name="Linking set")).to_contain_text("3")
    expect(page.get_by_role("row", name="Two-dial timer, motor ball valve")).to_have_count(1)
    page.goto(f"{garden}/steps")
    expect(page.get_by_role("heading", name="Link “Totes”")).to_be_visible()
    expect(page.get_by_text("4,000 L in all").first).to_be_visible()
    answers(page, garden, "catch", "store", "need", "push", "lay", "time", "week", "years", "away")
    # And it can be logged: a dip of the totes.
    page.goto(f"{garden}/keep")
    page.get_by_role("button", name="Dip of a store").click()
    form = page.get_by_role("form", name="Dip of a store")
    form.get_by_label("Water on the stick").fill("60 cm")
    form.get_by_role("button", name="Keep it").click()
    expect(page.locator("ol.log")).to_contain_text("Dip of a store · Totes: 60 cm")
