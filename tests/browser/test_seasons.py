"""Need, the seasons, away and the bench, used as a gardener would."""

import re

import pytest
from playwright.sync_api import Browser, Page, expect

from served import DESK, PHONE
from sweeps import again

pytestmark = pytest.mark.browser


def test_a_second_crop_and_a_mulch_change_what_a_bed_drinks(page: Page, own_demo):
    page.goto(f"{own_demo.url}/gardens/1/need?at=middle-bed")
    before = page.locator(".answer > .verdict .summary").inner_text()
    thirst = page.locator("#middle-bed-thirst")
    thirst.locator("> summary").click()
    thirst.get_by_label("The soil is").select_option("thick")
    with page.expect_navigation():
        thirst.get_by_role("button", name="Save").click()
    expect(page.locator(".answer > .verdict .summary")).not_to_have_text(before)
    adding = page.locator("#add-planting")
    adding.locator("> summary").click()
    adding.get_by_label("Name").fill("Autumn salad")
    adding.get_by_label("In the bed").select_option("middle-bed")
    adding.get_by_label("Crop", exact=True).select_option("lettuce")
    adding.get_by_label("Planted or sown on").fill("1 September")
    with page.expect_navigation():
        adding.get_by_role("button", name="Add it").click()
    page.goto(f"{own_demo.url}/gardens/1/need?at=middle-bed")
    expect(page.locator("svg.strip")).to_contain_text("Lettuce")
    expect(page.get_by_role("row", name="November")).to_be_visible()


@again("web/test_seasons_pages.py::test_the_jar_names_the_soil")
def test_the_jar_test_by_hand(page: Page, own_demo):
    page.goto(f"{own_demo.url}/gardens/1/need?at=hedge")
    jar = page.locator("#jar")
    jar.locator("> summary").click()
    for layer, height in (("Sand", "1 cm"), ("Silt", "1 cm"), ("Clay", "3 cm")):
        jar.get_by_label(f"{layer}, layer").fill(height)
    with page.expect_navigation():
        jar.get_by_role("button", name="Name the soil").click()
    expect(page.locator("#hedge").get_by_label("Soil", exact=True)).to_have_value("clay")


def test_the_present_setting_is_told_and_judged(page: Page, own_demo):
    page.goto(f"{own_demo.url}/gardens/1/time?at=shed-timer")
    now = page.locator("#shed-timer-now-set")
    now.locator("> summary").click()
    now.get_by_label("Now set to run").fill("5 min")
    now.get_by_label("every so many days").fill("3")
    with page.expect_navigation():
        now.get_by_role("button", name="Save").click()
    expect(page.locator("#judged .summary")).to_contain_text("too little in")
    expect(page.locator("#judged").get_by_role("row", name="July")).to_contain_text(
        "within easy reach"
    )


@again("web/test_seasons_pages.py::test_a_crop_and_a_timer_of_ones_own")
def test_a_timer_of_ones_own_shares_its_body_and_the_rest_is_a_rota(page: Page, own_demo):
    page.goto(f"{own_demo.url}/gardens/1/time?at=top-timer")
    adding = page.locator("#add-own-timer")
    adding.locator("> summary").click()
    adding.get_by_label("Name").fill("Old shed clock")
    adding.get_by_label("Runs it can be set to").fill("10, 20, x")
    adding.get_by_label("Days from one run to the next").fill("1, 2, 7")
    adding.get_by_role("button", name="Add it").click()
    expect(page.locator("#add-own-timer")).to_contain_text("“x” is not understood")
    adding.get_by_label("Runs it can be set to").fill("10, 20, 40")
    adding.get_by_label("Valves in one body").fill("2")
    with page.expect_navigation():
        adding.get_by_role("button", name="Add it").click()
    for timer in ("top-timer", "shed-timer", "patio-pots-timer"):
        page.goto(f"{own_demo.url}/gardens/1/time?at={timer}")
        form = page.locator(f"#{timer}")
        by_hand = timer == "patio-pots-timer"
        kind = "Hand valve, or a hose moved by hand" if by_hand else "Old shed clock"
        form.get_by_label("Kind of timer").select_option(label=kind)
        if timer == "shed-timer":
            form.get_by_label("In one body with").select_option(label="Top timer")
        with page.expect_navigation():
            form.get_by_role("button", name="Save").click()
    page.goto(f"{own_demo.url}/gardens/1/time?at=top-timer")
    expect(page.get_by_role("row", name="July").first).to_contain_text("40 min")
    page.goto(f"{own_demo.url}/gardens/1/week")
    # One body opens one valve at a time, though the two draw from different stores.
    expect(page.get_by_role("row", name="Top step")).to_contain_text("5:40")
    expect(page.get_by_role("row", name="Middle step")).to_contain_text("5:40")
    expect(page.locator("main")).to_contain_text("Rota for your hand")


