"""Away: odds that each bed holds until somebody comes, year by year of the record."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from math import floor

import numpy as np
from numpy.typing import NDArray

from euhydra.core import bed, waterworks
from euhydra.core.bed import BedInputs
from euhydra.core.constants import LITRES_PER_CUBIC_METRE, SECONDS_PER_DAY
from euhydra.core.waterworks import Line, Watering, Waterworks
from euhydra.planner.answers import (
    Amount,
    Cure,
    Figure,
    Mark,
    PlanError,
    Sentence,
    Verdict,
    Working,
    say,
)
from euhydra.planner.seasons import Season, Way
from euhydra.planner.timing import MONTH_NAMES

Floats = NDArray[np.float64]

LONGEST = 120
"""Longest absence that is reckoned. [d] Our choice."""

HOLDS = 0.9
"""Share of the years in which a bed has to hold. [-] Our choice."""

FORGIVEN = 1
"""Days too dry at the very end that a bed forgives. [d] Our choice."""

WORTH_SAYING = 0.05
"""Share of the years that a change has to gain to be told. [-] Our choice."""

COMES_BEFORE = 0.1
"""Share of the years in which a bed may be too dry before the neighbour comes. [-] Our choice."""


@dataclass(frozen=True)
class Absence:
    """When nobody is there.

    leaves, returns : First day without, and first day with somebody again.
    last_watered : Day on which beds without a timer were last watered through.
    filled : How full the stores are on that day, of what they can give. [-]
    """

    leaves: date
    returns: date
    last_watered: date
    filled: float

    def __post_init__(self) -> None:
        if self.returns <= self.leaves:
            raise PlanError("You come back before you leave: give a later return.")
        if self.last_watered > self.leaves:
            raise PlanError(
                "The last watering is after you leave: give the day before you go, or earlier."
            )
        if (self.returns - self.last_watered).days > LONGEST:
            raise PlanError(
                f"That is more than {LONGEST} days: nothing but a timer and a tap holds so long. Give a shorter time."
            )
        if not 0 <= self.filled <= 1:
            raise PlanError("Stores are between empty, 0 %, and full, 100 %.")

    @property
    def days(self) -> int:
        """From the last watering to the return. [d]"""
        return (self.returns - self.last_watered).days


@dataclass(frozen=True)
class BedOdds:
    """One bed over the absence.

    holds : Share of the years in which it is not too dry. [-]
    first_dry : Days after the last watering by which it is too dry in one year of ten; None if
        it is not. `dry_from` is that day.
    drinks_l_day : What it drinks a day then, for the neighbour. [L d⁻¹]
    is_served : Whether a timer waters it meanwhile.
    """

    way: Way
    holds: float
    first_dry: int | None
    dry_from: date | None
    drinks_l_day: float
    is_served: bool
    figure: Figure


@dataclass(frozen=True)
class AwayAnswer:
    """All beds that grow then, the first to suffer first."""

    absence: Absence
    years: int
    beds: tuple[BedOdds, ...]
    visit_every: int | None
    verdict: Verdict

    @property
    def first_visit(self) -> date:
        """Latest day of the neighbour's first visit."""
        return self.absence.last_watered + timedelta(days=self.visit_every or self.absence.days)


def answer_away(season: Season, absence: Absence) -> AwayAnswer:
    """Odds for every bed, who suffers first, and what to do before leaving.

    Raises
    ------
    PlanError : if nothing grows then, or the record never holds those days whole.
    """
    starts = _starts(season, absence)
    if not len(starts):
        raise PlanError("Your weather never holds those days whole: bring a longer record.")
    beds = _beds(season, absence, starts)
    if not beds:
        raise PlanError("Nothing grows in those weeks: nothing can go dry.")
    dry = [b.first_dry for b in beds if b.first_dry is not None]
    every = max(1, min(dry)) if dry else None
    return AwayAnswer(absence, len(starts), beds, every, _verdict(season, absence, starts, beds))


