"""Gardens unlike the demo on a phone: other units, long names, or nothing at all."""

from collections.abc import Iterator
from contextlib import closing

import pytest
from playwright.sync_api import Browser, Page

from barriers import COLOURS, barriers
from euhydra.garden import demo, normals
from euhydra.garden.model import Garden
from euhydra.records import database, gardens, weather
from gardens import abroad, one_barrel
from served import PAGES, PHONE, Served
from sweeps import swept
from words_apart import crowded_words, sentences_in_columns

pytestmark = pytest.mark.browser

ONLY_OF_THE_DEMO = ("lines/", "log/1", "fault")

OF_ANY = [path for path in PAGES if not any(part in path for part in ONLY_OF_THE_DEMO)]

ASKED_AT_ONCE = ("gardens/1/time", "gardens/1/today")


def _bare() -> Garden:
    return Garden(name="Bare", place=one_barrel().place)


@pytest.fixture(scope="module", params=[abroad, _bare], ids=["abroad", "bare"])
def other(
    request: pytest.FixtureRequest, tmp_path_factory: pytest.TempPathFactory
) -> Iterator[tuple[str, tuple[str, ...]]]:
    """Its address, and the rules that the demo's pages have passed for it: of all colours but those of
    what says that there is nothing yet.
    """
    data = tmp_path_factory.mktemp("other")
    served = Served(data)
    garden = request.param()
    with closing(database.connect(data / database.FILE_NAME)) as conn:
        garden_id = gardens.create(conn, garden)
        if garden.beds:
            months = demo.normals()
            weather.add(conn, garden_id, normals.make_days(months, 3), "Usual months", months)
    yield served.url, COLOURS if garden.beds else ()
    served.stop()


@pytest.fixture(scope="module")
def phone(browser: Browser) -> Iterator[Page]:
    context = browser.new_context(viewport=PHONE, has_touch=True)
    yield context.new_page()
    context.close()


@pytest.mark.parametrize("path", swept(OF_ANY, ASKED_AT_ONCE))
def test_no_barrier_and_nothing_wider_than_the_phone(phone: Page, other, path: str):
    url, passed = other
    said: list[str] = []
    phone.on("console", lambda m: said.append(m.text) if m.type in ("warning", "error") else None)
    phone.goto(f"{url}/{path}")
    assert barriers(phone, passed) == []
    assert sentences_in_columns(phone) == []
    assert crowded_words(phone) == []
    assert said == []
