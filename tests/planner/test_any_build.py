"""However the demo is taken apart and changed, Build counts it twice alike and can be said."""

from collections import defaultdict

import pytest
from hypothesis import HealthCheck, given, settings

from euhydra.planner.answers import PlanError
from euhydra.planner.keeping import feed, winter
from euhydra.planner.parts import counting
from euhydra.planner.parts.answer import Price, make_list
from euhydra.planner.steps import first_run
from euhydra.planner.steps.answer import answer_steps
from euhydra.planner.water import laws, zones
from euhydra.planner.water.cut_lengths import cut_lengths
from redrawn import gardens
from told import faults_in

THOROUGH = settings(max_examples=25, suppress_health_check=list(HealthCheck))


@THOROUGH
@given(gardens())
def test_both_counts_agree_or_say_where_they_part(garden):
    links, drawn = counting.joint_counts(garden)
    assert (links == drawn) == (
        not [
            f
            for f in counting.faults(garden)
            if f.code in ("parts-drawn-apart", "parts-touch-unjoined")
        ]
    )


@THOROUGH
@given(gardens())
def test_what_is_bought_is_enough_and_costs_what_it_says(garden):
    found = make_list(garden, {})
    keys = [item.good.key for item in found.items]
    assert len(set(keys)) == len(keys)
    for item in found.items:
        assert 0 < item.counted <= item.wanted <= item.packs * item.pack.pack + 1e-9
        assert (item.packs - 1) * item.pack.pack < item.wanted
        assert item.pack.price >= 0
        assert item.where
    assert found.total == pytest.approx(sum(i.packs * i.pack.price for i in found.items))
    assert sum(len(items) for _, items in found.groups) == len(found.items)
    assert faults_in(found) == []


@THOROUGH
@given(gardens())
def test_pipe_is_bought_by_the_metre_that_lies(garden):
    """Against a sum of our own: no pipe is cut shorter than it is drawn, nor by more than its ups and downs."""
    lies: dict[str, float] = defaultdict(float)
    lengths = cut_lengths(garden)
    heights = [part.ground_m for part in (*garden.stores, *garden.taps, *garden.planted)]
    most = 6 * (max(heights) - min(heights) + 5) if heights else 0.0
    for pipe in garden.pipes:
        lies[counting.pipe_good(pipe).key] += lengths[pipe.id]
        assert pipe.lies_m - 1e-9 <= lengths[pipe.id] <= pipe.lies_m + most
        if laws.gives(pipe):
            assert lengths[pipe.id] == pipe.lies_m
    bought = {i.good.key: i.counted for i in make_list(garden, {}).items if i.good.key in lies}
    assert bought == pytest.approx(dict(lies))


@THOROUGH
@given(gardens())
def test_what_is_there_already_is_counted_and_not_paid(garden):
    whole = make_list(garden, {})
    there = [item.good.key for item in whole.items[::2]]
    rest = make_list(garden, {}, there)
    paid = sum(item.cost for item in whole.items if item.good.key not in there)
    assert rest.total == pytest.approx(paid)
    own = {item.good.key: Price(item.pack.pack, 2.0) for item in whole.items}
    assert make_list(garden, own).total == pytest.approx(2.0 * sum(i.packs for i in whole.items))


@THOROUGH
@given(gardens())
def test_steps_are_each_there_once_in_stages_and_can_be_said(garden):
    answer = answer_steps(garden, [])
    keys = [step.key for step in answer.steps]
    assert len(set(keys)) == len(keys)
    ids = {part.id for part in garden.parts}
    for step in answer.steps:
        assert step.sentences
        assert step.minutes > 0
        assert set(step.parts) <= ids
    assert faults_in(answer) == []
    done = answer_steps(garden, keys)
    assert done.next is None
    assert all(left.count == 0 for left in done.stages)


def counted(uses) -> dict[str, float]:
    """So much of each good, by its key."""
    found: dict[str, float] = defaultdict(float)
    for use in uses:
        found[use.good.key] += use.amount
    return dict(found)


@THOROUGH
@given(gardens())
def test_every_good_of_the_list_is_taken_in_one_step_about_its_part(garden):
    answer = answer_steps(garden, [])
    taken = counted(use for step in answer.steps for use in step.takes)
    assert taken == pytest.approx(counted(counting.uses_of(garden)))
    for step in answer.steps:
        assert all(use.where in step.parts for use in step.takes), step.key


@THOROUGH
@given(gardens())
def test_every_order_is_possible(garden):
    """What feeds something is there before it; no store is filled before it is linked."""
    steps = answer_steps(garden, []).steps
    built: dict[str, int] = {}
    for i, step in enumerate(steps):
        for use in step.takes:
            built.setdefault(use.where, i)
    joined = {part.id for zone in zones.zones_of(garden) for part in zone.way.parts}
    for part in garden.fed:
        before = getattr(part, "begins_at", None)
        if part.id in joined and before in built and part.id in built:
            assert built[before] <= built[part.id], (before, part.id)
    codes = [{said.code for said in step.sentences} for step in steps]
    for i, step in enumerate(steps):
        if step.key.startswith("link-"):
            own = [j for j, s in enumerate(steps) if s.key in {f"drill-{p}" for p in step.parts}]
            assert own
            assert all(j < i for j in own)
            assert all("steps-fill-hands-depth" not in codes[j] for j in own)


@settings(max_examples=25, suppress_health_check=list(HealthCheck))
@given(gardens())
def test_every_zone_has_its_first_run_or_says_why_not(garden):
    for zone in zones.zones_of(garden):
        try:
            answer = first_run.answer_first_run(zone, [])
        except PlanError:
            continue  # the page gives its words
        assert faults_in(answer) == []
        assert answer.points


@THOROUGH
@given(gardens())
def test_winter_and_feed_know_only_what_is_there(garden):
    assert faults_in(list(winter.winter_list(garden))) == []
    ids = {part.id for part in garden.parts}
    for vessel in feed.vessels(garden):
        assert vessel.part.id in ids
        assert vessel.volume > 0
