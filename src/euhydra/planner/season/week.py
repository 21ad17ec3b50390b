"""A week of the record as it would run: which zone when, the rain, and the stores' level under it."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import ceil

import numpy as np
from numpy.typing import NDArray

from euhydra.core.constants import SECONDS_PER_DAY, SECONDS_PER_MINUTE
from euhydra.core.weather import DailyWeather
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.answers import Mark, PlanError, Verdict
from euhydra.planner.dates import MONTH_NAMES, hour_in_words
from euhydra.planner.season.replay import Season
from euhydra.planner.season.works import topped_stores
from euhydra.planner.time import dayplan, programme
from euhydra.planner.time.answer import TimeAnswer
from euhydra.planner.time.dayplan import DayPlan, Slot
from euhydra.planner.time.programme import DayRuns

Floats = NDArray[np.float64]

WEEK = 7

SHORTEST_SHOWN = 0.5
"""Shortest run worth a word. [min] Our choice: a timer that adjusts its runs leaves it out."""


@dataclass(frozen=True)
class Level:
    """A store's level through the week: litres at moments from its first midnight. [s], [L]"""

    name: str
    capacity: float
    moments: tuple[float, ...]
    litres: tuple[float, ...]


@dataclass(frozen=True)
class WeekAnswer:
    """Seven days from a Monday on.

    runs : What runs, with its day of the week, Monday 0.
    rain : Of each day. [mm]
    by_hand : Runs that somebody has to start: the rota.
    """

    month: int
    first: np.datetime64
    plan: DayPlan
    runs: tuple[tuple[int, Slot], ...]
    rain: tuple[float, ...]
    levels: tuple[Level, ...]
    verdict: Verdict

    @property
    def by_hand(self) -> tuple[tuple[int, Slot], ...]:
        """The rota."""
        return tuple(
            (day, slot)
            for day, slot in self.runs
            if slot.zone is not None
            and slot.zone.timer is not None
            and slot.zone.timer.wants_somebody
        )


def answer_week(answers: Sequence[TimeAnswer], season: Season, month: int) -> WeekAnswer:
    """A week of the month's middling year.

    Raises
    ------
    PlanError : if no zone has a timer, or the record has no whole week in that month.
    """
    if not answers:
        raise PlanError(
            say(
                "season-zone-timer-opened",
                "No zone has a timer or is opened by turns yet: see Settings.",
            )
        )
    record = season.record
    first = first_monday(record, month)
    plan = dayplan.plan_day(answers, month)
    runs = _fills(season, first)
    for answer in answers:
        own = [slot for slot in plan.slots if slot.zone and slot.zone.id == answer.zone.id]
        runs += runs_over(answer, season.runs_of(answer), own, first, WEEK)
    levels = _levels(season, first, runs)
    rain = tuple(record.precip[first : first + WEEK].tolist())
    runs.sort(key=lambda pair: (pair[0], pair[1].start))
    return WeekAnswer(
        month,
        record.days[first],
        plan,
        tuple(runs),
        rain,
        levels,
        _verdict(answers, month, plan, runs),
    )


