"""Head loss along a pipe, and how it grows with flow.

Every function takes flows of either sign and returns the loss with the same sign as the
flow, together with its derivative, because the solver needs both.
"""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from euhydra.core.constants import GRAVITY

Floats = NDArray[np.float64]

LAMINAR_BELOW = 2000.0
"""Reynolds number under which pipe flow is taken as laminar. [-] Rossman et al. (2020)."""

TURBULENT_ABOVE = 4000.0
"""Reynolds number above which pipe flow is taken as turbulent. [-] Same source."""

HAZEN_WILLIAMS_FACTOR = 4.727 * 0.3048 ** (4.871 - 3 * 1.852)
"""Factor of h = A C^-1.852 d^-4.871 L q^1.852 in metres and m³/s; 4.727 in feet and ft³/s.
[s^1.852 m^-0.685] Rossman et al. (2020), table 3.1."""

LEAST_SLOPE = 1e-4
"""Least head loss per flow that the solver is shown, so that a still pipe does not divide by
zero. [m per m³ s⁻¹] At 1 L/h it is 3e-11 m."""


@dataclass(frozen=True)
class PipeLoss:
    """Head loss of each pipe and its derivative by flow.

    head_loss : signed like the flow. [m]
    slope : d(head loss)/d(flow), positive. [s m⁻²]
    """

    head_loss: Floats
    slope: Floats


@dataclass(frozen=True)
class DarcyWeisbach:
    """Loss by Darcy–Weisbach, right from laminar to rough, in pipes that run full.

        h = (f L / D + K) v |v| / 2g

    Laminar pipes are written out as Hagen–Poiseuille, which is linear in the flow and so has
    no singular slope at rest. What does not follow from the flow is worked out once.

    length : Of each pipe, or of all alike. [m]
    diameter : Inner diameter. [m]
    roughness : Height of wall roughness. [m]
    minor_loss : Sum of local loss coefficients K. [-]
    viscosity : Kinematic viscosity. [m² s⁻¹]

    References
    ----------
    Rossman et al. (2020), EPANET 2.2 User Manual, §3.1 and the analysis algorithms chapter.
    """

    length: Floats
    diameter: Floats
    roughness: Floats
    minor_loss: Floats
    viscosity: float

    @cached_property
    def _reynolds(self) -> Floats:
        """Reynolds number for a flow of 1 m³/s."""
        return self.diameter / (self._area * self.viscosity)

    @cached_property
    def _area(self) -> Floats:
        return np.pi * self.diameter**2 / 4

    @cached_property
    def _velocity_head(self) -> Floats:
        """v²/2g for a flow of 1 m³/s."""
        return 1 / (2 * GRAVITY * self._area**2)

    @cached_property
    def _poiseuille(self) -> Floats:
        return 32 * self.viscosity * self.length / (GRAVITY * self.diameter**2 * self._area)

    @cached_property
    def _local(self) -> Floats:
        return self.minor_loss * self._velocity_head

    @cached_property
    def _unit_friction(self) -> Floats:
        return self.length / self.diameter * self._velocity_head

    @cached_property
    def _relative_roughness(self) -> Floats:
        return self.roughness / self.diameter

    def loss(self, flow: Floats) -> PipeLoss:
        """Loss and slope at each pipe's flow, either sign.

        Parameters
        ----------
        flow : [m³ s⁻¹]
        """
        size = np.abs(flow)
        reynolds = size * self._reynolds
        laminar = reynolds < LAMINAR_BELOW
        slope = self._poiseuille
        friction = slope * size
        # All that planters' tubes carry is laminar: then nothing else is worked out.
        if not laminar.all():
            factor, factor_slope = friction_factor(reynolds, self._relative_roughness)
            by_flow = factor_slope * self._reynolds  # by Re → by flow
            rough = self._unit_friction * factor * size**2
            rough_slope = self._unit_friction * (by_flow * size**2 + 2 * factor * size)
            friction = np.where(laminar, friction, rough)
            slope = np.where(laminar, slope, rough_slope)
        return _signed(flow, friction + self._local * size**2, slope + 2 * self._local * size)


