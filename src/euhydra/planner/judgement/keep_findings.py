"""What the log says is wrong: leaks, clogs and dials that it shows, beds that were felt too dry or too wet."""

from collections.abc import Iterator, Sequence
from dataclasses import replace
from datetime import date

from euhydra.garden.logbook import LogEntry
from euhydra.planner.answers import Gap
from euhydra.planner.judgement.answer import Judgement
from euhydra.planner.judgement.finding import Finding, Severity, by_weight
from euhydra.planner.keeping.advice import MENDS, BedReading
from euhydra.planner.learning.answer import Learned, learn
from euhydra.planner.learning.said import LogSays, said_of


def keep_findings(learned: Learned, said: LogSays) -> tuple[Finding, ...]:
    """Everything that goes on by the log, the gravest first."""
    return by_weight(tuple(_findings(learned, said)))


def with_log(judged: Judgement, log: Sequence[LogEntry], today: date) -> Judgement:
    """A garden judged by its plan and by its log, as Keep shows it.

    Parameters
    ----------
    log : Oldest first.
    """
    learned = learn(judged.chain, log, today)
    if isinstance(learned, Gap) or not learned.told.log:
        return judged
    return replace(judged, kept=keep_findings(learned, said_of(learned, today)))


def _findings(learned: Learned, said: LogSays) -> Iterator[Finding]:
    for claim in learned.leading:
        yield Finding.of(claim.said, claim.part_id, about=claim.part_id)
    for reading in said.readings:
        if reading.advice in MENDS:
            yield _of_bed(reading)


def _of_bed(reading: BedReading) -> Finding:
    part = reading.track.way.need.part
    severity = Severity.PLANTS_SUFFER if reading.is_dry else Severity.WASTES
    return Finding.of(reading.summary, part.id, about=part.id, severity=severity)
