"""The daily balance of one store, under the three rules in use.

Each rule says which water may be drawn on a day with level V (last evening), inflow Q,
capacity S and dead water d:

========  ==================  =====================  ====================
rule      level that feeds    usable                 evening level
========  ==================  =====================  ====================
YAS       V                   max(V − d, 0)          min(V + Q, S) − Y
same-day  W = min(V + Q, S)   max(W − d, 0)          W − Y
YBS       V + Q               max(V + Q − d, 0)      min(V + Q − Y, S)
========  ==================  =====================  ====================

YAS and YBS: Jenkins et al. (1978), Fewkes (1999). The in-between is what many programs also
call YAS. The rule alone can move the result for a small store by a third, so it is always said.
"""

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

LEVEL_DUST = 1e-9
"""Litres that do not count as water, left by rounding. [L]"""


class StoreRule(StrEnum):
    """Which water may be drawn on a day: see the table of this module."""

    YIELD_AFTER_SPILLAGE = "yas"
    YIELD_BEFORE_SPILLAGE = "ybs"
    SAME_DAY = "same-day"


Litres = TypeVar("Litres", float, Floats)
"""Of one size of store, or of many sizes side by side."""


def level_that_feeds(
    rule: StoreRule,
    level: Litres,
    inflow: Litres,
    capacity: Litres,
    least: Callable[[Litres, Litres], Litres] = min,
) -> Litres:
    """Level from which water is drawn on this day; over capacity under YBS. [L]

    Parameters
    ----------
    rule : One of the three.
    level : Of last evening. [L]
    inflow : Of this day. [L]
    capacity : [L]
    least : The smaller of two; `np.minimum` for many sizes.
    """
    if rule is StoreRule.YIELD_AFTER_SPILLAGE:
        return level
    if rule is StoreRule.SAME_DAY:
        return least(level + inflow, capacity)
    return level + inflow


def settle(
    rule: StoreRule,
    level: Litres,
    inflow: Litres,
    drawn: Litres,
    capacity: Litres,
    least: Callable[[Litres, Litres], Litres] = min,
) -> tuple[Litres, Litres]:
    """Evening level and spill of a day on which `drawn` was taken. [L], [L]

    Parameters
    ----------
    rule : One of the three.
    level : Of last evening. [L]
    inflow : Of this day. [L]
    drawn : Of this day, no more than the rule lets go. [L]
    capacity : [L]
    least : The smaller of two; `np.minimum` for many sizes.
    """
    if rule is StoreRule.YIELD_BEFORE_SPILLAGE:
        left = level + inflow - drawn
        kept = least(left, capacity)
        return kept, left - kept
    arrived = level + inflow
    kept = least(arrived, capacity)
    return kept - drawn, arrived - kept


@dataclass(frozen=True)
class StoreRun:
    """A store through a record, day by day.

    inflow, demand, supplied, spill, level : Of each day; the level is the evening's. Supply
        can pass demand where a timer draws it. [L]
    start, dead : Level before the first day; water that does not come out at what draws. [L]
    """

    inflow: Floats
    demand: Floats
    supplied: Floats
    spill: Floats
    level: Floats
    start: float
    dead: float

    @property
    def volumetric_reliability(self) -> float:
        """Share of the demanded litres that came; 1 when nothing was asked. [-]

        What a day gave beyond its demand makes up for no other day.
        """
        asked = float(self.demand.sum())
        met = float(np.minimum(self.supplied, self.demand).sum())
        return met / asked if asked > 0 else 1.0

    @property
    def is_short(self) -> NDArray[np.bool_]:
        """Days on which less came than was asked."""
        return self.supplied < self.demand - LEVEL_DUST

    @property
    def time_reliability(self) -> float:
        """Share of all days on which everything asked for came. [-]"""
        return 1.0 - float(self.is_short.mean()) if len(self.demand) else 1.0

    @property
    def is_empty(self) -> NDArray[np.bool_]:
        """Days that end with no water that would come out."""
        return self.level <= self.dead + LEVEL_DUST

    @property
    def mass_balance_residual(self) -> float:
        """Litres that in, out and stored fail to agree by. [L]"""
        stored = float(self.level[-1]) - self.start if len(self.level) else 0.0
        return float(self.inflow.sum() - self.supplied.sum() - self.spill.sum()) - stored


def run_store(
    inflow: Floats,
    demand: Floats,
    capacity: float,
    rule: StoreRule,
    dead: float = 0.0,
    start: float = 0.0,
) -> StoreRun:
    """Take `demand` from a store day by day, as far as `rule` lets it go.

    Parameters
    ----------
    inflow : Of each day. [L]
    demand : Of each day. [L]
    capacity : Volume to the overflow. [L]
    rule : Which water may be drawn.
    dead : Water under the outlet. [L]
    start : Level before the first day. [L]
    """
    level = start
    supplied, spill, levels = [], [], []
    for arriving, asked in zip(inflow.tolist(), demand.tolist(), strict=True):
        usable = max(level_that_feeds(rule, level, arriving, capacity) - dead, 0.0)
        drawn = min(asked, usable)
        level, lost = settle(rule, level, arriving, drawn, capacity)
        supplied.append(drawn)
        spill.append(lost)
        levels.append(level)
    return StoreRun(
        inflow, demand, np.array(supplied), np.array(spill), np.array(levels), start, dead
    )


def longest_run(flags: NDArray[np.bool_]) -> int:
    """Length of the longest unbroken run of True. [d]

    Examples
    --------
    >>> longest_run(np.array([True, False, True, True]))
    2
    """
    edges = np.flatnonzero(np.diff(np.r_[0, flags.astype(np.int8), 0]))
    return int((edges[1::2] - edges[::2]).max(initial=0))
