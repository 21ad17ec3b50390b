"""Water that rises through soil from a water table under it."""

from math import exp, inf, log1p


def upward_flow(conductivity: float, alpha: float, height: float) -> float:
    """Steady flow that soil can lift from a water table to a height. [m s⁻¹]

        q = Ks ÷ (e^(α L) − 1),  for a conductivity Ks e^(−α h)

    Parameters
    ----------
    conductivity : Ks of the saturated soil. [m s⁻¹]
    alpha : How fast it falls with suction. [m⁻¹]
    height : L, from the water to where the plant takes it. [m]

    References
    ----------
    Gardner (1958), from memory.
    """
    if height <= 0:
        return inf
    exponent = alpha * height
    return conductivity / (exp(exponent) - 1) if exponent < 700 else 0.0


def greatest_lift(conductivity: float, alpha: float, flow: float) -> float:
    """Height to which soil lifts so much water, the inverse of `upward_flow`. [m]

    Parameters
    ----------
    conductivity : Of the saturated soil. [m s⁻¹]
    alpha : How fast it falls with suction. [m⁻¹]
    flow : Wanted. [m s⁻¹]
    """
    return inf if flow <= 0 else log1p(conductivity / flow) / alpha
