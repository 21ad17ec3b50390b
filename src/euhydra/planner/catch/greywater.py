"""Greywater: what a week of washing brings, whether the drum keeps up, and where it may go."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from euhydra.core import greywater, hydraulics
from euhydra.core.constants import LITRES_PER_CUBIC_METRE
from euhydra.core.delivery import DrainCurve
from euhydra.core.greywater import DrumRun, FloatPump
from euhydra.core.network import NetworkBuilder
from euhydra.garden import catalogue
from euhydra.garden.beds import Bed
from euhydra.garden.catalogue import GreywaterRule
from euhydra.garden.model import Garden
from euhydra.garden.sentences import Amount, say, words
from euhydra.garden.sources import DrumOutlet, Greywater
from euhydra.planner.answers import Cure, Figure, Mark, Verdict, Working
from euhydra.planner.catch import order

Floats = NDArray[np.float64]

DAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")

MOST_HOURS = 24.0
"""Longest that greywater may stand. [h] Usual limit in published codes, from memory."""

FIRST_LOAD = 9 * 60
"""Minute of the day at which the first load begins. Our choice."""

LOAD_EVERY = 75
"""From one load to the next. [min] Common practice: a wash and the change-over."""

SHOWER_AT, BATH_AT = 7 * 60, 20 * 60
BASIN_AT = (7 * 60 + 30, 13 * 60, 22 * 60)
SHOWER_MINUTES, BATH_MINUTES, BASIN_MINUTES = 7, 6, 5
"""Our choice of an ordinary day."""

SMOOTH = 1.5e-6
"""Wall roughness of drawn plastic pipe. [m] Handbook value, from memory."""

FREE_END_LOSS = 3.0
"""Loss coefficient of tap, bends and the open end of the hose. [-] Common practice."""

LEVEL_SHARES = (0.0, 0.02, 0.1, 0.25, 0.5, 0.75, 1.0)

PLANNED_PER_PERSON = {"bath, shower and basin": 25, "laundry": 15}
"""Planning figures, US gallons a person and day. California Plumbing Code, from memory."""

US_GALLON = 3.785411784e-3
"""[m³] By definition."""

KEPT_BACK = 0.005
"""Share of the week's water that may run over before it is said. [-] Our choice."""


@dataclass(frozen=True)
class WashAnswer:
    """One greywater line through a week.

    inflow : Litres of each minute of the week.
    run : The drum, minute by minute.
    worst_day : Day of the week with most water; 0 is Monday.
    """

    system: Greywater
    bed: Bed
    rule: GreywaterRule
    inflow: Floats
    run: DrumRun
    worst_day: int
    figures: tuple[Figure, ...]
    verdict: Verdict


def answer_washing(garden: Garden, system: Greywater) -> WashAnswer:
    """A week of washing through the drum, and whether the bed that it leads to may have it."""
    bed = next(bed for bed in garden.beds if bed.id == system.bed_id)
    inflow, run = run_week(system)
    rule = order.greywater_rule(garden, bed)
    worst = int(np.argmax(system.week_m3))
    figures = tuple(_figures(system, bed, inflow, run))
    return WashAnswer(
        system, bed, rule, inflow, run, worst, figures, _verdict(system, bed, rule, run)
    )


def share_delivered(system: Greywater) -> float:
    """Share of the week's water that reaches the bed; the rest runs over into the sewer. [-]"""
    inflow, run = run_week(system)
    total = float(inflow.sum())
    return 1 - float(run.overflow.sum()) / total if total > 0 else 0.0


@lru_cache(maxsize=32)
def run_week(system: Greywater) -> tuple[Floats, DrumRun]:
    """Inflow of each minute of a week, and what the drum makes of it."""
    inflow = week_inflow(system)
    return inflow, greywater.run_drum(inflow, _litres(system.drum_m3), _outlet(system))


def week_inflow(system: Greywater) -> Floats:
    """Litres of each minute of a week that begins on Monday at midnight. [L]"""
    return np.concatenate([_day_inflow(system, loads) for loads in system.loads])


def _day_inflow(system: Greywater, loads: int) -> Floats:
    minutes = greywater.MINUTES_PER_DAY
    starts = [FIRST_LOAD + LOAD_EVERY * i for i in range(loads)]
    inflow = greywater.wash_inflow(_litres(system.load_m3), starts, minutes)
    for person in range(system.people):
        shower = SHOWER_AT + person * (SHOWER_MINUTES + 3)
        bath = BATH_AT + person * 30
        inflow += greywater.steady_inflow(
            _litres(system.shower_m3), shower, SHOWER_MINUTES, minutes
        )
        inflow += greywater.steady_inflow(
            _litres(system.bath_m3), min(bath, minutes - BATH_MINUTES), BATH_MINUTES, minutes
        )
    for start in BASIN_AT:
        litres = _litres(system.people * system.basin_m3) / len(BASIN_AT)
        inflow += greywater.steady_inflow(litres, start, BASIN_MINUTES, minutes)
    return inflow


