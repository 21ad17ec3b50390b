"""Away: odds that each bed holds until somebody comes, year by year of the record."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from math import floor

import numpy as np
from numpy.typing import NDArray

from euhydra.core.constants import LITRES_PER_CUBIC_METRE
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.answers import Figure, Mark, PlanError, Suggestion, Verdict, Working
from euhydra.planner.dates import day_in_words
from euhydra.planner.season.absence import Absence, first_dry_days, is_served, starts_of
from euhydra.planner.season.replay import Season
from euhydra.planner.season.watering import Watered

Floats = NDArray[np.float64]

HOLDS = 0.9
"""Share of the years in which a bed has to hold. [-] Our choice."""

FORGIVEN = 1
"""Days too dry at the very end that a bed forgives. [d] Our choice."""

WORTH_SAYING = 0.05
"""Share of the years that a change has to gain to be told. [-] Our choice."""

CARRIED_AT_ONCE = 100.0
"""Most that a neighbour is asked to carry to one bed on a visit. [L] Our choice: ten cans."""

COMES_BEFORE = 0.1
"""Share of the years in which a bed may be too dry before the neighbour comes. [-] Our choice."""


@dataclass(frozen=True)
class BedOdds:
    """One bed over the absence.

    holds : Share of the years in which it is not too dry. [-]
    first_dry : Days after the last watering by which it is too dry in one year of ten; None if
        it is not. `dry_from` is that day.
    drinks_l_day : What it drinks a day then, for the neighbour. [L d⁻¹]
    takes_l : Most that its roots can be given at once. [L]
    is_served : Whether a timer or a float waters it meanwhile.
    """

    way: Watered
    holds: float
    first_dry: int | None
    dry_from: date | None
    drinks_l_day: float
    takes_l: float
    is_served: bool
    figure: Figure

    def visit_l(self, every: int) -> float:
        """What a visit every so many days gives it: no more than it can take. [L]"""
        return min(self.drinks_l_day * every, self.takes_l)

    def visit_cans(self, every: int) -> int:
        """That in cans of its own, whole ones."""
        can = self.way.need.part.can_m3 * LITRES_PER_CUBIC_METRE
        return max(1, round(self.visit_l(every) / can))


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
    starts = starts_of(season, absence)
    if not len(starts):
        raise PlanError(
            say(
                "season-weather-never-holds",
                "Your weather never holds those days whole: bring a longer record.",
            )
        )
    beds = _beds(season, absence, starts)
    if not beds:
        raise PlanError(
            say("season-grows-those-weeks", "Nothing grows in those weeks: nothing can go dry.")
        )
    return AwayAnswer(
        absence, len(starts), beds, _visits(beds), _verdict(season, absence, starts, beds)
    )


def _visits(beds: Sequence[BedOdds]) -> int | None:
    """Days from one visit of a neighbour to the next; None where none is needed. [d]"""
    wanting = [bed for bed in beds if bed.first_dry is not None]
    carried = (floor(CARRIED_AT_ONCE / max(bed.drinks_l_day, 1e-6)) for bed in wanting)
    dry = (bed.first_dry for bed in wanting if bed.first_dry is not None)
    return max(1, min(*dry, *carried)) if wanting else None


def _beds(season: Season, absence: Absence, starts: NDArray[np.intp]) -> tuple[BedOdds, ...]:
    dry_days = np.array([first_dry_days(season, absence, int(start)) for start in starts])
    days = starts[:, None] + np.arange(absence.days)
    found = [
        _bed(season, way, absence, dry_days[:, i], days)
        for i, way in enumerate(season.ways)
        if way.need.is_growing[days].any()
    ]
    return tuple(sorted(found, key=lambda b: (b.holds, b.first_dry or absence.days)))


def _bed(
    season: Season, way: Watered, absence: Absence, firsts: NDArray[np.intp], days: NDArray[np.intp]
) -> BedOdds:
    holds = float((firsts >= absence.days - FORGIVEN).mean())
    early = floor(float(np.quantile(firsts, COMES_BEFORE)))
    dry = early if early < absence.days else None
    return BedOdds(
        way,
        holds,
        dry,
        None if dry is None else absence.last_watered + timedelta(days=dry),
        float(way.need.crop_et[days].mean()) * way.need.area_m2,
        float(way.need.ready[days].mean()) * way.need.area_m2,
        is_served(way),
        _figure(season, way, holds, firsts, absence),
    )


def _figure(
    season: Season, way: Watered, holds: float, firsts: NDArray[np.intp], absence: Absence
) -> Figure:
    return Figure(
        f"{way.need.part.name} holds",
        Amount(holds, "share"),
        Working(
            "years in which it is not too dry before you are back ÷ years",
            {
                "away since the last watering": Amount.days(absence.days),
                "first too dry, ordinary year": Amount.days(float(np.median(firsts))),
                "first too dry, worst year": Amount.days(float(firsts.min())),
                "years": Amount(float(len(firsts)), "plain"),
                **{
                    f"“{group.name}” full to": Amount(share, "share")
                    for group, share in zip(season.groups, absence.filled, strict=True)
                },
            },
            "The same days of every year through stores, lines, timers and root zones",
            (
                "All beds are full of water on the day of the last watering.",
                "A float keeps its water meanwhile."
                if way.keeps_level
                else "A timer waters it meanwhile."
                if is_served(way)
                else "Nothing waters it meanwhile: it has no timer that runs by itself.",
            ),
        ),
    )


def _verdict(
    season: Season, absence: Absence, starts: NDArray[np.intp], beds: Sequence[BedOdds]
) -> Verdict:
    worst = beds[0]
    name = worst.way.need.part.name
    if worst.holds >= HOLDS:
        return Verdict(
            Mark.WORKS,
            say(
                "season-everything-holds-until",
                "Everything holds until you are back in {odds} of the years.",
                odds=Amount(worst.holds, "share"),
            ),
        )
    when = ""
    if worst.dry_from is not None:
        when = f" It may be too dry from {day_in_words(worst.dry_from)} on."
    return Verdict(
        Mark.FAILS if worst.holds < 0.5 else Mark.BUT,
        say(
            "season-suffers-first-holds",
            "“{name}” suffers first: it holds in {odds} of the years.{when}",
            name=name,
            when=when,
            odds=Amount(worst.holds, "share"),
        ),
        advice=_advice(season, absence, starts, beds),
    )


def _advice(
    season: Season, absence: Absence, starts: NDArray[np.intp], beds: Sequence[BedOdds]
) -> tuple[Suggestion, ...]:
    found: list[Suggestion] = []
    if any(share < 1 for share in absence.filled):
        full = _beds(season, replace(absence, filled=(1.0,) * len(absence.filled)), starts)
        found += _gain(say("season-fill-stores", "Fill the stores before you go."), beds, full)
    soon = absence.leaves
    if absence.last_watered < soon:
        watered = replace(absence, last_watered=soon)
        later = _beds(season, watered, starts + (soon - absence.last_watered).days)
        found += _gain(
            say("season-water-through", "Water everything through on the day you leave."),
            beds,
            later,
        )
    hand = [b for b in beds if not b.is_served and b.holds < HOLDS]
    if hand:
        names = ", ".join(f"“{b.way.need.part.name}”" for b in hand)
        litres = sum(b.drinks_l_day for b in hand)
        found.append(
            Suggestion(
                say(
                    "season-neighbour-water-put",
                    "Have a neighbour water {names}, or put a timer there.",
                    names=names,
                ),
                say(
                    "season-drink-day-together",
                    "They drink {litres} a day together.",
                    litres=Amount.litres(litres),
                ),
            )
        )
    return tuple(found)


def _gain(change: Sentence, now: Sequence[BedOdds], then: Sequence[BedOdds]) -> list[Suggestion]:
    """The change as a cure, if a bed gains by it; told by the bed that gains most."""
    before = {b.way.need.part.id: b.holds for b in now}
    best = max(then, key=lambda b: b.holds - before.get(b.way.need.part.id, b.holds))
    if best.holds - before.get(best.way.need.part.id, best.holds) < WORTH_SAYING:
        return []
    outcome = say(
        "season-holds-years",
        "Then “{part}” holds in {odds} of the years.",
        part=best.way.need.part.name,
        odds=Amount(best.holds, "share"),
    )
    return [Suggestion(change, outcome)]
