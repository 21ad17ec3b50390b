import csv
import json

import pytest
from click.testing import CliRunner
from pytest import approx

from euhydra.cli.commands import main
from euhydra.garden import demo
from served import lay_demo


def run(*words, code=0):
    done = CliRunner().invoke(main, [str(w) for w in words])
    assert done.exit_code == code, done.output
    return done


def table(file):
    return list(csv.DictReader(file.read_text().splitlines()))


@pytest.fixture
def garden_file(tmp_path):
    file = tmp_path / "garden.json"
    file.write_text(demo.garden_text())
    return file


@pytest.fixture
def small_weather(tmp_path):
    file = tmp_path / "weather.csv"
    file.write_text(
        "date,precip_mm,tmin_c,tmax_c\n"
        "2020-06-01,0,15,26\n2020-06-02,0,15,26\n2020-06-03,2,15,26\n2020-06-04,0,15,26\n"
    )
    return file


def test_every_command_explains_itself():
    for command in ("", *main.commands):
        assert "Usage" in run(*command.split(), "--help").output


def test_solve_a_garden_and_its_own_export_alike(garden_file, tmp_path):
    first = json.loads(run("solve", garden_file, "--json").output)
    assert first["converged"]
    (tmp_path / "g.inp").write_text(run("export", garden_file, "--to", "inp").output)
    second = json.loads(run("solve", tmp_path / "g.inp", "--json").output)
    assert {n["id"]: n["outflow_l_h"] for n in second["nodes"]} == approx(
        {n["id"]: n["outflow_l_h"] for n in first["nodes"]}, rel=1e-6, abs=1e-9
    )
    assert set(first["links"][0]) == {"id", "flow_l_h", "velocity_m_s", "headloss_m"}


def test_season_through_a_real_public_file(garden_file, seattle_file, tmp_path):
    daily = tmp_path / "days.csv"
    done = run("season", garden_file, "--weather", seattle_file, "--json", "--daily", daily)
    totals = json.loads(done.stdout)
    assert totals["days"] == 1461
    stored = totals["store_end_l"] - totals["store_start_l"]
    come = totals["inflow_l"] + totals["other_sources_l"]
    assert come - totals["supplied_l"] - totals["spill_l"] == approx(stored, abs=1e-6)
    assert abs(totals["mass_balance_residual_l"]) < 1e-6
    rows = table(daily)
    assert len(rows) == 1461
    assert sum(float(r["supplied_l"]) for r in rows) == approx(totals["supplied_l"], abs=0.01)


def test_a_card_is_followed_as_it_was_made(garden_file, seattle_file, tmp_path):
    made = run("card", garden_file, "--weather", seattle_file, "--json").stdout
    zone = next(z for z in json.loads(made)["zones"] if z["id"] == "shed-timer")
    assert [month["month"] for month in zone["months"]] == list(range(1, 13))
    assert any(not month["off"] and month["run_min"] > 0 for month in zone["months"])
    assert all(rule["run_min"] > 0 for rule in zone["heat"])
    file = tmp_path / "card.json"
    weather = ("--weather", seattle_file, "--json")

    def middle(*words: object) -> dict:
        beds = json.loads(run("season", garden_file, *weather, *words).stdout)["beds"]
        return next(bed for bed in beds if bed.pop("id") == "middle-bed")

    own = middle()

    def followed(card: dict, *more: str) -> dict:
        file.write_text(json.dumps(card))
        return middle("--card", file, *more)

    # What the card promises is what the season of the same weather comes to.
    assert zone["dry_share"] == approx(own["days_too_dry"] / own["days_in_season"])
    assert followed({"zones": [zone]}) == approx(own)
    cool = {"zones": [zone | {"heat": []}]}
    assert followed(cool)["given_l"] <= own["given_l"] + 1e-6
    off = {
        "zones": [zone | {"months": [{"month": 7, "off": True}], "new_plants": None, "heat": []}]
    }
    dry = followed(off)
    assert dry["given_l"] == 0
    assert dry["days_too_dry"] > own["days_too_dry"]
    uneven = followed(cool, "--evenness", "0.5")
    assert uneven["missed_share"] >= own["missed_share"]


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("{", "line 1"),
        ('{"zones": [{"id": "x", "months": [{"month": 13}]}]}', "zones.0.months.0.month"),
        ('{"zones": [{"id": "nothing", "months": []}]}', "nothing"),
    ],
)
def test_a_card_that_is_none_is_refused_with_its_place(
    garden_file, seattle_file, tmp_path, text, said
):
    file = tmp_path / "card.json"
    file.write_text(text)
    done = run("season", garden_file, "--weather", seattle_file, "--card", file, code=1)
    assert said in done.output


def test_tank_by_hand(small_weather):
    # 50 m² × 0.9 × 2 mm = 90 L on day 3; 100 L store, 40 L a day, start 60 L. Strict rule by hand:
    # 40; 20; 0 (rain of today is for tomorrow); 40.
    words = [
        "tank",
        "--weather",
        small_weather,
        "--roof-m2",
        50,
        "--coefficient",
        0.9,
        "--store-l",
        100,
        "--demand-l-day",
        40,
        "--start-l",
        60,
        "--json",
    ]
    strict = json.loads(run(*words, "--rule", "yas").output)
    assert strict["supplied_l"] == approx(100)
    assert strict["spill_l"] == approx(0)
    assert strict["store_end_l"] == approx(50)
    assert strict["time_reliability"] == approx(0.5)
    hopeful = json.loads(run(*words, "--rule", "ybs").output)
    assert hopeful["supplied_l"] == approx(140)


