"""Forms made from the garden's models."""

from itertools import combinations

import pytest

from euhydra.garden import demo, edits, shapes
from euhydra.garden.beds import Bed
from euhydra.garden.model import Garden, Place
from euhydra.garden.quantities import QuantityError, System
from euhydra.garden.sources import WetGround
from euhydra.planner.lay import proposed_lines
from euhydra.planner.lay.wishes import Method, Wish
from euhydra.web import field_values
from euhydra.web.forms import FormError, FormOn
from euhydra.web.next_step import next_step
from euhydra.web.part_forms import PART_FORMS

TYPED = {
    "roof": {"name": "Roof", "length_m": "4 m", "width_m": "3 m at 20°", "material": "us-metal"},
    "store": {"name": "Barrel", "volume_m3": "200 L", "height_m": "90 cm"},
    "bed": {
        "name": "Bed",
        "length_m": "3 m",
        "width_m": "90 cm",
        "soil": "loam",
        "crop": "bean",
        "planting": "1 June",
    },
    "timer": {"name": "Timer", "kind": "clock-ball"},
}


def bare(units: System = System.METRIC) -> Garden:
    return Garden(name="Bare", units=units, place=Place(latitude_deg=0, elevation_m=0))


def fill(garden: Garden, key: str, before: str = "", **changes: str) -> Garden:
    form = FormOn.of(PART_FORMS[key], garden, "", before)
    shown = {f.name: f.value for f in form.show().fields}
    return form.read(shown | TYPED[key] | changes)


def test_a_garden_is_put_together_form_by_form():
    garden = bare()
    pages = []
    for key in ("roof", "store", "bed"):
        pages.append(next_step(garden, has_weather=True).page)
        assert FormOn.of(PART_FORMS[key], garden, "").can_be_asked
        garden = fill(garden, key)
    pages.append(next_step(garden, has_weather=True).page)
    garden = proposed_lines.lay(garden, Wish("bed", "store", Method.ROWS, "line-low"))
    pages.append(next_step(garden, has_weather=True).page)
    garden = fill(garden, "timer", before=garden.fittings[0].id)
    assert pages == ["catch", "store", "lay", "lay", "time"]
    assert next_step(garden, has_weather=True) is None
    assert garden.timers[0].begins_at == "store"
    assert garden.fittings[0].begins_at == "timer"
    assert garden.roofs[0].width_m == pytest.approx(3 * 0.9396926)  # 3 cos 20°
    assert (garden.beds[0].planting.month, garden.beds[0].planting.day) == (6, 1)


@pytest.mark.parametrize("key", PART_FORMS)
@pytest.mark.parametrize("system", System)
def test_what_is_shown_is_taken_back_unchanged(key, system):
    soggy = WetGround(id="corner", name="Corner", area_m2=40.0)
    garden = edits.put(edits.replace(demo.garden(), units=system), "wet_grounds", soggy)
    for part in getattr(garden, PART_FORMS[key].collection):
        form = FormOn.of(PART_FORMS[key], garden, part.id)
        assert form.read({f.name: f.value for f in form.show().fields}) == garden


@pytest.mark.parametrize(
    ("typed", "fault"),
    [
        ("", "day and month"),
        ("May", "day and month"),
        ("10", "day and month"),
        ("31 June", "no day 31"),
        ("10 Smarch", "day and month"),
        ("June July 3", "day and month"),
    ],
)
def test_dates_that_do_not_exist(typed, fault):
    with pytest.raises(FormError) as caught:
        fill(fill(bare(), "store"), "bed", planting=typed)
    field = next(f for f in caught.value.view.fields if f.name == "planting")
    assert fault in field.error


@pytest.mark.parametrize(
    ("key", "field", "typed", "fault"),
    [
        ("roof", "material", "", "Choose one"),
        ("roof", "material", "straw", "choose one of pitched-hard"),
        ("roof", "width_m", "3 m at 99°", "between 0 and 90"),
        ("roof", "runoff_coefficient", "150 %", "Too large: at most 100 %"),
        ("store", "count", "two", "whole number"),
        ("store", "count", "99", "too large: at most 20"),
        ("store", "rim_m", "50 cm", "lies below the full water"),
        ("store", "height_m", "20", "Say the unit"),
    ],
)
def test_faults_stand_at_their_fields(key, field, typed, fault):
    with pytest.raises(FormError) as caught:
        fill(bare(), key, **{field: typed})
    errors = {f.name: f.error for f in caught.value.view.fields if f.error}
    assert list(errors) == [field]
    assert fault in errors[field]