@again("web/test_seasons_pages.py::test_two_plans_lie_side_by_side")
def test_another_plan_is_laid_beside_and_a_day_is_told(page: Page, demo):
    page.goto(f"{demo.url}/gardens/1/years?at=top-bed")
    page.get_by_label("This plan").select_option("mulch")
    page.get_by_label("beside this one").select_option("more-wall-tank")
    with page.expect_navigation():
        page.get_by_role("button", name="Compare").click()
    expect(page.get_by_text("Beside it: One more in")).to_be_visible()
    row = page.get_by_role("row", name="Top step: days too dry")
    expect(row.locator(".figure")).to_have_count(4)
    said = page.locator("figure [aria-live]")
    expect(said).to_contain_text("within reach")
    before = said.inner_text()
    page.get_by_label("Any day").focus()
    page.keyboard.press("ArrowRight")
    expect(said).not_to_have_text(before)


@again("web/test_seasons_pages.py::test_who_leaves_today_leaves_stores_as_the_dips_have_them")
def test_away_on_a_phone(browser: Browser, demo):
    context = browser.new_context(viewport=PHONE)
    page = context.new_page()
    page.goto(f"{demo.url}/gardens/1/away")
    page.get_by_label("You leave on").fill("2026-08-01")
    page.get_by_label("You are back on").fill("2026-08-22")
    page.get_by_label("Everything last watered on").fill("2026-07-31")
    page.get_by_label("“Shed barrel” is full to").fill("0")
    page.get_by_label("“Wall tank and Corner tank” is full to").fill("30")
    with page.expect_navigation():
        page.get_by_role("button", name="Will it hold?").click()
    expect(page.locator(".answer .summary")).to_contain_text("suffers first")
    expect(page.locator(".answer .cures")).to_contain_text("Fill the stores")
    expect(page.locator(".note")).to_contain_text("We are away from 1 August to 22 August")
    page.get_by_label("You are back on").fill("2026-07-22")
    page.get_by_role("button", name="Will it hold?").click()
    expect(page.get_by_role("alert")).to_contain_text("before you leave")
    expect(page.get_by_label("You leave on")).to_have_value("2026-08-01")
    context.close()


def test_the_bench_runs_live_and_shows_a_fault(browser: Browser, own_demo):
    context = browser.new_context(viewport=DESK)
    page = context.new_page()
    page.goto(f"{own_demo.url}/gardens/1/bench")
    clock = page.locator(".bench p strong").first
    expect(clock).to_have_text(re.compile(r"^Mon .*, 0:00$"))
    page.get_by_label("Speed").select_option("240")
    page.get_by_role("button", name="Run", exact=True).click()
    expect(clock).not_to_have_text(re.compile(r", 0:00$"))
    page.get_by_role("button", name="Pause").click()
    with page.expect_navigation():
        page.get_by_role("button", name="From the beginning").click()

    def ten_minutes_on(times: int = 1) -> None:
        for _ in range(times):
            with page.expect_response("**/bench/control"):
                page.get_by_role("button", name="10 minutes on").click()

    # The pots run from five o'clock on; their valve sticks, and is mended.
    ten_minutes_on(30)
    expect(clock).to_have_text(re.compile(r", 5:00$"))
    page.get_by_label("valves stuck shut").check()
    ten_minutes_on()
    expect(page.get_by_label("What the plan does")).to_contain_text(
        "Patio pots: the valve should be open"
    )
    page.get_by_label("valves stuck shut").uncheck()
    ten_minutes_on()
    expect(page.get_by_label("Noticed so far")).to_contain_text("nothing comes")
    expect(page.get_by_label("What the plan does")).to_contain_text("Nothing to do")
    # The bottom step runs from seven o'clock on; its parts light up on the plan.
    ten_minutes_on(11)
    expect(clock).to_have_text(re.compile(r", 7:10$"))
    expect(page.get_by_role("row", name="Bottom step")).to_contain_text("water runs")
    expect(page.locator('[data-part="bottom-bed-filter"]')).to_have_class(re.compile("running"))
    # Another page sees the same bench.
    second = context.new_page()
    second.goto(f"{own_demo.url}/gardens/1/bench")
    expect(second.locator(".bench p strong").first).to_have_text(clock.inner_text())
    context.close()