@dataclass(frozen=True)
class HazenWilliams:
    """Loss by Hazen–Williams, h = A C^-1.852 d^-4.871 L q^1.852, plus local losses.

    Made for water in turbulent flow in pipes over some 50 mm: badly wrong in small tube. It is
    here to read other people's networks, not to plan gardens.

    length, diameter, minor_loss : As of `DarcyWeisbach`. [m], [m], [-]
    coefficient : Hazen–Williams C. [-]

    References
    ----------
    Rossman et al. (2020), EPANET 2.2 User Manual, table 3.1.
    """

    length: Floats
    diameter: Floats
    coefficient: Floats
    minor_loss: Floats

    @cached_property
    def _resistance(self) -> Floats:
        return np.asarray(
            HAZEN_WILLIAMS_FACTOR * self.coefficient**-1.852 * self.diameter**-4.871 * self.length
        )

    @cached_property
    def _local(self) -> Floats:
        return self.minor_loss * 8 / (np.pi**2 * GRAVITY * self.diameter**4)

    def loss(self, flow: Floats) -> PipeLoss:
        """As `DarcyWeisbach.loss`.

        Parameters
        ----------
        flow : [m³ s⁻¹]
        """
        size = np.abs(flow)
        loss = self._resistance * size**1.852 + self._local * size**2
        slope = 1.852 * self._resistance * size**0.852 + 2 * self._local * size
        return _signed(flow, loss, slope)


def friction_factor(reynolds: Floats, relative_roughness: Floats) -> tuple[Floats, Floats]:
    """Darcy friction factor f and its derivative by the Reynolds number.

    64/Re below 2,000; Swamee–Jain above 4,000; between them the cubic of Dunlop (1991) that
    joins both without a step in value or slope.

    Parameters
    ----------
    reynolds : [-]
    relative_roughness : Roughness over inner diameter, of each or of all alike. [-]

    Examples
    --------
    >>> f, _ = friction_factor(np.array([1000.0, 1e5]), np.array([0.0, 0.0]))
    >>> float(f[0]), round(float(f[1]), 4)
    (0.064, 0.0178)

    References
    ----------
    Rossman et al. (2020), EPANET 2.2 User Manual, analysis algorithms chapter (friction factor).
    """
    re = np.maximum(reynolds, 1.0)  # a still pipe takes the linear law of DarcyWeisbach
    wall = np.broadcast_to(relative_roughness / 3.7, re.shape)

    factor = 64 / re
    slope = -factor / re
    # Most pipes of a garden are laminar: the dearer laws are worked out only where they hold.
    rough = np.flatnonzero(re >= TURBULENT_ABOVE)
    between = np.flatnonzero((re >= LAMINAR_BELOW) & (re < TURBULENT_ABOVE))
    factor[rough], slope[rough] = _swamee_jain(re[rough], wall[rough])
    factor[between], slope[between] = _dunlop_cubic(re[between], wall[between])
    return factor, slope


def _swamee_jain(re: Floats, wall: Floats) -> tuple[Floats, Floats]:
    smooth = 5.74 / re**0.9
    log = np.log10(wall + smooth)
    factor = 0.25 / log**2
    # d(smooth)/dRe = −0.9 smooth / Re
    slope = 0.5 / log**3 * 0.9 * smooth / (re * (wall + smooth) * np.log(10))
    return factor, slope


def _dunlop_cubic(re: Floats, wall: Floats) -> tuple[Floats, Floats]:
    edge = wall + 5.74 / TURBULENT_ABOVE**0.9
    y3 = -2 / np.log(10) * np.log(edge)
    fa = y3**-2
    fb = fa * (2 - 0.00514215 / (edge * y3))
    x1, x2 = 7 * fa - fb, 0.128 - 17 * fa + 2.5 * fb
    x3, x4 = -0.128 + 13 * fa - 2 * fb, 0.032 - 3 * fa + 0.5 * fb
    r = re / LAMINAR_BELOW
    factor = x1 + r * (x2 + r * (x3 + r * x4))
    slope = (x2 + r * (2 * x3 + 3 * r * x4)) / LAMINAR_BELOW
    return factor, slope


def _signed(flow: Floats, loss: Floats, slope: Floats) -> PipeLoss:
    flat = slope < LEAST_SLOPE
    loss = np.where(flat, LEAST_SLOPE * np.abs(flow), loss)
    return PipeLoss(np.copysign(loss, flow), np.where(flat, LEAST_SLOPE, slope))
