"""A judgement as the document that machines read: the same that the pages show."""

from collections.abc import Callable, Iterable, Iterator, Mapping

from euhydra.formats.answers_json import (
    Answers,
    AssumedDocument,
    CureDocument,
    EditDocument,
    FindingDocument,
    StationDocument,
)
from euhydra.garden import quantities
from euhydra.garden.quantities import System
from euhydra.garden.sentences import Amount, Sentence
from euhydra.planner.judgement.answer import Judgement, StationJudgement
from euhydra.planner.judgement.assumed import Assumed
from euhydra.planner.judgement.finding import STATIONS, Finding
from euhydra.planner.judgement.trying import TriedCure

Cures = Callable[[Finding], Iterable[TriedCure]]
"""Cures of a finding, the practitioner's first."""


def answers_of(
    judgement: Judgement,
    station: str | None = None,
    cures_of: Cures | None = None,
    assumed: tuple[Assumed, ...] = (),
) -> Answers:
    """All stations, or one.

    Parameters
    ----------
    cures_of : How cures are sought, which takes a while; None leaves them out.
    """
    system = judgement.chain.garden.units
    keys = [key for key in STATIONS if station in (None, key)]
    return Answers(
        garden=judgement.chain.garden.name,
        stations={key: _station(judgement.stations[key], system, cures_of) for key in keys},
        assumed=[
            AssumedDocument(
                part=part.id,
                field=each.usual.field,
                value=each.value,
                matters=each.matters,
                measure=each.measure.told(system),
            )
            for each in assumed
            for part in each.parts
        ],
    )


def _station(station: StationJudgement, system: System, cures_of: Cures | None) -> StationDocument:
    return StationDocument(
        needed=station.needed,
        mark=station.mark.value if station.mark else "waits",
        summary=station.summary.told(system),
        findings=[_finding(f, system, cures_of) for f in station.findings],
    )


def _finding(finding: Finding, system: System, cures_of: Cures | None) -> FindingDocument:
    cures = cures_of(finding) if cures_of else ()
    return FindingDocument(
        code=finding.code,
        severity=finding.severity.value,
        parts=list(finding.parts),
        text=finding.cause.told(system),
        explains=[each.told(system) for each in finding.symptoms],
        figures=dict(_figures(finding.cause)),
        cures=[cure_document(cure, system) for cure in cures],
    )


def cure_document(cure: TriedCure, system: System) -> CureDocument:
    """A cure that was tried, with its edits."""
    return CureDocument(
        text=cure.change.told(system),
        outcome=cure.outcome.told(system),
        edits=[
            EditDocument.model_validate(
                {"do": e.does, "in": e.collection, "part": e.part_id, "fields": dict(e.fields)}
            )
            for e in cure.edits
        ],
        promises=dict(_named({name: new for name, (_, new) in cure.promises.items()})),
    )


def _figures(sentence: Sentence) -> Iterator[tuple[str, float]]:
    """The amounts in a sentence, in SI."""
    amounts = {k: v for k, v in sentence.values.items() if isinstance(v, Amount)}
    yield from _named(amounts)
    for value in sentence.values.values():
        if isinstance(value, Sentence):
            yield from _figures(value)


def _named(amounts: Mapping[str, Amount]) -> Iterator[tuple[str, float]]:
    """With the unit in the name."""
    for name, amount in amounts.items():
        unit = quantities.KINDS[amount.kind].unit.replace("/", "_")
        yield (f"{name}_{unit}" if unit else name), float(amount.value)
