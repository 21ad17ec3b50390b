"""Build and Keep on a phone in the garden: ticks, entries, and no connection."""

import io
from contextlib import closing

import pytest
from PIL import Image
from playwright.sync_api import Browser, Page, expect

from euhydra.records import database, log
from euhydra.records.log import Search
from served import PHONE, Served
from sweeps import again

pytestmark = pytest.mark.browser


@pytest.fixture
def phone(browser: Browser):
    context = browser.new_context(viewport=PHONE, has_touch=True)
    yield context.new_page()
    context.close()


@pytest.fixture
def phone_alone(browser: Browser):
    """Without the page's worker: what passes through one may pass by the test's own route."""
    context = browser.new_context(viewport=PHONE, has_touch=True, service_workers="block")
    yield context.new_page()
    context.close()


def notes(served: Served) -> list[str]:
    with closing(database.connect(served.data / database.FILE_NAME)) as conn:
        return [kept.entry.note for kept in log.find(conn, 1, Search())]


def write(page: Page, kind: str, **fields: str) -> None:
    """One entry by thumb."""
    page.get_by_role("button", name=kind, exact=True).tap()
    form = page.get_by_role("form", name=kind, exact=True)
    for label, text in fields.items():
        field = form.get_by_label(label.replace("_", " "))
        if field.evaluate("e => e.tagName") == "SELECT":
            field.select_option(label=text)
        else:
            field.fill(text)
    form.get_by_role("button", name="Keep it").tap()


def test_an_entry_in_four_touches(phone: Page, own_demo):
    phone.goto(f"{own_demo.url}/gardens/1/keep")
    write(phone, "Rain", In_the_gauge="12 mm")
    expect(phone.locator("ol.log")).to_contain_text("Rain: 12 mm")
    expect(phone.get_by_text("Kept: Rain.")).to_be_in_viewport()
    write(phone, "Dip of a store", About="Shed barrel", Water_on_the_stick="40 cm")
    expect(phone.locator("ol.log")).to_contain_text("Dip of a store · Shed barrel: 40 cm")
    # The part is remembered: the next dip asks for the depth alone.
    phone.get_by_role("button", name="Dip of a store").tap()
    expect(phone.get_by_role("form", name="Dip of a store").get_by_label("About")).to_have_value(
        "shed-barrel"
    )


def test_what_cannot_be_is_said_beside_its_field_and_stays_typed(phone: Page, own_demo):
    phone.goto(f"{own_demo.url}/gardens/1/keep")
    write(phone, "Dip of a store", About="Shed barrel", Water_on_the_stick="4 m")
    form = phone.get_by_role("form", name="Dip of a store")
    expect(form).to_contain_text("112 cm to its rim")
    expect(form.get_by_label("Water on the stick")).to_have_value("4 m")
    assert notes(own_demo) == []


def test_without_a_connection_nothing_is_lost_and_nothing_sent_twice(phone: Page, own_demo):
    phone.goto(f"{own_demo.url}/gardens/1/keep")
    phone.context.set_offline(True)
    write(phone, "Rain", In_the_gauge="3 mm", Note="first")
    expect(phone.get_by_text("1 entry waits on this device")).to_be_visible()
    write(phone, "Rain", In_the_gauge="5 mm", Note="second")
    expect(phone.get_by_text("2 entries wait on this device")).to_be_in_viewport()
    assert notes(own_demo) == []
    phone.context.set_offline(False)
    expect(phone.locator("ol.log")).to_contain_text("second")
    assert sorted(notes(own_demo)) == ["first", "second"]
    phone.reload()
    expect(phone.get_by_text("on this device for a connection")).to_be_hidden()
    assert sorted(notes(own_demo)) == ["first", "second"]


@again("browser/test_keep.py::test_without_a_connection_nothing_is_lost_and_nothing_sent_twice")
def test_an_answer_that_is_lost_on_its_way_does_not_double_the_entry(phone_alone: Page, own_demo):
    """The server keeps the entry, but its answer never arrives: it is sent again, and kept once."""
    phone_alone.goto(f"{own_demo.url}/gardens/1/keep")

    def lose(route):
        route.fetch()  # it arrives
        route.abort()  # and the answer does not

    phone_alone.route("**/log", lose)
    write(phone_alone, "Rain", In_the_gauge="3 mm", Note="once")
    expect(phone_alone.get_by_text("1 entry waits on this device")).to_be_visible()
    assert notes(own_demo) == ["once"]
    phone_alone.unroute("**/log")
    phone_alone.reload()
    expect(phone_alone.locator("ol.log")).to_contain_text("once")
    expect(phone_alone.get_by_text("on this device for a connection")).to_be_hidden()
    assert notes(own_demo) == ["once"]


