"""Pots: how much water their soil holds, and how little rain comes in under the leaves."""

from euhydra.core.rootzone import Soil

TAPER = 0.8
"""Volume of a pot over that of a prism as wide and deep: it tapers, and is not filled to the
brim. [-] Common practice."""

UNDER_LEAVES = 0.3
"""Share of the rain over a pot's rim that leaves let through to its soil. [-] Common practice:
little rain gets in."""


def soil_volume(plan: float, depth: float) -> float:
    """Soil in a pot. [m³]

    Parameters
    ----------
    plan : Area within the rim. [m²]
    depth : [m]
    """
    return TAPER * plan * depth


def total_available(volume: float, soil: Soil, canopy: float) -> float:
    """Water that the plant can take from its pot, over the ground its leaves cover. [mm]

    Parameters
    ----------
    volume : Of soil. [m³]
    soil : What the pot is filled with.
    canopy : Ground that the leaves cover. [m²]

    Examples
    --------
    >>> round(total_available(0.010, Soil(0.45, 0.20), 0.1))  # 10 L that hold 2.5 L
    25
    """
    return 1000.0 * volume * soil.available / canopy


def reserve_depth(reserve: float, canopy: float) -> float:
    """Water kept under the soil of a pot that waters itself, over the ground its leaves cover. [mm]

    Wick or capillary rise brings all of it to the roots, so all of it is ready.

    Parameters
    ----------
    reserve : [m³]
    canopy : Ground that the leaves cover. [m²]
    """
    return 1000.0 * reserve / canopy


def share_of_rain(plan: float, canopy: float) -> float:
    """Share of the rain that falls on the leaves and comes to the roots. [-]

    Parameters
    ----------
    plan : Area within the pot's rim. [m²]
    canopy : Ground that the leaves cover. [m²]
    """
    return UNDER_LEAVES * min(1.0, plan / canopy)
