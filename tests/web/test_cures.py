"""Cures as pages offer them: found late, done with one touch, taken back by undo."""

import json
import re
from html import unescape

import pytest

from euhydra.garden import changes, document, edits
from euhydra.planner.chain import run_chain
from euhydra.planner.judgement import trying
from euhydra.planner.judgement.answer import judge
from euhydra.web.pages.cures import END
from euhydra.web.pages.station import Tells
from euhydra.web.pages.stations import PAGES
from gardens import one_barrel, tapped
from served import served_garden
from sound_gardens import RECORD, barrel_bed, washing_lines
from visitor import Visitor

GRAVE = ("dangerous", "cannot-work")
CURE = re.compile(r'name="(based_on|page|at|code|about|part|number)" value="([^"]*)"')


@pytest.fixture
def client(tmp_path):
    with served_garden(tmp_path, one_barrel()) as found:
        yield found


def offered(client, key, n=0):
    """The fields of every cure that a page offers for one finding."""
    html = client.get(f"/gardens/1/cures/{key}").text.split(END)[n]
    return [dict(CURE.findall(form)) for form in html.split("<form")[1:]]


def told(html):
    """What a page says, without its tags."""
    return unescape(re.sub(r"<[^>]+>", "", html)).replace("\u00a0", " ")


def garden_now(client):
    return document.loads(client.get("/gardens/1/garden.json").text)


def test_no_cure_is_sought_twice_whoever_asks(client, monkeypatch):
    sought = []

    def counted(judged, finding):
        sought.append(finding.key)
        return cures_of(judged, finding)

    cures_of = trying.cures_of
    monkeypatch.setattr(trying, "cures_of", counted)
    first = [offered(client, "store")[0][name] for name in ("code", "about", "part")]
    asked = dict(zip(("code", "about", "part"), first, strict=True))
    assert client.get("/gardens/1/cures/store/others", params=asked).status_code == 200
    findings = client.get("/gardens/1/answers.json?station=store").json()["stations"]["store"]
    assert findings["findings"][0]["cures"]
    assert sought
    assert len(sought) == len(set(sought))


def test_a_page_leads_with_what_its_answer_document_leads_with(client):
    stations = client.get("/gardens/1/answers.json?cures=false").json()["stations"]
    for key in ("store", "lay", "push", "time", "need", "catch"):
        html = client.get(f"/gardens/1/{key}").text
        text = told(html)
        found = stations[key]
        grave = [f for f in found["findings"] if f["severity"] != "could-be-better"]
        if grave:
            assert told(grave[0]["text"]) in text
        assert ('x-data="cures"' in html) is bool(found["findings"])


@pytest.mark.parametrize(
    ("collection", "part_id", "fields"),
    [
        ("timers", "bed-timer", {"kind": "dial-solenoid"}),
        ("stores", "tank", {"footing": "soft", "feet_m2": 0.2}),
        ("beds", "bed", {"ground_m": 1.8}),
    ],
)
def test_no_page_says_works_while_a_grave_finding_stands_there(
    tmp_path, collection, part_id, fields
):
    garden = barrel_bed()
    part = next(p for p in getattr(garden, collection) if p.id == part_id)
    flawed = edits.put(garden, collection, part.model_copy(update=fields))
    with served_garden(tmp_path, flawed) as client:
        stations = client.get("/gardens/1/answers.json?cures=false").json()["stations"]
        grave = {
            key: [f for f in found["findings"] if f["severity"] in GRAVE]
            for key, found in stations.items()
        }
        assert grave["build"]
        assert stations["build"]["mark"] == "does-not"
        for page in PAGES.values():
            if page.tells is Tells.NOTHING or not grave[page.station]:
                continue
            html = client.get(f"/gardens/1/{page.key}").text
            verdict = html[html.index('class="verdict') :]
            assert told(grave[page.station][0]["text"]) in told(verdict), page.key
            assert 'class="mark does-not"' in verdict[: verdict.index("summary")], page.key


def test_a_cure_is_done_said_and_taken_back(client):
    before = garden_now(client)
    (form,) = offered(client, "lay")
    assert form["code"] == "lay-no-filter"
    done = client.post("/gardens/1/cure", data=form, follow_redirects=False)
    assert done.status_code == 303
    assert "done=" in done.headers["location"]
    assert "Undo takes it back" in client.get(done.headers["location"]).text
    after = garden_now(client)
    assert [piece.kind for piece in after.fittings] == ["filter"]
    assert form["code"] not in json.dumps(client.get("/gardens/1/answers.json?cures=false").json())
    client.post("/gardens/1/step/undo")
    assert garden_now(client) == before


def test_a_cure_of_what_is_no_longer_there_changes_nothing(client):
    (form,) = offered(client, "lay")
    client.post("/gardens/1/cure", data=form)
    once = garden_now(client)
    assert client.post("/gardens/1/cure", data=form).status_code == 409
    assert client.post("/gardens/1/cure", data={"page": "lay"}).status_code == 409
    assert client.get("/gardens/1/cures/labels").status_code == 404
    assert garden_now(client) == once


def test_what_to_measure_next_is_listed(client):
    html = client.get("/gardens/1/measure").text
    assert "<li>" in html or "Nothing that stands as usual" in html


def test_an_assumed_value_is_marked_until_it_is_said_to_be_so(client):
    html = client.get("/gardens/1/catch").text
    assert 'value="gutter_width_m"' in html
    roof = garden_now(client).roofs[0]
    typed = {"part_id": roof.id, "based_on": "1", "name": roof.name, "material": roof.material}
    form = html[html.index(f'id="{roof.id}"') :].partition("</details>")[0]
    fields = dict(re.findall(r'<input class="input[^>]*name="(\w+)" value="([^"]*)"', form))
    said = fields | typed | {"confirm": "gutter_width_m"}
    client.post("/gardens/1/catch/roof", data=said)
    after = garden_now(client).roofs[0]
    assert after.confirmed == ("gutter_width_m",)
    assert after.model_copy(update={"confirmed": ()}) == roof
    assert 'value="gutter_width_m"' not in client.get("/gardens/1/catch").text
    wider = fields | typed | {"based_on": "2", "runoff_coefficient": "75 %"}
    client.post("/gardens/1/catch/roof", data=wider)
    assert garden_now(client).roofs[0].confirmed == ("gutter_width_m", "runoff_coefficient")


def test_what_a_hand_helps_where_washing_water_does_not_do_is_a_choice_of_its_own(tmp_path):
    """Once cured, its visits are turned to on Time, beside the lines of the drum."""
    garden = edits.put(washing_lines(), "taps", tapped().taps[0])
    wide = garden.beds[0].model_copy(update={"need_factor": 3.0})
    judged = judge(run_chain(edits.put(garden, "beds", wide), RECORD))
    first = judged.findings[0]
    assert first.code == "catch-washing-too-little"
    (cure,) = trying.cures_of(judged, first)
    cured = changes.done_to(judged.chain.garden, cure.edits)
    every = f"every {cured.beds[0].by_hand_d} days"
    reader = Visitor(tmp_path, served_garden(tmp_path, cured))
    reader.open("/gardens/1/time?at=bushes")
    choices = reader.links("Bushes")
    assert [link.get("aria-current") for link in choices] == [None, "true"]
    assert f"{every} carry “Bushes”" in reader.verdict
    assert all(every in row for row in reader.rows("of the hose"))
    reader.open("/gardens/1/time")
    assert "Nothing is set on" in reader.verdict
