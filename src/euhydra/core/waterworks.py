"""Stores, sources and beds through a record, day by day.

A day goes like this. In the morning water is topped up and moved between stores; then each bed
draws, in the order given, from its sources in their order; then the day's inflow arrives and
each store settles by its rule, its spill running on to the next. What spills down from a higher
store can be drawn from the next day on. In all, water in equals water out plus what is stored.

The same days may be run for many widths of one store at once: volumes are then arrays, one entry
a width.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from math import inf
from typing import Any

import numpy as np
from numpy.typing import NDArray

from euhydra.core.delivery import DrainCurve
from euhydra.core.store import StoreRule, StoreRun, level_that_feeds, settle

Floats = NDArray[np.float64]
Flags = NDArray[np.bool_]

Litres = Any
"""A float, or one float a width. [L]"""

Daily = list[float] | Floats
"""Litres of each day as they are written: a list, or an array [day, width]. [L]"""


class SpillLoopError(ValueError):
    """Stores that spill into one another in a ring."""


@dataclass(frozen=True)
class Tank:
    """One level of water: a store, or several linked.

    capacity, dead, start : To the overflow; under the outlet; before the first day. [L]
    rule : Which water may be drawn on a day.
    inflow : From roofs, of each day. [L]
    spills_to : Position of the tank that takes its spill; None if it leaves.
    dries : What sun and wind take from open water on each day, as wide as it is; None under a lid. [L]
    """

    capacity: float
    dead: float
    start: float
    rule: StoreRule
    inflow: Floats
    spills_to: int | None = None
    dries: Floats | None = None


@dataclass(frozen=True)
class Line:
    """A way from a tank to a bed.

    curve : Delivery against the tank's volume.
    hours : Longest it is open on each day. [h]
    is_timed : Whether a timer runs it blindly for those hours; else it is shut when the bed has
        what it wants.
    """

    tank: int
    curve: DrainCurve
    hours: Floats
    is_timed: bool


@dataclass(frozen=True)
class Supply:
    """A source that is not stored here: tap, well, greywater. Several beds may share it.

    available : Most it gives on each day. [L]
    """

    available: Floats


@dataclass(frozen=True)
class Watering:
    """One bed: what it wants on each day, and from where, first choice first.

    wanted : Gross. [L]
    sources : Lines, or positions of supplies.
    limit : Most that can come to it in a day from all of them; None where nothing limits that. [L]
    """

    wanted: Floats
    sources: tuple[Line | int, ...]
    limit: Floats | None = None

    @property
    def asked(self) -> Floats:
        """What it asks its sources for on each day. [L]"""
        return self.wanted if self.limit is None else np.minimum(self.wanted, self.limit)


@dataclass(frozen=True)
class TopUp:
    """A supply that fills a tank from `below` up to `up_to`, over an air gap. [L]

    is_due : Days on which somebody does it; None where a float does it on any.
    """

    tank: int
    supply: int
    below: float
    up_to: float
    is_due: Flags | None = None


@dataclass(frozen=True)
class Transfer:
    """Water moved by hand or pump into another tank on certain days, at most `most` a day. [L]

    below : Level of the tank that takes it, above which nothing is moved. [L]
    """

    origin: int
    reserve: int
    most: float
    is_due: Flags
    below: float = inf


@dataclass(frozen=True)
class Waterworks:
    """Everything that holds, brings or wants water. Daily arrays are one record long."""

    tanks: tuple[Tank, ...]
    supplies: tuple[Supply, ...]
    waterings: tuple[Watering, ...]
    top_ups: tuple[TopUp, ...] = ()
    transfers: tuple[Transfer, ...] = ()

    @property
    def length(self) -> int:
        """Days of the record."""
        daily = [tank.inflow for tank in self.tanks]
        daily += [supply.available for supply in self.supplies]
        daily += [watering.wanted for watering in self.waterings]
        return len(daily[0])


@dataclass(frozen=True)
class WaterworksRun:
    """What happened on each day. Arrays are [day], or [day, width]; litres. [L]

    level, spill, arrived : By tank: each evening; run over; come in from roofs and from above.
    given : By bed and source.
    topped, moved : By top-up and by transfer.
    dried : By tank: what sun and wind took.
    """

    works: Waterworks
    level: tuple[Floats, ...]
    spill: tuple[Floats, ...]
    arrived: tuple[Floats, ...]
    given: tuple[tuple[Floats, ...], ...]
    topped: tuple[Floats, ...]
    moved: tuple[Floats, ...]
    dried: tuple[Floats, ...]

    def supplied(self, bed: int) -> Floats:
        """All that a bed got on each day. [L]"""
        return np.asarray(sum(self.given[bed], np.zeros_like(self.works.waterings[bed].wanted)))

    def drawn_from(self, tank: int) -> Floats:
        """All that lines drew from a tank on each day. [L]"""
        drawn = np.zeros_like(self.level[tank])
        for _, flow in self._lines_on(tank):
            drawn = drawn + flow
        return drawn

    def tank_run(self, tank: int) -> StoreRun:
        """A tank by itself: against it, the want of the beds for which it is the first choice."""
        inputs, works = self.works.tanks[tank], self.works
        first = [i for i, w in enumerate(works.waterings) if self.first_tank(w) == tank]
        wanted = np.zeros_like(inputs.inflow)
        for bed in first:
            wanted = wanted + works.waterings[bed].asked
        given = np.zeros_like(self.level[tank])
        dry_at = []
        for bed in first:
            for source, litres in zip(works.waterings[bed].sources, self.given[bed], strict=True):
                if isinstance(source, Line) and source.tank == tank:
                    given = given + litres
                    dry_at.append(source.curve.runs_dry_at)
        return StoreRun(
            self.arrived[tank] - self.dried[tank],
            wanted,
            given,
            self.spill[tank],
            self.level[tank],
            inputs.start,
            max(inputs.dead, min(dry_at, default=inputs.dead)),
        )

    @property
    def from_elsewhere(self) -> float:
        """All that supplies brought, straight to beds or into tanks. [L]"""
        direct = (
            float(flow.sum())
            for watering, flows in zip(self.works.waterings, self.given, strict=True)
            for source, flow in zip(watering.sources, flows, strict=True)
            if isinstance(source, int)
        )
        return sum(direct) + sum(float(flow.sum()) for flow in self.topped)

    def first_tank(self, watering: Watering) -> int | None:
        """The tank that a bed takes from before any other; None if it takes from none."""
        tanks = (s.tank for s in watering.sources if isinstance(s, Line))
        return next(tanks, None)

    def residual(self, tank: int) -> float:
        """Litres that what came in, went out and is stored fail to agree by. [L]"""
        works, start = self.works, self.works.tanks[tank].start
        come = float(self.arrived[tank].sum())
        gone = float(self.spill[tank].sum() + self.drawn_from(tank).sum())
        gone += float(self.dried[tank].sum())
        for top_up, litres in zip(works.top_ups, self.topped, strict=True):
            come += float(litres.sum()) if top_up.tank == tank else 0.0
        for transfer, litres in zip(works.transfers, self.moved, strict=True):
            come += float(litres.sum()) if transfer.reserve == tank else 0.0
            gone += float(litres.sum()) if transfer.origin == tank else 0.0
        return come - gone - (float(self.level[tank][-1]) - start)

    def _lines_on(self, tank: int) -> list[tuple[Line, Floats]]:
        return [
            (source, flow)
            for watering, flows in zip(self.works.waterings, self.given, strict=True)
            for source, flow in zip(watering.sources, flows, strict=True)
            if isinstance(source, Line) and source.tank == tank
        ]


def run_waterworks(
    works: Waterworks, widths: Floats | None = None, widened: int = 0
) -> WaterworksRun:
    """Run the days; for many widths of one tank side by side, if `widths` are given.

    Parameters
    ----------
    widths : Of the tank at `widened`, over its own: all its volumes are that many times as large
        at the same heights. [-]

    Raises
    ------
    SpillLoopError : if tanks spill in a ring.
    """
    days = WorksDays(works, widths, widened)
    for day, is_still in enumerate(_still_days(works, days.length)):
        if is_still:
            days.stand_still(day)
        else:
            days.live_through(day)
    return days.so_far()


def _still_days(works: Waterworks, length: int) -> list[bool]:
    """Days on which nothing comes, nobody wants any and nothing dries: all stands as it stood."""
    still = np.arange(length) > 0  # on the first a store may be fuller than it holds
    comes = [tank.inflow for tank in works.tanks]
    comes += [tank.dries for tank in works.tanks if tank.dries is not None]
    comes += [watering.asked for watering in works.waterings]
    for litres in comes:
        still &= litres == 0
    for is_due in [t.is_due for t in works.top_ups] + [t.is_due for t in works.transfers]:
        still &= False if is_due is None else ~is_due
    return [bool(each) for each in still]


class WorksDays:
    """A run that is lived through day by day, so that each morning may decide by what is there.

    level : Of every tank; in the morning that of the evening before. [L]
    """

    def __init__(self, works: Waterworks, widths: Floats | None = None, widened: int = 0) -> None:
        self.works = works
        self.widths = widths
        self.least: Callable[[Litres, Litres], Litres] = min if widths is None else _least
        self.most: Callable[[Litres, Litres], Litres] = max if widths is None else _most
        self.width: list[Litres] = [
            widths if widths is not None and i == widened else 1.0 for i in range(len(works.tanks))
        ]
        self.capacity = [t.capacity * w for t, w in zip(works.tanks, self.width, strict=True)]
        self.level = [t.start * w for t, w in zip(works.tanks, self.width, strict=True)]
        self.inflow = [tank.inflow.tolist() for tank in works.tanks]
        self.dries = [None if t.dries is None else t.dries.tolist() for t in works.tanks]
        self.order = _downhill(works.tanks)
        self.drawn: list[Litres] = []
        self.left: list[Litres] = []
        tanks = range(len(works.tanks))
        self.length = works.length
        self._levels, self._spills, self._arrived, self._dried = (
            [self._blank() for _ in tanks] for _ in range(4)
        )
        self._given = [[self._blank() for _ in w.sources] for w in works.waterings]
        self._topped = [self._blank() for _ in works.top_ups]
        self._moved = [self._blank() for _ in works.transfers]
        self._wanted = [watering.asked.tolist() for watering in works.waterings]
        self._hours = [
            [None if isinstance(s, int) else s.hours.tolist() for s in w.sources]
            for w in works.waterings
        ]
        self._available = [supply.available.tolist() for supply in works.supplies]

    def set_run(self, bed: int, day: int, hours: float, wanted: float) -> None:
        """Water a bed otherwise on a day: so many hours of its first line, for so much.

        Parameters
        ----------
        hours : [h]
        wanted : [L]
        """
        self._wanted[bed][day] = wanted
        first = self._hours[bed][0] if self._hours[bed] else None
        if first is not None:
            first[day] = hours

    def given(self, bed: int, day: int) -> float:
        """What a bed got on a day from all its sources. [L]"""
        return float(sum(flows[day] for flows in self._given[bed]))

    def live_through(self, day: int) -> None:
        """One day."""
        works = self.works
        self.drawn = [0.0] * len(works.tanks)
        self.left = [litres[day] for litres in self._available]
        for i, top_up in enumerate(works.top_ups):
            is_due = top_up.is_due is None or top_up.is_due[day]
            self._topped[i][day] = self._top_up(top_up) if is_due else 0.0
        for i, transfer in enumerate(works.transfers):
            self._moved[i][day] = self._move(transfer) if transfer.is_due[day] else 0.0
        for bed, wanted in enumerate(self._wanted):
            if wanted[day] > 0:
                self._water(bed, day)
        self._settle(day)
        self._dry(day)

    def stand_still(self, day: int) -> None:
        """One day on which nothing happens."""
        for levels, level in zip(self._levels, self.level, strict=True):
            levels[day] = level

    def so_far(self) -> WaterworksRun:
        """What happened on the days that were lived through; nothing on the others."""
        return WaterworksRun(
            self.works,
            _arrays(self._levels),
            _arrays(self._spills),
            _arrays(self._arrived),
            tuple(map(_arrays, self._given)),
            _arrays(self._topped),
            _arrays(self._moved),
            _arrays(self._dried),
        )

    def _blank(self) -> Daily:
        # Day by day a list is written faster than an array.
        if self.widths is None:
            return [0.0] * self.length
        return np.zeros((self.length, len(self.widths)))

    def _top_up(self, top_up: TopUp) -> Litres:
        tank = top_up.tank
        width, level = self.width[tank], self.level[tank]
        room = self.most(top_up.up_to * width - level, 0.0) * (level < top_up.below * width)
        litres = self.least(room, self.left[top_up.supply])
        self.left[top_up.supply] = self.left[top_up.supply] - litres
        self.level[tank] = level + litres
        return litres

    def _move(self, transfer: Transfer) -> Litres:
        origin, reserve = transfer.origin, transfer.reserve
        dead = self.works.tanks[origin].dead * self.width[origin]
        there = self.most(self.level[origin] - dead, 0.0)
        room = self.most(self.capacity[reserve] - self.level[reserve], 0.0)
        if transfer.below < inf:
            room = room * (self.level[reserve] < transfer.below * self.width[reserve])
        litres = self.least(self.least(there, room), transfer.most)
        self.level[origin] = self.level[origin] - litres
        self.level[reserve] = self.level[reserve] + litres
        return litres

    def _water(self, bed: int, day: int) -> None:
        lacking: Litres = self._wanted[bed][day]
        sources = self.works.waterings[bed].sources
        for i, source in enumerate(sources):
            hours = self._hours[bed][i]
            if isinstance(source, int):
                litres = self.least(lacking, self.left[source])
                self.left[source] = self.left[source] - litres
            else:
                litres = self._draw(source, lacking, day, hours[day] if hours else 0.0)
            self._given[bed][i][day] = litres
            if i + 1 < len(sources):
                lacking = self.most(lacking - litres, 0.0)

    def _draw(self, line: Line, lacking: Litres, day: int, hours: float) -> Litres:
        tank = line.tank
        if hours <= 0:
            return 0.0
        feeding: Litres = (
            level_that_feeds(
                self.works.tanks[tank].rule,
                self.level[tank],
                self.inflow[tank][day],
                self.capacity[tank],
                self.least,
            )
            - self.drawn[tank]
        )
        if isinstance(feeding, np.ndarray):
            litres: Litres = line.curve.delivered_each(feeding, hours, self.width[tank])
        else:
            litres = line.curve.delivered(feeding, hours)
        if not line.is_timed:
            litres = self.least(litres, lacking)
        self.drawn[tank] = self.drawn[tank] + litres
        return litres

    def _dry(self, day: int) -> None:
        """What open water loses by the evening, as far as there is any."""
        for tank, litres in enumerate(self.dries):
            if litres is not None:
                lost = self.least(self.level[tank], litres[day] * self.width[tank])
                self.level[tank] = self.level[tank] - lost
                self._levels[tank][day] = self.level[tank]
                self._dried[tank][day] = lost

    def _settle(self, day: int) -> None:
        from_above: list[Litres] = [0.0] * len(self.works.tanks)
        for tank in self.order:
            inputs = self.works.tanks[tank]
            inflow = self.inflow[tank][day] + from_above[tank]
            self.level[tank], spill = settle(
                inputs.rule,
                self.level[tank],
                inflow,
                self.drawn[tank],
                self.capacity[tank],
                self.least,
            )
            if inputs.spills_to is not None:
                from_above[inputs.spills_to] = from_above[inputs.spills_to] + spill
            self._levels[tank][day] = self.level[tank]
            self._spills[tank][day] = spill
            self._arrived[tank][day] = inflow


# Tanks that no width touches stay plain numbers, and numbers are compared faster as such.
def _least(a: Litres, b: Litres) -> Litres:
    return np.minimum(a, b) if _is_many(a) or _is_many(b) else min(a, b)


def _most(a: Litres, b: Litres) -> Litres:
    return np.maximum(a, b) if _is_many(a) or _is_many(b) else max(a, b)


def _is_many(litres: Litres) -> bool:
    return isinstance(litres, np.ndarray)


def _arrays(daily: Sequence[Daily]) -> tuple[Floats, ...]:
    return tuple(np.asarray(each, dtype=np.float64) for each in daily)


def _downhill(tanks: Sequence[Tank]) -> list[int]:
    """Positions of the tanks so that each comes before the one it spills to."""
    waiting = [0] * len(tanks)
    for tank in tanks:
        if tank.spills_to is not None:
            waiting[tank.spills_to] += 1
    ready = [i for i, count in enumerate(waiting) if count == 0]
    order: list[int] = []
    while ready:
        here = ready.pop()
        order.append(here)
        below = tanks[here].spills_to
        if below is not None:
            waiting[below] -= 1
            if waiting[below] == 0:
                ready.append(below)
    if len(order) < len(tanks):
        raise SpillLoopError("stores spill into one another in a ring")
    return order