def first_monday(record: DailyWeather, month: int) -> int:
    """Position of the first Monday of the month in the year whose rain that month is middling."""
    here = np.flatnonzero(record.month == month)
    mondays = here[programme.weekday_of(record.days[here]) == 0]
    mondays = mondays[mondays + WEEK <= len(record.days)]
    mondays = np.array([m for m in mondays if record.month[m + WEEK - 1] == month], dtype=np.intp)
    if not len(mondays):
        raise PlanError(
            say(
                "season-weather-whole-week",
                "Your weather has no whole week of {month}.",
                month=MONTH_NAMES[month - 1],
            )
        )
    years = np.unique(record.year[mondays])
    rain = [record.precip[here][record.year[here] == y].sum() for y in years]
    middle = years[np.argsort(rain)[len(years) // 2]]
    return int(mondays[record.year[mondays] == middle][0])


def runs_over(
    answer: TimeAnswer, daily: DayRuns, slots: Sequence[Slot], first: int, days: int
) -> list[tuple[int, Slot]]:
    """A zone's runs over days of the record, each with its day counted from the first.

    Parameters
    ----------
    daily : What the zone runs on each day of the record.
    slots : Its runs on a day on which it runs in full.
    """
    runs: list[tuple[int, Slot]] = []
    months = answer.beds[0].need.record.month[first : first + days].tolist()
    for day, minutes in enumerate(daily.minutes[first : first + days].tolist()):
        if minutes >= SHORTEST_SHOWN:
            whole = list(slots) or [dayplan.lone_slot(answer, minutes, months[day])]
            runs += [(day, slot) for slot in _as_long(whole, minutes)]
    return runs


def _as_long(slots: Sequence[Slot], minutes: float) -> list[Slot]:
    """The day's slots, so long that they come to its minutes: something new has its own setting."""
    each = minutes * 60.0 / len(slots)
    return [replace(slot, seconds=each, litres=slot.litres * each / slot.seconds) for slot in slots]


def _fills(season: Season, first: int) -> list[tuple[int, Slot]]:
    """What a tap fills up in the week: only a store that is low."""
    taps = {tap.id: tap for tap in season.garden.taps}
    found = []
    for (_, store, tap_id), topped in zip(
        topped_stores(season.groups), season.run.topped, strict=True
    ):
        for day, litres in enumerate(topped[first : first + WEEK].tolist()):
            slot = dayplan.fill(store, taps[tap_id], litres)
            if slot.seconds >= SHORTEST_SHOWN * SECONDS_PER_MINUTE:
                found.append((day, slot))
    return found


def _levels(season: Season, first: int, runs: Sequence[tuple[int, Slot]]) -> tuple[Level, ...]:
    found = []
    for tank, group in enumerate(season.groups):
        ids = {store.id for store in group.stores}
        own = [(day, slot) for day, slot in runs if {slot.source_id, slot.filled_id} & ids]
        drawn = season.run.drawn_from(tank)
        evenings = season.run.level[tank]
        start = season.works.tanks[tank].start if first == 0 else float(evenings[first - 1])
        moments, litres = [0.0], [start]
        for day in range(WEEK):
            here = sorted((slot for d, slot in own if d == day), key=lambda s: s.start)
            total = sum(slot.litres for slot in here if not slot.filled_id)
            level = litres[-1]
            for slot in here:
                share = slot.litres / total if total else 0.0
                gained = slot.litres if slot.filled_id else -float(drawn[first + day]) * share
                moments += [day * SECONDS_PER_DAY + slot.start, day * SECONDS_PER_DAY + slot.end]
                litres += [level, level + gained]
                level += gained
            end = (day + 1) * SECONDS_PER_DAY
            moments += [end, end]
            litres += [level, float(evenings[first + day])]
        found.append(
            Level(group.name, season.works.tanks[tank].capacity, tuple(moments), tuple(litres))
        )
    return tuple(found)


def _rota(answers: Sequence[TimeAnswer], plan: DayPlan, month: int) -> tuple[Sentence, ...]:
    """Whether what one hand opens by turns fits if it is spread over days, and if not, by how much it does not."""
    by_hand = [a for a in answers if a.timer.wants_somebody and a.months[month - 1].setting]
    if not any(late.zone.id == answer.zone.id for late in plan.late for answer in by_hand):
        return ()
    ids = {answer.zone.id for answer in by_hand}
    takes = sum(slot.seconds for slot in plan.slots if slot.zone and slot.zone.id in ids)
    window = min(answer.zone.window_s for answer in by_hand)
    wanted = (a.months[month - 1].setting for a in by_hand)
    every = min(setting.position.mean_days for setting in wanted if setting)
    days = ceil(takes / window)
    if days <= every:
        return (
            say(
                "season-rota-fits",
                "Opened by turns over {days} it fits: each comes round as often as it wants, every {every}.",
                days=Amount.days(days),
                every=Amount.days(round(every, 1)),
            ),
        )
    return (
        say(
            "season-rota-too-long",
            "By turns it takes {takes} in {every}, and you allow {window} of those: {over} too long, or each "
            "comes round every {days} only.",
            takes=Amount(takes, "hours"),
            every=Amount.days(round(every, 1)),
            window=Amount(window * every, "hours"),
            over=Amount(takes - window * every, "hours"),
            days=Amount.days(days),
        ),
    )


def _verdict(
    answers: Sequence[TimeAnswer], month: int, plan: DayPlan, runs: Sequence[tuple[int, Slot]]
) -> Verdict:
    name = MONTH_NAMES[month - 1]
    if plan.does_not_fit:
        first, *others = plan.does_not_fit
        return Verdict(
            Mark.FAILS,
            first,
            (
                *others,
                *_rota(answers, plan, month),
                say(
                    "season-zones-source-run",
                    "Zones on one source run one after another: let some run on other days, begin earlier, "
                    "or allow more time.",
                ),
            ),
        )
    zones = [slot for _, slot in runs if slot.zone is not None]
    if not zones:
        return Verdict(
            Mark.WORKS,
            say("season-runs-middling", "Nothing runs in an ordinary {name}.", name=name),
        )
    # Something new may be watered in a month in which all settings are off.
    last = max(slot.end for slot in (*plan.slots, *zones))
    reasons = [
        say(
            "season-begins-later-asked",
            "“{zone}” begins later than asked: until then its source or its timer is busy with "
            "another zone.",
            zone=zone.name,
        )
        for zone in plan.shifted
    ]
    reasons += [
        say(
            "season-waits-for-warmth",
            "“{zone}” begins at {hour}, not before: the water is cold and what grows there likes it warm, so wait "
            "until the sun is on the hose (common practice).",
            zone=zone.name,
            hour=hour_in_words(dayplan.WARM_HOUR),
        )
        for zone in plan.warmed
    ]
    return Verdict(
        Mark.WORKS,
        say(
            "season-week-middling-all",
            "A week of an ordinary {name}: {litres}, all done by {hour} on the longest day.",
            name=name,
            hour=hour_in_words(last),
            litres=Amount.litres(sum(slot.litres for slot in zones)),
        ),
        tuple(reasons),
    )
