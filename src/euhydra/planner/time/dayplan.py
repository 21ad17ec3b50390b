"""When each zone runs on a day on which all do: mornings first, no more at once than the source
carries, pauses where water would run off.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from euhydra.core.constants import LITRES_PER_CUBIC_METRE, SECONDS_PER_HOUR
from euhydra.garden.sentences import Amount, Sentence, say
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

MOST_NAMED = 4
"""Zones that are named; of more, two are, and how many there are."""

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
class OpenTap:
    """A tap that runs for longer in all than it may in a day, and for how long. [s]"""

    tap: Tap
    seconds: float

    @property
    def over(self) -> float:
        """[s]"""
        return self.seconds - self.tap.window_s


@dataclass(frozen=True)
class DayPlan:
    """The slots of a day on which every zone runs, by time.

    late : Zones that do not end within the time that is allowed them.
    shifted : Zones that begin later than they might, since their source was taken.
    warmed : Zones that begin later than asked, since their cold water is for crops that like it warm.
    too_long_open : Taps that run for longer than they may.
    """

    slots: tuple[Slot, ...]
    late: tuple[Late, ...]
    shifted: tuple[Zone, ...]
    warmed: tuple[Zone, ...] = ()
    too_long_open: tuple[OpenTap, ...] = ()

    @property
    def over(self) -> float:
        """Longest that anything is over its time. [s]"""
        overs = [*(each.over for each in self.late), *(each.over for each in self.too_long_open)]
        return max(overs, default=0.0)

    @property
    def does_not_fit(self) -> tuple[Sentence, ...]:
        """Why not all of it fits into a day; none where it does."""
        taps = tuple(_told_open(each) for each in self.too_long_open)
        return (_told_late(self.late), *taps) if self.late else taps

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
        # While the water soaks in nobody waits for it.
        over = own[-1].end - _wished(answer) - SOAK * (len(own) - 1) - answer.zone.span_s
        if not _is_spread(answer, month) and over > 60:
            late.append(Late(answer.zone, over))
    warmed = tuple(answer.zone for answer in due if _wished(answer) > _asked(answer) + 60)
    ordered = tuple(sorted(slots, key=lambda slot: slot.start))
    return DayPlan(ordered, tuple(late), tuple(shifted), warmed, tuple(_too_long_open(ordered)))


def busiest_day(answers: Sequence[TimeAnswer]) -> DayPlan:
    """The day of the month whose runs are most over their time, if any are."""
    return max((plan_day(answers, month) for month in range(1, 13)), key=lambda plan: plan.over)


def _told_late(late: Sequence[Late]) -> Sentence:
    told = [f"“{each.zone.name}”" for each in late]
    more = [f"{len(told) - 2} more"] if len(told) > MOST_NAMED else []
    return say(
        "season-day-all-run",
        "On a day on which all run, {names} cannot end in the time you allow: {over} too long.",
        names=", ".join([*told[:2], *more] if more else told),
        over=Amount(max(each.over for each in late), "hours"),
    )


def _told_open(each: OpenTap) -> Sentence:
    return say(
        "time-tap-open-too-long",
        "On a day on which all run, “{tap}” is open for {open}, and you allow it {window}.",
        tap=each.tap.name,
        open=Amount(each.seconds, "hours"),
        window=Amount(each.tap.window_s, "hours"),
    )


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


def _too_long_open(slots: Sequence[Slot]) -> Iterator[OpenTap]:
    """Taps from which lines run for longer than they may. The slots by their beginnings."""
    by_tap: dict[str, list[Slot]] = {}
    for slot in slots:
        if slot.zone is not None:
            by_tap.setdefault(slot.source_id, []).append(slot)
    for own in by_tap.values():
        zone = own[0].zone
        if zone is not None and isinstance(zone.source, Tap):
            found = OpenTap(zone.source, _time_open(own))
            if found.over > 60:
                yield found


def _time_open(slots: Sequence[Slot]) -> float:
    """How long any of them runs, by their beginnings. [s]"""
    total = until = 0.0
    for slot in slots:
        total += max(0.0, slot.end - max(slot.start, until))
        until = max(until, slot.end)
    return total


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
            whole = fill(store, tap, share * store.total_m3 * LITRES_PER_CUBIC_METRE)
            found.append(replace(whole, name=f"{whole.name}, when it is low"))
    return found


def fill(store: Store, tap: Tap, litres: float) -> Slot:
    """A store filled from a tap before the first run. [L]"""
    seconds = litres / LITRES_PER_CUBIC_METRE / usable_flow(tap)
    start = max(0.0, FIRST_HOUR - seconds)
    return Slot(f"Filling {store.name}", None, tap.id, start, seconds, litres, store.id)