@pytest.mark.parametrize(
    ("typed", "days"), [("2", 2), ("48 h", 2), ("72 hours", 3), ("3 days", 3), ("24h", 1)]
)
def test_an_interval_is_taken_in_days_or_in_the_hours_of_a_dial(typed, days):
    assert field_values.parse(Bed.model_fields["by_hand_d"], typed, System.METRIC) == days


@pytest.mark.parametrize("typed", ["36 h", "0 h", "h", "-48 h", "2.5"])
def test_an_interval_that_is_no_whole_days_says_what_to_type(typed):
    with pytest.raises(QuantityError):
        field_values.parse(Bed.model_fields["by_hand_d"], typed, System.METRIC)


def test_messages_speak_the_gardens_units():
    with pytest.raises(FormError) as caught:
        fill(bare(System.US), "store", outlet_height_m="40 in", height_m="36 in")
    field = next(f for f in caught.value.view.fields if f.name == "outlet_height_m")
    assert "The tap at 40 in is not clearly below the full water at 36 in" in field.error


def test_a_form_waits_for_what_it_leads_to():
    assert not FormOn.of(PART_FORMS["downspout"], bare(), "").can_be_asked
    assert not FormOn.of(PART_FORMS["timer"], bare(), "").can_be_asked


@pytest.mark.parametrize(
    ("typed", "fault"),
    [
        ("Fryday 2", "no day of the week"),
        ("Mon two", "not understood"),
        ("Mon 2 3", "not understood"),
        ("Mon 99", "too large"),
    ],
)
def test_washdays_that_do_not_exist(typed, fault):
    form = FormOn.of(PART_FORMS["greywater"], demo.garden(), "laundry")
    shown = {f.name: f.value for f in form.show().fields}
    with pytest.raises(FormError) as caught:
        form.read(shown | {"loads": typed})
    field = next(f for f in caught.value.view.fields if f.name == "loads")
    assert fault in field.error
    assert field.value == typed


def test_washdays_as_people_say_them():
    form = FormOn.of(PART_FORMS["greywater"], demo.garden(), "laundry")
    shown = {f.name: f.value for f in form.show().fields}
    read = form.read(shown | {"loads": "sunday, Wed 2; Sun 1"})
    assert read.greywaters[0].loads == (0, 0, 2, 0, 0, 0, 2)


def test_sources_are_chosen_in_order():
    form = FormOn.of(PART_FORMS["sources"], demo.garden(), "hedge")
    changed = form.read({"sources-1": "garden-tap", "sources-3": "laundry", "by_hand_d": "3"})
    assert changed.beds[2].sources == ("garden-tap", "laundry")
    with pytest.raises(FormError) as caught:
        form.read({"sources-1": "laundry", "sources-2": "laundry", "by_hand_d": "3"})
    assert "names a source twice" in caught.value.view.fault


@pytest.mark.parametrize("system", System)
def test_eleven_alike_beds_are_added_in_one_go(system):
    garden = fill(fill(bare(system), "roof"), "bed", name="First")
    garden = fill(garden, "bed", name="Raised bed", length_m="8 ft", width_m="3 ft", alike="11")
    alike = garden.beds[1:]
    assert [b.name for b in alike] == [f"Raised bed {n}" for n in range(1, 12)]
    assert {(round(b.length_m, 4), round(b.width_m, 4)) for b in alike} == {(2.4384, 0.9144)}
    grounds = [shapes.of_bed(b).buffer(0.25) for b in garden.beds]
    roof = shapes.of_roof(garden.roofs[0])
    for one, other in combinations([*grounds, roof], 2):
        assert not one.intersects(other)


@pytest.mark.parametrize("typed", ["0", "41", "many", "9" * 30, "-2"])
def test_how_many_is_refused_at_its_field(typed):
    with pytest.raises(FormError) as refused:
        fill(bare(), "bed", alike=typed)
    faulty = [f.name for f in refused.value.view.fields if f.error]
    assert faulty == ["alike"]


def test_a_new_bed_begins_as_the_last_one_was():
    garden = fill(bare(), "bed", soil="clay", crop="carrot", planting="3 April")
    shown = {f.name: f.value for f in FormOn.of(PART_FORMS["bed"], garden, "").show().fields}
    assert (shown["soil"], shown["crop"], shown["planting"]) == ("clay", "carrot", "3 April")
    assert shown["name"] == ""
