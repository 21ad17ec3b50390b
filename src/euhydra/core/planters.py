"""Planters that water themselves: a float valve on its supply, and levels along a chain behind it."""

from dataclasses import dataclass
from functools import cached_property
from math import sqrt

import numpy as np
from numpy.typing import NDArray

from euhydra.core import friction
from euhydra.core.constants import WATER_KINEMATIC_VISCOSITY
from euhydra.core.friction import PipeLoss

Floats = NDArray[np.float64]

PLASTIC = 1.5e-6
"""Wall roughness of drawn plastic tube. [m] Handbook value, from memory."""

ENTRANCE_AND_EXIT = 1.5
"""Loss coefficient K of a tube between two boxes of still water. [-] Handbook: ½ in and 1 out, from memory."""

OPEN_WATER = 1.05
"""What open water gives to the air, over ET0. [-] FAO-56 table 12."""

MOST_PLANTERS = 200
"""Planters up to which is counted how many a box carries."""


@dataclass(frozen=True)
class PlanterTube:
    """A tube of plastic, full of water.

    blocked : Share of its area that roots, mix or slime take. [-]
    minor_loss : Loss coefficient K of its ends and fittings. [-]
    """

    length: float
    bore: float
    blocked: float = 0.0
    minor_loss: float = 0.0

    @property
    def open_bore(self) -> float:
        """Width that is left open: bore × √(1 − blocked). [m]"""
        return self.bore * sqrt(1 - self.blocked)

    def loss(self, flow: Floats) -> Floats:
        """Head lost in it at each flow, by Darcy–Weisbach at 20 °C. [m]

        Parameters
        ----------
        flow : [m³ s⁻¹]
        """
        return self.losses(flow).head_loss

    def losses(self, flow: Floats) -> PipeLoss:
        """As `loss`, with its slope.

        Parameters
        ----------
        flow : [m³ s⁻¹]
        """
        return self._friction.loss(flow)

    @cached_property
    def _friction(self) -> friction.DarcyWeisbach:
        tube = (self.length, self.open_bore, PLASTIC, self.minor_loss)
        length, bore, wall, minor_loss = (np.array([measure]) for measure in tube)
        return friction.DarcyWeisbach(length, bore, wall, minor_loss, WATER_KINEMATIC_VISCOSITY)


def joining(length: float, bore: float, blocked: float = 0.0) -> PlanterTube:
    """A tube from one planter to the next, below the water, with the loss of its two ends.

    Parameters
    ----------
    length, bore : [m]
    blocked : Share of its area that is lost. [-]
    """
    return PlanterTube(length, bore, blocked, ENTRANCE_AND_EXIT)


@dataclass(frozen=True)
class FloatValve:
    """A valve that a float shuts.

    Its opening falls in a straight line from all, a band below the set level, to nothing at that level.

    coefficient : k of q = k √H full open, H just before it. [m³ s⁻¹ m⁻½]
    band : [m]
    set_level : Over the floor of its box. [m]
    """

    coefficient: float
    band: float
    set_level: float

    @classmethod
    def giving(cls, flow: float, at_head: float, band: float, set_level: float) -> "FloatValve":
        """One that gives so much full open at a head.

        Parameters
        ----------
        flow : [m³ s⁻¹]
        at_head, band, set_level : [m]
        """
        return cls(flow / sqrt(at_head), band, set_level)

    def full(self, head: float) -> float:
        """What it gives full open. [m³ s⁻¹]

        Parameters
        ----------
        head : Just before it. [m]
        """
        return self.coefficient * sqrt(max(head, 0.0))


@dataclass(frozen=True)
class FloatSupply:
    """Where a float valve's water comes from.

    head : Height of the water there over the valve. [m]
    line : To the valve; only its friction counts.
    """

    head: float
    line: PlanterTube

    def head_at(self, flow: float) -> float:
        """Head just before the valve while so much flows. [m]

        Parameters
        ----------
        flow : [m³ s⁻¹]
        """
        return self.head - float(self.line.loss(np.array([flow]))[0])


def opening_for(supply: FloatSupply, valve: FloatValve, draw: float) -> float | None:
    """Share of the valve's opening that lets `draw` through; None if all of it is not enough. [-]

    Parameters
    ----------
    draw : What is taken behind it. [m³ s⁻¹]
    """
    if draw <= 0:
        return 0.0
    full = valve.full(supply.head_at(draw))
    return draw / full if draw <= full else None


def box_level(supply: FloatSupply, valve: FloatValve, draw: float) -> float | None:
    """Steady level in the box over its floor, the set level less the band times the opening. [m]

    Parameters
    ----------
    draw : What is taken behind the valve. [m³ s⁻¹]
    """
    opening = opening_for(supply, valve, draw)
    return None if opening is None else valve.set_level - valve.band * opening


def chain_levels(box: float, tube: PlanterTube, draws: Floats) -> Floats:
    """Steady level in each planter of a chain, as if every one still drew. [m]

    Each tube carries what all behind it draw.

    Parameters
    ----------
    box : Level in the box before the first. [m]
    tube : From each to the next.
    draws : Of each planter, from the box on. [m³ s⁻¹]
    """
    carried = np.cumsum(draws[::-1])[::-1]
    return np.asarray(box - np.cumsum(tube.loss(carried)))


def starved(levels: Floats, foot: float) -> list[int]:
    """Planters whose water stands under the foot of their wick, counted from 1.

    Parameters
    ----------
    levels : Of each planter, from the box on. [m]
    foot : Level at which a foot just loses the water. [m]
    """
    return [number for number, level in enumerate(levels.tolist(), 1) if level < foot]


def carries(
    supply: FloatSupply, valve: FloatValve, tube: PlanterTube, draw: float, foot: float
) -> int:
    """Most planters alike, counted up from one, of which none is starved; at most `MOST_PLANTERS`.

    Parameters
    ----------
    draw : Of one planter. [m³ s⁻¹]
    foot : Level at which a foot just loses the water. [m]
    """
    for count in range(1, MOST_PLANTERS + 1):
        box = box_level(supply, valve, count * draw)
        if box is None or starved(chain_levels(box, tube, np.full(count, draw)), foot):
            return count - 1
    return MOST_PLANTERS
