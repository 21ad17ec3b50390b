"""The seasons replayed, and told as odds: what an ordinary year brings, and one year in ten."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cached_property
from math import ceil

import numpy as np
from numpy.typing import NDArray

from euhydra.core.constants import LITRES_PER_CUBIC_METRE, SECONDS_PER_DAY
from euhydra.garden.quantities import QuantityKind
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.garden.sources import Greywater
from euhydra.planner.answers import Figure, Mark, Verdict, Working
from euhydra.planner.dates import MONTH_NAMES
from euhydra.planner.season import fared, helping_hand, shares
from euhydra.planner.season.replay import Season

Floats = NDArray[np.float64]

POOR = 0.9
"""Share of the years that are better than the poor one that is told: one year in ten."""

WHOLE_YEAR = 360
"""Days of weather from which on a calendar year counts. [d] Our choice."""


@dataclass(frozen=True)
class OddsRow:
    """One thing that differs from year to year.

    key : Names it, so that two plans can be laid side by side.
    more_is_worse : Which end of the years is the poor one.
    by_year : In SI, of each year.
    """

    key: str
    label: str
    kind: QuantityKind
    more_is_worse: bool
    by_year: Floats
    how: str

    @property
    def middling(self) -> float:
        """Of the middle year."""
        return self._whole(float(np.median(self.by_year)))

    @property
    def poor(self) -> float:
        """Of one year in ten."""
        share = POOR if self.more_is_worse else 1 - POOR
        return self._whole(float(np.quantile(self.by_year, share)))

    def _whole(self, value: float) -> float:
        return ceil(value / SECONDS_PER_DAY) * SECONDS_PER_DAY if self.kind == "days" else value

    def figures(self) -> tuple[Figure, Figure]:
        """Of the middling year and of the poor one."""
        inputs = {
            "least of all years": Amount(float(self.by_year.min()), self.kind),
            "middle of the years": Amount(self.middling, self.kind),
            "one year in ten": Amount(self.poor, self.kind),
            "most of all years": Amount(float(self.by_year.max()), self.kind),
            "years": Amount(float(len(self.by_year)), "plain"),
        }
        source = "Every day of the record through roofs, stores, lines, timers and root zones"
        return (
            Figure(self.label, Amount(self.middling, self.kind), Working(self.how, inputs, source)),
            Figure(
                f"{self.label}, one year in ten",
                Amount(self.poor, self.kind),
                Working(self.how, inputs, source),
            ),
        )


@dataclass(frozen=True)
class OddsAnswer:
    """All years of the record.

    years : Calendar years that count.
    dry_odds : For each store, share of the years in which it runs dry while something grows, and
        the middle first day on which it does (day of the year), None if it never does.
    """

    season: Season
    years: tuple[int, ...]
    rows: tuple[OddsRow, ...]
    dry_odds: tuple[tuple[str, float, int | None], ...]
    verdict: Verdict

    @cached_property
    def by_key(self) -> dict[str, OddsRow]:
        """Rows by what they are about."""
        return {row.key: row for row in self.rows}


def answer_odds(season: Season) -> OddsAnswer:
    """Days of stress, dry stores, litres by source, spill, drainage and money, with odds."""
    years = _years(season)
    total = _totals(season, years)
    rows = (*_bed_rows(season, total), *_water_rows(season, total))
    dry = tuple(_dry_odds(season, tank, years) for tank in range(len(season.groups)))
    verdict = _verdict(season, rows)
    reasons = (
        *verdict.reasons,
        *helping_hand.unwatered(season),
        *(each.sentence for each in helping_hand.helps_of(season)),
        *_cut_short(season, years),
        *fared.driest(season),
    )
    verdict = replace(verdict, reasons=reasons)
    return OddsAnswer(season, years, rows, dry, verdict)


def _cut_short(season: Season, years: tuple[int, ...]) -> list[Sentence]:
    """What a record that ends mid-season, or holds no whole year, cannot say."""
    record = season.record
    last = str(record.days[-1])[:10]
    whole = int((record.year == years[-1]).sum()) >= WHOLE_YEAR
    if not whole:
        return [
            say(
                "season-weather-holds-whole",
                "Your weather holds no whole year, and ends on {last}: these are odds of one part of a "
                "season. Bring a longer record, or let years be made up like it.",
                last=last,
            )
        ]
    if int(record.year[-1]) != years[-1] and bool(season.is_growing[-1]):
        return [
            say(
                "season-weather-ends-mid",
                "Your weather ends mid-season, on {last}: that year is left out here.",
                last=last,
            )
        ]
    return []


def _years(season: Season) -> tuple[int, ...]:
    years, days = np.unique(season.record.year, return_counts=True)
    whole = years[days >= WHOLE_YEAR]
    return tuple((whole if len(whole) else years).tolist())


def _totals(season: Season, years: tuple[int, ...]) -> Callable[[Floats], Floats]:
    """Sums of a daily series over each year that counts."""
    year = season.record.year
    return lambda daily: np.array([float(daily[year == y].sum()) for y in years])


def _bed_rows(season: Season, total: Callable[[Floats], Floats]) -> list[OddsRow]:
    return [
        OddsRow(
            f"stress-{way.need.part.id}",
            f"{way.need.part.name}: days too dry",
            "days",
            True,
            total(bed.is_stressed.astype(float)) * SECONDS_PER_DAY,
            "days on which the crop drank less than it wanted: root zone drier than its refill point",
        )
        for way, bed in zip(season.ways, season.beds, strict=True)
    ]


def _water_rows(season: Season, total: Callable[[Floats], Floats]) -> list[OddsRow]:
    days = len(season.record.days)

    def volume(key: str, label: str, daily: Floats, is_bad: bool, how: str) -> OddsRow:
        return OddsRow(key, label, "volume", is_bad, total(daily) / LITRES_PER_CUBIC_METRE, how)

    rows = [
        OddsRow(
            f"dry-{group.id}",
            f"{group.name}: days run dry",
            "days",
            True,
            total((season.run.tank_run(tank).is_empty & season.is_growing).astype(float))
            * SECONDS_PER_DAY,
            "evenings in season with nothing that comes out",
        )
        for tank, group in enumerate(season.groups)
    ]
    rows.append(
        volume(
            "stored", "From stores", shares.stored_litres(season), False, "drawn from all stores"
        )
    )
    if season.garden.greywaters:
        grey = shares.supply_litres(season, Greywater)
        rows.append(volume("grey", "Greywater", grey, False, "greywater that beds took"))
    for tap_id, litres in shares.tap_litres(season).items():
        tap = next(t for t in season.garden.taps if t.id == tap_id)
        how = "straight to beds and topped up into stores"
        rows.append(volume(f"tap-{tap.id}", f"From {tap.name}", litres, True, how))
    spill = sum(
        (
            s
            for s, t in zip(season.run.spill, season.works.tanks, strict=True)
            if t.spills_to is None
        ),
        np.zeros(days),
    )
    rows.append(volume("spill", "Runs over", spill, False, "what arrives in full stores"))
    rows.append(
        volume(
            "drained",
            "Lost past the roots",
            season.lost_past_roots,
            True,
            "drainage of beds, up to the water given that day",
        )
    )
    return rows + _money_rows(season, total)


def _money_rows(season: Season, total: Callable[[Floats], Floats]) -> list[OddsRow]:
    priced = {t.id: t.price_m3 for t in season.garden.taps if t.price_m3 is not None}
    if not priced:
        return []
    litres = shares.tap_litres(season)
    daily = sum(
        (litres[tap] * price / LITRES_PER_CUBIC_METRE for tap, price in priced.items()),
        np.zeros(len(season.record.days)),
    )
    return [
        OddsRow("money", "Tap water costs", "money", True, total(daily), "water × your own price")
    ]


def _dry_odds(season: Season, tank: int, years: tuple[int, ...]) -> tuple[str, float, int | None]:
    record = season.record
    dry = season.run.tank_run(tank).is_empty & season.is_growing
    firsts = [record.day_of_year[dry & (record.year == y)] for y in years]
    found = [int(days[0]) for days in firsts if len(days)]
    middle = round(float(np.median(found))) if found else None
    return season.groups[tank].name, len(found) / len(years), middle


def _verdict(season: Season, rows: tuple[OddsRow, ...]) -> Verdict:
    beds = [row for row in rows if row.key.startswith("stress-")]
    worst = max(beds, key=lambda row: (row.poor, row.middling))
    name = worst.label.split(":")[0]
    amounts = {"mid": Amount(worst.middling, "days"), "poor": Amount(worst.poor, "days")}
    poor_days = worst.poor / SECONDS_PER_DAY
    if poor_days <= fared.STRESS_HARMLESS:
        return Verdict(
            Mark.WORKS,
            say(
                "season-nine-years-ten",
                "In nine years of ten no bed is too dry for more than {poor}.",
                **amounts,
            ),
        )
    return Verdict(
        fared.mark_of_dry(fared.most_dry_days(season, fared.lived_of(season))),
        say(
            "season-dry-middling-year",
            "“{name}” is too dry on {mid} of an ordinary year, and on {poor} in one year of ten.",
            name=name,
            **amounts,
        ),
    )


def date_in_words(day_of_year: int) -> str:
    """A day of a common year, such as `8 July`."""
    date = np.datetime64("2023-01-01") + np.timedelta64(min(day_of_year, 365) - 1, "D")
    _, month, day = str(date).split("-")
    return f"{int(day)} {MONTH_NAMES[int(month) - 1]}"


def dry_sentences(answer: OddsAnswer) -> list[Sentence]:
    """When each store runs dry."""
    said = []
    for name, odds, first in answer.dry_odds:
        if first is None:
            said.append(
                say(
                    "season-never-runs-dry",
                    "“{name}” never runs dry while something grows.",
                    name=name,
                )
            )
        else:
            said.append(
                say(
                    "season-runs-dry-years",
                    "“{name}” runs dry in {odds} of the years, then mostly from {day} on.",
                    name=name,
                    day=date_in_words(first),
                    odds=Amount(odds, "share"),
                )
            )
    return said
