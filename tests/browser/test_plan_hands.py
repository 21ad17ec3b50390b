"""The plan under every hand: each task by keys and by a finger, and what is said of it."""

from collections.abc import Iterator
from math import atan2, degrees

import pytest
from playwright.sync_api import Browser, Locator, Page, expect

from plan_page import DATA, open_plan, part, until
from served import DESK, PHONE, fill_months
from sweeps import again, swept

pytestmark = pytest.mark.browser


@pytest.fixture
def keys(page: Page, own_demo) -> Page:
    """The plan with the focus on it, and no mouse."""
    open_plan(page, own_demo.url).locator(".paper").focus()
    return page


@pytest.fixture
def phone(browser: Browser, own_demo) -> Iterator[Page]:
    context = browser.new_context(viewport=PHONE, has_touch=True, is_mobile=True)
    yield open_plan(context.new_page(), own_demo.url)
    context.close()


def kept(page: Page) -> None:
    """Wait until what was done is kept."""
    until(page, f"!{DATA}.isBusy && !{DATA}.nudged")
    assert page.evaluate(f"{DATA}.fault") == ""


def said(page: Page, *words: str) -> None:
    for word in words:
        expect(page.locator(".said")).to_contain_text(word)


def press(page: Page, *names: str) -> None:
    for name in names:
        page.keyboard.press(name)


def test_one_stop_of_tab_and_the_arrows_go_from_part_to_part(keys: Page):
    press(keys, "ArrowUp")
    first = keys.evaluate("document.activeElement.dataset.part")
    assert first
    press(keys, "ArrowUp")
    second = keys.evaluate("document.activeElement.dataset.part")
    assert second not in (first, None)
    said(keys, keys.locator(f'.paper [data-part="{second}"]').get_attribute("aria-label"))
    press(keys, "PageDown")
    assert keys.evaluate("document.activeElement.dataset.part") != second
    press(keys, "Tab")
    assert keys.evaluate("document.activeElement.closest('.paper')") is None
    stops = keys.locator(".paper [tabindex='0']").count()
    assert stops == 0  # the paper itself is the stop; corners of what is chosen come after it


def test_by_keys_a_part_is_chosen_moved_sized_turned_deleted_and_brought_back(keys: Page):
    keys.locator('.paper [data-part="hedge"]').focus()
    press(keys, "Enter")
    said(keys, "Chosen: Currant hedge")
    assert keys.locator('.paper [data-part="hedge"]').get_attribute("aria-pressed") == "true"
    before = part(keys, "hedge")
    press(keys, "ArrowRight", "ArrowRight")
    kept(keys)
    said(keys, "Currant hedge: moved to")
    assert part(keys, "hedge")["at"]["x_m"] == pytest.approx(before["at"]["x_m"] + 0.2)
    keys.locator(".grip.size").focus()
    press(keys, "ArrowRight")
    kept(keys)
    said(keys, "reshaped", f"{part(keys, 'hedge')['length_m']:.2f} m")
    keys.locator(".grip.turn").focus()
    press(keys, "ArrowLeft")
    kept(keys)
    assert part(keys, "hedge")["turned_deg"] == 5
    said(keys, "turned by 5°")
    keys.locator('.paper [data-part="hedge"]').focus()
    press(keys, "Delete")
    kept(keys)
    assert part(keys, "hedge") is None
    said(keys, "Currant hedge: removed")
    keys.locator(".paper").focus()
    press(keys, "Control+z")
    kept(keys)
    said(keys, "Taken back: Currant hedge: removed")
    press(keys, "y")
    kept(keys)
    said(keys, "Done again: Currant hedge: removed")
    press(keys, "z")
    kept(keys)
    assert part(keys, "hedge")["turned_deg"] == 5


@again(
    "browser/test_plan_hands.py::test_by_keys_a_part_is_chosen_moved_sized_turned_deleted_and_brought_back"
)
def test_what_the_walk_has_come_to_is_deleted_and_not_what_was_chosen_before(keys: Page):
    keys.locator('.paper [data-part="hedge"]').focus()
    press(keys, "Enter", "PageDown")
    next_one = keys.evaluate("document.activeElement.dataset.part")
    assert next_one != "hedge"
    press(keys, "Delete")
    kept(keys)
    assert part(keys, "hedge")
    assert part(keys, next_one) is None


