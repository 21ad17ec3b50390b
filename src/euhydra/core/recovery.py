"""Momentum recovery: in a pipe with holes pressure rises as the water slows past them."""

from math import pi

import numpy as np
from numpy.typing import NDArray

from euhydra.core.constants import GRAVITY

Floats = NDArray[np.float64]

RECOVERED = 1.0
"""Share of the velocity head that comes back as pressure when water slows past holes. [-] Perry's
Chemical Engineers' Handbook, perforated-pipe distributors: Δp = (4fL/3D − 2K) ρV²/2 with K about 0.5;
from memory."""


def velocity_head(flow: float, bore: float) -> float:
    """Head that comes back when water at such a flow is brought to rest. [m]

    Parameters
    ----------
    flow : [m³ s⁻¹]
    bore : Inside width. [m]
    """
    return RECOVERED * (flow / (pi / 4 * bore**2)) ** 2 / (2 * GRAVITY)


def held_back(before: Floats, after: Floats, bore: float) -> Floats:
    """Head that the water's speed holds back from a hole, between the flow before it and after it. [m]

    At the far end nothing moves, and all of it has come back.

    Parameters
    ----------
    before, after : Flow along the pipe on either side of each hole. [m³ s⁻¹]
    bore : Inside width. [m]
    """
    area = pi / 4 * bore**2
    squares = (before**2 + after**2) / 2
    return np.asarray(RECOVERED * squares / area**2 / (2 * GRAVITY))
