import pytest
from pytest import approx

from euhydra.garden import latitudes, reference_climates
from euhydra.garden.quantities import QuantityError


@pytest.mark.parametrize(
    ("text", "degrees"),
    [
        ("41.2", 41.2),
        ("-33.9", -33.9),
        ("−33,9", -33.9),
        ("41 N", 41),
        ("33.9 S", -33.9),
        ("33.9s", -33.9),
        ("S 33 54", -33.9),
        ("41° 12'", 41.2),
        ("41°12'30\"N", 41 + 12 / 60 + 30 / 3600),
        ("51 30 north", 51.5),
        ("0", 0),
        ("90", 90),
    ],
)
def test_a_latitude_as_people_write_it(text, degrees):
    assert latitudes.parse(text) == approx(degrees, abs=1e-6)


@pytest.mark.parametrize(
    "text", ["", "N", "91", "41 75", "-41 S", "forty", "41 12 30 5", "1e999", "nan", "41 -12"]
)
def test_what_is_no_latitude_is_refused_with_examples(text):
    with pytest.raises(QuantityError, match="41° 12' N"):
        latitudes.parse(text)


@pytest.mark.parametrize(
    ("typed", "pair"),
    [
        ("50.85, 4.35", (50.85, 4.35)),
        ("50.85 4.35", (50.85, 4.35)),
        ("33.9 S 151.2 E", (-33.9, 151.2)),
        ("41° 12' N, 8° 36' W", (41.2, -8.6)),
        ("-33.9; -70.7", (-33.9, -70.7)),
        ("Brussels", None),
        ("New York", None),
        ("91, 0", None),
        ("50.85", None),
    ],
)
def test_latitude_and_longitude_are_taken_together(typed, pair):
    found = latitudes.pair(typed)
    assert found == (pair if pair is None else approx(pair))


def test_coordinates_find_the_nearest_place_and_how_far_it_is():
    where = reference_climates.located("36.9 N, 10.1 E")
    assert where.place.name == "Tunis"
    assert where.latitude == 36.9
    assert where.distance_km == approx(12, abs=8)
    assert reference_climates.located("Tunis").distance_km == 0
    assert reference_climates.located("nowhere at all") is None


@pytest.mark.parametrize("text", ["1 2 " * 5000, "a, " * 5000, "½" * 5000])
def test_a_page_of_text_is_no_place_and_is_not_read_through(text):
    """Read through, these took the better part of a minute."""
    assert latitudes.pair(text) is None
    assert reference_climates.located(text) is None
    with pytest.raises(QuantityError, match="no latitude"):
        latitudes.parse(text)
