"""Daily loops of root zones that are kept: an edit runs anew only the beds that it changes."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from euhydra.core import bed, rootzone
from euhydra.core.bed import BedInputs, BedRun
from euhydra.planner.need.daily import Need

Floats = NDArray[np.float64]
Flags = NDArray[np.bool_]

RUNS_KEPT = 48
"""Runs that are kept: several of each of a dozen beds."""


@dataclass(frozen=True, eq=False)
class _Days:
    """What a loop runs on, as a key: the need itself, and whatever else is given day by day by its bytes."""

    need: Need
    inputs: BedInputs | None
    daily: tuple[NDArray[np.generic], ...]

    def __eq__(self, other: object) -> bool:
        return (
            isinstance(other, _Days)
            and other.need is self.need
            and all(map(np.array_equal, other.daily, self.daily))
        )

    def __hash__(self) -> int:
        return hash((id(self.need), *(days.tobytes() for days in self.daily)))


def refill_on(need: Need, waters: Flags) -> Floats:
    """As `rootzone.refill_on` of a bed, on days on which there is water. [mm]"""
    return _refilled(_Days(need, None, (waters,)))


def run_bed(need: Need, inputs: BedInputs, given: Floats) -> BedRun:
    """As `bed.run_bed` of a bed that is given so much on each day. [L]"""
    return _bed_run(_Days(need, inputs, (inputs.kept, inputs.runs, given)))


@lru_cache(maxsize=RUNS_KEPT)
def _refilled(days: _Days) -> Floats:
    need, (waters,) = days.need, days.daily
    found = rootzone.refill_on(
        need.rain, need.crop_et, need.total, need.is_growing, waters.astype(np.bool_)
    )
    found.flags.writeable = False  # it is handed out again
    return found


@lru_cache(maxsize=RUNS_KEPT)
def _bed_run(days: _Days) -> BedRun:
    assert days.inputs is not None
    found = bed.run_bed(days.inputs, days.daily[-1].astype(np.float64))
    for each in vars(found).values():
        if isinstance(each, np.ndarray):
            each.flags.writeable = False
    return found
