import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from euhydra.core.bed import BedInputs, run_bed


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
