"""Gardens, parts and records as keys, for what is worked out once for each: comparing them takes longer than that."""

from collections.abc import Callable, Hashable
from dataclasses import dataclass
from functools import cached_property
from threading import Lock
from typing import Any, Concatenate, Generic, ParamSpec, Protocol, TypeVar

from cachetools import LRUCache, cached

T = TypeVar("T")
Answer = TypeVar("Answer", covariant=True)
More = ParamSpec("More")

GARDENS_KEPT = 4
"""Gardens about which it is kept what was found in all of one: the two that a server keeps, and a cure
tried on each."""


@dataclass(frozen=True, eq=False)
class Asked(Generic[T]):
    """What is asked, as a key: of the very same things, with equal figures.

    what : All that the answer is made from.
    the_same : What it is known by; held here, so that nothing else comes to their place in memory.
    """

    what: T
    the_same: tuple[object, ...]
    figures: tuple[Hashable, ...] = ()

    @cached_property
    def key(self) -> Hashable:
        """Places in memory, and figures."""
        return tuple(map(id, self.the_same)), self.figures

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Asked) and other.key == self.key

    def __hash__(self) -> int:
        return hash(self.key)

    @property
    def bare(self) -> "Asked[None]":
        """What it is known by, without what the answer is made from."""
        return Asked(None, self.the_same, self.figures)


class Keeping(Protocol[T, More, Answer]):
    """A function that keeps its last answers."""

    def __call__(self, asked: Asked[T], /, *more: More.args, **named: More.kwargs) -> Answer:
        """The answer, worked out if it is not kept."""

    def cache_clear(self) -> None:
        """Keep none of them."""


def kept(
    most: int,
) -> Callable[[Callable[Concatenate[Asked[T], More], Answer]], Keeping[T, More, Answer]]:
    """Keeps the last answers of a function, and lets go of what they were made from.

    A garden that is in the question, and not in the answer, would else stay as long as that does.
    """

    def keeping(
        answer: Callable[Concatenate[Asked[T], More], Answer],
    ) -> Keeping[T, More, Answer]:
        answers: LRUCache[Hashable, Answer] = LRUCache(most)
        found: Keeping[T, More, Answer] = cached(answers, key=_bare, lock=Lock())(answer)
        return found

    return keeping


def _bare(asked: Asked[Any], *more: Hashable) -> Hashable:
    return asked.bare, *more


def by_itself(thing: T) -> Asked[T]:
    """One thing as a key: the very same one, not one alike."""
    return Asked(thing, (thing,))
