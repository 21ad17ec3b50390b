"""The routes of the plan: changes kept, tried, refused; files in and out."""

import io
import json

import pytest
from PIL import Image
from shapely.geometry import shape

from euhydra.garden import demo, edits
from euhydra.records import database, gardens
from euhydra.web.app import create_app
from gardens import one_barrel
from served import client_of, served_garden

BASE = "http://127.0.0.1"


@pytest.fixture
def client(tmp_path):
    with client_of(create_app(tmp_path), base_url=BASE, follow_redirects=False) as client:
        conn = database.connect(client.app.state.database)
        gardens.create(conn, demo.garden())
        conn.close()
        yield client


def garden_of(client):
    return client.get("/gardens/1/garden.json").json()


def part_of(client, collection, part_id):
    return next(p for p in garden_of(client)[collection] if p["id"] == part_id)


def put(client, collection, part, based_on=1):
    body = {"based_on": based_on, "puts": [{"collection": collection, "part": part}]}
    return client.post("/gardens/1/edit", json=body)


def test_what_may_be_laid_and_what_is_next_follow_the_drawing(tmp_path):
    bare = edits.replace(one_barrel(), beds=(), plantings=(), pipes=(), fittings=(), timers=())
    client = served_garden(tmp_path / "data", bare)
    assert "for-me" in client.get("/gardens/1/lay").text
    bed = {"id": "plot", "name": "Plot of beans", "at": {"x_m": 30.0, "y_m": 5.0}}
    bed |= {"length_m": 2.0, "width_m": 1.0, "soil": "loam", "crop": "bean"}
    bed |= {"planting": {"month": 5, "day": 10}}
    answer = put(client, "beds", bed).json()
    assert ">Plot of beans</option>" in answer["wish"]
    assert "lay a line" in answer["next"].lower()
    left, _, width, _ = answer["box"]
    assert left <= 30 <= left + width  # so that “All” shows it


def test_a_change_is_one_revision_and_undone_in_one_step(client):
    hose = part_of(client, "pipes", "top-hose")
    answer = put(client, "pipes", hose | {"name": "Renamed"})
    assert answer.status_code == 200
    assert set(answer.json()) == {
        "revision",
        "change",
        "told",
        "canUndo",
        "canRedo",
        "box",
        "drawing",
        "verdict",
        "next",
        "wish",
        "below",
        "parts",
    }
    assert part_of(client, "pipes", "top-hose")["name"] == "Renamed"
    assert client.post("/gardens/1/step/undo").json()["canRedo"]
    assert part_of(client, "pipes", "top-hose")["name"] == hose["name"]
    assert client.post("/gardens/1/step/sideways").status_code == 404


@pytest.mark.parametrize(
    ("collection", "part_id", "change", "words"),
    [
        ("pipes", "top-hose", {"path": [{"x_m": 1}, {"x_m": 1}]}, "has no length"),
        ("pipes", "top-hose", {"bore_m": -1}, "“Top hose”, bore_m"),
        (
            "pipes",
            "top-hose",
            {"begins_at": "garden-tap"},
            "2 pipes begin at one place of “Garden tap”",
        ),
        ("pipes", "top-line-1", {"begins_along_m": 900.0}, ""),
        ("beds", "hedge", {"length_m": 0}, "“Currant hedge”, length_m"),
        (
            "patches",
            "yard",
            {"corners": [{}, {"x_m": 2}, {"y_m": 2}, {"x_m": 2, "y_m": 2}]},
            "crosses itself",
        ),
        ("timers", "top-timer", {"kind": "sundial"}, "choose one of"),
    ],
)
def test_what_cannot_be_names_the_part_and_changes_nothing(
    client, collection, part_id, change, words
):
    before = garden_of(client)
    answer = put(client, collection, part_of(client, collection, part_id) | change)
    if not words:  # a place beyond the pipe's end is drawn in to it
        assert answer.status_code == 200
        assert part_of(client, "pipes", part_id)["begins_along_m"] == pytest.approx(0.45)
        return
    assert answer.status_code == 422
    assert words in answer.json()["message"]
    assert garden_of(client) == before


def test_a_stale_change_is_refused(client):
    hose = part_of(client, "pipes", "top-hose")
    assert put(client, "pipes", hose | {"name": "One"}).status_code == 200
    answer = put(client, "pipes", hose | {"name": "Two"})
    assert answer.status_code == 409
    assert "changed elsewhere" in answer.json()["message"]


def test_a_try_answers_and_keeps_nothing(client):
    store = part_of(client, "stores", "shed-barrel")
    body = {
        "puts": [{"collection": "stores", "part": store | {"stand_m": 1.4}}],
        "zone": "shed-timer",
    }
    before = garden_of(client)
    now = client.post("/gardens/1/try", json={"zone": "shed-timer"}).json()["outlets"]
    higher = client.post("/gardens/1/try", json=body).json()["outlets"]
    assert len(now) == len(higher) == 20
    fall = client.post("/gardens/1/try-fall", json=body).json()
    assert "<svg" in fall["drawing"]
    assert "L/h" in fall["flow"]
    assert garden_of(client) == before
    missing = client.post("/gardens/1/try-fall", json={"zone": "nowhere"})
    assert missing.status_code == 422


def test_ten_thousand_outlets_are_refused_in_words_and_the_plan_stays(client):
    row = part_of(client, "pipes", "bottom-bed-row")
    far = [{"x_m": 0.0, "y_m": 10.0}, {"x_m": 900.0, "y_m": 10.0}]
    answer = put(
        client, "pipes", row | {"path": far, "spacing_m": 0.05, "begins_at": "bottom-bed-header"}
    )
    assert answer.status_code == 200
    assert "more than 10,000 outlets" in answer.json()["below"]
    assert 'data-part="bottom-bed-row"' in answer.json()["drawing"]


