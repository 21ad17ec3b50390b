"""Everything that holds, brings or wants water, and what became of it on each day of a record."""

from dataclasses import dataclass
from math import inf

import numpy as np
from numpy.typing import NDArray

from euhydra.core.delivery import DrainCurve
from euhydra.core.store import StoreRule, StoreRun

Floats = NDArray[np.float64]
Flags = NDArray[np.bool_]


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
