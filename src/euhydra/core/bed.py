"""The root zone of a bed through its seasons, day by day (FAO-56 chapter 8).

Water that enters equals water that leaves plus what is stored, to rounding.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from euhydra.core import rootzone

Floats = NDArray[np.float64]
Flags = NDArray[np.bool_]
Integers = NDArray[np.intp]


@dataclass(frozen=True)
class BedInputs:
    """The bed and what it asks. Daily arrays are one record long.

    area : [m²]
    rain : [mm]
    crop_et : ETc without stress; 0 out of season. [mm]
    total, ready : TAW and RAW. [mm]
    is_growing : Days between planting and the end of harvest.
    kept : Share of each day's water that the worst-fed quarter keeps; the rest drains or runs off. [-]
    runs : Into which each day's water is split, even over the day.
    steps : Into which a day is cut; more than 1 where the roots hold less than a day's water.
    """

    area: float
    rain: Floats
    crop_et: Floats
    total: Floats
    ready: Floats
    is_growing: Flags
    kept: Floats
    runs: Integers
    steps: int = 1


@dataclass(frozen=True)
class BedRun:
    """The bed day by day. Depths are over its area. [mm]

    rain, watered, transpired, drained : Of each day in season, else 0.
    depletion : Each evening; NaN out of season.
    is_stressed : Days in season on which it is too dry.
    reset : Depletion wiped out where a season begins or ends. [mm]
    """

    rain: Floats
    watered: Floats
    transpired: Floats
    drained: Floats
    depletion: Floats
    is_stressed: Flags
    reset: float

    @property
    def mass_balance_residual(self) -> float:
        """Depth that in, out and stored fail to agree by. [mm]"""
        incoming = float(self.rain.sum() + self.watered.sum())
        outgoing = float(self.transpired.sum() + self.drained.sum())
        return incoming - outgoing - self.reset


def run_bed(bed: BedInputs, given: Floats) -> BedRun:
    """The root zone through the record, season by season.

    Each season begins with the soil at field capacity, since one plants into watered ground.

    Parameters
    ----------
    bed : The bed and what it asks.
    given : Litres that reach the bed on each day. [L]
    """
    watered = given / bed.area
    kept = watered * bed.kept
    # Out of season nothing is there to hold the water: all of it drains.
    drained = np.where(bed.is_growing, watered - kept, watered)
    transpired = np.zeros_like(given)
    depletions = np.full_like(given, np.nan)
    depletion, yesterday, reset = 0.0, -2, 0.0
    season = np.flatnonzero(bed.is_growing)
    series = (bed.rain, kept, bed.crop_et, bed.total, bed.ready, bed.runs)
    inputs = (season, *(a[season] for a in series))
    for day, rain, net, crop_et, total, ready, runs in zip(
        *(a.tolist() for a in inputs), strict=True
    ):
        if day != yesterday + 1:
            reset -= depletion
            depletion = 0.0
        yesterday = day
        today = rootzone.advance_in_steps(
            depletion, rain, net, crop_et, total, ready, runs, bed.steps
        )
        depletion = today.depletion
        transpired[day] = today.transpired
        drained[day] += today.drained
        depletions[day] = depletion
    reset -= depletion
    stressed = bed.is_growing & rootzone.is_too_dry(transpired, bed.crop_et)
    rain_in_season = np.where(bed.is_growing, bed.rain, 0.0)
    return BedRun(rain_in_season, watered, transpired, drained, depletions, stressed, reset)
