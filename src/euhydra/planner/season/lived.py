"""Settings told with how their beds fare in all, as stores, sources and timers really give.

Time tries settings on water that is there; the season knows when it is not. The share that is told
here is that of the years, of the store and of the days away: one count of one kind of day.
"""

from collections.abc import Sequence
from dataclasses import replace

from euhydra.core.programme import STRESSED_DAYS
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.answers import Mark, Verdict
from euhydra.planner.season.fared import lived_of
from euhydra.planner.season.odds import STRESS_GRAVE
from euhydra.planner.season.replay import Season
from euhydra.planner.time.answer import LivedBed, TimeAnswer

FOR_WANT_OF_WATER = 0.01
"""Share of the days by which a bed has to be too dry oftener than its setting leaves it, before its
source is blamed. [-] Our choice."""


def with_season(answer: TimeAnswer, season: Season) -> TimeAnswer:
    """The answer told with how its beds fared through the season's years; as it is where it stands by."""
    if answer.stands_by:
        return answer
    found = lived_of(season)
    own = tuple(found[bed.need.part.id] for bed in answer.beds if bed.need.part.id in found)
    if not own:
        return answer
    return replace(answer, lived=own, verdict=_verdict(answer, own))


def _verdict(answer: TimeAnswer, lived: Sequence[LivedBed]) -> Verdict:
    """The settings' own verdict, unless the water is what is wanting."""
    verdict = answer.verdict
    worst = max(lived, key=lambda bed: bed.dry_share)
    by_setting = answer.dry_share_of(worst.part.id)
    short = worst.dry_share - by_setting > FOR_WANT_OF_WATER
    if worst.dry_share > STRESSED_DAYS and short:
        mark = Mark.FAILS if worst.dry_days > STRESS_GRAVE else Mark.BUT
        says_how_dry = verdict.summary.code == "time-no-bed-too-dry"
        is_worse = list(Mark).index(mark) >= list(Mark).index(verdict.mark)
        return Verdict(
            mark if is_worse else verdict.mark,
            _short_of_water(answer, worst, by_setting),
            verdict.reasons if says_how_dry else (verdict.summary, *verdict.reasons),
            verdict.cures,
        )
    if verdict.summary.code == "time-no-bed-too-dry":
        return replace(verdict, summary=_kept(worst))
    return replace(verdict, reasons=(_kept(worst), *verdict.reasons))


def _short_of_water(answer: TimeAnswer, worst: LivedBed, by_setting: float) -> Sentence:
    source = answer.zone.source.name
    if answer.zone.group is None:
        return say(
            "time-source-too-short",
            "“{part}” is too dry on {lived} of its days, and would be on {set} by this setting alone: "
            "“{source}” gives no more. Order of sources says what each gives.",
            part=worst.part.name,
            source=source,
            lived=Amount(worst.dry_share, "share"),
            set=Amount(by_setting, "share"),
        )
    return say(
        "time-store-runs-short",
        "“{part}” is too dry on {lived} of its days, because “{source}” runs low or dry; while it holds "
        "water, on {set}. Store says what would cure it.",
        part=worst.part.name,
        source=source,
        lived=Amount(worst.dry_share, "share"),
        set=Amount(by_setting, "share"),
    )


def _kept(worst: LivedBed) -> Sentence:
    return say(
        "time-too-dry-in-all",
        "Set so, “{part}” is too dry on {dry} of its days through all years of your weather, and no bed"
        " oftener; the aim is one in twenty at most.",
        part=worst.part.name,
        dry=Amount(worst.dry_share, "share"),
    )
