"""The plan and the fall, drawn and dragged by mouse, touch and keyboard."""

import json
from pathlib import Path

import pytest
from PIL import Image
from playwright.sync_api import Browser, Page, Route, expect

from plan_page import DATA, open_plan, part, until
from served import PHONE, Served
from sweeps import again, swept

pytestmark = pytest.mark.browser


@pytest.fixture
def plan(page: Page, own_demo) -> Page:
    open_plan(page, own_demo.url)
    return page


def middle_of(page: Page, part_id: str) -> tuple[float, float]:
    box = page.locator(f'[data-part="{part_id}"] path').first.bounding_box()
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def is_saved(page: Page, act) -> None:
    with page.expect_response(
        lambda r: (r.request.method == "POST" and "/edit" in r.url) or "/step/" in r.url
    ) as said:
        act()
    assert said.value.ok
    until(page, "!Alpine.$data(document.querySelector('.plan')).isBusy")


def test_a_bed_is_dragged_with_its_lines_and_undo_survives_a_restart(
    plan: Page, own_demo, tmp_path
):
    before, row = part(plan, "top-bed")["at"], part(plan, "top-line-1")["path"]
    x, y = middle_of(plan, "top-bed")
    plan.mouse.move(x, y)
    plan.mouse.down()
    plan.mouse.move(x + 40, y - 20, steps=6)
    plan.mouse.up()
    assert part(plan, "top-bed")["at"] == before  # it was not chosen: the paper moved
    plan.mouse.click(x + 40, y - 20)
    plan.mouse.move(x + 40, y - 20)
    plan.mouse.down()
    plan.mouse.move(x + 80, y - 40, steps=6)
    is_saved(plan, plan.mouse.up)
    after, moved = part(plan, "top-bed")["at"], part(plan, "top-line-1")["path"]
    assert after["x_m"] > before["x_m"]
    for end in (0, 1):
        assert moved[end]["x_m"] - row[end]["x_m"] == pytest.approx(
            after["x_m"] - before["x_m"], abs=1e-3
        )
    expect(plan.locator("#verdict")).to_contain_text("98 of 98")
    own_demo.stop()
    again = Served(tmp_path / "data")
    plan.goto(f"{again.url}/gardens/1/lay")
    assert part(plan, "top-bed")["at"] == after
    is_saved(plan, plan.get_by_role("button", name="Undo").click)
    assert part(plan, "top-bed")["at"] == before
    again.stop()


@again("browser/test_plan.py::test_a_bed_is_dragged_with_its_lines_and_undo_survives_a_restart")
def test_a_chosen_bed_is_dragged_by_an_outlet_that_lies_on_it(plan: Page):
    plan.mouse.click(*middle_of(plan, "top-bed"))
    before = part(plan, "top-bed")["at"]["x_m"]
    spots = [c.bounding_box() for c in plan.locator(".outlet").all()[:60]]
    bed = plan.locator('[data-part="top-bed"] path').first.bounding_box()
    on_it = next(
        s for s in spots
        if bed["x"] < s["x"] < bed["x"] + bed["width"] and bed["y"] < s["y"] < bed["y"] + bed["height"]
    )  # fmt: skip
    x, y = on_it["x"] + on_it["width"] / 2, on_it["y"] + on_it["height"] / 2
    plan.mouse.move(x, y)
    plan.mouse.down()
    plan.mouse.move(x + 40, y, steps=6)
    is_saved(plan, plan.mouse.up)
    assert part(plan, "top-bed")["at"]["x_m"] > before


