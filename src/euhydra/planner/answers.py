"""What an answer is made of: figures with their working, sentences, verdicts, cures.

Numbers stay in SI here. A page formats them in the garden's units, inside sentences too.
"""

from dataclasses import dataclass, field
from enum import StrEnum


class PlanError(ValueError):
    """The garden cannot be computed as it stands; the message names the part and the remedy."""


@dataclass(frozen=True)
class Gap:
    """A station that cannot answer yet, and what it waits for."""

    message: str


@dataclass(frozen=True)
class Amount:
    """A number and the kind of quantity it is (see ``garden.quantities``)."""

    value: float
    kind: str


@dataclass(frozen=True)
class Sentence:
    """A sentence with amounts in braces, such as ``The hose takes {head}.``"""

    template: str
    amounts: dict[str, Amount] = field(default_factory=dict)


def say(template: str, **amounts: tuple[float, str]) -> Sentence:
    """A sentence from a template and (number, kind) pairs."""
    return Sentence(template, {name: Amount(*pair) for name, pair in amounts.items()})


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
class Cure:
    """One change that was tried by solving again, and what it brings."""

    change: Sentence
    outcome: Sentence


@dataclass(frozen=True)
class Verdict:
    """Mark, one sentence, the reasons, and the changes that would cure it, smallest first."""

    mark: Mark
    summary: Sentence
    reasons: tuple[Sentence, ...] = ()
    cures: tuple[Cure, ...] = ()
