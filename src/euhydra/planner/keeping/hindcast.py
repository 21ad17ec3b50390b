"""The logged year run through the plan: its own rain, its own settings, the roots day by day."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from functools import cached_property
from itertools import islice

import numpy as np
from numpy.typing import NDArray

from euhydra.core import bed
from euhydra.core.bed import BedRun
from euhydra.core.constants import LITRES_PER_CUBIC_METRE, MM_PER_M, SECONDS_PER_DAY
from euhydra.core.weather import SERIES, DailyWeather
from euhydra.garden.logbook import LogEntry
from euhydra.garden.sentences import say
from euhydra.garden.timers import Timer
from euhydra.planner.answers import Gap, PlanError
from euhydra.planner.chain import Chain
from euhydra.planner.keeping import growing_year
from euhydra.planner.keeping.log_by_kind import LogByKind
from euhydra.planner.keeping.signs import LEFT_OVERNIGHT
from euhydra.planner.need.daily import need_of
from euhydra.planner.season import replay
from euhydra.planner.season.replay import Season
from euhydra.planner.season.watering import Watered
from euhydra.planner.time.answer import TimeAnswer

Floats = NDArray[np.float64]
Integers = NDArray[np.intp]

WATERED_BY = 9
"""Hour by which a day's watering is done. Common practice: timers run before the heat."""

KEPT_UP = timedelta(days=14)
"""Without a word of rain in the log, after which it is no longer believed that none fell. Our choice."""

GAUGE_HOUR = 10
"""What stands in the gauge before this hour fell on the day before. Usual at weather stations."""


@dataclass(frozen=True)
class BedTrack:
    """A bed or pots through the logged year.

    watered : Litres that came to it on each day. [L]
    run : Its root zone.
    """

    way: Watered
    watered: Floats
    run: BedRun

    @property
    def filled(self) -> Floats:
        """How much of the readily available water is gone each evening; above 1 is too dry. [-]"""
        ready = np.maximum(self.way.need.ready, 1e-9)
        return np.asarray(self.run.depletion / ready)


