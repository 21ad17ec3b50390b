"""How often and how badly each bed goes dry, told bed by bed."""

from functools import cache

import numpy as np
import pytest

from euhydra.planner.chain import run_chain
from euhydra.planner.season.odds import OddsAnswer, answer_odds
from euhydra.web.drawing.dry_years import HIGH, dry_strips
from sound_gardens import RECORD, barrel_two_beds


@cache
def answer() -> OddsAnswer:
    return answer_odds(run_chain(barrel_two_beds(), RECORD).season)


def test_strips_hold_the_days_that_the_root_zones_were_too_dry():
    season = answer().season
    years = season.record.year
    for strip in dry_strips(answer()):
        way = next(i for i, w in enumerate(season.ways) if w.need.part.name == strip.name)
        for bar in strip.bars:
            days = int(season.beds[way].is_stressed[years == bar.year].sum())
            assert bar.days == days
        assert strip.often == sum(bar.days > 0 for bar in strip.bars)
        assert strip.worst.days == max(bar.days for bar in strip.bars)


def test_the_driest_bed_stands_first_and_all_have_one_scale():
    strips = dry_strips(answer())
    sums = [sum(bar.days for bar in strip.bars) for strip in strips]
    assert sums == sorted(sums, reverse=True)
    bars = [bar for strip in strips for bar in strip.bars if bar.days]
    a_day = np.array([bar.height / bar.days for bar in bars])
    assert a_day == pytest.approx(HIGH / max(bar.days for bar in bars), abs=0.06)
