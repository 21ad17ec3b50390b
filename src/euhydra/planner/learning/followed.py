"""A store followed through its dips under every explanation; what did not change is not followed again."""

from collections.abc import Sequence
from dataclasses import astuple, dataclass
from functools import cached_property, lru_cache

import numpy as np
from numpy.typing import NDArray

from euhydra.core import evidence, store_filter
from euhydra.core.store_filter import Beforehand, StoreDays
from euhydra.planner.learning.claim import ClaimKind

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


@dataclass(frozen=True, eq=False)
class _AskedOfStore:
    """What a followed store follows from, as a key: arrays by their numbers."""

    days: StoreDays
    known: tuple[Explained, ...]
    before: Beforehand

    @cached_property
    def key(self) -> tuple[object, ...]:
        each = astuple(self.days)
        return self.known, self.before, *(a.tobytes() if hasattr(a, "tobytes") else a for a in each)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _AskedOfStore) and self.key == other.key

    def __hash__(self) -> int:
        return hash(self.key)


def follow(days: StoreDays, known: Sequence[Explained], before: Beforehand) -> FollowedStore:
    """The store's water and its faults, by its dips."""
    return _follow(_AskedOfStore(days, tuple(known), before))


def forget() -> None:
    """Keep nothing of what was followed, for measuring."""
    _follow.cache_clear()


@lru_cache(maxsize=STORES_KEPT)
def _follow(asked: _AskedOfStore) -> FollowedStore:
    days, known = asked.days, asked.known
    on = np.zeros((len(known), len(days.inflow)))
    for lane, each in enumerate(known):
        if each.kind is not None:
            on[lane, each.begins : each.ends] = 1.0
    is_leak = np.array([each.kind is not ClaimKind.SETTING for each in known])
    start = days.dips[0][1] if days.dips else days.capacity
    bank = store_filter.run_bank(days, on, is_leak, asked.before, start)
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
