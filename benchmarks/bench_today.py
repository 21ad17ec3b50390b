"""The morning: what the garden wants, from a log of a season and from one of twenty thousand entries."""

from dataclasses import replace
from datetime import date, timedelta

import numpy as np
import pytest

from conftest import milliseconds
from euhydra.planner.chain import run_chain
from euhydra.planner.today.answer import TodayAnswer, answer_today
from euhydra.planner.today.following import Follow, follow
from sound_gardens import RECORD, barrel_two_beds
from twins import Season

ENTRIES = 20_000


@pytest.mark.parametrize("count", [200, ENTRIES])
def bench_morning(benchmark, report, count):
    season = Season(run_chain(barrel_two_beds(), RECORD), (), 1)
    played = season.play()
    today = date(season.year, 8, 1)
    fingers = [entry for entry in played if entry.kind == "finger"]
    many = [
        replace(entry, at=entry.at + timedelta(seconds=again))
        for again in range(max(0, (count - len(played)) // len(fingers)))
        for entry in fingers
    ]
    log = sorted([*played, *many], key=lambda entry: entry.at)

    def look():
        assert isinstance(answer_today(season.chain, log, today), TodayAnswer)

    benchmark.pedantic(look, rounds=3, warmup_rounds=1)
    median = milliseconds(benchmark.stats.stats.median)
    report(f"the morning of a log of {len(log):,} entries: median {median} (budget 0.3 s)")


@pytest.mark.parametrize("by", list(Follow))
def bench_a_year_followed(benchmark, report, by):
    chain = run_chain(barrel_two_beds(), RECORD)
    years = len(np.unique(RECORD.year))
    benchmark.pedantic(lambda: follow(chain, by), rounds=3, warmup_rounds=1)
    a_year = milliseconds(benchmark.stats.stats.median / years)
    report(f"a year followed by {by.value}: {a_year} (no budget)")
