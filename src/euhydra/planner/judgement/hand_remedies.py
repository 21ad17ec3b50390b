"""What may cure beds and pots that dry without a timer: a hand that comes oftener, from a tap, or a timer."""

from collections.abc import Iterator, Sequence

from euhydra.garden import catalogue, edits, usual
from euhydra.garden.drinker import Drinker, HandTool
from euhydra.garden.model import Garden
from euhydra.garden.sentences import Amount, lowered, quoted, say
from euhydra.garden.sources import Tap
from euhydra.garden.stores import Store
from euhydra.garden.timers import Timer
from euhydra.planner.judgement.remedy import Case, Remedies, Remedy
from euhydra.planner.judgement.thirst_remedies import collection_of, drink_less

EVERY = (7, 5, 4, 3, 2, 1)
"""Days from visit to visit that are tried, the least trouble first. [d]"""

A_BUCKET = {"bucket_m3": 0.01, "fills_in_s": 40.0}
"""What a tap is taken to give until its bucket test. [m³], [s] Common practice: 15 L/min."""


def oftener(case: Case) -> Iterator[Remedy]:
    """By hand oftener, as seldom as does."""
    parts = _drinkers(case)
    now = max((part.by_hand_d for part in parts), default=0)
    for days in (days for days in EVERY if days < now):
        yield Remedy(
            say(
                "cure-oftener",
                "Water {parts} by hand every {every}.",
                parts=quoted(part.name for part in parts),
                every=Amount.days(days),
            ),
            _put(case.garden, parts, by_hand_d=days),
        )


def by_hand_too(case: Case) -> Iterator[Remedy]:
    """What is lacking brought by hand: by the hose from a tap, by can from a store."""
    parts = _drinkers(case)
    sources: Sequence[Tap | Store] = (*case.garden.taps, *case.garden.stores)
    for source in sources:
        for days in EVERY:
            yield Remedy(
                say(
                    "cure-by-hand-too",
                    "Bring {parts} what is lacking by hand from “{source}”, every {every}.",
                    parts=quoted(part.name for part in parts),
                    source=source.name,
                    every=Amount.days(days),
                ),
                _brought(case.garden, parts, source, days),
            )


def by_hand_from_new_tap(case: Case) -> Iterator[Remedy]:
    """The same from a tap, where the garden has no water but the washing's."""
    garden, parts = case.garden, _drinkers(case)
    if garden.taps or garden.stores:
        return
    tap = usual.with_usual(
        Tap, garden.units, id=edits.free_id(garden, "tap"), name="Garden tap", **A_BUCKET
    )
    with_tap = edits.put(garden, "taps", tap)
    for days in EVERY:
        yield Remedy(
            say(
                "cure-by-hand-from-tap",
                "Bring {parts} what is lacking by hose from a garden tap, every {every}; put your own bucket test in.",
                parts=quoted(part.name for part in parts),
                every=Amount.days(days),
            ),
            _brought(with_tap, parts, tap, days),
        )


def _brought(garden: Garden, parts: Sequence[Drinker], source: Tap | Store, days: int) -> Garden:
    tool = HandTool.HOSE if isinstance(source, Tap) else HandTool.CAN
    return _put(garden, parts, hand_from=source.id, hand_with=tool, by_hand_d=days)


def timer_at_head(case: Case) -> Iterator[Remedy]:
    """A timer before the line, one that opens at the least head first."""
    each = case.zone
    if each is None or each.zone.timer is not None:
        return
    kinds = [kind for kind in catalogue.timers().values() if not kind.wants_somebody]
    kinds.sort(key=lambda kind: kind.least_opening_head_m)
    for kind in kinds:
        timer = usual.with_usual(
            Timer,
            case.garden.units,
            id=edits.free_id(case.garden, "timer"),
            name="Timer",
            kind=kind.id,
        )
        yield Remedy(
            say(
                "cure-timer-at-head",
                "A timer before the lines of {parts}: {timer}.",
                parts=quoted(part.name for part in each.zone.watered),
                timer=lowered(kind.name),
            ),
            edits.put_before(case.garden, "timers", timer, each.zone.way.parts[0].id),
        )


def _drinkers(case: Case) -> list[Drinker]:
    named = map(case.parts.get, case.finding.parts)
    return [part for part in named if isinstance(part, Drinker)]


def _put(garden: Garden, parts: Sequence[Drinker], **changes: object) -> Garden:
    """The same changes to several."""
    return edits.put_all(
        garden, [(collection_of(part), part.model_copy(update=changes)) for part in parts]
    )


HAND_REMEDIES: dict[str, tuple[Remedies, ...]] = {
    "catch-washing-too-little": (drink_less, by_hand_too, by_hand_from_new_tap),
    "hand-too-dry": (oftener, drink_less),
    "hand-opens-too-seldom": (oftener, timer_at_head, drink_less),
}
