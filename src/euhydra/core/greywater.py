"""Water from washing through a surge drum, minute by minute."""

from collections import deque
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

MINUTES_PER_HOUR = 60

LOAD_DISCHARGES = ((15, 0.4), (35, 0.3), (50, 0.3))
"""Minute after the start of a load, and share of its water, of each emptying. Common practice:
one wash and two rinses."""

EMPTYING_MINUTES = 1
"""Time a machine's pump takes to empty it once. [min] Common practice: some 20 litres a minute."""

STANDING_SHARE = 0.01
"""Share of the drum under which what is left is a wet bottom, not standing water. [-] Our choice."""

DUST = 1e-6
"""Litres that do not count as water. [L]"""

Outlet = Callable[[float], float]
"""Litres that leave in a minute from a drum that holds so many litres."""


def wash_inflow(load: float, starts: list[int], minutes: int) -> Floats:
    """Water that loads of a washing machine bring, minute by minute.

    Parameters
    ----------
    load : Water of one load. [L]
    starts : Minute at which each load begins.
    minutes : Length of the record.

    Returns
    -------
    Litres of each minute. [L]
    """
    inflow = np.zeros(minutes)
    for start in starts:
        for after, share in LOAD_DISCHARGES:
            first = start + after
            last = min(first + EMPTYING_MINUTES, minutes)
            inflow[first:last] += load * share / EMPTYING_MINUTES
    return inflow


def steady_inflow(litres: float, start: int, length: int, minutes: int) -> Floats:
    """Water that runs evenly for a while, such as a shower.

    Parameters
    ----------
    litres : In all. [L]
    start, length : Minute at which it begins, and how many it lasts.
    minutes : Length of the record.

    Returns
    -------
    Litres of each minute. [L]
    """
    inflow = np.zeros(minutes)
    inflow[start : start + length] = litres / length
    return inflow


@dataclass(frozen=True)
class DrumRun:
    """A surge drum minute by minute.

    level, out, overflow : At the end of each minute; gone to the bed; run over. [L]
    starts : Times that the pump began to run; 0 with a gravity outlet.
    is_pumped : Whether a pump empties it.
    oldest_hours : Longest that any water stayed, first in, first out. [h]
    left : Litres at the end. [L]
    """

    level: Floats
    out: Floats
    overflow: Floats
    starts: int
    oldest_hours: float
    is_pumped: bool = False

    @property
    def left(self) -> float:
        """Water at the end of the record. [L]"""
        return float(self.level[-1])


class FloatPump:
    """A pump with a float switch: runs from the upper level down to the lower one."""

    def __init__(self, gives: Outlet, on: float, off: float) -> None:
        """Ready to run.

        Parameters
        ----------
        gives : What it pumps in a minute at a level.
        on, off : Volumes in the drum at which it starts and stops. [L]
        """
        self.gives, self.on, self.off = gives, on, off
        self.is_running = False
        self.starts = 0

    def __call__(self, level: float) -> float:
        """Litres pumped in a minute.

        Parameters
        ----------
        level : In the drum. [L]
        """
        if not self.is_running and level >= self.on:
            self.is_running = True
            self.starts += 1
        if not self.is_running:
            return 0.0
        pumped = min(self.gives(level), level - self.off)
        if level - pumped <= self.off + DUST:
            self.is_running = False
        return max(0.0, pumped)


def run_drum(inflow: Floats, volume: float, outlet: Outlet | FloatPump) -> DrumRun:
    """An empty drum through the minutes; what does not fit runs over, to the sewer.

    Parameters
    ----------
    inflow : Of each minute. [L]
    volume : To the overflow. [L]
    outlet : What leaves in a minute at a level.
    """
    level, oldest = 0.0, 0
    levels, outs, overs = np.zeros((3, len(inflow)))
    waiting: deque[list[float]] = deque()  # [minute, litres], first in first out
    for minute, arriving in enumerate(inflow.tolist()):
        if not waiting and arriving <= 0 and level <= 0:
            continue  # most minutes of a week
        room = volume - level
        taken = min(arriving, room)
        level += taken
        if taken > 0:
            waiting.append([minute, taken])
        out = min(outlet(level), level) if level > 0 else 0.0
        level -= out
        _leave(waiting, out)
        if waiting and level > STANDING_SHARE * volume:
            oldest = max(oldest, minute - int(waiting[0][0]))
        elif waiting:
            waiting = deque([[minute, level]])  # a wet bottom: what comes next is not as old
        levels[minute], outs[minute], overs[minute] = level, out, arriving - taken
    is_pumped = isinstance(outlet, FloatPump)
    starts = outlet.starts if isinstance(outlet, FloatPump) else 0
    return DrumRun(levels, outs, overs, starts, oldest / MINUTES_PER_HOUR, is_pumped)


def shared_out(run: DrumRun, volumes: Floats, flows: Floats) -> Floats:
    """What each of several outlets gave of all that left a drum.

    Between the levels that were solved, shares change evenly with the level.

    Parameters
    ----------
    run : Of the drum that they hang on.
    volumes : Rising, at which the outlets were solved. [L]
    flows : Of every outlet at each, in any unit; shape (level, outlet).

    Returns
    -------
    Litres of each outlet. [L]
    """
    ran = run.out > 0
    level = np.clip(run.level[ran] + run.out[ran], volumes[0], volumes[-1])
    below = np.clip(np.searchsorted(volumes, level, "right") - 1, 0, len(volumes) - 2)
    upper = (level - volumes[below]) / (volumes[below + 1] - volumes[below])
    at_level = np.bincount(below, run.out[ran] * (1 - upper), len(volumes))
    at_level += np.bincount(below + 1, run.out[ran] * upper, len(volumes))
    return np.asarray(at_level @ _shares(flows))


def _shares(flows: Floats) -> Floats:
    """Each level's flows as shares of their sum; a level without flow takes those of the next above."""
    total = flows.sum(axis=1)
    shares = np.zeros_like(flows)
    for i in range(len(total) - 1, -1, -1):
        if total[i] > 0:
            shares[i] = flows[i] / total[i]
        elif i + 1 < len(total):
            shares[i] = shares[i + 1]
    return shares


def _leave(waiting: deque[list[float]], out: float) -> None:
    while waiting and out >= waiting[0][1] - DUST:
        out -= waiting.popleft()[1]
    if waiting:
        waiting[0][1] -= max(out, 0.0)


def soil_area(litres_a_day: float, intake: float) -> float:
    """Ground that a day's greywater needs to soak in. [m²]

    Parameters
    ----------
    litres_a_day : Of the heaviest day. [L d⁻¹]
    intake : What a square metre of such soil takes. [L m⁻² d⁻¹]
    """
    return litres_a_day / intake