@again(
    "browser/test_plan_hands.py::test_by_keys_a_part_is_chosen_moved_sized_turned_deleted_and_brought_back"
)
def test_lines_turn_with_their_bed_and_where_it_lies_is_said(keys: Page):
    keys.locator('.paper [data-part="top-bed"]').focus()
    press(keys, "Enter")
    lines = ("top-line-header", "top-line-1", "top-line-2")
    before = [heading_of(keys, line) for line in lines]
    keys.locator(".grip.turn").focus()
    press(keys, "ArrowLeft")
    kept(keys)
    said(keys, "turned at", "turned by 5°", "of its due")
    for line, was in zip(lines, before, strict=True):
        assert heading_of(keys, line) - was == pytest.approx(5, abs=0.1)


def heading_of(page: Page, pipe: str) -> float:
    """From a pipe's beginning to its end, so far from east. [°]"""
    first, last = part(page, pipe)["path"][0], part(page, pipe)["path"][-1]
    return degrees(atan2(last["y_m"] - first["y_m"], last["x_m"] - first["x_m"]))


def test_a_change_of_the_water_says_what_the_weakest_outlet_gets(keys: Page):
    keys.locator('.paper [data-part="shed-barrel"]').focus()
    press(keys, "Enter", "ArrowUp")
    kept(keys)
    said(keys, "Shed barrel: moved to", "of its due")


@again(
    "browser/test_plan_hands.py::test_by_keys_a_part_is_chosen_moved_sized_turned_deleted_and_brought_back"
)
def test_by_keys_an_odd_bed_is_drawn_of_as_many_corners_as_one_likes(keys: Page):
    press(keys, "n")
    said(keys, "corners in order")
    for way in ("ArrowRight", "ArrowUp", "ArrowLeft", "ArrowUp", "ArrowLeft"):
        press(keys, "Enter")
        press(keys, *[way] * 8)
    said(keys, "from the place before")
    press(keys, "Enter")
    said(keys, "Place 6 put")
    press(keys, "Enter")
    kept(keys)
    drawn = part(keys, "bed-1")
    assert len(drawn["corners"]) == 6
    step = keys.evaluate(f"{DATA}.grid") / 5
    for corner in drawn["corners"]:  # the cursor keeps to the grid
        assert corner["x_m"] / step == pytest.approx(round(corner["x_m"] / step), abs=1e-6)
    said(keys, "Bed 1: drawn")
    assert keys.evaluate("document.activeElement.dataset.part") == "bed-1"


def test_by_keys_outlets_are_looked_at_one_after_another(keys: Page):
    keys.locator('.paper [data-part="top-bed"]').focus()
    press(keys, "Enter", "i")
    said(keys, "of its due,")
    expect(keys.locator("#chosen")).to_contain_text("of its due, at")
    first = keys.evaluate(f"{DATA}.looked")
    press(keys, "i")
    assert keys.evaluate(f"{DATA}.looked") != first
    press(keys, "Shift+I")
    assert keys.evaluate(f"{DATA}.looked") == first


def test_keys_are_the_plans_only_while_it_has_the_focus(page: Page, own_demo):
    open_plan(page, own_demo.url)
    before = page.evaluate(f"{DATA}.revision")
    page.evaluate(f"{DATA}.chosen = ['hedge']")
    for place in (page.get_by_role("link", name="Weather"), page.locator("#for-me > summary")):
        place.focus()
        press(page, "Delete", "c", "ArrowLeft")
    page.locator("body").click(position={"x": 5, "y": 5})
    press(page, "Delete")
    page.wait_for_timeout(400)
    assert page.evaluate(f"{DATA}.revision") == before
    assert part(page, "hedge")


def test_letters_are_switched_off_and_stay_so(keys: Page):
    keys.get_by_text("Keys", exact=True).click()
    keys.get_by_label("letters are commands").uncheck()
    keys.reload()
    until(keys, f"{DATA}.view !== null")
    keys.locator(".paper").focus()
    press(keys, "b", "g")
    assert keys.evaluate(f"{DATA}.tool") is None
    assert keys.evaluate(f"{DATA}.isSnapping")
    press(keys, "ArrowUp", "Enter")
    said(keys, "Chosen")


def test_within_a_bar_of_tools_the_arrows_go_from_one_to_the_next(page: Page, own_demo):
    open_plan(page, own_demo.url)
    page.get_by_role("button", name="Bed", exact=True).focus()
    press(page, "ArrowDown")
    assert page.evaluate("document.activeElement.textContent.trim()") == "Odd bed"
    press(page, "ArrowUp", "ArrowUp")
    assert page.evaluate("document.activeElement.tagName") == "SELECT"
    press(page, "ArrowLeft", "Enter")
    expect(page.locator(".said")).to_contain_text("place on a pipe")


