"""The log read as one state: of a season as people keep one, of twenty thousand entries, and after one entry more."""

import itertools
from dataclasses import replace
from datetime import date, timedelta

import pytest

from conftest import milliseconds
from euhydra.planner.chain import run_chain
from euhydra.planner.learning import followed
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

    def anew():
        followed.forget()
        learn(season.chain, many, today)

    benchmark.pedantic(anew, rounds=3, warmup_rounds=1)
    median = milliseconds(benchmark.stats.stats.median)
    report(f"a log of {len(many):,} entries read anew: median {median} (budget 1 s)")


@pytest.mark.parametrize("kind", ["finger", "dip", "cups", "rain"])
def bench_log_read_after_an_entry(benchmark, report, kind):
    season = Season(run_chain(barrel_two_beds(), RECORD), (), 1)
    log = season.play()
    today = date(season.year, *ENDS)
    learn(season.chain, log, today)
    last = [entry for entry in log if entry.kind == kind][-1]
    nth = itertools.count(1)

    def after_one_more():
        # Each time another amount, so that no reading is of a log that was read before.
        amounts = tuple(a and a * (1 + next(nth) / 1000) for a in last.amounts)
        learn(
            season.chain,
            [e for e in log if e is not last] + [replace(last, amounts=amounts)],
            today,
        )

    benchmark.pedantic(after_one_more, rounds=5, warmup_rounds=1)
    median = milliseconds(benchmark.stats.stats.median)
    report(f"a log of {len(log)} entries after a {kind}: median {median} (budget 0.3 s)")
