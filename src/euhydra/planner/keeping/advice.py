"""A finger in the soil or a leaf, read against the root zone, the weather and the last changes."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum

import numpy as np

from euhydra.core.constants import SECONDS_PER_DAY
from euhydra.core.schedule import Position, Setting
from euhydra.garden.logbook import LogEntry, entry_kinds
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.dates import MONTH_NAMES, day_in_words
from euhydra.planner.keeping.hindcast import BedTrack, Hindcast
from euhydra.planner.season.watering import Watered
from euhydra.planner.time.answer import MonthSetting, TimeAnswer

SETTLES_D = 2
"""Days that the soil takes to follow a change. [d] Common practice: look after two to three."""

GOOD_RAIN = 10.0
"""Rain of two days that wets a bed through. [mm] Common practice."""

HOT = 30.0
"""Highest temperature from which on leaves droop at noon in wet soil too. [°C] Common practice."""

FRESH_D = 14
"""Days after which an observation says nothing of today. [d] Our choice."""

LIKE = 0.1
"""Share by which a setting may differ from the plan's and still be called the same. [-] Our choice."""

NEARLY_FULL, NEARLY_DRY = 0.15, 0.85
"""Share of the readily available water that is gone, for wet and for dry by the sums. [-]"""

WET_WORDS = {"muddy": "muddy", "yellow": "yellow from below"}
DRY_WORDS = {"dry": "dry", "droop": "drooping", "crisp": "crisp"}


class Advice(StrEnum):
    """What to do."""

    RAISE = "raise"
    CUT = "cut"
    WAIT = "wait"
    LOOK = "look"
    LEAVE = "leave"


ADVICE_NAMES = {
    Advice.RAISE: "Give more",
    Advice.CUT: "Give less",
    Advice.WAIT: "Wait",
    Advice.LOOK: "Look for a leak or a clog",
    Advice.LEAVE: "Leave it as it is",
}


@dataclass(frozen=True)
class BedReading:
    """A bed's latest sign, and what follows.

    by_sums : `dry`, `right` or `wet` by the root zone on that day.
    """

    track: BedTrack
    entry: LogEntry
    by_sums: str
    advice: Advice
    summary: Sentence
    reasons: tuple[Sentence, ...]

    @property
    def name(self) -> str:
        """Of the bed or the pots."""
        return self.track.way.need.part.name


def readings(told: Hindcast, today: date) -> list[BedReading]:
    """The latest sign of every bed, those that want something done first."""
    found = [r for track in told.tracks if (r := _reading(told, track, today))]
    order = list(Advice)
    return sorted(found, key=lambda r: (r.advice is Advice.LEAVE, order.index(r.advice)))


def _reading(told: Hindcast, track: BedTrack, today: date) -> BedReading | None:
    part = track.way.need.part
    signs = [e for e in told.log if e.kind in ("finger", "leaf") and e.part_id == part.id]
    if not signs or (today - signs[-1].at.date()).days > FRESH_D:
        return None
    entry = signs[-1]
    # What a finger feels in the morning is what was left last evening.
    day = told.day(entry.at - timedelta(hours=12))
    gone = float(track.filled[day])
    if np.isnan(gone):
        return _out_of_season(track, entry)
    by_sums = "wet" if gone < NEARLY_FULL else "dry" if gone > NEARLY_DRY else "right"
    seen = "dry" if entry.word in DRY_WORDS else "wet" if entry.word in WET_WORDS else "right"
    finger = _finger_beside(signs, entry)
    if entry.kind == "leaf" and finger is not None:
        return _leaf_with_finger(told, track, entry, finger, by_sums)
    changed = _last_change(told, track.way, entry)
    if changed is not None and seen != "right" and (entry.at - changed.at).days < SETTLES_D:
        return _wait(track, entry, by_sums, changed)
    return _compared(told, track, entry, seen, by_sums, day)


def _out_of_season(track: BedTrack, entry: LogEntry) -> BedReading:
    name = track.way.need.part.name
    return BedReading(
        track,
        entry,
        "right",
        Advice.LEAVE,
        say(
            "keeping-plan-grows-day",
            "By the plan nothing grows in “{name}” on that day: it needs no water.",
            name=name,
        ),
        (
            say(
                "keeping-something-grow-add",
                "If something does grow there, add it on Need, and its soil is reckoned too.",
            ),
        ),
    )


