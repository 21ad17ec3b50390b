"""What gutters and vertical downspouts carry."""

from math import pi

WYLY_EATON = 27.8 * 6.30901964e-5 / 0.0254 ** (8 / 3)
"""Factor of q = K r^(5/3) d^(8/3) in metres and m³/s; 27.8 in US gallons a minute and inches.
[m^(1/3) s⁻¹] Wyly and Eaton (1961), the basis of plumbing-code tables, from memory."""

FILLED = 7 / 24
"""Share of the pipe's section that the falling ring of water may fill before it rattles and sucks.
[-] Wyly and Eaton (1961); codes use 7/24 to 1/3, this is the cautious end. From memory."""

RULE_OF_THUMB = 0.0254**2 / (100 * 0.3048**2)
"""One square inch of downspout for a hundred square feet of roof. [m² m⁻²] Common practice."""


def downspout_capacity(bore: float, filled: float = FILLED) -> float:
    """Flow of a vertical round pipe in which water falls as a ring along the wall.

        q = K r^(5/3) d^(8/3)

    Parameters
    ----------
    bore : Inner diameter d. [m]
    filled : Share r of the section that is water. [-]

    Returns
    -------
    Flow. [m³ s⁻¹]

    Examples
    --------
    >>> round(downspout_capacity(0.08) * 60000)  # litres a minute
    288

    References
    ----------
    Wyly and Eaton (1961), Capacities of stacks in sanitary drainage systems, NBS Monograph 31.
    From memory.
    """
    return float(WYLY_EATON * filled ** (5 / 3) * bore ** (8 / 3))


def gutter_capacity(width: float) -> float:
    """Flow of a level half-round gutter into its outlet.

        Q = 0.9 · 2.78·10⁻⁵ · A^1.25, A = π w² / 8 in mm², Q in litres a second

    Parameters
    ----------
    width : Across the top. [m]

    Returns
    -------
    Flow. [m³ s⁻¹]

    Examples
    --------
    >>> round(gutter_capacity(0.1) * 1000, 2)  # litres a second
    0.78

    References
    ----------
    EN 12056-3 (2000), Gravity drainage systems inside buildings: roof drainage, nominally level
    semicircular eaves gutters. From memory.
    """
    section = pi / 8 * (width * 1000) ** 2
    return float(0.9 * 2.78e-5 * section**1.25 / 1000)


def overshoot(capacity: float, plan_area: float, rain_rate: float) -> float:
    """Share of a cloudburst on the roof that the downspout cannot take. [-]

    Parameters
    ----------
    capacity : Of the downspout. [m³ s⁻¹]
    plan_area : Draining to it; all its rain is taken to run off at once. [m²]
    rain_rate : Of the cloudburst. [m s⁻¹]
    """
    arriving = plan_area * rain_rate
    return max(0.0, 1 - capacity / arriving) if arriving > 0 else 0.0


def roof_by_thumb(bore: float) -> float:
    """Roof that a downspout serves by the rule of thumb. [m²]

    Parameters
    ----------
    bore : Inner diameter. [m]
    """
    return pi / 4 * bore**2 / RULE_OF_THUMB
