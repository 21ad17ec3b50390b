"""Results that are worked out once and kept for a while."""

from collections.abc import Callable, Hashable, Iterator
from itertools import islice
from threading import Condition, Lock
from typing import Any, Generic, TypeVar

from cachetools import LRUCache, cached

T = TypeVar("T")

MOST_KEPT = 2
"""Results kept of each sort: what one looks at, and what it was before a change. Each holds years of days."""


class KeptResults(Generic[T]):
    """The last few results by key, so that turning a page computes nothing again.

    Whoever asks for what is being worked out already waits for it: no result is worked out twice
    at the same time.
    """

    def __init__(self, most: int = MOST_KEPT) -> None:
        self._results: LRUCache[Hashable, T] = LRUCache(most)
        self._turn = Condition()
        self._get = cached(self._results, _key_alone, condition=self._turn)(_compute)

    def get(self, key: Hashable, compute: Callable[[], T]) -> T:
        """The result of `key`, computed the first time it is asked for; errors are not kept."""
        result: T = self._get(key, compute)
        return result

    def known(self, key: Hashable) -> T | None:
        """The result of `key` if it is there already."""
        with self._turn:
            return self._results.get(key)


class FoundSoFar(Generic[T]):
    """What a search has found: it goes on where it stopped when more is asked for."""

    def __init__(self, begin: Callable[[], Iterator[T]]) -> None:
        self._begin, self._search = begin, begin()
        self._found: list[T] = []
        self._turn = Lock()

    def first(self, most: int) -> tuple[T, ...]:
        """The first so many, or all if there are no more; errors are not kept."""
        with self._turn:
            try:
                self._found.extend(islice(self._search, max(0, most - len(self._found))))
            except Exception:
                self._search = islice(self._begin(), len(self._found), None)
                raise
            return tuple(self._found[:most])


def _key_alone(key: Hashable, compute: Callable[[], Any]) -> Hashable:
    return key


def _compute(key: Hashable, compute: Callable[[], Any]) -> Any:
    return compute()
