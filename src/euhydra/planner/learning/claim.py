"""Something that the log shows: of which part, how much, and since when."""

from dataclasses import dataclass
from datetime import date
from enum import StrEnum

from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.dates import day_in_words


class ClaimKind(StrEnum):
    """What is claimed, that first from which the others may follow."""

    LEAK = "leak"
    FILTER = "filter"
    CLOG = "clog"
    SETTING = "setting"
    OUTLETS = "outlets"
    ROOF = "roof"
    THIRST = "thirst"


SAID = {
    ClaimKind.LEAK: (
        "learned-leak",
        "“{name}” has lost {value} a day since about {since} (likely {low} to {high}): look for a leak.",
    ),
    ClaimKind.FILTER: (
        "learned-filter",
        "“{name}” gives {value} of what it should since about {since} (likely {low} to {high}): clean its filter. Cups"
        " under its lines tell whether one of them clogs.",
    ),
    ClaimKind.CLOG: (
        "learned-clog",
        "“{name}” gives {value} of what it should since about {since} (likely {low} to {high}): it is clogging. Flush it.",
    ),
    ClaimKind.SETTING: (
        "learned-setting",
        "“{name}” has run {value} of what the log says it is set to since about {since} (likely {low} to {high}):"
        " look at its dial.",
    ),
    ClaimKind.OUTLETS: (
        "learned-outlets",
        "The outlets of “{name}” give {value} of what is printed (likely {low} to {high}).",
    ),
    ClaimKind.ROOF: (
        "learned-roof",
        "“{name}” brings {value} of what the plan counts on (likely {low} to {high}).",
    ),
    ClaimKind.THIRST: (
        "learned-thirst",
        "“{name}” drinks {value} of what the plan counts on (likely {low} to {high}).",
    ),
}

SAID_WHEN_OVER = {
    ClaimKind.LEAK: (
        "learned-leak-stopped",
        "“{name}” lost {value} a day from about {since} to {until} (likely {low} to {high}).",
    ),
    ClaimKind.FILTER: (
        "learned-filter-cleaned",
        "“{name}” gave {value} of what it should up to about {until} (likely {low} to {high}), and gives it again.",
    ),
    ClaimKind.CLOG: (
        "learned-clog-flushed",
        "“{name}” gave {value} of what it should up to about {until} (likely {low} to {high}), and gives it again.",
    ),
    ClaimKind.SETTING: (
        "learned-setting-right-again",
        "“{name}” ran {value} of what the log says it was set to up to about {until} (likely {low} to {high}), and"
        " runs it again.",
    ),
}


@dataclass(frozen=True)
class Claim:
    """Likely 19 to 1 after all that was written down.

    part_id : What it is about: a line, filter, store, tap, timer, roof, bed or group of pots.
    value : Of a leak litres a day [L d⁻¹]; else what is given, brought or drunk of the plan's. [-]
    low, high : Between which it lies 19 times in 20.
    since : First day of it; None where it has been so all year.
    until : Last day of it; None where it still is.
    chance : [-]
    """

    kind: ClaimKind
    part_id: str
    name: str
    value: float
    low: float
    high: float
    since: date | None
    until: date | None
    chance: float

    @property
    def key(self) -> str:
        """Names it on the page."""
        return f"{self.kind.value}-{self.part_id}"

    @property
    def said(self) -> Sentence:
        """In a sentence."""
        return self._with(*(SAID if self.until is None else SAID_WHEN_OVER)[self.kind])

    def _with(self, code: str, template: str) -> Sentence:
        return say(
            code,
            template,
            name=self.name,
            value=self._amount(self.value),
            low=self._amount(self.low),
            high=self._amount(self.high),
            since=day_in_words(self.since) if self.since else "",
            until=day_in_words(self.until) if self.until else "",
        )

    def _amount(self, value: float) -> Amount:
        if self.kind is ClaimKind.LEAK:
            return Amount.litres(max(value, 0.0))
        return Amount(max(value, 0.0), "share")
