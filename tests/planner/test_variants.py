"""Other plans beside the present one: each changes what it says, holds together, can be replayed."""

import pytest

from euhydra.garden import catalogue, demo, document
from euhydra.garden.model import Garden
from euhydra.planner.season import variants
from gardens import beds_alike, one_barrel, tapped, with_part


def changed_parts(before: Garden, after: Garden) -> set[str]:
    """Ids of parts that differ, are new or are gone."""
    old, new = ({p.id: p for p in garden.parts} for garden in (before, after))
    return {key for key in old.keys() | new.keys() if old.get(key) != new.get(key)}


def by_key(garden: Garden) -> dict[str, variants.Variant]:
    found = variants.variants_of(garden)
    assert len({v.key for v in found}) == len(found)
    return {v.key: v for v in found}


@pytest.mark.parametrize("make", [demo.garden, one_barrel, tapped, lambda: beds_alike(3)])
def test_every_plan_is_another_and_reads_back(make):
    garden = make()
    for plan in variants.variants_of(garden):
        assert changed_parts(garden, plan.garden), plan.words
        assert document.from_document(plan.garden.model_dump(mode="json")) == plan.garden
        assert plan.words[0].islower() or plan.words[0] in "0123456789“"


def test_one_store_more_or_fewer_is_nothing_else():
    garden = with_part(one_barrel(), "stores", count=3)
    plans = by_key(garden)
    assert changed_parts(garden, plans["more-shed-barrel"].garden) == {"shed-barrel"}
    assert plans["more-shed-barrel"].garden.stores[0].count == 4
    assert plans["fewer-shed-barrel"].garden.stores[0].count == 2
    assert "fewer-shed-barrel" not in by_key(one_barrel())
    # The only barrel is not taken away: nothing would be left to replay.
    assert "without-shed-barrel" not in by_key(one_barrel())


def test_mulch_goes_on_where_there_is_none_and_off_where_there_is():
    garden = beds_alike(3)
    assert "no-mulch" not in by_key(garden)
    garden = with_part(garden, "beds", 1, mulch="thick")
    plans = by_key(garden)
    assert changed_parts(garden, plans["mulch"].garden) == {"middle-bed-0", "middle-bed-2"}
    assert changed_parts(garden, plans["no-mulch"].garden) == {"middle-bed-1"}


def test_every_other_kind_of_timer_is_a_plan():
    garden = one_barrel()
    own = garden.timers[0].kind
    kinds = {key.removeprefix("timer-") for key in by_key(garden) if key.startswith("timer-")}
    assert kinds == set(catalogue.timers()) - {own}


def test_what_hangs_on_a_tap_that_is_taken_away_stays_in_the_garden():
    garden = demo.garden()
    plans = by_key(garden)
    for part in (*garden.taps, *garden.greywaters, *garden.pumps):
        plan = plans[f"without-{part.id}"].garden
        assert part.id not in {p.id for p in plan.parts}
        assert {b.id for b in plan.beds} == {b.id for b in garden.beds}


def test_valves_of_one_body_get_a_timer_each_where_the_kind_has_one_outlet():
    garden = beds_alike(2)
    kind = next(k.id for k in catalogue.timers().values() if k.outlets >= 2)
    for position, body in ((0, None), (1, "shed-timer-0")):
        garden = with_part(garden, "timers", position, kind=kind, body=body)
    single = next(k for k in catalogue.timers().values() if k.outlets == 1)
    plan = by_key(garden)[f"timer-{single.id}"].garden
    assert {t.body for t in plan.timers} == {None}
