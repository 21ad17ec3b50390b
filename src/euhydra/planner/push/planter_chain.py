"""A chain of planters behind a float box, solved on its zone's network: steady levels, and a day by the hour."""

import pickle
from dataclasses import dataclass, field
from functools import cached_property, lru_cache

import numpy as np
from numpy.typing import NDArray

from euhydra.core import planter_day, planters
from euhydra.core.constants import (
    LITRES_PER_CUBIC_METRE,
    MM_PER_M,
    SECONDS_PER_DAY,
    SECONDS_PER_HOUR,
)
from euhydra.core.planter_day import Behind, PlanterDay, PlanterDayError
from euhydra.core.planters import PlanterTube
from euhydra.garden import catalogue, plumbing
from euhydra.garden.plumbing import Dripper
from euhydra.garden.pots import KeptBy, Pots
from euhydra.garden.sentences import say
from euhydra.garden.stores import Store
from euhydra.planner.answers import PlanError
from euhydra.planner.need.daily import Need
from euhydra.planner.same import Asked, kept
from euhydra.planner.water import solving, zones
from euhydra.planner.water.zones import Zone

Floats = NDArray[np.float64]

PEAK_SHARE = 0.12
"""Share of a clear summer day's water that its peak hour takes. [-] Sine of the sun's height, from memory."""

BOX_M2 = 0.06
"""Open water in a float's own box. [m²] A guess: some 25 cm by 25 cm."""

OPENINGS = (0.01, 0.1, 0.4, 1.0)
"""Shares of a float's opening at which its network is solved. [-]"""

SPELLS_KEPT = 256
"""Hot spells that are kept: a store's usual levels and its seasons ask for the same ones."""

CHAINS_KEPT = 64
"""Chains of which it is kept how many planters they carry."""

TRIED_DRAWS = 8
"""Days, from mild to hottest, that are run to see what a chain lets through."""


ALL_BUT = 0.001
"""Share of a day's water that may be missed before it counts. [-]"""


@dataclass(frozen=True)
class ChainLevels:
    """The chain at one draw.

    draw : Of one planter. [m³ s⁻¹]
    box : Level in the box over its floor; None where the valve does not give the draw. [m]
    levels : In each planter, from the box on. [m]
    starved : Planters below the foot of their wick, counted from 1.
    """

    draw: float
    box: float | None
    levels: tuple[float, ...]
    starved: tuple[int, ...]

    @property
    def serves(self) -> bool:
        """Whether the valve gives it and no planter is starved."""
        return self.box is not None and not self.starved


