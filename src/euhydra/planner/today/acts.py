"""What each zone and each bed by hand wants this morning, by the log and the days ahead."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from euhydra.core.constants import LITRES_PER_CUBIC_METRE
from euhydra.core.schedule import Position
from euhydra.core.weather import DailyWeather
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.garden.timers import Timer
from euhydra.planner.answers import Gap
from euhydra.planner.dates import day_in_words
from euhydra.planner.keeping.hindcast import BedTrack
from euhydra.planner.learning.answer import Learned
from euhydra.planner.learning.ran import ZoneRan
from euhydra.planner.need import daily
from euhydra.planner.time.design import BedShare
from euhydra.planner.today import choosing
from euhydra.planner.today.ahead import DAYS, Ahead
from euhydra.planner.today.choosing import Do, ZoneMorning

Floats = NDArray[np.float64]

LOOKED_BACK_D = 3
"""Days whose rain is told. [d]"""

FELT_D = 5
"""Days for which a finger or a dip makes sure. [d] Our choice."""

MOST_CANS = 12.0
"""Of a morning to one bed. Our choice: half an hour of carrying, and what it lacks more the next."""


class Sure(StrEnum):
    """How much of the state was seen lately."""

    SURE = "sure"
    FAIR = "fair"
    POOR = "poor"


@dataclass(frozen=True)
class MorningAct:
    """One line of the morning.

    about, name : Zone, or bed or pots by hand.
    part_id : The one bed or pots that the water goes to; None where it goes to several.
    minutes : Of an extra run, or of today's as set, or of one run as it is turned to. [min]
    days : For which it is paused, or from one watering day to the next as it is turned to. [d]
    litres : Of today. [L]
    cans : Of today.
    dry_days : Expected in the week, over all its beds. [d]
    turned_to : What the timer is turned to, if it is.
    head_id : Of its timer, that is run, paused or turned; None where there is none.
    """

    about: str
    name: str
    part_id: str | None
    do: Do
    minutes: float
    days: int
    litres: float
    cans: float
    dry_days: float
    reason: Sentence
    sure: Sure
    turned_to: Position | None = None
    head_id: str | None = None

    @property
    def every_d(self) -> float:
        """From one run to the next, as it is turned to. [d]"""
        if self.turned_to is None:
            return 0.0
        return self.turned_to.mean_days / self.turned_to.runs_a_day


@dataclass(frozen=True)
class Morning:
    """What is known of the garden, and the days ahead.

    many : Weather of the years that are looked ahead on.
    """

    learned: Learned
    many: DailyWeather
    ahead: Ahead

    def share(self, track: BedTrack) -> BedShare:
        """A bed in those years, as its zone waters it; as a hand does where none does."""
        part, time = track.way.need.part, track.way.time
        if time is not None:
            return next(b for b in time.chosen_on.beds if b.need.part.id == part.id)
        garden, wetted = self.learned.told.chain.garden, track.way.need.wetted
        return BedShare(daily.need_of(part, garden, self.many, wetted), 1.0, 1.0)

    def grows(self, track: BedTrack) -> bool:
        """Whether it is in season in these days."""
        return bool(self.share(track).need.is_growing[self.ahead.index].any())

    def water_of(self, ran: ZoneRan) -> tuple[float | None, float]:
        """What its store holds, and what comes into it on a mean day of the week; None on a tap. [L]"""
        group = ran.zone.group
        if group is None:
            return None, 0.0
        tank, store = next(
            (i, s) for i, s in enumerate(self.learned.stores) if s.group.id == group.id
        )
        return float(store.water[-1]), float(self.comes(tank).mean()) / DAYS

    def comes(self, tank: int) -> Floats:
        """Into a store in the coming days, of each year. [L]"""
        chain = self.learned.told.chain
        if isinstance(chain.season, Gap) or chain.record is None:
            return np.zeros(1)
        inflow, rain = chain.season.works.tanks[tank].inflow, float(chain.record.precip.sum())
        a_millimetre = float(inflow.sum()) / rain if rain > 0 else 0.0
        fell = np.where(
            np.isnan(self.ahead.rain), self.many.precip[self.ahead.index], self.ahead.rain
        )
        return np.asarray(fell.sum(axis=0) * a_millimetre)


def gone_of(track: BedTrack) -> float:
    """What is gone from its roots this morning. [mm]"""
    return float(np.nan_to_num(track.run.depletion[-1]))


def acts_of(morning: Morning) -> tuple[MorningAct, ...]:
    """Every zone with a timer, and every bed that only a hand waters, those first that need somebody."""
    found = [*_zones(morning), *_by_hand(morning)]
    return tuple(sorted(found, key=lambda act: (list(Do).index(act.do), -act.dry_days)))


def _zones(morning: Morning) -> Iterator[MorningAct]:
    told = morning.learned.told
    for flow in morning.learned.flows:
        tracks = [told.tracks[place] for place in flow.ran.ways]
        tracks = [track for track in tracks if morning.grows(track)]
        if flow.ran.is_timed and not flow.ran.time.stands_by and tracks:
            yield _of_zone(morning, flow.ran, tracks)


def _of_zone(morning: Morning, ran: ZoneRan, tracks: Sequence[BedTrack]) -> MorningAct:
    today = morning.ahead.today
    planned = _planned(ran, today.month)
    position = _set_now(ran) or planned
    is_other = planned is not None and not _is_alike(planned, position)
    water, comes = morning.water_of(ran)
    found = choosing.choose(
        ZoneMorning(
            ran.time.chosen_on,
            [morning.share(track) for track in tracks],
            [gone_of(track) for track in tracks],
            _as_set(position, ran, today),
            _as_set(planned, ran, today) if is_other else None,
            position.runs_a_day if position else 1,
            water,
            comes,
        ),
        morning.ahead,
    )
    runs = found.minutes[0]
    turned = planned if found.do is Do.TURN else None
    return MorningAct(
        ran.zone.id,
        ran.zone.name,
        tracks[0].way.need.part.id if len(tracks) == 1 else None,
        Do.LEAVE if found.do is Do.AS_SET and runs <= 0 else found.do,
        turned.run_minutes if turned else found.extra or runs,
        max(1, round(turned.mean_days)) if turned else found.days,
        found.litres[0],
        0.0,
        found.dry_days,
        _reason(morning, tracks),
        _sure(morning, tracks),
        turned,
        ran.head_id if isinstance(ran.zone.head, Timer) else None,
    )


def _set_now(ran: ZoneRan) -> Position | None:
    """As it is set, where that was said."""
    head = ran.zone.head
    if isinstance(head, Timer) and head.set_minutes is not None:
        return Position(head.set_minutes / 60.0, float(head.set_every_d), head.set_starts)
    return None


def _planned(ran: ZoneRan, month: int) -> Position | None:
    """As the plan has it in a month; None where it is off."""
    setting = ran.time.months[month - 1].setting
    return setting.position if setting else None


def _is_alike(one: Position, other: Position | None) -> bool:
    """Whether two settings come to the same."""
    if other is None:
        return False
    same = one.runs_a_day == other.runs_a_day and one.mean_days == other.mean_days
    return same and round(one.run_minutes) == round(other.run_minutes)


def _as_set(position: Position | None, ran: ZoneRan, today: date) -> tuple[float, ...]:
    """Minutes on each of the coming days, counted on from its last run. [min]"""
    if position is None:
        return (0.0,) * DAYS
    runs = np.flatnonzero(ran.minutes > 0)
    since = len(ran.minutes) - int(runs[-1]) if len(runs) else 0
    days = np.arange(DAYS)
    on = position.waters_on(days + since, (today.weekday() + days) % 7)
    return tuple(np.where(on, position.minutes_a_day, 0.0).tolist())


def _by_hand(morning: Morning) -> Iterator[MorningAct]:
    """Beds and pots that no timer and no float waters."""
    for track in morning.learned.told.tracks:
        way = track.way
        if way.time is None and not way.keeps_level and morning.grows(track):
            yield _of_bed(morning, track)


def _of_bed(morning: Morning, track: BedTrack) -> MorningAct:
    part, bed = track.way.need.part, morning.share(track)
    gone = gone_of(track)
    most = MOST_CANS * part.can_m3 * LITRES_PER_CUBIC_METRE
    wanted = [min(gone * bed.need.area_m2 * share, most) for share in choosing.SHARES]
    amounts = np.array([0.0, *wanted])
    litres = np.zeros((DAYS, len(amounts)))
    litres[0] = amounts
    runs, sinks_in = np.ones(len(amounts), dtype=np.intp), np.ones(len(amounts))
    ground = choosing.ground_ahead(bed, morning.ahead)
    fared = choosing.fare([ground], litres, runs, [sinks_in], [gone])
    best = choosing.best_of(fared.lost, amounts)
    given = float(amounts[best])
    return MorningAct(
        part.id,
        part.name,
        part.id,
        Do.CANS if best else Do.LEAVE,
        0.0,
        0,
        given,
        given / (part.can_m3 * LITRES_PER_CUBIC_METRE),
        float(fared.dry[best]),
        _reason(morning, [track]),
        _sure(morning, [track]),
    )


def _reason(morning: Morning, tracks: Sequence[BedTrack]) -> Sentence:
    """Rain of late, what the driest roots have left, and when they are dry if nothing comes."""
    lasts = [(_lasts(morning, track), place) for place, track in enumerate(tracks)]
    days, place = min(lasts)
    track = tracks[place]
    gone = gone_of(track) / max(float(track.way.need.ready[-1]), 1e-9)
    rain = float(morning.learned.told.record.precip[-LOOKED_BACK_D:].sum())
    values: dict[str, Amount | str] = {
        "rain": Amount.millimetres(rain),
        "part": track.way.need.part.name,
        "left": Amount(min(max(1.0 - gone, 0.0), 1.0), "share"),
    }
    if days >= DAYS:
        return say(
            "today-holds",
            "{rain} of rain in three days; “{part}” has {left} left within easy reach, which lasts the week.",
            **values,
        )
    if days <= 0:
        return say(
            "today-is-dry",
            "{rain} of rain in three days; “{part}” has {left} left within easy reach: it is dry by this evening.",
            **values,
        )
    return say(
        "today-dry-on",
        "{rain} of rain in three days; “{part}” has {left} left within easy reach, dry on {day} if nothing comes.",
        day=day_in_words(morning.ahead.today + timedelta(days=days)),
        **values,
    )


def _lasts(morning: Morning, track: BedTrack) -> int:
    """Days from this morning until it is dry, were nothing to come; DAYS where it holds so long. [d]"""
    need = morning.share(track).need
    drunk = np.cumsum(morning.ahead.drunk_by(need).mean(axis=1))
    ready = need.ready[morning.ahead.index].mean(axis=1)
    dry = np.flatnonzero(gone_of(track) + drunk > ready)
    return int(dry[0]) if len(dry) else DAYS


def _sure(morning: Morning, tracks: Sequence[BedTrack]) -> Sure:
    """Felt lately it is sure; by a gauge that is read, fair; else poor."""
    told, parts = morning.learned.told, {track.way.need.part.id for track in tracks}
    since = morning.ahead.today - timedelta(days=FELT_D)
    felt = any(e.kind == "finger" and e.part_id in parts and e.at.date() >= since for e in told.log)
    if felt:
        return Sure.SURE
    return Sure.FAIR if told.rain_is_logged and told.is_kept_up else Sure.POOR