@again("browser/test_plan.py::test_a_bed_is_drawn_typed_exactly_and_laid")
def test_where_it_lies_is_typed_and_a_name_in_the_list_chooses_it(page: Page, own_demo):
    open_plan(page, own_demo.url)
    page.get_by_text("Where things lie").click()
    page.get_by_role("button", name="Currant hedge", exact=True).click()
    said(page, "Currant hedge")
    form = page.get_by_role("form", name="Where it lies")
    form.get_by_label("east").fill("6")
    form.get_by_label("north").fill("nowhere")
    form.get_by_role("button").click()
    expect(page.locator(".plan .fault-box")).to_contain_text("such as 3.2")
    form.get_by_label("north").fill("9,6")
    form.get_by_role("button").click()
    kept(page)
    hedge = part(page, "hedge")
    assert hedge["at"]["x_m"] + hedge["length_m"] / 2 == pytest.approx(6.0)
    assert hedge["at"]["y_m"] + hedge["width_m"] / 2 == pytest.approx(9.6)


@again(
    "browser/test_plan_hands.py::test_by_keys_a_part_is_chosen_moved_sized_turned_deleted_and_brought_back"
)
def test_by_the_mouse_each_task_is_done_and_told(page: Page, own_demo):
    open_plan(page, own_demo.url)
    page.mouse.click(*middle(page, HEDGE))
    said(page, "Chosen: Currant hedge")
    for grip, told in ((".grip.size", "reshaped at"), (".grip.turn", "turned by")):
        x, y = middle(page, grip)
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x - 30, y + 4, steps=4)
        page.mouse.up()
        kept(page)
        said(page, "Currant hedge", told)
    x, y = middle(page, '.paper [data-part="shed-barrel"] path')
    page.get_by_role("button", name="Pipe", exact=True).click()
    for dx, dy in ((0, 0), (30, 30), (60, 30)):
        page.mouse.click(x + dx, y + dy)
    page.keyboard.press("f")
    kept(page)
    said(page, "Pipe 1: drawn")
    assert len(part(page, "pipe-1")["path"]) == 3
    left, top = middle(page, '.paper [data-part="hedge"] path')
    page.get_by_role("button", name="Odd bed").click()
    for dx, dy in ((-60, 60), (0, 60), (20, 90), (-50, 100), (-60, 60)):
        page.mouse.click(left + dx, top + dy)
    kept(page)
    said(page, "Bed 1: drawn")
    assert len(part(page, "bed-1")["corners"]) == 4
    page.mouse.click(*middle(page, ".outlets .outlet >> nth=30"))
    said(page, "of its due")
    page.evaluate(f"{DATA}.choose(['bed-1'], false)")
    page.get_by_role("button", name="Remove", exact=True).click()
    kept(page)
    said(page, "Bed 1: removed")
    page.get_by_role("button", name="Undo", exact=True).first.click()
    kept(page)
    said(page, "Taken back: Bed 1: removed")


def test_lines_are_asked_for_as_they_are_there_and_else_where_there_is_room(page: Page, own_demo):
    open_plan(page, own_demo.url)
    form = page.locator("#for-me")
    form.locator("> summary").click()
    begins, timer = form.get_by_label("Water from"), form.get_by_label("Timer at its head")
    first = begins.locator("option").first.get_attribute("value")
    for name, start, kind, line in (
        ("Bottom step", "tap-splitter", "clock-ball", "line-2"),
        ("Currant hedge", first, "", "line-low"),  # nothing waters it
        ("Top step", "corner-tank", "dial-ball", "line-low"),
    ):
        form.get_by_label("For", exact=True).select_option(label=name)
        expect(begins).to_have_value(start)
        expect(timer).to_have_value(kind)
        expect(form.get_by_label("Kind of line")).to_have_value(line)


def middle(page: Page, selector: str) -> tuple[float, float]:
    box = page.locator(selector).first.bounding_box()
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def swipe(page: Page, start: tuple[float, float], dx: float, dy: float) -> None:
    touch = page.context.new_cdp_session(page)
    x, y = start
    for kind, share in (("touchStart", 0.0), *(("touchMove", i / 6) for i in range(1, 7))):
        point = {"x": x + dx * share, "y": y + dy * share, "id": 1}
        touch.send("Input.dispatchTouchEvent", {"type": kind, "touchPoints": [point]})
        page.wait_for_timeout(15)
    touch.send("Input.dispatchTouchEvent", {"type": "touchEnd", "touchPoints": []})


