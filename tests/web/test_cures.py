"""Cures as pages offer them: found late, done with one touch, taken back by undo."""

import json
import re
from html import unescape

import pytest

from euhydra.garden import document
from euhydra.web.pages.cures import END
from gardens import one_barrel
from served import served_garden

CURE = re.compile(r'name="(based_on|page|at|code|about|part|number)" value="([^"]*)"')


@pytest.fixture
def client(tmp_path):
    with served_garden(tmp_path, one_barrel()) as found:
        yield found


def offered(client, key, n=0):
    """The fields of every cure that a page offers for one finding."""
    html = client.get(f"/gardens/1/cures/{key}").text.split(END)[n]
    return [dict(CURE.findall(form)) for form in html.split("<form")[1:]]


def garden_now(client):
    return document.loads(client.get("/gardens/1/garden.json").text)


def test_a_page_leads_with_what_its_answer_document_leads_with(client):
    stations = client.get("/gardens/1/answers.json?cures=false").json()["stations"]
    for key in ("store", "lay", "push", "time", "need", "catch"):
        html = client.get(f"/gardens/1/{key}").text
        text = unescape(re.sub(r"<[^>]+>", "", html)).replace("\u00a0", " ")
        found = stations[key]
        grave = [f for f in found["findings"] if f["severity"] != "could-be-better"]
        if grave:
            assert grave[0]["text"].replace("\u00a0", " ") in text
        assert ('x-data="cures"' in html) is bool(found["findings"])


def test_a_cure_is_done_said_and_taken_back(client):
    before = garden_now(client)
    (form,) = offered(client, "lay")
    assert form["code"] == "lay-no-filter"
    done = client.post("/gardens/1/cure", data=form, follow_redirects=False)
    assert done.status_code == 303
    assert "done=1" in done.headers["location"]
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
    assert client.get("/gardens/1/cures/week").status_code == 404
    assert garden_now(client) == once


def test_what_to_measure_next_is_listed(client):
    html = client.get("/gardens/1/measure").text
    assert "<li>" in html or "Nothing that stands as usual" in html
