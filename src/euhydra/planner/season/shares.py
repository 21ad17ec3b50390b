"""Who got which water, year in, year out: litres by bed and source, saved and spent."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from euhydra.core.constants import LITRES_PER_CUBIC_METRE
from euhydra.garden.part import Part
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.garden.sources import Greywater, Tap, TapKind
from euhydra.garden.stores import DESTINATIONS, DOWNSPOUT
from euhydra.planner.answers import Figure, Mark, Verdict, Working
from euhydra.planner.catch.order import SourceOrder
from euhydra.planner.season import fared, helping_hand
from euhydra.planner.season.replay import Season

Floats = NDArray[np.float64]

LITTLE = 0.5
"""Litres a year that are not worth a word. [L]"""

RUN_NOTE = (
    "A run is for what Need asks until the next, over what the worst-fed quarter keeps of its line; a pause for "
    "rain asks for nothing. A hand brings what the roots lack."
)
"""What a run, and a hand, is asked for."""

DESTINATION_NAMES = dict(
    zip(
        DESTINATIONS,
        ("over the ground", "into a rain garden", "into a drain", "down the downspout"),
        strict=True,
    )
)
"""Where an overflow runs, in words."""


@dataclass(frozen=True)
class Share:
    """One column of the balance: a source, and litres a year that a bed takes from it. [L a⁻¹]"""

    name: str
    kind: str
    litres: float


@dataclass(frozen=True)
class BedBalance:
    """One bed: its sources in order with what each gave, and what stayed unmet. [L a⁻¹]

    met : Share of the need that came, from all sources. [-]
    refused : Why a source may not be used here; empty if none.
    """

    name: str
    reason: str
    refused: str
    shares: tuple[Share, ...]
    wanted: float
    unmet: float
    met: Figure


@dataclass(frozen=True)
class BalanceAnswer:
    """All beds, all sources, in a mean year."""

    beds: tuple[BedBalance, ...]
    figures: tuple[Figure, ...]
    spills: tuple[Figure, ...]
    by_year: tuple[tuple[int, dict[str, float]], ...]
    verdict: Verdict


def answer_balance(season: Season) -> BalanceAnswer:
    """Litres by bed and source, from the mains, saved and paid; spill by where it goes."""
    beds = tuple(_bed(season, i) for i in range(len(season.ways)))
    tap = tap_litres(season)
    stored = stored_litres(season)
    grey = supply_litres(season, Greywater)
    figures = _figures(season, tap, stored, grey)
    verdict = _verdict(season, beds, tap, stored, grey)
    reasons = (
        *verdict.reasons,
        *helping_hand.unwatered(season),
        *(each.sentence for each in helping_hand.helps_of(season)),
        *_unjoined(season),
    )
    verdict = replace(verdict, reasons=reasons)
    return BalanceAnswer(beds, figures, _spills(season), _by_year(season), verdict)


def _unjoined(season: Season) -> list[Sentence]:
    """Sources that a bed names though nothing leads there."""
    return [
        say(
            "season-source-not-joined",
            "“{part}” names “{source}”, but no line leads from there to it: it gives nothing.",
            part=order.part.name,
            source=source.name,
        )
        for order in season.orders
        for source in order.unjoined
    ]


def kind_of(source: Part) -> str:
    """`store`, `tap` or `greywater`."""
    if isinstance(source, Tap):
        return "tap"
    return "greywater" if isinstance(source, Greywater) else "store"


def _bed(season: Season, bed: int) -> BedBalance:
    order, years = season.orders[bed], season.record.years
    asked, met = _washed(season, bed) if order.is_washed_only else _asked_for(season, bed)
    shares = tuple(
        Share(
            f"{part.name}, by hand" if i == order.hand_at else part.name,
            kind_of(part),
            float(flow.sum()) / years,
        )
        for i, (part, flow) in enumerate(zip(order.all, season.run.given[bed], strict=True))
    )
    refused = "; ".join(f"No “{grey.name}”: {rule.reason}" for grey, rule in order.refused)
    return BedBalance(
        order.part.name,
        order.reason,
        refused,
        shares,
        asked / years,
        (asked - met) / years,
        _met(order, asked / years, met / years, shares),
    )


def _asked_for(season: Season, bed: int) -> tuple[float, float]:
    """What all runs and visits are for, and what of it came. [L]"""
    wanted = season.works.waterings[bed].wanted
    met = float(np.minimum(season.run.supplied(bed), wanted).sum())
    return float(wanted.sum()), met


def _washed(season: Season, bed: int) -> tuple[float, float]:
    """What Need asks, and what of it the crop could drink: washing water comes when it comes, and runs for
    nothing. [L]
    """
    way, run = season.ways[bed], season.beds[bed]
    asked = way.need.year_litres * season.record.years
    undrunk = np.maximum(way.need.crop_et - run.transpired, 0.0).sum() * way.need.area_m2
    return asked, max(asked - float(undrunk), 0.0)


def _met(order: SourceOrder, asked: float, met: float, shares: Sequence[Share]) -> Figure:
    """Share of the need that came. Litres of a mean year."""
    if order.is_washed_only:
        formula = "1 − what the roots could not drink for dryness ÷ what Need asks"
        names = ("asked for by Need, a year", "of that, drunk or not needed, a year")
        notes = (
            order.reason,
            "Washing water comes when it comes: what is not needed then is kept by the soil.",
        )
    else:
        formula = (
            "water given, run by run up to what the run is for ÷ what all runs are for, all sources"
        )
        names = ("asked for by all runs, a year", "met, a year")
        notes = (order.reason, f"{RUN_NOTE} From a tap it is for all that it brings.")
    return Figure(
        f"{order.part.name}: share of need met",
        Amount(met / asked if asked > 0 else 1.0, "share"),
        Working(
            formula,
            {
                names[0]: Amount.litres(asked),
                names[1]: Amount.litres(met),
                **{f"from {share.name}": Amount.litres(share.litres) for share in shares},
            },
            "Daily balance of every store and source",
            notes,
        ),
    )


def _given_by(season: Season, kind: type[Part], what: TapKind | None = None) -> Floats:
    """Litres of each day that beds took straight from supplies of a kind."""
    total = np.zeros(len(season.record.days))
    for order, flows in zip(season.orders, season.run.given, strict=True):
        for part, flow in zip(order.all, flows, strict=True):
            if isinstance(part, kind) and (what is None or getattr(part, "kind", None) is what):
                total = total + flow
    return total


def tap_litres(season: Season) -> dict[str, Floats]:
    """Litres of each day by tap: straight to beds, and topped up into stores."""
    litres = {tap.id: np.zeros(len(season.record.days)) for tap in season.garden.taps}
    for order, flows in zip(season.orders, season.run.given, strict=True):
        for part, flow in zip(order.all, flows, strict=True):
            if isinstance(part, Tap):
                litres[part.id] = litres[part.id] + flow
    for top_up, flow in zip(season.works.top_ups, season.run.topped, strict=True):
        part = season.supplies[top_up.supply]
        litres[part.id] = litres[part.id] + flow
    return litres


def stored_litres(season: Season) -> Floats:
    """Litres of each day that lines drew from stores."""
    drawn = np.zeros(len(season.record.days))
    for tank in range(len(season.groups)):
        drawn = drawn + season.run.drawn_from(tank)
    return drawn


def supply_litres(season: Season, kind: type[Part]) -> Floats:
    """Litres of each day that beds took straight from supplies of a kind."""
    return _given_by(season, kind)


def _figures(
    season: Season, tap: dict[str, Floats], stored: Floats, grey: Floats
) -> tuple[Figure, ...]:
    years = season.record.years
    topped = sum((flow for flow in season.run.topped), np.zeros_like(stored))
    rain = float((stored - topped).sum()) / years
    used = {t.id: float(tap[t.id].sum()) / years for t in season.garden.taps}
    figures = [
        _volume(
            "Rain water used, a year",
            rain,
            "drawn from the stores − topped up into them",
            {
                "drawn, a year": _amount(float(stored.sum()) / years),
                "topped up, a year": _amount(float(topped.sum()) / years),
            },
        ),
    ]
    if season.garden.greywaters:
        figures.append(
            _volume(
                "Greywater used, a year",
                float(grey.sum()) / years,
                "greywater on washdays, up to what the bed can take",
                {"used, a year": _amount(float(grey.sum()) / years)},
            )
        )
    figures += [
        _volume(
            f"From {t.name}, a year",
            used[t.id],
            "straight to beds + topped up into stores",
            {"water a year": _amount(used[t.id])},
        )
        for t in season.garden.taps
    ]
    return (*figures, *_money(season, used, rain + float(grey.sum()) / years))


def _money(season: Season, used: dict[str, float], saved_litres: float) -> list[Figure]:
    priced = [tap for tap in season.garden.taps if tap.price_m3 is not None]
    if not priced:
        return []
    dearest = max(tap.price_m3 or 0.0 for tap in priced)
    spent = sum((tap.price_m3 or 0.0) * used[tap.id] / LITRES_PER_CUBIC_METRE for tap in priced)
    saved = dearest * saved_litres / LITRES_PER_CUBIC_METRE
    tariffs = {f"price of {tap.name}": Amount(tap.price_m3 or 0.0, "tariff") for tap in priced}
    return [
        Figure(
            "Tap water costs, a year",
            Amount(spent, "money"),
            Working(
                "water from each tap × its price",
                tariffs | {f"from {tap.name}": _amount(used[tap.id]) for tap in priced},
                "Your own tariff",
            ),
        ),
        Figure(
            "Saved from the tap, a year",
            Amount(saved, "money"),
            Working(
                "rain and greywater used × the price of tap water",
                tariffs | {"rain and greywater used": _amount(saved_litres)},
                "Your own tariff",
                ("As if the same water had come from the tap.",),
            ),
        ),
    ]


def _volume(label: str, litres: float, formula: str, inputs: dict[str, Amount]) -> Figure:
    source = "Daily balance of every store and source, mean of all years"
    return Figure(label, _amount(litres), Working(formula, inputs, source))


def _amount(litres: float) -> Amount:
    return Amount.litres(litres)


def _spills(season: Season) -> tuple[Figure, ...]:
    """Spill of a mean year by where it goes."""
    by_way: dict[str, float] = {}
    for tank, group in enumerate(season.groups):
        if season.works.tanks[tank].spills_to is None:
            litres = float(season.run.spill[tank].sum()) / season.record.years
            way = group.overflow_to if group.overflow_to in DESTINATIONS else DOWNSPOUT
            by_way[way] = by_way.get(way, 0.0) + litres
    return tuple(
        _volume(
            f"Spills {DESTINATION_NAMES[way]}, a year",
            litres,
            "what arrives in full stores whose overflow runs there",
            {"water a year": _amount(litres)},
        )
        for way, litres in by_way.items()
    )


def _by_year(season: Season) -> tuple[tuple[int, dict[str, float]], ...]:
    """Litres of every calendar year by source."""
    taps = tap_litres(season)
    daily = {
        "rain": stored_litres(season),
        "greywater": supply_litres(season, Greywater),
        "tap": np.zeros(len(season.record.days)) + sum(taps.values()),
    }
    year = season.record.year
    return tuple(
        (y, {name: float(litres[year == y].sum()) for name, litres in daily.items()})
        for y in np.unique(year).tolist()
    )


def _verdict(
    season: Season,
    beds: tuple[BedBalance, ...],
    tap: dict[str, Floats],
    stored: Floats,
    grey: Floats,
) -> Verdict:
    wanted = sum(bed.wanted for bed in beds)
    if wanted <= 0:
        return Verdict(
            Mark.BUT, say("season-bed-asks-water", "No bed asks for water in this weather.")
        )
    unmet = sum(bed.unmet for bed in beds)
    from_tap = float(sum(flow.sum() for flow in tap.values()))
    all_litres = float(stored.sum()) + float(grey.sum()) + from_tap
    amounts = {
        "met": Amount(1 - unmet / wanted, "share"),
        "tap": Amount(from_tap / all_litres if all_litres > 0 else 0.0, "share"),
    }
    thirstiest = max(beds, key=lambda bed: bed.unmet)
    if unmet > 0.05 * wanted:
        return Verdict(
            fared.mark_of_dry(fared.most_dry_days(season, fared.lived_of(season))),
            say(
                "season-all-sources-together",
                "All sources together meet {met} of the need; “{thirstiest}” lacks most.",
                thirstiest=thirstiest.name,
                **amounts,
            ),
        )
    if from_tap > 0:
        return Verdict(
            Mark.WORKS,
            say(
                "season-bed-served-water",
                "Every bed is served; {tap} of the water is the tap's.",
                **amounts,
            ),
        )
    return Verdict(
        Mark.WORKS, say("season-bed-served-without", "Every bed is served without the tap.")
    )
