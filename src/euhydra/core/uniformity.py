"""How evenly a line waters."""

from math import sqrt

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


def low_quarter_uniformity(flow: Floats) -> float:
    """Mean of the lowest quarter of flows over the mean of all; 0 when nothing flows. [-]

    Parameters
    ----------
    flow : Of each outlet, any unit.

    Examples
    --------
    >>> round(low_quarter_uniformity(np.array([8.0, 10, 10, 12])), 2)
    0.8

    References
    ----------
    Merriam and Keller (1978), Farm Irrigation System Evaluation: low-quarter distribution
    uniformity, from memory.
    """
    mean = float(flow.mean())
    if mean <= 0:
        return 0.0
    lowest = np.sort(flow)[: max(1, round(len(flow) / 4))]
    return float(lowest.mean()) / mean


def makers_spread(variation: float, outlets_a_plant: float) -> float:
    """What the plants of the worst-fed quarter get over the mean, of outlets that are made unlike.

        1 − 1.27 v / √e

    The lowest quarter of a normal spread lies 1.27 of its deviations under the mean, and outlets
    that share a plant make up for one another.

    Parameters
    ----------
    variation : Maker's coefficient of variation v. [-]
    outlets_a_plant : Outlets that feed one plant, e. [-]

    Examples
    --------
    >>> round(makers_spread(0.07, 1.0), 3)
    0.911

    References
    ----------
    Karmeli and Keller (1975), Trickle Irrigation Design; ASABE EP405, from memory.
    """
    return max(0.0, 1 - 1.27 * variation / sqrt(outlets_a_plant))


def design_emission_uniformity(flow: Floats, variation: float, outlets_a_plant: float) -> float:
    """Uniformity that also counts the maker's variation.

        EU = (1 − 1.27 v / √e) q_min / q_mean

    Parameters
    ----------
    flow : Solved flow of each outlet, any unit.
    variation : Maker's coefficient of variation v. [-]
    outlets_a_plant : Outlets that feed one plant, e. [-]

    References
    ----------
    Karmeli and Keller (1975), Trickle Irrigation Design; ASABE EP405, from memory.
    """
    mean = float(flow.mean())
    if mean <= 0:
        return 0.0
    return makers_spread(variation, outlets_a_plant) * float(flow.min()) / mean
