from math import isfinite

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pytest import approx

from euhydra.garden import quantities
from euhydra.garden.quantities import KINDS, QuantityError, System, from_si, parse, show, to_si

M, US = System.METRIC, System.US


@pytest.mark.parametrize(
    ("text", "kind", "inside"),
    [
        ("55 gal", "volume", 0.208198),
        ("55 imp gal", "volume", 0.250035),
        ("3/4 in", "bore", 0.01905),
        ("1 1/2 in", "bore", 0.0381),
        ("½ in", "bore", 0.0127),
        ("1.2 m", "length", 1.2),
        ("1,5 m", "length", 1.5),
        ("6 ft 2", "length", 1.8796),
        ("6' 2\"", "length", 1.8796),
        ("130 sq ft", "area", 12.0774),
        ("-3 m", "elevation", -3.0),
        ("-4 °F", "temperature", -20.0),
        ("68 F", "temperature", 20.0),
        ("40 L/h", "flow", 40 / 3.6e6),
        ("10 gal/h", "flow", 37.854e-3 / 3600),
        ("2 cans", "volume", 0.02),
        ("80 %", "share", 0.8),
        ("200", "volume", 0.2),
        ("0.2 in", "rain", 0.00508),
        ("3.5 m at 30°", "level", 3.0311),  # 3.5 cos 30°
        ("6 ft 2 at 45 deg", "level", 1.8796 * 0.707107),
        ("4 m", "level", 4.0),
        ("12 in.", "length", 0.3048),
        ("130 sq. ft.", "area", 12.0774),
        ("12''", "length", 0.3048),
        ("5’ 6”", "length", 1.6764),
        ("6-1/2 in", "height", 0.1651),
        ("6 feet 2", "length", 1.8796),
        ("1 500 L", "volume", 1.5),
        ("1 quart", "volume", 0.946353e-3),
        ("4 oz", "cupful", 0.118294e-3),
        ("2 tbsp", "cupful", 29.5735e-6),
        ("20 cubic feet", "volume", 0.566337),
        ("4 lph", "flow", 4 / 3.6e6),
        ("1h30", "hours", 5400.0),
        ("1 h 30", "hours", 5400.0),
        ("1:30", "hours", 5400.0),
        ("1:24", "seconds", 84.0),
        ("2 min 5", "seconds", 125.0),
        ("21°", "temperature", 21.0),
        ("$ 4.50", "money", 4.5),
        ("4,50 €", "money", 4.5),
    ],
)
def test_as_people_say_it(text, kind, inside):
    # Factors by definition: inch 25.4 mm, US gallon 231 in³, its 4 quarts and 128 ounces, 2 tablespoons to an
    # ounce; imperial gallon 4.54609 L.
    assert parse(text, kind, M) == approx(inside, rel=1e-4)


@pytest.mark.parametrize(
    ("text", "kind", "why"),
    [
        ("", "length", "Nothing typed"),
        ("13", "bore", "Say the unit"),
        ("40", "height", "Say the unit"),
        ("3 kg", "volume", "not a unit"),
        ("3 m2", "length", "not a unit"),
        ("long", "length", "not understood"),
        ("1e9 m", "length", "not a unit"),
        ("1,500 L", "volume", "could be 1500 or 1.500"),
        ("1/0 m", "length", "divides by zero"),
        ("5 m 3", "length", "Say the unit"),
        ("2 3 m", "length", "not understood"),
        ("3-4 m", "length", "not understood"),
        ("1 50 L", "volume", "not understood"),
        ("1:30", "minutes", "not understood"),  # of hours, or of minutes?
        ("5 m at 95°", "level", "pitch lies between"),
        ("5 m at 30°", "length", "not a unit"),
        ("9" * 400 + " m", "length", "too large"),
    ],
)
def test_what_cannot_be_meant_is_refused_with_a_remedy(text, kind, why):
    with pytest.raises(QuantityError, match=why):
        parse(text, kind, M)


@pytest.mark.parametrize(
    "text", ["5:99", "1-", "1 /", "3 m/", "3 m**", "3 (", "3 )m", "3 m=2", "3 m^h", "3 '''", "3 \\"]
)
@pytest.mark.parametrize("kind", ["length", "volume", "flow", "temperature"])
def test_what_is_no_unit_is_refused_whatever_its_signs(text, kind):
    with pytest.raises(QuantityError):
        parse(text, kind, M)


