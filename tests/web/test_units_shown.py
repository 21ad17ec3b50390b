"""Every page, drawing and file of a garden tells its figures in that garden's units alone."""

import re
from collections.abc import Iterator

import pytest
from fastapi.testclient import TestClient

from euhydra.garden import edits
from euhydra.garden.model import Garden
from euhydra.garden.quantities import System
from gardens import abroad, one_barrel, soggy, with_part
from markup import Page
from served import PAGES, served_garden

METRIC = re.compile(
    r"(?<![\w.,/])\d[\d.,]*\s?(?:mm|cm|km|m|mL|L|L/h|L/min|kg|bar|kPa|°C|m²|m³|mm/h|m/s)(?![\w/²³°])"
    r"|\b(?:litres?|metres?|millimetres?|centimetres?|kilograms?)\b"
)
US = re.compile(
    r"(?<![\w.,/])\d[\d.,/ ]*\s(?:in|ft|gal|gal/h|gal/min|psi|°F|lb|lb/ft²|mph|fl oz|ft²|in/h)(?![\w/²])"
    r"|\b(?:gallons?|inches|feet|pounds?)\b"
)
OTHERS = {System.METRIC: US, System.US: METRIC}

FILES = ("plan.svg", "programme.csv", "programme.ics", "upkeep.ics", "prices.csv")
"""Files for people; those for machines are in SI, see the page on formats."""

AS_PUBLISHED = ("formula", "Source:")
"""A published formula and its source keep the units that they were published in."""

CHOICE_OF_UNITS = {"Litres, metres, °C", "Gallons, feet, °F", "Use US units", "Use metric units"}


def told(page: Page) -> Iterator[str]:
    """What the page says in text, and in what is read aloud or shown before typing."""
    for element in page.elements:
        if element.tag in ("script", "style") or "formula" in element.get("class", "").split():
            yield element.tail or ""
            continue
        yield from (element.text or "", element.tail or "")
        yield from (
            element.get(name, "") for name in ("aria-label", "placeholder", "title", "value")
        )


def foreign(texts: Iterator[str], system: System) -> list[str]:
    found = []
    for text in map(str.strip, texts):
        if text in CHOICE_OF_UNITS or text.startswith("Source:"):
            continue
        found += [
            text[max(0, m.start() - 60) : m.end() + 40] for m in OTHERS[system].finditer(text)
        ]
    return found


def in_units(garden: Garden, system: System) -> Garden:
    return edits.replace(garden, units=system)


GARDENS = {
    "demo, metric": lambda: in_units(abroad(), System.METRIC),
    "demo, US": abroad,
    "pumped, metric": soggy,
    "pumped, US": lambda: in_units(soggy(), System.US),
    "far up, US": lambda: in_units(with_part(one_barrel(), "beds", ground_m=40.0), System.US),
    "bare, US": lambda: Garden(name="Bare", units=System.US, place=one_barrel().place),
}


@pytest.mark.parametrize("name", GARDENS)
def test_no_unit_of_the_other_system_is_told(tmp_path, name):
    garden = GARDENS[name]()
    faults: dict[str, list[str]] = {}
    with served_garden(tmp_path, garden) as client:
        for page in [f"/{p}" for p in PAGES if p and "lines/" not in p and "log/1" not in p]:
            answer = client.get(page)
            if found := foreign(told(Page(answer.text)), garden.units):
                faults[page] = sorted(set(found))
        for file in FILES:
            faults |= _in_file(client, file, garden.units)
    assert faults == {}


def _in_file(client: TestClient, file: str, system: System) -> dict[str, list[str]]:
    answer = client.get(f"/gardens/1/{file}")
    if answer.status_code == 409:
        return {}  # nothing is set yet
    text = re.sub(r'\b(?:d|points|viewBox|x|y|r|cx|cy)="[^"]*"', "", answer.text)
    found = foreign(iter(re.split(r"[<>\n]", text)), system)
    return {file: found} if found else {}