def test_the_page_opens_again_while_the_computer_is_off(phone: Page, own_demo):
    phone.goto(f"{own_demo.url}/gardens/1/keep")
    phone.evaluate("navigator.serviceWorker.ready.then(() => true)")
    phone.reload()  # through the worker, which now has the page and its pieces
    phone.wait_for_load_state("networkidle")
    own_demo.stop()
    phone.reload()
    write(phone, "Rain", In_the_gauge="7 mm", Note="while it was off")
    expect(phone.get_by_text("1 entry waits on this device")).to_be_visible()
    phone.reload()
    expect(phone.get_by_text("1 entry waits on this device")).to_be_visible()
    again = Served(own_demo.data, own_demo.port)
    try:
        phone.reload()
        expect(phone.locator("ol.log")).to_contain_text("while it was off")
        assert notes(again) == ["while it was off"]
    finally:
        again.stop()


@again("browser/test_keep.py::test_the_page_opens_again_while_the_computer_is_off")
def test_steps_and_today_are_there_too_while_the_computer_is_off(phone: Page, own_demo):
    """Though only Keep was opened: as they stood then, and the page says so."""
    phone.goto(f"{own_demo.url}/gardens/1/keep")
    phone.evaluate("navigator.serviceWorker.ready.then(() => true)")
    phone.reload()
    kept = """async () => {
      const cache = await caches.open("euhydra-1");
      return (await cache.keys()).map((each) => new URL(each.url).pathname.split("/").pop());
    }"""
    for _ in range(100):
        if {"keep", "steps", "today"} <= set(phone.evaluate(kept)):
            break
        phone.wait_for_timeout(200)
    own_demo.stop()
    for page, answer in (("today", "h1"), ("steps", "input.box"), ("keep", "h1")):
        phone.goto(f"{own_demo.url}/gardens/1/{page}")
        expect(phone.locator(answer).first).to_be_visible()
        expect(phone.locator("#last-seen")).to_contain_text("As last seen on")


def test_an_old_entry_that_is_refused_can_be_put_right(phone: Page, own_demo):
    phone.goto(f"{own_demo.url}/gardens/1/keep")
    phone.context.set_offline(True)
    write(phone, "Dip of a store", About="Shed barrel", Water_on_the_stick="4 m", Note="typo")
    expect(phone.get_by_text("1 entry waits on this device")).to_be_visible()
    phone.context.set_offline(False)
    phone.get_by_role("button", name="Put it right").tap()
    form = phone.get_by_role("form", name="Dip of a store")
    form.get_by_label("Water on the stick").fill("40 cm")
    form.get_by_role("button", name="Keep it").tap()
    expect(phone.locator("ol.log")).to_contain_text("40 cm")
    assert notes(own_demo) == ["typo"]


def test_a_photo_is_made_small_on_the_phone_and_no_photo_is_said_so(
    phone: Page, own_demo, tmp_path
):
    large = tmp_path / "leaf.jpg"
    Image.effect_noise((2800, 2100), 80).save(large, "JPEG", quality=95)
    sent: list[int] = []
    phone.on(
        "request",
        lambda r: sent.append(len(r.post_data_buffer or b"")) if r.method == "POST" else None,
    )
    phone.goto(f"{own_demo.url}/gardens/1/keep")
    phone.get_by_role("button", name="Note or photo").tap()
    form = phone.get_by_role("form", name="Note or photo")
    form.get_by_label("Photo").set_input_files(
        {"name": "a.jpg", "mimeType": "image/jpeg", "buffer": b"x" * 500}
    )
    form.get_by_role("button", name="Keep it").tap()
    expect(form).to_contain_text("not a picture")
    monster = tmp_path / "monster.jpg"
    with monster.open("wb") as file:
        file.truncate(81_000_000)
    form.get_by_label("Photo").set_input_files(monster)
    form.get_by_role("button", name="Keep it").tap()
    expect(form).to_contain_text("This photo has 81 MB: choose one below 40 MB")
    form.get_by_label("Photo").set_input_files(large)
    form.get_by_role("button", name="Keep it").tap()
    picture = phone.get_by_alt_text("Photo with this entry")
    expect(picture).to_be_visible()
    kept = phone.request.get(own_demo.url + picture.get_attribute("src")).body()
    assert max(Image.open(io.BytesIO(kept)).size) == 1600
    assert sent[-1] < large.stat().st_size / 3


def test_steps_are_ticked_with_a_thumb_and_stay(phone: Page, own_demo):
    phone.goto(f"{own_demo.url}/gardens/1/steps")
    box = phone.get_by_role("checkbox").first
    side = box.bounding_box()
    assert side["width"] >= 24  # WCAG 2.2, 2.5.8: target size
    box.tap()
    expect(phone.locator(".answer .summary")).to_contain_text("1 of 33 steps are done")
    phone.reload()
    expect(phone.get_by_role("checkbox").first).to_be_checked()


def test_what_is_left_is_said_after_a_tick(phone: Page, own_demo):
    phone.goto(f"{own_demo.url}/gardens/1/steps")
    phone.locator("input.box").first.check()
    told = phone.locator("#told")
    expect(told).not_to_be_empty()
    expect(phone.locator(".answer .verdict .summary")).to_have_text(told.inner_text())


