"""Gardens as ways to begin make them, in towns of the reference climates."""

from functools import cache

from euhydra.core.weather import DailyWeather
from euhydra.garden import normals, reference_climates
from euhydra.garden.model import Garden, Place
from euhydra.garden.quantities import System
from euhydra.garden.reference_climates import ReferenceClimate
from euhydra.planner.beginning import ways
from euhydra.planner.beginning.asks import way_kinds

WAYS = [way_id for way_id in way_kinds() if way_id != "empty"]

OF_EACH_WATER = ("barrel", "totes", "cellar", "tap", "pairs", "patio", "troughs", "washing", "can")
"""Of stores, of a tap, of washing water; through lines, tubes, floats, hoses moved, and carried."""


@cache
def place(name: str) -> tuple[ReferenceClimate, DailyWeather]:
    """A town, and eight years of its weather."""
    town = reference_climates.place_named(name)
    assert town is not None
    return town, normals.make_days(town.at_height(town.elevation_m), 8)


def empty(town: str = "Brussels", units: System = System.METRIC) -> Garden:
    """A garden there without anything."""
    found, _ = place(town)
    where = Place(latitude_deg=found.latitude, elevation_m=found.elevation_m)
    return Garden(name="Quince Corner", units=units, place=where)


@cache
def begun(way: str, town: str = "Brussels", units: System = System.METRIC) -> Garden:
    """With what a way makes of no answers."""
    return ways.begin(empty(town, units), way_kinds()[way], {}, place(town)[1])