def _compared(
    told: Hindcast, track: BedTrack, entry: LogEntry, seen: str, by_sums: str, day: int
) -> BedReading:
    first = _by_sums(told, track, day, by_sums)
    reasons = [first, *_weather(told, day, seen)]
    name = track.way.need.part.name
    felt = entry_kinds()[entry.kind].words or {}
    sign = (
        f"“{name}” was {felt[entry.word]}"
        if entry.kind == "finger"
        else f"The leaves of “{name}” were {felt[entry.word]}"
    )
    if seen == "right":
        return BedReading(
            track,
            entry,
            by_sums,
            Advice.LEAVE,
            say("keeping-leave-as-is", "{sign}: leave it as it is.", sign=sign),
            tuple(reasons),
        )
    compare = _dry if seen == "dry" else _wet
    advice, said, more = compare(told, track, entry, day, by_sums)
    return BedReading(
        track,
        entry,
        by_sums,
        advice,
        say("keeping-sign-says", "{sign}, {said}", sign=sign, said=said),
        (*reasons, *more),
    )


Compared = tuple[Advice, str, Iterable[Sentence]]
"""What to do, the rest of the sentence that says why, and the reasons."""


def _dry(told: Hindcast, track: BedTrack, entry: LogEntry, day: int, by_sums: str) -> Compared:
    more = _setting(told, track, entry, day, is_more=True)
    if by_sums == "dry":
        return Advice.RAISE, "and by the sums too: give more.", more
    if _given(track, day) <= 0:
        thirsty = say(
            "keeping-nothing-was-given",
            "Nothing was given in that week: the soil dries sooner than the sums say, as where "
            "roots are shallow yet, or rain missed it. Water it once, and feel again.",
        )
        return Advice.RAISE, "though by the sums rain and soil should carry it.", (thirsty, *more)
    clog = say(
        "keeping-water-does-not-get-there",
        "So the water does not get there: hold a cup under its last outlet, and look for a clog"
        " or a kink.",
    )
    return Advice.LOOK, "though it was given enough.", (clog,)


def _wet(told: Hindcast, track: BedTrack, entry: LogEntry, day: int, by_sums: str) -> Compared:
    if by_sums == "wet" or (by_sums == "right" and _rained(told, day)):
        less = _setting(told, track, entry, day, is_more=False)
        return Advice.CUT, "and by the sums it is nearly full: give less.", less
    leak = say(
        "keeping-more-comes-than-told",
        "So more comes than was told: look for a leak, an end that drips, or a valve that does "
        "not shut.",
    )
    return Advice.LOOK, "though it was not given that much.", (leak,)


def _leaf_with_finger(
    told: Hindcast, track: BedTrack, leaf: LogEntry, finger: LogEntry, by_sums: str
) -> BedReading:
    """Leaves say that something is wrong; the finger says what."""
    name = track.way.need.part.name
    if finger.word == "muddy" and leaf.word in ("droop", "yellow"):
        return BedReading(
            track,
            leaf,
            by_sums,
            Advice.CUT,
            say(
                "keeping-leaves-suffer-muddy",
                "The leaves of “{name}” suffer in muddy soil: roots without air. Give less.",
                name=name,
            ),
            (
                say(
                    "keeping-drooping-leaves-ask",
                    "Drooping leaves ask for water only where the soil is dry.",
                ),
            ),
        )
    if finger.word == "right" and leaf.word in ("droop", "crisp"):
        return BedReading(
            track,
            leaf,
            by_sums,
            Advice.WAIT,
            say(
                "keeping-soil-right-heat",
                "The soil of “{name}” is right: heat, wind or salt marks its leaves. Shade it, and wait.",
                name=name,
            ),
            (
                say(
                    "keeping-leaves-stand-again",
                    "Leaves that stand up again by the next morning need nothing.",
                ),
            ),
        )
    day = told.day(finger.at - timedelta(hours=12))
    seen = "dry" if finger.word == "dry" else "wet" if finger.word == "muddy" else "right"
    return _compared(told, track, finger, seen, by_sums, day)


def _wait(track: BedTrack, entry: LogEntry, by_sums: str, changed: LogEntry) -> BedReading:
    name = track.way.need.part.name
    look = changed.at + timedelta(days=SETTLES_D + 1)
    return BedReading(
        track,
        entry,
        by_sums,
        Advice.WAIT,
        say(
            "keeping-setting-was-changed",
            "The setting for “{name}” was changed only just before: feel again on {day}, when the "
            "soil has followed.",
            name=name,
            day=day_in_words(look.date()),
        ),
        (
            say(
                "keeping-soil-takes-three",
                "The soil takes two to three days to follow a change (common practice).",
            ),
        ),
    )


def _finger_beside(signs: list[LogEntry], leaf: LogEntry) -> LogEntry | None:
    """The finger test of the same days as a leaf."""
    near = [e for e in signs if e.kind == "finger" and abs(e.at - leaf.at) <= timedelta(days=1)]
    return near[-1] if near and leaf.kind == "leaf" else None


def _last_change(told: Hindcast, way: Watered, entry: LogEntry) -> LogEntry | None:
    head = way.time.zone.id if way.time is not None else ""
    changes = [
        e for e in told.log if e.kind == "setting" and e.part_id == head and e.at <= entry.at
    ]
    return changes[-1] if changes else None


