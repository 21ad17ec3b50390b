"""What each downspout brings: its own share of a roof, and what joins it."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from euhydra.core import catchment
from euhydra.core.constants import LITRES_PER_CUBIC_METRE
from euhydra.core.weather import DailyWeather
from euhydra.garden import catalogue
from euhydra.garden.model import Garden
from euhydra.garden.roofs import Downspout, Roof
from euhydra.planner.same import Asked, by_itself, kept

Floats = NDArray[np.float64]

SPOUTS_KEPT = 64
"""Downspouts of which it is kept what they bring on each day."""


def runoff_coefficient(roof: Roof) -> float:
    """Share of the rain that comes down: the owner's own figure, else the covering's. [-]"""
    if roof.runoff_coefficient is not None:
        return roof.runoff_coefficient
    return catalogue.find(catalogue.roof_materials(), roof.material).runoff_coefficient


def share_lost(spout: Downspout) -> float:
    """Share of the water that the leaf guard loses. [-]"""
    return catalogue.find(catalogue.leaf_guards(), spout.guard).share_lost


@dataclass(frozen=True)
class Spout:
    """A downspout with its roof and those that join it."""

    downspout: Downspout
    roof: Roof
    joining: tuple["Spout", ...]

    @property
    def own_area_m2(self) -> float:
        """Plan area of its own roof that drains to it. [m²]"""
        return self.roof.plan_area_m2 * self.downspout.share

    @property
    def own_catch_m2(self) -> float:
        """Area that would bring as much if every drop came down and through. [m²]"""
        kept = runoff_coefficient(self.roof) * (1 - share_lost(self.downspout))
        return self.own_area_m2 * kept

    @property
    def area_m2(self) -> float:
        """Plan area of all roofs whose water runs through it. [m²]"""
        return self.own_area_m2 + sum(spout.area_m2 for spout in self.joining)

    @property
    def catch_m2(self) -> float:
        """As `own_catch_m2`, of all that runs through it. [m²]"""
        return self.own_catch_m2 + sum(spout.catch_m2 for spout in self.joining)

    @property
    def flush_m3(self) -> float:
        """What its first-flush device holds. [m³]"""
        if self.downspout.first_flush_m3 is not None:
            return self.downspout.first_flush_m3
        return self.downspout.first_flush_m * self.catch_m2

    def arriving(self, record: DailyWeather) -> Floats:
        """Litres that reach its first-flush device on each day. [L]"""
        own = self.own_catch_m2 * record.precip
        return np.asarray(own + sum(spout.leaving(record) for spout in self.joining))

    def leaving(self, record: DailyWeather) -> Floats:
        """Litres that run on from it on each day. [L]"""
        return _leaving(by_itself(record), self)


@kept(SPOUTS_KEPT)
def _leaving(asked: Asked[DailyWeather], spout: Spout) -> Floats:
    arriving = spout.arriving(asked.what)
    holds = spout.flush_m3 * LITRES_PER_CUBIC_METRE
    own = spout.downspout
    taken = catchment.first_flush_taken(
        arriving, holds, own.first_flush_reset, own.first_flush_dry_d
    )
    left = arriving - taken
    left.flags.writeable = False  # it is handed out again
    return left


def spouts_of(garden: Garden) -> dict[str, Spout]:
    """Every downspout by id."""
    roofs = {roof.id: roof for roof in garden.roofs}

    def build(downspout: Downspout) -> Spout:
        joining = tuple(build(d) for d in garden.downspouts if d.leads_to == downspout.id)
        return Spout(downspout, roofs[downspout.roof_id], joining)

    return {downspout.id: build(downspout) for downspout in garden.downspouts}


def spouts_into(garden: Garden, store_ids: set[str]) -> list[Spout]:
    """Downspouts that lead into any of some stores."""
    return [s for s in spouts_of(garden).values() if s.downspout.leads_to in store_ids]


def inflow_of(garden: Garden, store_ids: set[str], record: DailyWeather) -> Floats:
    """Litres that roofs bring into some stores on each day. [L]"""
    inflow = np.zeros(len(record.days))
    for spout in spouts_into(garden, store_ids):
        inflow = inflow + spout.leaving(record)
    return inflow


def unused_catch_m2(garden: Garden) -> float:
    """Effective area of all roofs whose water reaches no store. [m²]"""
    stores = {store.id for store in garden.stores}
    used = sum(spout.catch_m2 for spout in spouts_into(garden, stores))
    whole = sum(roof.plan_area_m2 * runoff_coefficient(roof) for roof in garden.roofs)
    return max(0.0, whole - used)
