"""Settings told with how their beds fare in all, as stores, sources and timers really give.

Time tries settings on water that is there; the season knows when it is not. The share that is told
here is that of the years, of the store and of the days away: one count of one kind of day.
"""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from euhydra.core.constants import LITRES_PER_CUBIC_METRE
from euhydra.core.programme import STRESSED_DAYS
from euhydra.core.waterworks import Line
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.answers import Mark, Verdict
from euhydra.planner.season.fared import lived_of, mark_of_dry
from euhydra.planner.season.replay import Season
from euhydra.planner.time.answer import LivedBed, TimeAnswer
from euhydra.planner.water.zones import Zone

Floats = NDArray[np.float64]

LESS = 0.9
"""Share of what was asked under which a day's water counts as too little. [-] Our choice."""

OFTEN = 0.02
"""Share of the days on which it may be. [-] Our choice."""

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
    return replace(answer, lived=own, verdict=_verdict(answer, season, own))


def _ran_short(answer: TimeAnswer, season: Season, part_id: str) -> bool:
    """Whether the source of the timer's zone often gave a bed less than it could, whoever helped out then.

    What a timer's hours leave lacking though the store is as full as they are reckoned for is not
    the store's doing.
    """
    i = next(i for i, way in enumerate(season.ways) if way.need.part.id == part_id)
    order = season.orders[i]
    ids = [source.id for source in order.sources]
    if answer.zone.source.id not in ids:
        return False
    at = ids.index(answer.zone.source.id) + order.is_deep
    watering, given = season.works.waterings[i], season.run.given[i][at]
    could = _with_water_there(answer.zone, watering.asked, watering.sources[at])
    asks = could > 0
    return bool(asks.any()) and float((given < LESS * could)[asks].mean()) > OFTEN


def _with_water_there(zone: Zone, asked: Floats, source: Line | int) -> Floats:
    """What a source gives of what is asked on each day, a store from the level that times are reckoned for. [L]"""
    if isinstance(source, int):
        return asked
    share = zone.levels[zone.usual_level]
    usual = np.full_like(asked, zone.volume_at(share) * LITRES_PER_CUBIC_METRE)
    return np.minimum(asked, source.curve.delivered_each(usual, source.hours, 1.0))


def _verdict(answer: TimeAnswer, season: Season, lived: Sequence[LivedBed]) -> Verdict:
    """The settings' own verdict, unless the water is what is wanting."""
    verdict = answer.verdict
    worst = max(lived, key=lambda bed: bed.dry_share)
    by_setting = answer.dry_share_of(worst.part.id)
    for_want = worst.dry_share - by_setting > FOR_WANT_OF_WATER
    is_dry = worst.dry_share > STRESSED_DAYS
    says_how_dry = verdict.summary.code == "time-no-bed-too-dry"
    others = verdict.reasons if says_how_dry else (verdict.summary, *verdict.reasons)
    own = Mark.WORKS
    if is_dry:
        own = mark_of_dry(worst.dry_days)
    mark = max(own, verdict.mark, key=list(Mark).index)
    if is_dry and for_want and _ran_short(answer, season, worst.part.id):
        return Verdict(mark, _short_of_water(answer, worst, by_setting), others)
    if says_how_dry:
        return replace(verdict, mark=mark, summary=_kept(worst))
    return replace(verdict, mark=mark, reasons=(_kept(worst), *verdict.reasons))


def _short_of_water(answer: TimeAnswer, worst: LivedBed, by_setting: float) -> Sentence:
    values: dict[str, str | Amount] = {
        "part": worst.part.name,
        "source": answer.zone.source.name,
        "lived": Amount(worst.dry_share, "share"),
        "set": Amount(by_setting, "share"),
    }
    if answer.zone.group is None:
        return say(
            "time-source-too-short",
            "“{part}” is too dry on {lived} of its days, and would be on {set} by this setting alone: "
            "“{source}” gives no more. Who gets which water says what each gives.",
            **values,
        )
    return say(
        "time-store-runs-short",
        "“{part}” is too dry on {lived} of its days, because “{source}” runs low or dry; while it holds "
        "water, on {set}. Store says what would cure it.",
        **values,
    )


def _kept(worst: LivedBed) -> Sentence:
    return say(
        "time-too-dry-in-all",
        "Set so, “{part}” is too dry on {dry} of its days through all years of your weather, and no bed"
        " oftener; the aim is one in twenty at most.",
        part=worst.part.name,
        dry=Amount(worst.dry_share, "share"),
    )
