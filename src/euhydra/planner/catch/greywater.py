"""Greywater: what a week of washing brings, whether the drum keeps up, and where it may go."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from euhydra.core import greywater
from euhydra.core.constants import LITRES_PER_CUBIC_METRE
from euhydra.core.greywater import DrumRun
from euhydra.garden.catalogue import GreywaterRule
from euhydra.garden.drinker import Drinker
from euhydra.garden.model import Garden
from euhydra.garden.sentences import Amount, Sentence, say, words
from euhydra.garden.sources import DrumOutlet, Greywater
from euhydra.planner.answers import Figure, Mark, Verdict, Working
from euhydra.planner.catch import order, washing_week
from euhydra.planner.catch.washing_week import WashWeek
from euhydra.planner.dates import months_in_words

Floats = NDArray[np.float64]

DAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")

MOST_HOURS = 24.0
"""Longest that greywater may stand. [h] Usual limit in published codes, from memory."""

PLANNED_PER_PERSON = {"bath, shower and basin": 25, "laundry": 15}
"""Planning figures, US gallons a person and day. California Plumbing Code, from memory."""

US_GALLON = 3.785411784e-3
"""[m³] By definition."""

KEPT_BACK = 0.005
"""Share of the week's water that may run over before it is said. [-] Our choice."""

EVEN_ENOUGH = 0.75
"""Low-quarter uniformity of the week from which a line counts as even. [-] Common practice for drip."""


@dataclass(frozen=True)
class WashShare:
    """A bed or group of pots that the water is led to, and what it gets of it.

    most_a_day : On the heaviest day, in the months in which it gets most. [m³]
    by_week : Litres that it gets in a week, for each set of branches that is open in some months.
    """

    part: Drinker
    rule: GreywaterRule
    most_a_day: float
    by_week: tuple[float, ...]

    @property
    def soaks_m2(self) -> float:
        """Ground that the heaviest day needs. [m²]"""
        return greywater.soil_area(self.most_a_day, _uptake(self.part))


@dataclass(frozen=True)
class WashAnswer:
    """One greywater line through a week.

    weeks : For each set of branches that is open together in some months.
    shown : The one of them in which it stands worst.
    shares : What it is led to.
    worst_day : Day of the week with most water; 0 is Monday.
    """

    system: Greywater
    weeks: tuple[WashWeek, ...]
    shown: WashWeek
    shares: tuple[WashShare, ...]
    worst_day: int
    figures: tuple[Figure, ...]
    verdict: Verdict


def answer_washing(garden: Garden, system: Greywater) -> WashAnswer:
    """A week of washing through the drum, and whether what it leads to may have it.

    Raises
    ------
    PlanError : if its lines could not be solved.
    """
    weeks = washing_week.weeks_of(garden, system)
    shown = _worst(weeks)
    shares = tuple(_shares(garden, system, weeks))
    return WashAnswer(
        system,
        weeks,
        shown,
        shares,
        int(np.argmax(system.week_m3)),
        tuple(_figures(system, shares, shown)),
        _verdict(garden, system, weeks, shares),
    )


def _worst(weeks: tuple[WashWeek, ...]) -> WashWeek:
    return max(weeks, key=lambda week: (bool(week.by_part), week.lost, week.oldest_hours))


def _shares(garden: Garden, system: Greywater, weeks: tuple[WashWeek, ...]) -> Iterator[WashShare]:
    heaviest = max(system.week_m3)
    for part in washing_week.led_to(garden, system):
        by_week = tuple(week.by_part.get(part.id, 0.0) for week in weeks)
        share = max(
            litres / total if (total := float(week.inflow.sum())) > 0 else 0.0
            for litres, week in zip(by_week, weeks, strict=True)
        )
        yield WashShare(part, order.greywater_rule(garden, part), share * heaviest, by_week)


