"""How far water spreads in the soil from one dripper."""


def wetted_width(volume: float, rate: float, conductivity: float) -> float:
    """Width of the soil that one dripper wets in a run, at its widest. [m]

        w = 1.82 V^0.22 (Ks / q)^-0.17

    Parameters
    ----------
    volume : Given in one run. [m³]
    rate : Of the dripper. [m³ s⁻¹]
    conductivity : Saturated conductivity of the soil. [m s⁻¹]

    Examples
    --------
    >>> wetted_width(volume=0.002, rate=1 / 3.6e6, conductivity=4.2e-6)
    0.29

    References
    ----------
    Schwartzman and Zur (1986), Emitter spacing and geometry of wetted soil volume, Journal of
    Irrigation and Drainage Engineering 112(3), from memory.
    """
    if volume <= 0 or rate <= 0:
        return 0.0
    return float(1.82 * volume**0.22 * (conductivity / rate) ** -0.17)


def wetted_depth(volume: float, rate: float, conductivity: float) -> float:
    """Depth that the same run reaches. [m]

        z = 2.54 V^0.63 (Ks / q)^0.45

    Parameters
    ----------
    volume : Given in one run. [m³]
    rate : Of the dripper. [m³ s⁻¹]
    conductivity : Saturated conductivity of the soil. [m s⁻¹]

    Examples
    --------
    >>> wetted_depth(volume=0.002, rate=1 / 3.6e6, conductivity=4.2e-6)
    0.17

    References
    ----------
    Schwartzman and Zur (1986), as above, from memory.
    """
    if volume <= 0 or rate <= 0:
        return 0.0
    return float(2.54 * volume**0.63 * (conductivity / rate) ** 0.45)