def test_outlets_go_with_their_bed_before_the_answer_and_after_it(plan: Page):
    plan.mouse.click(*middle_of(plan, "top-bed"))
    outlet = plan.locator('[data-moves-with="top-line-1"] .outlet').first

    def places() -> tuple[float, float]:
        bed = plan.locator('[data-part="top-bed"] path').first.bounding_box()
        return outlet.bounding_box()["x"], bed["x"]

    name = plan.locator('.names.wide [data-of="top-bed"]')
    hose = plan.locator('[data-part="top-hose"] path').first  # that feeds it
    way = hose.get_attribute("d")
    asked: list[Route] = []
    plan.route("**/try", lambda route: route.continue_() if asked else asked.append(route))
    (dot, bed), (x, y), word = places(), middle_of(plan, "top-bed"), name.bounding_box()["x"]
    plan.mouse.move(x, y)
    plan.mouse.down()
    plan.mouse.move(x + 40, y, steps=2)
    while not asked:
        plan.wait_for_timeout(10)
    dot_at_once, bed_at_once = places()
    assert bed_at_once - bed > 20
    assert dot_at_once - dot == pytest.approx(bed_at_once - bed, abs=0.5)
    assert name.bounding_box()["x"] - word == pytest.approx(bed_at_once - bed, abs=0.5)
    assert hose.get_attribute("d") != way
    asked[0].continue_()
    until(plan, f"({DATA}.painted ?? 0) > 0 && !{DATA}.isAsking")
    assert places() == pytest.approx((dot_at_once, bed_at_once), abs=0.5)
    is_saved(plan, plan.mouse.up)
    assert places() == pytest.approx((dot_at_once, bed_at_once), abs=0.5)


def test_what_is_dragged_and_given_up_lies_as_it_lay(plan: Page):
    plan.mouse.click(*middle_of(plan, "top-bed"))
    (x, y), before = middle_of(plan, "top-bed"), plan.locator(".paper").inner_html()
    plan.mouse.move(x, y)
    plan.mouse.down()
    plan.mouse.move(x + 40, y + 20, steps=3)
    assert plan.locator(".paper [data-drawn]").count() == 1
    plan.locator(".paper").dispatch_event("pointercancel", {"pointerId": 1})
    assert plan.locator(".paper [transform], .paper [data-drawn]").count() == 0
    until(plan, f"!{DATA}.isAsking")
    assert len(plan.locator(".paper").inner_html()) == len(before)


def test_a_bed_is_drawn_typed_exactly_and_laid(plan: Page):
    plan.get_by_role("button", name="Bed", exact=True).click()
    box = plan.locator(".paper").bounding_box()
    plan.mouse.click(box["x"] + 80, box["y"] + 300)
    plan.mouse.move(box["x"] + 150, box["y"] + 330)
    expect(plan.locator(".said")).to_contain_text("from corner to corner")
    is_saved(plan, lambda: plan.mouse.click(box["x"] + 180, box["y"] + 340))
    form = plan.locator("#bed-1")
    form.get_by_label("Length of the bed").fill("2.5 m")
    form.get_by_label("Width of the bed").fill("3 ft")
    with plan.expect_navigation():
        form.get_by_role("button", name="Save").click()
    assert part(plan, "bed-1")["length_m"] == 2.5
    assert part(plan, "bed-1")["width_m"] == pytest.approx(0.9144)
    plan.locator("#for-me > summary").click()
    wish = plan.locator("#for-me")
    wish.get_by_label("For", exact=True).select_option("bed-1")
    wish.get_by_label("Water from").select_option("shed-barrel")
    with plan.expect_navigation():
        wish.get_by_role("button", name="Lay it").click()
    expect(plan.get_by_role("row", name="Bed 1")).to_be_visible()


@again("browser/test_plan.py::test_a_bed_is_drawn_typed_exactly_and_laid")
def test_a_bed_is_drawn_by_press_drag_and_release(plan: Page):
    plan.get_by_role("button", name="Bed", exact=True).click()
    box = plan.locator(".paper").bounding_box()
    plan.mouse.move(box["x"] + 80, box["y"] + 300)
    plan.mouse.down()
    plan.mouse.move(box["x"] + 140, box["y"] + 330, steps=3)
    plan.mouse.move(box["x"] + 180, box["y"] + 345, steps=3)
    is_saved(plan, plan.mouse.up)
    drawn = part(plan, "bed-1")
    assert drawn["length_m"] > drawn["width_m"] > 0.3
    expect(plan.locator("#bed-1")).to_be_visible()


