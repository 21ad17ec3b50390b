"""A season told: litres by source, money, harvests, what was done, what to change."""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from itertools import pairwise

import numpy as np

from euhydra.core.constants import LITRES_PER_CUBIC_METRE, MM_PER_M
from euhydra.core.weather import Floats
from euhydra.garden.logbook import LogEntry, entry_kinds
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.answers import Mark, Verdict
from euhydra.planner.dates import day_in_words
from euhydra.planner.keeping.hindcast import Hindcast
from euhydra.planner.keeping.uneven import uneven_lines
from euhydra.planner.learning.accounts import MeterAccount, accounts
from euhydra.planner.learning.answer import Learned


@dataclass(frozen=True)
class SourceRow:
    """Water from one source in the season.

    reckoned, metered : By the settings, cans and dips in the log; by its meter. None where nothing tells. [m³]
    money : At the owner's price, of what was metered, else reckoned.
    """

    name: str
    reckoned: float | None
    metered: float | None
    money: float | None


@dataclass(frozen=True)
class BedRow:
    """A bed's season.

    watered : By all that the log tells of it, else as planned. [m³]
    dry_days : By the root zone. [d]
    felt, felt_dry : Finger tests, and those that found it dry.
    """

    name: str
    watered: float
    dry_days: int
    felt: int
    felt_dry: int
    harvest_kg: float
    notes: tuple[str, ...]


@dataclass(frozen=True)
class RainTold:
    """Rain of the season. [m]

    gauge : By the gauge, since a day; None where there is no gauge.
    before : What the plan takes for the days before it, or for all.
    is_usual : Whether that is the usual rain of those months, where the weather record has not these days.
    """

    gauge: float
    since: date | None
    before: float
    is_usual: bool

    @property
    def said(self) -> Sentence:
        """Whose rain it is."""
        amounts = {"gauge": Amount(self.gauge, "rain"), "before": Amount(self.before, "rain")}
        if self.since is None and self.is_usual:
            return say(
                "keeping-rain-no-gauge-usual",
                "No gauge was read: the plan takes the {before} of rain of a middling year.",
                **amounts,
            )
        if self.since is None:
            return say(
                "keeping-rain-no-gauge",
                "No gauge was read: the plan takes {before} of rain from the weather record.",
                **amounts,
            )
        if self.before <= 0:
            return say("keeping-rain-gauge", "{gauge} of rain by your gauge.", **amounts)
        since = day_in_words(self.since)
        if self.is_usual:
            return say(
                "keeping-rain-gauge-usual",
                "{gauge} of rain by your gauge since {since}; before that the plan takes the usual {before}.",
                since=since,
                **amounts,
            )
        return say(
            "keeping-rain-gauge-record",
            "{gauge} of rain by your gauge since {since}; before that the plan takes {before} from the weather record.",
            since=since,
            **amounts,
        )


@dataclass(frozen=True)
class SeasonReport:
    """Everything of a year until a day.

    meters : Each against the sums, with where the difference comes from.
    given, drunk : Litres of watering, and what the plants took up, rain in it, by month. [L]
    """

    first: date
    last: date
    rain: RainTold
    given: tuple[float, ...]
    drunk: tuple[float, ...]
    sources: tuple[SourceRow, ...]
    meters: tuple[MeterAccount, ...]
    beds: tuple[BedRow, ...]
    done: tuple[tuple[str, int], ...]
    changes: tuple[Sentence, ...]

    @property
    def verdict(self) -> Verdict:
        """The season in a sentence."""
        used = sum(
            row.metered if row.metered is not None else row.reckoned or 0.0 for row in self.sources
        )
        harvest = sum(row.harvest_kg for row in self.beds)
        template = "{used} of water from {first} to {last}"
        template += "; {harvest} harvested." if harvest > 0 else "."
        summary = say(
            "keeping-season",
            template,
            used=Amount(used, "volume"),
            first=day_in_words(self.first),
            last=day_in_words(self.last),
            harvest=Amount(harvest, "mass"),
        )
        reasons = (self.rain.said, *self.changes[:1])
        return Verdict(Mark.BUT if self.changes else Mark.WORKS, summary, reasons)


