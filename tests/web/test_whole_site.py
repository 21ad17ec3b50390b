"""Every page of gardens as unlike as they come: sound markup, no dead link, no word unfilled."""

import pytest
from fastapi.testclient import TestClient
from starlette.routing import Match

from euhydra.garden import demo, edits
from euhydra.garden.model import Garden
from gardens import abroad, one_barrel, soggy, tapped, with_part
from markup import Page
from served import PAGES, served_garden

MOST_PAGES = 600
"""Addresses of a garden: that there are more means that links breed links."""


def _bare() -> Garden:
    """Nothing but a place."""
    return Garden(name="Bare", place=one_barrel().place)


def _roof_only() -> Garden:
    """A roof and its barrel, and nothing that drinks."""
    garden = one_barrel()
    for bed in garden.beds:
        garden = edits.remove(garden, bed.id)
    return garden


def _unwatered() -> Garden:
    """The demo after every pipe is gone."""
    garden = demo.garden()
    while garden.pipes:
        garden = edits.remove(garden, garden.pipes[0].id)
    return garden


def _far_up() -> Garden:
    """A bed high above its barrel: nothing comes out."""
    return with_part(one_barrel(), "beds", ground_m=40.0)


GARDENS = {
    "demo with log": lambda: None,
    "bare": _bare,
    "abroad": abroad,
    "roof only": _roof_only,
    "unwatered": _unwatered,
    "far up": _far_up,
    "hose alone": tapped,
    "soggy and pumped": soggy,
}


def _walk(client: TestClient, start: list[str]) -> dict[str, list[str]]:
    """Open everything that can be reached; faults by address."""
    faults: dict[str, list[str]] = {}
    ahead, seen = list(start), set(start)
    while ahead:
        assert len(seen) < MOST_PAGES, ahead[-5:]
        address = ahead.pop(0)
        answer = client.get(address)
        if answer.status_code != 200:
            faults[address] = [f"answered {answer.status_code}"]
        elif answer.headers["content-type"].startswith("text/html"):
            page = Page(answer.text)
            if found := page.faults():
                faults[address] = found
            base = address.split("?")[0]
            new = {base + a if a[0] == "?" else a for a in page.addresses()} - seen
            faults |= {f"form of {address}": f for f in [_posts(client, page)] if f}
            seen |= new
            ahead.extend(sorted(new))
    return faults


def _posts(client: TestClient, page: Page) -> list[str]:
    """Forms of the page that no route takes."""
    posts = [form.action.split("?")[0].split("#")[0] for form in page.forms()]
    return [f"nothing takes {action}" for action in posts if not _taken(client, action)]


def _taken(client: TestClient, action: str) -> bool:
    scope = {"type": "http", "method": "POST", "path": action, "root_path": "", "headers": []}
    return any(route.matches(scope)[0] is Match.FULL for route in client.app.routes)


@pytest.mark.parametrize("name", GARDENS)
def test_every_page_is_sound_and_every_link_leads_somewhere(tmp_path, name):
    with served_garden(tmp_path, GARDENS[name]()) as client:
        skipped = () if name == "demo with log" else ("lines/", "log/1", "fault")
        pages = [f"/{p}" for p in PAGES if not any(s in p for s in skipped)]
        assert _walk(client, pages) == {}