HEDGE = '.paper [data-part="hedge"] path'


def choose_hedge(phone: Page) -> None:
    phone.locator(".paper-frame").scroll_into_view_if_needed()
    phone.touchscreen.tap(*middle(phone, HEDGE))
    said(phone, "Chosen: Currant hedge")
    phone.wait_for_timeout(700)  # it is brought in sight above the sheet


def test_by_a_finger_a_part_is_sized_and_taken_back(phone: Page):
    choose_hedge(phone)
    before = part(phone, "hedge")["length_m"]
    x, y = middle(phone, ".grip.size")
    hit = "([x, y]) => document.elementFromPoint(x, y).matches('.grip.size')"
    assert phone.evaluate(hit, [x + 20, y])  # 44 px across
    assert phone.evaluate(hit, [x, y + 20])
    swipe(phone, (x + 15, y), -40, 0)
    kept(phone)
    assert part(phone, "hedge")["length_m"] < before
    said(phone, "reshaped")
    phone.locator(".chosen-sheet > .close").tap()
    phone.get_by_role("button", name="Undo", exact=True).first.tap()
    kept(phone)
    assert part(phone, "hedge")["length_m"] == before


@again("browser/test_plan_hands.py::test_by_a_finger_a_part_is_sized_and_taken_back")
def test_by_a_finger_a_bed_as_small_as_its_handles_is_moved_and_not_turned(phone: Page):
    phone.evaluate(f"{DATA}.zoom(4)")
    choose_hedge(phone)
    focused = phone.evaluate("document.activeElement.getAttribute('class')")
    assert "grip" not in focused.split()
    box = phone.locator(HEDGE).bounding_box()
    assert min(box["width"], box["height"]) < 22  # a handle's 44 px reach over its middle
    before = part(phone, "hedge")
    swipe(phone, middle(phone, HEDGE), 45, 0)
    kept(phone)
    after = part(phone, "hedge")
    assert after["at"]["x_m"] > before["at"]["x_m"]
    measures = ("turned_deg", "length_m", "width_m")
    assert [after.get(m) for m in measures] == [before.get(m) for m in measures]


@again("browser/test_plan.py::test_a_pipe_is_drawn_from_a_barrel_by_keys_alone")
def test_by_a_finger_a_pipe_with_bends_is_drawn_and_removed(phone: Page):
    phone.get_by_role("button", name="Draw", exact=True).tap()
    phone.get_by_role("button", name="Pipe", exact=True).tap()
    phone.locator(".paper-frame").scroll_into_view_if_needed()
    phone.wait_for_timeout(200)
    x, y = middle(phone, '.paper [data-part="shed-barrel"] path')
    for dx, dy in ((0, 0), (40, 4), (44, -40)):
        phone.touchscreen.tap(x + dx, y + dy)
    phone.get_by_role("button", name="Done", exact=True).tap()
    kept(phone)
    drawn = part(phone, "pipe-1")
    assert drawn["begins_at"] == "shed-barrel"
    assert len(drawn["path"]) == 3
    said(phone, "Pipe 1: drawn")
    phone.locator(".chosen-sheet > .close").tap()
    phone.evaluate(f"{DATA}.choose(['pipe-1'], false)")
    phone.get_by_role("button", name="Change", exact=True).tap()
    phone.get_by_role("button", name="Remove", exact=True).tap()
    kept(phone)
    assert part(phone, "pipe-1") is None


@again("browser/test_plan_hands.py::test_by_keys_outlets_are_looked_at_one_after_another")
def test_by_a_finger_an_outlet_is_looked_at_in_the_sheet(phone: Page):
    phone.locator(".paper-frame").scroll_into_view_if_needed()
    phone.touchscreen.tap(*middle(phone, ".outlets .outlet >> nth=30"))
    expect(phone.locator(".chosen-sheet #chosen")).to_contain_text("of its due, at")
    said(phone, "of its due")