def test_a_pipe_is_drawn_from_a_barrel_by_keys_alone(plan: Page):
    plan.locator('[data-part="shed-barrel"]').focus()
    plan.keyboard.press("Enter")
    expect(plan.locator(".said")).to_contain_text("Shed barrel")
    plan.keyboard.press("Escape")
    plan.keyboard.press("w")
    x, y = middle_of(plan, "shed-barrel")
    plan.mouse.move(x, y)  # the cursor begins where the pointer is; from here on, keys
    plan.keyboard.press("ArrowUp")
    plan.keyboard.press("ArrowDown")
    for bend in ("ArrowLeft", "ArrowUp", "ArrowLeft"):  # as many places as one likes
        plan.keyboard.press(" ")
        for _ in range(6):
            plan.keyboard.press(bend)
    plan.keyboard.press("Enter")
    expect(plan.locator(".said")).to_contain_text("Place 4 put")
    plan.keyboard.press("Backspace")
    plan.keyboard.press("Enter")
    is_saved(plan, lambda: plan.keyboard.press("Enter"))  # where a place is: that ends it
    drawn = part(plan, "pipe-1")
    assert drawn["begins_at"] == "shed-barrel"
    xs, ys = ([place[name] for place in drawn["path"]] for name in ("x_m", "y_m"))
    assert xs[0] > xs[1] == xs[2] > xs[3]
    assert ys[0] == ys[1] < ys[2] == ys[3]
    expect(plan.locator(".said")).to_contain_text("drawn")


def test_every_command_by_its_key(plan: Page):
    plan.locator('[data-part="hedge"]').focus()
    plan.keyboard.press("Enter")
    before = part(plan, "hedge")
    is_saved(plan, lambda: plan.keyboard.press("ArrowRight"))
    assert part(plan, "hedge")["at"]["x_m"] == pytest.approx(before["at"]["x_m"] + 0.1)
    is_saved(plan, lambda: plan.keyboard.press("Shift+ArrowUp"))
    assert part(plan, "hedge")["at"]["y_m"] == pytest.approx(before["at"]["y_m"] + 0.01)
    is_saved(plan, lambda: plan.keyboard.press(","))
    assert part(plan, "hedge")["turned_deg"] == 15
    is_saved(plan, lambda: plan.keyboard.press("c"))
    assert part(plan, "hedge-2")["name"] == "Currant hedge 2"
    is_saved(plan, lambda: plan.keyboard.press("Delete"))
    is_saved(plan, lambda: plan.keyboard.press("z"))
    assert part(plan, "hedge-2")["length_m"] == before["length_m"]
    width = plan.evaluate("Alpine.$data(document.querySelector('.plan')).view.width")
    plan.keyboard.press("+")
    assert plan.evaluate("Alpine.$data(document.querySelector('.plan')).view.width") < width
    plan.keyboard.press("g")
    assert not plan.evaluate("Alpine.$data(document.querySelector('.plan')).isSnapping")


def test_many_arrow_presses_are_one_change_and_none_is_refused(plan: Page):
    plan.locator('[data-part="hedge"]').focus()
    plan.keyboard.press("Enter")
    before = part(plan, "hedge")
    asked: list[str] = []
    plan.on("request", lambda r: asked.append(r.url) if "/edit" in r.url else None)
    for _ in range(20):
        plan.keyboard.press("ArrowRight")
    plan.keyboard.press(",")  # waits for them
    until(plan, "Alpine.$data(document.querySelector('.plan')).parts.hedge.part.turned_deg === 15")
    assert part(plan, "hedge")["at"]["x_m"] == pytest.approx(before["at"]["x_m"] + 2.0)
    assert len(asked) <= 4  # one move and one turn, were the machine never slow
    assert plan.evaluate("Alpine.$data(document.querySelector('.plan')).fault") == ""
    focused = "document.activeElement.closest('[data-part]')?.dataset.part"
    assert plan.evaluate(focused) == "hedge"
    is_saved(plan, lambda: plan.keyboard.press("z"))
    is_saved(plan, lambda: plan.keyboard.press("Control+Shift+z"))
    assert part(plan, "hedge")["turned_deg"] == 15


def test_the_wheel_scrolls_the_page_and_with_ctrl_it_zooms(plan: Page):
    width = "Alpine.$data(document.querySelector('.plan')).view.width"
    before = plan.evaluate(width)
    plan.mouse.move(*middle_of(plan, "hedge"))
    plan.mouse.wheel(0, 120)
    until(plan, "scrollY > 0")
    assert plan.evaluate(width) == before
    plan.keyboard.down("Control")
    plan.mouse.wheel(0, -120)
    plan.keyboard.up("Control")
    until(plan, f"{width} < {before}")


