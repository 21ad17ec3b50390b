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
    """Of the factors on inflow and draws, and of the fault's size: means and standard deviations."""

    roof: tuple[float, float]
    drawn: tuple[float, float]
    extra: tuple[float, float]


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


def run_bank(days: StoreDays, on: Floats, is_leak: bool, before: Beforehand, start: float) -> Bank:
    """Filter the dips under each explanation.

    A dip that no explanation fits is passed over, unless the next one does not fit either, or none comes
    after it: then somebody filled or emptied the store, and it goes on from there.

    Parameters
    ----------
    on : Share of each day on which the fault is at work. [explanation, day] [-]
    is_leak : Whether the fault takes litres a day; else a share of what is drawn.
    start : Water before the first day. [L]
    """
    bank = _run(days, on, is_leak, before, start, frozenset())
    changed = _changed_by_hand(bank.strays, len(days.dips))
    return _run(days, on, is_leak, before, start, changed) if changed else bank


def _changed_by_hand(strays: Sequence[int], dips: int) -> frozenset[int]:
    """The first of each row of dips that do not fit: of two at least, or up to the last."""
    found = set()
    for place in strays:
        is_first = place - 1 not in strays
        if is_first and (place + 1 in strays or place + 1 == dips):
            found.add(place)
    return frozenset(found)


def _run(
    days: StoreDays,
    on: Floats,
    is_leak: bool,
    before: Beforehand,
    start: float,
    changed: frozenset[int],
) -> Bank:
    """One pass; at dips that are `changed` the water is as dipped, which tells nothing of the rest."""
    lanes, length = on.shape
    mean = np.tile([start, before.roof[0], before.drawn[0], before.extra[0]], (lanes, 1))
    spread = np.array([0.25 * days.capacity, before.roof[1], before.drawn[1], before.extra[1]])
    cov = np.tile(np.diag(spread**2), (lanes, 1, 1))
    evidence = np.zeros(lanes)
    level, given, over = (np.zeros((length, lanes)) for _ in range(3))
    dips = {day: (place, volume, noise) for place, (day, volume, noise) in enumerate(days.dips)}
    strays = []
    steps = zip(days.inflow.tolist(), days.drawn.tolist(), days.dries.tolist(), on.T, strict=True)
    for day, (inflow, drawn, dries, at_work) in enumerate(steps):
        mean, cov, given[day], over[day] = _next_day(
            days, mean, cov, inflow, drawn, dries, at_work, is_leak
        )
        if day in dips:
            place, volume, noise = dips[day]
            off = volume - mean[:, WATER]
            variance = cov[:, WATER, WATER] + noise**2
            if float((off**2 / variance).min()) > DIP_STRAY**2:
                strays.append(place)
                if place in changed:
                    mean[:, WATER] = volume
                    cov[:, WATER, :] = cov[:, :, WATER] = 0.0
                    cov[:, WATER, WATER] = noise**2
            else:
                evidence -= 0.5 * (off**2 / variance + np.log(variance) + log(2 * pi))
                mean, cov = _corrected(mean, cov, off, variance)
        level[day] = mean[:, WATER]
    deviation = np.sqrt(np.maximum(np.einsum("kii->ki", cov), 0.0))
    return Bank(evidence, mean, deviation, level, given, over, tuple(strays))


def _next_day(
    days: StoreDays,
    mean: Floats,
    cov: Floats,
    inflow: float,
    drawn: float,
    dries: float,
    at_work: Floats,
    is_leak: bool,
) -> tuple[Floats, Floats, Floats, Floats]:
    lanes = len(mean)
    there = np.maximum(mean[:, WATER] - days.dead, 0.0)
    factor = mean[:, DRAWN] + (0.0 if is_leak else mean[:, EXTRA] * at_work)
    asked = np.maximum(factor, 0.0) * drawn
    # No water from an empty store: what is not there is not drawn, and says nothing of the factor.
    taken = np.minimum(asked, there)
    is_short = asked > there
    leaks = np.minimum(mean[:, EXTRA] * at_work, mean[:, WATER] - taken) if is_leak else 0.0
    turn = np.empty((lanes, 4))  # how the water follows from the state of the day before
    turn[:, WATER] = np.where(is_short, 0.1, 1.0)
    turn[:, ROOF] = inflow
    turn[:, DRAWN] = np.where(is_short, 0.0, -drawn)
    turn[:, EXTRA] = -at_work if is_leak else np.where(is_short, 0.0, -drawn * at_work)
    cov = _turned(cov, turn)
    cov[:, WATER, WATER] += (INFLOW_NOISE * inflow) ** 2 + (DRAWN_NOISE * taken) ** 2 + DAY_NOISE**2
    water = mean[:, WATER] + mean[:, ROOF] * inflow - taken - leaks - dries
    is_full = water >= days.capacity
    held = is_full | (water <= 0)
    mean = mean.copy()
    mean[:, WATER] = np.minimum(np.maximum(water, 0.0), days.capacity)
    over = np.maximum(water - days.capacity, 0.0)
    if held.any():
        # Full or empty it is known, whatever the factors are.
        cov[held, WATER, :] = 0.0
        cov[held, :, WATER] = 0.0
        slack = 0.02 * days.capacity / (1.0 + over / max(0.05 * days.capacity, 1.0))
        cov[:, WATER, WATER] += np.where(held, slack**2, 0.0)
    if days.topped is not None:
        below, up_to = days.topped
        is_topped = mean[:, WATER] < below
        mean[is_topped, WATER] = up_to
        cov[is_topped, WATER, WATER] += (0.2 * (up_to - below)) ** 2
    return mean, cov, taken, over


def _turned(cov: Floats, turn: Floats) -> Floats:
    """Covariance of the next day, J P Jᵀ: of the state only the water turns, all else stays."""
    row = np.matmul(turn[:, None, :], cov)[:, 0, :]
    after = cov.copy()
    after[:, WATER, :] = row
    after[:, :, WATER] = row
    after[:, WATER, WATER] = np.einsum("ki,ki->k", row, turn)
    return after


def _corrected(mean: Floats, cov: Floats, off: Floats, variance: Floats) -> tuple[Floats, Floats]:
    gain = cov[:, :, WATER] / variance[:, None]
    mean = mean + gain * off[:, None]
    cov = cov - gain[:, :, None] * cov[:, None, WATER, :]
    return mean, cov