@dataclass(frozen=True)
class PlanterChain:
    """A chain to be tried as it is.

    valve_share : Of what the valve gives when nothing clogs it. [-]
    """

    zone: Zone
    pots: Pots
    need: Need
    valve_share: float = 1.0

    @property
    def is_trough(self) -> bool:
        """Whether they stand in one water."""
        return self.pots.kept_by is KeptBy.TROUGH

    @property
    def dripper(self) -> Dripper:
        pipe = next(o.pipe for o in self.zone.outlets if o.waters == self.pots.id)
        return catalogue.find(plumbing.drippers(), pipe.dripper or "")

    @property
    def daily(self) -> Floats:
        """What one planter drinks on each day in season. [m³ d⁻¹]"""
        litres = self.need.crop_et[self.need.is_growing] * self.need.area_m2 / self.pots.count
        return np.asarray(litres / LITRES_PER_CUBIC_METRE)

    @property
    def hot_day(self) -> float:
        """What one planter drinks on a hot day. [m³ d⁻¹]"""
        return self.need.hot_day_litres / LITRES_PER_CUBIC_METRE / self.pots.count

    def tube(self, blocked: float) -> PlanterTube:
        return planters.joining(self.pots.joint_m, self.pots.joint_bore_m, blocked)

    @property
    def mean_draw(self) -> float:
        """Of one planter, over all days in season. [m³ s⁻¹]"""
        return float(self.daily.mean()) / SECONDS_PER_DAY if self.daily.size else 0.0

    @property
    def peak_draw(self) -> float:
        """Of one planter, in the peak hour of a hot day. [m³ s⁻¹]"""
        return self.hot_day * PEAK_SHARE / SECONDS_PER_HOUR

    @property
    def stored(self) -> float:
        """Water over the tap of its store when full; none of a tap. [m³]"""
        group, source = self.zone.group, self.zone.source
        if group is None or not isinstance(source, Store):
            return 0.0
        return max(0.0, group.capacity_m3 - group.dead_m3(source))

    @property
    def dries_a_day(self) -> float:
        """What the sun takes from open water in the thirstiest month. [m³ d⁻¹]"""
        et0 = float(self.need.et0_a_day[self._thirstiest]) / MM_PER_M
        return planters.OPEN_WATER * et0 * self.pots.open_m2

    @property
    def thirstiest_day(self) -> float:
        """What all of them drink, and the sun takes, on a mean day of the thirstiest month. [m³ d⁻¹]"""
        depth = float(self.need.crop_et_a_day[self._thirstiest]) / MM_PER_M
        return depth * self.need.area_m2 + self.dries_a_day

    @property
    def _thirstiest(self) -> int:
        return int(np.argmax(self.need.crop_et_a_day))

    def opening(self, draw: float) -> float | None:
        """Share of the valve's opening that gives so much; None if none does. [-]"""
        if draw <= 0:
            return 0.0
        if self.full < draw:
            return None
        given, per_opening = self._solved
        return draw / float(np.interp(draw, given, per_opening))

    @cached_property
    def _solved(self) -> tuple[Floats, Floats]:
        """What it gives, solved on the network at some openings, and that over the opening.

        The latter is what it would give at the head that is left before it, which changes slowly.
        """
        given = np.array([self._gives(opening) for opening in OPENINGS])
        return given, given / np.array(OPENINGS)

    @property
    def full(self) -> float:
        """What the valve gives wide open, the store nearly empty. [m³ s⁻¹]"""
        return float(self._solved[0][-1])

    def _gives(self, opening: float) -> float:
        """Of the valve, opened so far. [m³ s⁻¹]"""
        zone = self.zone
        pipe = next(p for p in zone.pipes if p.waters == self.pots.id and p.dripper)
        opened = {pipe.id: opening * self.valve_share}
        state = solving.solve_opened(zone, _level(zone), opened)
        return state.flow * state.share_to(self.pots.id)

    def levels(self, draw: float, blocked: float, count: int | None = None) -> ChainLevels:
        """Steady levels with each planter drawing so much. [m³ s⁻¹], [-]"""
        several = self.pots.count if count is None else count
        opening = self.opening(several * draw)
        if opening is None:
            return ChainLevels(draw, None, (), ())
        box = self.pots.set_level_m - self.dripper.band_m * opening
        if self.is_trough:
            levels = np.full(several, box)  # one water
        else:
            levels = planters.chain_levels(box, self.tube(blocked), np.full(several, draw))
        dry = planters.starved(levels, self.pots.foot_m)
        return ChainLevels(draw, box, tuple(levels.tolist()), tuple(dry))

    def carries(self, draw: float, blocked: float) -> int:
        """Most planters, counted up from one by halves of the way, of which none is starved."""
        figures = self.valve_share, *self._solved[0].tolist()
        return _carried(Asked(self, (self.pots, self.zone.way.layout), figures), draw, blocked)

    def day(self, a_day: float, blocked: float = 0.0) -> PlanterDay:
        """The last of several days on which each drinks so much, hour by hour, the water under them their buffer.

        Parameters
        ----------
        a_day : Of one. [m³]
        blocked : [-]


        Raises
        ------
        PlanError : if an hour does not settle.
        """
        pots, several = self.pots, self.pots.count
        water = np.full(several, pots.under_m2)
        drinks = np.full(several, a_day)
        box, areas = (water.sum(), water[:0]) if self.is_trough else (BOX_M2, water)
        behind = Behind(
            self.full,
            self.dripper.band_m,
            pots.set_level_m,
            float(box),
            areas,
            self.tube(blocked),
            pots.foot_m,
        )
        asked = drinks[:1] * several if self.is_trough else drinks
        try:
            return _spell_of(_Spell(behind, asked, pickle.dumps((behind, asked))))
        except PlanterDayError as error:
            raise PlanError(
                say(
                    "push-planters-do-not-settle",
                    "The levels in “{pots}” do not settle hour by hour: change its tubes or its float a little.",
                    pots=pots.name,
                )
            ) from error

    def lets_through(self, wanted: Floats) -> Floats | None:
        """Of so much that all of them ask on each day; None where they get all of it. [L]"""
        hottest = float(wanted.max(initial=0.0)) / LITRES_PER_CUBIC_METRE
        if hottest <= 0 or self.full <= 0:
            return np.zeros_like(wanted)
        peak = hottest / self.pots.count * PEAK_SHARE / SECONDS_PER_HOUR
        if self.levels(peak, 0.0).serves:
            return None  # what flows in the peak hour flows in every other
        if self.day(hottest / self.pots.count).share > 1 - ALL_BUT:
            return None
        asked = np.linspace(0.0, hottest, TRIED_DRAWS + 1)
        given = [0.0, *(each * self.day(each / self.pots.count).share for each in asked[1:])]
        scale = LITRES_PER_CUBIC_METRE
        return np.asarray(np.interp(wanted, asked * scale, np.array(given) * scale))


@kept(CHAINS_KEPT)
def _carried(asked: Asked[PlanterChain], draw: float, blocked: float) -> int:
    low, high = 0, planters.MOST_PLANTERS + 1
    while high - low > 1:
        middle = (low + high) // 2
        found = asked.what.levels(draw, blocked, middle)
        low, high = (middle, high) if found.serves else (low, middle)
    return low


@dataclass(frozen=True)
class _Spell:
    """Planters behind a float on so hot a day: the same as every other with the same figures."""

    behind: Behind = field(compare=False)
    a_day: Floats = field(compare=False)
    figures: bytes


@lru_cache(maxsize=SPELLS_KEPT)
def _spell_of(asked: _Spell) -> PlanterDay:
    return planter_day.run_spell(asked.behind, asked.a_day, planter_day.sun_shares(PEAK_SHARE))


def _level(zone: Zone) -> float:
    return zones.NEARLY_EMPTY if zone.group else 1.0
