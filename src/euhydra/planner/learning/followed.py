"""A store followed through its dips under every explanation; what did not change is not followed again."""

from collections.abc import Sequence
from dataclasses import astuple, dataclass

import numpy as np
from numpy.typing import NDArray

from euhydra.core import evidence, store_filter
from euhydra.core.store_filter import Beforehand, StoreDays
from euhydra.planner.learning.claim import ClaimKind
from euhydra.planner.same import Asked, kept

Floats = NDArray[np.float64]

STORES_KEPT = 48
"""Stores that are kept as followed, so that an entry follows anew only those that it tells of."""


@dataclass(frozen=True)
class Explained:
    """What may have gone on in a store.

    kind : A leak, another setting of its timer, or nothing.
    begins, ends : Index of the first day, and of the day after the last; None up to today. [d]
    prior : Chance of it before anything is measured. [-]
    """

    kind: ClaimKind | None
    begins: int
    ends: int | None
    prior: float


@dataclass(frozen=True)
class FollowedStore:
    """What all explanations come to.

    chance : Of each. [-]
    mean, deviation : As in `store_filter.Bank`.
    evening, spilled : Of the likeliest explanation, on each day. [L]
    strays : Places among the dips of those that no explanation fits.
    """

    chance: Floats
    mean: Floats
    deviation: Floats
    evening: Floats
    spilled: Floats
    strays: tuple[int, ...]


def follow(days: StoreDays, known: Sequence[Explained], before: Beforehand) -> FollowedStore:
    """The store's water and its faults, by its dips."""
    given = astuple(days)
    told = tuple(each.tobytes() if hasattr(each, "tobytes") else each for each in given)
    return _follow(Asked(days, (), told), tuple(known), before)


def forget() -> None:
    """Keep nothing of what was followed, for measuring."""
    _follow.cache_clear()


@kept(STORES_KEPT)
def _follow(
    asked: Asked[StoreDays], known: tuple[Explained, ...], before: Beforehand
) -> FollowedStore:
    days = asked.what
    on = np.zeros((len(known), len(days.inflow)))
    for lane, each in enumerate(known):
        if each.kind is not None:
            on[lane, each.begins : each.ends] = 1.0
    is_leak = np.array([each.kind is not ClaimKind.SETTING for each in known])
    start = days.dips[0][1] if days.dips else days.capacity
    bank = store_filter.run_bank(days, on, is_leak, before, start)
    chance = evidence.chances(bank.log_evidence, [each.prior for each in known])
    likeliest = int(np.argmax(chance))
    return FollowedStore(
        chance,
        bank.mean,
        bank.deviation,
        bank.level[:, likeliest].copy(),
        bank.spilled[:, likeliest].copy(),
        bank.strays,
    )
