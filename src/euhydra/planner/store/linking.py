"""What joins stores with each other: links at the bottom, siphons over the rims, pipes from overflow to inlet."""

from collections.abc import Iterator
from dataclasses import dataclass
from math import hypot, pi, sqrt

from euhydra.garden import shapes
from euhydra.garden.model import Garden
from euhydra.garden.roofs import Downspout
from euhydra.garden.stores import LinkKind, Store

FOOT = 0.05
"""Height of a siphon's end over the bottom, in its cup. [m] Common practice: clear of the mud."""

OVER_RIM = 0.1
"""Hose in the bend over a rim. [m] Our choice."""

SLACK = 0.3
"""Pipe more than the straight way to another store, for bends and the inlet. [m] Our choice."""


@dataclass(frozen=True)
class StoreLink:
    """Two stores of one level.

    hose_m : Of the siphon, from end to end; 0 for a pipe at the bottom. [m]
    foot_m : Height of the higher of its ends, below which the water must not fall. [m]
    """

    store: Store
    other: Store
    is_siphon: bool
    hose_m: float
    foot_m: float


def links_of(garden: Garden) -> Iterator[StoreLink]:
    """Every link: between those alike of one store, and from one store to another."""
    stores = {store.id: store for store in garden.stores}
    for store in garden.stores:
        for _ in range(store.count - 1):
            yield _link(store, store, _width(store) * 0.1)
        if store.linked_to is not None:
            other = stores[store.linked_to]
            yield _link(store, other, _apart(store, other))


def _link(store: Store, other: Store, apart: float) -> StoreLink:
    is_siphon = store.link_by is LinkKind.SIPHON
    legs = sum(each.top_m - FOOT + OVER_RIM for each in (store, other))
    fall = abs(store.rim_height_m - other.rim_height_m)
    foot = max(store.base_m, other.base_m) + FOOT
    return StoreLink(store, other, is_siphon, legs + hypot(apart, fall) if is_siphon else 0.0, foot)


def overflow_pipe_m(garden: Garden, store: Store) -> float:
    """Pipe from a store's overflow to the inlet of the store that it spills to; 0 where it spills to none. [m]"""
    other = next((each for each in garden.stores if each.id == store.overflow_to), None)
    if other is None:
        return 0.0
    return hypot(_apart(store, other), store.overflow_m - other.rim_height_m) + SLACK


def spout_pipe_m(garden: Garden, spout: Downspout, store: Store) -> float:
    """Pipe under the ground from a downspout's foot to the inlet of a store that lies there. [m]"""
    roof = next(each for each in garden.roofs if each.id == spout.roof_id)
    across = shapes.of_roof(roof).distance(shapes.of_store(store)[0])
    return float(across) + store.sunk_m - store.height_m + SLACK


def _apart(store: Store, other: Store) -> float:
    """From wall to wall on the plan. [m]"""
    middles = hypot(store.at.x_m - other.at.x_m, store.at.y_m - other.at.y_m)
    return max(0.0, middles - (_width(store) + _width(other)) / 2)


def _width(store: Store) -> float:
    return store.across_m if store.across_m is not None else 2 * sqrt(store.plan_m2 / pi)
