"""Factors of a model estimated from what was measured, with how sure they are."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import sqrt

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

LEAST_SPREAD = 0.05
"""A measured value is trusted no finer than this share of itself. [-] Cup, bucket and stick."""

GRID = np.linspace(0.4, 2.0, 81)
"""Factors that are tried where the model is not a straight line. [-]"""

CERTAIN_OF = 0.9
"""Share of finger tests that say what the soil is. [-] Our choice; the rest are misread."""


@dataclass(frozen=True)
class Estimate:
    """A factor on what the model assumes.

    value : 1 where the model is right. [-]
    deviation : Standard deviation of it. [-]
    count : Measurements that went in.
    """

    value: float
    deviation: float
    count: int

    @property
    def low(self) -> float:
        """Lower end of the range that holds it 19 times in 20. [-]"""
        return self.value - 1.96 * self.deviation

    @property
    def high(self) -> float:
        """Upper end of that range. [-]"""
        return self.value + 1.96 * self.deviation

    @property
    def differs(self) -> bool:
        """Whether the model's own 1 lies outside that range."""
        return not self.low <= 1.0 <= self.high


HALF_LIFE = 60.0
"""Days after which a measurement counts half: outlets clog and gutters fill. [d] Our choice."""


def weights_of(ages: Floats) -> Floats:
    """How much measurements count that are so many days old; 1 for one of today. [d] to [-]

    Parameters
    ----------
    ages : [d]
    """
    return np.asarray(0.5 ** (np.maximum(ages, 0.0) / HALF_LIFE))


def factor(
    predicted: Floats,
    measured: Floats,
    spread: float,
    prior_deviation: float,
    weights: Floats | None = None,
) -> Estimate:
    """The factor f in measured = f · predicted + noise, given that it lies about 1.

        1/σ² = 1/σ0² + Σ w (p/s)²,   f = σ² (1/σ0² + Σ w p m / s²)

    with w the weight and s the noise of one measurement. Where there are three or more, s is what they scatter by
    about their own best line, so that rough measuring shows; never less than `LEAST_SPREAD`.

    Parameters
    ----------
    predicted, measured : Pairs in any one unit; pairs with nothing predicted tell nothing.
    spread : Noise of one measurement as a share of the mean predicted. [-]
    prior_deviation : How far the factor may lie from 1 before anything is measured, σ0. [-]
    weights : Of each pair; all 1 if not given. [-]

    Examples
    --------
    >>> e = factor(np.array([10.0, 20, 30]), np.array([8.0, 16, 24]), 0.05, 0.3)
    >>> round(e.value, 2), e.differs
    (0.8, True)

    References
    ----------
    Conjugate normal prior of a regression through the origin: Gelman et al., Bayesian Data
    Analysis, 3rd ed., chapter 14, from memory.
    """
    told = predicted > 0
    weight = np.ones_like(predicted) if weights is None else weights
    predicted, measured, weight = predicted[told], measured[told], weight[told]
    count = len(predicted)
    if count == 0:
        return Estimate(1.0, prior_deviation, 0)
    scale = float(predicted.mean())
    noise = max(spread, LEAST_SPREAD) * scale
    if count >= 3:
        best = float((weight * predicted) @ measured / ((weight * predicted) @ predicted))
        rest = measured - best * predicted
        scatter = float((weight * rest) @ rest) / float(weight.sum()) * count / (count - 1)
        noise = max(LEAST_SPREAD * scale, sqrt(scatter))
    precision = prior_deviation**-2 + float((weight * predicted) @ predicted) / noise**2
    mean = (prior_deviation**-2 + float((weight * predicted) @ measured) / noise**2) / precision
    return Estimate(mean, precision**-0.5, count)


@dataclass(frozen=True)
class SoilTest:
    """One finger in the soil.

    day : Index into the record.
    said : `dry`, `right` or `muddy`.
    """

    day: int
    said: str


def thirst_factor(
    gone: Floats, tests: Sequence[SoilTest], prior_deviation: float = 0.2
) -> Estimate:
    """The factor on a crop's drinking that explains finger tests best.

    For each factor of `GRID` each test is as likely as the root zone makes it: dry past the refill
    point, muddy near full, right between; blurred by a quarter of the readily available water, and
    misread once in ten.

    Parameters
    ----------
    gone : Depletion over readily available water of each evening, were the crop so thirsty:
        [factor of `GRID`, day]; NaN where nothing grows, which tells nothing. [-]
    tests : What fingers said.
    prior_deviation : Of the logarithm of the factor, before any test. [-]
    """
    if not tests:
        return Estimate(1.0, prior_deviation, 0)
    log_odds = -0.5 * (np.log(GRID) / prior_deviation) ** 2
    for said in ("dry", "right", "muddy"):
        days = [test.day for test in tests if test.said == said]
        log_odds = log_odds + np.log(_likelihood(said, gone[:, days])).sum(axis=1)
    weight = np.exp(log_odds - log_odds.max())
    weight /= weight.sum()
    mean = float(weight @ GRID)
    return Estimate(mean, sqrt(float(weight @ (GRID - mean) ** 2)), len(tests))


def _likelihood(said: str, gone: Floats) -> Floats:
    """How likely a finger is to say so."""
    dry = _step((gone - 1.0) / 0.25)
    muddy = _step((0.1 - gone) / 0.1)
    likely = {"dry": dry, "muddy": muddy, "right": np.maximum(0.0, 1 - dry - muddy)}[said]
    return np.where(np.isnan(gone), 1.0, CERTAIN_OF * likely + (1 - CERTAIN_OF) / 3)


def _step(x: Floats) -> Floats:
    return np.asarray(1 / (1 + np.exp(-4 * np.clip(x, -20, 20))))
