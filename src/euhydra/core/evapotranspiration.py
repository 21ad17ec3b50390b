"""Reference evapotranspiration, day by day, from the weather a gardener has."""

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

EVAPORATION_PER_ENERGY = 1 / 2.45
"""Depth of water evaporated by radiation energy. [mm per MJ m⁻²] FAO-56 eq. 20."""

STEFAN_BOLTZMANN = 4.903e-9
"""[MJ K⁻⁴ m⁻² d⁻¹] FAO-56 eq. 39."""

GRASS_ALBEDO = 0.23
"""Share of sunlight that the reference grass throws back. [-] FAO-56 eq. 38."""

LEAST_CLEARNESS = 0.3
"""Least measured over clear-sky radiation that is taken: darker skies keep no more warmth in. [-]
ASCE-EWRI (2005), eq. 18: 0.3 to 1.0; from memory."""


def hargreaves_samani(temp_max: Floats, temp_min: Floats, radiation: Floats) -> Floats:
    """Reference evapotranspiration of grass, from air temperature alone.

        ET0 = 0.0023 · Ra/2.45 · (Tmean + 17.8) · √(Tmax − Tmin)

    For sites that measure neither sun, wind nor humidity. Made for sums over five days or
    more: a single day can be well off, and a year by 15%.

    Parameters
    ----------
    temp_max : Highest air temperature of each day. [°C]
    temp_min : Lowest air temperature of each day. [°C]
    radiation : Extraterrestrial radiation Ra. [MJ m⁻² d⁻¹]

    Returns
    -------
    ET0 of each day, never negative. [mm d⁻¹]

    Raises
    ------
    ValueError : if `temp_max` is below `temp_min` on any day.

    References
    ----------
    Allen et al. (1998), FAO Irrigation and Drainage Paper 56, eq. 52.
    """
    if np.any(temp_max < temp_min):
        day = int(np.argmax(temp_max < temp_min))
        raise ValueError(
            f"day {day + 1}: highest temperature {temp_max[day]} °C is below the lowest, "
            f"{temp_min[day]} °C"
        )
    temp_mean = (temp_max + temp_min) / 2  # of the extremes, as eq. 52 was fitted
    energy_depth = EVAPORATION_PER_ENERGY * radiation
    et0 = 0.0023 * energy_depth * (temp_mean + 17.8) * np.sqrt(temp_max - temp_min)
    return np.asarray(np.maximum(et0, 0.0))  # the fit turns negative below −17.8 °C


def saturation_pressure(temperature: Floats) -> Floats:
    """Vapour pressure of saturated air, e°. [kPa]

    Parameters
    ----------
    temperature : Of the air. [°C]

    References
    ----------
    Allen et al. (1998), FAO-56 eq. 11.
    """
    return np.asarray(0.6108 * np.exp(17.27 * temperature / (temperature + 237.3)))


def penman_monteith(
    temp_max: Floats,
    temp_min: Floats,
    humidity_max: Floats,
    humidity_min: Floats,
    wind: Floats,
    solar: Floats,
    radiation: Floats,
    elevation: float,
) -> Floats:
    """Reference evapotranspiration of grass where sun, wind and humidity are measured.

        ET0 = (0.408 Δ (Rn − G) + γ 900/(T+273) u₂ (es − ea)) / (Δ + γ (1 + 0.34 u₂)), G = 0

    Parameters
    ----------
    temp_max, temp_min : Highest and lowest air temperature of each day. [°C]
    humidity_max, humidity_min : Relative humidity. [%]
    wind : Mean wind speed at 2 m. [m s⁻¹]
    solar : Sunshine energy on the ground, Rs. [MJ m⁻² d⁻¹]
    radiation : Extraterrestrial radiation Ra. [MJ m⁻² d⁻¹]
    elevation : Above the sea. [m]

    Returns
    -------
    ET0 of each day, never negative; NaN where anything is not known. [mm d⁻¹]

    References
    ----------
    Allen et al. (1998), FAO Irrigation and Drainage Paper 56, eqs. 6 to 8, 11 to 13, 17 and 37 to
    40.
    """
    mean = (temp_max + temp_min) / 2
    at_max, at_min = saturation_pressure(temp_max), saturation_pressure(temp_min)
    saturated = (at_max + at_min) / 2  # eq. 12
    actual = (at_min * humidity_max + at_max * humidity_min) / 200  # eq. 17
    slope = 4098 * saturation_pressure(mean) / (mean + 237.3) ** 2  # eq. 13
    pressure = 101.3 * ((293 - 0.0065 * elevation) / 293) ** 5.26  # eq. 7
    psychrometric = 0.665e-3 * pressure  # eq. 8

    clear_sky = (0.75 + 2e-5 * elevation) * radiation  # eq. 37
    share = np.divide(solar, clear_sky, out=np.ones_like(solar), where=clear_sky > 0)
    clearness = np.clip(share, LEAST_CLEARNESS, 1.0)
    fourth = ((temp_max + 273.16) ** 4 + (temp_min + 273.16) ** 4) / 2
    outgoing = STEFAN_BOLTZMANN * fourth * (0.34 - 0.14 * np.sqrt(actual))
    outgoing = outgoing * (1.35 * clearness - 0.35)  # eq. 39
    net = (1 - GRASS_ALBEDO) * solar - outgoing  # eqs. 38 and 40

    driven_by_sun = EVAPORATION_PER_ENERGY * slope * net
    driven_by_air = psychrometric * 900 / (mean + 273) * wind * (saturated - actual)
    et0 = (driven_by_sun + driven_by_air) / (slope + psychrometric * (1 + 0.34 * wind))
    return np.asarray(np.maximum(et0, 0.0))