@pytest.mark.parametrize("way", swept(["keys", "finger", "mouse"], ["keys"]))
def test_forms_are_filled_and_sent_and_what_came_of_it_is_told(browser: Browser, own_demo, way):
    """Lines laid, a timer set, months typed, a finger in the soil logged, a step ticked, a change taken back."""
    context = browser.new_context(viewport=DESK if way == "mouse" else PHONE, has_touch=True)
    page = context.new_page()

    def go(target: Locator) -> None:
        if way == "finger":
            target.tap()
        elif way == "mouse":
            target.click()
        else:
            target.focus()
            page.keyboard.press("Space" if target.evaluate("e => e.matches('input')") else "Enter")

    def told() -> str:
        expect(page.locator("#told")).not_to_be_empty()
        return page.locator("#told").inner_text()

    page.goto(f"{own_demo.url}/gardens/1/lay")
    until(page, f"{DATA}.view !== null")
    go(page.locator("#for-me > summary"))
    page.locator("#for-me").get_by_label("For", exact=True).select_option(label="Currant hedge")
    with page.expect_navigation():
        go(page.locator("#for-me").get_by_role("button", name="Lay it"))
    laid = page.evaluate(f"Object.keys({DATA}.parts)")
    assert any("hedge" in each for each in laid if "row" in each or "line" in each)
    assert "Lines laid for Currant hedge" in told()

    page.goto(f"{own_demo.url}/gardens/1/time?at=shed-timer")
    timer = page.locator("#shed-timer-now-set")
    go(timer.locator("> summary"))
    timer.get_by_label("Now set to run").fill("5 min")
    timer.get_by_label("every so many days").fill("3")
    with page.expect_navigation():
        go(timer.get_by_role("button", name="Save"))
    assert "changed. Undo takes it back." in told()
    expect(page.locator(".answer .verdict .summary").first).to_be_in_viewport()
    expect(timer).to_have_attribute("open", "")  # to be typed in again
    assert page.locator(".answer .verdict .summary").first.inner_text() in told()
    with page.expect_navigation():
        go(page.get_by_role("button", name="Undo"))
    assert "changed" not in told()
    assert page.locator(".answer .verdict .summary").first.inner_text() in told()

    page.goto(f"{own_demo.url}/gardens/1/keep")
    go(page.get_by_role("button", name="Finger test"))
    form = page.get_by_role("form", name="Finger test")
    go(form.get_by_role("radio").first)
    go(form.get_by_role("button", name="Keep it"))
    expect(page.get_by_role("status").filter(has_text="Kept: Finger test")).to_be_visible()
    expect(page.locator("ol.log")).to_contain_text("Finger test")

    page.goto(f"{own_demo.url}/gardens/1/steps")
    box = page.locator("input.box").first
    go(box)
    expect(box).to_be_checked()

    page.goto(f"{own_demo.url}/gardens/1/weather")
    fill_months(page)
    with page.expect_navigation():
        go(page.get_by_role("button", name="Plan with these months"))
    assert "Planned with “Usual months, typed”" in told()
    context.close()


def test_the_printed_plan_is_to_the_scale_that_it_states(page: Page, own_demo):
    page.goto(f"{own_demo.url}/gardens/1/plan")
    expect(page.get_by_text("Scale 1:100 on A4")).to_be_visible()
    px, metres = page.locator("svg.to-scale").evaluate(
        "svg => [svg.getBoundingClientRect().width, svg.viewBox.baseVal.width]"
    )
    assert px / 96 * 0.0254 * 100 == pytest.approx(metres, rel=1e-3)  # CSS: 96 px are an inch


@pytest.mark.parametrize(
    ("forced", "more"), swept([("active", False), ("none", True)], [("active", False)])
)
def test_more_contrast_is_kept_by_the_device_and_forced_colours_are_taken(
    browser: Browser, own_demo, forced, more
):
    context = browser.new_context(forced_colors=forced)
    page = open_plan(context.new_page(), own_demo.url)
    if more:
        page.get_by_role("button", name="More contrast, for bright sun").click()
        page.goto(f"{own_demo.url}/gardens/1/need")
        assert page.evaluate("getComputedStyle(document.body).color") == "rgb(0, 0, 0)"
        background = "getComputedStyle(document.documentElement).backgroundColor"
        assert page.evaluate(background) == "rgb(255, 255, 255)"
        page.get_by_role("button", name="Usual colours").click()
        assert page.evaluate(background) != "rgb(255, 255, 255)"
    else:
        page.get_by_role("button", name="Bed", exact=True).click()
        pressed, other = (
            page.locator(f"[aria-pressed={state}].tool").first.evaluate(
                "e => getComputedStyle(e).backgroundColor"
            )
            for state in ("true", "false")
        )
        assert pressed != other
        here, there = (
            page.locator(f"a.station{which}").first.evaluate(
                "e => getComputedStyle(e).borderBottomColor"
            )
            for which in ("[aria-current]", ":not([aria-current])")
        )
        assert here != there
    context.close()
