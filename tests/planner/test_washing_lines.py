"""Washing water in lines: laid from the drum, run through the week on the solved network."""

import json
from datetime import date
from functools import cache

import numpy as np
import pytest
from pytest import approx

from euhydra.garden import changes, demo, document, edits, normals
from euhydra.garden.beds import Bed
from euhydra.garden.model import Garden
from euhydra.garden.part import Point
from euhydra.garden.pipes import Fitting, Pump
from euhydra.garden.sources import DrumOutlet, Greywater
from euhydra.planner import chain
from euhydra.planner.answers import Gap, Mark
from euhydra.planner.catch import greywater, order, washing_week
from euhydra.planner.chain import run_chain
from euhydra.planner.judgement import trying
from euhydra.planner.judgement.answer import judge
from euhydra.planner.keeping import upkeep
from euhydra.planner.lay import proposed_manifold, rules
from euhydra.planner.lay.wishes import Method, Wish
from euhydra.planner.parts import counting
from euhydra.planner.season import works
from euhydra.planner.steps import first_run
from euhydra.planner.steps.answer import steps_of
from euhydra.planner.water import solving, zones
from gardens import one_barrel

RECORD = normals.make_days(demo.normals(), 3)
TODAY = date(2026, 7, 1)

DRY = (5, 6, 7, 8, 9)
"""May to September."""


def bed(number: int, crop: str = "currant") -> Bed:
    at = Point(x_m=3.0, y_m=3.0 * number)
    name = f"Bed {number}"
    return Bed.model_validate(
        {"id": f"bed-{number}", "name": name, "at": at, "length_m": 4.0, "width_m": 1.0}
        | {"soil": "loam", "crop": crop, "planting": {"month": 4, "day": 1}}
    )


def drum(**fields) -> Greywater:
    values = {"loads": (2, 0, 0, 1, 0, 2, 0), "drum_m3": 0.12, "ground_m": 1.0, "stand_m": 0.5}
    return Greywater.model_validate({"id": "drum", "name": "Drum"} | values | fields)


def laid(beds: int = 1, line: str = "tape", **fields) -> Garden:
    """A bare garden whose beds are laid from the drum in one go."""
    garden = edits.replace(
        one_barrel().model_copy(
            update={
                **dict.fromkeys(
                    ("roofs", "downspouts", "stores", "timers", "pipes", "fittings", "pumps"), ()
                ),
                "beds": tuple(bed(i + 1) for i in range(beds)),
                "greywaters": (drum(**fields),),
            }
        )
    )
    wishes = [Wish(f"bed-{i + 1}", "drum", Method.ROWS, line, rows=2) for i in range(beds)]
    return proposed_manifold.lay_together(garden, wishes)


@cache
def one_bed() -> Garden:
    return laid()


def answer(garden: Garden) -> greywater.WashAnswer:
    return greywater.answer_washing(garden, garden.greywaters[0])


@pytest.mark.parametrize("line", ["tape", "line-low", "hole-1"])
@pytest.mark.parametrize("beds", [1, 3])
@pytest.mark.parametrize("outlet", list(DrumOutlet))
def test_what_is_laid_from_a_drum_breaks_no_rule(line, beds, outlet):
    garden = laid(beds, line, outlet=outlet)
    states = rules.states_of(garden)
    fatal = [b.message.code for b in rules.find_all(garden, states) if b.mark is Mark.FAILS]
    assert fatal == []
    assert not garden.timers
    assert any(f.kind == "filter" for f in garden.fittings)
    assert bool(garden.pumps) is (outlet is DrumOutlet.PUMP)
    assert counting.faults(garden) == []


def test_all_that_leaves_the_drum_leaves_by_an_outlet():
    for garden in (one_bed(), laid(3), laid(outlet=DrumOutlet.PUMP)):
        for week in answer(garden).weeks:
            assert week.by_outlet.sum() == approx(week.run.out.sum(), rel=1e-9)
            assert sum(week.by_part.values()) == approx(week.run.out.sum(), rel=1e-9)
            total = week.inflow.sum()
            assert total == approx(week.run.out.sum() + week.lost + week.run.left)


def test_a_drum_that_is_poured_out_empties_in_the_time_of_its_own_small_steps():
    """Against an own integration by seconds of flows solved at the drum's own level."""
    garden = one_bed()
    zone = zones.open_lines(garden, "drum", 7)
    (system,) = garden.greywaters
    inflow = np.zeros(600)
    inflow[0] = 100.0
    volumes, flows = washing_week._solved(zone)
    run = washing_week._run(system, inflow, False, volumes, flows.sum(axis=1))
    level, half = 100.0, 0
    while level > 50.0:
        state = solving.solve_zone(zone, round(level / 120.0, 3))
        level -= state.flow * 1000 * 20  # litres in 20 s
        half += 20
    found = int(np.argmax(run.level < 50.0)) * 60
    assert found == approx(half, abs=90)


