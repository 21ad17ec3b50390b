import json
from pathlib import Path

import pytest

from euhydra.garden import demo, document, edits
from euhydra.garden.document import GardenError
from euhydra.garden.model import Garden, Place
from euhydra.garden.roofs import Roof
from gardens import DATA, one_barrel


def changed(**paths: object) -> dict:
    """The one-barrel garden's document with some places changed, such as stores__0__volume_m3."""
    found = one_barrel().model_dump(mode="json")
    for path, value in paths.items():
        *steps, last = [int(s) if s.isdigit() else s for s in path.split("__")]
        target = found
        for step in steps:
            target = target[step]
        target[last] = value
    return found


def test_the_demo_survives_a_round_trip(demo_garden):
    assert document.loads(document.dumps(demo_garden)) == demo_garden


@pytest.mark.parametrize(
    ("change", "place", "words"),
    [
        ({"stores__0__volume_m3": -1}, "stores[0].volume_m3", "too small"),
        ({"stores__0__volume_m3": 0}, "stores[0].volume_m3", "too small"),
        ({"roofs__0__length_m": 1e9}, "roofs[0].length_m", "too large"),
        ({"roofs__0__length_m": float("nan")}, "roofs[0].length_m", "not a number"),
        (
            {"stores__0__outlet_height_m": 1.2},
            "stores[0].outlet_height_m",
            "not clearly below",
        ),
        ({"stores__0__dregs_m": 0.2}, "stores[0].outlet_height_m", "lies in the dregs"),
        ({"beds__0__crop": "triffid"}, "beds[0].crop", "choose one of tomato"),
        ({"beds__0__planting": {"month": 2, "day": 30}}, "beds[0].planting", "no day 30"),
        ({"pipes__0__waters": "no-such-bed"}, "garden", "leads to the bed or pot"),
        ({"pipes__0__begins_at": "nowhere"}, "garden", "leads to the store or tap"),
        ({"pipes__0__begins_at": "middle-line-1"}, "garden", "fed by itself, round a ring"),
        ({"pipes__2__begins_along_m": 9.0}, "garden", "but that is only"),
        (
            {"pipes__2__begins_along_m": 0.45, "pipes__1__begins_at": "shed-timer"},
            "garden",
            "2 pipes begin",
        ),
        ({"pipes__0__ends_at": "shed-hose"}, "garden", "ends at itself"),
        ({"pipes__0__path": [{"x_m": 1}, {"x_m": 1}]}, "pipes[0]", "has no length"),
        ({"pipes__0__kind": "garden-snake"}, "pipes[0].kind", "choose one of hose-13"),
        ({"beds__0__shape": "corners"}, "beds[0]", "needs three corners"),
        (
            {
                "beds__0__shape": "corners",
                "beds__0__corners": [{}, {"x_m": 2}, {"y_m": 2}, {"x_m": 2, "y_m": 2}],
            },
            "garden",
            "crosses itself",
        ),
        ({"pipes__0__id": "shed-barrel"}, "garden", "Two objects have the id"),
        ({"colour": "green"}, "colour", "not known in a garden document"),
        ({"stores__0__id": "Big Barrel!"}, "stores[0].id", "“Big Barrel!” is no id"),
        ({"stores__0__volume_m3": "two"}, "stores[0].volume_m3", "“two” is not a number"),
        ({"stores__0__count": 1.5}, "stores[0].count", "“1.5” is not a number"),
        ({"stores__0__rule": "maybe"}, "stores[0].rule", "choose one of 'yas'"),
        ({"stores__0__name": ""}, "stores[0].name", "give it a name"),
        ({"name": "x" * 61}, "name", "longer than 60 characters"),
        ({"schema_version": 99}, "", "newer program"),
        ({"schema_version": None}, "", "not a garden document"),
    ],
)
def test_faults_name_place_and_remedy(change, place, words):
    with pytest.raises(GardenError) as caught:
        document.from_document(changed(**change))
    assert place in str(caught.value)
    assert words in str(caught.value)


