"""Every page of gardens as unlike as they come: sound markup, no dead link, no word unfilled, one unit system."""

import re
from collections import Counter

import pytest
from fastapi.testclient import TestClient
from starlette.routing import Match

import units_told
from euhydra.garden import demo, edits
from euhydra.garden.model import Garden
from euhydra.garden.quantities import System
from gardens import abroad, one_barrel, soggy, tapped, two_sources, with_part
from markup import Page
from served import PAGES, served_garden
from sweeps import swept

pytestmark = pytest.mark.usefixtures("briefly")

MOST_PAGES = 600
"""Addresses of a garden: that there are more means that links breed links."""


def _bare() -> Garden:
    """Nothing but a place, in US units."""
    return Garden(name="Bare", units=System.US, place=one_barrel().place)


def _roof_only() -> Garden:
    """A roof and its large tank, high above the sea, and nothing that drinks."""
    garden = with_part(one_barrel(), "stores", kind="tank", volume_m3=3.2, across_m=2.2)
    high = garden.place.model_copy(update={"elevation_m": 1609.0})
    garden = edits.replace(garden, place=high)
    for bed in garden.beds:
        garden = edits.remove(garden, bed.id)
    return garden


def _unwatered() -> Garden:
    """The demo after every pipe is gone."""
    garden = demo.garden()
    while garden.pipes:
        garden = edits.remove(garden, garden.pipes[0].id)
    return garden


def _by_hand() -> Garden:
    """The demo without a pipe, watered by can and by hose, in US units."""
    garden = edits.replace(_unwatered(), units=System.US)
    garden = with_part(garden, "beds", 0, hand_from="garden-tap", gives_m3=0.005)
    garden = with_part(garden, "beds", 1, hand_from="shed-barrel")
    return with_part(garden, "beds", 2, hand_from="garden-tap", hand_with="hose")


def _far_up() -> Garden:
    """A bed high above its barrel, in US units: nothing comes out."""
    return edits.replace(with_part(one_barrel(), "beds", ground_m=40.0), units=System.US)


def _soggy_in_us_units() -> Garden:
    """Pumps and wet ground, in US units."""
    return edits.replace(soggy(), units=System.US)


GARDENS = {
    "demo with log": lambda: None,
    "bare": _bare,
    "abroad": abroad,
    "roof only": _roof_only,
    "unwatered": _unwatered,
    "by hand": _by_hand,
    "far up": _far_up,
    "two sources": two_sources,
    "hose alone": tapped,
    "soggy and pumped": _soggy_in_us_units,
}


LONG = re.compile("/worth$")
"""Pieces that take seconds."""

THOROUGHLY = ("demo with log", "by hand")
"""Gardens, one of each unit system, in which these are opened too, and markup is read step by step."""

ALIKE = 2
"""Addresses that are opened of those that differ only in what they are turned to."""

TURNED_TO = ("at", "zone", "node", "month")
"""What a page is turned to, in its address."""


def _sort_of(address: str) -> str:
    """An address without its numbers and what it is turned to."""
    path, _, query = address.partition("?")
    asked = sorted(part for part in query.split("&") if part.split("=")[0] not in TURNED_TO)
    return re.sub(r"[0-9]+", "N", path) + "?" + "&".join(asked)


def _walk(
    client: TestClient, start: list[str], units: System, *, is_thorough: bool
) -> dict[str, list[str]]:
    """Open everything that can be reached, some of each sort; faults by address."""
    faults: dict[str, list[str]] = {}
    opened: Counter[str] = Counter()
    ahead, seen = list(start), set(start)
    while ahead:
        assert len(seen) < MOST_PAGES, ahead[-5:]
        address = ahead.pop(0)
        opened[_sort_of(address)] += 1
        if opened[_sort_of(address)] > ALIKE or (LONG.search(address) and not is_thorough):
            continue
        answer = client.get(address)
        if answer.status_code != 200:
            faults[address] = [f"answered {answer.status_code}"]
        elif answer.headers["content-type"].startswith("text/html"):
            page = Page(answer.text)
            # What is asked before there is a garden has no garden's units.
            foreign = units_told.in_page(page, units) if address.startswith("/gardens/") else []
            is_first = is_thorough and opened[_sort_of(address)] == 1
            broken = page.against_the_standard() if is_first else []
            if found := page.faults() + broken + foreign:
                faults[address] = found
            base = address.split("?")[0]
            new = {base + a if a[0] == "?" else a for a in page.addresses()} - seen
            faults |= {f"form of {address}": f for f in [_posts(client, page)] if f}
            seen |= new
            ahead.extend(sorted(new))
        elif found := units_told.in_file(address, answer.text, units):
            faults[address] = found
    return faults


def _posts(client: TestClient, page: Page) -> list[str]:
    """Forms of the page that no route takes."""
    posts = [form.action.split("?")[0].split("#")[0] for form in page.forms()]
    return [f"nothing takes {action}" for action in posts if not _taken(client, action)]


def _taken(client: TestClient, action: str) -> bool:
    scope = {"type": "http", "method": "POST", "path": action, "root_path": "", "headers": []}
    return any(route.matches(scope)[0] is Match.FULL for route in client.app.routes)


@pytest.mark.parametrize("name", swept(GARDENS, ["by hand"]))
def test_every_page_is_sound_and_every_link_leads_somewhere(tmp_path, name):
    garden = GARDENS[name]()
    units = garden.units if garden else System.METRIC
    with served_garden(tmp_path, garden) as client:
        skipped = () if garden is None else ("lines/", "log/1", "fault")
        pages = [f"/{p}" for p in PAGES if not any(s in p for s in skipped)]
        assert _walk(client, pages, units, is_thorough=name in THOROUGHLY) == {}
