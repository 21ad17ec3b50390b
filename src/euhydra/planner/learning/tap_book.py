"""A tap's water by the log: what its timers, cans and top-ups take by their settings, beside its meter."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from euhydra.core.constants import LITRES_PER_CUBIC_METRE
from euhydra.garden.sources import Tap
from euhydra.planner.learning.flows import ZoneFlow, drawn_by
from euhydra.planner.learning.ran import Ran, ZoneRan

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class TapBook:
    """Everything that is taken from one tap through the logged year. Litres of each day."""

    ran: Ran
    flows: Mapping[str, ZoneFlow]
    tap: Tap

    @cached_property
    def zones(self) -> tuple[ZoneRan, ...]:
        """Those with a timer on it."""
        return tuple(z for z in self.ran.zones if z.zone.source.id == self.tap.id and z.is_timed)

    @cached_property
    def as_set(self) -> list[Floats]:
        """What each zone takes by its setting, were its lines to give what the plan has them give."""
        return [zone.litres(self.ran.told.record.month) for zone in self.zones]

    @cached_property
    def drawn(self) -> list[Floats]:
        """What each took by all that was measured at it."""
        pairs = zip(self.zones, self.as_set, strict=True)
        return [drawn_by(self.flows[zone.zone.id], litres) for zone, litres in pairs]

    @cached_property
    def cans(self) -> Floats:
        """Carried from it by hand."""
        planted = self.ran.told.chain.garden.planted
        own = (self.ran.cans(part.id) for part in planted if self._is_carried_from(part))
        return np.asarray(sum(own, self._nothing))

    @cached_property
    def other(self) -> Floats:
        """What the plan takes from it beside those zones: for beds with another source first, and to top up."""
        season, taps = self.ran.told.season, self._places
        own = {place for zone in self.zones for place in zone.ways}
        taken = self._nothing
        for place, watering in enumerate(season.works.waterings):
            for source, litres in zip(watering.sources, season.run.given[place], strict=True):
                if place not in own and isinstance(source, int) and source in taps:
                    taken = taken + litres
        for top_up, litres in zip(season.works.top_ups, season.run.topped, strict=True):
            if top_up.supply in taps:
                taken = taken + litres
        return np.asarray(taken)

    @cached_property
    def lump(self) -> float:
        """The most that a store takes from it at once when it is filled up: on which day, nobody writes down. [L]"""
        tops = self.ran.told.season.works.top_ups
        return max((t.up_to - t.below for t in tops if t.supply in self._places), default=0.0)

    @property
    def _places(self) -> set[int]:
        """Its places among the season's supplies."""
        supplies = self.ran.told.season.supplies
        return {i for i, part in enumerate(supplies) if part.id == self.tap.id}

    @cached_property
    def intervals(self) -> tuple[tuple[int, int, float], ...]:
        """First day, day after the last, and litres between two readings of its meter."""
        found = []
        readings = self.ran.of_kind("meter", self.tap.id)
        for (_, before), (_, after) in pairwise(readings):
            first, last = self.ran.told.next_run(before.at), self.ran.told.next_run(after.at)
            if after.word == "new" or last <= first:
                continue
            used = (after.amounts[0] or 0.0) - (before.amounts[0] or 0.0)
            found.append((first, last, used * LITRES_PER_CUBIC_METRE))
        return tuple(found)

    @property
    def _nothing(self) -> Floats:
        return np.zeros(len(self.ran.told.record.days))

    def _is_carried_from(self, part: object) -> bool:
        by_hand = getattr(part, "hand_from", None)
        sources = getattr(part, "sources", ())
        return by_hand == self.tap.id or (by_hand is None and self.tap.id in sources)
