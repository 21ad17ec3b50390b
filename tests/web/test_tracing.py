"""A picture under the plan and outlines from a file: scaled, refused, taken in."""

import io
import json

import pytest
from PIL import Image

from euhydra.garden import demo


def garden_of(drawn):
    return drawn.get("/gardens/1/garden.json").json()


def revision(drawn):
    return str(drawn.get("/gardens/1/lay").context["revision"].id)


def picture(size=(40, 20), form="PNG"):
    buffer = io.BytesIO()
    Image.new("RGB", size, "white").save(buffer, form)
    return {"picture": ("yard.png", buffer.getvalue())}


def with_picture(drawn, **typed):
    data = {"based_on": revision(drawn), "width": "8 m"} | typed
    return drawn.post("/gardens/1/lay/picture", data=data, files=picture())


@pytest.mark.parametrize(
    ("width", "words"),
    [("10 cm", "from 0.5 m"), ("2 km", "not a unit"), ("wide", "not understood")],
)
def test_a_width_that_cannot_be_is_refused_and_nothing_kept(drawn, width, words):
    answer = with_picture(drawn, width=width)
    assert answer.status_code == 422
    assert words in answer.text
    assert garden_of(drawn)["backdrop"] is None


def test_what_is_no_picture_is_refused(drawn):
    files = {"picture": ("yard.png", b"GIF89a, or so")}
    answer = drawn.post("/gardens/1/lay/picture", data={"based_on": revision(drawn)}, files=files)
    assert answer.status_code == 422
    assert garden_of(drawn)["backdrop"] is None


def test_one_known_length_scales_the_picture(drawn):
    with_picture(drawn)
    assert garden_of(drawn)["backdrop"]["metre_px"] == 5
    data = {"based_on": revision(drawn), "shown": "4 m", "true": "2 m"}
    drawn.post("/gardens/1/lay/picture/scale", data=data)
    assert garden_of(drawn)["backdrop"]["metre_px"] == 10  # it was drawn twice too large


@pytest.mark.parametrize(
    ("shown", "true", "words"),
    [
        ("0 m", "2 m", "more than nothing"),
        ("4 m", "two", "not understood"),
        ("1000 m", "1 mm", "check both lengths"),
    ],
)
def test_a_scale_that_cannot_be_is_refused(drawn, shown, true, words):
    with_picture(drawn)
    data = {"based_on": revision(drawn), "shown": shown, "true": true}
    answer = drawn.post("/gardens/1/lay/picture/scale", data=data)
    assert answer.status_code == 422
    assert words in answer.text
    assert garden_of(drawn)["backdrop"]["metre_px"] == 5


def test_without_a_picture_there_is_nothing_to_scale(drawn):
    data = {"based_on": revision(drawn), "shown": "4 m", "true": "2 m"}
    assert drawn.post("/gardens/1/lay/picture/scale", data=data).status_code == 409


def outlines(*features):
    found = {
        "type": "FeatureCollection",
        "features": [
            {
                "type": "Feature",
                "properties": properties,
                "geometry": {"type": "Polygon", "coordinates": [[*ring, ring[0]]]},
            }
            for properties, ring in features
        ],
    }
    return {"outlines": ("yard.geojson", json.dumps(found))}


DEGREE = 111_195.0
"""Metres in a degree of the equator, on a sphere of 6371 km."""


def box(length, width):
    """A rectangle at the equator. [m], in degrees"""
    x, y = length / DEGREE, width / DEGREE
    return [[0.0, 0.0], [x, 0.0], [x, y], [0.0, y]]


SQUARE = box(2.0, 1.5)


def test_outlines_become_beds_and_ground_with_names_of_their_own(drawn):
    files = outlines(({"name": "New bed", "kind": "bed"}, SQUARE), ({"name": "Garage"}, SQUARE))
    data = {"based_on": revision(drawn)}
    drawn.post("/gardens/1/lay/outlines", data=data, files=files)
    garden = garden_of(drawn)
    bed = next(b for b in garden["beds"] if b["name"] == "New bed")
    assert (bed["length_m"], bed["width_m"]) == pytest.approx((2.0, 1.5), abs=0.02)
    assert bed["shape"] == "corners"
    patch = next(p for p in garden["patches"] if p["name"] == "Garage")
    assert patch["kind"] == "building"
    assert bed["id"] != patch["id"]
    again = {"based_on": revision(drawn)}
    drawn.post("/gardens/1/lay/outlines", data=again, files=files)
    ids = [b["id"] for b in garden_of(drawn)["beds"]]
    assert len(ids) == len(set(ids)) == len(demo.garden().beds) + 2


def test_an_outline_that_is_no_bed_names_what_is_wrong(drawn):
    files = outlines(({"name": "Field", "kind": "bed"}, box(300.0, 2.0)))
    answer = drawn.post("/gardens/1/lay/outlines", data={"based_on": revision(drawn)}, files=files)
    assert answer.status_code == 422
    assert "fault" in answer.text
    assert len(garden_of(drawn)["beds"]) == len(demo.garden().beds)