def report(learned: Learned) -> SeasonReport:
    """The season up to the day that is told."""
    told = learned.told
    first: date = told.record.days[0].astype(object)
    log = [e for e in told.log if first <= e.at.date() <= told.today]
    shown = (claim.said for claim in learned.claims)
    return SeasonReport(
        first,
        told.today,
        _rain(told),
        _by_month(told, [track.watered for track in told.tracks]),
        _by_month(told, [t.run.transpired * t.way.need.area_m2 for t in told.tracks]),
        tuple(_sources(learned, log)),
        accounts(learned),
        tuple(_beds(told, log)),
        _done(log),
        (*shown, *_changes(told)),
    )


def _rain(told: Hindcast) -> RainTold:
    rain = told.record.precip / MM_PER_M
    begun = len(rain) if told.gauge_since is None else told.day(told.gauge_since)
    record = told.chain.record
    assert record is not None
    is_usual = told.record.days[0] not in record.days
    return RainTold(
        float(rain[begun:].sum()), told.gauge_since, float(rain[:begun].sum()), is_usual
    )


def _by_month(told: Hindcast, daily: Sequence[Floats]) -> tuple[float, ...]:
    """Sums over all beds, January first."""
    everything = sum(daily, np.zeros(told.record.month.size))
    return tuple(np.bincount(told.record.month - 1, everything, 12).tolist())


def _sources(learned: Learned, log: Sequence[LogEntry]) -> list[SourceRow]:
    rows = []
    for store in learned.stores:
        metered = _metered(log, {part.id for part in store.group.stores})
        if metered is None:
            metered = _metered_at_timers(learned, store.group.id)
        rows.append(SourceRow(store.group.name, _cubic(store.drawn), metered, None))
    for book in learned.taps:
        metered = _metered(log, {book.tap.id})
        reckoned = _cubic(sum(book.as_set, book.cans + book.other))
        used = metered if metered is not None else reckoned
        price = book.tap.price_m3
        rows.append(SourceRow(book.tap.name, reckoned, metered, used * price if price else None))
    return rows


def _cubic(litres: Floats) -> float:
    """[m³]"""
    return float(litres.sum()) / LITRES_PER_CUBIC_METRE


def _metered(log: Sequence[LogEntry], parts: set[str]) -> float | None:
    """Between readings; a new meter begins anew. [m³]"""
    readings = [e for e in log if e.kind == "meter" and e.part_id in parts]
    if len(readings) < 2:
        return None
    return sum(
        (after.amounts[0] or 0.0) - (before.amounts[0] or 0.0)
        for before, after in pairwise(readings)
        if after.word != "new"
    )


def _metered_at_timers(learned: Learned, group_id: str) -> float | None:
    """What all lines of a store took, where each has a meter of its own. [m³]"""
    on = [f for f in learned.flows if f.ran.zone.group and f.ran.zone.group.id == group_id]
    if not on or not all(flow.metered for flow in on):
        return None
    return sum(used for flow in on for *_, used in flow.metered) / LITRES_PER_CUBIC_METRE


def _beds(told: Hindcast, log: Sequence[LogEntry]) -> list[BedRow]:
    rows = []
    for track in told.tracks:
        part = track.way.need.part
        fingers = [e for e in log if e.kind == "finger" and e.part_id == part.id]
        harvests = [e for e in log if e.kind == "harvest" and e.part_id == part.id]
        mass = sum((e.amounts[0] or 0.0) for e in harvests if e.amounts)
        rows.append(
            BedRow(
                part.name,
                float(track.watered.sum()) / LITRES_PER_CUBIC_METRE,
                int(track.run.is_stressed.sum()),
                len(fingers),
                sum(e.word == "dry" for e in fingers),
                mass,
                tuple(e.note for e in harvests if e.note),
            )
        )
    return rows


def _done(log: Sequence[LogEntry]) -> tuple[tuple[str, int], ...]:
    counts: dict[str, int] = defaultdict(int)
    for entry in log:
        counts[entry.kind] += 1
    kinds = entry_kinds()
    return tuple((kinds[kind].name, count) for kind, count in counts.items())


def _changes(told: Hindcast) -> list[Sentence]:
    found = list(uneven_lines(told))
    found += [
        say(
            "keeping-was-too-dry",
            "“{part}” was too dry on {days}, as worked out: look at Time and Store.",
            part=row.way.need.part.name,
            days=Amount.days(int(row.run.is_stressed.sum())),
        )
        for row in told.tracks
        if row.run.is_stressed.sum() > 0.1 * max(1, int(row.way.need.is_growing.sum()))
    ]
    return found