def _starts(season: Season, absence: Absence) -> NDArray[np.intp]:
    """Positions of the day of the last watering in every year that holds the whole absence."""
    days = season.record.days.astype("datetime64[D]")
    month_day = np.datetime_as_string(days, unit="D")
    when = absence.last_watered
    # Every year has to have that day.
    wanted = "02-28" if (when.month, when.day) == (2, 29) else when.strftime("%m-%d")
    found = np.flatnonzero(np.char.endswith(month_day, f"-{wanted}"))
    return np.asarray(found[found + absence.days < len(days)])


def _beds(season: Season, absence: Absence, starts: NDArray[np.intp]) -> tuple[BedOdds, ...]:
    dry_days = np.array([_first_dry_days(season, absence, int(start)) for start in starts])
    found = []
    for i, way in enumerate(season.ways):
        grows = [bool(way.need.is_growing[s : s + absence.days].any()) for s in starts]
        if not any(grows):
            continue
        firsts = dry_days[:, i]
        holds = float((firsts >= absence.days - FORGIVEN).mean())
        early = floor(float(np.quantile(firsts, COMES_BEFORE)))
        is_early = early < absence.days
        drinks = np.mean(
            [way.need.crop_et[s : s + absence.days].mean() * way.need.area_m2 for s in starts]
        )
        found.append(
            BedOdds(
                way, holds, early if is_early else None,
                absence.last_watered + timedelta(days=early) if is_early else None, float(drinks),
                _is_served(way), _figure(way, holds, firsts, absence),
            )
        )  # fmt: skip
    return tuple(sorted(found, key=lambda b: (b.holds, b.first_dry or absence.days)))


def _is_served(way: Way) -> bool:
    """Whether water comes by itself: a timer that nobody has to start."""
    return way.time is not None and not way.time.timer.wants_somebody


def _first_dry_days(season: Season, absence: Absence, start: int) -> list[int]:
    """For each bed, days after the last watering on which it is first too dry; the absence if never."""
    span = slice(start, start + absence.days)
    run = waterworks.run_waterworks(_works(season, absence, span))
    firsts = []
    for i, (way, inputs) in enumerate(zip(season.ways, season.bed_inputs, strict=True)):
        supplied = run.supplied(i) if _is_served(way) else np.zeros(absence.days)
        dry = bed.run_bed(_cut(inputs, span), supplied).is_stressed
        firsts.append(int(np.argmax(dry)) if dry.any() else absence.days)
    return firsts


def _works(season: Season, absence: Absence, span: slice) -> Waterworks:
    """The works over those days, from stores as full as they are; no hand opens anything."""
    works = season.works
    tanks = tuple(
        replace(t, inflow=t.inflow[span], start=t.dead + absence.filled * (t.capacity - t.dead))
        for t in works.tanks
    )
    supplies = tuple(replace(s, available=s.available[span]) for s in works.supplies)
    waterings = tuple(
        _watering(w, span, _is_served(way))
        for w, way in zip(works.waterings, season.ways, strict=True)
    )
    transfers = tuple(
        replace(t, is_due=np.zeros(absence.days, dtype=bool)) for t in works.transfers
    )
    return Waterworks(tanks, supplies, waterings, works.top_ups, transfers)


def _watering(watering: Watering, span: slice, is_served: bool) -> Watering:
    sources = tuple(
        source if isinstance(source, int) else replace(source, hours=source.hours[span])
        for source in watering.sources
        # What is carried, or opened by hand besides, does not come while nobody is there.
        if isinstance(source, int) or source.is_timed or _is_first(watering, source)
    )
    wanted = watering.wanted[span] if is_served else np.zeros(span.stop - span.start)
    return Watering(wanted, sources[:1])


def _is_first(watering: Watering, source: Line) -> bool:
    return watering.sources[0] is source


