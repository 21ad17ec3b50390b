"""What is not laid, joined or set in the right order, and what ground stays dry."""

from collections.abc import Iterator
from collections.abc import Set as AbstractSet
from dataclasses import replace

from euhydra.garden.pipes import Piece, Pipe
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
    dry_for = _dry_for(answer)
    for breach in answer.findings:
        if breach.message.code in TOLD_BY_PUSH:
            continue
        found = Finding.of(
            breach.message, breach.part.id, about=by_pieces.get(breach.part.id, breach.part.id)
        )
        if breach.message.code == "lay-no-water-reaches":
            ids = [id for id, root in dry_for.items() if root == breach.part.id]
            told = [sentence for part, sentence in answer.unwatered if part.id in ids]
            found = replace(found.under(*told), parts=(*found.parts, *ids), also=("push", "time"))
        yield found
    yield from _unwatered(answer, set(dry_for))
    for wetting in answer.wettings:
        if wetting.verdict.mark is not Mark.WORKS:
            yield Finding.of(wetting.verdict.summary, wetting.bed.id, about=wetting.bed.id)


def _dry_for(answer: LayAnswer) -> dict[str, str]:
    """Beds and pots that nothing waters, though lines lie there: the beginning that is joined to nothing."""
    by_id = {part.id: part for part in answer.garden.fed}
    unwatered = {part.id for part, _ in answer.unwatered}
    found: dict[str, str] = {}
    for pipe in answer.garden.pipes:
        here: Piece | Pipe = pipe
        while here.begins_at in by_id:
            here = by_id[here.begins_at]
        if here.begins_at is None and pipe.waters in unwatered:
            found.setdefault(pipe.waters, here.id)
    return found


def _unwatered(answer: LayAnswer, but: AbstractSet[str]) -> Iterator[Finding]:
    """Beds and pots without a line, but for those whose line is dry for a cause that is told."""
    left = [(part, sentence) for part, sentence in answer.unwatered if part.id not in but]
    if not answer.zones and not but and left:
        parts = [part.id for part, _ in left]
        yield Finding.of(answer.verdict.summary, *parts, also=("push", "time"))
        return
    for part, sentence in left:
        yield Finding.of(sentence, part.id, about=part.id, also=("push", "time"))
