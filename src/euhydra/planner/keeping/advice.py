"""A finger in the soil or a leaf, read against the root zone, the weather and the last changes."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum

import numpy as np

from euhydra.core.constants import SECONDS_PER_DAY
from euhydra.garden.logbook import LogEntry, entry_kinds
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.dates import day_in_words
from euhydra.planner.keeping import leaves
from euhydra.planner.keeping.dial import last_change, set_otherwise
from euhydra.planner.keeping.hindcast import BedTrack, Hindcast
from euhydra.planner.keeping.signs import DRY_WORDS, Signs, signs_of

SETTLES_D = 2
"""Days that the soil takes to follow a change. [d] Common practice: look after two to three."""

GOOD_RAIN = 10.0
"""Rain of two days that wets a bed through. [mm] Common practice."""

HOT = 30.0
"""Highest temperature from which on leaves droop at noon in wet soil too. [°C] Common practice."""

MOST_SKIPPED_D = 3
"""Days for which a timer is kept shut after rain. [d] Common practice: one to three, by depth."""

NEARLY_FULL, NEARLY_DRY = 0.15, 0.85
"""Share of the readily available water that is gone, for wet and for dry by the sums. [-]"""


class Advice(StrEnum):
    """What to do: that first for which plants suffer most."""

    RAISE = "raise"
    LOOK = "look"
    FEEL = "feel"
    CUT = "cut"
    SKIP = "skip"
    FEED = "feed"
    WAIT = "wait"
    LEAVE = "leave"


MENDS = (Advice.RAISE, Advice.LOOK, Advice.CUT)
"""What says that something is wrong; the rest is to wait, to feel again, to feed."""

ADVICE_NAMES = {
    Advice.RAISE: "Give more",
    Advice.LOOK: "Look for a leak or a clog",
    Advice.FEEL: "Feel the soil",
    Advice.CUT: "Give less",
    Advice.SKIP: "Skip a run",
    Advice.FEED: "Feed it",
    Advice.WAIT: "Wait",
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

    @property
    def is_dry(self) -> bool:
        """Whether its plants lack water, and not air."""
        return self.entry.word in DRY_WORDS


Compared = tuple[Advice, Sentence, Iterable[Sentence]]
"""What to do, the rest of the sentence that says why, and the reasons."""


def readings(told: Hindcast, today: date) -> list[BedReading]:
    """The latest sign of every bed: what is too dry first, of those alike today's before last week's."""
    found = [r for track in told.tracks if (r := _reading(told, track, today))]
    order = list(Advice)

    def weight(reading: BedReading) -> tuple[bool, bool, int, timedelta]:
        is_left = reading.advice is Advice.LEAVE
        age = today - reading.entry.at.date()
        return is_left, not reading.is_dry, order.index(reading.advice), age

    return sorted(found, key=weight)


def _reading(told: Hindcast, track: BedTrack, today: date) -> BedReading | None:
    signs = signs_of(told.log, track.way.need.part.id, today)
    if signs is None:
        return None
    day = told.day(signs.evening)
    gone = float(track.filled[day])
    if np.isnan(gone):
        return _out_of_season(track, signs.entry)
    by_sums = "wet" if gone < NEARLY_FULL else "dry" if gone > NEARLY_DRY else "right"
    felt = _Felt(told, track, signs, day, by_sums)
    if signs.finger is None and signs.entry.word != "fine":
        return felt.leaf_alone()
    if signs.says != "right":
        if signs.is_aged(today):
            return felt.aged()
        changed = last_change(told.log, track.way)
        if changed is not None and (signs.entry.at - changed.at).days < SETTLES_D:
            return felt.wait(changed)
    if signs.leaf is not None and signs.finger is not None:
        return felt.leaf_with_finger(signs.leaf)
    return felt.compared()


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
                "If something does grow there, add it on Need, and its soil is followed too.",
            ),
        ),
    )


@dataclass(frozen=True)
class _Felt:
    """Signs of a bed on a day, and how its root zone stood by the sums."""

    told: Hindcast
    track: BedTrack
    signs: Signs
    day: int
    by_sums: str

    @property
    def name(self) -> str:
        return self.track.way.need.part.name

    def said(self, advice: Advice, summary: Sentence, *reasons: Sentence) -> BedReading:
        """With what the sums and the weather say of it."""
        return BedReading(self.track, self.signs.entry, self.by_sums, advice, summary, reasons)

    def compared(self) -> BedReading:
        """What was felt against the sums."""
        entry, says = self.signs.entry, self.signs.says
        words = (entry_kinds()[entry.kind].words or {})[entry.word]
        if entry.kind == "finger":
            sign = say("keeping-soil-was", "“{name}” was {word}", name=self.name, word=words)
        else:
            sign = say(
                "keeping-leaves-were",
                "The leaves of “{name}” were {word}",
                name=self.name,
                word=words,
            )
        reasons = self._told()
        if says == "right":
            leave = say("keeping-leave-as-is", "{sign}: leave it as it is.", sign=sign)
            return self.said(Advice.LEAVE, leave, *reasons)
        advice, said, more = self._dry() if says == "dry" else self._wet()
        summary = say("keeping-sign-says", "{sign}, {said}", sign=sign, said=said)
        return self.said(advice, summary, *reasons, *more)

    def _told(self) -> tuple[Sentence, ...]:
        """The sums and the weather."""
        first = _by_sums(self.track, self.day, self.by_sums)
        return first, *_weather(self.told, self.day, self.signs.says)

    def _set(self, is_more: bool) -> Iterator[Sentence]:
        return set_otherwise(self.told.log, self.track, self.signs.entry.at, self.day, is_more)

    def _dry(self) -> Compared:
        if self.by_sums == "dry":
            return Advice.RAISE, self._litres_now(), self._set(is_more=True)
        if _given(self.track, self.day) <= 0:
            thirsty = say(
                "keeping-nothing-was-given",
                "Nothing was given in that week: the soil dries sooner than the plan says, as where "
                "roots are shallow yet, or rain missed it. Water it once, and feel again.",
            )
            said = say("keeping-dry-against-sums", "though rain and soil should carry it.")
            return Advice.RAISE, said, (thirsty, *self._set(is_more=True))
        clog = say(
            "keeping-water-does-not-get-there",
            "So the water does not get there: hold a cup under its last outlet, and look for a clog"
            " or a kink.",
        )
        return Advice.LOOK, say("keeping-dry-though-given", "though it was given enough."), (clog,)

    def _litres_now(self) -> Sentence:
        """Plants that are behind drink first; then the dial is turned."""
        track = self.track
        if not track.filled[-1] > NEARLY_DRY:
            return say("keeping-dry-by-sums", "and the plan says so too: give more.")
        lacks = float(track.run.depletion[-1]) * track.way.need.area_m2
        return say(
            "keeping-dry-give-now",
            "and the plan says so too: give it {litres} now, then more each time.",
            litres=Amount.litres(lacks),
        )

    def _wet(self) -> Compared:
        rain = _rain_of_two_days(self.told, self.day)
        if rain >= GOOD_RAIN:
            return Advice.SKIP, *self._after_rain(rain)
        if self.by_sums == "wet":
            said = say("keeping-wet-by-sums", "and the plan has it nearly full: give less.")
            return Advice.CUT, said, self._set(is_more=False)
        leak = say(
            "keeping-more-comes-than-told",
            "So more comes than was told: look for a leak, an end that drips, or a valve that does "
            "not shut.",
        )
        return (
            Advice.LOOK,
            say("keeping-wet-not-given", "though it was not given that much."),
            (leak,),
        )

    def _after_rain(self, rain: float) -> tuple[Sentence, tuple[Sentence, ...]]:
        """A run or two fewer; the dial stays."""
        days = min(max(int(rain // GOOD_RAIN), 1), MOST_SKIPPED_D)
        return (
            say("keeping-wet-after-rain", "after the rain: skip a run, and leave the dial."),
            (
                say(
                    "keeping-skip-days",
                    "{rain} fell in two days: keep it shut for {days} more, then as before (common practice).",
                    rain=Amount.millimetres(rain),
                    days=Amount(days * SECONDS_PER_DAY, "days"),
                ),
            ),
        )

    def leaf_with_finger(self, leaf: LogEntry) -> BedReading:
        """Leaves say that something is wrong; the finger says what."""
        if self.signs.says == "dry":
            return self.compared()
        if self.signs.says == "wet":
            found = leaves.in_muddy_soil(self.name)
            advice, _, more = self._wet()
            return self.said(advice, found.summary, found.reason, *self._told(), *more)
        found = leaves.in_right_soil(self.name, leaf.word)
        advice = {"yellow": Advice.FEED, leaves.AT_NOON: Advice.LEAVE}.get(leaf.word, Advice.WAIT)
        return self.said(advice, found.summary, found.reason, *self._told())

    def leaf_alone(self) -> BedReading:
        """Nothing is done before the soil was felt."""
        found = leaves.without_finger(self.name, self.signs.entry)
        return self.said(Advice.FEEL, found.summary, found.reason, *self._told())

    def aged(self) -> BedReading:
        """Much has rained and been drunk since."""
        entry = self.signs.entry
        again = say(
            "keeping-feel-again",
            "“{name}” was {word} on {day}, too long ago to go by: feel it again.",
            name=self.name,
            word=(entry_kinds()[entry.kind].words or {})[entry.word],
            day=day_in_words(entry.at.date()),
        )
        return self.said(Advice.FEEL, again, *self._told())

    def wait(self, changed: LogEntry) -> BedReading:
        """The setting was changed just before, or since."""
        look = max((changed.at + timedelta(days=SETTLES_D + 1)).date(), self.told.today)
        since = say(
            "keeping-setting-was-changed",
            "The setting for “{name}” was changed only just before: feel again on {day}, when the "
            "soil has followed.",
            name=self.name,
            day=day_in_words(look),
        )
        if changed.at > self.signs.entry.at:
            since = say(
                "keeping-setting-changed-since",
                "The setting for “{name}” has been changed since it was felt: feel again on {day}.",
                name=self.name,
                day=day_in_words(look),
            )
        takes = say(
            "keeping-soil-takes-three",
            "The soil takes two to three days to follow a change (common practice).",
        )
        return self.said(Advice.WAIT, since, takes)


def _by_sums(track: BedTrack, day: int, by_sums: str) -> Sentence:
    words = {
        "dry": "past or near its refill point",
        "right": "between full and the refill point",
        "wet": "nearly full",
    }
    week = _week(day)
    area = track.way.need.area_m2
    return say(
        "keeping-sums-was-within",
        "The plan had it {state}: {gone} of what is within easy reach was gone; in the week "
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


def _rain_of_two_days(told: Hindcast, day: int) -> float:
    """[mm]"""
    return float(told.record.precip[max(0, day - 1) : day + 1].sum())


def _weather(told: Hindcast, day: int, seen: str) -> Iterator[Sentence]:
    if not told.rain_is_logged:
        yield say(
            "keeping-rain-log-sums",
            "No rain is in the log: the plan takes the record's own where it has these days, else "
            "none.",
        )
    if seen == "dry" and _rain_of_two_days(told, day) >= GOOD_RAIN:
        yield say(
            "keeping-rained-well-just",
            "It rained well just before: mulch or thick leaves may have kept the rain from the soil.",
        )
    if seen == "dry" and float(told.record.temp_max[max(0, day - 2) : day + 1].max()) >= HOT:
        yield say("keeping-was-hot", "It was hot: run it longer, not more often.")
