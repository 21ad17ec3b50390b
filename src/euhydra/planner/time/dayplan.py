"""When each zone runs on a day on which all do: mornings first, no more at once than the source
carries, pauses where water would run off.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from euhydra.core.constants import LITRES_PER_CUBIC_METRE, SECONDS_PER_HOUR
from euhydra.garden.sources import Tap
from euhydra.garden.stores import Store
from euhydra.garden.timers import Timer
from euhydra.planner.catch.taps import usable_flow
from euhydra.planner.time.answer import TimeAnswer
from euhydra.planner.water.zones import Zone

FIRST_HOUR = 5 * SECONDS_PER_HOUR
"""Where no timer says when to begin. [s] Common practice: early, so that leaves are dry by night."""

SOAK = SECONDS_PER_HOUR
"""Pause between runs that are split so that none runs off. [s] Common practice."""

LAST_HOUR = 16 * SECONDS_PER_HOUR
"""Latest start of a pot's later runs, so that leaves dry before night. [s] Common practice."""

WARM_HOUR = 7 * SECONDS_PER_HOUR
"""Earliest start of cold tap or well water on crops that like it warm: the sun is on the hose by
then. [s] Common practice."""


@dataclass(frozen=True)
class Slot:
    """A run, or a store filled from a tap (`zone` is None), from `start` on. [s], [L]

    filled_id : The store that is filled; of a run none.
    """

    name: str
    zone: Zone | None
    source_id: str
    start: float
    seconds: float
    litres: float
    filled_id: str = ""

    @property
    def end(self) -> float:
        """[s]"""
        return self.start + self.seconds


@dataclass(frozen=True)
class Late:
    """A zone that does not end within the time that is allowed it, and by how much. [s]"""

    zone: Zone
    over: float


@dataclass(frozen=True)
class DayPlan:
    """The slots of a day on which every zone runs, by time.

    late : Zones that do not end within the time that is allowed them.
    shifted : Zones that begin later than they might, since their source was taken.
    warmed : Zones that begin later than asked, since their cold water is for crops that like it warm.
    """

    slots: tuple[Slot, ...]
    late: tuple[Late, ...]
    shifted: tuple[Zone, ...]
    warmed: tuple[Zone, ...] = ()

    def starts_of(self, zone: Zone) -> list[float]:
        """When a zone's runs begin. [s]"""
        return [
            slot.start for slot in self.slots if slot.zone is not None and slot.zone.id == zone.id
        ]


def plan_day(answers: Sequence[TimeAnswer], month: int) -> DayPlan:
    """The order of a day of the month on which every zone with a setting runs."""
    due = [a for a in answers if a.months[month - 1].setting is not None]
    due.sort(key=lambda a: _wished(a))
    slots = _fills(answers)
    late: list[Late] = []
    shifted: list[Zone] = []
    for answer in due:
        own = _place(answer, month, slots)
        slots += own
        if own[0].start > _wished(answer) + 60:
            shifted.append(answer.zone)
        over = own[-1].end - _wished(answer) - answer.zone.window_s
        if not _is_spread(answer, month) and over > 60:
            late.append(Late(answer.zone, over))
    warmed = tuple(answer.zone for answer in due if _wished(answer) > _asked(answer) + 60)
    ordered = tuple(sorted(slots, key=lambda slot: slot.start))
    return DayPlan(ordered, tuple(late), tuple(shifted), warmed)


def lone_slot(answer: TimeAnswer, minutes: float, month: int) -> Slot:
    """A run in a month that has no setting of its own: something new is watered in. [min]"""
    zone, litres = answer.zone, answer.design.litres(minutes, month)
    return Slot(zone.name, zone, zone.source.id, _wished(answer), minutes * 60.0, litres)


def _asked(answer: TimeAnswer) -> float:
    """When its owner wants it to begin. [s]"""
    head = answer.zone.head
    return head.starts_s if isinstance(head, Timer) else FIRST_HOUR


def _wished(answer: TimeAnswer) -> float:
    """When the zone would begin if it were alone. [s]"""
    first = _asked(answer)
    likes_it_warm = any(crop.likes_it_warm for bed in answer.beds for crop in bed.need.crops)
    return max(first, WARM_HOUR) if isinstance(answer.zone.source, Tap) and likes_it_warm else first


def _is_spread(answer: TimeAnswer, month: int) -> bool:
    """Whether its runs are spread over the day, since pots dry out between them."""
    setting = answer.months[month - 1].setting
    assert setting is not None
    return setting.position.runs_a_day > 1 and any(bed.need.part.container for bed in answer.beds)


def _place(answer: TimeAnswer, month: int, taken: Sequence[Slot]) -> list[Slot]:
    setting = answer.months[month - 1].setting
    assert setting is not None
    runs, seconds = setting.position.runs_a_day, setting.position.run_minutes * 60.0
    pause = SOAK
    if _is_spread(answer, month):
        pause = max(SOAK, (LAST_HOUR - _wished(answer)) / (runs - 1) - seconds)
    own: list[Slot] = []
    earliest = _wished(answer)
    for _ in range(runs):
        start = _free(answer.zone, earliest, seconds, setting.litres_a_run, taken)
        own.append(
            Slot(
                answer.zone.name,
                answer.zone,
                answer.zone.source.id,
                start,
                seconds,
                setting.litres_a_run,
            )
        )
        earliest = own[-1].end + pause
    return own


def _free(
    zone: Zone, earliest: float, seconds: float, litres: float, taken: Sequence[Slot]
) -> float:
    """The first time from `earliest` on at which the zone may run. [s]"""
    times = sorted({earliest, *(s.end for s in taken if s.end > earliest)})
    return next(t for t in times if _may_run(zone, t, seconds, litres, taken))


def _may_run(
    zone: Zone, start: float, seconds: float, litres: float, taken: Sequence[Slot]
) -> bool:
    beside = [s for s in taken if s.start < start + seconds and start < s.end]
    same = [s for s in beside if s.source_id == zone.source.id]
    if any(s.zone is not None and _body(s.zone) == _body(zone) for s in beside):
        return False
    if not same:
        return True
    if not isinstance(zone.source, Tap):
        return False  # a second line on a store takes the head of the first
    together = litres / seconds + sum(s.litres / s.seconds for s in same)
    return together <= usable_flow(zone.source) * LITRES_PER_CUBIC_METRE


def _body(zone: Zone) -> str:
    """What runs one valve at a time: a timer's body, or the hand that opens it."""
    if not isinstance(zone.head, Timer):
        return "hand"
    return zone.head.body or zone.head.id


def _fills(answers: Sequence[TimeAnswer]) -> list[Slot]:
    """Stores that a tap tops up in the morning when they are low, and how long that takes."""
    if not answers:
        return []
    garden = answers[0].zone.garden
    taps = {tap.id: tap for tap in garden.taps}
    found = []
    for store in garden.stores:
        tap = taps.get(store.topped_by or "")
        share = store.top_up_to - store.top_up_below
        if tap is not None and share > 0:
            found.append(fill(store, tap, share * store.total_m3 * LITRES_PER_CUBIC_METRE))
    return found


def fill(store: Store, tap: Tap, litres: float) -> Slot:
    """A store filled from a tap before the first run. [L]"""
    seconds = litres / LITRES_PER_CUBIC_METRE / usable_flow(tap)
    start = max(0.0, FIRST_HOUR - seconds)
    return Slot(f"Filling {store.name}", None, tap.id, start, seconds, litres, store.id)
