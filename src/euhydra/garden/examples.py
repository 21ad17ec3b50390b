"""Invented gardens to look at: the demo, and a small one in US units."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from euhydra.garden import catalogue, demo, document, reference_climates
from euhydra.garden.model import Garden

Months = Mapping[str, list[float | None]]


@dataclass(frozen=True)
class Example:
    """A garden that ships with the program, with its weather.

    weather_name : What its weather is called.
    months : Its usual months by column.
    """

    name: str
    sentence: str
    garden: Callable[[], Garden]
    weather_name: str
    months: Callable[[], Months]


def _balcony() -> Garden:
    return document.loads(catalogue.text_of("copper_balcony.json"))


def _balcony_months() -> Months:
    town = reference_climates.place_named("Atlanta")
    assert town is not None
    return town.at_height(town.elevation_m)


EXAMPLES = {
    "pilchard-steps": Example(
        "Pilchard Steps",
        "a slope with roofs, barrels, washing water and beds, in metres",
        demo.garden,
        demo.WEATHER_NAME,
        demo.normals,
    ),
    "copper-balcony": Example(
        "Copper Balcony",
        "pots and self-watering planters on a tap, in feet and gallons",
        _balcony,
        "Usual months of Atlanta, Georgia, United States",
        _balcony_months,
    ),
}
"""By id, as they are offered."""
