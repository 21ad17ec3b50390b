"""Values that were taken as usual, and which of them is worth measuring next."""

import csv
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, replace
from functools import cache, partial
from importlib.resources import files
from typing import Any

from pydantic import ValidationError

from euhydra.core.network import NetworkError
from euhydra.garden import edits
from euhydra.garden.model import Garden
from euhydra.garden.part import Part
from euhydra.garden.pipes import Pipe
from euhydra.garden.quantities import System
from euhydra.garden.sentences import Sentence, say
from euhydra.garden.usual import drawn_usual, round_defaults
from euhydra.planner.answers import PlanError
from euhydra.planner.chain import run_chain
from euhydra.planner.judgement.answer import Judgement, judge
from euhydra.planner.judgement.finding import Severity
from euhydra.planner.water import laws

MOST_WEIGHED = 16
"""Assumptions that are weighed. Our choice: those first that matter in most gardens."""

WEIGHED_YEARS = 4
"""Newest years of the record through which they are weighed. Our choice: what matters shows in few."""


Keep = Callable[[int, Callable[[], "Assumed"]], "Assumed"]
"""Gives what was weighed before at a place of the list, or weighs it."""


def _not_kept(place: int, weigh: "Callable[[], Assumed]") -> "Assumed":
    return weigh()


@dataclass(frozen=True)
class Usual:
    """A row of ``assumed.csv``: a field, the range that is plausible, and how it is measured.

    at_once : What one measurement tells about: `each` part by itself, pipes of what they water
        (`waters`), or all parts where the usual value is alike (`alike`).
    how : `add` for a range about the value, `value` for one in its place.
    """

    collection: str
    field: str
    at_once: str
    how: str
    low: str
    high: str
    measure: str


@dataclass(frozen=True)
class Assumed:
    """A value taken as usual, of one part or of several that one measurement tells about.

    matters : How much its range changes in the findings: what comes or goes, each by its weight.
    """

    usual: Usual
    parts: tuple[Part, ...]
    matters: float = 0.0

    @property
    def value(self) -> float | str | None:
        """What stands."""
        found: float | str | None = getattr(self.parts[0], self.usual.field)
        return found

    @property
    def label(self) -> str:
        """What the field is called."""
        return type(self.parts[0]).model_fields[self.usual.field].title or self.usual.field

    @property
    def measure(self) -> Sentence:
        """How it is measured."""
        return say("assumed-measure", self.usual.measure)


@cache
def usual_values() -> tuple[Usual, ...]:
    """Fields of which the usual value is taken, those first that matter in most gardens."""
    text = files("euhydra").joinpath("data", "assumed.csv").read_text("utf-8")
    return tuple(Usual(**row) for row in csv.DictReader(text.splitlines()))


def assumed_in(garden: Garden) -> tuple[Assumed, ...]:
    """Everything that stands as it does where nobody has said otherwise."""
    found: list[Assumed] = []
    for usual in usual_values():
        together: dict[object, list[Part]] = {}
        for part in getattr(garden, usual.collection):
            if usual.field in assumed_of(part, usual.collection, garden.units):
                together.setdefault(_told_with(part, usual), []).append(part)
        found += [Assumed(usual, tuple(parts)) for parts in together.values()]
    return tuple(found)


def assumed_of(part: Part, collection: str, units: System) -> frozenset[str]:
    """Fields of one part that are worth measuring, stand as usual, and are not confirmed."""
    fields = worth_measuring(collection) - {*part.confirmed}
    usual = frozenset(name for name in fields if _is_usual(part, name, units))
    return usual | (frozenset(part.assumed) - {*part.confirmed})


@cache
def worth_measuring(collection: str) -> frozenset[str]:
    """Fields of a collection's parts that are assumed until somebody has measured them."""
    return frozenset(usual.field for usual in usual_values() if usual.collection == collection)


def _told_with(part: Part, usual: Usual) -> object:
    """Same for parts about which one measurement tells."""
    if usual.at_once == "waters":
        return getattr(part, "waters", None) or part.id
    return part.id if usual.at_once == "each" else getattr(part, usual.field)


def _is_usual(part: Part, name: str, units: System) -> bool:
    if name == "outlet_factor" and isinstance(part, Pipe) and not laws.gives(part):
        return False
    info = type(part).model_fields[name]
    value = getattr(part, name)
    usual = {name: info.default, **drawn_usual(type(part)), **round_defaults(type(part), units)}
    return bool(value in (info.default, usual[name]))


def weighed(judgement: Judgement, keep: Keep = _not_kept) -> tuple[Assumed, ...]:
    """The assumed values, those first whose range changes most in the findings."""
    return in_order(weighing(judgement, keep))


def in_order(found: Iterable[Assumed]) -> tuple[Assumed, ...]:
    """Those first that matter most."""
    return tuple(sorted(found, key=lambda each: -each.matters))


def weighing(judgement: Judgement, keep: Keep = _not_kept) -> Iterator[Assumed]:
    """Each assumed value as soon as it is weighed: changed by itself, to either end of its range."""
    garden, record = judgement.chain.garden, judgement.chain.record
    few = None if record is None else record.last_years(WEIGHED_YEARS)

    @cache
    def now() -> Judgement:
        return judge(run_chain(garden, few))

    def weigh(each: Assumed) -> Assumed:
        matters = max((_changes(now(), end) for end in _ends(garden, each)), default=0.0)
        return replace(each, matters=matters)

    for place, each in enumerate(assumed_in(garden)):
        yield keep(place, partial(weigh, each)) if place < MOST_WEIGHED else each


def _ends(garden: Garden, assumed: Assumed) -> Iterator[Garden]:
    """The garden with either end of the plausible range."""
    usual = assumed.usual
    for end in (usual.low, usual.high):
        changed = garden
        try:
            for part in assumed.parts:
                value: Any = end
                if usual.how == "add":
                    value = getattr(part, usual.field) + float(end)
                fields = part.model_dump() | {usual.field: value}
                changed = edits.put(changed, usual.collection, type(part).model_validate(fields))
        except ValidationError:
            continue
        yield changed


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
