"""The root zones of a zone's beds, a lane a year, on which settings are tried month by month."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from euhydra.core import programme
from euhydra.core.programme import Trial
from euhydra.core.schedule import Position
from euhydra.core.tried_days import TriedGround
from euhydra.core.weather import DailyWeather
from euhydra.planner.need.daily import Need
from euhydra.planner.same import Asked, by_itself, kept
from euhydra.planner.time.design import BedShare, Design
from euhydra.planner.time.programme import weekday_of

Floats = NDArray[np.float64]
Flags = NDArray[np.bool_]
Integers = NDArray[np.intp]


MONTHS_KEPT = 72
"""Months of records whose days are kept: those of six."""

GROUNDS_KEPT = 72
"""Months of beds that are kept: those of three, on years that are made up and on the record's."""


@dataclass
class RootLanes:
    """The root zones of one bed, a lane a year, handed on from month to month.

    ends : Days after which a month ended, and the depletion then. [d], [mm]
    """

    bed: BedShare
    ends: tuple[Integers, Floats] | None = None

    @classmethod
    def of(cls, bed: BedShare) -> "RootLanes":
        """Full of water, before the first month."""
        return cls(bed)

    def days(self, month: int) -> Integers:
        """Positions of a month's days in the record; [day, year]."""
        return _month_of(by_itself(self.bed.need.record), month).index

    def ground(self, month: int) -> TriedGround:
        """The bed over a month, but for days on which something in it is new."""
        ground = _ground_of(by_itself(self.bed.need), month)
        return replace(ground, depth_per_litre=self.bed.depth_per_litre)

    def start(self, month: int) -> Floats:
        """Depletion on the evening before each year's month; nothing where that is not known. [mm]

        Returns
        -------
        [year], or [candidate, year] where each candidate has a year of its own behind it.
        """
        firsts = self.days(month)[0]
        if self.ends is None:
            return np.zeros(len(firsts))
        ended, depletion = self.ends
        at = np.clip(np.searchsorted(ended, firsts, side="right") - 1, 0, None)
        is_next = (firsts - ended[at] >= 0) & (firsts - ended[at] <= 2)
        return np.where(is_next, depletion[..., at], 0.0)

    def leave(self, month: int, depletion: Floats) -> None:
        """Hand the root zones on as this month left them; [year], or [candidate, year]. [mm]"""
        self.ends = self.days(month)[-1] + 1, depletion


@dataclass(frozen=True)
class _Month:
    """A month of each year of a record; [day, year].

    index : Positions of its days in the record.
    since : Days since its first. [d]
    weekday : Monday 0.
    rain : [mm]
    """

    index: Integers
    since: Integers
    weekday: Integers
    rain: Floats


@kept(MONTHS_KEPT)
def _month_of(asked: Asked[DailyWeather], month: int) -> _Month:
    record, months = asked.what, asked.what.month
    firsts = np.flatnonzero((months == month) & (np.r_[0, months[:-1]] != month))
    length = {2: 28, 4: 30, 6: 30, 9: 30, 11: 30}.get(month, 31)
    whole = firsts[firsts + length <= len(months)]
    index = (whole if len(whole) else firsts)[None, :] + np.arange(length)[:, None]
    index = np.minimum(index, len(months) - 1)
    since = np.broadcast_to(np.arange(length)[:, None], index.shape)
    return _Month(index, since, weekday_of(record.days[index]), record.precip[index])


@kept(MONTHS_KEPT)
def _paused(asked: Asked[DailyWeather], month: int, a_day: float, steps: tuple[int, ...]) -> Flags:
    return programme.paused_by_rain(_month_of(asked, month).rain, a_day, steps)


@kept(GROUNDS_KEPT)
def _ground_of(asked: Asked[Need], month: int) -> TriedGround:
    """Of a litre into the zone that brings a millimetre."""
    need = asked.what
    index = _month_of(by_itself(need.record), month).index
    return TriedGround(
        need.rain[index],
        need.crop_et[index],
        need.total[index],
        need.ready[index],
        need.is_growing[index] & ~need.is_new[index],
        1.0,
        need.steps,
    )


def trials(
    month: int, design: Design, lanes: Sequence["RootLanes"], positions: Sequence[Position]
) -> list[Trial]:
    """What each position does to each bed of the zone, over that month of every year."""
    litres = _litres(month, design, positions)
    runs = np.array([p.runs_a_day for p in positions])
    minutes = np.array([p.run_minutes for p in positions])
    grounds = [lane.ground(month) for lane in lanes]
    found: dict[int, Trial] = {}
    for steps in {ground.steps for ground in grounds}:
        alike = [i for i, ground in enumerate(grounds) if ground.steps == steps]
        tried = programme.try_on(
            [grounds[i] for i in alike],
            litres,
            runs,
            [design.sinks_in(lanes[i].bed, minutes, month) for i in alike],
            [lanes[i].start(month) for i in alike],
            design.timer.gives,
        )
        found |= dict(zip(alike, tried, strict=True))
    return [found[i] for i in range(len(lanes))]


def _litres(month: int, design: Design, positions: Sequence[Position]) -> Floats:
    """Litres into the zone, [day, candidate, year]; none on days paused after rain."""
    record = by_itself(design.beds[0].need.record)
    days = _month_of(record, month)
    runs = ~_paused(record, month, design.rain_a_day[month - 1], design.pauses)
    # Settings that differ in minutes alone run on the same days.
    rhythms = [(position.interval_days, position.weekdays) for position in positions]
    first = dict(zip(rhythms, positions, strict=True))
    on = [each.waters_on(days.since, days.weekday) & runs for each in first.values()]
    place = {rhythm: i for i, rhythm in enumerate(first)}
    each_run = np.array([design.litres(p.minutes_a_day, month) for p in positions])
    which = [place[rhythm] for rhythm in rhythms]
    return np.asarray(np.stack(on, axis=1)[:, which] * each_run[:, None])