def test_lines_are_laid_by_form_and_faults_are_told(client):
    form = {
        "based_on": "1",
        "waters": "hedge",
        "begins_at": "shed-barrel",
        "method": "rows",
        "line": "line-low",
    }
    bad = client.post("/gardens/1/lay/for-me", data=form | {"rows": "many"})
    assert bad.status_code == 422
    assert "whole number from 1 to 40" in bad.text
    wide = client.post("/gardens/1/lay/for-me", data=form | {"spacing": "90 m"})
    assert "from 5 cm to 300 cm" in wide.text
    assert client.post("/gardens/1/lay/for-me", data=form).status_code == 303
    assert sum(p["waters"] == "hedge" for p in garden_of(client)["pipes"]) >= 2
    stale = client.post("/gardens/1/lay/for-me", data=form)
    assert stale.status_code == 409


def test_laying_again_replaces_what_is_there_unless_it_is_to_stay(client):
    form = {
        "waters": "hedge",
        "also-middle-bed": "on",
        "begins_at": "shed-barrel",
        "line": "line-low",
    }

    def rows(**more: str) -> int:
        revision = client.get("/gardens/1/need").context["revision"].id
        sent = form | {"based_on": str(revision)} | more
        assert client.post("/gardens/1/lay/for-me", data=sent).status_code == 303
        lines = [p for p in garden_of(client)["pipes"] if p["spacing_m"]]
        return sum(p["waters"] in ("hedge", "middle-bed") for p in lines)

    first = rows()
    assert rows() == first
    assert rows(rows="1") == 2
    assert rows(there="left", rows="1") == 4
    timers = [t["id"] for t in garden_of(client)["timers"]]
    assert "shed-timer" not in timers  # which led to the middle bed alone


def test_the_plan_goes_out_as_geojson_and_its_outlines_come_back_alike(client):
    text = client.get("/gardens/1/plan.geojson").text
    features = json.loads(text)["features"]
    beds = [f for f in features if f["properties"]["kind"] == "bed"]
    assert len(beds) == len(garden_of(client)["beds"])
    assert all(shape(f["geometry"]).is_valid for f in features)
    only = json.dumps({"type": "FeatureCollection", "features": beds})
    files = {"outlines": ("plan.geojson", only)}
    assert (
        client.post("/gardens/1/lay/outlines", data={"based_on": "1"}, files=files).status_code
        == 303
    )
    came = [b for b in garden_of(client)["beds"] if b["id"].startswith("outline")]
    went = {b["name"]: b for b in garden_of(client)["beds"] if not b["id"].startswith("outline")}
    for (
        bed
    ) in came:  # a degree is some 111 km: the file's nine decimals are a tenth of a millimetre
        assert bed["length_m"] == pytest.approx(went[bed["name"]]["length_m"], abs=0.02)
        assert bed["width_m"] == pytest.approx(went[bed["name"]]["width_m"], abs=0.02)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("not json", "not GeoJSON"),
        ("[" * 20000, "not GeoJSON"),
        ('{"type": "Polygon", "coordinates": "x"}', "not pairs of numbers"),
        ('{"type": "Polygon", "coordinates": [[[0, 0], [5, 0], [5, 5]]]}', "no garden"),
        ('{"type": "Polygon", "coordinates": [[[400, 0], [500, 0], [500, 50]]]}', "not degrees"),
        ('{"type": "Point", "coordinates": [0, 0]}', "no polygon"),
    ],
)
def test_outlines_that_cannot_be_used(client, text, words):
    files = {"outlines": ("x.geojson", text)}
    answer = client.post("/gardens/1/lay/outlines", data={"based_on": "1"}, files=files)
    assert answer.status_code == 422
    assert words in answer.text


def test_a_picture_is_kept_without_its_notes(client):
    exif = Image.Exif()
    exif[0x010E] = "where I live"
    buffer = io.BytesIO()
    Image.new("RGB", (40, 20), "white").save(buffer, "JPEG", exif=exif)
    files = {"picture": ("yard.jpg", buffer.getvalue())}
    answer = client.post(
        "/gardens/1/lay/picture", data={"based_on": "1", "width": "8 m"}, files=files
    )
    assert answer.status_code == 303
    backdrop = garden_of(client)["backdrop"]
    assert backdrop["metre_px"] == 5
    kept = client.get(f"/gardens/1/pictures/{backdrop['digest']}.png")
    assert kept.headers["content-type"] == "image/png"
    assert b"where I live" not in kept.content
    assert client.get(f"/gardens/1/pictures/{'0' * 64}.png").status_code == 404
    assert client.post("/gardens/1/lay/picture/remove", data={"based_on": "2"}).status_code == 303
    assert garden_of(client)["backdrop"] is None


def test_zones_are_joined_as_proposed_and_the_drawing_is_a_file(client):
    assert client.post("/gardens/1/lay/zones", data={"based_on": "1"}).status_code == 303
    svg = client.get("/gardens/1/plan.svg")
    assert svg.headers["content-type"].startswith("image/svg+xml")
    assert 'xmlns="http://www.w3.org/2000/svg"' in svg.text
    assert client.get("/gardens/1/plan").status_code == 200
    assert client.get("/gardens/1/part", params={"at": "nowhere"}).status_code == 404
    assert client.get("/gardens/1/outlet", params={"zone": "x", "node": "y"}).status_code == 404


def test_a_splitter_with_two_branches_is_not_removed_and_that_is_said(client):
    form = {"part_id": "tap-splitter", "based_on": "1"}
    answer = client.post("/gardens/1/remove", data=form)
    assert answer.status_code == 422
    assert "“Garden tap”, which has room for 1" in answer.text
    assert part_of(client, "fittings", "tap-splitter")
