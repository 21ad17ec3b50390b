"""What was measured in a zone, by bucket, cups and meter, each beside what each of its lines adds to it."""

from bisect import bisect_left
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from euhydra.core.constants import LITRES_PER_CUBIC_METRE, SECONDS_PER_HOUR
from euhydra.garden.logbook import LogEntry
from euhydra.planner.learning.ran import Ran, ZoneRan
from euhydra.planner.steps import first_run
from euhydra.planner.water.solving import ZoneState

Floats = NDArray[np.float64]

CUP, BUCKET, METER = 0.045, 0.065, 0.035
"""Noise of catch cups, of a bucket, of a meter, the model's own with it, as a share. [-] Our choice."""

STORED, SHORT = 0.08, 0.6
"""More of it where a store's level is between: at the least, and where all of it ran short. [-] Our choice."""

UNDIPPED = 0.12
"""More of it where nobody dips the store. [-] Our choice."""

LEAST_METERED = 4.0
"""Noise of the litres between two readings, at the least. [L]"""

MOST_APART = 150
"""Measurements of a zone from which on those of the same days are taken together."""

TOGETHER_D = 4
"""Days of which they are then taken together."""

LEAST_NOISE = 0.03
"""Of many taken together: the model's own. [-] Our choice."""


@dataclass(frozen=True)
class Measured:
    """One measurement of a zone.

    first, last : Days that it is of; one alone for cups and buckets.
    by_line : What each line adds to it, were it to give what is printed.
    is_metered : Whether it is litres between two readings.
    value, noise : In litres if metered, else a share of what the plan has it give.
    """

    first: int
    last: int
    by_line: Floats
    is_metered: bool
    value: float
    noise: float
    entry: int


@dataclass(frozen=True)
class WaterThere:
    """A zone's store through the year.

    morning : Before each day's watering. [L]
    met : Of what was asked of it on each day, what was there. [-]
    """

    morning: Floats
    met: Floats


@dataclass(frozen=True)
class _Point:
    """Outlets that are measured together, such as a line's.

    outlets : How many.
    solved : What they give at the usual level. [m³ s⁻¹]
    by_line : Share of it that each line gives, were it to give what is printed. [-]
    """

    outlets: int
    solved: float
    by_line: Floats