def _by_sums(told: Hindcast, track: BedTrack, day: int, by_sums: str) -> Sentence:
    words = {
        "dry": "past or near its refill point",
        "right": "between full and the refill point",
        "wet": "nearly full",
    }
    week = _week(day)
    area = track.way.need.area_m2
    return say(
        "keeping-sums-was-within",
        "By the sums it was {state}: {gone} of what is within easy reach was gone; in the week "
        "before, {rain} of rain, {given} of watering, and {drunk} drunk.",
        state=words[by_sums],
        gone=Amount(max(0.0, float(track.filled[day])), "share"),
        rain=Amount.millimetres(float(track.way.need.rain[week].sum())),
        given=Amount.millimetres(_given(track, day) / area),
        drunk=Amount.millimetres(float(track.run.transpired[week].sum())),
    )


def _week(day: int) -> slice:
    """The days up to one, it among them."""
    return slice(max(0, day - 6), day + 1)


def _given(track: BedTrack, day: int) -> float:
    """What a bed was given in the week up to a day. [L]"""
    return float(track.watered[_week(day)].sum())


def _rained(told: Hindcast, day: int) -> bool:
    return float(told.record.precip[max(0, day - 1) : day + 1].sum()) >= GOOD_RAIN


def _weather(told: Hindcast, day: int, seen: str) -> Iterator[Sentence]:
    if not told.rain_is_logged:
        yield say(
            "keeping-rain-log-sums",
            "No rain is in the log: the sums take the record's own where it has these days, else "
            "none.",
        )
    if seen == "dry" and _rained(told, day):
        yield say(
            "keeping-rained-well-just",
            "It rained well just before: mulch or thick leaves may have kept the rain from the soil.",
        )
    if seen == "dry" and float(told.record.temp_max[max(0, day - 2) : day + 1].max()) >= HOT:
        yield say("keeping-was-hot", "It was hot: run it longer, not more often.")


def _setting(
    told: Hindcast, track: BedTrack, entry: LogEntry, day: int, is_more: bool
) -> Iterator[Sentence]:
    """What the plan would set in that month, beside what the log says it is set to."""
    way = track.way
    if way.time is None:
        litres = float(way.need.net_a_day.max()) * way.need.area_m2
        yield say(
            "keeping-hand-day-height",
            "By hand: {litres} a day at the height of the season.",
            litres=Amount.litres(litres),
        )
        return
    month = int(way.need.record.month[day])
    setting = way.time.months[month - 1].setting
    if setting is None:
        yield say(
            "keeping-plan-timer-month",
            "The plan has this timer off in this month: rain and soil carry it.",
        )
        near = _nearest_set(way.time, month)
        if is_more and near and near.setting:
            until_rain = "Until it rains, set it as in {month}"
            yield _as_set(until_rain, near.setting, MONTH_NAMES[near.month - 1])
        return
    position = setting.position
    yield _as_set("The plan for this month", setting)
    yield _next_setting(_last_change(told, way, entry), position, is_more)


def _nearest_set(time: TimeAnswer, month: int) -> MonthSetting | None:
    """The month nearest to one that is off, in which something is set; of two alike, the later."""
    by_distance = (n for away in range(1, 7) for n in (month + away, month - away))
    months = (time.months[(n - 1) % len(time.months)] for n in by_distance)
    return next((m for m in months if m.setting), None)


def _as_set(beginning: str, setting: Setting, month: str = "") -> Sentence:
    position = setting.position
    times = ", {times} times a day." if position.runs_a_day > 1 else "."
    return say(
        "keeping-set-as-planned",
        beginning + ": {run}, every {every}" + times,
        month=month,
        run=Amount.minutes(position.run_minutes),
        every=f"{position.mean_days:g} day{'s' if position.mean_days != 1 else ''}",
        times=position.runs_a_day,
    )


def _next_setting(changed: LogEntry | None, planned: Position, is_more: bool) -> Sentence:
    """From what it is set to, to what it is to be set to."""
    step = "go one step of the dial {way}, and feel again in three days."
    way = "further" if is_more else "back"
    if changed is None:
        return say("keeping-one-step", "If that is what it is set to, " + step, way=way)
    run, every = changed.amounts[0] or 0.0, changed.amounts[1] or SECONDS_PER_DAY
    a_day = run * SECONDS_PER_DAY / every
    wanted = planned.run_minutes * 60 * planned.runs_a_day / planned.mean_days
    is_behind = a_day < wanted * (1 - LIKE) if is_more else a_day > wanted * (1 + LIKE)
    return say(
        "keeping-set-as-planned-now" if is_behind else "keeping-one-step",
        "It is set to {run}, every {every}: "
        + ("set it as planned, and feel again in three days." if is_behind else step),
        way=way,
        run=Amount(run, "minutes"),
        every=Amount(every, "days"),
    )
