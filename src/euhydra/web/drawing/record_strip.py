"""Plan and record on one strip: the root zone with what a finger said, a store with its dips."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from euhydra.core.constants import LITRES_PER_CUBIC_METRE
from euhydra.garden.logbook import entry_kinds
from euhydra.garden.stores import Store
from euhydra.planner.dates import day_in_words
from euhydra.planner.keeping.hindcast import Hindcast

WIDTH, LANE, GAP, LEFT = 840.0, 60.0, 30.0, 8.0

MOST_GONE = 1.6
"""Depletion over readily available water at the foot of a lane. [-]"""

DAYS_SHOWN = 120
"""Most days on the strip, the newest. [d]"""

DAYS_AFTER = 8
"""Days shown from the last entry on. [d]"""

Floats = NDArray[np.float64]

XOf = Callable[[int], float]
"""Place of a day on the strip."""


@dataclass(frozen=True)
class SignDrawn:
    """What somebody saw or measured. `shape` is `dry`, `right`, `muddy` or `dip`."""

    x: float
    y: float
    shape: str
    said: str


@dataclass(frozen=True)
class LaneDrawn:
    """A bed or a store along the days.

    line : Of the plan, as a polyline's points.
    mark_y, mark_said : The refill point, or the overflow.
    """

    name: str
    top: float
    line: str
    mark_y: float
    mark_said: str
    signs: tuple[SignDrawn, ...]


@dataclass(frozen=True)
class StripDrawn:
    """The whole strip: months, rain from above, lanes below."""

    width: float
    height: float
    months: tuple[tuple[str, float], ...]
    rain: tuple[tuple[float, float], ...]
    lanes: tuple[LaneDrawn, ...]


def draw(told: Hindcast, water: Sequence[Floats]) -> StripDrawn:
    """The newest days that anything was written down on, and a week more.

    Parameters
    ----------
    water : Of each store on each evening, by its dips. [L]
    """
    newest = max((told.day(e.at) for e in told.log), default=len(told.record.days) - 1)
    end = min(len(told.record.days), newest + DAYS_AFTER)
    first = max(0, end - DAYS_SHOWN)
    count = end - first
    step = (WIDTH - 2 * LEFT) / max(count, 1)

    def x_of(day: int) -> float:
        return round(LEFT + (day - first + 0.5) * step, 1)

    lanes: list[LaneDrawn] = []
    for track in told.tracks:
        part = track.way.need.part
        if not track.way.need.is_growing[first:end].any():
            continue
        top = _top(len(lanes))
        signs = [
            SignDrawn(
                x_of(told.day(e.at)),
                top + LANE - 12,
                e.word,
                f"{day_in_words(e.at.date())}: {(entry_kinds()['finger'].words or {})[e.word]}",
            )
            for e in told.log
            if e.kind == "finger" and e.part_id == part.id and told.day(e.at) >= first
        ]
        lanes.append(
            LaneDrawn(
                part.name,
                top,
                _line(track.filled[first:end] / MOST_GONE, top, first, x_of),
                top + LANE / MOST_GONE,
                "refill point",
                tuple(signs),
            )
        )
    for tank, group in enumerate(told.season.groups):
        top = _top(len(lanes))
        capacity = told.season.works.tanks[tank].capacity
        level = water[tank][first:end]
        lanes.append(
            LaneDrawn(
                group.name,
                top,
                _line(1 - level / capacity, top, first, x_of),
                top,
                "full",
                tuple(_dips(told, group.stores, capacity, tank, top, first, x_of)),
            )
        )
    return StripDrawn(
        WIDTH,
        _top(len(lanes)),
        _months(told, first, end, x_of),
        _rain(told, first, end, x_of),
        tuple(lanes),
    )


def _top(lane: int) -> float:
    return 60.0 + lane * (LANE + GAP) + 22


def _line(down: Floats, top: float, first: int, x_of: XOf) -> str:
    points = []
    for i, share in enumerate(down.tolist()):
        if not np.isnan(share):
            points.append(f"{x_of(first + i)},{top + LANE * min(max(share, 0.0), 1.0):.1f}")
    return " ".join(points)


def _dips(
    told: Hindcast,
    stores: Sequence[Store],
    capacity: float,
    tank: int,
    top: float,
    first: int,
    x_of: XOf,
) -> list[SignDrawn]:
    by_id = {store.id: store for store in stores}
    found = []
    for entry in told.log:
        store = by_id.get(entry.part_id or "")
        if entry.kind != "dip" or store is None or told.day(entry.at) < first:
            continue
        level = told.season.groups[tank].level
        litres = level.volume_at(store.base_m + (entry.amounts[0] or 0.0)) * LITRES_PER_CUBIC_METRE
        full = min(litres / capacity, 1.0)
        y = top + LANE * (1 - full)
        said = f"{day_in_words(entry.at.date())}: dipped, {full:.0%} full".replace("%", " %")
        found.append(SignDrawn(x_of(told.day(entry.at)), round(y, 1), "dip", said))
    return found


def _months(told: Hindcast, first: int, end: int, x_of: XOf) -> tuple[tuple[str, float], ...]:
    days = told.record.days.tolist()
    return tuple(
        (f"{day:%B}", x_of(i)) for i, day in enumerate(days) if first <= i < end and day.day == 1
    )


def _rain(told: Hindcast, first: int, end: int, x_of: XOf) -> tuple[tuple[float, float], ...]:
    most = max(float(told.record.precip[first:end].max()), 10.0)
    return tuple(
        (x_of(i), round(34 * float(mm) / most, 1))
        for i, mm in enumerate(told.record.precip.tolist())
        if first <= i < end and mm > 0
    )
