"""Files that a command is given: read, or refused in a sentence that names the file and a remedy."""

import csv
import json
import math
from pathlib import Path

import pytest
from click.testing import CliRunner, Result
from pytest import approx

from euhydra.cli.commands import main
from euhydra.garden import demo

DAYS = "2020-06-01,0,15,26\n2020-06-02,0,15,26\n2020-06-03,12,15,26\n2020-06-04,0,15,26\n"
HEADER = "date,precip_mm,tmin_c,tmax_c\n"


def run(*words: object, code: int = 0) -> Result:
    done = CliRunner().invoke(main, [str(word) for word in words])
    assert done.exit_code == code, done.output
    assert "Traceback" not in done.output
    return done


def refused(*words: object) -> str:
    """What is said where a command does not do it; never more than a short paragraph."""
    said = run(*words, code=1).output
    assert said.startswith("Error: ")
    assert len(said.splitlines()) < 12
    return said


@pytest.fixture
def garden_file(tmp_path: Path) -> Path:
    file = tmp_path / "garden.json"
    file.write_text(demo.garden_text())
    return file


@pytest.fixture
def weather_file(tmp_path: Path) -> Path:
    file = tmp_path / "weather.csv"
    file.write_text(HEADER + DAYS)
    return file


def test_a_file_that_is_not_there_is_named(tmp_path, garden_file):
    gone = tmp_path / "gone.json"
    assert "gone.json cannot be read" in refused("solve", gone)
    assert "gone.json cannot be read" in refused("season", garden_file, "--weather", gone)
    assert "cannot be read" in refused("solve", tmp_path)  # a folder


@pytest.mark.parametrize(
    ("content", "words"),
    [
        (b"\xff\xfe\x00\x81", "is not a text file"),
        (b"", "garden.json"),
        (b"[1, 2]", "garden.json"),
        (b'{"schema_version": 99}', "newer"),
        (b'{"schema_version": 2, "name": "x", "place": {"latitude_deg": 200}}', "latitude"),
    ],
)
def test_what_is_no_garden_is_refused_by_every_command(garden_file, weather_file, content, words):
    garden_file.write_bytes(content)
    for command in (
        ("solve", garden_file),
        ("export", garden_file, "--to", "json"),
        ("season", garden_file, "--weather", weather_file),
    ):
        assert words in refused(*command)


def test_a_network_that_is_no_network_is_refused_with_its_line(tmp_path):
    file = tmp_path / "odd.inp"
    file.write_text(
        "[OPTIONS]\nUnits LPM\nHeadloss H-W\n[JUNCTIONS]\nA 0\n[PIPES]\nP A B 10 ten 100\n"
    )
    said = refused("solve", file)
    assert "odd.inp: Line 7" in said
    assert "ten" in said


def test_units_that_are_not_told_are_asked_for(garden_file, weather_file):
    weather_file.write_text(HEADER.replace("_mm", "").replace("_c", "") + DAYS)
    said = refused("season", garden_file, "--weather", weather_file)
    assert "--unit precip=mm" in said
    told = run(
        "season",
        garden_file,
        "--weather",
        weather_file,
        "--json",
        "--unit",
        "precip=mm",
        "--unit",
        "temp=c",
    )
    assert json.loads(told.stdout)["days"] == 4


def test_columns_that_are_not_understood_are_said_beside_the_answer(garden_file, weather_file):
    lines = (HEADER + DAYS).splitlines()
    weather_file.write_text("\n".join([lines[0] + ",mood", *(line + ",4" for line in lines[1:])]))
    done = run("season", garden_file, "--weather", weather_file, "--json")
    assert "“mood” is not understood" in done.stderr
    assert json.loads(done.stdout)["days"] == 4  # what is piped on is the answer alone


