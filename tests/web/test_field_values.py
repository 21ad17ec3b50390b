"""Lists, curves, hours and days in a field: what is shown is read back, what is odd is refused."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pytest import approx

from euhydra.garden.beds import Bed
from euhydra.garden.part import Part
from euhydra.garden.pipes import CurvePoint, Pump
from euhydra.garden.quantities import QuantityError, System
from euhydra.garden.sources import Greywater
from euhydra.garden.timers import OwnTimer, Timer
from euhydra.web import field_values


def field(kind: type[Part], name: str):
    return kind.model_fields[name]


def read(kind: type[Part], name: str, text: str, system: System = System.METRIC):
    return field_values.parse(field(kind, name), text, system)


def show(part: Part, name: str, system: System = System.METRIC) -> str:
    return field_values.shown(field(type(part), name), getattr(part, name), system)


@given(
    st.lists(st.tuples(st.floats(0, 3e-3), st.floats(0.1, 60)), min_size=2, max_size=6),
    st.sampled_from(list(System)),
)
def test_a_pump_s_own_curve_is_read_as_it_is_shown(points, system):
    curve = tuple(CurvePoint(flow_m3_s=flow, head_m=head) for flow, head in points)
    pump = Pump.model_construct(id="pump", name="Pump", kind="barrel", points=curve)
    again = read(Pump, "points", show(pump, "points", system), system)
    for point, before in zip(again, curve, strict=True):
        assert point["flow_m3_s"] == approx(before.flow_m3_s, rel=1e-3, abs=1e-9)
        half_a_digit = 0.005 * (1 + 1e-9)  # centimetres are shown, and 12.5 cm as 0.12 m
        assert point["head_m"] == approx(before.head_m, rel=1e-3, abs=half_a_digit)


@pytest.mark.parametrize("text", ["900 L/h", "900 L/h 4 m 3", "fast 4 m", "900 L/h 4 kg", ","])
def test_a_curve_that_is_none_says_how_one_is_typed(text):
    with pytest.raises(QuantityError):
        read(Pump, "points", text)


@given(st.sets(st.integers(1, 300), min_size=1, max_size=40))
def test_positions_of_a_dial_are_read_as_they_are_shown(minutes):
    places = tuple(float(m) for m in sorted(minutes))
    timer = OwnTimer.model_construct(id="own", name="Own", run_minutes=places)
    said = show(timer, "run_minutes")
    assert read(OwnTimer, "run_minutes", said) == places
    runs_of_three = sum(
        b - a == 1 and c - b == 1 for a, b, c in zip(places, places[1:], places[2:], strict=False)
    )
    assert ("-" in said) == bool(runs_of_three)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("5, ten", "“ten” is not understood"),
        ("60-1", "Type 1-60"),
        ("1-2-3", "not understood"),
        ("1-9999", "positions in all"),
        ("-5", "not understood"),
    ],
)
def test_positions_that_are_none(text, words):
    with pytest.raises(QuantityError, match=words):
        read(OwnTimer, "run_minutes", text)


@given(st.integers(0, 24 * 60 - 1))
def test_an_hour_is_read_as_it_is_shown(minute):
    timer = Timer.model_construct(id="t", name="T", kind="dial", starts_s=minute * 60.0)
    assert read(Timer, "starts_s", show(timer, "starts_s")) == minute * 60.0


@pytest.mark.parametrize(
    ("text", "seconds"),
    [
        ("5", 18000.0),
        ("5:30", 19800.0),
        ("5.30", 19800.0),
        ("5h30", 19800.0),
        ("0:00", 0.0),
        ("5 am", 18000.0),
        ("6:30 p.m.", 66600.0),
        ("12 am", 0.0),
        ("12:15PM", 44100.0),
    ],
)
def test_hours_as_people_say_them(text, seconds):
    assert read(Timer, "starts_s", text) == seconds


@pytest.mark.parametrize(
    "text", ["24:00", "5:60", "dawn", "5:3o", "-1", "17 pm", "5:75 pm", "0 am", "5:5:5"]
)
def test_hours_that_do_not_exist(text):
    with pytest.raises(QuantityError, match="hour of the day"):
        read(Timer, "starts_s", text)


@given(st.lists(st.integers(0, 9), min_size=7, max_size=7))
def test_washdays_are_read_as_they_are_shown(loads):
    grey = Greywater.model_construct(id="g", name="G", bed_id="b", loads=tuple(loads))
    assert read(Greywater, "loads", show(grey, "loads") or ",") == tuple(loads)


@given(st.integers(1, 12), st.integers(1, 28), st.sampled_from(["{d} {m}", "{m} {d}", "{d}. {m}"]))
def test_a_day_is_read_however_it_is_put(month, day, form):
    name = field_values.MONTH_NAMES[month - 1]
    said = form.format(d=day, m=name)
    assert read(Bed, "planting", said) == {"month": month, "day": day}
    assert read(Bed, "planting", said.replace(name, name[:3].upper())) == {
        "month": month,
        "day": day,
    }


@pytest.mark.parametrize(
    "text", ["10", "May", "10 11 May", "10 Floréal", "May June 3", "5/10", "10.5.", "mid May", ""]
)
def test_days_that_are_none_say_how_one_is_typed(text):
    with pytest.raises(QuantityError, match="10 May"):
        read(Bed, "planting", text)


@pytest.mark.parametrize(
    ("kind", "name", "text", "words"),
    [
        (OwnTimer, "starts", "two", "whole number"),
        (OwnTimer, "starts", "-1", "whole number"),
        (Pump, "kind", "", "Choose one"),
        (Pump, "name", "", "Give it a name"),
        (Bed, "length_m", "long", "long"),
    ],
)
def test_what_is_left_out_or_odd_is_asked_for(kind, name, text, words):
    with pytest.raises(QuantityError, match=words):
        read(kind, name, text)


def test_a_field_that_may_stay_empty_takes_its_default():
    assert read(Pump, "battery_ah", "") is None
    assert read(Pump, "points", "") == ()
    assert read(Timer, "body", "") is None


def test_sources_come_from_several_fields_in_order():
    typed = {"sources-1": "tank", "sources-2": "", "sources-3": "tap", "sources": "ignored"}
    text = field_values.typed_in(field(Bed, "sources"), "sources", typed)
    assert read(Bed, "sources", text) == ("tank", "tap")


@pytest.mark.parametrize("text", ["10th May", "may 10th", "10-May", "10 May 2027"])
def test_a_day_of_the_year_as_people_say_it(text):
    assert read(Bed, "planting", text) == {"month": 5, "day": 10}


@pytest.mark.parametrize("text", ["Mon 2, Thu", "Mondays 2 and Thursdays", "thu; mon 2"])
def test_washdays_as_people_say_them(text):
    assert read(Greywater, "loads", text) == (2, 0, 0, 1, 0, 0, 0)
