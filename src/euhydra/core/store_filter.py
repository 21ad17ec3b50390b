"""A store through dips: its water, what its roof brings, what is drawn and what leaks, with how sure they are.

A bank of extended Kalman filters, one for each explanation of when something began and ended; how
likely the dips are under each weighs them.

References
----------
Magill (1965), Optimal adaptive estimation of sampled stochastic processes, IEEE Transactions on
Automatic Control 10: a bank of filters weighed by their evidence. From memory.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import log, pi

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Flags = NDArray[np.bool_]

WATER, ROOF, DRAWN, EXTRA = range(4)
"""Places of the state: litres, factor on inflow, factor on what is drawn, and the fault's own size."""

INFLOW_NOISE = 0.08
"""Of a day's inflow, beside the factor that holds for all. [-] Gauge and roof differ storm by storm."""

DRAWN_NOISE = 0.06
"""Of a day's draws, beside the factor that holds for all. [-]"""

DAY_NOISE = 0.3
"""What else goes in or out in a day. [L]"""

START_SPREAD = 0.25
"""Of the capacity: how far the water before the first day may lie from what it is taken for. [-]"""

DIP_STRAY = 5.0
"""Standard deviations off from which on a dip is passed over. Our choice."""


@dataclass(frozen=True)
class StoreDays:
    """What comes and goes by the plan; arrays of one entry a day. [L]

    capacity, dead : To the overflow, and under the outlet.
    inflow : From roofs and from stores above.
    drawn : What is asked of it with water there.
    dries : What sun and wind take.
    topped : Below which water it is filled up from a tap, and up to which; None where it is not.
    dips : Index of the day, volume, and its standard deviation, in the order of days.
    """

    capacity: float
    dead: float
    inflow: Floats
    drawn: Floats
    dries: Floats
    topped: tuple[float, float] | None
    dips: tuple[tuple[int, float, float], ...]


@dataclass(frozen=True)
class Beforehand:
    """Means and standard deviations of the factors on inflow and draws, and of each fault's size.

    leak : [L d⁻¹]
    setting : Change of the share that is drawn. [-]
    """

    roof: tuple[float, float]
    drawn: tuple[float, float]
    leak: tuple[float, float]
    setting: tuple[float, float]


@dataclass(frozen=True)
class Bank:
    """What each explanation comes to.

    log_evidence : Of each.
    mean, deviation : On the last day. [explanation, place of the state]
    level, drawn, spilled : Mean water each evening, and what was drawn and spilled on each day.
        [day, explanation] [L]
    strays : Indices of dips that no explanation fits.
    """

    log_evidence: Floats
    mean: Floats
    deviation: Floats
    level: Floats
    drawn: Floats
    spilled: Floats
    strays: tuple[int, ...]


def run_bank(days: StoreDays, on: Floats, is_leak: Flags, before: Beforehand, start: float) -> Bank:
    """Filter the dips under each explanation.

    A dip that no explanation fits is passed over, unless the next one does not fit either, or none comes
    after it: then somebody filled or emptied the store, and it goes on from there.

    Parameters
    ----------
    on : Share of each day on which the fault is at work. [explanation, day] [-]
    is_leak : Whether the fault takes litres a day; else a share of what is drawn. [explanation]
    start : Water before the first day. [L]
    """
    bank = _Filters(days, on, is_leak, before, start).run(frozenset())
    changed = _changed_by_hand(bank.strays, len(days.dips))
    return _Filters(days, on, is_leak, before, start).run(changed) if changed else bank


def _changed_by_hand(strays: Sequence[int], dips: int) -> frozenset[int]:
    """The first of each row of dips that do not fit: of two at least, or up to the last."""
    found = set()
    for place in strays:
        is_first = place - 1 not in strays
        if is_first and (place + 1 in strays or place + 1 == dips):
            found.add(place)
    return frozenset(found)