def test_many_gaps_are_counted_and_the_first_few_named(garden_file, weather_file):
    weather_file.write_text(HEADER + "2020-06-01,0,15,26\n2020-06-30,0,15,26\n")
    said = refused("season", garden_file, "--weather", weather_file)
    assert "28 days missing" in said
    assert "and 20 more" in said
    done = run("season", garden_file, "--weather", weather_file, "--fill-gaps", "--json")
    assert "28 days filled" in done.stderr
    assert json.loads(done.stdout)["days"] == 30


def test_a_table_that_cannot_be_written_is_said(tmp_path, garden_file, weather_file):
    nowhere = tmp_path / "no" / "such" / "days.csv"
    said = refused("season", garden_file, "--weather", weather_file, "--daily", nowhere)
    assert "cannot be written" in said


def test_a_solved_garden_is_a_table_of_nodes_and_pipes(garden_file):
    said = run("solve", garden_file).stdout
    result = json.loads(run("solve", garden_file, "--json").stdout)
    lines = said.splitlines()
    assert lines[0].startswith("solved in ")
    assert "outflow L/h" in said
    assert len(lines) == 1 + 2 + len(result["nodes"]) + 2 + len(result["links"])
    first = result["nodes"][0]
    row = next(line for line in lines if line.startswith(first["id"]))
    assert float(row.split()[-1]) == approx(first["outflow_l_h"], abs=5e-4)


def test_what_flows_in_flows_out_of_the_printed_network(garden_file):
    result = json.loads(run("solve", garden_file, "--json", "--level", "full").stdout)
    outflows = [node["outflow_l_h"] for node in result["nodes"]]
    assert all(math.isfinite(q) for q in outflows)
    # A source's outflow is negative: what it gives. Sources and outlets cancel.
    sources = sum(q for q in outflows if q < 0)
    given = sum(q for q in outflows if q > 0)
    assert given > 0
    assert sources == approx(-given, rel=1e-6)


def test_the_daily_table_of_a_tank_adds_up_to_its_totals(weather_file, tmp_path):
    daily = tmp_path / "days.csv"
    done = run(
        "tank",
        "--weather",
        weather_file,
        "--roof-m2",
        20,
        "--store-l",
        150,
        "--demand-l-day",
        30,
        "--start-l",
        40,
        "--json",
        "--daily",
        daily,
    )
    totals = json.loads(done.stdout)
    rows = list(csv.DictReader(daily.read_text().splitlines()))
    for name in ("inflow", "supplied", "spill"):
        key = next(k for k in totals if k.startswith(name))
        assert sum(float(row[f"{name}_l"]) for row in rows) == approx(
            totals[key], rel=1e-4, abs=0.1
        )
    # By hand: in − supplied − spilled is what the tank gained.
    gained = float(rows[-1]["store_l"]) - 40
    flows = [sum(float(r[k]) for r in rows) for k in ("inflow_l", "supplied_l", "spill_l")]
    assert flows[0] - flows[1] - flows[2] == approx(gained, abs=0.01)


def test_a_garden_exported_is_read_back_alike(garden_file, tmp_path):
    again = tmp_path / "again.json"
    again.write_text(run("export", garden_file, "--to", "json").stdout)
    assert json.loads(again.read_text()) == json.loads(run("export", again, "--to", "json").stdout)


def test_a_passphrase_that_is_too_short_is_refused(tmp_path):
    said = refused("passphrase", "--data", tmp_path / "data", "--phrase", "short")
    assert "hash" not in said


def test_the_months_of_a_place_for_machines():
    told = CliRunner().invoke(main, ["climate", "--place", "Brussels", "--json"])
    found = json.loads(told.output)
    assert (found["name"], found["country"]) == ("Brussels", "Belgium")
    for column in ("precip_mm", "tmin_c", "tmax_c", "wet_days"):
        assert len(found[column]) == 12
    unknown = CliRunner().invoke(main, ["climate", "--place", "san"])
    assert unknown.exit_code == 1
    assert "San Diego" in unknown.output
