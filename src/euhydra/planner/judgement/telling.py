"""A verdict for a page, drawn from the findings about what it shows."""

from collections.abc import Collection, Sequence

from euhydra.garden.sentences import Sentence
from euhydra.planner.answers import Mark, Verdict
from euhydra.planner.judgement.answer import Judgement
from euhydra.planner.judgement.finding import Finding, Severity

FACTS = {
    "catch-all-week-once",
    "catch-backflow-first",
    "catch-bucket-full-hard",
    "catch-carry-zone-day",
    "catch-drip-lines-need",
    "catch-well-runs-empty",
    "catch-well-runs-long",
    "chain-runs-by-itself",
    "lay-outlets-right",
    "need-held-where-wetted",
    "need-winter-watered",
    "need-winter-rain",
    "need-gives-more",
    "need-garden-lies-beyond",
    "push-porous-at-little-head",
    "push-head-over-highest",
    "push-head-over-highest-outlet",
    "season-deep-by-hand",
    "season-helped-by-hand",
    "season-too-dry-on-days",
    "store-flat-ground",
    "store-lead-law-lets",
    "store-open-water",
    "time-store-runs-short",
    "time-too-dry-in-all",
}
"""What a page says of itself whether anything is wrong or not."""


def found_at(
    judgement: Judgement, station: str, about: Collection[str] | None
) -> tuple[Finding, ...]:
    """What a page tells: of what it is turned to, of all of the station, and whatever is dangerous.

    Parameters
    ----------
    about : Ids of what it is turned to; None for everything.
    """
    return tuple(
        finding
        for finding in judgement.at(station)
        if about is None or finding.severity is Severity.DANGEROUS or touches(finding, about)
    )


def touches(finding: Finding, about: Collection[str]) -> bool:
    """Whether a finding is about one of these, or about all of its station."""
    if finding.about in about or finding.about == "":
        return True
    return bool(finding.also) and bool(set(finding.parts) & set(about))


def verdict_of(found: Sequence[Finding], sound: Verdict) -> Verdict:
    """The worst finding first, with what it explains, then the others; what is sound where nothing weighs.

    Parameters
    ----------
    sound : What the station says of itself by its figures alone.
    """
    facts = tuple(reason for reason in sound.reasons if reason.code in FACTS)
    better = tuple(f.cause for f in found if f.severity is Severity.BETTER)
    grave = [finding for finding in found if finding.severity is not Severity.BETTER]
    if not grave:
        reasons = facts if sound.mark is not Mark.WORKS else sound.reasons
        return Verdict(Mark.WORKS, sound.summary, _once((*reasons, *better), sound.summary))
    first = grave[0]
    others = [f.cause for f in grave[1:]]
    fact = (sound.summary,) if sound.summary.code in FACTS else ()
    told = _once((*first.symptoms, *others, *fact, *facts, *better), first.cause)
    return Verdict(first.severity.mark, first.cause, told)


def warned(found: Sequence[Finding], own: Verdict) -> Verdict:
    """What a page tells by itself, under what has to be mended before anything on it is followed.

    Parameters
    ----------
    found : What is dangerous or cannot work.
    """
    if not found:
        return own
    first = found[0]
    others = (finding.cause for finding in found[1:])
    told = _once((*first.symptoms, *others, own.summary, *own.reasons), first.cause)
    return Verdict(first.severity.mark, first.cause, told, own.advice)


def _once(said: Sequence[Sentence], but: Sentence) -> tuple[Sentence, ...]:
    """Each sentence once, in its words."""
    words = {str(sentence): sentence for sentence in reversed(said) if str(sentence) != str(but)}
    return tuple(reversed(words.values()))
