"""Works taken apart and run by themselves give what they give together."""

from collections.abc import Iterable

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.testing import assert_allclose

from euhydra.core.delivery import DrainCurve
from euhydra.core.separate_works import joined, separated
from euhydra.core.store import StoreRule
from euhydra.core.waterworks import (
    Line,
    Supply,
    Tank,
    TopUp,
    Transfer,
    Watering,
    Waterworks,
    WaterworksRun,
)
from euhydra.core.works_record import run_waterworks

DAYS, TANKS, BEDS = 25, 4, 5
CURVE = DrainCurve.of([10, 60, 120, 200], [12, 20, 26, 32])
ENOUGH, SCARCE = 1e4, 9.0


def works_by(seed: int) -> Waterworks:
    """Some works drawn by lot: few ties, so that they often come apart."""
    lot = np.random.default_rng(seed)

    def rain() -> np.ndarray:
        return lot.uniform(0, 90, DAYS) * (lot.random(DAYS) < 0.3)

    def source() -> Line | int:
        if lot.random() < 0.4:
            return int(lot.integers(2))
        hours = lot.uniform(0, 3, DAYS) * (lot.random(DAYS) < 0.5)
        return Line(int(lot.integers(TANKS)), CURVE, hours, bool(lot.random() < 0.5))

    tanks = tuple(
        Tank(
            200,
            10,
            float(lot.uniform(10, 200)),
            lot.choice(list(StoreRule)),
            rain(),
            int(lot.integers(i + 1, TANKS)) if i + 1 < TANKS and lot.random() < 0.3 else None,
            lot.uniform(0, 2, DAYS) if lot.random() < 0.3 else None,
        )
        for i in range(TANKS)
    )
    supplies = tuple(
        Supply(np.full(DAYS, SCARCE if lot.random() < 0.5 else ENOUGH)) for _ in range(2)
    )
    waterings = tuple(
        Watering(rain(), tuple(source() for _ in range(int(lot.integers(3))))) for _ in range(BEDS)
    )
    top_ups = (TopUp(1, 0, 40, 80),) if lot.random() < 0.5 else ()
    transfers = (Transfer(2, 3, 15, rain() > 0),) if lot.random() < 0.3 else ()
    return Waterworks(tanks, supplies, waterings, top_ups, transfers)


def flat(run: WaterworksRun) -> Iterable[np.ndarray]:
    for daily in (run.level, run.spill, run.arrived, *run.given, run.topped, run.moved, run.dried):
        yield from daily


@settings(max_examples=60)
@given(st.integers(0, 10**6))
def test_apart_and_together_is_the_same(seed):
    works = works_by(seed)
    whole = run_waterworks(works)
    again = joined(works, [(each, run_waterworks(each.works)) for each in separated(works)])
    for a, b in zip(flat(whole), flat(again), strict=True):
        assert_allclose(a, b, atol=1e-9)


def test_what_comes_apart_and_what_does_not():
    nothing = np.zeros(DAYS)
    tanks = tuple(Tank(200, 0, 0, StoreRule.YIELD_AFTER_SPILLAGE, nothing) for _ in range(2))
    beds = tuple(
        Watering(np.full(DAYS, 6.0), (Line(i, CURVE, np.ones(DAYS), True), 0)) for i in range(2)
    )

    def count(available: float) -> int:
        works = Waterworks(tanks, (Supply(np.full(DAYS, available)),), beds)
        return len(separated(works))

    assert count(12.0) == 2  # a tap with enough for both ties nothing
    assert count(11.9) == 1  # from a short one, who draws first matters to the other
    unwatered = Waterworks(
        tanks,
        (),
        (Watering(nothing, (Line(0, CURVE, nothing, True),)), Watering(np.ones(DAYS), ())),
    )
    assert [each.waterings for each in separated(unwatered)] == [(0,), (), (1,)]
