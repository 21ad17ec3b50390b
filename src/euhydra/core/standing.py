"""Whether a full barrel is borne, and an empty one stays where it is."""

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


def centre_of_gravity(water: float, water_depth: float, shell: float, shell_height: float) -> float:
    """Height of the centre of gravity of barrel and water over the barrel's base. [m]

    Parameters
    ----------
    water : Mass of water. [kg]
    water_depth : [m]
    shell : Mass of the empty barrel. [kg]
    shell_height : [m]
    """
    return (water * water_depth / 2 + shell * shell_height / 2) / (water + shell)


def ballast_against_gust(
    gust: float, height: float, width: float, base_width: float, shell: float
) -> float:
    """Mass to add at the bottom of an empty barrel so that a gust does not tip it. [kg]

    The gust's force acts at half height; the weight holds at half the base.

        ballast = ½ ρ v² C_d · height · width · (height / 2) / (g · base / 2) − shell

    Parameters
    ----------
    gust : Wind speed. [m s⁻¹]
    height, width : Of the face to the wind. [m]
    base_width : Least width of the base. [m]
    shell : Mass of the empty barrel. [kg]

    Returns
    -------
    Mass, 0 if the barrel's own is enough. [kg]
    """
    force = 0.5 * AIR_DENSITY * gust**2 * DRAG * height * width
    holding = force * (height / 2) / (GRAVITY * base_width / 2)
    return max(0.0, holding - shell)


def round_width(volume: float, height: float) -> float:
    """Diameter of an upright round barrel. [m]

    Parameters
    ----------
    volume : [m³]
    height : [m]
    """
    return sqrt(4 * volume / (pi * height))
