"""Usual months of places that ship with the program, found by name or by where they lie."""

import csv
import re
from collections.abc import Sequence
from dataclasses import dataclass
from difflib import get_close_matches
from functools import cache, cached_property
from math import asin, cos, radians, sin, sqrt

from euhydra.garden import catalogue, latitudes
from euhydra.garden.town_names import COUNTRIES_TOO, LONGEST, Called, plain, words_of

SOURCE = (
    "From memory of published normals, rounded; each place's class by Köppen and Geiger is checked"
)
"""Where the table comes from."""

LAPSE = 6.5e-3
"""Fall of temperature with height. [K m⁻¹] The standard atmosphere's."""

EARTH_KM = 6371.0
"""Mean radius of the Earth. [km]"""

MOST_FOUND = 8
"""Places that are named for a part of a name."""

MOST_CLOSE, LEAST_ALIKE = 3, 0.85
"""Places that are named for one that is misspelled, and how much of its letters they share. [-]"""

COLUMNS = ("precip_mm", "tmin_c", "tmax_c", "wet_days")
"""Columns of twelve months each, as `normals` takes them."""

Months = tuple[float, ...]


@dataclass(frozen=True)
class ReferenceClimate:
    """A place and its usual months.

    region, code : Its state, where towns are told apart by it, and how that is written short.
    also : What it is called besides.
    latitude, longitude : North and east positive. [°]
    elevation_m : [m]
    months : Twelve values of each of `COLUMNS`.
    """

    name: str
    region: str
    code: str
    country: str
    also: tuple[str, ...]
    latitude: float
    longitude: float
    elevation_m: float
    months: dict[str, Months]

    @property
    def label(self) -> str:
        """Name, state and country, as a list shows it."""
        return ", ".join(filter(None, (self.name, self.region, self.country)))

    @cached_property
    def called(self) -> Called:
        """What it is called, with or without its state and its country."""
        around = (self.region, self.code, self.country, *COUNTRIES_TOO.get(self.country, ()))
        return Called.by((self.name, *self.also), around)

    @cached_property
    def beginnings(self) -> tuple[str, ...]:
        """What a part of its name is the beginning of, plain."""
        return (plain(self.label), *map(plain, self.also))

    def at_height(self, elevation_m: float) -> dict[str, list[float | None]]:
        """Its months at another height: cooler higher up, by the fall of the standard atmosphere."""
        warmer = LAPSE * (self.elevation_m - elevation_m)
        shifted: dict[str, list[float | None]] = {}
        for column, values in self.months.items():
            by = warmer if column in ("tmin_c", "tmax_c") else 0.0
            shifted[column] = [round(value + by, 1) for value in values]
        return shifted

    def distance_km(self, latitude: float, longitude: float) -> float:
        """To a place, along the ground. [km]"""
        a, b = radians(self.latitude), radians(latitude)
        half = sin((b - a) / 2) ** 2
        half += cos(a) * cos(b) * sin(radians(longitude - self.longitude) / 2) ** 2
        return 2 * EARTH_KM * asin(sqrt(half))


@cache
def all_places() -> tuple[ReferenceClimate, ...]:
    """Every place, in the order of its name."""
    table = csv.DictReader(catalogue.text_of("climates.csv").splitlines())
    return tuple(
        ReferenceClimate(
            row["name"],
            row["region"],
            row["code"],
            row["country"],
            tuple(filter(None, row["also"].split("|"))),
            float(row["latitude"]),
            float(row["longitude"]),
            float(row["elevation_m"]),
            {column: tuple(map(float, row[column].split())) for column in COLUMNS},
        )
        for row in table
    )


def places_like(text: str) -> Sequence[ReferenceClimate]:
    """Places whose name begins so, then those in which a word does, then those of such a country or state; where
    there is none, those that are spelled much the same.
    """
    return _beginning_so(text) or _spelled_so(text)


def _beginning_so(text: str) -> list[ReferenceClimate]:
    wanted = plain(text[:LONGEST])
    if not wanted:
        return []
    ranked = [(rank, place) for place in all_places() if (rank := _rank(place, wanted)) is not None]
    return [place for _, place in sorted(ranked, key=lambda each: each[0])][:MOST_FOUND]


def _spelled_so(text: str) -> list[ReferenceClimate]:
    names = {" ".join(name): place for place in all_places() for name in place.called.names}
    first = plain(re.split("[,;(]", text[:LONGEST])[0])
    close = get_close_matches(first, names, MOST_CLOSE, LEAST_ALIKE)
    return [names[name] for name in close]


def place_named(text: str) -> ReferenceClimate | None:
    """The place that is called so, with or without its country; the only one that is like it; else None.

    Of two of one name it is the one without a state: whoever lives in the other says which.
    """
    asked = words_of(text)
    named = [place for place in all_places() if place.called.is_meant(asked)]
    if len(named) > 1:
        named = [place for place in named if not place.region]
    if len(named) == 1:
        return named[0]
    like = _beginning_so(text)
    return like[0] if len(like) == 1 else None


@dataclass(frozen=True)
class Located:
    """Where something lies, and the place whose climate it takes.

    latitude : [°]
    distance_km : From it to that place.
    """

    place: ReferenceClimate
    latitude: float
    distance_km: float = 0.0


def located(text: str) -> Located | None:
    """A town by its name, or a latitude and longitude with the place that lies nearest; None for neither."""
    place = place_named(text)
    if place is not None:
        return Located(place, place.latitude)
    where = latitudes.pair(text)
    if where is None:
        return None
    place = nearest(*where)
    return Located(place, where[0], place.distance_km(*where))


def nearest(latitude: float, longitude: float) -> ReferenceClimate:
    """The place that lies nearest."""
    return min(all_places(), key=lambda place: place.distance_km(latitude, longitude))


def _rank(place: ReferenceClimate, wanted: str) -> int | None:
    if any(each.startswith(wanted) for each in place.beginnings):
        return 0
    if any(word.startswith(wanted) for word in place.called.names[0]):
        return 1
    around = plain(place.country), plain(place.region)
    return 2 if any(each.startswith(wanted) for each in around) else None