def test_a_tick_that_cannot_be_kept_is_taken_back(phone: Page, own_demo):
    phone.goto(f"{own_demo.url}/gardens/1/build")
    phone.context.set_offline(True)
    box = phone.get_by_role("checkbox").first
    box.tap()
    expect(phone.get_by_text("This tick was not kept")).to_be_visible()
    expect(box).not_to_be_checked()


def test_lists_and_labels_print_without_the_rest(page: Page, demo):
    for path, shown in (
        ("build", "Tee"),
        ("steps", "Gather and mark out"),
        ("labels", "Shed hose"),
        ("upkeep", "Winter list"),
    ):
        page.goto(f"{demo.url}/gardens/1/{path}")
        page.emulate_media(media="print")
        expect(page.locator("main")).to_contain_text(shown)
        expect(page.locator("header")).to_be_hidden()
        page.emulate_media(media="screen")


def test_the_first_page_of_keep_is_light(page: Page, demo):
    """Budget: under 200 kB over the wire, cold."""
    sizes: list[int] = []

    def count(response) -> None:
        sizes.append(response.request.sizes()["responseBodySize"])

    page.on("requestfinished", lambda r: count(r.response()))
    page.goto(f"{demo.url}/gardens/1/keep")
    page.wait_for_load_state("networkidle")
    assert sum(sizes) < 200_000


@again("web/test_build_and_keep_pages.py::test_prices_and_ticks_are_kept_and_counted")
def test_prices_are_typed_in_the_shop(phone: Page, own_demo):
    phone.goto(f"{own_demo.url}/gardens/1/build")
    price = phone.get_by_label("Downspout diverter: price of a pack")
    row = phone.get_by_role("row").filter(has=price)
    assert row.bounding_box()["width"] <= PHONE["width"]  # nothing hangs over the side
    price.fill("19,50")
    keep = phone.get_by_role("button", name="Keep these prices")
    expect(keep).to_be_in_viewport()  # it comes along while something is not kept yet
    keep.tap()
    expect(price).to_have_value("19.50")
    expect(row).to_contain_text("58.50")  # three of them
    phone.get_by_label("Downspout diverter: price of a pack").fill("-2")
    phone.get_by_role("button", name="Keep these prices").tap()
    expect(phone.get_by_role("alert").filter(has_text="type 0 or more")).to_be_visible()
    expect(price).to_have_value("-2")


@again("browser/test_keep.py::test_steps_are_ticked_with_a_thumb_and_stay")
def test_a_stage_counts_down_as_its_steps_are_ticked(phone: Page, own_demo):
    phone.goto(f"{own_demo.url}/gardens/1/steps")
    stages = phone.locator(".stages li")
    expect(stages.first).to_contain_text("1 to do")
    phone.get_by_role("checkbox").first.tap()
    expect(stages.first).to_contain_text("done")
    phone.get_by_role("link", name="To the next step").tap()
    expect(phone.get_by_role("heading", name="2. Ground and stand")).to_be_in_viewport()
    stages.nth(2).get_by_role("link").tap()
    expect(phone.get_by_role("heading", name="Rain from the roof")).to_be_in_viewport()


@again("web/test_build_and_keep_pages.py::test_first_run_keeps_what_was_measured")
def test_a_cup_at_the_first_run_is_judged_and_marked_on_the_plan(phone: Page, own_demo):
    phone.goto(f"{own_demo.url}/gardens/1/first-run?at=shed-timer")
    points = phone.locator("ol.points > li")
    numbers = phone.locator(".numbered text")
    expect(numbers).to_have_count(points.count())
    first = points.nth(1)
    first.get_by_label("Caught at").fill("2 mL")
    first.get_by_role("button").tap()
    expect(points.nth(1)).to_contain_text("weaker than solved")
    expect(phone.locator(".answer .summary")).to_contain_text("its first outlet")


@again("web/test_build_and_keep_pages.py::test_feed_is_dosed_and_too_strong_is_refused")
def test_feed_is_reckoned_and_kept_with_a_thumb(phone: Page, own_demo):
    phone.goto(f"{own_demo.url}/gardens/1/feed")
    form = phone.locator("form").filter(has=phone.get_by_label("It goes"))
    form.get_by_label("It goes").select_option(label="Shed barrel")
    form.get_by_label("Water to feed with").fill("100 L")
    form.get_by_label("Concentrate for 1 L").fill("4 mL")
    form.get_by_role("button", name="How much?").tap()
    expect(phone.locator(".answer .summary")).to_contain_text(
        "400 mL of concentrate into “Shed barrel”"
    )
    phone.get_by_role("button", name="Keep 400 mL of feed").tap()
    expect(phone.get_by_text("Last: Shed barrel")).to_be_visible()


def test_on_a_phone_the_strip_shows_its_newest_days(phone: Page, demo):
    phone.goto(f"{demo.url}/gardens/1/judge")
    strip = phone.get_by_label("Plan and record", exact=True)
    edge = strip.evaluate("e => e.scrollWidth - e.clientWidth - e.scrollLeft")
    assert abs(edge) <= 1
    names = strip.locator("text.lane:visible")
    expect(names.first).to_have_text("Top step")
    expect(names.first).to_be_in_viewport()