def _outlet(system: Greywater) -> greywater.Outlet | FloatPump:
    if system.outlet is DrumOutlet.PUMP:
        flow = _litres(system.pump_m3_s) * 60
        return FloatPump(flow, _litres(system.pump_on_m3), _litres(system.pump_off_m3))
    curve = gravity_curve(system)
    if curve is None:
        return lambda level: 0.0
    return lambda level: curve.delivered(level, 1 / 60)


def gravity_curve(system: Greywater) -> DrainCurve | None:
    """Flow of the open hose against the water in the drum; None if it never runs. [L], [L/h]"""
    flows = [_gravity_flow(system, share) for share in LEVEL_SHARES]
    if flows[-1] <= 0:
        return None
    volumes = [_litres(system.drum_m3) * share for share in LEVEL_SHARES]
    return DrainCurve.of(volumes, [_litres(q) * 3600 for q in flows])


def _gravity_flow(system: Greywater, share: float) -> float:
    """Through the hose to its free end at the bed. [m³ s⁻¹]"""
    head = system.drop_m + share * system.drum_depth_m
    if head <= 0:
        return 0.0
    builder = NetworkBuilder()
    builder.add_source("drum", head)
    builder.add_junction("middle", 0.0)
    builder.add_source("end", 0.0)
    half = system.hose_m / 2
    builder.add_pipe("upper", "drum", "middle", half, system.bore_m, SMOOTH)
    builder.add_pipe("lower", "middle", "end", half, system.bore_m, SMOOTH, FREE_END_LOSS)
    solution = hydraulics.solve(builder.build())
    return float(solution.flow[0])


def _litres(volume_m3: float) -> float:
    return volume_m3 * LITRES_PER_CUBIC_METRE


def _figures(system: Greywater, bed: Bed, inflow: Floats, run: DrumRun) -> list[Figure]:
    week = float(inflow.sum()) / LITRES_PER_CUBIC_METRE
    heaviest = max(system.week_m3)
    lost = float(run.overflow.sum()) / LITRES_PER_CUBIC_METRE
    simulated = "Minute by minute through a week, from an empty drum."
    figures = [
        Figure(
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
        ),
        Figure(
            "On the heaviest day",
            Amount(heaviest, "volume"),
            Working(
                "the day of the week with most water, not an average",
                {day: Amount(v, "volume") for day, v in zip(DAYS, system.week_m3, strict=True)},
                "Your own figures",
            ),
        ),
        Figure(
            "Runs over into the sewer, a week",
            Amount(lost, "volume"),
            Working(
                "what arrives while the drum is full",
                {
                    "drum": Amount(system.drum_m3, "volume"),
                    "fastest inflow": Amount(float(inflow.max()) / 1000 / 60, "flow"),
                    "fastest outflow": Amount(float(run.out.max()) / 1000 / 60, "flow"),
                    "fullest": Amount.litres(float(run.level.max())),
                },
                "Mass balance; hose: Darcy–Weisbach; drum emptying: Torricelli's way",
                (simulated, "A load empties in three goes, about 40, 30 and 30 % of its water."),
            ),
        ),
        Figure(
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
        ),
    ]
    if system.outlet is DrumOutlet.PUMP:
        figures.append(
            Figure(
                "Pump starts in a week",
                Amount(run.starts, "plain"),
                Working(
                    "times the float reaches its upper level",
                    {
                        "float starts it at": Amount(system.pump_on_m3, "volume"),
                        "float stops it at": Amount(system.pump_off_m3, "volume"),
                        "pump": Amount(system.pump_m3_s, "flow"),
                    },
                    "Minute by minute",
                ),
            )
        )
    figures += [_soil_figure(bed, heaviest), _lint_figure(system, week)]
    return figures


def _soil_figure(bed: Bed, heaviest: float) -> Figure:
    soil = catalogue.find(catalogue.soils(), bed.soil)
    return Figure(
        "Ground it needs to soak in",
        Amount(greywater.soil_area(heaviest, soil.greywater_m_d), "area"),
        Working(
            "water of the heaviest day ÷ what the soil takes in a day",
            {
                "heaviest day": Amount(heaviest, "volume"),
                "the soil takes in a day": Amount(soil.greywater_m_d, "rain"),
                "this bed has": Amount(bed.area_m2, "area"),
            },
            soil.source,
        ),
    )


