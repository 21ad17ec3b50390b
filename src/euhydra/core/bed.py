"""The root zone of a bed through its seasons, day by day (FAO-56 chapter 8).

Water that enters equals water that leaves plus what is stored, to rounding.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from euhydra.core import rootzone
from euhydra.core.growing_seasons import Season, are_short, days_by_step, seasons_of

Floats = NDArray[np.float64]
Flags = NDArray[np.bool_]
Integers = NDArray[np.intp]
Each = TypeVar("Each", bound=np.generic)


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


FEWEST, FEWEST_CUT = 24, 54
"""Seasons from which on they are quicker side by side than one after another: of whole days, and of days
that are cut into steps. Measured.
"""


def run_beds(beds: Sequence[BedInputs], given: Sequence[Floats]) -> list[BedRun]:
    """As `run_bed`, of several beds over one record.

    Each season begins anew, so that all of them can be lived through side by side.

    Parameters
    ----------
    given : Litres that reach each bed on each day. [L]
    """
    seasons = [seasons_of(bed.is_growing) for bed in beds]
    lived = [_blank(*each) for each in zip(beds, given, strict=True)]
    alone = set(range(len(beds)))
    for steps in {bed.steps for bed in beds}:
        alike = [i for i in alone if beds[i].steps == steps and are_short(seasons[i])]
        own = [seasons[i] for i in alike]
        if sum(map(len, own)) >= (FEWEST if steps == 1 else FEWEST_CUT):
            _side_by_side([beds[i] for i in alike], [lived[i] for i in alike], own)
            alone -= set(alike)
    for i in alone:
        _one_after_another(beds[i], lived[i], seasons[i])
    return [_run_of(*each) for each in zip(beds, lived, seasons, strict=True)]


def run_bed(bed: BedInputs, given: Floats) -> BedRun:
    """The root zone through the record, season by season.

    Each season begins with the soil at field capacity, since one plants into watered ground.

    Parameters
    ----------
    bed : The bed and what it asks.
    given : Litres that reach the bed on each day. [L]
    """
    return run_beds([bed], [given])[0]


@dataclass(frozen=True)
class _Lived:
    """What is written of a bed, day by day. [mm]"""

    watered: Floats
    kept: Floats
    transpired: Floats
    drained: Floats
    depletion: Floats


def _blank(bed: BedInputs, given: Floats) -> _Lived:
    watered = given / bed.area
    kept = watered * bed.kept
    # Out of season nothing is there to hold the water: all of it drains.
    drained = np.where(bed.is_growing, watered - kept, watered)
    return _Lived(watered, kept, np.zeros_like(given), drained, np.full_like(given, np.nan))


def _one_after_another(bed: BedInputs, lived: _Lived, seasons: Sequence[Season]) -> None:
    for first, end in seasons:
        depletion = 0.0
        series = (bed.rain, lived.kept, bed.crop_et, bed.total, bed.ready, bed.runs)
        days = zip(*(each[first:end].tolist() for each in series), strict=True)
        for day, inputs in enumerate(days, start=first):
            rain, kept, crop_et, total, ready, runs = inputs
            depletion, lived.transpired[day], drained = rootzone.advance_in_steps(
                depletion, rain, kept, crop_et, total, ready, runs, bed.steps
            )
            lived.drained[day] += drained
            lived.depletion[day] = depletion


def _side_by_side(
    beds: Sequence[BedInputs], lived: Sequence[_Lived], seasons: Sequence[Sequence[Season]]
) -> None:
    """Beds whose days have as many steps, with all their seasons."""
    longest = max(end - first for own in seasons for first, end in own)
    days = [days_by_step(own, longest) for own in seasons]

    def beside(series: Iterable[NDArray[Each]]) -> NDArray[Each]:
        return np.concatenate([s[d] for s, d in zip(series, days, strict=True)], axis=1)

    rain, crop_et = beside(bed.rain for bed in beds), beside(bed.crop_et for bed in beds)
    total, ready = beside(bed.total for bed in beds), beside(bed.ready for bed in beds)
    kept, runs = beside(each.kept for each in lived), beside(bed.runs for bed in beds)
    depletion = np.zeros(rain.shape[1])
    found = np.zeros((3, *rain.shape))
    for day in range(longest):
        found[:, day] = rootzone.advance_each_in_steps(
            depletion,
            rain[day],
            kept[day],
            crop_et[day],
            total[day],
            ready[day],
            runs[day],
            beds[0].steps,
        )
        depletion = found[0, day]
    lanes = [(each, *season) for each, own in zip(lived, seasons, strict=True) for season in own]
    for lane, (each, first, end) in enumerate(lanes):
        each.depletion[first:end] = found[0, : end - first, lane]
        each.transpired[first:end] = found[1, : end - first, lane]
        each.drained[first:end] += found[2, : end - first, lane]


def _run_of(bed: BedInputs, lived: _Lived, seasons: Sequence[Season]) -> BedRun:
    lasts = [end - 1 for _, end in seasons]
    reset = -float(lived.depletion[lasts].sum())
    stressed = bed.is_growing & rootzone.is_too_dry(lived.transpired, bed.crop_et)
    rain_in_season = np.where(bed.is_growing, bed.rain, 0.0)
    return BedRun(
        rain_in_season,
        lived.watered,
        lived.transpired,
        lived.drained,
        lived.depletion,
        stressed,
        reset,
    )
