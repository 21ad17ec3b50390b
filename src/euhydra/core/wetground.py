"""Ground that is too wet: a storm on it, a perforated pipe, a sump and its pump."""

from math import inf, pi, sqrt

PERFORATED_ROUGHNESS = 0.016
"""Manning's n of corrugated perforated pipe. [s m^(-1/3)] Handbook value, from memory."""


def storm_volume(area: float, depth: float, runoff: float) -> float:
    """Water that a storm leaves on an area. [m³]

    Parameters
    ----------
    area : Level area that drains there. [m²]
    depth : Rain of the storm. [m]
    runoff : Share that does not soak in where it falls. [-]

    Examples
    --------
    >>> round(storm_volume(1000 * 0.09290304, 0.0254, 1.0) / 3.785411784e-3)  # US gallons
    623
    """
    return area * depth * runoff


def pipe_capacity(bore: float, slope: float, roughness: float = PERFORATED_ROUGHNESS) -> float:
    """Flow of a pipe that runs full by its fall alone; 0 without fall. [m³ s⁻¹]

        Q = A (d/4)^(2/3) √s / n

    Parameters
    ----------
    bore : Inner diameter d. [m]
    slope : Fall over length s. [-]
    roughness : Manning's n. [s m^(-1/3)]

    References
    ----------
    Manning's formula; Chow (1959), Open-Channel Hydraulics. From memory.
    """
    if slope <= 0:
        return 0.0
    return float(pi / 4 * bore**2 * (bore / 4) ** (2 / 3) * sqrt(slope) / roughness)


def starts_an_hour(inflow: float, pump: float, working_volume: float) -> float:
    """Times an hour that a float switch starts the pump. [h⁻¹]

        n = 3600 · q (Q − q) / (Q V)

    Most when the inflow is half the pump's flow; none when it never stops or nothing comes.

    Parameters
    ----------
    inflow : Into the sump q. [m³ s⁻¹]
    pump : Flow of the pump Q. [m³ s⁻¹]
    working_volume : Between the float's two levels V. [m³]

    Examples
    --------
    >>> round(starts_an_hour(0.0005, 0.001, 0.05), 1)  # Q / 4 V
    18.0
    """
    if inflow <= 0 or inflow >= pump:
        return 0.0
    return 3600 * inflow * (pump - inflow) / (pump * working_volume)


def most_starts_an_hour(pump: float, working_volume: float) -> float:
    """The most starts that any inflow brings about. [h⁻¹]

    Parameters
    ----------
    pump : Flow of the pump. [m³ s⁻¹]
    working_volume : Between the float's two levels. [m³]
    """
    return starts_an_hour(pump / 2, pump, working_volume)


def recovery_time(volume: float, flow: float) -> float:
    """Time to carry a volume away; infinite without flow. [s]

    Parameters
    ----------
    volume : Left standing after the storm. [m³]
    flow : Of the narrowest piece on its way out. [m³ s⁻¹]
    """
    return volume / flow if flow > 0 else inf
