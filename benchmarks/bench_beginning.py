"""Answers of a garden in the making, after each thing that is typed: the first figures, then all of them."""

import itertools

import pytest

from conftest import milliseconds
from euhydra.garden import normals, reference_climates
from euhydra.garden.model import Garden, Place
from euhydra.planner.beginning import ways
from euhydra.planner.beginning.asks import way_kinds
from euhydra.planner.beginning.glance import glance_at, soon_at
from euhydra.planner.chain import begin_chain
from euhydra.planner.judgement.answer import judge

TOWN = reference_climates.place_named("Brussels")
RECORD = normals.make_days(TOWN.at_height(TOWN.elevation_m))
WAYS = [way for way in way_kinds().values() if way.asks]


def gardens_of(way):
    """One after another, its first measure each time a little more."""
    place = Place(latitude_deg=TOWN.latitude, elevation_m=TOWN.elevation_m)
    name = next(ask for ask in way.asks if not ask.is_choice and ask.kind != "count")
    usual = name.usual_in("metric")
    for n in itertools.count(1):
        typed = {name.id: usual * (1 + n / 100)}
        yield ways.begin(Garden(name="Begun", place=place), way, typed, RECORD)


@pytest.mark.parametrize("stage", ["the first figures", "all of them"])
@pytest.mark.parametrize("way", WAYS, ids=lambda way: way.id)
def bench_answers_as_one_types(benchmark, report, way, stage):
    gardens = gardens_of(way)

    def look():
        chain = begin_chain(next(gardens), RECORD)
        if stage == "the first figures":
            assert soon_at(chain).figures
        else:
            assert glance_at(judge(chain.finished())).figures

    benchmark.pedantic(look, rounds=5, warmup_rounds=1)
    median = milliseconds(benchmark.stats.stats.median)
    worst = milliseconds(max(benchmark.stats.stats.sorted_data))
    report(f"{way.id}, {stage}: median {median}, worst {worst} (budget 0.5 s, 1 s)")
