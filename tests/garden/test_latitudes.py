import pytest
from pytest import approx

from euhydra.garden import latitudes
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