def test_names_stand_as_long_as_there_is_room_for_them(plan: Page):
    name = plan.locator('.names [data-of="hedge"]').locator("visible=true")
    for factor, seen in ((1.25, 1), (2.0, 0), (0.4, 1)):
        plan.evaluate(f"{DATA}.zoom({factor})")
        expect(name).to_have_count(seen)


def test_no_key_deletes_from_a_link_or_a_form(plan: Page):
    plan.locator('[data-part="hedge"]').focus()
    plan.keyboard.press("Enter")
    plan.get_by_role("link", name="Weather").focus()
    plan.keyboard.press("Delete")
    plan.keyboard.press("ArrowRight")
    plan.wait_for_timeout(400)
    assert part(plan, "hedge")["name"] == "Currant hedge"
    assert not plan.evaluate("Alpine.$data(document.querySelector('.plan')).isBusy")


def test_corners_are_dragged_added_and_taken_out(plan: Page):
    plan.locator('[data-part="top-bed"]').focus()
    plan.keyboard.press("Enter")
    grip = plan.locator(".grip.size").bounding_box()
    x, y = grip["x"] + grip["width"] / 2, grip["y"] + grip["height"] / 2
    plan.mouse.move(x, y)
    plan.mouse.down()
    plan.mouse.move(x + 20, y - 10, steps=4)
    is_saved(plan, plan.mouse.up)
    assert part(plan, "top-bed")["length_m"] > 3.6
    assert part(plan, "top-bed")["at"] == {"x_m": 6.0, "y_m": 1.5}
    plan.locator('[data-part="top-hose"]').focus()
    plan.keyboard.press("Enter")
    before = part(plan, "top-hose")["path"]
    plan.locator(".grip.middle").first.focus()
    is_saved(plan, lambda: plan.keyboard.press("ArrowRight"))
    assert len(part(plan, "top-hose")["path"]) == len(before) + 1
    plan.locator('.grip.corner[data-grip="1"]').focus()
    is_saved(plan, lambda: plan.keyboard.press("Delete"))
    assert len(part(plan, "top-hose")["path"]) == len(before)


@again("browser/test_plan.py::test_corners_are_dragged_added_and_taken_out")
def test_a_grip_pressed_again_and_again_goes_as_far(plan: Page):
    plan.locator('[data-part="hedge"]').focus()
    plan.keyboard.press("Enter")
    size = "Alpine.$data(document.querySelector('.plan')).parts.hedge.part.length_m"
    before = plan.evaluate(size)
    plan.locator(".grip.size").focus()
    is_saved(plan, lambda: plan.keyboard.press("ArrowRight"))
    step = plan.evaluate(size) - before
    assert step != 0
    for _ in range(3):
        plan.keyboard.press("ArrowRight")  # none waits for the answer to the one before
    until(plan, f"Math.abs({size} - {before + 4 * step}) < 0.001")
    assert plan.evaluate("Alpine.$data(document.querySelector('.plan')).fault") == ""


def test_a_zone_is_shown_on_the_plan(plan: Page):
    plan.get_by_role("button", name="Show Patio pots on the plan").click()
    assert plan.locator(".is-chosen").count() > 12


def test_several_are_chosen_and_brought_into_line(plan: Page):
    for part_id in ("hedge", "middle-bed"):
        x, y = middle_of(plan, part_id)
        plan.keyboard.down("Shift")
        plan.mouse.click(x, y)
        plan.keyboard.up("Shift")
    expect(plan.locator(".said")).to_contain_text("Currant hedge")
    is_saved(plan, lambda: plan.get_by_label("Line up what is chosen").select_option("left"))
    assert part(plan, "hedge")["at"]["x_m"] == pytest.approx(part(plan, "middle-bed")["at"]["x_m"])


def test_dragging_the_empty_paper_moves_it_and_a_click_there_chooses_nothing(plan: Page):
    plan.locator('[data-part="hedge"]').focus()
    plan.keyboard.press("Enter")
    box = plan.locator(".paper-frame").bounding_box()
    x, y = box["x"] + 40, box["y"] + 60
    before = plan.evaluate("Alpine.$data(document.querySelector('.plan')).view.x")
    plan.mouse.move(x, y)
    plan.mouse.down()
    plan.mouse.move(x + 50, y + 20, steps=5)
    plan.mouse.up()
    assert plan.evaluate("Alpine.$data(document.querySelector('.plan')).view.x") < before
    assert plan.evaluate("Alpine.$data(document.querySelector('.plan')).chosen.length") == 1
    plan.wait_for_timeout(300)
    plan.mouse.click(x, y)
    assert plan.evaluate("Alpine.$data(document.querySelector('.plan')).chosen.length") == 0


