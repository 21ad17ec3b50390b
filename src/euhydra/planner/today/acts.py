"""What each zone and each bed by hand wants this morning, by the log and the days ahead."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np
from numpy.typing import NDArray

from euhydra.core.constants import LITRES_PER_CUBIC_METRE, SECONDS_PER_DAY
from euhydra.core.foretelling import DAYS
from euhydra.core.schedule import Position
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.garden.timers import Timer
from euhydra.planner.keeping.hindcast import BedTrack
from euhydra.planner.learning.ran import ZoneRan
from euhydra.planner.today import choosing
from euhydra.planner.today.choosing import Do, ZoneMorning
from euhydra.planner.today.morning import Morning
from euhydra.planner.today.reasons import Sure, driest_of, reason_of, sure_of

Floats = NDArray[np.float64]

MOST_CANS = 12.0
"""Of a morning to one bed. Our choice: half an hour of carrying, and what it lacks more the next."""


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
    left : Of what the driest roots reach easily: low end, middle and high end of what may be there. [-]
    felt_id : The bed or pots whose soil tells most of it.
    turned_to : What the timer is turned to, if it is.
    head_id : Of its timer, that is run, paused or turned; of a bed of its zone where a hand opens that; None on beds by
        can.
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
    left: tuple[float, float, float]
    felt_id: str
    turned_to: Position | None = None
    head_id: str | None = None

    @property
    def said(self) -> Sentence:
        """What to do, in a sentence."""
        values: dict[str, Amount | str | int] = {"name": self.name}
        if self.do is Do.BY_HAND:
            run = Amount.minutes(self.minutes)
            return say("today-act-by-hand", "{name}: run it by hand, {run}", run=run, **values)
        if self.do is Do.CANS:
            cans = max(1, round(self.cans))
            if cans == 1:
                return say("today-act-can", "{name}: water it, 1 can", **values)
            return say("today-act-cans", "{name}: water it, {cans} cans", cans=cans, **values)
        if self.do is Do.TURN:
            return say(
                "today-act-turn",
                "{name}: turn it to {run}, every {days}",
                run=Amount.minutes(self.minutes),
                days=Amount(self.every_d * SECONDS_PER_DAY, "days"),
                **values,
            )
        if self.do is Do.PAUSE:
            days = Amount(self.days * SECONDS_PER_DAY, "days")
            return say("today-act-pause", "{name}: pause it for {days}", days=days, **values)
        if self.do is Do.AS_SET:
            run = Amount.minutes(self.minutes)
            return say("today-act-as-set", "{name}: as it is set, {run} today", run=run, **values)
        return say("today-act-leave", "{name}: leave it", **values)

    @property
    def every_d(self) -> float:
        """From one run to the next, as it is turned to. [d]"""
        if self.turned_to is None:
            return 0.0
        return self.turned_to.mean_days / self.turned_to.runs_a_day


def acts_of(morning: Morning) -> tuple[MorningAct, ...]:
    """Every zone, and every bed that only cans water, those first that need somebody."""
    found = [*_zones(morning), *_by_hand(morning)]
    return tuple(sorted(found, key=lambda act: (list(Do).index(act.do), -act.dry_days)))


def _zones(morning: Morning) -> Iterator[MorningAct]:
    told = morning.learned.told
    for flow in morning.learned.flows:
        tracks = [told.tracks[place] for place in flow.ran.ways]
        tracks = [track for track in tracks if morning.grows(track)]
        if not flow.ran.time.stands_by and tracks:
            yield _of_zone(morning, flow.ran, tracks)


def _of_zone(morning: Morning, ran: ZoneRan, tracks: Sequence[BedTrack]) -> MorningAct:
    today = morning.ahead.today
    planned = _planned(ran, today.month) if ran.is_timed else None
    position = _set_now(ran) or planned
    is_other = planned is not None and not _is_alike(planned, position)
    water, comes = morning.water_of(ran)
    paused = morning.learned.told.still_paused(tracks[0].way)
    found = choosing.choose(
        ZoneMorning(
            ran.time.chosen_on,
            [morning.share(track) for track in tracks],
            [morning.roots(track).gone for track in tracks],
            _as_set(position, ran, today, paused),
            _as_set(planned, ran, today, paused) if is_other else None,
            position.runs_a_day if position else 1,
            water,
            comes,
            paused > 0,
        ),
        morning.ahead,
    )
    runs, driest = found.minutes[0], driest_of(morning, tracks)
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
        reason_of(morning, tracks, found.do is Do.BY_HAND),
        sure_of(morning, tracks),
        morning.roots(driest).left,
        driest.way.need.part.id,
        turned,
        ran.head_id if ran.is_timed else tracks[0].way.need.part.id,
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


def _as_set(position: Position | None, ran: ZoneRan, today: date, paused: int) -> tuple[float, ...]:
    """Minutes on each of the coming days, counted on from its last run; none while it is paused. [min]"""
    if position is None:
        return (0.0,) * DAYS
    runs = np.flatnonzero(ran.minutes > 0)
    since = len(ran.minutes) - int(runs[-1]) if len(runs) else 0
    days = np.arange(DAYS)
    on = position.waters_on(days + since, (today.weekday() + days) % 7)
    on &= days >= paused
    return tuple(np.where(on, position.minutes_a_day, 0.0).tolist())


def _by_hand(morning: Morning) -> Iterator[MorningAct]:
    """Beds and pots that no timer and no float waters."""
    for track in morning.learned.told.tracks:
        way = track.way
        if way.time is None and not way.keeps_level and morning.grows(track):
            yield _of_bed(morning, track)


def floated(morning: Morning) -> Iterator[str]:
    """Names of what grows and a float waters, which asks for nothing."""
    for track in morning.learned.told.tracks:
        if track.way.keeps_level and morning.grows(track):
            yield track.way.need.part.name


def _of_bed(morning: Morning, track: BedTrack) -> MorningAct:
    part, bed = track.way.need.part, morning.share(track)
    gone = morning.roots(track).gone
    mean = float(gone.mean())
    most = MOST_CANS * part.can_m3 * LITRES_PER_CUBIC_METRE
    wanted = [min(mean * bed.need.area_m2 * share, most) for share in choosing.SHARES]
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
        reason_of(morning, [track], best > 0),
        sure_of(morning, [track]),
        morning.roots(track).left,
        part.id,
    )