@dataclass(frozen=True, repr=False)  # a failed assertion would print all years of it for minutes
class Hindcast:
    """The plan under the logged year's weather.

    log : Oldest first.
    gauge_since : First day whose rain is the gauge's; before that, and where it is None, it is the record's.
    litres : To each bed on each day by what was measured, in the order of the season's ways; None where nothing was
        weighed yet. [L]
    """

    chain: Chain
    record: DailyWeather
    season: Season
    log: tuple[LogEntry, ...]
    gauge_since: date | None
    litres: tuple[Floats, ...] | None = None

    @property
    def rain_is_logged(self) -> bool:
        """Whether there is a gauge."""
        return self.gauge_since is not None

    @cached_property
    def first(self) -> date:
        """The first day that is told."""
        first: date = self.record.days[0].astype(object)
        return first

    @cached_property
    def today(self) -> date:
        """The last day that is told."""
        last: date = self.record.days[-1].astype(object)
        return last

    @property
    def is_kept_up(self) -> bool:
        """Whether rain is not logged at all, so that the record's counts, or was logged lately."""
        read = self.by_kind.of("rain")
        return not self.rain_is_logged or (
            bool(read) and self.today - read[-1].at.date() <= KEPT_UP
        )

    @property
    def rain_is_known(self) -> bool:
        """Whether a gauge or a record tells of the rain of the last days: else as much fell as in other years."""
        if self.rain_is_logged:
            return self.is_kept_up
        assert self.chain.record is not None
        last = self.record.days[-KEPT_UP.days :]
        return bool(np.isin(last, self.chain.record.days).any())

    @cached_property
    def by_kind(self) -> LogByKind:
        """The log, sorted by what was done."""
        return LogByKind(self.log)

    def day(self, at: datetime | date) -> int:
        """Index of a day of the record; the nearest where it lies outside."""
        day = at.date() if isinstance(at, datetime) else at
        return min(max((day - self.first).days, 0), len(self.record.days) - 1)

    def evening(self, at: datetime) -> int:
        """Index of the evening that a look tells of, the nearest of the record."""
        return self.day(at - LEFT_OVERNIGHT)

    def evenings(self, looks: Sequence[datetime]) -> Integers:
        """As `evening`, of many looks."""
        at = np.array(looks, dtype="datetime64[s]") - np.timedelta64(LEFT_OVERNIGHT)
        days = (at.astype("datetime64[D]") - np.datetime64(self.first)).astype(np.intp)
        return np.clip(days, 0, len(self.record.days) - 1)

    @cached_property
    def tracks(self) -> tuple[BedTrack, ...]:
        """Every bed and group of pots, in the order of the season's ways."""
        return tuple(self._track(i) for i in range(len(self.season.ways)))

    def track(self, part_id: str) -> BedTrack | None:
        """Of one bed or group of pots."""
        return next((t for t in self.tracks if t.way.need.part.id == part_id), None)

    def _track(self, i: int) -> BedTrack:
        way = self.season.ways[i]
        watered = self.given(i)
        return BedTrack(way, watered, bed.run_bed(self.season.bed_inputs[i], watered))

    def given(self, i: int) -> Floats:
        """Litres to a bed on each day: as measured, else as the timer was set by the log, else as planned. [L]"""
        if self.litres is not None:
            return self.litres[i]
        way = self.season.ways[i]
        planned = self.season.run.supplied(i)
        given = planned.copy()
        if way.time is not None and way.push is not None:
            minutes = self.minutes(way)
            share = way.time.share_of(way.need.part.id).flow_share
            set_so = way.time.design.litres_each(np.nan_to_num(minutes), self.record.month) * share
            extra = way.time.design.litres_each(self.by_hand(way), self.record.month) * share
            given = np.where(np.isnan(minutes), planned, set_so) + extra
        for entry in self.by_kind.of("watered", way.need.part.id):
            if entry.amounts[0] and self.holds(entry.at):
                given[self.day(entry.at)] += entry.amounts[0] * LITRES_PER_CUBIC_METRE
        return given

    def holds(self, at: datetime) -> bool:
        """Whether a moment lies in its days: cans of another year are not of this one."""
        return self.first <= at.date() <= self.today

    def minutes(self, way: Watered) -> Floats:
        """What the timer ran on each day by its logged settings and pauses; NaN before the first. [min]

        Once nothing grows any more in its zone and nobody writes any more, it is off. What a hand opens
        runs on no other day, once somebody writes down what it gets.
        """
        found = np.full(len(self.record.days), np.nan)
        if not self._has_timer(way):
            written = (*self._runs(way), *self._of_beds(way, "watered"))
            found[min((self.day(entry.at) for entry in written), default=len(found)) :] = 0.0
            return found
        for entry in self._of_timer(way, "setting"):
            first = self.day(entry.at)
            run, every = entry.amounts[0] or 0.0, entry.amounts[1] or SECONDS_PER_DAY
            days = every / SECONDS_PER_DAY
            since = np.arange(len(found) - first)
            runs = np.where(since % max(1, round(days)) == 0, max(1.0, round(1 / days)), 0.0)
            found[first:] = runs * run / 60.0
        found[self._over_from(way) :] = 0.0
        for entry in self._of_timer(way, "pause"):
            first = self.next_run(entry.at)
            found[first : first + round((entry.amounts[0] or 0.0) / SECONDS_PER_DAY)] = 0.0
        return found

    def _over_from(self, way: Watered) -> int:
        """The first day after the season of all that its timer waters, and after the last entry."""
        needs = [bed.need for bed in way.time.beds] if way.time is not None else [way.need]
        grows = np.flatnonzero(np.any([need.is_growing for need in needs], axis=0))
        newest = (self.day(entry.at) for entry in reversed(self.log) if self.holds(entry.at))
        last = [*grows[-1:].tolist(), *islice(newest, 1)]
        return max(last, default=len(self.record.days)) + 1

    def is_set(self, way: Watered) -> bool:
        """Whether the log says what its timer is set to."""
        return any(self._of_timer(way, "setting"))

    def by_hand(self, way: Watered) -> Floats:
        """What it was run beside the setting of its timer on each day, or all where it has none. [min]"""
        found = np.zeros(len(self.record.days))
        for entry in self._runs(way):
            found[self.day(entry.at)] += (entry.amounts[0] or 0.0) / 60.0
        return found

    def _runs(self, way: Watered) -> Iterator[LogEntry]:
        """Runs by hand, told of its timer or of any bed of its zone."""
        yield from self._of_timer(way, "run")
        yield from self._of_beds(way, "run")

    def _of_beds(self, way: Watered, kind: str) -> Iterator[LogEntry]:
        for share in way.time.beds if way.time is not None else ():
            own = self.by_kind.of(kind, share.need.part.id)
            yield from (entry for entry in own if self.holds(entry.at))

    def _has_timer(self, way: Watered) -> bool:
        return way.time is not None and isinstance(way.time.zone.head, Timer)

    def still_paused(self, way: Watered) -> int:
        """Days after the last that is told on which its timer is paused yet. [d]"""
        ends = (
            self.next_run(entry.at) + round((entry.amounts[0] or 0.0) / SECONDS_PER_DAY)
            for entry in self._of_timer(way, "pause")
        )
        return max(0, max(ends, default=0) - len(self.record.days))

    def _of_timer(self, way: Watered, kind: str) -> Iterator[LogEntry]:
        head = way.time.zone.head if way.time is not None else None
        if not isinstance(head, Timer):
            return iter(())
        own = self.by_kind.of(kind, head.id)
        return (entry for entry in own if kind == "setting" or self.holds(entry.at))

    def next_run(self, at: datetime) -> int:
        """The first day whose watering comes after a moment: timers run before the heat."""
        return self.day(at) + (at.hour >= WATERED_BY)


