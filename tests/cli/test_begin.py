"""A garden in one line: `euhydra begin`, and weather files told by their columns."""

import json

import pytest
from click.testing import CliRunner

from euhydra.cli.commands import main
from euhydra.garden import document


def run(*args: str):
    return CliRunner().invoke(main, args)


def test_the_ways_are_listed_with_what_each_asks():
    listed = json.loads(run("begin", "--list", "--json").output)
    ways = {way["id"]: way for way in listed}
    assert len(ways) == 18
    assert {"id", "name", "asks"} <= set(ways["totes"])
    asks = {ask["id"]: ask for ask in ways["totes"]["asks"]}
    assert asks["roof_length"]["unit"] == "m"
    assert "clock-ball" in asks["timer"]["choices"]
    assert "Totes on a terrace" in run("begin", "--list", "--units", "us").output


def test_a_garden_is_made_of_what_is_said():
    said = ("--set", "roof_length=8m", "--set", "barrels=4")
    made = run("begin", "--way", "totes", "--place", "Brussels", *said)
    garden = document.loads(made.output)
    assert garden.stores[0].count == 4
    assert garden.roofs[0].length_m == 8
    assert round(garden.place.latitude_deg) == 51
    there = document.loads(run("begin", "--way", "can", "--place", "33.9 S, 151 E").output)
    assert there.place.latitude_deg == -33.9


@pytest.mark.parametrize(
    ("args", "words"),
    [
        (("--way", "totes"), "--place"),
        (("--way", "moat", "--place", "Brussels"), "barrel, totes"),
        (("--way", "totes", "--place", "Atlantis"), "Name a larger town"),
        (("--way", "totes", "--place", "Brussels", "--set", "roof=8"), "roof_length"),
        (("--way", "totes", "--place", "Brussels", "--set", "roof_length=900 m"), "0.5 m to 60 m"),
    ],
)
def test_what_is_wrong_says_what_would_do(args, words):
    refused = run("begin", *args)
    assert refused.exit_code != 0
    assert words in refused.output


def test_columns_are_said_on_the_command_line(tmp_path):
    file = tmp_path / "gauge.csv"
    file.write_text("Read on;Low;High\n01/05/2024;8,5;19\n13/05/2024;9;21\n", "utf-8")
    asked = run("et0", "--weather", str(file), "--latitude", "50.8", "--elevation-m", "30")
    assert asked.exit_code != 0
    said = ("--column", "Low=tmin", "--column", "High=tmax", "--unit", "temp=c", "--fill-gaps")
    told = run("et0", "--weather", str(file), "--latitude", "50.8", "--elevation-m", "30", *said)
    assert told.exit_code == 0, told.output
    wrong = run(
        "et0", "--weather", str(file), "--latitude", "50", "--elevation-m", "3", "--column", "Low"
    )
    assert "HEADER=NAME" in wrong.output
