"""Whether a full barrel is borne, and an empty one stays where it is: barrel and stand as one body."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import atan2, degrees, pi, sqrt

from euhydra.core.constants import GRAVITY

AIR_DENSITY = 1.225
"""Density of air at 15 °C and sea level. [kg m⁻³] ISO 2533, from memory."""

DRAG = 1.2
"""Drag coefficient of an upright barrel or box. [-] Handbook value for a box; a round barrel has
0.7 to 1.2, so this is the cautious end. From memory."""


def footing_pressure(mass: float, contact_area: float) -> float:
    """Weight over the area that bears it. [Pa]

    Parameters
    ----------
    mass : Water, barrel and stand. [kg]
    contact_area : What touches the ground. [m²]

    Examples
    --------
    >>> round(footing_pressure(200, 0.25))
    7845
    """
    return mass * GRAVITY / contact_area


def tipping_angle(base_width: float, centre_height: float) -> float:
    """Lean at which it falls: the centre of gravity stands over the edge of the base. [°]

    Parameters
    ----------
    base_width : Least width of the base. [m]
    centre_height : Centre of gravity over the base. [m]

    Examples
    --------
    >>> round(tipping_angle(0.6, 0.3))
    45
    """
    return degrees(atan2(base_width / 2, centre_height))


@dataclass(frozen=True)
class StandingMass:
    """A part of what stands: its mass and the height of its centre over the ground. [kg], [m]"""

    mass: float
    centre: float


def centre_of_gravity(pieces: Sequence[StandingMass]) -> float:
    """Height over the ground of the centre of gravity of all of them as one body. [m]"""
    return sum(p.mass * p.centre for p in pieces) / sum(p.mass for p in pieces)


@dataclass(frozen=True)
class Face:
    """A face to the wind: how high, how wide, and the height of its foot over the ground. [m]"""

    height: float
    width: float
    foot: float


def overturning(gust: float, faces: Sequence[Face]) -> float:
    """Moment of a gust about the ground, its force at half the height of each face. [N m]

        M = Σ ½ ρ v² C_d · height · width · (foot + height / 2)

    Parameters
    ----------
    gust : Wind speed. [m s⁻¹]
    """
    pressure = 0.5 * AIR_DENSITY * gust**2 * DRAG
    return pressure * sum(f.height * f.width * (f.foot + f.height / 2) for f in faces)


def ballast_against_gust(moment: float, base_width: float, mass: float, safety: float) -> float:
    """Mass to add so that what stands, as one body, is not tipped over the edge of its base. [kg]

        ballast = safety · M / (g · base / 2) − mass

    Parameters
    ----------
    moment : Of the gust, about the ground. [N m]
    base_width : Least width of the base, between the outer edges of its feet. [m]
    mass : Of all that stands, empty. [kg]
    safety : Times the moment that has to be held. [-]

    Returns
    -------
    Mass, 0 if its own is enough. [kg]
    """
    return max(0.0, safety * moment / (GRAVITY * base_width / 2) - mass)


def round_width(volume: float, height: float) -> float:
    """Diameter of an upright round barrel. [m]

    Parameters
    ----------
    volume : [m³]
    height : [m]
    """
    return sqrt(4 * volume / (pi * height))
