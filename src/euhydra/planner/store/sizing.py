"""How big the store has to be: the same season through sixty sizes."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from euhydra.core.constants import LITRES_PER_CUBIC_METRE
from euhydra.core.sizing import knee_of
from euhydra.core.store import LEVEL_DUST, StoreRun
from euhydra.core.weather import MONTHS
from euhydra.garden.sentences import Amount
from euhydra.garden.store_groups import Group
from euhydra.planner.answers import Figure, Working
from euhydra.planner.dates import MONTH_NAMES
from euhydra.planner.season.replay import Season
from euhydra.planner.season.watering import Watered

Floats = NDArray[np.float64]

SIZES = 60
"""Sizes that are tried."""

SMALLEST = 50.0
"""Smallest store tried. [L]"""

DRY_WEEKS = 6
"""Weeks without rain that a tank is often sized for. Common practice."""

BAND = (10, 90)
"""Percentiles over the years between which the band is drawn."""


@dataclass(frozen=True)
class HardestMonth:
    """Month with the greatest need of some beds together, and that need of a day. [L d⁻¹]"""

    month: int
    litres_a_day: float


@dataclass(frozen=True)
class SizeCurve:
    """What each size would have done through the record. Arrays are as long as `volume`.

    volume : Rising; all as deep as the present store, only wider. [L]
    met : Share of need met over the whole record. [-]
    low, high : 10th and 90th percentile of the years' shares. [-]
    dry_days : Mean days of a season that end with nothing that would come out. [d]
    spill : Mean of a year. [L]
    present : Volume of the store as it is. [L]
    price : Mean price of a litre of storage; None where it is not said. [L⁻¹]
    """

    volume: Floats
    met: Floats
    low: Floats
    high: Floats
    dry_days: Floats
    spill: Floats
    present: float
    price: float | None

    @cached_property
    def knee(self) -> int:
        """Position after which more storage buys little."""
        return knee_of(self.volume, self.met)


def size_curve(group: Group, tank: int, season: Season, hardest: HardestMonth | None) -> SizeCurve:
    """The group's season through sixty sizes, from a small barrel to beyond six dry weeks."""
    present = group.capacity_m3 * LITRES_PER_CUBIC_METRE
    dead = season.run.tank_run(tank).dead
    weeks = six_weeks_volume(group, dead, hardest) if hardest else 0.0
    largest = max(4 * present, 1.5 * weeks, 40 * SMALLEST)
    volumes = np.linspace(SMALLEST, largest, SIZES)
    volumes[np.argmin(np.abs(volumes - present))] = present
    run = season.with_widths(tank, volumes / present)
    years = season.record.year - season.record.year[0]
    low, high = _band(run, years)
    length = season.record.years
    is_dry = is_empty(run, volumes / present) & season.is_growing[:, None]
    return SizeCurve(
        volumes,
        reliabilities(run),
        low,
        high,
        is_dry.sum(axis=0) / length,
        run.spill.sum(axis=0) / length,
        present,
        _price_of_a_litre(group),
    )


def reliabilities(run: StoreRun) -> Floats:
    """Share of need met by each width of a run. [-]"""
    asked = float(run.demand.sum())
    met = np.minimum(run.supplied, run.demand[:, None]).sum(axis=0)
    return met / asked if asked > 0 else np.ones(run.supplied.shape[1])


def is_empty(run: StoreRun, widths: Floats) -> NDArray[np.bool_]:
    """Days that end with nothing that would come out, by width."""
    return np.asarray(run.level <= run.dead * widths + LEVEL_DUST)


def _band(run: StoreRun, years: NDArray[np.intp]) -> tuple[Floats, Floats]:
    """Low and high percentile of the years' shares, by width. [-]"""
    firsts = np.flatnonzero(np.diff(years, prepend=-1))
    asked = np.add.reduceat(run.demand, firsts)
    met = np.add.reduceat(np.minimum(run.supplied, run.demand[:, None]), firsts, axis=0)
    if not (asked > 0).any():
        ones = np.ones(run.supplied.shape[1])
        return ones, ones
    shares = met[asked > 0] / asked[asked > 0][:, None]
    low, high = np.percentile(shares, BAND, axis=0)
    return np.asarray(low), np.asarray(high)


def _price_of_a_litre(group: Group) -> float | None:
    """Mean price of a litre of storage, where every store has a price. [1 L⁻¹]"""
    prices = [store.price for store in group.stores]
    if any(price is None for price in prices):
        return None
    total = sum(s.count * (s.price or 0.0) for s in group.stores)
    return total / (group.capacity_m3 * LITRES_PER_CUBIC_METRE)


def six_weeks_volume(group: Group, dead: float, hardest: HardestMonth) -> float:
    """Volume that holds six weeks of need above its dead water. [L]

    Parameters
    ----------
    dead : Dead water of the present size. [L]
    """
    drawable = 1 - dead / (group.capacity_m3 * LITRES_PER_CUBIC_METRE)
    return DRY_WEEKS * 7 * hardest.litres_a_day / drawable


def hardest_month(ways: Sequence[Watered]) -> HardestMonth | None:
    """Month with the greatest need of a day; None if there is none."""
    need = np.zeros(MONTHS)
    for way in ways:
        need += way.need.net_a_day * way.need.area_m2 / way.efficiency
    month = int(np.argmax(need))
    return HardestMonth(month + 1, float(need[month])) if need[month] > 0 else None


def lasting_figures(group: Group, dead: float, hardest: HardestMonth) -> tuple[Figure, ...]:
    """How long a full store lasts without rain, and what six dry weeks would take.

    Parameters
    ----------
    dead : Dead water. [L]
    """
    capacity = group.capacity_m3 * LITRES_PER_CUBIC_METRE
    days = (capacity - dead) / hardest.litres_a_day
    month = MONTH_NAMES[hardest.month - 1]
    need = Amount.litres(hardest.litres_a_day)
    return (
        Figure(
            f"From full, no rain, {month}'s need: lasts",
            Amount.days(round(days)),
            Working(
                "water that comes out ÷ gross need of a day",
                {
                    "water that comes out": Amount.litres(capacity - dead),
                    f"gross need of a day in {month}": need,
                },
                "Arithmetic",
                (
                    "Gross: Need's water over what the worst-fed quarter of plants keeps of its line.",
                    "Rounded to whole days.",
                ),
            ),
        ),
        Figure(
            f"For {DRY_WEEKS} dry weeks it takes",
            Amount.litres(six_weeks_volume(group, dead, hardest)),
            Working(
                "42 days × gross need of a day ÷ share of the store that comes out",
                {
                    f"gross need of a day in {month}": need,
                    "share that comes out": Amount(1 - dead / capacity, "share"),
                },
                "Six dry weeks: common practice",
                ("A store as deep as this one, only wider; full when the rain stops.",),
            ),
        ),
    )