@dataclass(frozen=True)
class ZoneMeasured:
    """A zone's part of the log.

    water : In its store by its dips; None before they are read, and where there are none.
    """

    ran: Ran
    zone: ZoneRan
    water: WaterThere | None

    def all(self) -> list[Measured]:
        """Every measurement, or those of a few days together where there are very many."""
        return _merged([*self._buckets(), *self._cups(), *self._meters()])

    @cached_property
    def _usual(self) -> ZoneState | None:
        """The zone solved at its store's usual level."""
        push = self.ran.told.season.ways[self.zone.ways[0]].push
        return None if push is None else push.usual.state

    def _times(self, place: int) -> float:
        """What its outlets give at the level of that day, of what they give at the usual one. [-]"""
        if self.zone.zone.group is None:
            return 1.0
        day = self.ran.told.day(self.ran.told.log[place].at)
        if self.water is not None:
            return float(self._times_by_day[day])
        known = day, bisect_left(self._dips, place, key=lambda dip: dip[0])
        if known not in self._times_by_dip:
            curve = self.zone.time.design.curve
            level, _ = first_run.level_of(self.zone.zone, self._beside(place))
            volume = curve.dead + level * (curve.full - curve.dead)
            self._times_by_dip[known] = float(self._times_at(np.array(volume)))
        return self._times_by_dip[known]

    @cached_property
    def _times_by_day(self) -> Floats:
        assert self.water is not None
        return self._times_at(self.water.morning)

    @cached_property
    def _times_by_dip(self) -> dict[tuple[int, int], float]:
        """By day and number of dips before, filled as asked for: thousands of entries fall on few days."""
        return {}

    def _times_at(self, volume: Floats) -> Floats:
        assert self._usual is not None
        curve = self.zone.time.design.curve
        litres_an_hour = np.interp(volume, curve.volume, curve.flow)
        usual = max(self._usual.flow, 1e-12) * SECONDS_PER_HOUR * LITRES_PER_CUBIC_METRE
        return np.asarray(litres_an_hour / usual)

    def _point(self, outlets: Sequence[int]) -> _Point | None:
        """Outlets that are measured together; None where nothing comes out of them."""
        if self._usual is None or not outlets:
            return None
        flow, of = self._usual.outlet_flow, set(outlets)
        solved = float(flow[list(outlets)].sum())
        if solved <= 0:
            return None
        lines = self.zone.lines.values()
        by_line = [float(flow[[o for o in own if o in of]].sum()) / solved for own in lines]
        return _Point(len(outlets), solved, np.array(by_line) / self.zone.planned)

    @cached_property
    def _dips(self) -> Sequence[tuple[int, LogEntry]]:
        group = self.zone.zone.group
        return self.ran.of_kind("dip", *(store.id for store in group.stores)) if group else ()

    def _beside(self, place: int) -> list[LogEntry]:
        """An entry, and the last dip of its store before it."""
        before = bisect_left(self._dips, place, key=lambda dip: dip[0])
        dips = [entry for _, entry in self._dips[max(0, before - 1) : before]]
        return [*dips, self.ran.told.log[place]]

    def _at_once(
        self, place: int, entry: LogEntry, point: _Point, measured: float, noise: float
    ) -> Iterator[Measured]:
        solved = point.solved * self._times(place)
        if solved <= 0:
            return
        day, ratio = self.ran.told.day(entry.at), measured / solved
        yield Measured(day, day, point.by_line, False, ratio, noise * max(ratio, 0.3), place)

    def _buckets(self) -> Iterator[Measured]:
        everything = [o for own in self.zone.lines.values() for o in own]
        own = {self.zone.head_id: everything} | self.zone.lines
        points = {part: self._point(outlets) for part, outlets in own.items()}
        for place, entry in self.ran.of_kind("flow", *own):
            point = points[entry.part_id or ""]
            if entry.word == "whole" and point is not None:
                yield from self._at_once(
                    place, entry, point, first_run.measured_flow(entry), BUCKET
                )

    def _cups(self) -> Iterator[Measured]:
        outlets = self.zone.zone.outlets
        own = dict(self.zone.lines)
        for part in self.zone.zone.watered:
            own[part.id] = [k for k, o in enumerate(outlets) if o.waters == part.id]
        points = {part: self._point(outlets) for part, outlets in own.items()}
        for place, entry in self.ran.of_kind("cups", *own):
            point = points[entry.part_id or ""]
            if point is not None:
                seconds, *volumes = (value or 0.0 for value in entry.amounts)
                mean = sum(volumes) / len(volumes) / seconds
                yield from self._at_once(place, entry, point, mean * point.outlets, CUP)

    def _meters(self) -> Iterator[Measured]:
        if self._dips and self.water is None:
            return  # what the dips say of its store is still to come
        months = self.ran.told.record.month
        litres = self.zone.litres(months)
        if self.water is not None:
            litres = self.zone.litres(months, self.water.morning) * self.water.met
        for first, last, used, place in self.readings():
            run = float(litres[first:last].sum())
            noise = max(LEAST_METERED, METER * max(run, used))
            if self.zone.zone.group is not None and self.water is None:
                noise = max(noise, UNDIPPED * run)
            if self.water is not None:
                # How much water there was is known the less the nearer it was to its end.
                short = 1.0 - float(self.water.met[first:last].min())
                noise = max(noise, (STORED + SHORT * short) * run)
            by_line = run * self.zone.weights / self.zone.planned
            yield Measured(first, last, by_line, True, used, noise, place)

    def readings(self) -> Iterator[tuple[int, int, float, int]]:
        """First day, day after the last, litres between two readings, and the later one's place in the log."""
        if self.zone.head_id in self.ran.shared_heads:
            return
        readings = self.ran.of_kind("meter", self.zone.head_id)
        for (_, before), (place, after) in pairwise(readings):
            first, last = self.ran.told.next_run(before.at), self.ran.told.next_run(after.at)
            if after.word != "new" and last > first:
                used = (after.amounts[0] or 0.0) - (before.amounts[0] or 0.0)
                yield first, last, used * LITRES_PER_CUBIC_METRE, place


def _merged(measured: list[Measured]) -> list[Measured]:
    """Where there are very many, those of a few days that tell of the same taken together."""
    if len(measured) <= MOST_APART:
        return measured
    together: dict[object, list[Measured]] = {}
    for m in measured:
        apart = m.entry if m.is_metered else m.by_line.tobytes()
        together.setdefault((m.is_metered, m.first // TOGETHER_D, apart), []).append(m)
    return [_mean_of(same) for same in together.values()]


def _mean_of(same: list[Measured]) -> Measured:
    if len(same) == 1:
        return same[0]
    weight = np.array([m.noise**-2 for m in same])
    value = float(weight @ np.array([m.value for m in same]) / weight.sum())
    noise = max(float(weight.sum() ** -0.5), LEAST_NOISE * abs(value))
    return replace(same[-1], value=value, noise=noise)
