"""Seasons, size curves, washdays and the whole chain."""

import itertools
import tracemalloc
from dataclasses import replace

import numpy as np
import pytest

from conftest import milliseconds
from euhydra.core import bed, planter_day, planters, works_record
from euhydra.core.planter_day import Behind
from euhydra.garden import demo, edits, normals
from euhydra.planner.catch import greywater
from euhydra.planner.chain import run_chain
from euhydra.planner.judgement import trying
from euhydra.planner.judgement.answer import judge
from euhydra.planner.season import replay
from euhydra.planner.store import sizing
from gardens import one_barrel, ten_beds, three_troughs

DAYS = 10957
"""Of thirty years."""


@pytest.fixture(scope="module")
def ten():
    """Ten beds on one store through thirty years."""
    return run_chain(ten_beds(), normals.make_days(demo.normals(), 30)).store.season


def bench_thirty_years_one_bed(benchmark, report):
    season = run_chain(one_barrel(), normals.make_days(demo.normals(), 30)).store.season
    run = benchmark(works_record.run_waterworks, season.works)
    assert len(run.level[0]) == DAYS
    report(f"30 years, one bed, its store: median {milliseconds(benchmark.stats.stats.median)}")


def bench_thirty_years_ten_beds(benchmark, report, ten):
    """One size: the store and the root zones of ten beds."""

    def season():
        run = works_record.run_waterworks(ten.works)
        return bed.run_beds(ten.bed_inputs, [run.supplied(i) for i in range(10)])

    assert len(benchmark(season)) == 10
    median = milliseconds(benchmark.stats.stats.median)
    report(f"30 years, ten beds, one store, one size: median {median} (budget 150 ms)")


def bench_sixty_sizes_ten_beds(benchmark, report, ten):
    hardest = sizing.hardest_month(ten.ways)
    words = (ten.groups[0], 0, ten, hardest)
    curve = benchmark.pedantic(sizing.size_curve, words, rounds=5)
    assert len(curve.met) == 60
    tracemalloc.start()
    sizing.size_curve(*words)
    peak = tracemalloc.get_traced_memory()[1] / 2**20
    tracemalloc.stop()
    median = milliseconds(benchmark.stats.stats.median)
    report(
        f"size curve, 60 sizes, 30 years, ten beds: median {median}, {peak:.0f} MB at the peak (budget 500 ms)"
    )


def bench_washday(benchmark, report):
    """A week, minute by minute; the result is not kept from one round to the next."""
    garden = demo.garden()
    # A copy each time, as after an edit: weeks of the same garden are kept.
    benchmark.pedantic(
        greywater.answer_washing,
        setup=lambda: ((garden.model_copy(), garden.greywaters[0]), {}),
        rounds=20,
    )
    median = milliseconds(benchmark.stats.stats.median)
    report(f"seven washdays, minute by minute: median {median} (budget 50 ms for one)")


def bench_a_hot_day_of_24_planters(benchmark, report):
    """Hour by hour, with the water under each as its buffer."""
    tube = planters.joining(0.3, 0.008)
    chain = Behind(120 / 3.6e6, 0.02, 0.06, 0.06, np.full(24, 0.05), tube, 0.02)
    shares = planter_day.sun_shares(0.12)
    benchmark(planter_day.run_day, chain, np.full(24, 3.5e-3), shares)
    median = milliseconds(benchmark.stats.stats.median)
    report(f"a hot day of 24 planters, hour by hour: median {median} (budget 20 ms)")


def bench_thirty_years_of_three_troughs(benchmark, report):
    """One barrel, a float in each trough, after an edit."""
    garden, record = three_troughs(), normals.make_days(demo.normals(), 30)
    season = run_chain(garden, record).season
    benchmark.pedantic(replay.replay, setup=lambda: ((garden, record, season.ways), {}), rounds=10)
    median = milliseconds(benchmark.stats.stats.median)
    report(f"30 years of three troughs: median {median} (budget 0.3 s)")


def edited(garden):
    """The garden again and again, its first hose a little longer each time: what is solved is kept."""
    hose = garden.pipes[0]
    for more in itertools.count(1):
        longer = hose.model_copy(update={"length_m": hose.drawn_m + 0.01 * more})
        yield edits.put(garden, "pipes", longer)


def bench_whole_chain_ten_years(benchmark, report):
    gardens, record = edited(demo.garden()), normals.make_days(demo.normals(), 10)
    benchmark.pedantic(run_chain, setup=lambda: ((next(gardens), record), {}), rounds=10)
    median = milliseconds(benchmark.stats.stats.median)
    report(f"whole chain of the demo after an edit, 10 years: median {median} (budget 1 s)")


def bench_findings_ten_years(benchmark, report):
    gardens, record = edited(demo.garden()), normals.make_days(demo.normals(), 10)
    run_chain(demo.garden(), record)

    def judged():
        return judge(run_chain(next(gardens), record)).stations

    assert benchmark(judged)["store"].findings
    median = milliseconds(benchmark.stats.stats.median)
    report(f"all findings of the demo after an edit: median {median} (budget 0.6 s)")


def bench_verdict_ten_years(benchmark, report):
    """What a page shows at once, where the chain is there."""
    chain = run_chain(demo.garden(), normals.make_days(demo.normals(), 10))
    assert benchmark(lambda: judge(replace(chain)).stations)["lay"].findings
    median = milliseconds(benchmark.stats.stats.median)
    report(f"the verdicts of its stations, the chain being there: median {median} (budget 0.3 s)")


def bench_cures_ten_years(benchmark, report):
    judged = judge(run_chain(demo.garden(), normals.make_days(demo.normals(), 10)))
    short = next(found for found in judged.findings if found.code == "store-too-small")
    assert benchmark.pedantic(lambda: next(trying.cures_of(judged, short)), rounds=3)
    median = milliseconds(benchmark.stats.stats.median)
    report(f"first cure of its first finding, tried on the whole garden: median {median}")