def _lint_figure(system: Greywater, week: float) -> Figure:
    days = 7 * system.lint_m3 / week if week > 0 else 0.0
    return Figure(
        "Clean the lint filter every",
        Amount.days(round(days)),
        Working(
            "water between cleanings ÷ water a week × 7",
            {
                "between cleanings": Amount(system.lint_m3, "volume"),
                "in a week": Amount(week, "volume"),
            },
            "Common practice; your own filter may say otherwise",
        ),
    )


def _verdict(system: Greywater, bed: Bed, rule: GreywaterRule, run: DrumRun) -> Verdict:
    total = sum(system.week_m3)
    amounts = {
        "week": Amount(total, "volume"),
        "lost": Amount.litres(float(run.overflow.sum())),
        "oldest": Amount.hours(run.oldest_hours),
        "need": Amount(max(system.week_m3) / _uptake(bed), "area"),
        "area": Amount(bed.area_m2, "area"),
    }
    if total <= 0:
        return Verdict(
            Mark.BUT,
            say(
                "catch-no-washing-water",
                "No water leads here yet: say the washdays or the showers.",
            ),
        )
    if not rule.is_allowed:
        return Verdict(
            Mark.FAILS,
            say("catch-greywater-not-allowed", "“{bed}” may not have greywater.", bed=bed.name),
            (
                words(rule.reason),
                say(
                    "catch-source-ask-local",
                    "Source: {source}. Ask your local code.",
                    source=rule.source,
                ),
            ),
        )
    reasons = []
    if float(run.overflow.sum()) > KEPT_BACK * _litres(total):
        reasons.append(
            say(
                "catch-drum-keep-week",
                "The drum does not keep up: {lost} a week run over into the sewer.",
                **amounts,
            )
        )
    if run.oldest_hours > MOST_HOURS:
        reasons.append(
            say(
                "catch-water-stands-drum",
                "Water stands in the drum for {oldest}; a day is the usual limit.",
                **amounts,
            )
        )
    if bed.area_m2 < amounts["need"].value:
        reasons.append(
            say(
                "catch-heaviest-day-needs",
                "The heaviest day needs {need} of such soil; the bed has {area}.",
                **amounts,
            )
        )
    allowed = say(
        "catch-allowed-here-ask",
        "Allowed here: {reason} Ask your local code first.",
        reason=rule.reason,
    )
    if reasons:
        return Verdict(
            Mark.BUT,
            say("catch-line-works-but", "The line works, but not on every count."),
            (*reasons, allowed),
            _cures(system),
        )
    return Verdict(
        Mark.WORKS,
        say(
            "catch-all-week-once",
            "“{bed}” can have all {week} a week, at once.",
            bed=bed.name,
            **amounts,
        ),
        (allowed,),
    )


def _uptake(bed: Bed) -> float:
    return catalogue.find(catalogue.soils(), bed.soil).greywater_m_d


def _cures(system: Greywater) -> tuple[Cure, ...]:
    """Changes that make the drum keep up, each run through the week again."""
    tried = []
    for factor in (1.5, 2.0, 3.0):
        wider = system.model_copy(update={"bore_m": system.bore_m * factor})
        if system.outlet is DrumOutlet.GRAVITY:
            tried.append(
                (
                    say(
                        "catch-wider-hose",
                        "A hose {bore} wide inside.",
                        bore=Amount(wider.bore_m, "bore"),
                    ),
                    wider,
                )
            )
        bigger = system.model_copy(update={"drum_m3": system.drum_m3 * factor})
        tried.append(
            (
                say(
                    "catch-larger-drum", "A drum of {drum}.", drum=Amount(bigger.drum_m3, "volume")
                ),
                bigger,
            )
        )
    if system.outlet is DrumOutlet.PUMP and system.pump_off_m3 > 0:
        tried.append(
            (
                say("catch-set-float-pump", "Set the float so that the pump empties the drum."),
                system.model_copy(update={"pump_off_m3": 0.0}),
            )
        )
    cures = []
    for change, other in tried:
        _, run = run_week(other)
        keeps_up = float(run.overflow.sum()) <= KEPT_BACK * _litres(sum(other.week_m3))
        if keeps_up and run.oldest_hours <= MOST_HOURS:
            cures.append(
                Cure(
                    change,
                    say(
                        "catch-runs-over-water",
                        "Nothing runs over, and no water is older than {oldest}.",
                        oldest=Amount.hours(run.oldest_hours),
                    ),
                )
            )
    return tuple(cures[:3])
