"""Values that were taken as usual, and which of them is worth measuring next."""

import csv
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from typing import Any

from pydantic import ValidationError

from euhydra.core.network import NetworkError
from euhydra.garden import edits
from euhydra.garden.model import Garden
from euhydra.garden.part import Part
from euhydra.garden.sentences import Sentence, say
from euhydra.garden.usual import round_defaults
from euhydra.planner.answers import PlanError
from euhydra.planner.chain import run_chain
from euhydra.planner.judgement.answer import Judgement, judge
from euhydra.planner.judgement.finding import Severity

MOST_WEIGHED = 16
"""Assumed values that are weighed. Our choice: those first that matter in most gardens."""


@dataclass(frozen=True)
class Usual:
    """A row of ``assumed.csv``: a field, the range that is plausible, and how it is measured.

    how : `add` for a range about the value, `value` for one in its place.
    """

    collection: str
    field: str
    how: str
    low: str
    high: str
    measure: str


@dataclass(frozen=True)
class Assumed:
    """A value taken as usual.

    matters : How much its range changes in the findings: what comes or goes, each by its weight.
    """

    part_id: str
    part_name: str
    field: str
    value: float | str | None
    measure: Sentence
    matters: float = 0.0


@cache
def usual_values() -> tuple[Usual, ...]:
    """Fields of which the usual value is taken, those first that matter in most gardens."""
    text = files("euhydra").joinpath("data", "assumed.csv").read_text("utf-8")
    return tuple(Usual(**row) for row in csv.DictReader(text.splitlines()))


def assumed_in(garden: Garden) -> tuple[Assumed, ...]:
    """Everything that stands as it does where nobody has said otherwise."""
    return tuple(_assumed(part, usual) for part, usual in _taken(garden))


def _taken(garden: Garden) -> Iterator[tuple[Part, Usual]]:
    for usual in usual_values():
        for part in getattr(garden, usual.collection):
            if _is_usual(part, usual.field, garden):
                yield part, usual


def _is_usual(part: Part, name: str, garden: Garden) -> bool:
    info = type(part).model_fields[name]
    value = getattr(part, name)
    default = dict(round_defaults(type(part), garden.units)).get(name, info.default)
    return bool(value == info.default or value == default)


def _assumed(part: Part, usual: Usual, matters: float = 0.0) -> Assumed:
    how = say("assumed-measure", usual.measure)
    value = getattr(part, usual.field)
    return Assumed(part.id, part.name, usual.field, value, how, matters)


def weighed(judgement: Judgement) -> tuple[Assumed, ...]:
    """The assumed values, those first whose range changes most in the findings; each is changed by itself."""
    garden = judgement.chain.garden
    found = []
    for place, (part, usual) in enumerate(_taken(garden)):
        matters = 0.0
        if place < MOST_WEIGHED:
            matters = max(
                (_changes(judgement, other) for other in _ends(garden, part, usual)), default=0.0
            )
        found.append(_assumed(part, usual, matters))
    return tuple(sorted(found, key=lambda each: -each.matters))


def _ends(garden: Garden, part: Part, usual: Usual) -> Sequence[Garden]:
    """The garden with either end of the plausible range."""
    found = []
    for end in (usual.low, usual.high):
        value: Any = end
        if usual.how == "add":
            value = getattr(part, usual.field) + float(end)
        try:
            fields = part.model_dump() | {usual.field: value}
            changed = type(part).model_validate(fields)
            found.append(edits.put(garden, usual.collection, changed))
        except ValidationError:
            continue
    return found


def _changes(judgement: Judgement, garden: Garden) -> float:
    """How much weight comes or goes among the findings."""
    try:
        other = judge(run_chain(garden, judgement.chain.record))
    except (PlanError, NetworkError):
        return 0.0
    before, after = judgement.keys, other.keys
    return float(
        sum(
            abs(_weight(before.get(key)) - _weight(after.get(key)))
            for key in before.keys() | after.keys()
        )
    )


def _weight(severity: Severity | None) -> int:
    return 0 if severity is None else len(Severity) - severity.weight
