"""What the log says, in the order in which it is said: plants that suffer, causes before what follows from them."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from euhydra.garden.sentences import Sentence, say
from euhydra.planner.answers import Mark, Verdict
from euhydra.planner.keeping import advice
from euhydra.planner.keeping.advice import MENDS, Advice, BedReading
from euhydra.planner.keeping.uneven import uneven_lines
from euhydra.planner.learning.answer import CAUSES, Learned
from euhydra.planner.learning.claim import Claim
from euhydra.planner.season.watering import Watered


@dataclass(frozen=True)
class LogSays:
    """Everything that the log says of the plan, the verdict by what comes first."""

    readings: list[BedReading]
    claims: tuple[Claim, ...]
    strays: tuple[Sentence, ...]
    asks: tuple[Sentence, ...]
    uneven: list[Sentence]
    verdict: Verdict


def said_of(learned: Learned, today: date, *, is_over: bool = False) -> LogSays:
    """What was felt and seen, and what was measured, together; of a year that is over what it showed."""
    found = advice.readings(learned.told, today)
    uneven = list(uneven_lines(learned.told))
    if is_over:
        said = Verdict(Mark.BUT if learned.claims else Mark.WORKS, learned.headline)
        return LogSays([], learned.claims, learned.strays, (), uneven, said)
    return LogSays(
        found,
        learned.claims,
        learned.strays,
        learned.asks,
        uneven,
        _verdict(learned, found, uneven),
    )


def _verdict(learned: Learned, found: list[BedReading], uneven: list[Sentence]) -> Verdict:
    acts = [r for r in found if r.advice is not Advice.LEAVE]
    causes = [claim for claim in learned.leading if claim.kind in CAUSES]
    suffers = next((r for r in acts[:1] if r.is_dry and r.advice is not Advice.FEEL), None)
    if suffers is not None and causes:
        # Of several causes that which dries the bed; else the bed is first: its plants cannot wait.
        own = [claim for claim in causes if explains(claim, suffers.track.way)]
        if not own:
            return Verdict(Mark.BUT, suffers.summary, (causes[0].said,))
        causes = own
    if causes:
        after = [r.summary for r in acts[:1]] or [claim.said for claim in causes[1:2]]
        return Verdict(Mark.BUT, causes[0].said, tuple(after))
    if acts:
        why, *more = acts[0].reasons
        mark = Mark.BUT if acts[0].advice in MENDS else Mark.WORKS
        return Verdict(mark, acts[0].summary, (why, *more[-1:]))  # why, and what to set
    if uneven:
        return Verdict(Mark.BUT, uneven[0], tuple(uneven[1:2]))
    return _nothing_to_do(found, learned)


def _nothing_to_do(found: Sequence[BedReading], learned: Learned) -> Verdict:
    beside = tuple(claim.said for claim in learned.claims[:1])
    if not any(track.way.need.is_growing[-1] for track in learned.told.tracks):
        rests = say("judge-nothing-grows", "Nothing grows now, so there is nothing to feel for.")
        return Verdict(Mark.WORKS, rests, beside)
    if found:
        agrees = say("judge-all-agrees", "What was felt and seen agrees with the plan.")
        return Verdict(Mark.WORKS, agrees, beside)
    feel = say(
        "judge-no-finger-test",
        "No finger test of the last two weeks is in the log: feel the soil of a bed, a finger deep.",
    )
    return Verdict(Mark.WORKS, feel, beside)


def explains(claim: Claim, way: Watered) -> bool:
    """Whether what is claimed keeps water from a bed: it is of its zone, or of what feeds it."""
    if way.time is None:
        return False
    zone = way.time.zone
    stores = zone.group.stores if zone.group is not None else ()
    on_its_way = (zone.source, *zone.pieces, *zone.pipes, *stores)
    return claim.part_id in {part.id for part in on_its_way}
