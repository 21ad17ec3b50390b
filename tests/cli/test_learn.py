"""`euhydra learn`: what a log shows, for machines."""

import json
from datetime import date

import pytest

from cli.test_cli import run
from euhydra.formats import log_csv
from euhydra.formats.log_csv import LogRow
from euhydra.garden import document
from euhydra.planner.chain import run_chain
from sound_gardens import RECORD, tap_two_beds
from twins import Season, Truth


@pytest.fixture(scope="module")
def files(tmp_path_factory):
    """A season in which the tap leaks from the twentieth of July."""
    folder = tmp_path_factory.mktemp("learn")
    garden, weather, log = (folder / name for name in ("garden.json", "days.csv", "log.csv"))
    rows = zip(
        RECORD.days.astype(str), RECORD.precip, RECORD.temp_min, RECORD.temp_max, strict=True
    )
    lines = (f"{day},{rain:.2f},{low:.2f},{high:.2f}" for day, rain, low, high in rows)
    weather.write_text("date,precip_mm,tmin_c,tmax_c\n" + "\n".join(lines))
    garden.write_text(document.dumps(tap_two_beds()))
    season = Season(run_chain(tap_two_beds(), RECORD), [Truth("leak", "tap", 35.0, (7, 20))], 3)
    rows = [LogRow(f"e{i}", entry) for i, entry in enumerate(season.play())]
    log.write_text(log_csv.write(rows, tap_two_beds()))
    return garden, weather, log, season.year


def test_claims_headline_and_state_are_printed(files):
    garden, weather, log, year = files
    words = ("learn", garden, "--weather", weather, "--log", log)
    found = json.loads(run(*words, "--until", f"{year}-08-20", "--json").output)
    (claim,) = found["claims"]
    assert (claim["kind"], claim["part"]) == ("leak", "tap")
    assert claim["low"] <= 35 <= claim["high"]
    assert abs((date.fromisoformat(claim["since"]) - date(year, 7, 20)).days) <= 7
    assert found["headline"] == claim["text"]
    assert found["state"]["day"] == f"{year}-08-20"
    assert {bed["part"] for bed in found["state"]["beds"]} == {"bed", "beans"}
    before = json.loads(run(*words, "--until", f"{year}-07-15", "--json").output)
    assert before["claims"] == []


def test_a_log_that_cannot_be_read_says_where(files, tmp_path):
    garden, weather, _, _ = files
    wrong = tmp_path / "log.csv"
    wrong.write_text("when,kind\n2026-06-31T07:00,rain\n")
    result = run("learn", garden, "--weather", weather, "--log", wrong, code=1)
    assert "Line 2" in result.output


def test_answers_tell_what_the_log_shows_where_there_is_one(files):
    garden, weather, log, year = files
    words = ("answers", garden, "--weather", weather, "--station", "keep", "--no-cures", "--json")
    plain = json.loads(run(*words).output)["stations"]["keep"]
    assert (plain["mark"], plain["findings"]) == ("works", [])
    keep = json.loads(run(*words, "--log", log, "--until", f"{year}-08-20").output)["stations"][
        "keep"
    ]
    assert keep["mark"] == "works-but"
    first = keep["findings"][0]
    assert (first["code"], first["parts"]) == ("learned-leak", ["tap"])
