"""The network solver, beside the public-domain engine on the same network in the same run."""

import tracemalloc

import pytest

import engine
from conftest import milliseconds
from euhydra.core.hydraulics import solve
from euhydra.formats import inp
from networks import GRAVITY_DRIPPER, comb


def bench_300_outlets_cold(benchmark, report):
    network = comb(6, 50, 1.6, GRAVITY_DRIPPER)
    found = benchmark(solve, network)
    assert found.converged
    report(f"300 outlets, cold: median {milliseconds(benchmark.stats.stats.median)} (budget 20 ms)")


@pytest.mark.parametrize("rows", [1, 5, 20, 50, 100])
def bench_growth(benchmark, report, rows):
    network = comb(rows, 100, 12.0)
    found = benchmark.pedantic(solve, (network,), rounds=3, warmup_rounds=1)
    state = f"{found.iterations} steps" if found.converged else "NOT converged"
    tracemalloc.start()
    solve(network)
    peak = tracemalloc.get_traced_memory()[1] / 2**20
    tracemalloc.stop()
    median = milliseconds(benchmark.stats.stats.median)
    report(f"{rows * 100} outlets: median {median}, {state}, {peak:.1f} MB at the peak")


MEDIANS: dict[str, float] = {}


def bench_2000_outlets_ours(benchmark):
    network = comb(20, 100, 12.0)
    assert benchmark(solve, network).converged
    MEDIANS["ours"] = benchmark.stats.stats.median


def bench_2000_outlets_engine(benchmark, report, tmp_path):
    network = comb(20, 100, 12.0)
    with engine.opened(inp.dumps(network, "bench"), tmp_path) as opened:
        benchmark(opened.ENsolveH)
    theirs = benchmark.stats.stats.median
    ours = MEDIANS["ours"]
    report(
        f"2,000 outlets: ours {milliseconds(ours)}, public-domain engine {milliseconds(theirs)} "
        f"(accuracy 1e-6), ratio ours/engine {ours / theirs:.2f} (budget 0.7)"
    )