@settings(max_examples=400)
@given(
    st.text("0123456789 .,:;/\\*^()[]{}<>=+-_!?@#$%&|~'\"`mLghinftcuqoz°µ²³½é٣日", max_size=12),
    st.sampled_from(list(KINDS)),
    st.sampled_from(list(System)),
    st.sampled_from(["", "3 "]),
)
def test_whatever_is_typed_is_a_number_or_refused_in_words(text, kind, system, before):
    try:
        assert isfinite(parse(before + text, kind, system))
    except QuantityError as error:
        assert str(error)[-1] == "."  # noqa: PT017 -- either way is right


def test_a_comma_before_three_figures_parts_thousands_where_units_are_of_the_us_alone():
    assert parse("1,500 gal", "volume", US) == approx(1500 * 3.785412e-3, rel=1e-6)
    assert parse("1,234,567.5 gal", "volume", US) == approx(1234567.5 * 3.785412e-3, rel=1e-6)
    assert parse("1,5 gal", "volume", US) == approx(1.5 * 3.785412e-3, rel=1e-6)
    with pytest.raises(QuantityError, match="could be"):
        parse("1,500 L", "volume", M)


def test_a_bare_number_means_the_everyday_unit_of_the_system():
    assert parse("55", "volume", US) == approx(0.208198, rel=1e-4)
    with pytest.raises(QuantityError, match="Say the unit"):
        parse("14", "length", US)  # feet or inches?


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize("system", System)
def test_shown_and_read_back(kind, system):
    value = to_si(7.25, KINDS[kind].display(system).unit, kind)
    assert from_si(value, kind, system) == approx(7.25)
    assert parse(show(value, kind, system, 9), kind, system) == approx(value)


@pytest.mark.parametrize("kind", KINDS)
def test_examples_shown_to_people_are_understood(kind):
    for system in System:
        assert parse(KINDS[kind].display(system).example, kind, system) > 0


@given(st.floats(0, 10))
def test_a_tape_is_read_to_the_nearest_sixteenth(metres):
    shown = show(metres, "tape", System.US)
    assert abs(parse(shown, "tape", System.US) - metres) <= 0.0254 / 32 + 1e-9
    assert "/" not in shown or int(shown.split("/")[1].split()[0]) in (2, 4, 8, 16)


def test_a_tape_in_metres_has_no_fractions():
    assert show(0.173, "tape", System.METRIC) == "17.3 cm"


@pytest.mark.parametrize(
    "unit",
    [
        "9**9**9*m",
        "m**9**9**9",
        "1/0",
        "m/0",
        "((((m",
        "m^h",
        "m/",
        "/m",
        "'m'",
        "m m",
        "m/m/m/m/m/m",
    ],
)
def test_only_known_units_reach_the_units_library(unit, monkeypatch):
    """Whatever else is typed or brought in a file is refused, not computed."""
    reached = set()

    def convert(asked, inside):
        reached.add(asked)
        return 1.0, 0.0

    monkeypatch.setattr("euhydra.garden.quantities._linear", convert)
    with pytest.raises(QuantityError):
        to_si(1.0, unit, "length")
    with pytest.raises(QuantityError):
        parse(f"2 {unit}", "length", System.METRIC)
    assert reached <= {"m"}


@pytest.mark.parametrize(
    ("text", "kind", "value"),
    [
        ("2 l/h", "flow", 2 / 3.6e6),
        ("2 litres per hour", "flow", 2 / 3.6e6),
        ("3 l / min", "cup", 5e-5),
        ("1 ft/s", "speed", 0.3048),
        ("4 l/h/m", "seep", 4 / 3.6e6),
        ("2 bars", "tap_pressure", 2e5),
    ],
)
def test_units_may_be_put_together(text, kind, value):
    assert parse(text, kind, System.METRIC) == pytest.approx(value)


@given(
    st.lists(st.floats(0.0, 1e4).filter(lambda v: v == 0 or v > 1e-5), min_size=1),
    st.sampled_from(["volume", "flow", "length"]),
    st.sampled_from(list(System)),
)
def test_what_stands_in_a_column_has_one_precision(values, kind, system):
    """But for what would be nothing among larger ones: that is shown as it is."""
    places = quantities.column_decimals(values, kind, system)
    for value in values:
        text = quantities.show_number(value, kind, system, decimals=places)
        decimals = len(text.partition(".")[2])
        is_small = round(abs(quantities.from_si(value, kind, system)), places) == 0
        assert decimals == places or is_small
        assert (text == "0") == (quantities.show_number(value, kind, system) == "0")
