"""What an answer is made of: figures with their working, verdicts, advice, gaps.

Numbers stay in SI here. A page formats them in the garden's units, inside sentences too.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Self

from euhydra.garden.quantities import System
from euhydra.garden.sentences import Amount, Sentence, say


class PlanError(ValueError):
    """The garden cannot be computed as it stands; the sentence names the part and the remedy."""

    def __init__(self, sentence: Sentence) -> None:
        super().__init__(str(sentence))
        self.sentence = sentence


@dataclass(frozen=True)
class Gap:
    """A station that cannot answer yet, and what it waits for.

    mark : How it stands all the same, where nothing is asked of it; None while it waits.
    """

    sentence: Sentence
    mark: "Mark | None" = None

    @classmethod
    def of(cls, error: Exception) -> Self:
        """The gap that an error leaves."""
        if isinstance(error, PlanError):
            return cls(error.sentence)
        return cls(say("refused", "{fault}", fault=str(error)))

    def told(self, system: System) -> str:
        """In the units of `system`."""
        return self.sentence.told(system)


@dataclass(frozen=True)
class Working:
    """How a figure came about.

    formula : In words and signs.
    inputs : What went in, by name.
    source : Where the formula or its constants come from.
    notes : Assumptions that matter.
    """

    formula: str
    inputs: dict[str, Amount]
    source: str
    notes: tuple[str, ...] = ()


@dataclass(frozen=True)
class Figure:
    """A figure of a page: label, amount, and its working."""

    label: str
    amount: Amount
    working: Working


class Mark(StrEnum):
    """How a station stands."""

    WORKS = "works"
    BUT = "works-but"
    FAILS = "does-not"


@dataclass(frozen=True)
class Suggestion:
    """What may be done that is no edit of the garden, and what it brings."""

    change: Sentence
    outcome: Sentence


@dataclass(frozen=True)
class Verdict:
    """Mark, one sentence, the reasons, and what may be done that is no edit, smallest first."""

    mark: Mark
    summary: Sentence
    reasons: tuple[Sentence, ...] = ()
    advice: tuple[Suggestion, ...] = ()


def worst_of(verdicts: Sequence[Verdict]) -> Verdict:
    """The verdict whose mark is worst, the first of several."""
    order = list(Mark)
    return max(verdicts, key=lambda verdict: order.index(verdict.mark))