def test_et0_daily(small_weather, tmp_path):
    daily = tmp_path / "et0.csv"
    run(
        "et0",
        "--weather",
        small_weather,
        "--latitude",
        41.2,
        "--elevation-m",
        30,
        "--method",
        "hs",
        "--daily",
        daily,
    )
    rows = table(daily)
    assert list(rows[0]) == ["date", "ra_mj_m2", "et0_mm"]
    # FAO-56 annex 2 table 2.6: about 41.6 MJ/m² at 41° N in mid-June (from memory), and eq. 52.
    assert float(rows[0]["ra_mj_m2"]) == approx(41.5, abs=0.5)
    expected = 0.0023 * float(rows[0]["ra_mj_m2"]) / 2.45 * (20.5 + 17.8) * 11**0.5
    assert float(rows[0]["et0_mm"]) == approx(expected, abs=1e-4)


def test_et0_by_penman_monteith_needs_all_four(tmp_path, small_weather):
    words = [
        "et0",
        "--latitude",
        50.8,
        "--elevation-m",
        100,
        "--method",
        "pm",
        "--json",
        "--weather",
    ]
    refused = CliRunner().invoke(main, [str(w) for w in (*words, small_weather)])
    assert refused.exit_code != 0
    assert "solar_mj_m2" in refused.output
    full = tmp_path / "full.csv"
    full.write_text(
        "date,precip_mm,tmin_c,tmax_c,rhmin_pct,rhmax_pct,wind_m_s,solar_mj_m2\n"
        "2021-07-06,0,12.3,21.5,63,84,2.078,22.07\n"
    )
    # FAO-56 example 18: Brussels, 6 July, printed 3.9 mm/day.
    assert json.loads(run(*words, full).output)["et0_mm"] == approx(3.9, abs=0.05)


def test_schema_and_demo_garden_are_json():
    assert json.loads(run("schema").output)["title"] == "Euhydra garden document"
    assert json.loads(run("demo-garden").output)["name"] == "Pilchard Steps"


@pytest.mark.parametrize(
    ("words", "message"),
    [
        (["solve", "nowhere.json"], "cannot be read"),
        (
            ["tank", "--weather", "W", "--roof-m2", "-5", "--store-l", "9", "--demand-l-day", "1"],
            "roof-m2",
        ),
        (
            ["tank", "--weather", "W", "--roof-m2", "nan", "--store-l", "9", "--demand-l-day", "1"],
            "not an amount",
        ),
        (
            [
                "tank",
                "--weather",
                "W",
                "--roof-m2",
                "5",
                "--store-l",
                "9",
                "--dead-l",
                "9",
                "--demand-l-day",
                "1",
            ],
            "leave nothing",
        ),
        (
            [
                "tank",
                "--weather",
                "W",
                "--roof-m2",
                "5",
                "--store-l",
                "9",
                "--start-l",
                "10",
                "--demand-l-day",
                "1",
            ],
            "do not fit",
        ),
        (["et0", "--weather", "W", "--latitude", "95"], "latitude"),
    ],
)
def test_bad_words_are_refused(words, message, small_weather):
    done = CliRunner().invoke(main, [str(small_weather) if w == "W" else w for w in words])
    assert done.exit_code != 0
    assert message in done.output


def test_gaps_are_filled_only_when_told(small_weather, garden_file):
    small_weather.write_text(small_weather.read_text().replace("2020-06-02,0,15,26\n", ""))
    done = run("season", garden_file, "--weather", small_weather, code=1)
    assert "2020-06-02" in done.output
    assert "--fill-gaps" in done.output
    assert run("season", garden_file, "--weather", small_weather, "--fill-gaps", "--json")


def test_an_unconnected_bed_is_named(garden_file):
    document = json.loads(garden_file.read_text())
    document["pipes"] = [pipe for pipe in document["pipes"] if pipe["id"] != "top-hose"]
    for pipe in document["pipes"]:
        if pipe["begins_at"] == "top-hose":
            pipe["begins_at"] = None
    garden_file.write_text(json.dumps(document))
    said = run("solve", garden_file, "--bed", "top-bed", code=1).output
    assert "“Top step” is not connected" in said


def test_everything_is_saved_and_brought_back_from_the_shell(tmp_path):
    lay_demo(tmp_path / "data", with_log=True)
    data = ("--data", tmp_path / "data")
    file = tmp_path / "saved.zip"
    assert "Pilchard Steps; 87 log entries, 0 pictures" in run("backup", file, *data).output
    asked = CliRunner().invoke(main, ["restore", str(file), *map(str, data)], input="n\n")
    assert asked.exit_code == 1
    assert "It is whole." in asked.output
    fresh = ("--data", tmp_path / "fresh")
    assert "Restored." in run("restore", file, "--yes", *fresh).output
    again = tmp_path / "again.zip"
    assert "87 log entries" in run("backup", again, *fresh).output
    cut = tmp_path / "cut.zip"
    cut.write_bytes(file.read_bytes()[:-400])
    refused = run("restore", cut, "--yes", *data, code=1)
    assert "cut short" in refused.output
    assert "Nothing was changed." in refused.output
    assert "no garden; 0 log entries" in run("backup", again, "--data", tmp_path / "empty").output
