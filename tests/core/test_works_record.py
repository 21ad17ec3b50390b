"""A record run with its years side by side: against the same works lived through day by day."""

from dataclasses import replace

import numpy as np
import pytest
from pytest import approx

from euhydra.core.delivery import DrainCurve
from euhydra.core.store import StoreRule
from euhydra.core.waterworks import Line, Supply, Tank, TopUp, Transfer, Watering, Waterworks
from euhydra.core.works_days import WorksDays
from euhydra.core.works_record import run_waterworks
from sweeps import swept

CURVE = DrainCurve.of([10, 60, 120, 200], [12, 20, 26, 32])


def made_up(seed: int, years: int = 9) -> Waterworks:
    """Two stores with an overflow, a timer, a hand, a tap, a top-up and a move, by lot."""
    rng = np.random.default_rng(seed)
    days = np.arange(years * 365 + rng.integers(0, 300))
    wet = 0.5 + 0.5 * np.cos(2 * np.pi * (days / 365 - rng.random()))
    rain = (rng.random(len(days)) < 0.3 * wet) * rng.exponential(60, len(days))
    thirst = np.where(wet < 0.5, 25 * rng.random(len(days)), 0) * (days % 3 == 0)
    rule = list(StoreRule)[seed % 3]
    size = rng.choice([0.3, 1.0, 8.0, 60.0])
    volumes = [size * v for v in CURVE.volume]
    wide = DrainCurve.of(volumes, list(CURVE.flow))
    timed = Line(0, wide, np.where(thirst > 0, 0.7, 0.0), is_timed=True)
    by_hand = Line(1, CURVE, np.full(len(days), 2.0), is_timed=False)
    return Waterworks(
        (
            Tank(200 * size, 10 * size, 150 * size, rule, rain, 1, dries=0.1 * (1 - wet)),
            Tank(200, 0, 30, rule, 0.2 * rain),
        ),
        (Supply(np.full(len(days), 8.0)),),
        (Watering(thirst, (timed, 0)), Watering(thirst, (by_hand, timed))),
        (TopUp(1, 0, 20, 40, days % 2 == 0),),
        (Transfer(0, 1, 15, rain > 40),),
    )


def day_by_day(works: Waterworks):
    days = WorksDays(works)
    for day in range(works.length):
        days.live_through(day)
    return days.so_far()


@pytest.mark.parametrize("seed", swept(range(12), [0, 1]))
def test_years_side_by_side_are_those_that_follow_each_other(seed):
    works = made_up(seed)
    found, plain = run_waterworks(works), day_by_day(works)
    for name in ("level", "spill", "arrived", "topped", "moved", "dried"):
        for one, other in zip(getattr(found, name), getattr(plain, name), strict=True):
            assert one == approx(other, abs=1e-6), name
    for bed in range(2):
        assert found.supplied(bed) == approx(plain.supplied(bed), abs=1e-6)
    assert all(abs(found.residual(tank)) < 1e-6 for tank in range(2))


@pytest.mark.parametrize("seed", swept(range(4), [0, 1]))
def test_widths_side_by_side_are_each_by_itself_through_years(seed):
    works, widths = made_up(seed), np.array([0.3, 1.0, 4.0])
    found = run_waterworks(works, widths, 1)
    lower = works.tanks[1]
    for column, width in enumerate(widths):
        curve = DrainCurve.of([v * width for v in CURVE.volume], list(CURVE.flow))
        tank = replace(lower, capacity=200 * width, start=30 * width)
        second = works.waterings[1]
        by_hand = replace(second.sources[0], curve=curve)
        plain = day_by_day(
            replace(
                works,
                tanks=(works.tanks[0], tank),
                waterings=(
                    works.waterings[0],
                    replace(second, sources=(by_hand, second.sources[1])),
                ),
                top_ups=(TopUp(1, 0, 20 * width, 40 * width, works.top_ups[0].is_due),),
            )
        )
        assert found.level[1][:, column] == approx(plain.level[1], abs=1e-5)
        assert found.level[0][:, column] == approx(plain.level[0], abs=1e-5)


def test_what_a_store_never_filled_nor_emptied_hands_on_is_not_lost():
    # By hand: 100 000 L, 20 000 at first, 3 L in on each day and nothing out.
    days = np.arange(3000)
    tank = Tank(100_000, 0, 20_000, StoreRule.YIELD_AFTER_SPILLAGE, np.full(3000, 3.0))
    run = run_waterworks(Waterworks((tank,), (), ()))
    assert run.level[0] == approx(20_000 + 3.0 * (days + 1))
    assert not run.spill[0].any()