def _figures(system: Greywater, shares: tuple[WashShare, ...], shown: WashWeek) -> Iterator[Figure]:
    inflow, run = shown.inflow, shown.run
    week = float(inflow.sum()) / LITRES_PER_CUBIC_METRE
    simulated = "Minute by minute through a week, from an empty drum."
    if shown.zone is not None:
        simulated += " The lines are solved at nine levels of the drum."
    yield Figure(
        "In a week",
        Amount(week, "volume"),
        Working(
            "loads × water a load + people × 7 × (shower + bath + basin)",
            {
                "loads a week": Amount(sum(system.loads), "plain"),
                "a load": Amount(system.load_m3, "volume"),
                "people": Amount(system.people, "plain"),
                **{
                    f"planning figure, {what}, a person and day": Amount(
                        gallons * US_GALLON, "volume"
                    )
                    for what, gallons in PLANNED_PER_PERSON.items()
                },
            },
            "Your own figures; planning figures: California Plumbing Code, from memory",
        ),
    )
    yield Figure(
        "On the heaviest day",
        Amount(max(system.week_m3), "volume"),
        Working(
            "the day of the week with most water, not an average",
            {day: Amount(v, "volume") for day, v in zip(DAYS, system.week_m3, strict=True)},
            "Your own figures",
        ),
    )
    yield Figure(
        "Runs over into the sewer, a week",
        Amount.litres(shown.lost),
        Working(
            "what arrives while the drum is full",
            {
                "drum": Amount(system.drum_m3, "volume"),
                "fastest inflow": Amount(float(inflow.max()) / 1000 / 60, "flow"),
                "fastest outflow": Amount(float(run.out.max()) / 1000 / 60, "flow"),
                "fullest": Amount.litres(float(run.level.max())),
            },
            "Mass balance; pipes: Darcy–Weisbach; drum emptying: Torricelli's way",
            (simulated, "A load empties in three goes, about 40, 30 and 30 % of its water."),
        ),
    )
    yield Figure(
        "Oldest water in the drum",
        Amount.hours(run.oldest_hours),
        Working(
            "longest stay of any water, first in, first out",
            {
                "usual limit": Amount.hours(MOST_HOURS),
                "left at the end of the week": Amount.litres(run.left),
            },
            "Usual limit of 24 hours in published codes, from memory",
            (simulated,),
        ),
    )
    if run.is_pumped:
        yield _starts_figure(system, run.starts, float(run.out.max()))
    if shown.zone is not None:
        yield _evenness_figure(shown)
    for share in shares:
        yield _soil_figure(share, several=len(shares) > 1)
    yield _lint_figure(system, week)


def _starts_figure(system: Greywater, starts: int, fastest: float) -> Figure:
    return Figure(
        "Pump starts in a week",
        Amount(starts, "plain"),
        Working(
            "times the float reaches its upper level",
            {
                "float starts it at": Amount(system.pump_on_m3, "volume"),
                "float stops it at": Amount(system.pump_off_m3, "volume"),
                "pump": Amount(fastest / 1000 / 60, "flow"),
            },
            "Minute by minute",
        ),
    )


def _evenness_figure(week: WashWeek) -> Figure:
    given = week.by_outlet
    return Figure(
        "Evenness of the lines",
        Amount(week.evenness, "share"),
        Working(
            "mean of the weakest quarter ÷ mean of all outlets, of the week's water",
            {
                "least of an outlet, a week": Amount.litres(float(given.min())),
                "mean": Amount.litres(float(given.mean())),
                "most": Amount.litres(float(given.max())),
                "outlets": Amount(len(given), "plain"),
            },
            "Low-quarter uniformity: Merriam and Keller (1978)",
            ("Summed over every minute in which the drum empties, at the level that it then has.",),
        ),
    )


def _soil_figure(share: WashShare, *, several: bool) -> Figure:
    part, soil = share.part, share.part.ground
    return Figure(
        f"{part.name}: ground to soak in" if several else "Ground it needs to soak in",
        Amount(share.soaks_m2, "area"),
        Working(
            "water of the heaviest day ÷ what the soil takes in a day",
            {
                "heaviest day": Amount(share.most_a_day, "volume"),
                "the soil takes in a day": Amount(soil.greywater_m_d, "rain"),
                "there is": Amount(part.area_m2, "area"),
            },
            soil.source,
        ),
    )


def lint_days(system: Greywater) -> int:
    """Days from one cleaning of the lint filter to the next; 0 without water. [d]"""
    week = sum(system.week_m3)
    return round(7 * system.lint_m3 / week) if week > 0 else 0


def _lint_figure(system: Greywater, week: float) -> Figure:
    return Figure(
        "Clean the lint filter every",
        Amount.days(lint_days(system)),
        Working(
            "water between cleanings ÷ water a week × 7",
            {
                "between cleanings": Amount(system.lint_m3, "volume"),
                "in a week": Amount(week, "volume"),
            },
            "Common practice; your own filter may say otherwise",
        ),
    )


def _verdict(
    garden: Garden,
    system: Greywater,
    weeks: tuple[WashWeek, ...],
    shares: tuple[WashShare, ...],
) -> Verdict:
    total = sum(system.week_m3)
    if total <= 0:
        nothing = say(
            "catch-no-washing-water", "No water leads here yet: say the washdays or the showers."
        )
        return Verdict(Mark.BUT, nothing)
    if not shares:
        nowhere = say(
            "catch-drum-leads-nowhere",
            "“{name}” leads nowhere yet: lay lines from its drum on Lay, or say which bed an open hose leads to.",
            name=system.name,
        )
        return Verdict(Mark.FAILS, nowhere)
    refused = [share for share in shares if not share.rule.is_allowed]
    if refused:
        return _forbidden(refused)
    reasons = list(_reasons(garden, system, weeks, shares))
    allowed = say(
        "catch-allowed-here-ask",
        "Allowed here: {reason} Ask your local code first.",
        reason=shares[0].rule.reason,
    )
    if reasons:
        return Verdict(
            Mark.BUT,
            say("catch-line-works-but", "The line works, but not on every count."),
            (*reasons, allowed),
        )
    return Verdict(
        Mark.WORKS,
        say(
            "catch-all-week-once",
            "“{part}” can have all {week} a week, at once.",
            part=", ".join(share.part.name for share in shares),
            week=Amount(total, "volume"),
        ),
        (allowed,),
    )


