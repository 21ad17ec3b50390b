"""How water rises in one planter: through its wick and its mix, from what stands under it to the roots."""

from dataclasses import dataclass
from math import inf, isinf, pi

from euhydra.core.constants import SECONDS_PER_DAY
from euhydra.core.wicking import Lift
from euhydra.garden import catalogue
from euhydra.garden.catalogue import SoilTexture
from euhydra.garden.pots import Pots

TOP_MAY_DRY = 0.05
"""Top of the mix that may stay dry while roots drink under it. [m] Common practice: a mulch."""

HIGHEST = 0.6
"""Lift above which no more is told. [m] No planter is that deep."""


@dataclass(frozen=True)
class Rise:
    """Planters alike, of which one drinks so much on a hot day. [m³ d⁻¹]"""

    pots: Pots
    drinks: float

    @property
    def flow(self) -> float:
        """Through the whole width of one, day and night: the mix holds what the sun asks at noon. [m s⁻¹]"""
        return self.drinks / SECONDS_PER_DAY / self.pots.plan_m2

    @property
    def mix(self) -> SoilTexture:
        return self.pots.ground

    def height(self, mix: SoilTexture) -> float:
        """How high a filling lifts it. [m]"""
        found = mix.lift.greatest(self.flow)
        return HIGHEST if isinf(found) else min(found, HIGHEST)

    def brings(self) -> float:
        """Share of a hot day's drink that wick and mix bring up from the water. [-]"""
        if self.drinks <= 0:
            return 1.0
        over = max(self.pots.over_the_water_m - TOP_MAY_DRY, 0.0)
        mix = self.mix.lift.flow(over) * self.pots.plan_m2 * SECONDS_PER_DAY if over > 0 else inf
        return min(1.0, mix / self.drinks, 1 - self.wick_short)

    def is_enough(self, mix: SoilTexture) -> bool:
        return self.height(mix) + TOP_MAY_DRY >= self.pots.over_the_water_m

    @property
    def wick_lift(self) -> Lift:
        return catalogue.find(catalogue.wick_kinds(), self.pots.wick).lift or self.mix.lift

    @property
    def wick_area(self) -> float:
        """[m²]"""
        return pi / 4 * self.pots.wick_across_m**2

    @property
    def wick_gives(self) -> float:
        """Through the wick's own width, its foot just in the water. [m³ d⁻¹]"""
        return self.wick_lift.flow(self.pots.wick_m) * self.wick_area * SECONDS_PER_DAY

    @property
    def wick_short(self) -> float:
        """Share of a hot day that the wick does not bring. [-]"""
        return max(0.0, 1 - self.wick_gives / self.drinks) if self.drinks > 0 else 0.0

    @property
    def widest(self) -> float:
        """Width of wick that just brings it. [m]"""
        return float(self.pots.wick_across_m * (self.drinks / self.wick_gives) ** 0.5)
