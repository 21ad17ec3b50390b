"""Beds and pots that dry though no timer serves them: washing water that does not do, hands that come too seldom."""

from collections.abc import Iterator, Sequence

import numpy as np

from euhydra.core.constants import LITRES_PER_CUBIC_METRE
from euhydra.garden.sentences import Amount, Sentence, quoted, say
from euhydra.garden.sources import Greywater
from euhydra.planner.answers import Gap, Mark
from euhydra.planner.catch import washing_week
from euhydra.planner.chain import Chain
from euhydra.planner.dates import MONTH_NAMES
from euhydra.planner.judgement import supply
from euhydra.planner.judgement.finding import Finding
from euhydra.planner.season.by_hand import by_hand
from euhydra.planner.season.fared import lived_of
from euhydra.planner.season.replay import Season
from euhydra.planner.season.watering import Watered
from euhydra.planner.time.answer import LivedBed

DRYING = ("catch-washing-too-little", "hand-too-dry", "hand-opens-too-seldom")
"""The findings of beds and pots that dry without a timer."""


def thirst_findings(chain: Chain) -> Iterator[Finding]:
    """Of everything that is too dry for more days than it forgives; what a short store leaves dry, Store tells."""
    season = chain.season
    if isinstance(season, Gap):
        return
    dry = {part_id: bed for part_id, bed in lived_of(season).items() if supply.is_too_dry(bed)}
    for drum in chain.garden.greywaters:
        on_it = [each.zone.id for each in chain.zones if each.zone.source.id == drum.id]
        yield from _washed(season, drum, dry, on_it)
    short = {store.id for group in supply.short_groups(chain) for store in group.group.stores}
    for hand in by_hand(season):
        if hand.source.id not in short and hand.verdict.mark is not Mark.WORKS:
            parts = (hand.part.id, hand.source.id)
            grave = supply.weight_of_dry(hand.dry_days)
            yield Finding.of(hand.verdict.summary, *parts, about=hand.part.id, severity=grave)
    yield from _opened_by_hand(season, dry, short)


def _washed(
    season: Season, drum: Greywater, dry: dict[str, LivedBed], on_it: Sequence[str]
) -> Iterator[Finding]:
    """A drum that is all the water of beds that dry; told on Time too, of the zones on it."""
    led = {part.id for part in washing_week.led_to(season.garden, drum)}
    alone = [order.part.id for order in season.orders if order.is_washed_only]
    worst_first = sorted(
        (dry[part_id] for part_id in alone if part_id in dry and part_id in led),
        key=lambda bed: -bed.dry_share,
    )
    if not worst_first:
        return
    yield Finding.of(
        say(
            "catch-washing-too-little",
            "Washing water alone does not do for {parts}: “{driest}” is too dry on {dry} of its days in season.",
            parts=quoted(bed.part.name for bed in worst_first),
            driest=worst_first[0].part.name,
            dry=Amount(worst_first[0].dry_share, "share"),
        ),
        drum.id,
        *(bed.part.id for bed in worst_first),
        *on_it,
        about=drum.id,
        symptoms=_asked_of(season, drum, led),
        also=("time",),
        severity=supply.weight_of_dry(max(bed.dry_days for bed in worst_first)),
    )


def _asked_of(season: Season, drum: Greywater, led: set[str]) -> tuple[Sentence, ...]:
    """What is asked of a drum in a week of the hardest month, where that is more than it brings."""
    asked = sum(
        (way.asked_a_week for way in season.ways if way.need.part.id in led),
        np.zeros(12),
    )
    brings = sum(drum.week_m3) * LITRES_PER_CUBIC_METRE
    hardest = int(np.argmax(asked))
    if asked[hardest] <= brings:
        return ()
    return (
        say(
            "catch-washing-asked",
            "“{drum}” brings {brings} a week; a week of {month} asks for {asked}.",
            drum=drum.name,
            brings=Amount.litres(brings),
            month=MONTH_NAMES[hardest],
            asked=Amount.litres(float(asked[hardest])),
        ),
    )


def _opened_by_hand(season: Season, dry: dict[str, LivedBed], short: set[str]) -> Iterator[Finding]:
    """Lines without a timer that somebody opens too seldom, or not for long enough."""
    by_zone: dict[str, list[Watered]] = {}
    for way in season.ways:
        if way.need.part.id in dry and _is_opened_by_hand(way, short) and way.push is not None:
            by_zone.setdefault(way.push.zone.id, []).append(way)
    for zone_id, ways in by_zone.items():
        ways.sort(key=lambda way: -dry[way.need.part.id].dry_share)
        push, driest = ways[0].push, ways[0].need.part
        assert push is not None
        yield Finding.of(
            say(
                "hand-opens-too-seldom",
                "“{part}” is too dry on {dry} of a mean year: its line is opened by hand every {every}, for {window}"
                " at most.",
                part=driest.name,
                dry=Amount.days(round(dry[driest.id].dry_days)),
                every=Amount.days(driest.by_hand_d),
                window=Amount(push.zone.window_s, "hours"),
            ),
            *(way.need.part.id for way in ways),
            push.zone.source.id,
            about=zone_id,
            severity=supply.weight_of_dry(max(dry[way.need.part.id].dry_days for way in ways)),
        )


def _is_opened_by_hand(way: Watered, short: set[str]) -> bool:
    """Whether somebody turns it on, and there is water then."""
    if way.push is None or way.time is not None or way.keeps_level:
        return False
    source = way.push.zone.source
    return not isinstance(source, Greywater) and source.id not in short
