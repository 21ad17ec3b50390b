"""Water that rises through soil from a water table under it."""

from dataclasses import dataclass
from math import exp, inf, log1p

MOST_EXPONENT = 700.0
"""Exponent from which on nothing is lifted that a machine number could hold. [-]"""


@dataclass(frozen=True)
class Lift:
    """How a soil, a mix or a cloth lifts water: its conductivity is Ks e^(−α h) at a suction h.

    conductivity : Ks, of the saturated soil. [m s⁻¹]
    alpha : How fast it falls with suction. [m⁻¹]

    References
    ----------
    Gardner (1958), from memory.
    """

    conductivity: float
    alpha: float

    def flow(self, height: float) -> float:
        """Steady flow that it can lift from a water table, q = Ks ÷ (e^(α L) − 1). [m s⁻¹]

        Parameters
        ----------
        height : L, from the water to where the plant takes it. [m]
        """
        if height <= 0:
            return inf
        exponent = self.alpha * height
        return self.conductivity / (exp(exponent) - 1) if exponent < MOST_EXPONENT else 0.0

    def greatest(self, flow: float) -> float:
        """Height to which it lifts so much water, the inverse of `flow`. [m]

        Parameters
        ----------
        flow : Wanted. [m s⁻¹]
        """
        return inf if flow <= 0 else log1p(self.conductivity / flow) / self.alpha
