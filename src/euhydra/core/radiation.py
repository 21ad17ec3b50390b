"""Sunlight above the air, from latitude and date."""

import numpy as np
from numpy.typing import NDArray

from euhydra.core.constants import MINUTES_PER_DAY

Floats = NDArray[np.float64]

SOLAR_CONSTANT = 0.0820
"""Radiation at the mean distance of the sun. [MJ m⁻² min⁻¹] FAO-56 eq. 21."""


def extraterrestrial_radiation(latitude: float, day_of_year: Floats) -> Floats:
    """Daily radiation Ra on a level surface above the atmosphere.

    Holds at any latitude: where the sun does not rise the sunset angle is 0, where it does not
    set it is π.

    Parameters
    ----------
    latitude : North positive. [°]
    day_of_year : 1 to 366. [-]

    Returns
    -------
    Ra of each day. [MJ m⁻² d⁻¹]

    Examples
    --------
    >>> extraterrestrial_radiation(-20.0, np.array([246.0])).round(1)  # FAO-56 example 8
    array([32.2])

    References
    ----------
    Allen et al. (1998), FAO Irrigation and Drainage Paper 56, eqs. 21 to 25.
    """
    phi = np.radians(latitude)
    turn = 2 * np.pi * day_of_year / 365
    distance = 1 + 0.033 * np.cos(turn)  # eq. 23
    declination = 0.409 * np.sin(turn - 1.39)  # eq. 24
    sunset = np.arccos(np.clip(-np.tan(phi) * np.tan(declination), -1, 1))  # eq. 25
    daily = sunset * np.sin(phi) * np.sin(declination)
    daily = daily + np.cos(phi) * np.cos(declination) * np.sin(sunset)
    # eq. 21
    return np.asarray(MINUTES_PER_DAY / np.pi * SOLAR_CONSTANT * distance * daily)
