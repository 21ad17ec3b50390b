"""`euhydra answers` and `euhydra cure`: one surface for machines."""

import json
from pathlib import Path

import pytest

from cli.test_cli import run
from euhydra.formats import answers_json
from euhydra.garden import document
from gardens import one_barrel, tapped
from sound_gardens import RECORD

DOCS = Path(__file__).parents[2] / "docs"


@pytest.fixture
def files(tmp_path):
    weather = tmp_path / "weather.csv"
    rows = zip(
        RECORD.days.astype(str), RECORD.precip, RECORD.temp_min, RECORD.temp_max, strict=True
    )
    lines = (f"{day},{rain:.2f},{low:.2f},{high:.2f}" for day, rain, low, high in rows)
    weather.write_text("date,precip_mm,tmin_c,tmax_c\n" + "\n".join(lines))
    garden = tmp_path / "garden.json"
    garden.write_text(document.dumps(one_barrel()))
    return garden, weather


def test_answers_hold_every_station_with_findings_figures_and_cures(files):
    garden, weather = files
    text = run("answers", garden, "--weather", weather, "--station", "lay", "--json").output
    found = answers_json.read(text)
    assert list(found.stations) == ["lay"]
    lay = found.stations["lay"]
    assert lay.mark == "works-but"
    assert [each.code for each in lay.findings][:1] == ["lay-no-filter"]
    (cure,) = lay.findings[0].cures
    assert {edit.do for edit in cure.edits} == {"add", "set"}
    wetted = next(each for each in lay.findings if each.code == "lay-bed-wetted-in-part")
    assert 0 < wetted.figures["wetted"] < 1
    whole = json.loads(run("answers", garden, "--weather", weather, "--no-cures", "--json").output)
    assert list(whole["stations"]) == [
        "catch",
        "store",
        "need",
        "push",
        "lay",
        "time",
        "build",
        "keep",
    ]
    store = whole["stations"]["store"]["findings"][0]
    assert store["figures"]["holds_m3"] == pytest.approx(0.3)
    assert "needed" in whole["stations"]["catch"]


def test_a_cure_is_done_and_its_finding_gone(files, tmp_path):
    garden, weather = files
    words = ("--weather", weather, "--station", "lay")
    cured = tmp_path / "cured.json"
    cured.write_text(run("cure", garden, *words, "--finding", "lay-no-filter").output)
    document.loads(cured.read_text())
    after = answers_json.read(run("answers", cured, *words, "--no-cures", "--json").output)
    assert "lay-no-filter" not in [each.code for each in after.stations["lay"].findings]
    told = run("cure", garden, *words, "--finding", "lay-no-such", code=1).output
    assert "lay-no-filter" in told
    run("cure", garden, *words, "--finding", "lay-no-filter", "--cure", "9", code=1)


def test_a_garden_on_a_tap_needs_no_roof(files):
    garden, weather = files
    garden.write_text(document.dumps(tapped()))
    found = answers_json.read(
        run("answers", garden, "--weather", weather, "--no-cures", "--json").output
    )
    assert [key for key, each in found.stations.items() if not each.needed] == ["catch", "store"]
    assert found.stations["push"].findings[0].severity == "dangerous"
    said = run("answers", garden, "--weather", weather, "--no-cures").output
    assert "push: does-not" in said


def test_the_schema_of_answers_is_the_one_that_ships():
    published = json.loads((DOCS / "answers.schema.json").read_text("utf-8"))
    assert published == json.loads(run("schema", "answers").output)


def test_a_document_that_holds_no_answers_is_refused():
    with pytest.raises(answers_json.AnswersError):
        answers_json.read('{"version": 1, "garden": "x", "stations": {"roof": {}}}')
