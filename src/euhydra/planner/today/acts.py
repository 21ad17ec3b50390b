"""What each zone and each bed by hand wants this morning: what costs least in dry days, and then in litres."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from euhydra.core import programme
from euhydra.core.constants import LITRES_PER_CUBIC_METRE
from euhydra.core.schedule import Position
from euhydra.core.tried_days import TriedGround
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.garden.timers import Timer
from euhydra.planner.dates import day_in_words
from euhydra.planner.keeping.hindcast import BedTrack
from euhydra.planner.learning.answer import Learned
from euhydra.planner.learning.ran import ZoneRan
from euhydra.planner.need.daily import Need
from euhydra.planner.time.design import BedShare, Design
from euhydra.planner.today.ahead import DAYS, Ahead

Floats = NDArray[np.float64]

ALIKE_DAYS = 0.1
"""Dry days of the week that are worth no water. [d] Our choice."""

LOOKED_BACK_D = 3
"""Days whose rain is told. [d]"""

FELT_D = 5
"""Days for which a finger or a dip makes sure. [d] Our choice."""

OFF_BY_HAND = (1, 2, 3)
"""Days for which a timer without a rain delay is turned off. [d] Common practice: after rain, by depth."""

SHARES = (0.5, 1.0)
"""Of what the roots lack, tried by hand. [-] Our choice."""


class Do(StrEnum):
    """What to do, that first which needs somebody."""

    BY_HAND = "by-hand"
    CANS = "cans"
    PAUSE = "pause"
    AS_SET = "as-set"
    LEAVE = "leave"


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
    minutes : Of an extra run, or of each run as set. [min]
    days : For which it is paused. [d]
    litres : Of today. [L]
    cans : Of today.
    dry_days : Expected in the week, over all its beds. [d]
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


@dataclass(frozen=True)
class _Candidate:
    do: Do
    days: int
    extra: float
    minutes: tuple[float, ...]


@dataclass(frozen=True)
class Morning:
    """What is known of the garden, and the days ahead."""

    learned: Learned
    ahead: Ahead

    @cached_property
    def needs(self) -> Mapping[str, Need]:
        """Of each bed and pots through the whole record, by id."""
        planted = self.learned.told.chain.planted
        return {p.part.id: p.need for p in planted if isinstance(p.need, Need)}

    def need(self, track: BedTrack) -> Need:
        """Of one of them."""
        return self.needs[track.way.need.part.id]

    def grows(self, track: BedTrack) -> bool:
        """Whether it is in season in these days."""
        return bool(self.need(track).is_growing[self.ahead.index].any())

    def ground(self, track: BedTrack, depth_per_litre: float) -> TriedGround:
        """Its roots in these days of every year."""
        need, index = self.need(track), self.ahead.index
        return TriedGround(
            self.ahead.rain_of(need),
            self.ahead.drunk_by(need),
            need.total[index],
            need.ready[index],
            need.is_growing[index],
            depth_per_litre,
            need.steps,
        )

    def start(self, track: BedTrack) -> Floats:
        """What is gone this morning. [mm]"""
        gone = np.nan_to_num(track.run.depletion[-1])
        return np.full(self.ahead.index.shape[1], float(gone))


def acts_of(learned: Learned, ahead: Ahead) -> tuple[MorningAct, ...]:
    """Every zone with a timer, and every bed that only a hand waters, those first that need somebody.

    Parameters
    ----------
    learned : The log up to the evening before.
    """
    morning = Morning(learned, ahead)
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
    design, today = ran.time.design, morning.ahead.today
    month = today.month
    base = _as_set(_set_now(ran, month), ran, today)
    candidates = list(_candidates(design, base, _lacks(design, tracks), month))
    litres = np.array([[design.litres(m, month) for m in c.minutes] for c in candidates])
    dry = _dry_days(morning, design, tracks, candidates, litres)
    best = _best(dry, litres.sum(axis=1))
    chosen = candidates[best]
    runs = chosen.minutes[0]
    return MorningAct(
        ran.zone.id,
        ran.zone.name,
        tracks[0].way.need.part.id if len(tracks) == 1 else None,
        Do.LEAVE if chosen.do is Do.AS_SET and runs <= 0 else chosen.do,
        chosen.extra or runs,
        chosen.days,
        float(litres[best][0]),
        0.0,
        float(dry[best]),
        _reason(morning, tracks),
        _sure(morning, tracks),
    )


def _set_now(ran: ZoneRan, month: int) -> Position | None:
    """As it is set; as planned for the month where nobody said."""
    head = ran.zone.head
    if isinstance(head, Timer) and head.set_minutes is not None:
        return Position(head.set_minutes / 60.0, float(head.set_every_d), head.set_starts)
    setting = ran.time.months[month - 1].setting
    return setting.position if setting else None


def _as_set(position: Position | None, ran: ZoneRan, today: date) -> tuple[float, ...]:
    """Minutes on each of the coming days, counted on from its last run. [min]"""
    if position is None:
        return (0.0,) * DAYS
    runs = np.flatnonzero(ran.minutes > 0)
    since = len(ran.minutes) - int(runs[-1]) if len(runs) else 0
    days = np.arange(DAYS)
    on = position.waters_on(days + since, (today.weekday() + days) % 7)
    return tuple(np.where(on, position.minutes_a_day, 0.0).tolist())


def _candidates(
    design: Design, base: tuple[float, ...], lacks: float, month: int
) -> Iterator[_Candidate]:
    yield _Candidate(Do.AS_SET, 0, 0.0, base)
    for days in sorted({round(d) for d in design.timer.delay_days if d >= 1} or OFF_BY_HAND):
        paused = (*(0.0,) * min(days, DAYS), *base[days:])
        if paused != base:
            yield _Candidate(Do.PAUSE, days, 0.0, paused)
    for share in SHARES:
        extra = min(design.exact_minutes(lacks * share, month), design.most_minutes)
        if extra >= 1:
            yield _Candidate(
                Do.BY_HAND, 0, float(round(extra)), (base[0] + round(extra), *base[1:])
            )


def _lacks(design: Design, tracks: Sequence[BedTrack]) -> float:
    """Litres into the zone that fill the roots of the bed that lacks most. [L]"""
    found = []
    for track in tracks:
        share = _share(design, track)
        if share.depth_per_litre > 0:
            found.append(float(np.nan_to_num(track.run.depletion[-1])) / share.depth_per_litre)
    return max(found, default=0.0)


def _share(design: Design, track: BedTrack) -> BedShare:
    part = track.way.need.part
    return next(bed for bed in design.beds if bed.need.part.id == part.id)


def _dry_days(
    morning: Morning,
    design: Design,
    tracks: Sequence[BedTrack],
    candidates: Sequence[_Candidate],
    litres: Floats,
) -> Floats:
    """Expected dry days of the week over all beds of the zone, of each candidate. [d]"""
    years = morning.ahead.index.shape[1]
    minutes = np.array([max(c.minutes) for c in candidates])
    given = np.broadcast_to(litres.T[:, :, None], (DAYS, len(candidates), years))
    runs = np.ones(len(candidates), dtype=np.intp)
    dry = np.zeros(len(candidates))
    for track in tracks:
        share = _share(design, track)
        (trial,) = programme.try_on(
            [morning.ground(track, share.depth_per_litre)],
            given,
            runs,
            [design.sinks_in(share, minutes, morning.ahead.today.month)],
            [morning.start(track)],
            design.timer.gives,
        )
        dry += trial.stressed * DAYS
    return dry


def _best(dry: Floats, litres: Floats) -> int:
    """The one that leaves as few dry days as any, and of those gives least; the earlier where that is alike."""
    good = np.flatnonzero(dry <= dry.min() + ALIKE_DAYS)
    return int(good[np.argmin(np.round(litres[good]))])


def _by_hand(morning: Morning) -> Iterator[MorningAct]:
    """Beds and pots that no timer and no float waters."""
    for track in morning.learned.told.tracks:
        way = track.way
        if way.time is None and not way.keeps_level and morning.grows(track):
            yield _of_bed(morning, track)


def _of_bed(morning: Morning, track: BedTrack) -> MorningAct:
    part, need = track.way.need.part, morning.need(track)
    start = morning.start(track)
    amounts = np.array([0.0, *(float(start[0]) * need.area_m2 * share for share in SHARES)])
    litres = np.zeros((DAYS, len(amounts), len(start)))
    litres[0] = amounts[:, None]
    (trial,) = programme.try_on(
        [morning.ground(track, 1.0 / need.area_m2)],
        litres,
        np.ones(len(amounts), dtype=np.intp),
        [np.ones(len(amounts))],
        [start],
    )
    dry = trial.stressed * DAYS
    best = _best(dry, amounts)
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
        float(dry[best]),
        _reason(morning, [track]),
        _sure(morning, [track]),
    )


def _reason(morning: Morning, tracks: Sequence[BedTrack]) -> Sentence:
    """Rain of late, what the driest roots have left, and when they are dry if nothing comes."""
    lasts = [(_lasts(morning, track), place) for place, track in enumerate(tracks)]
    days, place = min(lasts)
    track = tracks[place]
    gone = float(np.nan_to_num(track.run.depletion[-1])) / max(
        float(track.way.need.ready[-1]), 1e-9
    )
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
    need = morning.need(track)
    drunk = np.cumsum(morning.ahead.drunk_by(need).mean(axis=1))
    ready = need.ready[morning.ahead.index].mean(axis=1)
    dry = np.flatnonzero(float(morning.start(track)[0]) + drunk > ready)
    return int(dry[0]) if len(dry) else DAYS


def _sure(morning: Morning, tracks: Sequence[BedTrack]) -> Sure:
    """Felt lately it is sure; by a gauge that is read, fair; else poor."""
    told, parts = morning.learned.told, {track.way.need.part.id for track in tracks}
    since = morning.ahead.today - timedelta(days=FELT_D)
    felt = any(e.kind == "finger" and e.part_id in parts and e.at.date() >= since for e in told.log)
    if felt:
        return Sure.SURE
    return Sure.FAIR if told.rain_is_logged and told.is_kept_up else Sure.POOR
