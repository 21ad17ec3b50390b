"""What is not laid, joined or set in the right order, and what ground stays dry."""

from collections.abc import Iterator

from euhydra.planner.answers import Mark
from euhydra.planner.chain import Chain
from euhydra.planner.judgement.finding import Finding
from euhydra.planner.lay.answer import LayAnswer
from euhydra.planner.water import zones

TOLD_BY_PUSH = {"lay-too-much-head", "push-stands-over-lowest", "push-suction-head-spare"}
"""What Push tells with its cause."""


def lay_findings(chain: Chain) -> Iterator[Finding]:
    """Of the lines as they are drawn."""
    return drawn_findings(chain.lay)


def drawn_findings(answer: LayAnswer) -> Iterator[Finding]:
    """Of a drawing by itself, whatever the weather and the timers."""
    by_pieces = {
        part.id: zone.id for zone in zones.zones_of(answer.garden) for part in zone.way.parts
    }
    for breach in answer.findings:
        if breach.message.code not in TOLD_BY_PUSH:
            yield Finding.of(
                breach.message, breach.part.id, about=by_pieces.get(breach.part.id, breach.part.id)
            )
    yield from _unwatered(answer)
    for wetting in answer.wettings:
        if wetting.verdict.mark is not Mark.WORKS:
            yield Finding.of(wetting.verdict.summary, wetting.bed.id, about=wetting.bed.id)


def _unwatered(answer: LayAnswer) -> Iterator[Finding]:
    if not answer.zones and answer.unwatered:
        parts = [part.id for part, _ in answer.unwatered]
        yield Finding.of(answer.verdict.summary, *parts, also=("push", "time"))
        return
    for part, sentence in answer.unwatered:
        yield Finding.of(sentence, part.id, about=part.id, also=("push", "time"))
