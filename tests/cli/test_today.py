"""`euhydra today`: the morning for machines."""

import json

import numpy as np
import pytest

from cli.test_cli import run
from euhydra.garden import document
from sound_gardens import RECORD, tap_two_beds
from sweeps import swept


@pytest.fixture(scope="module")
def files(tmp_path_factory):
    folder = tmp_path_factory.mktemp("today")
    garden, weather = folder / "garden.json", folder / "days.csv"
    rows = zip(
        RECORD.days.astype(str), RECORD.precip, RECORD.temp_min, RECORD.temp_max, strict=True
    )
    lines = (f"{day},{rain:.2f},{low:.2f},{high:.2f}" for day, rain, low, high in rows)
    weather.write_text("date,precip_mm,tmin_c,tmax_c\n" + "\n".join(lines))
    garden.write_text(document.dumps(tap_two_beds()))
    return garden, weather


def test_acts_stores_and_what_is_due_are_printed(files, tmp_path):
    garden, weather = files
    words = ("today", garden, "--weather", weather, "--date", f"{RECORD.year[-1]}-07-12")
    found = json.loads(run(*words, "--json").output)
    assert {act["zone"] for act in found["acts"]} == {"bed-timer", "beans-timer"}
    assert {act["do"] for act in found["acts"]} <= {"leave", "as-set", "pause", "by-hand", "cans"}
    assert all(act["litres"] >= 0 and act["reason"] for act in found["acts"])
    forecast = tmp_path / "ahead.csv"
    days = "".join(f"{RECORD.year[-1]}-07-{12 + n},30\n" for n in range(7))
    forecast.write_text("date,rain_mm\n" + days)
    wet = json.loads(run(*words, "--forecast", forecast, "--json").output)
    assert sum(a["litres"] for a in wet["acts"]) <= sum(a["litres"] for a in found["acts"])
    forecast.write_text("date,rain_mm\n2001-01-01,5\n")
    assert "before this morning" in run(*words, "--forecast", forecast, code=1).output


@pytest.mark.parametrize("by", swept(["card", "today", "rule"], ["card", "rule"]))
def test_a_record_is_followed_year_by_year(files, by):
    garden, weather = files
    found = json.loads(run("replay", garden, "--weather", weather, "--follow", by, "--json").output)
    assert [year["year"] for year in found["years"]] == np.unique(RECORD.year).tolist()
    assert found["litres_a_year"] > 0
    assert 0 <= found["dry_share"] < 0.2