def hindcast(chain: Chain, log: Sequence[LogEntry], today: date) -> Hindcast | Gap:
    """The plan under the weather of the log's last year, up to today.

    Parameters
    ----------
    log : Oldest first.
    today : By the gardener's calendar.
    """
    if chain.record is None or isinstance(chain.season, Gap):
        return (
            chain.season
            if isinstance(chain.season, Gap)
            else Gap(say("keeping-no-weather", "There is no weather yet."))
        )
    record, gauge_since = _record(chain, log, today)
    ways = tuple(
        Watered(
            need_of(way.need.part, chain.garden, record, way.need.wetted),
            way.push,
            _under(way.time, chain, record) if way.time else None,
        )
        for way in chain.season.ways
    )
    try:
        season = replay.replay(chain.garden, record, ways)
    except PlanError as error:
        return Gap.of(error)
    return Hindcast(chain, record, season, tuple(log), gauge_since)


def _under(time: TimeAnswer, chain: Chain, record: DailyWeather) -> TimeAnswer:
    """The same settings, for the needs of another record."""
    beds = tuple(
        replace(share, need=need_of(share.need.part, chain.garden, record, share.need.wetted))
        for share in time.beds
    )
    return replace(time, design=replace(time.design, beds=beds))


def _record(chain: Chain, log: Sequence[LogEntry], today: date) -> tuple[DailyWeather, date | None]:
    """Days from winter to today: the record's own where it has them, else its usual ones; rain as logged since when."""
    record = chain.record
    assert record is not None
    first = growing_year.begins(today, chain.garden.place.latitude_deg)
    days = np.arange(np.datetime64(first), np.datetime64(today) + 1, dtype="datetime64[D]")
    own = {day: i for i, day in enumerate(record.days.tolist())}
    index = np.array([own.get(day, -1) for day in days.tolist()])
    series: dict[str, Floats] = {}
    of_year = _day_of_year(days)
    for name in SERIES:
        values = getattr(record, name)
        usual = _of_middling_year(record) if name == "precip" else _usual(record, values)
        series[name] = np.where(index >= 0, values[index], usual[of_year])
    rain = [e for e in log if e.kind == "rain" and e.at.date() >= first]
    if rain:
        series["precip"] = _rain(days, rain, series["precip"])
    return DailyWeather(days, **series), max(_fell_on(rain[0]), first) if rain else None


def _rain(days: NDArray[np.datetime64], entries: Sequence[LogEntry], before: Floats) -> Floats:
    """The gauge's rain by day; before its first reading that of the record."""
    first = days[0].astype(object)
    found = before.copy()
    begun = (_fell_on(entries[0]) - first).days
    found[max(begun, 0) :] = 0.0
    for entry in entries:
        day = (_fell_on(entry) - first).days
        if 0 <= day < len(found):
            found[day] += (entry.amounts[0] or 0.0) * MM_PER_M
    return found


def _fell_on(entry: LogEntry) -> date:
    return entry.at.date() - timedelta(days=entry.at.hour < GAUGE_HOUR)


def _usual(record: DailyWeather, values: Floats) -> Floats:
    """Mean of each day of the year, smoothed over two weeks; by day of the year from 0."""
    of_year = _day_of_year(record.days)
    known = ~np.isnan(values)
    if not known.any():
        return np.full(366, np.nan)
    sums = np.bincount(of_year[known], values[known], 366)
    counts = np.bincount(of_year[known], minlength=366)
    reach = np.arange(-7, 8)
    around = (np.arange(366)[:, None] + reach) % 366
    many = counts[around].sum(axis=1)
    mean: Floats = np.full(366, np.nan)
    np.divide(sums[around].sum(axis=1), many, out=mean, where=many > 0)
    return mean


def _of_middling_year(record: DailyWeather) -> Floats:
    """Rain of the year with as many wetter as drier ones, by day of the year from 0: a mean has no dry weeks. [mm]"""
    years, days = np.unique(record.year, return_counts=True)
    whole = years[days >= np.median(days)]
    sums = np.array([record.precip[record.year == year].sum() for year in whole])
    middling = record.year == whole[np.argsort(sums)[len(sums) // 2]]
    rain = np.zeros(366)
    rain[_day_of_year(record.days[middling])] = record.precip[middling]
    return rain


def _day_of_year(days: NDArray[np.datetime64]) -> NDArray[np.intp]:
    since = days - days.astype("datetime64[Y]").astype("datetime64[D]")
    return np.asarray(since.astype(np.intp))
