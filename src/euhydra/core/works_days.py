"""Stores, sources and beds lived through day by day.

A day goes like this. In the morning water is topped up and moved between stores; then each bed
draws, in the order given, from its sources in their order; then the day's inflow arrives and
each store settles by its rule, its spill running on to the next. What spills down from a higher
store can be drawn from the next day on. In all, water in equals water out plus what is stored.

Many days may be lived through at once, of several years and for many widths of one store: what is
a number on a plain day is then an array, by the same rules.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any, Generic, TypeVar

import numpy as np
from numpy.typing import NDArray

from euhydra.core.store import level_that_feeds, settle
from euhydra.core.waterworks import Line, Tank, TopUp, Transfer, Waterworks, WaterworksRun

Floats = NDArray[np.float64]

Litres = Any
"""A float, or an array [piece, width]. [L]"""

NOTHING = 0.0
"""What is not worth adding to an array. [L]"""

Series = TypeVar("Series", covariant=True)
Other = TypeVar("Other")


class SpillLoopError(ValueError):
    """Stores that spill into one another in a ring."""


@dataclass(frozen=True)
class Written(Generic[Series]):
    """What happens on each day, in one series for each of what `WaterworksRun` tells. [L]"""

    level: tuple[Series, ...]
    spill: tuple[Series, ...]
    arrived: tuple[Series, ...]
    given: tuple[tuple[Series, ...], ...]
    topped: tuple[Series, ...]
    moved: tuple[Series, ...]
    dried: tuple[Series, ...]

    @classmethod
    def blank(cls, works: Waterworks, make: Callable[[], Series]) -> "Written[Series]":
        """Nothing yet, in series that `make` makes."""

        def of(parts: Sequence[object]) -> tuple[Series, ...]:
            return tuple(make() for _ in parts)

        tanks = works.tanks
        given = tuple(of(watering.sources) for watering in works.waterings)
        topped, moved = of(works.top_ups), of(works.transfers)
        return cls(of(tanks), of(tanks), of(tanks), given, topped, moved, of(tanks))

    def each(self, make: Callable[[Series], Other]) -> "Written[Other]":
        """The same in other series, each made of one of these."""

        def of(series: Sequence[Series]) -> tuple[Other, ...]:
            return tuple(map(make, series))

        given = tuple(map(of, self.given))
        by_tank = of(self.level), of(self.spill), of(self.arrived)
        return Written(*by_tank, given, of(self.topped), of(self.moved), of(self.dried))

    @property
    def series(self) -> list[Series]:
        """All of them."""
        by_bed = [series for flows in self.given for series in flows]
        plain = self.level, self.spill, self.arrived, self.topped, self.moved, self.dried
        return by_bed + [series for each in plain for series in each]

    def run_of(self: "Written[Floats]", works: Waterworks) -> WaterworksRun:
        """What happened to the works of which this was written."""
        return WaterworksRun(works, **vars(self))


@dataclass(frozen=True)
class Lanes:
    """Pieces of a record that are lived through side by side, each under many widths of one tank.

    days : Of the record, on each step of each piece; -1 where a piece is over. [step, piece]
    widths : Of the tank at `widened`, over its own: all its volumes are that many times as large
        at the same heights. [-]
    """

    days: NDArray[np.intp]
    widths: Floats
    widened: int = 0

    def of_days(self, daily: NDArray[Any]) -> NDArray[Any]:
        """A series as its steps; nothing where a piece is over. [step, piece, 1]"""
        ended = np.zeros(1, daily.dtype)
        return np.asarray(np.append(daily, ended)[self.days][:, :, None])

    def width_of(self, tank: int) -> Floats | float:
        """Widths of a tank. [-]

        Parameters
        ----------
        tank : Its position.
        """
        return self.widths if tank == self.widened else 1.0


class WorksDays:
    """A run that is lived through day by day, so that each morning may decide by what is there.

    level : Of every tank; in the morning that of the evening before. [L]
    written : What happened on each day that was lived through, nothing on the others. [L]
    """

    def __init__(
        self, works: Waterworks, lanes: Lanes | None = None, begins: Sequence[Floats] = ()
    ) -> None:
        """A plain record from its first day, or lanes that begin at levels of their own.

        Parameters
        ----------
        begins : Level of each tank before the first step of each lane. [L]
        """
        self.works, self.lanes = works, lanes
        self.least: Any = min if lanes is None else np.minimum
        self.most: Any = max if lanes is None else np.maximum
        tanks, beds = works.tanks, works.waterings
        self.width: list[Litres] = [lanes.width_of(i) if lanes else 1.0 for i in range(len(tanks))]
        self.capacity = [t.capacity * w for t, w in zip(tanks, self.width, strict=True)]
        self.level: list[Litres] = list(begins) if lanes else [tank.start for tank in tanks]
        self.order = _downhill(tanks)
        self.drawn: list[Litres] = []
        self.left: list[Litres] = []
        steps = len(lanes.days) if lanes else works.length
        self.written: Written[list[Litres]] = Written.blank(works, lambda: [0.0] * steps)
        self._inflow = [self._daily(tank.inflow) for tank in tanks]
        self._dries = [None if t.dries is None else self._daily(t.dries) for t in tanks]
        self._wanted = [self._daily(bed.asked) for bed in beds]
        self._wants = [self._is_any(bed.asked) for bed in beds]
        hours = [_hours_open(bed.sources, bed.asked) for bed in beds]
        self._hours = [[self._daily(each) for each in own] for own in hours]
        self._opens = [[self._is_any(each) for each in own] for own in hours]
        self._available = [self._daily(supply.available) for supply in works.supplies]
        always = np.ones(works.length, dtype=np.bool_)
        tops = [always if each.is_due is None else each.is_due for each in works.top_ups]
        moves = [each.is_due for each in works.transfers]
        self._tops, self._is_topping = [*map(self._is_any, tops)], [*map(self._daily, tops)]
        self._moves, self._is_moving = [*map(self._is_any, moves)], [*map(self._daily, moves)]

    def set_run(self, bed: int, day: int, hours: float, wanted: float) -> None:
        """Water a bed otherwise on a day: so many hours of its first line, for so much.

        Parameters
        ----------
        hours : [h]
        wanted : [L]
        """
        self._wanted[bed][day] = wanted
        self._wants[bed][day] = wanted > 0
        if self._hours[bed]:
            self._hours[bed][0][day] = hours
            self._opens[bed][0][day] = hours > 0

    def given(self, bed: int, day: int) -> float:
        """What a bed got on a day from all its sources. [L]"""
        return float(sum(flows[day] for flows in self.written.given[bed]))

    def live_through(self, day: int) -> None:
        """One day, or one step of all lanes."""
        works, written = self.works, self.written
        self.drawn = [NOTHING] * len(works.tanks)
        self.left = [litres[day] for litres in self._available]
        for i, top_up in enumerate(works.top_ups):
            if self._tops[i][day]:
                written.topped[i][day] = self._top_up(top_up, self._is_topping[i][day])
        for i, transfer in enumerate(works.transfers):
            if self._moves[i][day]:
                written.moved[i][day] = self._move(transfer, self._is_moving[i][day])
        for bed, wants in enumerate(self._wants):
            if wants[day]:
                self._water(bed, day)
        self._settle(day)
        self._dry(day)

    def stand_still(self, day: int) -> None:
        """A day on which nothing happens."""
        for levels, level in zip(self.written.level, self.level, strict=True):
            levels[day] = level

    def so_far(self) -> WaterworksRun:
        """What happened on the days of a plain record that were lived through; nothing on the others."""
        plain = self.written.each(lambda daily: np.array(daily, dtype=np.float64))
        return plain.run_of(self.works)

    def _daily(self, of_days: NDArray[Any]) -> list[Any]:
        return of_days.tolist() if self.lanes is None else list(self.lanes.of_days(of_days))

    def _is_any(self, of_days: NDArray[Any]) -> list[bool]:
        """Whether there is any on a day of a plain record, or on a step in one of the lanes."""
        is_any = of_days > 0
        if self.lanes is not None:
            is_any = np.asarray(self.lanes.of_days(is_any).any(axis=(1, 2)))
        found: list[bool] = is_any.tolist()
        return found

    def _top_up(self, top_up: TopUp, is_due: Any) -> Litres:
        tank = top_up.tank
        width, level = self.width[tank], self.level[tank]
        is_low = (level < top_up.below * width) * is_due
        room = self.most(top_up.up_to * width - level, 0.0) * is_low
        litres = self.least(room, self.left[top_up.supply])
        self.left[top_up.supply] = self.left[top_up.supply] - litres
        self.level[tank] = level + litres
        return litres

    def _move(self, transfer: Transfer, is_due: Any) -> Litres:
        origin, reserve = transfer.origin, transfer.reserve
        dead = self.works.tanks[origin].dead * self.width[origin]
        there = self.most(self.level[origin] - dead, 0.0) * is_due
        room = self.most(self.capacity[reserve] - self.level[reserve], 0.0)
        room = room * (self.level[reserve] < transfer.below * self.width[reserve])
        litres = self.least(self.least(there, room), transfer.most)
        self.level[origin] = self.level[origin] - litres
        self.level[reserve] = self.level[reserve] + litres
        return litres

    def _water(self, bed: int, day: int) -> None:
        lacking: Litres = self._wanted[bed][day]
        sources = self.works.waterings[bed].sources
        for i, source in enumerate(sources):
            if isinstance(source, int):
                litres = self.least(lacking, self.left[source])
                self.left[source] = self.left[source] - litres
            elif self._opens[bed][i][day]:
                litres = self._draw(source, lacking, day, self._hours[bed][i][day])
            else:
                litres = 0.0
            self.written.given[bed][i][day] = litres
            if i + 1 < len(sources):
                lacking = self.most(lacking - litres, 0.0)

    def _draw(self, line: Line, lacking: Litres, day: int, hours: Any) -> Litres:
        tank = line.tank
        rule, inflow = self.works.tanks[tank].rule, self._inflow[tank][day]
        feeding: Litres = level_that_feeds(
            rule, self.level[tank], inflow, self.capacity[tank], self.least
        )
        if self.drawn[tank] is not NOTHING:
            feeding = feeding - self.drawn[tank]
        if self.lanes is None:
            litres: Litres = line.curve.delivered(feeding, hours)
        else:
            litres = line.curve.delivered_each(feeding, hours, self.width[tank])
        if not line.is_timed:
            litres = self.least(litres, lacking)
        self.drawn[tank] = self.drawn[tank] + litres
        return litres

    def _settle(self, day: int) -> None:
        from_above: list[Litres] = [NOTHING] * len(self.works.tanks)
        written = self.written
        for tank in self.order:
            inputs = self.works.tanks[tank]
            inflow = self._inflow[tank][day]
            if from_above[tank] is not NOTHING:
                inflow = inflow + from_above[tank]
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
            written.level[tank][day] = self.level[tank]
            written.spill[tank][day] = spill
            written.arrived[tank][day] = inflow

    def _dry(self, day: int) -> None:
        """What open water loses by the evening, as far as there is any."""
        for tank, litres in enumerate(self._dries):
            if litres is not None:
                lost = self.least(self.level[tank], litres[day] * self.width[tank])
                self.level[tank] = self.level[tank] - lost
                self.written.level[tank][day] = self.level[tank]
                self.written.dried[tank][day] = lost


def _hours_open(sources: Sequence[Line | int], asked: Floats) -> list[Floats]:
    """Hours of each source's line: nobody opens one for a bed that wants nothing, nor does a timer. [h]"""
    return [
        np.zeros_like(asked) if isinstance(source, int) else np.where(asked > 0, source.hours, 0.0)
        for source in sources
    ]


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