@again("browser/test_plan.py::test_several_are_chosen_and_brought_into_line")
def test_a_band_drawn_with_shift_chooses_what_lies_in_it(plan: Page):
    box = plan.locator('[data-part="lower"] path').bounding_box()
    plan.keyboard.down("Shift")
    plan.mouse.move(box["x"] - 6, box["y"] - 6)
    plan.mouse.down()
    plan.mouse.move(box["x"] + box["width"] / 2, box["y"] + 20, steps=3)
    expect(plan.locator(".band")).to_have_count(1)
    plan.mouse.move(box["x"] + box["width"] + 3, box["y"] + box["height"] + 4, steps=3)
    plan.mouse.up()
    plan.keyboard.up("Shift")
    expect(plan.locator(".band")).to_have_count(0)
    chosen = plan.evaluate("[...Alpine.$data(document.querySelector('.plan')).chosen]")
    assert {"lower", "hedge", "bottom-bed"} <= set(chosen)
    assert "middle-bed" not in chosen


def test_a_piece_is_set_into_a_hose(plan: Page):
    plan.get_by_label("Piece to set into a pipe").select_option("fittings shut-off")
    plan.get_by_role("button", name="Set in").click()
    path = part(plan, "bottom-bed-hose")["path"]
    at = plan.evaluate(
        """([x, y]) => { const svg = document.querySelector('.paper'); const p = svg.createSVGPoint();
        p.x = x; p.y = -y; const q = p.matrixTransform(svg.getScreenCTM()); return [q.x, q.y] }""",
        [path[-2]["x_m"], (path[-2]["y_m"] + path[-3]["y_m"]) / 2],
    )
    is_saved(plan, lambda: plan.mouse.click(*at))
    assert part(plan, "shut-off-1")["begins_at"] == "bottom-bed-hose"
    assert part(plan, "bottom-bed-hose-on")["begins_at"] == "shut-off-1"
    expect(plan.locator("#verdict")).to_contain_text("98 of 98")


def test_an_outlet_opens_its_working_and_a_pipe_says_what_it_carries(plan: Page):
    plan.locator(".outlets circle").nth(3).click(force=True)
    expect(plan.locator("#chosen")).to_contain_text("of its due, at")
    expect(plan.locator("#chosen")).to_contain_text("q =")
    plan.locator('[data-part="top-hose"]').focus()
    plan.keyboard.press("Enter")
    expect(plan.locator("#chosen")).to_contain_text("It carries")


def test_what_cannot_be_is_refused_and_nothing_is_lost(plan: Page, own_demo):
    before = part(plan, "top-hose")
    wrong = {
        "based_on": 1,
        "puts": [{"collection": "pipes", "part": before | {"begins_at": "top-line-1"}}],
    }
    edit, ours = f"{own_demo.url}/gardens/1/edit", {"origin": own_demo.url}
    answer = plan.request.post(edit, data=wrong, headers=ours)
    assert answer.status == 422
    assert "fed by itself, round a ring" in answer.json()["message"]
    # Another window saves meanwhile: this one's drag is refused and put back.
    renamed = {"collection": "pipes", "part": before | {"name": "Renamed"}}
    plan.request.post(edit, data={"based_on": 1, "puts": [renamed]}, headers=ours)
    x, y = middle_of(plan, "hedge")
    at = part(plan, "hedge")["at"]
    plan.mouse.click(x, y)
    plan.mouse.move(x, y)
    plan.mouse.down()
    plan.mouse.move(x + 30, y + 10, steps=4)
    plan.mouse.up()
    expect(plan.locator(".plan .fault-box")).to_contain_text("changed elsewhere")
    assert part(plan, "hedge")["at"] == at
    assert plan.locator('[data-part="hedge"][transform]').count() == 0


