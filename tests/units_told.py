"""What a garden's pages, drawings and files owe its owner: every figure in that garden's units alone."""

import re
from collections.abc import Iterator

from euhydra.garden.quantities import System
from markup import Page

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

CHOICE_OF_UNITS = {"Litres, metres, °C", "Gallons, feet, °F", "US units", "Metric units"}


def _told(page: Page) -> Iterator[str]:
    """What the page says in text, and in what is read aloud or shown before typing."""
    for element in page.elements:
        # A published formula and its source keep the units that they were published in.
        if element.tag in ("script", "style") or "formula" in element.get("class", "").split():
            yield element.tail or ""
            continue
        yield from (element.text or "", element.tail or "")
        yield from (
            element.get(name, "") for name in ("aria-label", "placeholder", "title", "value")
        )


def _foreign(texts: Iterator[str], system: System) -> list[str]:
    found = []
    for text in sorted({each.strip() for each in texts}):  # most of a page is said more than once
        if text in CHOICE_OF_UNITS or text.startswith("Source:"):
            continue
        found += [
            text[max(0, m.start() - 60) : m.end() + 40] for m in OTHERS[system].finditer(text)
        ]
    return found


def in_page(page: Page, system: System) -> list[str]:
    """Figures of a page in units of the other system, with some words around them."""
    return sorted(set(_foreign(_told(page), system)))


def in_file(address: str, text: str, system: System) -> list[str]:
    """The same of a file for people; nothing of one for machines."""
    if not address.split("?")[0].endswith(FILES):
        return []
    words = re.sub(r'\b(?:d|points|viewBox|x|y|r|cx|cy)="[^"]*"', "", text)
    return _foreign(iter(re.split(r"[<>\n]", words)), system)
