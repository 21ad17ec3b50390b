"""A garden through its record, its owner doing each morning as told: by the card, by Today, or by a simple rule."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from euhydra.core import rootzone
from euhydra.core.bed import BedInputs
from euhydra.core.foretelling import DAYS, WET_MM
from euhydra.core.schedule import MINUTES_PER_HOUR
from euhydra.core.tried_days import Gives
from euhydra.core.waterworks import Line
from euhydra.core.works_days import WorksDays
from euhydra.planner.answers import Gap
from euhydra.planner.chain import Chain
from euhydra.planner.season.replay import Season
from euhydra.planner.season.watering import Watered
from euhydra.planner.season.works import most_wanted
from euhydra.planner.time import choosing_years, programme
from euhydra.planner.time.answer import TimeAnswer
from euhydra.planner.today import choosing
from euhydra.planner.today.ahead import Ahead, ahead_of
from euhydra.planner.today.choosing import ZoneMorning
from euhydra.planner.today.foreseen import Forecaster

Floats = NDArray[np.float64]

SKIPPED_AFTER_MM = 10.0
"""Rain of a day after which the simple rule leaves the next run out. [mm] Common practice."""


class Follow(StrEnum):
    """By what the owner goes.

    CARD : The card, its pauses after rain and its heat waves with it.
    TODAY : What each morning says, by what the roots and stores hold and the days ahead.
    RULE : The card without its pauses, the next run left out after much rain.
    """

    CARD = "card"
    TODAY = "today"
    RULE = "rule"


@dataclass(frozen=True)
class FollowedYear:
    """One year of it.

    litres : Given to all beds and pots. [L]
    dry_days : Days too dry, summed over beds and pots.
    days : Days in season, summed likewise.
    """

    year: int
    litres: float
    dry_days: int
    days: int


@dataclass(frozen=True)
class Followed:
    """All years of the record."""

    by: Follow
    years: tuple[FollowedYear, ...]

    @property
    def litres(self) -> float:
        """Of a year. [L]"""
        return sum(year.litres for year in self.years) / max(len(self.years), 1)

    @property
    def dry_share(self) -> float:
        """Share of the days in season that were too dry. [-]"""
        return sum(y.dry_days for y in self.years) / max(sum(y.days for y in self.years), 1)


def follow(chain: Chain, by: Follow, forecaster: Forecaster | None = None) -> Followed | Gap:
    """Live through the record, from full stores.

    Parameters
    ----------
    forecaster : What is foreseen each morning; None without a forecast.
    """
    if isinstance(chain.season, Gap):
        return chain.season
    return _Following(chain.season, by, forecaster).lived()


@dataclass
class _Roots:
    """The roots of one bed as the days go by.

    gone : What is gone from them. [mm]
    """

    way: Watered
    place: int
    inputs: BedInputs
    most: Floats
    gone: float = 0.0

    def live_through(self, day: int, litres: float, kept: float, runs: int) -> bool:
        """A day; whether it was too dry."""
        bed = self.inputs
        if not bed.is_growing[day]:
            return False
        before = self.gone if day > 0 and bed.is_growing[day - 1] else 0.0
        today = rootzone.advance_in_steps(
            before,
            float(bed.rain[day]),
            litres / bed.area * kept,
            float(bed.crop_et[day]),
            float(bed.total[day]),
            float(bed.ready[day]),
            min(runs, bed.steps),
            bed.steps,
        )
        self.gone = today.depletion
        return bool(rootzone.is_too_dry(np.array(today.transpired), bed.crop_et[day]))


class _Timed:
    """A zone whose timer may be told each morning what to do."""

    def __init__(self, time: TimeAnswer, roots: Sequence[_Roots], season: Season) -> None:
        self.time, self.roots = time, roots
        needs = [bed.need for bed in time.beds]
        self.card = time.day_runs
        plain = time.programme.without_rain_plan()
        self.unpaused = programme.runs_of(plain, season.record, needs)
        self.tank = next(
            (
                i
                for i, g in enumerate(season.groups)
                if time.zone.group and g.id == time.zone.group.id
            ),
            None,
        )
        self.owes = False  # whether much rain fell since its last run, by the rule


class _Following:
    def __init__(self, season: Season, by: Follow, forecaster: Forecaster | None) -> None:
        self.season, self.by, self.forecaster = season, by, forecaster
        self.record = season.record
        self.days = WorksDays(season.works)
        self.roots = [
            _Roots(way, place, inputs, self._most(way, place))
            for place, (way, inputs) in enumerate(zip(season.ways, season.bed_inputs, strict=True))
        ]
        self.zones = list(self._zones())
        self.many = choosing_years.years_like(season.record, season.garden.place)
        self._looked_on = -1
        self._looked: Ahead | None = None

    def _most(self, way: Watered, place: int) -> Floats:
        if way.time is None or way.keeps_level:
            return np.zeros(0)
        sources = self.season.works.waterings[place].sources
        return most_wanted(way, bool(sources) and isinstance(sources[0], Line))

    def _zones(self) -> Iterator[_Timed]:
        own: dict[str, list[_Roots]] = {}
        for roots in self.roots:
            if roots.way.time is not None and not roots.way.keeps_level:
                own.setdefault(roots.way.time.zone.id, []).append(roots)
        for found in own.values():
            time = found[0].way.time
            assert time is not None
            # A timer that sees the roots itself is told nothing: it goes on as in the season.
            if not time.stands_by and time.timer.gives is Gives.ALL:
                yield _Timed(time, found, self.season)

    def lived(self) -> Followed:
        """Every day of the record."""
        record = self.record
        dry = np.zeros(len(record.days), dtype=np.intp)
        timed = {roots.place for zone in self.zones for roots in zone.roots}
        for day in range(len(record.days)):
            runs = [self._morning(zone, day) for zone in self.zones]
            self.days.live_through(day)
            for zone, (minutes, count) in zip(self.zones, runs, strict=True):
                for roots in zone.roots:
                    dry[day] += self._evening(zone, roots, day, minutes, count)
            for roots in self.roots:
                if roots.place not in timed:
                    kept, count = float(roots.inputs.kept[day]), int(roots.inputs.runs[day])
                    litres = self.days.given(roots.place, day)
                    dry[day] += roots.live_through(day, litres, kept, count)
        return Followed(self.by, tuple(self._years(dry)))

    def _years(self, dry: NDArray[np.intp]) -> Iterator[FollowedYear]:
        run = self.days.so_far()
        given = sum((run.supplied(i) for i in range(len(self.roots))), np.zeros(len(dry)))
        grows = sum((r.inputs.is_growing.astype(np.intp) for r in self.roots), np.zeros_like(dry))
        for year in np.unique(self.record.year).tolist():
            own = self.record.year == year
            yield FollowedYear(
                year, float(given[own].sum()), int(dry[own].sum()), int(grows[own].sum())
            )

    def _evening(self, zone: _Timed, roots: _Roots, day: int, minutes: float, count: int) -> bool:
        share = zone.time.share_of(roots.way.need.part.id)
        month = int(self.record.month[day])
        sinks = zone.time.design.sinks_in(share, np.array([minutes / count]), month)
        kept = roots.way.efficiency * float(sinks[0])
        return roots.live_through(day, self.days.given(roots.place, day), kept, count)

    def _morning(self, zone: _Timed, day: int) -> tuple[float, int]:
        """Minutes of a zone on a day, and into how many runs they are split; they are set so."""
        minutes, count = self._told(zone, day)
        for roots in zone.roots:
            share = zone.time.share_of(roots.way.need.part.id).flow_share
            asked = zone.time.design.litres(minutes, int(self.record.month[day])) * share
            wanted = min(asked, float(roots.most[day])) if minutes > 0 else 0.0
            self.days.set_run(roots.place, day, minutes / MINUTES_PER_HOUR, wanted)
        return minutes, count

    def _told(self, zone: _Timed, day: int) -> tuple[float, int]:
        if self.by is Follow.CARD:
            return float(zone.card.minutes[day]), int(zone.card.runs[day])
        minutes, count = float(zone.unpaused.minutes[day]), int(zone.unpaused.runs[day])
        if self.by is Follow.RULE:
            zone.owes |= day > 0 and bool(self.record.precip[day - 1] >= SKIPPED_AFTER_MM)
            if minutes > 0 and zone.owes:
                zone.owes = False
                return 0.0, 1
            return minutes, count
        return self._by_today(zone, day, count)

    def _by_today(self, zone: _Timed, day: int, count: int) -> tuple[float, int]:
        growing = [roots for roots in zone.roots if roots.inputs.is_growing[day]]
        minutes = float(zone.unpaused.minutes[day])
        if not growing or any(roots.way.need.is_new[day] for roots in growing):
            return minutes, count
        base = zone.unpaused.minutes[day : day + DAYS]
        shares = {bed.need.part.id: bed for bed in zone.time.chosen_on.beds}
        gone = [
            np.array([roots.gone if day > 0 and roots.inputs.is_growing[day - 1] else 0.0])
            for roots in growing
        ]
        found = choosing.choose(
            ZoneMorning(
                zone.time.chosen_on,
                [shares[roots.way.need.part.id] for roots in growing],
                gone,
                (*base.tolist(), *(0.0,) * (DAYS - len(base))),
                None,
                max(int(zone.unpaused.runs[day : day + DAYS].max()), 1),
                None if zone.tank is None else float(self.days.level[zone.tank]),
                0.0 if zone.tank is None else self._comes(zone.tank, day),
            ),
            self._ahead(day),
        )
        return found.minutes[0], count if found.minutes[0] > 0 else 1

    def _ahead(self, day: int) -> Ahead:
        if self._looked is None or self._looked_on != day:
            today: date = self.record.days[day].astype(object)
            was_wet = bool(self.record.precip[day - 1] >= WET_MM) if day > 0 else None
            told = self.forecaster(day) if self.forecaster else ()
            latitude = self.season.garden.place.latitude_deg
            self._looked_on = day
            self._looked = ahead_of(self.many, latitude, today, told, was_wet)
        return self._looked

    def _comes(self, tank: int, day: int) -> float:
        """Into a store on a mean day of the coming week. [L]"""
        inflow, rain = self.season.works.tanks[tank].inflow, self.record.precip
        a_millimetre = float(inflow.sum()) / max(float(rain.sum()), 1e-9)
        ahead = self._ahead(day)
        fell = np.where(np.isnan(ahead.rain), self.many.precip[ahead.index], ahead.rain)
        return float(fell.sum(axis=0).mean()) * a_millimetre / DAYS
