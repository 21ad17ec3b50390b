"""A season told: litres by source, money, harvests, what was done, what to change."""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from itertools import pairwise

import numpy as np

from euhydra.core.constants import LITRES_PER_CUBIC_METRE
from euhydra.core.weather import Floats
from euhydra.garden.logbook import LogEntry, entry_kinds
from euhydra.garden.model import Garden
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.answers import Mark, Verdict
from euhydra.planner.keeping.hindcast import Hindcast
from euhydra.planner.keeping.uneven import uneven_lines


@dataclass(frozen=True)
class SourceRow:
    """Water from one source in the season.

    reckoned, metered : By the plan under the year's weather; by the log's meter. None where
        nothing tells. [m³]
    money : At the owner's price, of what was metered, else reckoned.
    """

    name: str
    reckoned: float | None
    metered: float | None
    money: float | None


@dataclass(frozen=True)
class BedRow:
    """A bed's season.

    watered : By the logged settings, else as planned. [m³]
    dry_days : By the root zone. [d]
    """

    name: str
    watered: float
    dry_days: int
    harvest_kg: float
    notes: tuple[str, ...]


@dataclass(frozen=True)
class SeasonReport:
    """Everything of a year until a day.

    given, drunk : Litres of watering, and what the plants took up, rain in it, by month. [L]
    """

    first: date
    last: date
    rain: float
    given: tuple[float, ...]
    drunk: tuple[float, ...]
    sources: tuple[SourceRow, ...]
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
        template = "{used} of water so far this season, and {rain} of rain"
        template += "; {harvest} harvested." if harvest > 0 else "."
        summary = say(
            "keeping-season",
            template,
            used=Amount(used, "volume"),
            rain=Amount(self.rain, "rain"),
            harvest=Amount(harvest, "mass"),
        )
        return Verdict(Mark.BUT if self.changes else Mark.WORKS, summary, self.changes[:1])


def report(told: Hindcast, today: date, shown: Sequence[Sentence] = ()) -> SeasonReport:
    """The season up to today."""
    days = told.record.days
    first: date = days[0].astype(object)
    log = [e for e in told.log if first <= e.at.date() <= today]
    garden = told.chain.garden
    return SeasonReport(
        first,
        today,
        float(told.record.precip.sum()) / 1000.0,
        _by_month(told, [track.watered for track in told.tracks]),
        _by_month(told, [t.run.transpired * t.way.need.area_m2 for t in told.tracks]),
        tuple(_sources(told, log)),
        tuple(_beds(told, log)),
        _done(log),
        (*shown, *_changes(told, garden, today)),
    )


def _by_month(told: Hindcast, daily: Sequence[Floats]) -> tuple[float, ...]:
    """Sums over all beds, January first."""
    everything = sum(daily, np.zeros(told.record.month.size))
    return tuple(np.bincount(told.record.month - 1, everything, 12).tolist())


def _sources(told: Hindcast, log: Sequence[LogEntry]) -> list[SourceRow]:
    season, garden = told.season, told.chain.garden
    rows = []
    for tank, group in enumerate(season.groups):
        drawn = float(season.run.drawn_from(tank).sum()) / LITRES_PER_CUBIC_METRE
        metered = _metered(log, {store.id for store in group.stores})
        rows.append(SourceRow(group.name, drawn, metered, None))
    for supply in {part.id: part for part in season.supplies}.values():
        places = {i for i, each in enumerate(season.supplies) if each.id == supply.id}
        given = sum(
            float(flow.sum())
            for watering, flows in zip(season.works.waterings, season.run.given, strict=True)
            for source, flow in zip(watering.sources, flows, strict=True)
            if isinstance(source, int) and source in places
        )
        topped = sum(
            float(litres.sum())
            for top_up, litres in zip(season.works.top_ups, season.run.topped, strict=True)
            if top_up.supply in places
        )
        reckoned = (given + topped) / LITRES_PER_CUBIC_METRE
        metered = _metered(log, {supply.id})
        price = next((t.price_m3 for t in garden.taps if t.id == supply.id), None)
        used = metered if metered is not None else reckoned
        rows.append(SourceRow(supply.name, reckoned, metered, used * price if price else None))
    return rows


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


def _beds(told: Hindcast, log: Sequence[LogEntry]) -> list[BedRow]:
    rows = []
    for track in told.tracks:
        part = track.way.need.part
        harvests = [e for e in log if e.kind == "harvest" and e.part_id == part.id]
        mass = sum((e.amounts[0] or 0.0) for e in harvests if e.amounts)
        rows.append(
            BedRow(
                part.name,
                float(track.watered.sum()) / LITRES_PER_CUBIC_METRE,
                int(track.run.is_stressed.sum()),
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


def _changes(told: Hindcast, garden: Garden, today: date) -> list[Sentence]:
    found = list(uneven_lines(told))
    found += [
        say(
            "keeping-was-too-dry",
            "“{part}” was too dry on {days} days by the sums: look at Time and Store.",
            part=row.way.need.part.name,
            days=int(row.run.is_stressed.sum()),
        )
        for row in told.tracks
        if row.run.is_stressed.sum() > 0.1 * max(1, int(row.way.need.is_growing.sum()))
    ]
    return found