def _cut(inputs: BedInputs, span: slice) -> BedInputs:
    return replace(
        inputs, rain=inputs.rain[span], crop_et=inputs.crop_et[span], total=inputs.total[span],
        ready=inputs.ready[span], is_growing=inputs.is_growing[span], runs=inputs.runs[span],
    )  # fmt: skip


def _figure(way: Way, holds: float, firsts: NDArray[np.intp], absence: Absence) -> Figure:
    return Figure(
        f"{way.need.part.name} holds",
        Amount(holds, "share"),
        Working(
            "years in which it is not too dry before you are back ÷ years",
            {
                "away since the last watering": Amount(absence.days * SECONDS_PER_DAY, "days"),
                "first too dry, middling year": Amount(float(np.median(firsts)) * SECONDS_PER_DAY, "days"),
                "first too dry, worst year": Amount(float(firsts.min()) * SECONDS_PER_DAY, "days"),
                "years": Amount(float(len(firsts)), "plain"),
                "stores full to": Amount(absence.filled, "share"),
            },
            "The same days of every year through stores, lines, timers and root zones",
            (
                "All beds are full of water on the day of the last watering.",
                "A timer waters it meanwhile." if _is_served(way) else "Nothing waters it meanwhile: it has no timer that runs by itself.",
            ),
        ),
    )  # fmt: skip


def _verdict(
    season: Season, absence: Absence, starts: NDArray[np.intp], beds: Sequence[BedOdds]
) -> Verdict:
    worst = beds[0]
    name = worst.way.need.part.name
    if worst.holds >= HOLDS:
        return Verdict(
            Mark.WORKS,
            say(
                "Everything holds until you are back in {odds} of the years.",
                odds=(worst.holds, "share"),
            ),
        )
    when = ""
    if worst.dry_from is not None:
        when = f" It may be too dry from {day_in_words(worst.dry_from)} on."
    return Verdict(
        Mark.FAILS if worst.holds < 0.5 else Mark.BUT,
        say(
            f"“{name}” suffers first: it holds in {{odds}} of the years.{when}",
            odds=(worst.holds, "share"),
        ),
        cures=_cures(season, absence, starts, beds),
    )


def _cures(
    season: Season, absence: Absence, starts: NDArray[np.intp], beds: Sequence[BedOdds]
) -> tuple[Cure, ...]:
    found: list[Cure] = []
    if absence.filled < 1:
        full = _beds(season, replace(absence, filled=1.0), starts)
        found += _gain("Fill the stores before you go.", beds, full)
    soon = absence.leaves
    if absence.last_watered < soon:
        watered = replace(absence, last_watered=soon)
        later = _beds(season, watered, starts + (soon - absence.last_watered).days)
        found += _gain("Water everything through on the day you leave.", beds, later)
    hand = [b for b in beds if not b.is_served and b.holds < HOLDS]
    if hand:
        names = ", ".join(f"“{b.way.need.part.name}”" for b in hand)
        litres = sum(b.drinks_l_day for b in hand)
        found.append(
            Cure(
                Sentence(f"Have a neighbour water {names}, or put a timer there."),
                say(
                    "They drink {litres} a day together.",
                    litres=(litres / LITRES_PER_CUBIC_METRE, "volume"),
                ),
            )
        )
    return tuple(found)


def day_in_words(day: date) -> str:
    """A day without its year, such as `8 July`."""
    return f"{day.day} {MONTH_NAMES[day.month - 1]}"


def _gain(words: str, now: Sequence[BedOdds], then: Sequence[BedOdds]) -> list[Cure]:
    """The change as a cure, if a bed gains by it; told by the bed that gains most."""
    before = {b.way.need.part.id: b.holds for b in now}
    best = max(then, key=lambda b: b.holds - before.get(b.way.need.part.id, b.holds))
    if best.holds - before.get(best.way.need.part.id, best.holds) < WORTH_SAYING:
        return []
    outcome = say(
        f"Then “{best.way.need.part.name}” holds in {{odds}} of the years.",
        odds=(best.holds, "share"),
    )
    return [Cure(Sentence(words), outcome)]
