"""The smallest changes that would cure a group of stores, each run through the record again."""

from euhydra.garden.store_groups import Group, group_below
from euhydra.planner.store.figures import GroupSums
from euhydra.planner.water import zones

ENOUGH = 0.95
"""Share of the need that counts as enough. [-] Our choice."""

FEW_STORES = 6
"""Linked stores up to which more of the like come before one larger tank: each has a joint to keep tight.
Common practice."""

MOST_STORES = 20
"""Largest number of linked stores that is tried."""


def stranded(sums: GroupSums) -> list[Group]:
    """Groups that spill into this one and have no outlet of their own."""
    season = sums.season
    hosed = zones.sources_in_use(season.garden)
    return [
        other
        for other in season.groups
        if group_below(other, season.groups, season.garden.downspouts) is sums.group
        and not any(store.id in hosed for store in other.stores)
    ]
