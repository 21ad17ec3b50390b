"""A morning at one zone: what may be done with its timer, and which of it costs least in dry days, then in litres."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from euhydra.core import programme
from euhydra.core.schedule import MINUTES_PER_HOUR
from euhydra.core.tried_days import TriedGround
from euhydra.planner.time.design import BedShare, Design
from euhydra.planner.today.ahead import DAYS, Ahead

Floats = NDArray[np.float64]

ALIKE_DAYS = 0.1
"""Dry days of the week that are worth no water. [d] Our choice."""

OFF_BY_HAND = (1, 2, 3)
"""Days for which a timer without a rain delay is turned off. [d] Common practice: after rain, by depth."""

SHARES = (0.5, 1.0)
"""Of what the roots lack, tried by hand. [-] Our choice."""


class Do(StrEnum):
    """What to do, that first which needs somebody."""

    BY_HAND = "by-hand"
    CANS = "cans"
    PAUSE = "pause"
    AS_SET = "as-set"
    LEAVE = "leave"


@dataclass(frozen=True)
class ZoneMorning:
    """A zone this morning.

    beds : Those in season, in the design of the years that are looked ahead on.
    gone : Of each, what is gone from its roots. [mm]
    base : Minutes of each of the coming days as it is set. [min]
    runs : Into which they are split on a day.
    water : In its store; None on a tap. [L]
    comes : Into its store, on each of the coming days. [L]
    """

    design: Design
    beds: Sequence[BedShare]
    gone: Sequence[float]
    base: tuple[float, ...]
    runs: int = 1
    water: float | None = None
    comes: float = 0.0

    @property
    def lacks(self) -> float:
        """Litres into the zone that fill the roots of the bed that lacks most. [L]"""
        found = (
            gone / bed.depth_per_litre
            for bed, gone in zip(self.beds, self.gone, strict=True)
            if bed.depth_per_litre > 0
        )
        return max(found, default=0.0)


@dataclass(frozen=True)
class Choice:
    """What is best done.

    days : For which it is paused. [d]
    extra : Of a run by hand. [min]
    minutes, litres : Of each of the coming days. [min], [L]
    dry_days : Expected in the week, over all its beds. [d]
    """

    do: Do
    days: int
    extra: float
    minutes: tuple[float, ...]
    litres: tuple[float, ...] = ()
    dry_days: float = 0.0


def choose(zone: ZoneMorning, ahead: Ahead) -> Choice:
    """The act that leaves as few dry days in the coming week as any, and of those gives least."""
    tried = list(_candidates(zone, ahead.today.month))
    litres = np.array([_litres(zone, each.minutes, ahead.today.month) for each in tried])
    dry, missed = _fared(zone, ahead, tried, litres)
    best = best_of(dry + missed, litres.sum(axis=1))
    return replace(tried[best], litres=tuple(litres[best].tolist()), dry_days=float(dry[best]))


def best_of(lost: Floats, litres: Floats) -> int:
    """The one that loses as few days as any, and of those gives least; the earlier where that is alike.

    Parameters
    ----------
    lost : Dry days of each in the week, and days' worth of what is not drunk: on ground that is dry all
        the week, what is given still counts. [d]
    litres : Of each, in the week. [L]
    """
    good = np.flatnonzero(lost <= lost.min() + ALIKE_DAYS)
    return int(good[np.argmin(np.round(litres[good]))])


def _candidates(zone: ZoneMorning, month: int) -> Iterator[Choice]:
    base, design = zone.base, zone.design
    yield Choice(Do.AS_SET, 0, 0.0, base)
    for days in sorted({round(d) for d in design.timer.delay_days if d >= 1} or OFF_BY_HAND):
        paused = (*(0.0,) * min(days, DAYS), *base[days:])
        if paused != base:
            yield Choice(Do.PAUSE, days, 0.0, paused)
    for share in SHARES:
        wanted = design.exact_minutes(zone.lacks * share, month)
        extra = float(round(min(wanted, design.most_minutes)))
        if extra >= 1:
            yield Choice(Do.BY_HAND, 0, extra, (base[0] + extra, *base[1:]))


def _litres(zone: ZoneMorning, minutes: Sequence[float], month: int) -> list[float]:
    """What comes on each day: from a store no more than is there by then. [L]"""
    design = zone.design
    if zone.water is None:
        return [design.litres(each, month) for each in minutes]
    curve, water, found = design.curve, zone.water, []
    for each in minutes:
        given = curve.delivered(water, each / MINUTES_PER_HOUR)
        water = min(water - given + zone.comes, curve.full)
        found.append(given)
    return found


def _fared(
    zone: ZoneMorning, ahead: Ahead, tried: Sequence[Choice], litres: Floats
) -> tuple[Floats, Floats]:
    """Expected dry days of the week, and days' worth not drunk, over all beds of the zone. [d], [d]"""
    lanes = ahead.index.shape[1]
    minutes = np.array([max(each.minutes) for each in tried]) / zone.runs
    given = np.broadcast_to(litres.T[:, :, None], (DAYS, len(tried), lanes))
    runs = np.full(len(tried), zone.runs)
    dry, missed = np.zeros((2, len(tried)))
    for bed, gone in zip(zone.beds, zone.gone, strict=True):
        (trial,) = programme.try_on(
            [ground_ahead(bed, ahead)],
            given,
            runs,
            [zone.design.sinks_in(bed, minutes, ahead.today.month)],
            [np.full(lanes, gone)],
            zone.design.timer.gives,
        )
        dry += trial.stressed * DAYS
        missed += trial.missed * DAYS
    return dry, missed


def ground_ahead(bed: BedShare, ahead: Ahead) -> TriedGround:
    """The roots of a bed in the coming days of every year that is looked ahead on."""
    need, index = bed.need, ahead.index
    return TriedGround(
        ahead.rain_of(need),
        ahead.drunk_by(need),
        need.total[index],
        need.ready[index],
        need.is_growing[index],
        bed.depth_per_litre,
        need.steps,
    )
