"""The quick sum of a float box and a chain of planters, from the shell."""

import json

import pytest
from click.testing import CliRunner
from pytest import approx

from euhydra.cli.commands import main
from euhydra.garden import demo, document, normals
from gardens import one_barrel, three_troughs

USUAL = {
    "store-head-m": 0.8,
    "supply-length-m": 8,
    "supply-bore-mm": 12.7,
    "valve-l-h": 120,
    "valve-at-m": 1,
    "valve-band-mm": 20,
    "set-level-mm": 60,
    "count": 12,
    "tube-length-m": 0.3,
    "tube-bore-mm": 8,
    "blocked": 0,
    "draw-l-day": 3.5,
    "peak-share": 0.12,
    "foot-level-mm": 20,
}


def run(*flags: str, **changes):
    asked = USUAL | {name.replace("_", "-"): value for name, value in changes.items()}
    words = [word for name, value in asked.items() for word in (f"--{name}", str(value))]
    return CliRunner().invoke(main, ["planters", *words, *flags])


def told(**changes) -> dict:
    done = run("--json", **changes)
    assert done.exit_code == 0, done.output
    return json.loads(done.output)


def test_a_dozen_on_clean_tubes():
    found = told()
    assert found["valve_suffices"] is True
    assert found["peak_draw_l_h"] == approx(12 * 3.5 * 0.12)
    assert found["starved"] == []
    assert len(found["levels_mm"]) == 12
    assert found["box_level_mm"] == approx(59.06, abs=0.01)
    # 5.04 L/h in 30 cm of 8 mm tube: 128 ν L q ÷ (π g d⁴) and 1.5 v²/2g, by hand 0.487 mm.
    assert found["box_level_mm"] - found["levels_mm"][0] == approx(0.487, abs=0.002)
    assert found["carries"] >= 12


def test_blocked_tubes_starve_the_last_ones():
    found = told(blocked=0.75, tube_bore_mm=6)
    assert found["starved"] == list(range(found["starved"][0], 13))
    assert found["starved"][0] - 1 <= found["carries"] < 12


def test_a_valve_that_cannot_give_it_leaves_levels_unsaid():
    found = told(valve_l_h=3)
    assert found["valve_suffices"] is False
    assert found["levels_mm"] is found["starved"] is found["box_level_mm"] is None
    assert 0 < found["carries"] < 12
    assert "does not give that" in run(valve_l_h=3).output


def test_a_store_under_its_valve_carries_none():
    found = told(store_head_m=-0.2)
    assert found["valve_suffices"] is False
    assert found["carries"] == 0


@pytest.mark.parametrize(
    ("changes", "named"),
    [
        ({"foot_level_mm": 60}, "--foot-level-mm"),
        ({"count": 0}, "--count"),
        ({"count": 201}, "--count"),
        ({"blocked": 1}, "--blocked"),
        ({"tube_bore_mm": "nan"}, "--tube-bore-mm"),
        ({"valve_l_h": 0}, "--valve-l-h"),
        ({"valve_band_mm": 0}, "--valve-band-mm"),
    ],
)
def test_what_cannot_be_is_refused_by_its_name(changes, named):
    done = run(**changes)
    assert done.exit_code == 2
    assert named in done.output


def test_people_read_planter_by_planter():
    lines = run(blocked=0.75, tube_bore_mm=6).output.splitlines()
    assert lines[0].startswith("Peak hour: 5.04 L/h")
    assert sum("starved" in line for line in lines) == len(
        told(blocked=0.75, tube_bore_mm=6)["starved"]
    )


def test_a_season_counts_what_planters_drank(tmp_path):
    days = tmp_path / "days.csv"
    record = normals.make_days(demo.normals(), 1)
    rows = zip(record.days, record.precip, record.temp_min, record.temp_max, strict=True)
    lines = [f"{day},{rain:.2f},{low:.1f},{high:.1f}" for day, rain, low, high in rows]
    days.write_text("\n".join(["date,precip_mm,tmin_c,tmax_c", *lines]))
    garden = tmp_path / "garden.json"
    drank = []
    for each in (three_troughs(), one_barrel()):
        garden.write_text(document.dumps(each))
        ran = CliRunner().invoke(main, ["season", str(garden), "--weather", str(days), "--json"])
        assert ran.exit_code == 0, ran.output
        found = json.loads(ran.output)
        drank.append((found["planters_drank_l"], found["bed_transpired_l"]))
    assert drank[0][0] == approx(drank[0][1])
    assert drank[0][0] > 0
    assert drank[1][0] == 0
