"""Beds and pots that no line waters and somebody does by hand: what a visit takes, month by month."""

from dataclasses import dataclass
from math import ceil

import numpy as np

from euhydra.core.constants import LITRES_PER_CUBIC_METRE
from euhydra.garden.drinker import Drinker, HandTool
from euhydra.garden.part import Part
from euhydra.garden.sentences import Amount, Sentence, Value, say
from euhydra.garden.sources import Tap
from euhydra.garden.stores import Store
from euhydra.planner.answers import Figure, Mark, Verdict, Working
from euhydra.planner.catch import taps
from euhydra.planner.dates import MONTH_NAMES, in_season
from euhydra.planner.need.measure import own_measure
from euhydra.planner.season.fared import STRESS_HARMLESS, mark_of_dry
from euhydra.planner.season.replay import Season
from euhydra.planner.season.watering import HAND_EFFICIENCY
from euhydra.planner.season.works import CAN_FLOW


@dataclass(frozen=True)
class HandMonth:
    """What one visit of a month takes, on the mean.

    litres : Of a visit. [L]
    cans : Whole cans of that; None with a hose.
    minutes : At the pace of a can or the hose. [min]
    """

    month: int
    litres: float
    cans: int | None
    minutes: float

    @property
    def takes(self) -> Amount:
        """As a watch tells it: to half a minute, under one to five seconds."""
        if self.minutes < 1:
            return Amount(max(5.0, 5.0 * round(self.minutes * 12)), "seconds")
        return Amount.minutes(round(2 * self.minutes) / 2)


@dataclass(frozen=True)
class HandAnswer:
    """One bed or group of pots that has no line, and is watered by hand.

    beside : What else it gets: washing water.
    dry_days : Of a mean year, watered so. [d]
    """

    part: Drinker
    source: Store | Tap
    beside: tuple[Part, ...]
    months: tuple[HandMonth | None, ...]
    dry_days: float
    figures: tuple[Figure, ...]
    verdict: Verdict

    @property
    def season_months(self) -> list[HandMonth]:
        """Months with visits, in the order of the season."""
        found = (self.months[n] for n in in_season([m is not None for m in self.months]))
        return [month for month in found if month is not None]


def by_hand(season: Season) -> tuple[HandAnswer, ...]:
    """Every bed and group of pots that no line waters, and a hand does."""
    return tuple(
        _answer(season, i, order.hand)
        for i, order in enumerate(season.orders)
        if order.hand is not None and order.is_by_hand
    )


def _answer(season: Season, i: int, source: Store | Tap) -> HandAnswer:
    part, record = season.orders[i].part, season.record
    came = sum(season.run.given[i][:-1], np.zeros(len(record.days)))
    wanted = np.maximum(season.works.waterings[i].wanted - came, 0.0)
    flow = _flow(part, source)
    months: list[HandMonth | None] = []
    for month in range(1, 13):
        visits = wanted[(record.month == month) & (wanted > 0)]
        # A visit or two in all the years, on the edge of the season, are no month of watering.
        is_usual = len(visits) >= record.years
        litres = float(visits.mean()) if is_usual else 0.0
        months.append(_month(part, month, litres, flow) if is_usual else None)
    dry = float(season.beds[i].is_stressed.sum()) / record.years
    hardest = max((m for m in months if m), key=lambda m: m.litres, default=None)
    figures = _figures(part, source, hardest, flow) if hardest else ()
    verdict = _verdict(part, source, hardest, dry)
    beside = season.orders[i].sources
    return HandAnswer(part, source, beside, tuple(months), dry, figures, verdict)


def _flow(part: Drinker, source: Store | Tap) -> float:
    """What comes to the bed in an hour of work. [L h⁻¹]"""
    if part.hand_with is HandTool.HOSE and isinstance(source, Tap):
        return taps.usable_flow(source) * LITRES_PER_CUBIC_METRE * 3600
    return CAN_FLOW


