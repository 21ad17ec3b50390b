"""What a cloudburst does to the stores: litres that have to go somewhere."""

from euhydra.core.constants import SECONDS_PER_HOUR
from euhydra.garden.model import Garden
from euhydra.garden.sentences import Amount
from euhydra.garden.store_groups import Group
from euhydra.planner.answers import Figure, Working
from euhydra.planner.catch import downpipes, spouts
from euhydra.planner.catch.spouts import Spout

DURATIONS_MIN = (10, 30, 60)
"""Cloudbursts that are looked at. [min]"""

FILLED_BEFORE = 0.5
"""Share of the store that is full when it breaks loose. [-] Our choice: neither luck nor spite."""

SECONDS_PER_MINUTE = 60.0


def storm_figures(garden: Garden, group: Group) -> tuple[Figure, ...]:
    """Litres that leave by the overflow in a cloudburst of 10, 30 and 60 minutes.

    The downspouts let through no more than they carry; what overshoots never reaches the store.
    None if no downspout leads there.
    """
    feeding = spouts.spouts_into(garden, {store.id for store in group.stores})
    return tuple(_figure(minutes, feeding, group) for minutes in DURATIONS_MIN) if feeding else ()


def _figure(minutes: int, feeding: list[Spout], group: Group) -> Figure:
    seconds = minutes * SECONDS_PER_MINUTE
    arriving = sum(_flow(spout) for spout in feeding) * seconds
    room = (1 - FILLED_BEFORE) * group.capacity_m3
    return Figure(
        f"Spills in {minutes} minutes of it",
        Amount(max(0.0, arriving - room), "volume"),
        Working(
            "what arrives − room left in the store",
            {
                "cloudburst, rain in an hour": Amount(
                    max(spout.downspout.cloudburst_m for spout in feeding), "rain"
                ),
                "plan area on its downspouts": Amount(
                    sum(spout.area_m2 for spout in feeding), "area"
                ),
                "the downspouts carry": Amount(sum(map(downpipes.carried_flow, feeding)), "flow"),
                "arrives": Amount(arriving, "volume"),
                "room left": Amount(room, "volume"),
                "water before it": Amount(FILLED_BEFORE * group.capacity_m3, "volume"),
            },
            f"Arithmetic; {downpipes.CAPACITY_SOURCE}; gutter: EN 12056-3, from memory",
            ("All of the rain runs off at once; the store is half full when it begins.",),
        ),
    )


def _flow(spout: Spout) -> float:
    """That reaches the store in the cloudburst. [m³ s⁻¹]"""
    falling = spout.area_m2 * spout.downspout.cloudburst_m / SECONDS_PER_HOUR
    return min(falling, downpipes.carried_flow(spout))
