"""What ran, by what the log says: minutes of each timer, litres of each zone, cans."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from euhydra.core.constants import LITRES_PER_CUBIC_METRE
from euhydra.garden.logbook import LogEntry
from euhydra.garden.timers import Timer
from euhydra.planner.keeping.hindcast import Hindcast
from euhydra.planner.season.watering import Watered
from euhydra.planner.steps import first_run
from euhydra.planner.time.answer import TimeAnswer
from euhydra.planner.water.zones import Zone

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class ZoneRan:
    """A zone with a timer through the logged year.

    minutes : Of each day: as logged, before that as the timer is set, else as planned.
    ways : Places of its beds and pots in the season's ways.
    lines : Outlets of each line, by its id.
    weights : Share of the zone's water that each line gives, in the order of `lines`. [-]
    planned : What the plan has each of them give of what is printed. [-]
    """

    zone: Zone
    time: TimeAnswer
    ways: tuple[int, ...]
    minutes: Floats
    lines: dict[str, list[int]]
    weights: Floats
    planned: Floats

    @property
    def is_timed(self) -> bool:
        """Whether a timer runs it, and no hand has to open it."""
        return isinstance(self.zone.head, Timer)

    @property
    def head_id(self) -> str:
        """Of its timer."""
        return self.zone.head.id if self.zone.head else self.zone.source.id

    def litres(self, months: NDArray[np.intp], volume: Floats | None = None) -> Floats:
        """What it gives on each day if its lines give what the plan has them give. [L]

        Parameters
        ----------
        volume : Water in its store each day; at its usual level where that is not known. [L]
        """
        if volume is None or self.zone.group is None:
            return np.asarray(self.time.design.litres_each(self.minutes, months))
        curve = self.time.design.curve
        flow = np.interp(volume, curve.volume, curve.flow)
        return np.asarray(self.minutes / 60.0 * np.where(volume > curve.dead, flow, 0.0))


@dataclass(frozen=True)
class Ran:
    """The logged year as it was run."""

    told: Hindcast

    @cached_property
    def shared_heads(self) -> frozenset[str]:
        """Timers and couplings that several zones have, so that a meter there tells of all of them together."""
        heads = [zone.head_id for zone in self.zones]
        return frozenset(head for head in heads if heads.count(head) > 1)

    @cached_property
    def zones(self) -> tuple[ZoneRan, ...]:
        """Every zone that a timer runs or a hand opens."""
        found: dict[str, list[int]] = {}
        for place, way in enumerate(self.told.season.ways):
            if way.time is not None and not way.keeps_level:
                found.setdefault(way.time.zone.id, []).append(place)
        return tuple(self._zone(tuple(places)) for places in found.values())

    def _zone(self, places: tuple[int, ...]) -> ZoneRan:
        way = self.told.season.ways[places[0]]
        assert way.time is not None
        assert way.push is not None
        zone = way.time.zone
        lines = first_run.outlets_along(zone)
        flow = way.push.usual.state.outlet_flow
        given = np.array([float(flow[outlets].sum()) for outlets in lines.values()])
        weights = given / max(float(given.sum()), 1e-12)
        planned = np.array(
            [np.mean([zone.outlets[k].pipe.outlet_factor for k in own]) for own in lines.values()]
        )
        return ZoneRan(zone, way.time, places, self._minutes(way), lines, weights, planned)

    def _minutes(self, way: Watered) -> Floats:
        logged = self.told.minutes(way)
        assert way.time is not None
        head = way.time.zone.head
        before = way.day_runs.minutes
        if isinstance(head, Timer) and head.set_minutes is not None and not self.told.is_set(way):
            every = np.arange(len(logged)) % max(1, head.set_every_d) == 0
            before = every * head.set_minutes / 60.0 * head.set_starts
            before = np.where(way.need.is_growing, before, 0.0)
        return np.where(np.isnan(logged), before, logged) + self.told.by_hand(way)

    def cans(self, part_id: str) -> Floats:
        """Litres that a bed or pots were given by hand on each day, by the log. [L]"""
        found = np.zeros(len(self.told.record.days))
        for _, entry in self.of_kind("watered", part_id):
            found[self.told.day(entry.at)] += (entry.amounts[0] or 0.0) * LITRES_PER_CUBIC_METRE
        return found

    def of_kind(self, kind: str, *part_ids: str) -> Sequence[tuple[int, LogEntry]]:
        """Entries of a sort about some parts, with their places in the log, of this year."""
        return [found for found in self._by_kind.get(kind, ()) if found[1].part_id in part_ids]

    @cached_property
    def _by_kind(self) -> dict[str, list[tuple[int, LogEntry]]]:
        """Entries of this year, with their places in the log, by sort."""
        found: dict[str, list[tuple[int, LogEntry]]] = {}
        for place, entry in enumerate(self.told.log):
            if self.told.holds(entry.at):
                found.setdefault(entry.kind, []).append((place, entry))
        return found