@pytest.mark.parametrize("text", ["", "[]", "{", '"x"', "[" * 100_000])
def test_what_is_no_document_is_refused(text):
    with pytest.raises(GardenError):
        document.loads(text)


def test_the_schema_describes_the_demo():
    schema = document.schema()
    assert set(schema["properties"]) >= set(json.loads(demo.garden_text()))
    assert schema["$defs"]["Store"]["properties"]["volume_m3"]["quantity"] == "volume"
    assert "30 cm in sand" in schema["$defs"]["Pipe"]["properties"]["spacing_m"]["description"]


def test_the_published_schema_is_the_models_own():
    published = Path(__file__).parents[2] / "docs" / "garden.schema.json"
    assert json.loads(published.read_text("utf-8")) == document.schema()


def test_a_first_roof_gets_its_downspout_and_a_store_takes_it_up():
    bare = Garden(name="Bare", place=Place(latitude_deg=0, elevation_m=0))
    roof = Roof(id="roof", name="Roof", length_m=4, width_m=3, material="pitched-hard")
    garden = edits.put(bare, "roofs", roof)
    assert garden.downspouts[0].roof_id == "roof"
    assert garden.downspouts[0].leads_to is None
    garden = edits.put(garden, "stores", one_barrel().stores[0])
    assert garden.downspouts[0].leads_to == "shed-barrel"


def test_a_pump_whose_head_rises_is_refused():
    points = [{"flow_m3_s": 0, "head_m": 3}, {"flow_m3_s": 1e-3, "head_m": 5}]
    pump = {"id": "pump", "name": "Pump", "kind": "barrel", "points": points}
    with pytest.raises(GardenError, match="head falls while its flow rises"):
        document.from_document(changed() | {"pumps": [pump]})


def test_the_first_version_is_drawn_when_it_is_read():
    # The file is of version 1: one hose, a line of two rows, a timer on the hose.
    garden = one_barrel()
    assert [timer.begins_at for timer in garden.timers] == ["shed-barrel"]
    hose, header, *rows = garden.pipes
    assert (hose.begins_at, hose.lies_m, hose.bore_m) == ("shed-timer", 7.0, 0.0127)
    assert header.begins_at == "shed-hose"
    assert [row.lies_m for row in rows] == [3.0, 3.0]
    assert {row.waters for row in rows} == {"middle-bed"}


@pytest.mark.parametrize("hoses", [[{}], [{"id": 3}], [{"id": "a", "length_m": "x"}]])
def test_a_broken_first_version_is_refused_in_words(hoses):
    old = json.loads((DATA / "one_barrel.json").read_text()) | {"hoses": hoses}
    with pytest.raises(GardenError, match=r"schema_version|pipes|is missing"):
        document.from_document(old)


@pytest.mark.parametrize(("lines", "rows"), [(1, 1_500_000), (40, 100)])
def test_an_old_document_asks_for_no_more_rows_than_a_garden_has(lines, rows):
    """A file of a kilobyte or two could ask for millions of pipes."""
    numbers = range(lines)
    old = {
        "schema_version": 1,
        "name": "Old",
        "stores": [{"id": "s"}],
        "beds": [{"id": f"b-{n}", "width_m": 1.0} for n in numbers],
        "hoses": [
            {"id": f"h-{n}", "name": "h", "store_id": "s", "bed_id": f"b-{n}"} for n in numbers
        ],
        "drip_lines": [
            {"id": f"d-{n}", "name": "d", "bed_id": f"b-{n}", "rows": rows} for n in numbers
        ],
    }
    with pytest.raises(GardenError, match="schema_version 1"):
        document.from_document(old)


def test_figures_past_all_reading_are_refused_in_words():
    with pytest.raises(GardenError, match="number too long"):
        document.loads('{"schema_version": ' + "9" * 5000 + "}")