def test_touch_chooses_drags_and_zooms_on_a_phone(browser: Browser, own_demo):
    context = browser.new_context(viewport=PHONE, has_touch=True, is_mobile=True)
    page = context.new_page()
    open_plan(page, own_demo.url)
    page.locator(".paper").scroll_into_view_if_needed()
    x, y = middle_of(page, "hedge")
    touch = context.new_cdp_session(page)

    def send(kind: str, *points: tuple[float, float]) -> None:
        touch.send(
            "Input.dispatchTouchEvent",
            {
                "type": kind,
                "touchPoints": [{"x": px, "y": py, "id": i} for i, (px, py) in enumerate(points)],
            },
        )

    def swipe(dx: float, dy: float) -> None:
        x, y = middle_of(page, "hedge")
        send("touchStart", (x, y))
        for step in range(1, 7):
            send("touchMove", (x + dx * step / 6, y + dy * step / 6))
            page.wait_for_timeout(20)
        send("touchEnd")

    before, there = part(page, "hedge")["at"], page.evaluate("scrollY")
    swipe(0, -120)  # over a bed that is not chosen the page scrolls
    until(page, f"scrollY > {there}")
    page.wait_for_timeout(300)
    assert part(page, "hedge")["at"] == before
    page.touchscreen.tap(*middle_of(page, "hedge"))
    expect(page.locator(".said")).to_contain_text("Chosen: Currant hedge")
    page.wait_for_timeout(600)  # it is brought in sight above the sheet
    sheet = page.locator(".chosen-sheet").bounding_box()
    x, y = middle_of(page, "hedge")
    assert 0 < y < sheet["y"]
    is_saved(page, lambda: swipe(30, 0))
    assert part(page, "hedge")["at"]["x_m"] > before["x_m"]
    expect(page.locator(".said")).to_contain_text("moved")
    page.locator(".chosen-sheet > .close").tap()
    until(page, f"{DATA}.chosen.length === 0")
    # Two fingers zoom, and put no corner though a tool is in hand.
    page.get_by_role("button", name="Draw", exact=True).tap()
    page.get_by_role("button", name="Odd bed").tap()
    page.locator(".paper").scroll_into_view_if_needed()
    width = page.evaluate(f"{DATA}.view.width")
    box = page.locator(".paper-frame").bounding_box()
    y = box["y"] + 60
    send("touchStart", (100, y))
    send("touchStart", (100, y), (140, y))
    send("touchMove", (80, y), (180, y))
    send("touchEnd")
    assert page.evaluate(f"{DATA}.view.width") < width
    assert page.evaluate(f"{DATA}.tool.places.length") == 0
    page.wait_for_timeout(200)
    for x, y in ((60, 60), (160, 60), (120, 130)):
        page.touchscreen.tap(box["x"] + x, box["y"] + y)
    assert page.evaluate(f"{DATA}.tool.places.length") == 3
    is_saved(page, page.get_by_role("button", name="Done", exact=True).tap)
    assert len(part(page, "bed-1")["corners"]) == 3
    context.close()


def test_the_barrel_is_lifted_on_the_fall(page: Page, own_demo):
    page.goto(f"{own_demo.url}/gardens/1/push?at=middle-bed")
    before = page.locator("svg.drawing").inner_html()
    box = page.locator("svg.drawing .handle").first.bounding_box()
    page.mouse.move(box["x"] + 20, box["y"] + 30)
    page.mouse.down()
    page.mouse.move(box["x"] + 20, box["y"] - 20, steps=8)
    page.mouse.up()
    expect(page.get_by_text("Stand of Shed barrel").last).to_contain_text("in all, evenness")
    assert page.locator("svg.drawing").inner_html() != before
    with page.expect_navigation():
        page.get_by_role("button", name="Keep it so").click()
    page.goto(f"{own_demo.url}/gardens/1/store?at=shed-barrel")
    stand = page.locator("#shed-barrel").get_by_label("Height of the stand").input_value()
    assert float(stand.split()[0]) > 40


def test_a_terrace_is_lowered_by_slider_and_the_way_to_another_outlet_shown(page: Page, own_demo):
    page.goto(f"{own_demo.url}/gardens/1/push?at=bottom-bed")
    page.get_by_label("The way to").select_option(label="the end of Bottom step, row 1")
    expect(page.locator("svg.drawing")).to_contain_text("Bottom step, row 1")
    page.get_by_label("Ground of Bottom step").fill("-50")
    expect(page.get_by_text("Ground of Bottom step -50 cm")).to_be_visible()


