"""The garden judged in one pass: every station's findings, the worst and most causal first."""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property

from euhydra.garden.sentences import Sentence, say
from euhydra.planner.answers import Mark, PlanError
from euhydra.planner.chain import Chain, ChainBegun
from euhydra.planner.judgement import supply
from euhydra.planner.judgement.catch_findings import catch_findings
from euhydra.planner.judgement.finding import STATIONS, Finding, Severity, by_weight
from euhydra.planner.judgement.folding import folded
from euhydra.planner.judgement.lay_findings import lay_findings
from euhydra.planner.judgement.need_findings import need_findings
from euhydra.planner.judgement.push_findings import push_findings
from euhydra.planner.judgement.sound import has_steps, sound_summary
from euhydra.planner.judgement.store_findings import store_findings
from euhydra.planner.judgement.thirst_findings import thirst_findings
from euhydra.planner.judgement.time_findings import time_findings

NOT_NEEDED = ("station-not-needed", "Not needed here: this garden drinks from {sources}.")
"""What is said of roofs and stores where nothing drinks from them: code and words."""

BY_HAND = ("station-by-hand", "Not needed here: everything is watered by hand.")
"""What is said of lines, timers and what is built where there are none, nor have to be."""

NOT_BEGUN = "lay-nothing-laid"
"""The finding of a garden whose lines are still to be laid."""

COLLECTORS: tuple[Callable[[Chain], Iterator[Finding]], ...] = (
    catch_findings,
    store_findings,
    need_findings,
    push_findings,
    lay_findings,
    time_findings,
    thirst_findings,
)
"""In the order of the water: what comes first on its way is more causal."""

BEFORE_TIMERS = {"need": need_findings, "push": push_findings, "lay": lay_findings}
"""Stations of which all is found before any timer is set, and by what."""


@dataclass(frozen=True)
class StationJudgement:
    """How a station stands.

    needed : Whether the garden has a use for it; it may drink from elsewhere.
    mark : None while it waits for something.
    summary : What leads: the first finding's cause, or that it is sound, or what it waits for.
    """

    key: str
    needed: bool
    mark: Mark | None
    summary: Sentence
    findings: tuple[Finding, ...]


@dataclass(frozen=True)
class Judgement:
    """Every finding of a garden, and how each station stands by them.

    folded : Those that are told as symptoms of another.
    kept : What the log says is wrong; nothing where there is none.
    """

    chain: Chain
    findings: tuple[Finding, ...]
    folded: tuple[Finding, ...] = ()
    kept: tuple[Finding, ...] = ()

    @cached_property
    def stations(self) -> Mapping[str, StationJudgement]:
        """All eight, in the order of the water."""
        return {key: self._station(key) for key in STATIONS}

    def at(self, station: str) -> tuple[Finding, ...]:
        """What a station tells: its own findings, and those of others that stop it.

        What is dangerous or cannot work, of whichever station, is told before it is bought and built.
        """
        return tuple(
            f
            for f in (*self.findings, *self.kept)
            if station == f.station
            or station in f.also
            or (station == "build" and f.severity.is_grave and f.code != NOT_BEGUN)
        )

    def _station(self, key: str) -> StationJudgement:
        found = self.at(key)
        if key in ("catch", "store") and not self._needs(key) and not found:
            names = ", ".join(f"“{source.name}”" for source in self.chain.garden.sources)
            return StationJudgement(key, False, None, say(*NOT_NEEDED, sources=names), ())
        summary, mark = sound_summary(self.chain, key)
        if not self._needs(key) and mark is None and self.chain.garden.planted:
            summary = say(*BY_HAND)
        weighed = [f for f in found if mark is not None or stops_what_waits(f, key)]
        if weighed:
            worst = weighed[0].severity.mark
            mark = worst if mark is None else max(mark, worst, key=list(Mark).index)
            if worst is not Mark.WORKS:
                summary = weighed[0].cause
        return StationJudgement(key, self._needs(key), mark, summary, found)

    def _needs(self, key: str) -> bool:
        garden = self.chain.garden
        if key in ("catch", "store"):
            if key == "catch" and garden.greywaters:
                return True
            is_filled = garden.stores and all(store.topped_by for store in garden.stores)
            if key == "catch" and is_filled and not garden.roofs:
                return False
            return supply.drinks_from_stores(garden) or not garden.sources
        if key == "build" and has_steps(self.chain):
            return True
        if key in ("push", "lay", "time", "build") and garden.planted:
            return bool(self.chain.zones) or bool(self.chain.lay.unwatered)
        return True

    @cached_property
    def keys(self) -> Mapping[tuple[str, str, str], Severity]:
        """How much each finding weighs, those that are folded under another too."""
        return {finding.key: finding.severity for finding in (*self.folded, *self.findings)}


def stops_what_waits(finding: Finding, station: str) -> bool:
    """Whether a station that still waits for something is marked by it.

    Not by what could be better; nor, but for Lay, because nothing is laid in a garden in the making.
    """
    if finding.severity.mark is Mark.WORKS:
        return False
    return finding.code != NOT_BEGUN or station == finding.station


def judge(chain: Chain) -> Judgement:
    """All that is wrong with a garden, and all that could be better."""
    found = tuple(finding for collect in COLLECTORS for finding in _collected(collect, chain))
    once = _once(found)
    kept = folded(once, chain)
    keys = {finding.key for finding in kept}
    return Judgement(chain, by_weight(kept), tuple(f for f in once if f.key not in keys))


def _collected(collect: Callable[[Chain], Iterator[Finding]], chain: Chain) -> Iterator[Finding]:
    """What a station finds, as far as it can be worked out; and why it could not be further."""
    try:
        yield from collect(chain)
    except PlanError as error:
        name = chain.garden.name
        yield Finding.of(
            say("push-cannot-be-solved", "“{zone}”: {why}", zone=name, why=error.sentence)
        )


def shows_before_timers(begun: ChainBegun, finding: Finding) -> bool:
    """Whether something is found already before timers, seasons and stores are worked out."""
    if finding.station not in BEFORE_TIMERS:
        return False
    found = _collected(BEFORE_TIMERS[finding.station], begun.first_answers)
    return any(each.key == finding.key for each in found)


def _once(found: tuple[Finding, ...]) -> tuple[Finding, ...]:
    """Each thing once."""
    return tuple({finding.key: finding for finding in reversed(found)}.values())[::-1]
