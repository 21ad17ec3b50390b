"""Ground that the outlets of a zone wet in a bed: by how wide the water of one run spreads in its soil."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from euhydra.core import wetting
from euhydra.garden import catalogue, plumbing, shapes
from euhydra.garden.beds import Bed
from euhydra.garden.patches import Patch
from euhydra.planner.water import laws
from euhydra.planner.water.solving import ZoneState
from euhydra.planner.water.way import Outlet

RUN_DEPTH = 0.012
"""Depth of a usual run over the bed, where no programme is known yet. [m] Common practice: half
an inch."""

GROUNDS_KEPT = 256
"""Wetted grounds that are kept: a garden in the making is laid and answered from the same ones."""

Stretch = tuple[tuple[float, float], ...]
"""Where water leaves on one piece: a place, or the two ends of a piece. [m]"""


@dataclass(frozen=True)
class Spread:
    """Areas that one run wets in a bed, and what they follow from. [m²], [m], [m³], [m³ s⁻¹]

    width : Of the ground that one outlet wets. [m]
    volume, rate : Of one outlet, in a run.
    to_plants : Whether each plant has a dripper of its own.
    """

    bed: Bed
    area: float
    inside: float
    outside: float
    on_paths: float
    width: float
    volume: float
    rate: float
    to_plants: bool

    @property
    def wetted(self) -> float:
        """Share of the bed that is wetted. [-]"""
        return self.inside / self.area

    @property
    def waste(self) -> float:
        """Share of the wetted ground that lies beside the bed. [-]"""
        return self.outside / (self.inside + self.outside)


def spread_of(bed: Bed, state: ZoneState, paths: Sequence[Patch] = ()) -> Spread | None:
    """How far the water of a usual run spreads in a bed; None if nothing waters it.

    Parameters
    ----------
    paths : Ground on which water is wasted in any case.
    """
    own = [
        (outlet, float(flow))
        for outlet, flow in zip(state.zone.outlets, state.outlet_flow, strict=True)
        if outlet.waters == bed.id and flow > 0
    ]
    if not own:
        return None
    volume = RUN_DEPTH * bed.area_m2 / len(own)
    rate = sum(flow for _, flow in own) / len(own)
    width = wetting.wetted_width(volume, rate, bed.ground.intake_m_s)
    outline = shapes.of_bed(bed)
    outlets = [outlet for outlet, _ in own]
    reach = [*((stretch, width / 2) for stretch in _seeping(outlets)), *_thrown(outlets)]
    wet = _wetted(tuple(reach))
    inside = wet.intersection(outline).area
    on_paths = sum(wet.intersection(shapes.of_patch(path)).area for path in paths)
    beside = max(0.0, wet.area - inside)  # nothing, to the last figure
    to_plants = all(outlet.pipe.dripper is not None for outlet, _ in own)
    return Spread(bed, outline.area, inside, beside, on_paths, width, volume, rate, to_plants)


def _throw(outlet: Outlet) -> float:
    """How far an outlet throws its water to each side; 0 where it drips. [m]"""
    if outlet.pipe.dripper is None:
        return 0.0
    return catalogue.find(plumbing.drippers(), outlet.pipe.dripper).throw_m


def _thrown(outlets: Sequence[Outlet]) -> Iterator[tuple[Stretch, float]]:
    """Outlets that throw their water, and how far. [m]"""
    for outlet in outlets:
        if (throw := _throw(outlet)) > 0:
            yield ((outlet.x, outlet.y),), throw


def _seeping(outlets: Sequence[Outlet]) -> Iterator[Stretch]:
    """Where water leaves: at each outlet, and all along from one step of a porous hose to the next."""
    for outlet in outlets:
        yield ((outlet.x, outlet.y),)
    for a, b in pairwise(outlets):
        ends = (a.x, a.y), (b.x, b.y)
        seeps = a.pipe is b.pipe and laws.kind_of(a.pipe).family == "porous"
        if seeps and ends[0] != ends[1]:
            yield ends


@lru_cache(maxsize=GROUNDS_KEPT)
def _wetted(reach: tuple[tuple[Stretch, float], ...]) -> BaseGeometry:
    """Ground within reach of any of the stretches, each with its own. [m]"""
    stretches = [shapely.LineString(s) if len(s) > 1 else shapely.Point(s[0]) for s, _ in reach]
    around = shapely.buffer(stretches, np.array([far for _, far in reach]), quad_segs=4)
    return shapely.disjoint_subset_union_all(around)  # rows that do not touch are not joined


def wetted_shares(state: ZoneState) -> dict[str, float]:
    """Share of each bed of a zone that its outlets wet, by id; not of pots, whose soil is wetted whole. [-]"""
    spreads = (spread_of(bed, state) for bed in state.zone.beds)
    return {spread.bed.id: min(1.0, spread.wetted) for spread in spreads if spread}
