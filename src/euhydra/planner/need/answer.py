"""Need: what a bed drinks, month by month, beside the rule that gardeners know."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from euhydra.core import weather
from euhydra.core.constants import LITRES_PER_CUBIC_METRE
from euhydra.garden.model import Garden
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.answers import Figure, Mark, Verdict, Working
from euhydra.planner.dates import MONTH_NAMES, in_season
from euhydra.planner.need import savings, seasonable
from euhydra.planner.need.daily import TRIFLE, Need
from euhydra.planner.need.lifting import Lifting, lifting_of
from euhydra.planner.need.measure import own_measure
from euhydra.planner.need.savings import Saving

Floats = NDArray[np.float64]

INCH = 25.4
"""[mm]"""

DAYS_A_WEEK = 7.0

MISLEADS = 0.25
"""Share by which the rule may miss before it is said to mislead. [-] Our choice."""

POLAR_CIRCLE = 66.5
"""[°]"""

POLAR = say(
    "need-garden-lies-beyond",
    "Your garden lies beyond a polar circle, where on some days the sun does not rise or "
    "set: what grass drinks cannot be told from temperatures there. Check the latitude on "
    "Place, or bring weather that has it, or sun, wind and humidity.",
)

WHOLE = 0.95
"""Share of a bed wetted from which on nothing is said of it. [-] Our choice."""

SOURCE = "FAO-56 (1998) ch. 6 and 8: Kc over the stages, root-zone balance"


@dataclass(frozen=True)
class MonthNeed:
    """One month of a bed: what it drinks, what has to be given, cans, and what the rule says.

    Litres are of a mean day in season; None out of season.
    """

    month: int
    drinks: Figure | None
    given: Figure | None
    cans: float
    rule: float


@dataclass(frozen=True)
class NeedAnswer:
    """What a bed or group of pots needs through the year.

    figures : The peak, the year, the rule.
    grass : Reference evapotranspiration by each way that the record allows.
    lifting : How water rises from below; None where none stands under the plants.
    """

    need: Need
    months: tuple[MonthNeed, ...]
    figures: tuple[Figure, ...]
    grass: tuple[Figure, ...]
    savings: tuple[Saving, ...]
    lifting: Lifting | None
    verdict: Verdict

    @property
    def season_months(self) -> list[MonthNeed]:
        """Months in which it drinks, in the order of the season."""
        return [self.months[n] for n in in_season([m.given is not None for m in self.months])]

    @property
    def peak(self) -> MonthNeed:
        """The month in which most has to be given."""
        return max(self.months, key=lambda m: m.given.amount.value if m.given else 0.0)


@dataclass(frozen=True)
class Peak:
    """A bed or group of pots in the month in which most has to be given; litres of a day, cans."""

    name: str
    month: int
    litres: Figure
    cans: float
    year: Figure


def peaks_of(needs: Sequence[Need]) -> tuple[Peak, ...]:
    """Every bed and group of pots at its peak, the thirstiest first."""
    found = []
    for need in needs:
        months = [_month(need, month) for month in range(1, 13)]
        peak = max(months, key=lambda m: m.given.amount.value if m.given else 0.0)
        if peak.given is not None:
            found.append(Peak(need.part.name, peak.month, peak.given, peak.cans, _year(need)))
    return tuple(sorted(found, key=lambda peak: -peak.cans))


def answer_need(need: Need, garden: Garden) -> NeedAnswer:
    """Litres and cans a day by month, the peak, the inch a week beside them, and what would save."""
    months = tuple(_month(need, month) for month in range(1, 13))
    lifting = lifting_of(need, garden)
    return NeedAnswer(
        need,
        months,
        _figures(need, months),
        tuple(_et0_figures(need, garden)),
        savings.savings_of(need, garden, need.record),
        lifting,
        _with_lifting(_with_season(_verdict(need, months, garden), need, garden), lifting),
    )


def _with_season(verdict: Verdict, need: Need, garden: Garden) -> Verdict:
    """A crop out of its season is told first; what winter wants, last."""
    out = seasonable.out_of_season(need, garden)
    mark = Mark.BUT if out else verdict.mark
    winter = () if out else seasonable.in_winter(need)
    reasons = (*out, *_wetted(need), *verdict.reasons, *winter)
    return replace(verdict, mark=mark, reasons=reasons)


def _wetted(need: Need) -> tuple[Sentence, ...]:
    """That its lines wet part of it only, and why a line gives more than is asked here."""
    if need.wetted >= WHOLE:
        return ()
    return (
        say(
            "need-held-where-wetted",
            "Its lines wet {wetted} of the ground: in dry weeks only there is water held for the roots, so it is "
            "asked for sooner. What a line has to give is a little more than stands here, for no line waters evenly:"
            " Settings and Store count that in.",
            wetted=Amount(need.wetted, "share"),
        ),
    )


def _with_lifting(verdict: Verdict, lifting: Lifting | None) -> Verdict:
    """Water that does not rise to the plants is told before anything else about it."""
    if lifting is None or lifting.verdict.mark is Mark.WORKS:
        return verdict
    reasons = (lifting.verdict.summary, *verdict.reasons)
    return Verdict(lifting.verdict.mark, verdict.summary, reasons)


def _month(need: Need, month: int) -> MonthNeed:
    if need.growing_days[month - 1] <= 0:
        return MonthNeed(month, None, None, 0.0, 0.0)
    area = need.area_m2
    factors = {
        "short grass drinks ET0": Amount.millimetres(float(need.et0_a_day[month - 1])),
        "place: sun, wind, pot": Amount(need.place_factor, "plain"),
        "crop over grass, mean": Amount(_kc(need, month), "plain"),
    }
    drinks = float(need.crop_et_a_day[month - 1])
    net = float(need.net_a_day[month - 1])
    inputs = {
        "crop's drinking ETc": Amount.millimetres(drinks),
        area_of(need): Amount(area, "area"),
    }
    watering = {"net watering, after rain and soil": Amount.millimetres(net)}
    return MonthNeed(
        month,
        Figure(
            "Drinks a day",
            _litres(drinks * area),
            Working("ETc × area, where ETc = ET0 × place × Kc", factors | inputs, SOURCE),
        ),
        Figure(
            "To be given a day",
            _litres(net * area),
            Working(
                "net watering × area",
                inputs | watering,
                SOURCE,
                (
                    "What just keeps the crop out of stress, mean of the days in season over the record.",
                ),
            ),
        ),
        net * area / _can(need),
        INCH / DAYS_A_WEEK * area,
    )


def _can(need: Need) -> float:
    """[L]"""
    return need.part.can_m3 * LITRES_PER_CUBIC_METRE


def _kc(need: Need, month: int) -> float:
    """Crop coefficient of a month, mulch and spacing in it. [-]"""
    grass = float(need.et0_a_day[month - 1]) * need.place_factor
    return float(need.crop_et_a_day[month - 1]) / grass if grass > 0 else 0.0


def area_of(need: Need) -> str:
    """What its depths are spread over."""
    return need.part.area_words


def _litres(litres: float) -> Amount:
    return Amount.litres(litres)


def _figures(need: Need, months: tuple[MonthNeed, ...]) -> tuple[Figure, ...]:
    peak = max(months, key=lambda m: m.given.amount.value if m.given else 0.0)
    figures = []
    if peak.given is not None:
        month = MONTH_NAMES[peak.month - 1]
        figures.append(Figure(f"{month}, a day", peak.given.amount, peak.given.working))
        figures.append(
            Figure(
                "in watering cans",
                Amount.cans(peak.cans),
                Working(
                    "water a day ÷ can",
                    {"a day": peak.given.amount, "can": _litres(_can(need))},
                    "The can that you water with",
                ),
            )
        )
    figures.append(
        Figure(
            "A hot day, drinks",
            _litres(need.hot_day_litres),
            Working(
                "ETc × area on a day that nineteen in twenty of the season stay under",
                {area_of(need): Amount(need.area_m2, "area")},
                SOURCE,
            ),
        )
    )
    figures.append(_year(need))
    figures.append(
        Figure(
            "An inch a week would be",
            _litres(INCH / DAYS_A_WEEK * need.area_m2),
            Working(
                "an inch ÷ 7 × area, a day",
                {area_of(need): Amount(need.area_m2, "area")},
                "Common practice",
                ("The rule counts rain and can together, all season, for any crop and any soil.",),
            ),
        )
    )
    return tuple(figures)


def _year(need: Need) -> Figure:
    inputs = {area_of(need): Amount(need.area_m2, "area")}
    working = Working("net watering of all days × area", inputs, SOURCE)
    return Figure("A mean year", _litres(need.year_litres), working)


def _et0_figures(need: Need, garden: Garden) -> list[Figure]:
    """Reference evapotranspiration of a mean year, by each way that the record allows."""
    record, place = need.record, garden.place
    ways = (
        ("as in the record", record.et0, "The record's own"),
        (
            "by Penman–Monteith",
            weather.penman_monteith(record, place.latitude_deg, place.elevation_m),
            "FAO-56 eq. 6",
        ),
        ("by Hargreaves–Samani", weather.hargreaves(record, place.latitude_deg), "FAO-56 eq. 52"),
    )
    figures = []
    for words, et0, source in ways:
        if np.isnan(et0).all():
            continue
        a_year = float(np.nanmean(et0)) * 365.25
        inputs = {"mean of a day": Amount.millimetres(float(np.nanmean(et0)))}
        figures.append(
            Figure(
                f"Short grass drinks a year, {words}",
                Amount.millimetres(a_year),
                Working(
                    "mean of the days × 365.25",
                    inputs,
                    source,
                    ("The ways may differ by 15 % a year; the first shown is used.",),
                ),
            )
        )
    return figures


def _verdict(need: Need, months: tuple[MonthNeed, ...], garden: Garden) -> Verdict:
    trifle = TRIFLE * need.area_m2 / LITRES_PER_CUBIC_METRE
    thirsty = [m for m in months if m.given is not None and m.given.amount.value > trifle]
    name = need.part.name
    if not thirsty:
        return Verdict(
            Mark.WORKS,
            say(
                "need-rain-soil-carry",
                "Rain and soil carry “{name}” through a mean year.",
                name=name,
            ),
        )
    peak = max(thirsty, key=lambda m: m.given.amount.value if m.given else 0.0)
    assert peak.given is not None
    summary = say(
        "need-asks-day-cans",
        "“{name}” asks for {litres} a day in {month}, {cans} cans.",
        name=name,
        month=MONTH_NAMES[peak.month - 1],
        cans=f"{peak.cans:.1f}",
        litres=Amount(peak.given.amount.value, "volume"),
    )
    mark, summary, reasons = _against_rule(thirsty, summary)
    asked = peak.given.amount.value * LITRES_PER_CUBIC_METRE
    reasons = (*own_measure(need.part, peak.month, asked), *reasons)
    polar = abs(garden.place.latitude_deg) > POLAR_CIRCLE
    if polar and np.isnan(need.record.et0).all():
        reasons = (POLAR, *reasons)
    return Verdict(mark, summary, reasons)


def _against_rule(
    thirsty: list[MonthNeed], summary: Sentence
) -> tuple[Mark, Sentence, tuple[Sentence, ...]]:
    """Where an inch a week would mislead, and by how much."""
    off = {
        m.month: m.rule / (m.given.amount.value * LITRES_PER_CUBIC_METRE) - 1
        for m in thirsty
        if m.given is not None
    }
    most, least = max(off, key=lambda m: off[m]), min(off, key=lambda m: off[m])
    reasons = []
    if off[most] > MISLEADS:
        reasons.append(
            say(
                "need-inch-week-times",
                "An inch a week would be {times} times that in {month}: the crop is young or fading, "
                "and rain and soil carry part of it.",
                times=f"{off[most] + 1:.1f}",
                month=MONTH_NAMES[most - 1],
            )
        )
    if off[least] < -MISLEADS:
        reasons.append(
            say(
                "need-inch-week-leave",
                "An inch a week would leave {short} of it unmet in {month}: the rule knows no heat.",
                month=MONTH_NAMES[least - 1],
                short=Amount(-off[least], "share"),
            )
        )
    if not reasons:
        reasons.append(say("need-inch-week-comes", "An inch a week comes near it, all season."))
    return Mark.WORKS, summary, tuple(reasons)
