"""Daily loops that are kept: an edit runs anew only the stores and the root zones that it changes."""

from collections.abc import Hashable, Sequence
from dataclasses import fields, is_dataclass
from threading import Lock
from typing import Any

import numpy as np
from cachetools import LRUCache
from numpy.typing import NDArray

from euhydra.core import bed, rootzone, separate_works, works_record
from euhydra.core.bed import BedInputs, BedRun
from euhydra.core.store import StoreRun
from euhydra.core.waterworks import Waterworks, WaterworksRun
from euhydra.planner.need.daily import Need
from euhydra.planner.same import Asked, kept

Floats = NDArray[np.float64]

RUNS_KEPT = 24
"""Runs that are kept: several of each of a dozen beds."""


WORKS_KEPT = 12
"""Runs of stores that are kept: several of each of a few that do not touch."""


def _content_of(value: Any) -> Hashable:
    if isinstance(value, np.ndarray):
        return value.dtype.str, value.tobytes()
    if isinstance(value, tuple):
        return tuple(map(_content_of, value))
    if is_dataclass(value):
        return tuple(_content_of(getattr(value, each.name)) for each in fields(value))
    plain: Hashable = value
    return plain


def run_works(works: Waterworks) -> WaterworksRun:
    """As `works_record.run_waterworks`, with those kept that do not touch what has changed.

    Raises
    ------
    SpillLoopError : if stores spill in a ring.
    """
    apart = separate_works.separated(works)
    found = [(own, _works_run(Asked(own.works, (), (_content_of(own.works),)))) for own in apart]
    return separate_works.joined(works, found)


def run_of_widths(works: Waterworks, tank: int, widths: Floats) -> StoreRun:
    """One tank made so many times as wide at the same heights; arrays are [day, width]."""
    own = next(each for each in separate_works.separated(works) if tank in each.tanks)
    place = own.tanks.index(tank)
    return works_record.run_waterworks(own.works, widths, place).tank_run(place)


@kept(WORKS_KEPT)
def _works_run(asked: Asked[Waterworks]) -> WaterworksRun:
    found = works_record.run_waterworks(asked.what)
    for daily in (found.level, found.spill, found.arrived, found.topped, found.moved, found.dried):
        for each in daily:
            each.flags.writeable = False  # it is handed out again
    for flows in found.given:
        for each in flows:
            each.flags.writeable = False
    return found


_BED_RUNS: LRUCache[Asked[None], BedRun] = LRUCache(RUNS_KEPT)
_KEEPING = Lock()


def refill_on(need: Need, most: Floats) -> Floats:
    """As `rootzone.refill_on` of a bed, of so much at most on each day. [mm]"""
    return _refilled(Asked((need, most), (need,), (most.tobytes(),)))


def run_beds(
    needs: Sequence[Need], inputs: Sequence[BedInputs], given: Sequence[Floats]
) -> tuple[BedRun, ...]:
    """As `bed.run_beds` of beds that are given so much on each day. [L]"""
    days = [
        Asked(None, (need,), tuple(each.tobytes() for each in (own.kept, own.runs, litres)))
        for need, own, litres in zip(needs, inputs, given, strict=True)
    ]
    with _KEEPING:
        there = {each: _BED_RUNS[each] for each in days if each in _BED_RUNS}
    new = [i for i, each in enumerate(days) if each not in there]
    found = bed.run_beds([inputs[i] for i in new], [given[i] for i in new])
    for i, run in zip(new, found, strict=True):
        for daily in vars(run).values():
            if isinstance(daily, np.ndarray):
                daily.flags.writeable = False  # it is handed out again
        there[days[i]] = run
    with _KEEPING:
        _BED_RUNS.update(there)
    return tuple(there[each] for each in days)


@kept(RUNS_KEPT)
def _refilled(asked: Asked[tuple[Need, Floats]]) -> Floats:
    need, most = asked.what
    found = rootzone.refill_on(need.rain, need.crop_et, need.total, need.is_growing, most)
    found.flags.writeable = False  # it is handed out again
    return found