def _month(part: Drinker, month: int, litres: float, flow: float) -> HandMonth:
    can = part.can_m3 * LITRES_PER_CUBIC_METRE
    cans = ceil(litres / can - 0.1) if part.hand_with is HandTool.CAN else None
    return HandMonth(month, litres, max(1, cans) if cans is not None else None, litres / flow * 60)


def _figures(
    part: Drinker, source: Store | Tap, hardest: HandMonth, flow: float
) -> tuple[Figure, ...]:
    month = MONTH_NAMES[hardest.month - 1]
    visit = Amount.litres(hardest.litres)
    figures = [
        Figure(
            f"A visit in {month}",
            visit,
            Working(
                "what the roots lack on the day of a visit × area ÷ share that they keep",
                {
                    "area": Amount(part.area_m2, "area"),
                    "days from visit to visit": Amount.days(part.by_hand_d),
                    "share that the roots keep": Amount(HAND_EFFICIENCY, "share"),
                },
                "Root zone: FAO-56 ch. 8; the share kept is common practice",
                (
                    "Mean of that month's visits in all years. A dry week takes more, a wet one none.",
                ),
            ),
        ),
        Figure(
            "It takes",
            hardest.takes,
            Working(
                "water of a visit ÷ what comes in a minute",
                {"water of a visit": visit, "comes in an hour": Amount.litres(flow)},
                "Common practice: a can a minute"
                if flow == CAN_FLOW
                else "Bucket and stopwatch, three quarters of it",
            ),
        ),
    ]
    if isinstance(source, Store):
        full = source.count * source.plan_m2 * (source.height_m - source.outlet_height_m)
        a_day = hardest.litres / part.by_hand_d
        figures.append(
            Figure(
                f"A full “{source.name}” lasts this bed",
                Amount.days(np.floor(full * LITRES_PER_CUBIC_METRE / a_day)),
                Working(
                    "water above the tap ÷ water a day",
                    {
                        "water above the tap": Amount(full, "volume"),
                        f"water a day in {month}": Amount.litres(a_day),
                    },
                    "Arithmetic",
                    ("Without rain, and with nothing else drawing from it.",),
                ),
            )
        )
    return tuple(figures)


def _verdict(part: Drinker, source: Store | Tap, hardest: HandMonth | None, dry: float) -> Verdict:
    if hardest is None:
        return Verdict(
            Mark.WORKS,
            say("hand-rain-carries", "“{part}” asks for nothing: rain carries it.", part=part.name),
        )
    values: dict[str, Value] = {
        "part": part.name,
        "source": source.name,
        "every": Amount.days(part.by_hand_d),
        "month": MONTH_NAMES[hardest.month - 1],
        "measure": _measure(part, hardest),
    }
    reasons = own_measure(part, hardest.month, hardest.litres / part.by_hand_d)
    if dry > STRESS_HARMLESS:
        return Verdict(
            mark_of_dry(dry),
            say(
                "hand-too-dry",
                "{measure} to “{part}” every {every} in {month}, and still too dry on {dry} of a mean year: "
                "water it oftener, or from more than “{source}”.",
                dry=Amount.days(round(dry)),
                **values,
            ),
            reasons,
        )
    return Verdict(
        Mark.WORKS,
        say(
            "hand-enough",
            "{measure} from “{source}” every {every} carry “{part}” through {month}.",
            **values,
        ),
        reasons,
    )


def _measure(part: Drinker, month: HandMonth) -> Sentence:
    """Water of a visit, in cans or by the hose."""
    litres = Amount.litres(month.litres)
    if month.cans is None:
        return say(
            "hand-measure-hose",
            "{minutes} of the hose ({litres})",
            minutes=month.takes,
            litres=litres,
        )
    can = Amount(part.can_m3, "volume")
    return say(
        "hand-measure-cans", "{cans} × {can} ({litres})", cans=month.cans, can=can, litres=litres
    )