class _Filters:
    """The filters side by side: every array has the explanation last.

    Of the covariance only what the water has with the state changes from day to day; what the factors
    and the fault have among themselves changes with dips alone.

    mean : Of each place of the state. [place, explanation]
    row : Covariance of the water with each place. [place, explanation]
    block : Covariances of the other places. [place, place, explanation]
    """

    def __init__(
        self, days: StoreDays, on: Floats, is_leak: Flags, before: Beforehand, start: float
    ) -> None:
        lanes = len(on)
        self.days = days
        self.leaking = (on * is_leak[:, None]).T
        self.changing = (on * ~is_leak[:, None]).T
        extra = np.where(is_leak[:, None], before.leak, before.setting).T
        ones = np.ones(lanes)
        self.mean = np.array(
            [start * ones, before.roof[0] * ones, before.drawn[0] * ones, extra[0]]
        )
        self.row = np.zeros((4, lanes))
        self.row[WATER] = (START_SPREAD * days.capacity) ** 2
        self.block = np.zeros((3, 3, lanes))
        for place, spread in enumerate((before.roof[1] * ones, before.drawn[1] * ones, extra[1])):
            self.block[place, place] = spread**2
        self.log_evidence = np.zeros(lanes)
        self.turn = np.empty((3, lanes))

    def run(self, changed: frozenset[int]) -> Bank:
        """One pass; at dips that are `changed` the water is as dipped, which tells nothing of the rest."""
        length, lanes = self.leaking.shape
        level, drawn, spilled = np.empty((3, length, lanes))
        dips = {
            day: (place, volume, noise) for place, (day, volume, noise) in enumerate(self.days.dips)
        }
        strays = []
        for day in range(length):
            drawn[day], spilled[day] = self._live_through(day)
            if day in dips:
                place, volume, noise = dips[day]
                if not self._take(volume, noise):
                    strays.append(place)
                    if place in changed:
                        self._begin_anew(volume, noise)
            level[day] = self.mean[WATER]
        variance = np.vstack([self.row[:1], np.einsum("iik->ik", self.block)])
        deviation = np.sqrt(np.maximum(variance, 0.0))
        return Bank(
            self.log_evidence, self.mean.T, deviation.T, level, drawn, spilled, tuple(strays)
        )

    def _live_through(self, day: int) -> tuple[Floats, Floats]:
        """A day's water; what was drawn and what spilled. [L]"""
        days, mean = self.days, self.mean
        inflow, drawn = float(days.inflow[day]), float(days.drawn[day])
        leaking, changing = self.leaking[day], self.changing[day]
        there = np.maximum(mean[WATER] - days.dead, 0.0)
        asked = np.maximum(mean[DRAWN] + mean[EXTRA] * changing, 0.0) * drawn
        # No water from an empty store: what is not there is not drawn, and says nothing of the factor.
        taken = np.minimum(asked, there)
        is_short = asked > there
        self._spread(inflow, drawn, taken, is_short, leaking, changing)
        leaks = np.minimum(mean[EXTRA] * leaking, mean[WATER] - taken)
        water = mean[WATER] + mean[ROOF] * inflow - taken - leaks - float(days.dries[day])
        over = np.maximum(water - days.capacity, 0.0)
        np.minimum(np.maximum(water, 0.0), days.capacity, out=mean[WATER])
        held = (water >= days.capacity) | (water <= 0)
        if held.any():
            # Full or empty it is known, whatever the factors are.
            slack = 0.02 * days.capacity / (1.0 + over / max(0.05 * days.capacity, 1.0))
            self.row[:, held] = 0.0
            self.row[WATER, held] = slack[held] ** 2
        if days.topped is not None:
            below, up_to = days.topped
            is_topped = mean[WATER] < below
            mean[WATER, is_topped] = up_to
            self.row[WATER, is_topped] += (0.2 * (up_to - below)) ** 2
        return taken, over

    def _spread(
        self,
        inflow: float,
        drawn: float,
        taken: Floats,
        is_short: Flags,
        leaking: Floats,
        changing: Floats,
    ) -> None:
        """Covariance of the next day, J P Jᵀ: of the state only the water turns, all else stays."""
        turn, row = self.turn, self.row
        turn[0] = inflow
        np.multiply(~is_short, -drawn, out=turn[1])
        turn[2] = turn[1] * changing - leaking
        stays = np.where(is_short, 0.1, 1.0)
        old = np.einsum("ik,ik->k", turn, row[1:])
        row[1:] = stays * row[1:] + np.einsum("ik,ijk->jk", turn, self.block)
        row[WATER] = stays * (stays * row[WATER] + old) + np.einsum("ik,ik->k", turn, row[1:])
        row[WATER] += (INFLOW_NOISE * inflow) ** 2 + (DRAWN_NOISE * taken) ** 2 + DAY_NOISE**2

    def _take(self, volume: float, noise: float) -> bool:
        """Learn of a dip, unless no explanation fits it; whether one does."""
        off = volume - self.mean[WATER]
        variance = self.row[WATER] + noise**2
        if float((off**2 / variance).min()) > DIP_STRAY**2:
            return False
        self.log_evidence -= 0.5 * (off**2 / variance + np.log(variance) + log(2 * pi))
        gain = self.row / variance
        self.mean += gain * off
        self.block -= gain[1:, None] * self.row[None, 1:]
        self.row -= gain[WATER] * self.row
        return True

    def _begin_anew(self, volume: float, noise: float) -> None:
        self.mean[WATER] = volume
        self.row[:] = 0.0
        self.row[WATER] = noise**2
