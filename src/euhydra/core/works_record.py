"""Stores, sources and beds through a whole record, its years side by side.

What a store holds in the morning is all that one day knows of the days before. So the record is cut
into pieces of a year, which begin from a guess, full stores, and are lived through together; then
those that began otherwise than the one before them ended are lived through again from there, until
they come to what they came to before, as they do once the store has been full or dry. In the end
each begins where the one before it ended: what is found is what day after day would find.
"""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from euhydra.core.store import LEVEL_DUST
from euhydra.core.waterworks import Waterworks, WaterworksRun
from euhydra.core.works_days import Lanes, Litres, WorksDays, Written

Floats = NDArray[np.float64]
Flags = NDArray[np.bool_]
Integers = NDArray[np.intp]

WEEK = 7
"""Pieces are whole weeks long, so that timers run on the same steps of all of them. [d]"""

YEAR = 365.2425
"""[d]"""

FEWEST = 8
"""Years from which on they are quicker side by side than day by day. Measured."""

NO_TANK = -1
"""Position of the tank that is widened where none is."""

MONTH = 28
"""Days from one comparison with what was found before to the next. [d]"""


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
    if widths is not None:
        return _SideBySide(works, widths, widened).run().run_of(works)
    if works.length < FEWEST * YEAR:
        return _day_by_day(works)
    plain = _SideBySide(works, np.ones(1), NO_TANK).run()
    return plain.each(lambda daily: daily[:, 0]).run_of(works)


def _day_by_day(works: Waterworks) -> WaterworksRun:
    days = WorksDays(works)
    for day, is_still in enumerate(_still_days(works).tolist()):
        if is_still:
            days.stand_still(day)
        else:
            days.live_through(day)
    return days.so_far()


def _still_days(works: Waterworks) -> Flags:
    """Days on which nothing comes, nobody wants any and nothing dries: all stands as it stood."""
    still = np.arange(works.length) > 0  # on the first a store may be fuller than it holds
    comes = [tank.inflow for tank in works.tanks]
    comes += [tank.dries for tank in works.tanks if tank.dries is not None]
    comes += [watering.asked for watering in works.waterings]
    for litres in comes:
        still &= litres == 0
    for is_due in [t.is_due for t in works.top_ups] + [t.is_due for t in works.transfers]:
        still &= False if is_due is None else ~is_due
    return still


def _beginnings(works: Waterworks) -> Integers:
    """First day of each piece, at the time of the year at which stores are fullest, the guess."""
    gains = np.zeros(works.length)
    for tank in works.tanks:
        gains += tank.inflow
    for watering in works.waterings:
        gains -= watering.asked
    day_of_year = (np.arange(works.length) % YEAR).astype(np.intp)
    usual = np.bincount(day_of_year, gains) / np.bincount(day_of_year)
    fullest = int(np.argmax(np.cumsum(usual - usual.mean()))) + 1
    years = np.arange(int(works.length // YEAR) + 1)
    found = np.rint((fullest + years * YEAR) / WEEK).astype(np.intp) * WEEK
    return np.unique(np.append(0, found[found < works.length]))


class _SideBySide:
    """The pieces of a record under many widths of one tank, run until each begins as it should."""

    def __init__(self, works: Waterworks, widths: Floats, widened: int) -> None:
        self.works, self.widths, self.widened = works, widths, widened
        self.beginnings = _beginnings(works)
        self.ends = np.append(self.beginnings[1:], works.length)
        days = self.beginnings + np.arange((self.ends - self.beginnings).max())[:, None]
        self.days = np.where(days < self.ends, days, -1)
        self.is_still = np.append(_still_days(works), True)[self.days]
        self.written = Written.blank(works, lambda: np.zeros((works.length + 1, len(widths))))

    def run(self) -> Written[Floats]:
        """What happened on each day under each width. [day, width]"""
        pieces = np.arange(len(self.beginnings))
        every = np.arange(len(self.widths))
        begins = [self._guess(i) for i in range(len(self.works.tanks))]
        level = begins
        stretch = len(self.days) if len(every) == 1 else MONTH
        for first in range(0, len(self.days), stretch):
            level = self._live(slice(first, first + stretch), pieces, every, level)
        while True:
            should = [self._after(*each) for each in enumerate(begins)]
            off = _differ(begins, should)
            if not off.any():
                return self.written.each(lambda daily: daily[:-1])
            self._live_again(off, should)
            begins = should

    def _guess(self, tank: int) -> Floats:
        """Level that each piece begins with: the first as it is, the others full. [L]"""
        own = self.works.tanks[tank]
        widths = self.widths if tank == self.widened else np.ones(1)
        return np.where(self.beginnings == 0, own.start, own.capacity)[:, None] * widths

    def _after(self, tank: int, begun: Floats) -> Floats:
        """Level with which each piece should have begun: that with which the one before ended. [L]"""
        ends = self.written.level[tank][self.ends - 1]
        return np.concatenate([np.broadcast_to(begun[:1], ends[:1].shape), ends[:-1]])

    def _live_again(self, off: Flags, begins: Sequence[Floats]) -> None:
        """What began otherwise, month by month, as long as it comes to something else than before."""
        pieces, widths = np.arange(off.shape[0]), np.arange(off.shape[1])
        level = list(begins)
        for first in range(0, len(self.days), MONTH):
            kept, wide = off.any(axis=1), off.any(axis=0)
            pieces, widths = pieces[kept], widths[wide]
            level = [each[kept][:, wide] for each in level]
            evening = np.minimum(self.beginnings + first + MONTH, self.ends)[pieces, None] - 1
            before = [daily[evening, widths] for daily in self.written.level]
            level = self._live(slice(first, first + MONTH), pieces, widths, level)
            off = _differ(level, before)
            if not off.any():
                return

    def _live(
        self, steps: slice, pieces: Integers, widths: Integers, begins: Sequence[Floats]
    ) -> list[Floats]:
        """Some steps of some pieces under some widths; the level of each tank after the last. [L]"""
        days = self.days[steps][:, pieces]
        lanes = Lanes(days, self.widths[widths], self.widened)
        lived = WorksDays(self.works, lanes, begins)
        still = np.asarray(self.is_still[steps][:, pieces].all(axis=1))
        for step, is_still in enumerate(still.tolist()):
            if is_still:
                lived.stand_still(step)
            else:
                lived.live_through(step)
        for values, own in zip(self.written.series, lived.written.series, strict=True):
            _write(values, days, widths, own)
        return lived.level


def _write(values: Floats, days: Integers, widths: Integers, steps: list[Litres]) -> None:
    """What lanes wrote step by step, to its days at once: day by day it takes as long as they do."""
    there = [litres for litres in steps if isinstance(litres, np.ndarray)]
    shape = max((litres.shape for litres in there), default=(days.shape[1], 1))
    none = np.zeros(shape)
    rows = [none if isinstance(litres, float) else litres for litres in steps]
    rows = [row if row.shape == shape else np.broadcast_to(row, shape) for row in rows]
    found = np.concatenate(rows).reshape(len(rows), *shape)
    if len(widths) == values.shape[1]:
        values[days] = found
    else:
        values[days[:, :, None], widths] = found


def _differ(levels: Sequence[Floats], others: Sequence[Floats]) -> Flags:
    """Lanes in which any tank stands otherwise. [piece, width]"""
    off = np.zeros(others[0].shape, dtype=np.bool_) if others else np.zeros((1, 1), dtype=np.bool_)
    for level, other in zip(levels, others, strict=True):
        off |= np.abs(level - other) > LEVEL_DUST
    return off
