"""A finding: what is wrong, with which parts, how much it weighs, and what it explains."""

import csv
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import cache
from importlib.resources import files
from typing import Self

from euhydra.garden.sentences import Sentence
from euhydra.planner.answers import Mark


class Severity(StrEnum):
    """How much a finding weighs, the gravest first."""

    DANGEROUS = "dangerous"
    CANNOT_WORK = "cannot-work"
    PLANTS_SUFFER = "plants-suffer"
    WASTES = "wastes"
    BETTER = "could-be-better"

    @property
    def mark(self) -> Mark:
        """How a station stands that has nothing graver."""
        return MARKS[self]

    @property
    def is_grave(self) -> bool:
        """Whether nothing should be bought, built or set before it is mended."""
        return self in (Severity.DANGEROUS, Severity.CANNOT_WORK)

    @property
    def weight(self) -> int:
        """Place in the order, 0 for the gravest."""
        return list(Severity).index(self)


MARKS = {
    Severity.DANGEROUS: Mark.FAILS,
    Severity.CANNOT_WORK: Mark.FAILS,
    Severity.PLANTS_SUFFER: Mark.BUT,
    Severity.WASTES: Mark.BUT,
    Severity.BETTER: Mark.WORKS,
}

STATIONS = ("catch", "store", "need", "push", "lay", "time", "build", "keep")
"""In the order of the water, as they stand on the stream."""


@dataclass(frozen=True)
class FindingKind:
    """A row of ``findings.csv``: a code, the station that tells it first, and how much it weighs."""

    code: str
    station: str
    severity: Severity


@cache
def finding_kinds() -> dict[str, FindingKind]:
    """Every finding by its code."""
    text = files("euhydra").joinpath("data", "findings.csv").read_text("utf-8")
    rows = csv.DictReader(text.splitlines())
    return {
        row["code"]: FindingKind(row["code"], row["station"], Severity(row["severity"]))
        for row in rows
    }


@dataclass(frozen=True)
class Finding:
    """Something that is wrong, or could be better.

    cause : In words, with its figures. Its code is the finding's.
    parts : Ids of what it is about, that which has to be changed first.
    about : Id of the zone, store, bed or pots that a page is turned to for it; "" for the station.
    symptoms : What it explains: told under it.
    also : Other stations that do not work because of it, and tell it too.
    """

    cause: Sentence
    station: str
    severity: Severity
    parts: tuple[str, ...]
    about: str = ""
    symptoms: tuple[Sentence, ...] = ()
    also: tuple[str, ...] = ()

    @classmethod
    def of(
        cls,
        cause: Sentence,
        *parts: str,
        about: str = "",
        symptoms: tuple[Sentence, ...] = (),
        also: tuple[str, ...] = (),
        severity: Severity | None = None,
    ) -> Self:
        """With its station and weight from the table, or another weight where figures say so.

        Raises
        ------
        KeyError : if the table does not have its code.
        """
        kind = finding_kinds()[cause.code]
        return cls(cause, kind.station, severity or kind.severity, parts, about, symptoms, also)

    @property
    def code(self) -> str:
        """Names it for tests and machines."""
        return self.cause.code

    @property
    def key(self) -> tuple[str, str, str]:
        """Same in two judgements if it is the same thing about the same part."""
        return self.code, self.about, self.parts[0] if self.parts else ""

    def under(self, *symptoms: Sentence) -> "Finding":
        """With more that it explains."""
        return replace(self, symptoms=(*self.symptoms, *symptoms))


def by_weight(findings: tuple[Finding, ...]) -> tuple[Finding, ...]:
    """The gravest first; of equal ones in the order in which they were found."""
    return tuple(sorted(findings, key=lambda finding: finding.severity.weight))
