"""Where a curve of diminishing returns bends."""

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


def knee_of(size: Floats, gain: Floats) -> int:
    """Position of the knee: where the curve stands highest above the straight line to its end.

    Parameters
    ----------
    size : Rising, any unit.
    gain : What each size brings; not falling, any unit.

    Returns
    -------
    Position in the arrays; 0 for a curve without a bend.

    Examples
    --------
    >>> knee_of(np.array([0.0, 1, 2, 3, 4]), np.array([0.0, 0.8, 0.9, 0.95, 1.0]))
    1

    References
    ----------
    Satopää et al. (2011), Finding a "kneedle" in a haystack: the chord rule. From memory.
    """
    rise = float(gain[-1] - gain[0])
    if rise <= 0:
        return 0
    x = (size - size[0]) / (size[-1] - size[0])
    y = (gain - gain[0]) / rise
    return int(np.argmax(y - x))
