"""The log read as one state: of a season as people keep one, and of twenty thousand entries."""

from dataclasses import replace
from datetime import date, timedelta

import pytest

from conftest import milliseconds
from euhydra.planner.chain import run_chain
from euhydra.planner.learning.answer import learn
from sound_gardens import RECORD, barrel_two_beds
from twins import ENDS, Season

ENTRIES = 20_000


@pytest.mark.parametrize("count", [200, ENTRIES])
def bench_log_read(benchmark, report, count):
    season = Season(run_chain(barrel_two_beds(), RECORD), (), 1)
    log = season.play()
    times = max(1, count // len(log))
    many = [
        replace(entry, at=entry.at + timedelta(seconds=again))
        for entry in log
        for again in range(times if entry.kind not in ("rain", "meter", "setting") else 1)
    ]
    while len(many) < count:
        many += [entry for entry in log if entry.kind == "finger"]
    many = sorted(many[: max(count, len(log))], key=lambda entry: entry.at)
    today = date(season.year, *ENDS)
    benchmark.pedantic(lambda: learn(season.chain, many, today), rounds=3, warmup_rounds=1)
    median = milliseconds(benchmark.stats.stats.median)
    report(f"a log of {len(many):,} entries read anew: median {median} (budget 1 s)")
