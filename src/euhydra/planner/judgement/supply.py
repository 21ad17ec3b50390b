"""Which water a garden drinks: from stores or from elsewhere, which stores run short, and how much that weighs."""

from euhydra.core.programme import STRESSED_DAYS
from euhydra.garden.drinker import Drinker
from euhydra.garden.model import Garden
from euhydra.garden.stores import Store
from euhydra.planner.answers import Gap, Mark
from euhydra.planner.catch.order import order_of
from euhydra.planner.chain import Chain
from euhydra.planner.judgement.finding import Severity
from euhydra.planner.season.fared import STRESS_HARMLESS, mark_of_dry, most_dry_days
from euhydra.planner.store.answer import GroupAnswer
from euhydra.planner.store.cures import ENOUGH
from euhydra.planner.time.answer import LivedBed

OF_THIRST = {
    "catch-roofs-too-small",
    "catch-washing-too-little",
    "store-water-too-low",
    "store-only-spills-over",
    "store-too-small",
    "store-too-little-comes",
    "time-no-setting-does",
    "time-run-over-window",
    "time-source-gives-too-little",
    "time-water-stand-run",
    "hand-too-dry",
    "hand-opens-too-seldom",
}
"""The findings that weigh by how often the driest bed is too dry."""


def stores_in_use(garden: Garden) -> set[str]:
    """Ids of stores that something drinks from, or that feed a store that it does."""
    return {
        source.id
        for part in garden.planted
        for source in order_of(garden, part).all
        if isinstance(source, Store)
    }


def drinks_from_stores(garden: Garden) -> bool:
    """Whether anything drinks from a store; or may come to, since no other water is there."""
    return bool(stores_in_use(garden)) or (bool(garden.stores) and not garden.taps)


def drinks_only_rain(garden: Garden, part: Drinker) -> bool:
    """Whether stores that no tap tops up are all that a bed or pots have."""
    sources = order_of(garden, part).all
    return bool(sources) and all(
        isinstance(source, Store) and source.topped_by is None for source in sources
    )


def is_too_dry(bed: LivedBed) -> bool:
    """Whether it is too dry for more days than it forgives, and than settings promise."""
    return bed.dry_days > STRESS_HARMLESS and bed.dry_share > STRESSED_DAYS


def weight_of_dry(days: float) -> Severity:
    """How much it weighs that a bed is too dry for so long in a mean year, as every page marks it.

    Parameters
    ----------
    days : [d]
    """
    is_grave = mark_of_dry(days) is Mark.FAILS
    return Severity.CANNOT_WORK if is_grave else Severity.PLANTS_SUFFER


def weight_of_short(answer: GroupAnswer) -> Severity:
    """How much it weighs that a store runs short: by the driest of the beds that it feeds."""
    return weight_of_dry(most_dry_days(answer.season, answer.waters))


def short_groups(chain: Chain) -> tuple[GroupAnswer, ...]:
    """Stores that give less than enough of what is asked of them."""
    if isinstance(chain.store, Gap):
        return ()
    return tuple(group for group in chain.store.groups if group.sums.carries < ENOUGH)
