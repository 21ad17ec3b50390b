"""Which water a garden drinks: from stores or from elsewhere, and which stores run short."""

from euhydra.garden.drinker import Drinker
from euhydra.garden.model import Garden
from euhydra.garden.stores import Store
from euhydra.planner.answers import Gap
from euhydra.planner.catch.order import order_of
from euhydra.planner.chain import Chain
from euhydra.planner.store.answer import GroupAnswer
from euhydra.planner.store.cures import ENOUGH


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


def short_groups(chain: Chain) -> tuple[GroupAnswer, ...]:
    """Stores that give less than enough of what is asked of them."""
    if isinstance(chain.store, Gap):
        return ()
    return tuple(group for group in chain.store.groups if group.sums.carries < ENOUGH)
