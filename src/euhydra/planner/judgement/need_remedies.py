"""What may cure a crop out of its season, or one that its water does not reach: another date, another mix."""

from collections.abc import Iterator
from datetime import date

from euhydra.garden import catalogue, edits
from euhydra.garden.drinker import Drinker
from euhydra.garden.pots import Pots
from euhydra.garden.sentences import Amount, lowered, say
from euhydra.planner.dates import day_in_words
from euhydra.planner.judgement.remedy import Case, Remedies, Remedy
from euhydra.planner.judgement.thirst_remedies import collection_of
from euhydra.planner.need import seasonable
from euhydra.planner.need.daily import Need

WICK_STEPS = (1.25, 1.5, 2.0, 3.0)
"""Times as wide that a wick is tried. [-]"""


def another_date(case: Case) -> Iterator[Remedy]:
    """The nearest date on which it would be in its season."""
    part = case.part(Drinker)
    plant = next((p for p in case.chain.planted if p.part.id == getattr(part, "id", "")), None)
    if plant is None or not isinstance(plant.need, Need):
        return
    for each, day in seasonable.dates_that_would_do(plant.need, case.garden):
        words = say(
            "cure-another-date",
            "Plant “{crop}” on {day}.",
            crop=each.crop.name,
            day=day_in_words(date(2023, day.month, day.day)),
        )
        if plant.part.crop == each.crop.id or len(plant.need.crops) == 1:
            moved = plant.part.model_copy(update={"planting": day})
            yield Remedy(words, edits.put(case.garden, collection_of(moved), moved))
        for planting in case.garden.plantings:
            if planting.bed_id == plant.part.id and planting.crop == each.crop.id:
                later = planting.model_copy(update={"planting": day})
                yield Remedy(words, edits.put(case.garden, "plantings", later))


def thicker_wick(case: Case) -> Iterator[Remedy]:
    """A wick that brings a hot day's drink."""
    pots = case.part(Pots)
    if not isinstance(pots, Pots) or pots.wick_across_m <= 0:
        return
    for factor in WICK_STEPS:
        wide = min(pots.wick_across_m * factor, 0.3)
        yield Remedy(
            say("cure-thicker-wick", "A wick {across} across.", across=Amount(wide, "height")),
            edits.put(case.garden, "pots", pots.model_copy(update={"wick_across_m": wide})),
        )


def other_mix(case: Case) -> Iterator[Remedy]:
    """A filling that lifts water higher."""
    pots = case.part(Pots)
    if not isinstance(pots, Pots):
        return
    for soil in catalogue.soils().values():
        if soil.id.endswith("-mix") and soil.id != pots.soil:
            yield Remedy(
                say(
                    "cure-other-mix",
                    "Fill “{pots}” with {mix}.",
                    pots=pots.name,
                    mix=lowered(soil.name),
                ),
                edits.put(case.garden, "pots", pots.model_copy(update={"soil": soil.id})),
            )


def less_mix(case: Case) -> Iterator[Remedy]:
    """No more mix over the water than it lifts it through."""
    pots = case.part(Pots)
    if not isinstance(pots, Pots) or pots.depth_m is None:
        return
    for share in (0.9, 0.8, 0.7, 0.6, 0.5, 0.4, 0.3):
        low = round(pots.depth_m * share, 2)
        yield Remedy(
            say(
                "cure-less-mix",
                "Fill “{pots}” no more than {depth} deep.",
                pots=pots.name,
                depth=Amount(low, "height"),
            ),
            edits.put(case.garden, "pots", pots.model_copy(update={"depth_m": low})),
        )


NEED_REMEDIES: dict[str, tuple[Remedies, ...]] = {
    "need-planted-into-frost": (another_date,),
    "need-harvest-into-frost": (another_date,),
    "need-too-cold-for-it": (another_date,),
    "need-too-hot-for-it": (another_date,),
    "need-wick-too-thin": (thicker_wick,),
    "need-mix-too-tall": (other_mix, less_mix),
}