def _forbidden(refused: list[WashShare]) -> Verdict:
    first = refused[0]
    reasons = [
        say(
            "catch-source-ask-local",
            "“{part}”: {reason} Source: {source}. Ask your local code.",
            part=share.part.name,
            reason=words(share.rule.reason),
            source=share.rule.source,
        )
        for share in refused
    ]
    summary = say(
        "catch-greywater-not-allowed",
        "“{part}” may not have greywater.",
        part=first.part.name,
    )
    return Verdict(Mark.FAILS, summary, tuple(reasons))


def _reasons(
    garden: Garden,
    system: Greywater,
    weeks: tuple[WashWeek, ...],
    shares: tuple[WashShare, ...],
) -> Iterator[Sentence]:
    """What is not as it should be, the worst first."""
    total = sum(system.week_m3)
    if _lacks_pump(system, weeks):
        yield say(
            "catch-no-pump-in-lines",
            "The drum is said to be emptied by a pump, but none is in its lines: set one in at the drum, on Lay.",
        )
    yield from _faults_by_months(system, weeks)
    for share in shares:
        if share.part.area_m2 < share.soaks_m2:
            yield say(
                "catch-heaviest-day-needs",
                "The heaviest day needs {need} of such soil; “{part}” has {area}.",
                need=Amount(share.soaks_m2, "area"),
                part=share.part.name,
                area=Amount(share.part.area_m2, "area"),
            )
    if total > 0 and all(sum(week.by_part.values()) <= 0 for week in weeks):
        yield say(
            "catch-nothing-comes-out",
            "Nothing comes out of it: raise the drum, or set a pump in.",
        )


def _faults_by_months(system: Greywater, weeks: tuple[WashWeek, ...]) -> Iterator[Sentence]:
    """What is wrong in every week is said once, of the worst; the rest with its months."""
    # Where every valve is shut the water goes to the sewer, as its owner chose.
    flowing = tuple(week for week in weeks if week.by_part)
    if not flowing:
        return
    told = [list(_faults_of(system, week, f", {months_in_words(week.months)}")) for week in flowing]
    always = set.intersection(*({fault.code for fault in faults} for faults in told))
    yield from (f for f in _faults_of(system, _worst(flowing), "") if f.code in always)
    for faults in told:
        yield from (fault for fault in faults if fault.code not in always)


def _faults_of(system: Greywater, week: WashWeek, when: str) -> Iterator[Sentence]:
    if not _keeps_up(week.run, system):
        yield say(
            "catch-drum-keep-week",
            "The drum does not keep up: {lost} a week run over into the sewer{when}.",
            lost=Amount.litres(week.lost),
            when=when,
        )
    elif week.clogged and not _keeps_up(week.clogged, system):
        yield say(
            "catch-clogged-does-not-keep-up",
            "With its filter due for cleaning it does not keep up: {lost} a week run over{when}. Clean it sooner.",
            lost=Amount.litres(float(week.clogged.overflow.sum())),
            when=when,
        )
    if week.oldest_hours > MOST_HOURS:
        yield say(
            "catch-water-stands-drum",
            "Water stands in the drum for {oldest}{when}; a day is the usual limit.",
            oldest=Amount.hours(week.oldest_hours),
            when=when,
        )
    if week.evenness < EVEN_ENOUGH:
        yield say(
            "catch-lines-uneven",
            "The weakest quarter of its outlets gets {share} of the mean{when}.",
            share=Amount(week.evenness, "share"),
            when=when,
        )


def _lacks_pump(system: Greywater, weeks: tuple[WashWeek, ...]) -> bool:
    has_lines = any(week.zone is not None for week in weeks)
    is_pumped = any(week.run.is_pumped for week in weeks)
    return has_lines and system.outlet is DrumOutlet.PUMP and not is_pumped


def _keeps_up(run: DrumRun, system: Greywater) -> bool:
    total = sum(system.week_m3) * LITRES_PER_CUBIC_METRE
    return float(run.overflow.sum()) <= KEPT_BACK * total


def _uptake(part: Drinker) -> float:
    return part.ground.greywater_m_d
