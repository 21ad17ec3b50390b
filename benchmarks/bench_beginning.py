"""Answers of a garden in the making, after each thing that is typed."""

import itertools

import pytest

from conftest import milliseconds
from euhydra.planner.beginning.asks import way_kinds
from euhydra.web.app import create_app
from served import client_of


@pytest.fixture(scope="module")
def client(tmp_path_factory):
    with client_of(create_app(tmp_path_factory.mktemp("data"))) as client:
        yield client


@pytest.mark.parametrize("way", [w for w in way_kinds().values() if w.asks], ids=lambda w: w.id)
def bench_answers_as_one_types(benchmark, report, client, way):
    usual = {ask.id: ask.show(ask.usual_in("metric"), "metric") for ask in way.asks}
    name = next(ask.id for ask in way.asks if not ask.is_choice and ask.kind != "count")
    value, unit = usual[name].split(" ")
    more = (f"{float(value) * (1 + n / 100):.3f} {unit}" for n in itertools.count(1))

    def look():
        query = {"town": "Brussels", name: next(more)}
        answer = client.get(f"/begin/{way.id}/glance", params=query)
        assert "<dl" in answer.text

    benchmark.pedantic(look, rounds=5, warmup_rounds=1)
    median = milliseconds(benchmark.stats.stats.median)
    worst = milliseconds(max(benchmark.stats.stats.sorted_data))
    report(f"{way.id}, answers as one types: median {median}, worst {worst} (budget 0.5 s, 1 s)")
