"""Lines laid anew as they are: the water still comes from where it came, by the same pump and timer."""

import pytest

from euhydra.garden import demo, edits
from euhydra.garden.pipes import Pump
from euhydra.garden.timers import Timer
from euhydra.planner.lay import proposed_manifold
from euhydra.planner.lay.answer import LOW, answer_lay
from euhydra.planner.lay.lines_there import wishes_there
from euhydra.planner.water import solving, zones
from sound_gardens import BASES

GARDENS = {name: make for name, make in BASES.items() if wishes_there(make())} | {
    "demo": demo.garden
}


def zone_of(garden, drinker):
    return next(z for z in zones.zones_of(garden) if any(p.id == drinker for p in z.watered))


def way_of(garden, drinker):
    """Source, pumps and kinds of timers on the way."""
    zone = zone_of(garden, drinker)
    parts = zone.way.parts
    timers = sorted(part.kind for part in parts if isinstance(part, Timer))
    return zone.source.id, [part.id for part in parts if isinstance(part, Pump)], timers


def due(garden, drinker):
    zone = zone_of(garden, drinker)
    return solving.solve_zone(zone, zone.levels[zone.usual_level]).due_of(drinker)


@pytest.mark.parametrize("name", GARDENS)
def test_what_is_laid_anew_is_fed_as_it_was(name):
    garden = GARDENS[name]()
    for drinker, wish in wishes_there(garden).items():
        cleared = edits.without_lines(garden, {drinker}, wish.begins_at)
        anew = proposed_manifold.lay_together(cleared, [wish])
        assert way_of(anew, drinker) == way_of(garden, drinker)
        assert due(anew, drinker) >= min(LOW, due(garden, drinker))


def test_a_zone_that_lets_nothing_out_gives_nothing_of_its_due_and_is_told():
    garden = BASES["barrel_bed"]()
    bed = garden.beds[0]
    high = edits.put(garden, "beds", bed.model_copy(update={"ground_m": 5.0}))
    (zone,) = zones.zones_of(high)
    state = solving.solve_zone(zone, 0.5)
    assert state.flow == 0
    assert state.due_of(bed.id) == 0
    told = [mend.message.code for mend in answer_lay(high).to_mend]
    assert "lay-part-gets-too-little" in told
