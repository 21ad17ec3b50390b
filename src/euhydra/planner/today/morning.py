"""What is known this morning: the log as one state, the roots as it leaves them, and the days ahead."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from euhydra.core.foretelling import DAYS
from euhydra.core.weather import DailyWeather
from euhydra.planner.answers import Gap
from euhydra.planner.keeping.hindcast import BedTrack
from euhydra.planner.learning.answer import Learned
from euhydra.planner.learning.ran import ZoneRan
from euhydra.planner.need import daily
from euhydra.planner.time.design import BedShare
from euhydra.planner.today.ahead import Ahead
from euhydra.planner.today.roots_now import RootsNow, roots_now

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Morning:
    """What is known of the garden, and the days ahead.

    many : Weather of the years that are looked ahead on.
    """

    learned: Learned
    many: DailyWeather
    ahead: Ahead

    def share(self, track: BedTrack) -> BedShare:
        """A bed in those years, as its zone waters it; as a hand does where none does."""
        part, time = track.way.need.part, track.way.time
        if time is not None:
            return next(b for b in time.chosen_on.beds if b.need.part.id == part.id)
        garden, wetted = self.learned.told.chain.garden, track.way.need.wetted
        return BedShare(daily.need_of(part, garden, self.many, wetted), 1.0, 1.0)

    @cached_property
    def places(self) -> Mapping[str, int]:
        """Of each bed and pots among the season's ways, by id."""
        ways = self.learned.told.season.ways
        return {way.need.part.id: place for place, way in enumerate(ways)}

    @cached_property
    def _roots(self) -> dict[int, RootsNow]:
        return {}

    def roots(self, track: BedTrack) -> RootsNow:
        """What may be gone from its roots."""
        place = self.places[track.way.need.part.id]
        if place not in self._roots:
            self._roots[place] = roots_now(self.learned, place, self.many)
        return self._roots[place]

    def grows(self, track: BedTrack) -> bool:
        """Whether it is in season in these days."""
        return bool(self.share(track).need.is_growing[self.ahead.index].any())

    def water_of(self, ran: ZoneRan) -> tuple[float | None, float]:
        """What its store holds, and what comes into it on a mean day of the week. [L]

        None on a tap, and where nothing tells what the store holds.
        """
        group = ran.zone.group
        if group is None:
            return None, 0.0
        tank, store = next(
            (i, s) for i, s in enumerate(self.learned.stores) if s.group.id == group.id
        )
        comes = float(self.comes(tank).mean()) / DAYS
        return float(store.water[-1]) if self.learned.knows(store) else None, comes

    def comes(self, tank: int) -> Floats:
        """Into a store in the coming days, of each year. [L]"""
        chain = self.learned.told.chain
        if isinstance(chain.season, Gap) or chain.record is None:
            return np.zeros(1)
        inflow, rain = chain.season.works.tanks[tank].inflow, float(chain.record.precip.sum())
        a_millimetre = float(inflow.sum()) / rain if rain > 0 else 0.0
        fell = np.where(
            np.isnan(self.ahead.rain), self.many.precip[self.ahead.index], self.ahead.rain
        )
        return np.asarray(fell.sum(axis=0) * a_millimetre)
