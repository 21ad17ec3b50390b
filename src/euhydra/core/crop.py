"""A crop through its season: coefficient, roots, and how dry it may get."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Crop:
    """Single crop coefficient over the four stages of FAO-56.

    initial, development, mid, late : Lengths of the stages. [d]
    kc_initial, kc_mid, kc_end : Crop coefficients. [-]
    root_start, root_full : Root depth at planting and from mid-season on. [m]
    depletion_fraction : Share of the soil's water that is taken without stress, p. [-]

    Source: FAO-56 tables 11 (stages), 12 (Kc), 22 (roots, p).
    """

    initial: int
    development: int
    mid: int
    late: int
    kc_initial: float
    kc_mid: float
    kc_end: float
    root_start: float
    root_full: float
    depletion_fraction: float

    @property
    def season_days(self) -> int:
        """Days from planting to the end of harvest."""
        return self.initial + self.development + self.mid + self.late

    def coefficient(self, age: Floats) -> Floats:
        """Crop coefficient Kc on days `age` after planting (0 on planting day). [-]

        Level in the first and third stage, straight lines between. FAO-56 eq. 66.

        Parameters
        ----------
        age : Days since planting. [d]
        """
        ends = np.cumsum([self.initial, self.development, self.mid, self.late])
        kc = [self.kc_initial, self.kc_mid, self.kc_mid, self.kc_end]
        return np.interp(age, ends, kc)

    def root_depth(self, age: Floats) -> Floats:
        """Root depth, growing straight from planting to mid-season. [m] FAO-56 ch. 8.

        Parameters
        ----------
        age : Days since planting. [d]
        """
        full_grown = self.initial + self.development
        return np.interp(age, [0, full_grown], [self.root_start, self.root_full])