def test_a_second_branch_is_open_in_its_months_alone():
    garden = laid(2)
    branch = next(p for p in garden.pipes if p.waters == "bed-2")
    first = _first_of_branch(garden, branch.id)
    valve = Fitting(
        id="summer-valve",
        name="Summer valve",
        kind="shut-off",
        at=first.path[0],
        begins_at=first.begins_at,
        begins_along_m=first.begins_along_m,
        open_months=DRY,
    )
    moved = first.model_copy(update={"begins_at": valve.id, "begins_along_m": None})
    garden = edits.put_all(garden, [("fittings", valve), ("pipes", moved)])
    found = answer(garden)
    assert sorted(week.months for week in found.weeks) == [(1, 2, 3, 4, 10, 11, 12), DRY]
    for week in found.weeks:
        assert (week.by_part.get("bed-2", 0.0) > 0) is (week.months == DRY)
    summer = washing_week.share_to(garden, garden.greywaters[0], "bed-1", 7)
    winter = washing_week.share_to(garden, garden.greywaters[0], "bed-1", 1)
    assert winter > 1.5 * summer > 0
    litres = works.greywater_litres(garden, garden.greywaters[0], "bed-2", RECORD)
    assert litres.any()
    assert not litres[~np.isin(RECORD.month, DRY)].any()
    codes = [b.message.code for b in rules.find_all(garden, rules.states_of(garden))]
    assert "lay-months-without-drum" not in codes


def _first_of_branch(garden: Garden, pipe_id: str):
    """The pipe of a branch that leaves the shared one."""
    by_id = {part.id: part for part in garden.fed}
    here = by_id[pipe_id]
    while "pipe" not in here.begins_at.split("-"):
        here = by_id[here.begins_at]
    return here


def test_rules_of_washing_water():
    garden = one_bed()

    def codes(changed: Garden) -> set[str]:
        found = rules.find_all(changed, rules.states_of(changed))
        return {breach.message.code for breach in found if breach.mark is Mark.FAILS}

    carrot = garden.beds[0].model_copy(update={"crop": "carrot"})
    assert "lay-washing-water-refused" in codes(edits.put(garden, "beds", carrot))
    pumped = garden.greywaters[0].model_copy(update={"outlet": DrumOutlet.PUMP})
    assert "lay-drum-lacks-pump" in codes(edits.put(garden, "greywaters", pumped))
    refused = answer(edits.put(garden, "greywaters", pumped)).verdict.reasons
    assert refused[0].code == "catch-no-pump-in-lines"


def test_what_stands_is_cured_by_a_lower_outlet_and_the_cure_works():
    garden = laid(outlet_height_m=0.4)  # half of it lies below the outlet
    found = answer(garden)
    assert "catch-water-stands-drum" in {reason.code for reason in found.verdict.reasons}
    judged = judge(run_chain(garden, RECORD))
    stands = next(f for f in judged.findings if f.code == "catch-water-stands-drum")
    cure = next(trying.cures_of(judged, stands))
    assert cure.change.code == "catch-lower-outlet"
    mended = answer(changes.done_to(garden, cure.edits))
    assert max(week.oldest_hours for week in mended.weeks) <= greywater.MOST_HOURS


def test_a_pump_runs_by_its_float_on_the_solved_lines():
    garden = laid(outlet=DrumOutlet.PUMP, pump_on_m3=0.04, pump_off_m3=0.005)
    found = answer(garden)
    run = found.shown.run
    assert run.is_pumped
    # 250 L a week, 35 L or more from start to stop: no more than seven times, on each washday once.
    assert 3 <= run.starts <= 250 / 35
    zone = zones.open_lines(garden, "drum", 7)
    full = solving.solve_zone(zone, 1.0).flow * 60_000
    empty = solving.solve_zone(zone, 0.0).flow * 60_000
    running = run.out[run.out > 0]
    assert running.max() <= full * 1.001
    assert np.median(running) >= empty * 0.999 or running.max() < empty
    assert isinstance(garden.pumps[0], Pump)


def test_the_chain_sets_nothing_on_it_and_waters_by_it():
    garden = one_bed()
    found = chain.run_chain(garden, RECORD)
    (zone,) = found.zones
    assert isinstance(zone.time, Gap)
    assert zone.time.sentence.code == "chain-runs-by-itself"
    assert [part.id for part in order.order_of(garden, garden.beds[0]).sources] == ["drum"]


def test_list_steps_first_run_and_upkeep_know_the_drum():
    garden = laid(outlet=DrumOutlet.PUMP)
    goods = {use.good.key for use in counting.uses_of(garden)}
    assert {"washing-diverter", "surge-drum", "lint-bag", "float-switch"} <= goods
    assert "drain-pump" not in goods  # its pump is the one in its lines
    keys = [step.key for step in steps_of(garden)]
    assert keys.index("stand-drum") < keys.index("grey-drum")
    acts = [act.key for act in first_run.answer_first_run(zones.zones_of(garden)[0], []).acts]
    assert acts[0].endswith(garden.pumps[0].id)
    assert acts[-1].endswith("-drum")
    tasks = upkeep.answer_upkeep(chain.run_chain(garden, None), [], TODAY).tasks
    (lint,) = [task for task in tasks if task.key == "lint-drum"]
    assert lint.part_id == "drum"
    assert (lint.due - TODAY).days == greywater.lint_days(garden.greywaters[0])


def test_an_older_document_keeps_its_drum_so_high_above_its_bed():
    old = json.loads(document.dumps(demo.garden()))
    old["schema_version"] = 2
    grey = old["greywaters"][0]
    for name in ("at", "ground_m", "stand_m", "outlet_height_m"):
        grey.pop(name)
    for drop in (0.3, -0.4, 5.0):
        grey["drop_m"] = drop
        garden = document.loads(json.dumps(old))
        (system,) = garden.greywaters
        hedge = next(bed for bed in garden.beds if bed.id == "hedge")
        assert system.tap_m - hedge.outlet_m == approx(drop)
