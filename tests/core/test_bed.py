"""Root zones through seasons: their balance, and side by side as each day by itself."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from euhydra.core import rootzone
from euhydra.core.bed import BedInputs, run_bed, run_beds
from sweeps import swept


def inputs(rain: np.ndarray) -> BedInputs:
    days = len(rain)
    growing = (np.arange(days) // 20) % 2 == 0
    crop_et = np.where(growing, 4.5, 0.0)
    return BedInputs(
        3.0,
        rain,
        crop_et,
        np.full(days, 60.0),
        np.full(days, 24.0),
        growing,
        np.full(days, 0.9),
        np.ones(days, dtype=np.intp),
    )


@settings(max_examples=60)
@given(st.lists(st.tuples(st.floats(0, 40), st.floats(0, 30)), min_size=1, max_size=90))
def test_mass_balance_closes(record):
    rain, given_l = (np.array(c) for c in zip(*record, strict=True))
    assert abs(run_bed(inputs(rain), given_l).mass_balance_residual) < 1e-8


def test_without_water_the_crop_is_stressed():
    run = run_bed(inputs(np.zeros(20)), np.zeros(20))
    # 24 mm readily available, 4.5 mm a day: stress begins on the seventh day.
    assert run.is_stressed.tolist() == [False] * 6 + [True] * 14


def day_by_day(bed: BedInputs, given_l: np.ndarray) -> np.ndarray:
    """Depletion of each evening in season, by the rules of one day. [mm]"""
    found, gone = np.full(len(given_l), np.nan), 0.0
    for day in np.flatnonzero(bed.is_growing):
        before = gone if day > 0 and bed.is_growing[day - 1] else 0.0
        today = rootzone.advance_in_steps(
            before,
            float(bed.rain[day]),
            float(given_l[day] / bed.area * bed.kept[day]),
            float(bed.crop_et[day]),
            float(bed.total[day]),
            float(bed.ready[day]),
            int(bed.runs[day]),
            bed.steps,
        )
        found[day] = gone = today.depletion
    return found


def by_lot(rng: np.random.Generator, season: tuple[int, int], steps: int) -> BedInputs:
    """Six years of a bed that grows from one day of the year to another."""
    days = np.arange(6 * 365)
    growing = (days % 365 >= season[0]) & (days % 365 < season[1])
    total = np.where(growing, rng.uniform(8, 40), 0.0)
    return BedInputs(
        2.0,
        rng.exponential(6, len(days)) * (rng.random(len(days)) < 0.2),
        np.where(growing, rng.uniform(2, 8, len(days)), 0.0),
        total,
        0.4 * total,
        growing,
        np.full(len(days), 0.9),
        rng.integers(1, steps + 1, len(days)),
        steps,
    )


@pytest.mark.parametrize("seed", swept(range(4), [0, 1]))
def test_seasons_side_by_side_are_those_of_each_bed_by_itself(seed):
    rng = np.random.default_rng(seed)
    beds = [
        by_lot(rng, season, steps)
        for season, steps in [((90, 270), 1), ((10, 360), 1), ((0, 365), 1), ((100, 200), 6)] * 9
    ]
    given_l = [rng.uniform(0, 20, 6 * 365) * (rng.random(6 * 365) < 0.4) for _ in beds]
    for bed, litres, run in zip(beds, given_l, run_beds(beds, given_l), strict=True):
        np.testing.assert_array_equal(run.depletion, day_by_day(bed, litres))
        assert abs(run.mass_balance_residual) < 1e-7
        np.testing.assert_array_equal(run.drained, run_bed(bed, litres).drained)
