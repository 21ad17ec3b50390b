"""What an edit does not touch is not laid out nor solved again; what it touches is."""

import gc
import weakref

from euhydra.garden import demo, document, edits, normals
from euhydra.planner.chain import run_chain
from euhydra.planner.judgement import trying
from euhydra.planner.judgement.answer import judge
from euhydra.planner.same import GARDENS_KEPT
from euhydra.planner.water import solving, zones
from gardens import one_barrel, with_part


def solved(garden):
    """The solved way of each zone at its usual level, by the zone's id."""
    read = document.loads(document.dumps(garden))
    found = zones.zones_of(read)
    return {z.id: solving.solve_zone(z, z.levels[z.usual_level]) for z in found}


def shared(before, after):
    """Zones whose way is the same object solved once."""
    return {id for id in before if id in after and before[id].solved is after[id].solved}


def test_a_roof_or_a_name_leaves_every_way_as_it_was():
    before = solved(demo.garden())
    assert shared(before, solved(with_part(demo.garden(), "roofs", 0, length_m=9.5))) == {*before}
    assert shared(before, solved(edits.replace(demo.garden(), name="Elsewhere"))) == {*before}


def test_a_hose_is_solved_anew_with_its_zone_alone():
    before = solved(demo.garden())
    own = {id for id, state in before.items() if any(p.id == "top-hose" for p in state.zone.pipes)}
    place = next(i for i, pipe in enumerate(demo.garden().pipes) if pipe.id == "top-hose")
    after = solved(with_part(demo.garden(), "pipes", place, fittings_loss=9.0))
    assert shared(before, after) == {*before} - own
    assert own
    assert all(after[id].flow < before[id].flow for id in own)


def test_a_raised_store_pushes_harder_in_all_that_it_feeds():
    garden = one_barrel()
    before = solved(garden)
    after = solved(with_part(garden, "stores", 0, stand_m=garden.stores[0].stand_m + 0.1))
    fed = {id for id, s in before.items() if s.zone.source.id == garden.stores[0].id}
    assert fed
    assert shared(before, after).isdisjoint(fed)
    assert all(after[id].flow > before[id].flow for id in fed)


def test_the_garden_of_a_way_is_that_which_was_asked_about():
    solved(demo.garden())
    other = edits.replace(demo.garden(), name="Elsewhere")
    assert {state.zone.garden.name for state in solved(other).values()} == {"Elsewhere"}


def test_what_is_kept_lets_go_of_the_gardens_it_was_made_from():
    record = normals.make_days(demo.normals(), 2)
    seen = []
    for turn in range(3 * GARDENS_KEPT):
        garden = document.loads(
            document.dumps(with_part(demo.garden(), "roofs", 0, length_m=8 + turn / 100))
        )
        judge(run_chain(garden, record))
        seen.append(weakref.ref(garden))
    del garden
    gc.collect()
    # Beside the last few, that of which the ways of all were laid out first.
    assert sum(each() is not None for each in seen) <= GARDENS_KEPT + 1


def test_a_search_for_cures_holds_no_garden_that_one_was_tried_on(monkeypatch):
    judged = judge(run_chain(one_barrel(), normals.make_days(demo.normals(), 2)))
    finding = next(f for f in judged.findings if next(trying.cures_of(judged, f), None))
    tried = []
    monkeypatch.setattr(trying, "judge", lambda chain: _noted(judge(chain), tried))
    search = trying.cures_of(judged, finding)
    assert next(search)
    gc.collect()
    assert tried
    assert [each() for each in tried] == [None] * len(tried)


def _noted(judgement, seen):
    seen.append(weakref.ref(judgement))
    return judgement
