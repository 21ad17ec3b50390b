"""Degrees and metres against the published lengths of a degree; files that others write."""

import json
from math import hypot

import pytest
from pytest import approx

from euhydra.formats import geojson
from euhydra.garden import demo, edits, shapes
from gardens import one_barrel


def feature(geometry, **properties):
    return {"type": "Feature", "properties": properties, "geometry": geometry}


def square(left, low, side):
    ring = [[left, low], [left + side, low], [left + side, low + side], [left, low + side]]
    return {"type": "Polygon", "coordinates": [[*ring, ring[0]]]}


# Kilometres that a degree of latitude and of longitude span on WGS 84: tables of geodesy, from
# memory.
@pytest.mark.parametrize(
    ("latitude", "north", "east"),
    [
        (0.0, 110.574, 111.320),
        (30.0, 110.852, 96.486),
        (45.0, 111.132, 78.847),
        (60.0, 111.412, 55.800),
        (-30.0, 110.852, 96.486),
    ],
)
def test_a_degree_spans_what_tables_say(latitude, north, east):
    side = 0.001
    text = json.dumps(feature(square(12.0, latitude - side / 2, side)))
    (outline,) = geojson.loads(text)
    assert max(p.x_m for p in outline.corners) == approx(east, rel=2e-5)
    assert max(p.y_m for p in outline.corners) == approx(north, rel=2e-5)


@pytest.mark.parametrize("latitude", [-41.0, 0.0, 51.0, 68.0])
def test_outlines_come_back_as_long_as_they_went(latitude):
    garden = demo.garden()
    place = garden.place.model_copy(update={"latitude_deg": latitude})
    garden = edits.replace(garden, place=place)
    back = {o.name: o for o in geojson.loads(geojson.dumps(garden)) if o.what == "bed"}
    assert len(back) == len(garden.beds)
    for bed in garden.beds:
        went = shapes.of_bed(bed)
        came = shapes.polygon(back[bed.name].corners)
        assert came.area == approx(went.area, rel=5e-3)
        assert came.length == approx(went.length, rel=5e-3)


def test_pipes_and_pieces_go_out_where_they_lie():
    garden = one_barrel()
    features = {f["id"]: f for f in json.loads(geojson.dumps(garden))["features"]}
    row = next(p for p in garden.pipes if p.id == "middle-line-1")
    line = features["middle-line-1"]["geometry"]
    assert line["type"] == "LineString"
    assert features["middle-line-1"]["properties"] == {"name": row.name, "kind": row.kind}
    (x0, y0), (x1, y1) = line["coordinates"]
    metres = hypot((x1 - x0) * 111_320, (y1 - y0) * 110_574)  # at least as long as at the equator
    assert metres >= row.drawn_m - 0.02
    assert features["shed-timer"]["geometry"]["type"] == "Point"


def test_every_part_of_a_multipolygon_is_an_outline_and_holes_are_left_out():
    ring = square(0.0, 0.0, 0.0001)["coordinates"]
    hole = square(0.00002, 0.00002, 0.00002)["coordinates"][0]
    far = square(0.0002, 0.0, 0.0001)["coordinates"]
    many = {"type": "MultiPolygon", "coordinates": [[*ring, hole], far]}
    found = geojson.loads(
        json.dumps({"type": "FeatureCollection", "features": [feature(many, name="Twin")]})
    )
    assert [o.name for o in found] == ["Twin", "Twin"]
    assert all(len(o.corners) == 4 for o in found)
    assert min(p.x_m for p in found[1].corners) > max(p.x_m for p in found[0].corners)


def test_too_many_outlines_are_refused_with_their_number():
    features = [feature(square(i * 1e-5, 0.0, 5e-6)) for i in range(geojson.MOST_OUTLINES + 1)]
    with pytest.raises(geojson.GeoJsonError, match=f"{len(features)} polygons"):
        geojson.loads(json.dumps({"type": "FeatureCollection", "features": features}))


@pytest.mark.parametrize("text", ["[]", "null", '{"type": "FeatureCollection", "features": 3}'])
def test_json_without_shapes_has_no_polygon(text):
    with pytest.raises(geojson.GeoJsonError, match="no polygon"):
        geojson.loads(text)
