"""The morning on a phone: what is done is written down with a touch, taken back, and kept without a connection."""

from contextlib import closing
from dataclasses import replace
from datetime import date

import pytest
from playwright.sync_api import Browser, Page, expect

from euhydra.garden import edits, normals, reference_climates
from euhydra.records import database, gardens, log, weather
from euhydra.records.log import Search
from served import PHONE, Served
from sound_gardens import tap_bed
from sweeps import swept

pytestmark = pytest.mark.browser


@pytest.fixture
def dry_garden(tmp_path) -> Served:
    """A border that stands all year where it hardly rains, on a timer that gives next to nothing."""
    town = reference_climates.place_named("Lima")
    garden = tap_bed(crop="border-moderate")
    place = garden.place.model_copy(update={"latitude_deg": town.latitude})
    timer = garden.timers[0].model_copy(update={"set_minutes": 60.0})
    garden = edits.put(edits.replace(garden, place=place), "timers", timer)
    data = tmp_path / "data"
    with closing(database.connect(database.prepare(data))) as conn:
        garden_id = gardens.create(conn, garden)
        days = normals.make_days(town.at_height(town.elevation_m), 3)
        weather.add(conn, garden_id, days, "Lima")
    served = Served(data)
    yield served
    served.stop()


@pytest.fixture
def phone(browser: Browser):
    context = browser.new_context(viewport=PHONE, has_touch=True)
    yield context.new_page()
    context.close()


def entries(served: Served) -> list[log.KeptEntry]:
    with closing(database.connect(served.data / database.FILE_NAME)) as conn:
        return log.find(conn, 1, Search())


def kinds(served: Served) -> list[str]:
    return [kept.entry.kind for kept in entries(served)]


def done(phone: Page):
    return phone.get_by_role("button", name=": done")


def test_what_is_done_is_in_the_log_and_can_be_taken_back(phone: Page, dry_garden):
    phone.goto(f"{dry_garden.url}/gardens/1/today")
    done(phone).first.tap()
    expect(phone.get_by_text("Done today")).to_be_visible()
    expect(phone.get_by_text("Done for this morning.")).to_be_visible()
    assert kinds(dry_garden) in (["run"], ["setting"])
    phone.get_by_role("button", name="not done after all").tap()
    expect(done(phone).first).to_be_visible()
    assert kinds(dry_garden) == []


def test_what_is_done_in_part_is_said_and_still_asked_for(phone: Page, dry_garden):
    phone.goto(f"{dry_garden.url}/gardens/1/today")
    done(phone).first.tap()
    expect(phone.get_by_text("Done today")).to_be_visible()
    (kept,) = entries(dry_garden)
    amount, *rest = kept.entry.amounts
    part_of_it = replace(kept.entry, amounts=(amount / 10, *rest))
    phone.get_by_role("button", name="not done after all").tap()
    expect(done(phone).first).to_be_visible()
    with closing(database.connect(dry_garden.data / database.FILE_NAME)) as conn:
        log.add(conn, 1, "a tenth", part_of_it)
    phone.reload()
    expect(phone.get_by_text("So far today")).to_be_visible()
    expect(phone.get_by_text("Done for this morning.")).to_have_count(0)


def test_without_a_connection_it_waits_and_is_written_once(phone: Page, dry_garden):
    phone.goto(f"{dry_garden.url}/gardens/1/today")
    phone.context.set_offline(True)
    done(phone).first.tap()
    expect(phone.get_by_text("What you did waits on this device")).to_be_visible()
    assert kinds(dry_garden) == []
    phone.context.set_offline(False)
    expect(phone.get_by_text("Done today")).to_be_visible()
    assert len(kinds(dry_garden)) == 1


@pytest.mark.parametrize(
    "clock", swept(["2020-01-02T07:30:00", "2035-01-02T07:30:00"], ["2020-01-02T07:30:00"])
)
def test_a_phone_with_a_wrong_clock_writes_it_down_for_this_morning(phone: Page, dry_garden, clock):
    phone.clock.set_system_time(clock)
    phone.goto(f"{dry_garden.url}/gardens/1/today")
    done(phone).first.tap()
    expect(phone.get_by_text("Done today")).to_be_visible()
    (kept,) = entries(dry_garden)
    assert kept.entry.at.date() == date.today()


def test_two_who_do_the_same_write_it_down_once(browser: Browser, phone: Page, dry_garden):
    context = browser.new_context(viewport=PHONE, has_touch=True)
    other = context.new_page()
    for page in (phone, other):
        page.goto(f"{dry_garden.url}/gardens/1/today")
        expect(done(page).first).to_be_visible()
    for page in (phone, other):
        done(page).first.tap()
        expect(page.get_by_text("Done today")).to_be_visible()
    assert len(entries(dry_garden)) == 1
    # Taken back, it can be done after all.
    other.get_by_role("button", name="not done after all").tap()
    done(other).first.tap()
    expect(other.get_by_text("Done today")).to_be_visible()
    assert len(entries(dry_garden)) == 1
    context.close()
