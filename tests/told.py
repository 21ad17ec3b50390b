"""What every answer owes its reader: amounts that are numbers, and sentences that can be said."""

from collections.abc import Iterator, Mapping
from dataclasses import fields, is_dataclass
from math import isfinite
from string import Formatter

from euhydra.garden.quantities import System
from euhydra.garden.sentences import Amount, Sentence
from euhydra.planner.answers import Figure, Verdict
from euhydra.web import wording

DEEP = 12
"""Answers within answers that are looked into."""


def faults_in(answer: object) -> list[str]:
    """What nobody could read: amounts that are no numbers, words in braces without one."""
    return [fault for part in _parts(answer, DEEP, set()) for fault in _faults(part)]


def _faults(part: object) -> Iterator[str]:
    if isinstance(part, Amount) and not isfinite(part.value):
        yield f"{part.kind} of {part.value}"
    if isinstance(part, Sentence):
        named = {name for _, name, _, _ in Formatter().parse(part.template)}
        # `{1.4 bar|tap_pressure}` is an amount written out.
        wanted = {name for name in named if name and "|" not in name}
        if missing := wanted - part.values.keys():
            yield f"{missing} missing in “{part.template}”"
            return
        if not part.template.strip():
            yield "an empty sentence"
        for system in System:
            said = wording.say(part, system)
            if "{" in said or "nan" in said.lower().split():
                yield f"said “{said}”"


def _said_properties(kind: type) -> list[str]:
    """Properties that are sentences, figures or verdicts."""
    getters = {
        name: getattr(member, "fget", None) or getattr(member, "func", None)
        for name, member in vars(kind).items()
    }
    return [
        name
        for name, get in getters.items()
        if get is not None and get.__annotations__.get("return") in (Sentence, Figure, Verdict)
    ]


def _parts(answer: object, deep: int, seen: set[int]) -> Iterator[object]:
    """Every answer within an answer; gardens, records and arrays are left aside."""
    if deep == 0 or id(answer) in seen:
        return
    seen.add(id(answer))
    if isinstance(answer, Amount | Sentence):
        yield answer
    if is_dataclass(answer) and type(answer).__module__.startswith("euhydra.planner"):
        for name in [each.name for each in fields(answer)] + _said_properties(type(answer)):
            yield from _parts(getattr(answer, name), deep - 1, seen)
    elif isinstance(answer, Mapping):
        for value in answer.values():
            yield from _parts(value, deep - 1, seen)
    elif isinstance(answer, tuple | list):
        for value in answer:
            yield from _parts(value, deep - 1, seen)
