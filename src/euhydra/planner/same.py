"""Gardens, parts and records as keys, for what is worked out once for each: comparing them takes longer than that."""

from collections.abc import Hashable
from dataclasses import dataclass
from functools import cached_property
from typing import Generic, TypeVar

T = TypeVar("T")


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


def by_itself(thing: T) -> Asked[T]:
    """One thing as a key: the very same one, not one alike."""
    return Asked(thing, (thing,))
