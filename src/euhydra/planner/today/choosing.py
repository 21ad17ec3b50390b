"""A morning at one zone: what may be done with its timer, and which of it costs least in dry days, then in litres."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import reduce

import numpy as np
from numpy.typing import NDArray

from euhydra.core.foretelling import DAYS
from euhydra.core.schedule import MINUTES_PER_HOUR
from euhydra.core.tried_days import Gives, TriedDays, TriedGround
from euhydra.planner.time.design import BedShare, Design
from euhydra.planner.today.ahead import Ahead

Floats = NDArray[np.float64]

ALIKE_DAYS = 0.1
"""Days lost in the week that are worth no water. [d] Our choice."""

TODAY_COUNTS = 10.0
"""Times that a dry day counts that comes before anybody looks again; others can still be averted. Our choice."""

OFF_BY_HAND = (1, 2, 3)
"""Days for which a timer without a rain delay is turned off. [d] Common practice: after rain, by depth."""

SHARES = (0.5, 1.0)
"""Of what the roots lack, tried by hand. [-] Our choice."""


class Do(StrEnum):
    """What to do, that first which needs somebody."""

    BY_HAND = "by-hand"
    CANS = "cans"
    TURN = "turn"
    PAUSE = "pause"
    AS_SET = "as-set"
    LEAVE = "leave"


@dataclass(frozen=True)
class ZoneMorning:
    """A zone this morning.

    beds : Those in season, in the design of the years that are looked ahead on.
    gone : Of each, what is gone from its roots, in as many ways as are not known apart. [mm]
    base : Minutes of each of the coming days as it is set. [min]
    turned : The same were it set as the plan has this month; None where it is, or nothing is planned.
    runs : Into which they are split on a day.
    water : In its store; None on a tap. [L]
    comes : Into its store, on each of the coming days. [L]
    is_paused : Whether it is paused already: that is looked at again when it is over.
    """

    design: Design
    beds: Sequence[BedShare]
    gone: Sequence[Floats]
    base: tuple[float, ...]
    turned: tuple[float, ...] | None = None
    runs: int = 1
    water: float | None = None
    comes: float = 0.0
    is_paused: bool = False

    @property
    def lacks(self) -> float:
        """Litres into the zone that fill the roots of the bed that lacks most. [L]"""
        found = (
            float(gone.mean()) / bed.depth_per_litre
            for bed, gone in zip(self.beds, self.gone, strict=True)
            if bed.depth_per_litre > 0
        )
        return max(found, default=0.0)


@dataclass(frozen=True)
class Chosen:
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


def choose(zone: ZoneMorning, ahead: Ahead) -> Chosen:
    """The act that leaves as few dry days in the coming week as any, and of those gives least."""
    tried = list(_candidates(zone, ahead.today.month))
    litres = np.array([_litres(zone, each.minutes, ahead.today.month) for each in tried])
    fared = _fared(zone, ahead, tried, litres)
    best = best_of(fared.lost, litres.sum(axis=1))
    dry_days = float(fared.dry[best])
    return replace(tried[best], litres=tuple(litres[best].tolist()), dry_days=dry_days)


def best_of(lost: Floats, litres: Floats) -> int:
    """The one that loses as few days as any, and of those gives least; the earlier where that is alike.

    Parameters
    ----------
    lost : Days lost by each in the week, see `Fared`. [d]
    litres : Of each, in the week. [L]
    """
    good = np.flatnonzero(lost <= lost.min() + ALIKE_DAYS)
    return int(good[np.argmin(np.round(litres[good]))])


def _candidates(zone: ZoneMorning, month: int) -> Iterator[Chosen]:
    base, design = zone.base, zone.design
    yield Chosen(Do.AS_SET, 0, 0.0, base)
    if zone.turned is not None:
        yield Chosen(Do.TURN, 0, 0.0, zone.turned)
    steps = {round(d) for d in design.timer.delay_days if d >= 1} or OFF_BY_HAND
    for days in () if zone.is_paused else sorted(steps):
        paused = (*(0.0,) * min(days, DAYS), *base[days:])
        if paused != base:
            yield Chosen(Do.PAUSE, days, 0.0, paused)
    for share in SHARES:
        wanted = design.exact_minutes(zone.lacks * share, month)
        extra = float(round(min(wanted, design.most_minutes)))
        if extra >= 1:
            yield Chosen(Do.BY_HAND, 0, extra, (base[0] + extra, *base[1:]))


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


@dataclass(frozen=True)
class Fared:
    """How beds would fare in the coming week under each candidate, on the mean of all years. [candidate]

    dry : Days that are too dry, summed over the beds. [d]
    dry_today : Of them, those of today. [d]
    missed : Days' worth of drinking that is missed: on ground that is dry all the week, what is given
        still counts. [d]
    """

    dry: Floats
    dry_today: Floats
    missed: Floats

    @property
    def lost(self) -> Floats:
        """Days lost, all taken together. [d]"""
        return np.asarray(self.dry + self.missed + (TODAY_COUNTS - 1) * self.dry_today)

    def beside(self, other: "Fared") -> "Fared":
        """Of the beds of both."""
        return Fared(
            self.dry + other.dry, self.dry_today + other.dry_today, self.missed + other.missed
        )


def fare(
    grounds: Sequence[TriedGround],
    litres: Floats,
    runs: NDArray[np.intp],
    sinks_in: Sequence[Floats],
    gone: Sequence[Floats],
    gives: Gives = Gives.ALL,
) -> Fared:
    """Try what is given on each of the coming days; as in `programme.try_on`, of all years at once.

    Parameters
    ----------
    litres : Of each day and candidate. [day, candidate] [L]
    gone : From the roots of each, this morning. [mm]
    """
    days, candidates = litres.shape
    lanes = grounds[0].rain.shape[1]
    given = np.broadcast_to(litres[:, :, None], (days, candidates, lanes))
    tried = TriedDays(grounds, given, runs, sinks_in, [np.resize(g, lanes) for g in gone], gives)
    tried.live_through(0)
    dry_today = tried.short_days.mean(axis=2).sum(axis=0)
    for day in range(1, days):
        tried.live_through(day)
    wanted = np.array([(g.crop_et * g.is_growing).sum(axis=0) for g in grounds])
    got = tried.drunk / np.maximum(wanted, 1e-9)[:, None]
    missed = days * np.maximum(1.0 - got, 0.0) * (wanted > 0)[:, None]
    dry = tried.short_days.mean(axis=2).sum(axis=0)
    return Fared(dry, dry_today, missed.mean(axis=2).sum(axis=0))


def _fared(zone: ZoneMorning, ahead: Ahead, tried: Sequence[Chosen], litres: Floats) -> Fared:
    minutes = np.array([max(each.minutes) for each in tried]) / zone.runs
    runs, month = np.full(len(tried), zone.runs), ahead.today.month
    alike: dict[int, list[int]] = {}  # beds and pots are taken in other steps of a day
    for place, bed in enumerate(zone.beds):
        alike.setdefault(bed.need.steps, []).append(place)
    found = (
        fare(
            [ground_ahead(zone.beds[place], ahead) for place in places],
            litres.T,
            runs,
            [zone.design.sinks_in(zone.beds[place], minutes, month) for place in places],
            [zone.gone[place] for place in places],
            zone.design.timer.gives,
        )
        for places in alike.values()
    )
    return reduce(Fared.beside, found)


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