@again("web/test_tracing.py::test_one_known_length_scales_the_picture")
def test_a_picture_lies_under_the_plan_and_is_scaled(plan: Page, tmp_path):
    picture = tmp_path / "yard.jpg"
    Image.new("RGB", (400, 200), "tan").save(picture)
    plan.locator("#tracing > summary").click()
    plan.get_by_label("Picture under the plan").set_input_files(picture)
    plan.get_by_label("Width of what it shows").fill("8 m")
    with plan.expect_navigation():
        plan.get_by_role("button", name="Put it under").click()
    image = plan.locator("image.backdrop")
    assert (image.get_attribute("width"), image.get_attribute("height")) == ("8.0", "4.0")
    plan.locator("#tracing > summary").click()
    plan.get_by_label("A length as measured on the plan").fill("2 m")
    plan.get_by_label("is really").fill("3 m")
    with plan.expect_navigation():
        plan.get_by_role("button", name="Scale the picture").click()
    assert plan.locator("image.backdrop").get_attribute("width") == "12.0"


METRES = [[[500000, 4500000], [500010, 4500000], [500010, 4500010]]]

NOT_A_PICTURE = (
    "Picture under the plan",
    "Put it under",
    b"not a picture",
    "This is not a picture",
)

OUTLINES = ("Outlines from a GeoJSON file", "Bring them in")


@pytest.mark.parametrize(
    ("label", "button", "content", "words"),
    swept(
        [
            NOT_A_PICTURE,
            (*OUTLINES, b"{}", "no polygon"),
            (
                *OUTLINES,
                json.dumps({"type": "Polygon", "coordinates": METRES}).encode(),
                "not degrees",
            ),
        ],
        [NOT_A_PICTURE],
    ),
)
def test_files_that_are_not_what_they_should_be(
    plan: Page, tmp_path: Path, label, button, content, words
):
    before = plan.evaluate("Alpine.$data(document.querySelector('.plan')).revision")
    file = tmp_path / "file"
    file.write_bytes(content)
    plan.locator("#tracing > summary").click()
    plan.get_by_label(label).set_input_files(file)
    with plan.expect_navigation():
        plan.get_by_role("button", name=button).click()
    expect(plan.locator("#tracing .fault-box")).to_contain_text(words)
    assert plan.evaluate("Alpine.$data(document.querySelector('.plan')).revision") == before


@again("web/test_forms_on_several.py::test_what_differs_is_empty_and_stays_as_each_is")
def test_several_beds_are_changed_by_one_form(plan: Page):
    for number, bed in enumerate(("top-bed", "middle-bed", "bottom-bed")):
        plan.mouse.move(*middle_of(plan, bed))
        if number:
            plan.keyboard.down("Shift")
        plan.mouse.down()
        plan.mouse.up()
        plan.keyboard.up("Shift")
    form = plan.locator("#several-bed")
    expect(form.get_by_role("heading")).to_have_text("Bed: 3 together")
    crop = form.get_by_label("Crop", exact=True)
    expect(crop).to_have_value("")  # a different one in each
    form.get_by_label("Raised above the ground").fill("far")
    form.get_by_label("Soil", exact=True).select_option("sandy-loam")
    with plan.expect_navigation():
        form.get_by_role("button", name="Save").click()
    expect(form.locator(".fault")).to_be_visible()  # with the rest as it was typed
    expect(form.get_by_label("Soil", exact=True)).to_have_value("sandy-loam")
    form.get_by_label("Raised above the ground").fill("35 cm")
    with plan.expect_navigation():
        form.get_by_role("button", name="Save").click()
    until(plan, "Alpine.$data(document.querySelector('.plan')).view !== null")
    beds = [part(plan, bed) for bed in ("top-bed", "middle-bed", "bottom-bed")]
    assert {bed["soil"] for bed in beds} == {"sandy-loam"}
    assert [bed["raised_m"] for bed in beds] == pytest.approx([0.35] * 3)
    assert len({bed["crop"] for bed in beds}) == 3
