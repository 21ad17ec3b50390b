"""Every change that is proposed is made on the garden itself, and then has to work."""

import pytest

from euhydra.garden import catalogue, demo, plumbing
from euhydra.garden.filled_text import fill
from euhydra.planner.push import cures, shortfalls
from euhydra.planner.push.shortfalls import Duty
from euhydra.planner.water import solving, zones
from gardens import long_row, one_barrel, with_part
from told import faults_in


def position(garden, collection, part_id):
    return next(i for i, part in enumerate(getattr(garden, collection)) if part.id == part_id)


def proposed(garden, bed="", duty=None):
    zone = zones.zone_named(garden, bed)
    found = tuple(cures.find_cures(zone, duty))
    assert faults_in(found) == []
    return {str(cure.change): cure for cure in found}


def the_one(found, words):
    (text,) = [text for text in found if words in text]
    return text


def works(garden, bed="", duty=None):
    return shortfalls.works(zones.zone_named(garden, bed), duty)


def widened(found, name):
    """The cure that widens the pipe called so, and the bore that it names. [m]"""
    (cure,) = [
        cure
        for cure in found.values()
        if cure.change.code == "push-wider-pipe" and cure.change.values["pipe"] == name
    ]
    kind = cure.change.values["kind"].template
    return cure, next(b.bore_m for b in catalogue.bores().values() if b.name == kind)


@pytest.fixture(scope="module")
def thin():
    """A hose so thin that the pressure it loses waters a row unevenly."""
    garden = long_row(8.0, "hole-1")
    hose = position(garden, "pipes", "shed-hose")
    return with_part(garden, "pipes", hose, bore_m=0.003, length_m=20.0), hose


def test_a_wider_pipe_is_the_next_size_that_does(thin):
    garden, hose = thin
    assert not works(garden)
    found = proposed(garden)
    cure, chosen = widened(found, "Shed hose")
    cured = with_part(garden, "pipes", hose, bore_m=chosen)
    assert works(cured)
    between = [b.bore_m for b in catalogue.bores().values() if 0.003 < b.bore_m < chosen]
    assert not any(works(with_part(garden, "pipes", hose, bore_m=size)) for size in between)
    zone = zones.zone_named(cured)
    flow = solving.solve_zone(zone, zone.levels[zone.usual_level]).flow
    assert cure.outcome.values["flow"].value == pytest.approx(flow, rel=1e-12)


def test_other_outlets_are_proposed_where_they_work_and_nowhere_else(thin):
    garden, _ = thin
    others = [
        cure.change.values["kind"].template
        for cure in proposed(garden).values()
        if cure.change.code == "push-other-outlets"
    ]
    row = position(garden, "pipes", "middle-line-1")
    for kind in plumbing.pipe_kinds().values():
        if kind.has_outlets and kind.id != "hole-1":
            changed = with_part(garden, "pipes", row, kind=kind.id, bore_m=None, hole_m=None)
            assert works(changed) == (kind.name in others)


def test_a_tube_to_a_pot_is_replaced_by_a_tube_not_by_a_hose():
    garden = demo.garden()
    tube = next(p for p in garden.pipes if p.dripper)
    names = [
        name
        for name, _ in cures.widened(tube.model_copy(update={"kind": "micro-3", "bore_m": None}))
    ]
    assert [fill(name, garden.units) for name in names] == ["micro-tube of 4 mm"]
    for _, wider in cures.widened(tube):
        assert plumbing.pipe_kinds()[wider.kind].family == "micro"


def test_another_setting_of_a_regulator_gives_the_day_its_water():
    garden = demo.garden()
    at = position(garden, "fittings", "bottom-bed-regulator")
    low = with_part(garden, "fittings", at, setting_m=0.5)
    zone = zones.zone_named(low, "bottom-bed")
    duty = Duty(1.5 * solving.solve_zone(zone, 1.0).flow * zone.window_s)
    assert works(garden, "bottom-bed", duty)
    assert not works(low, "bottom-bed", duty)
    found = proposed(low, "bottom-bed", duty)
    setting = (
        found[the_one(found, "Another setting for “Bottom step, regulator”")]
        .change.values["setting"]
        .value
    )
    assert works(with_part(garden, "fittings", at, setting_m=setting), "bottom-bed", duty)
    lower = [s for s in cures.SETTINGS if s < setting]
    assert not any(
        works(with_part(garden, "fittings", at, setting_m=s), "bottom-bed", duty) for s in lower
    )


def test_where_no_change_does_it_none_is_offered():
    found = proposed(with_part(one_barrel(), "beds", ground_m=50.0))
    assert found == {}


def test_what_lies_in_the_ground_is_not_raised():
    garden = with_part(one_barrel(), "stores", stand_m=0.0, sunk_m=0.8)
    found = proposed(with_part(garden, "beds", ground_m=0.4))
    assert not any("Raise the stand" in text for text in found)
