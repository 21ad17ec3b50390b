"""What every answer owes its reader: amounts that are numbers, sentences that can be said, one verdict."""

from collections.abc import Iterator, Mapping
from dataclasses import fields, is_dataclass
from math import isfinite
from string import Formatter

from euhydra.garden.quantities import System
from euhydra.garden.sentences import Amount, Sentence
from euhydra.planner.answers import Figure, Gap, Mark, Verdict
from euhydra.planner.judgement.answer import Judgement
from euhydra.planner.season import odds, shares
from euhydra.planner.time.answer import TimeAnswer
from euhydra.web import wording
from markup import ONE_OF_MANY

DEEP = 12
"""Answers within answers that are looked into."""


def faults_in(answer: object) -> list[str]:
    """What nobody could read: amounts that are no numbers, words in braces without one, one of many."""
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
            if "{" in said or "nan" in said.lower().split() or ONE_OF_MANY.search(said):
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


def fails_alone(judged: Judgement) -> set[str]:
    """Answers by which a garden does not work, while the station that they belong to says that it does."""
    chain, season = judged.chain, judged.chain.season
    marks = {name: station.mark for name, station in judged.stations.items()}
    told = [("time", z.time.verdict) for z in chain.zones if isinstance(z.time, TimeAnswer)]
    if not isinstance(chain.store, Gap):
        told += [("store", group.summary) for group in chain.store.groups]
    found = {name for name, own in told if own.mark is Mark.FAILS and marks[name] is not Mark.FAILS}
    if isinstance(season, Gap):
        return found
    whole = {"shares": shares.answer_balance(season), "years": odds.answer_odds(season)}
    works = Mark.FAILS not in marks.values()
    return found | {k for k, own in whole.items() if works and own.verdict.mark is Mark.FAILS}
