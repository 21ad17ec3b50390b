"""How likely measurements are under each of several explanations: straight-line models and change points.

References
----------
Evidence of a linear model with normal priors: Bishop (2006), Pattern Recognition and Machine Learning,
section 3.5. Change points weighed one against another: Barry and Hartigan (1993), A Bayesian analysis
for change point problems, Journal of the American Statistical Association 88. Both from memory.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import log, pi

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

EARNED = 0.95
"""Chance from which on something is claimed: 19 to 1. [-]"""

TWICE_OFF = 1.96
"""Standard deviations to either end of the range that holds a value 19 times in 20."""

CLEARLY_OFF = 2.6
"""Standard deviations from which on a factor is not what was planned: 99 in 100, since many are looked at."""

STRAY = 4.5
"""Standard deviations off from which on a measurement is a stray. Our choice."""


@dataclass(frozen=True)
class Fit:
    """A linear model as measurements leave it.

    log_evidence : Logarithm of how likely they are under it, whatever its parameters.
    mean, deviation, covariance : Of each parameter.
    rest : What is left of each measurement, in its own noise.
    """

    log_evidence: float
    mean: Floats
    deviation: Floats
    rest: Floats
    covariance: Floats

    def of(self, share: Floats) -> "Mixed":
        """So much of each parameter together.

        Parameters
        ----------
        share : Of each. [-]
        """
        return Mixed(float(share @ self.mean), float(share @ self.covariance @ share) ** 0.5)


def fit(columns: Floats, measured: Floats, noise: Floats, mean: Floats, spread: Floats) -> Fit:
    """The model measured = columns · parameters + noise, given what the parameters are beforehand.

    Parameters
    ----------
    columns : [measurement, parameter], in the measurement's unit over the parameter's.
    measured, noise : Each measurement and its standard deviation, in one unit: [-] or [L].
    mean, spread : Of each parameter beforehand, in its own unit, such as [-] or [L d⁻¹]; a spread of 0 holds it.
    """
    scaled = columns * spread / noise[:, None]
    misses = (measured - columns @ mean) / noise
    precision = np.eye(len(mean)) + scaled.T @ scaled
    chol = np.linalg.cholesky(precision)
    pulled = np.linalg.solve(chol, scaled.T @ misses)
    moved = np.linalg.solve(chol.T, pulled)
    covariance = np.linalg.inv(precision)
    log_evidence = (
        -0.5 * float(misses @ misses - pulled @ pulled)
        - float(np.log(np.diag(chol)).sum())
        - float(np.log(noise).sum())
        - 0.5 * len(measured) * log(2 * pi)
    )
    found = mean + spread * moved
    return Fit(
        log_evidence,
        found,
        spread * np.sqrt(np.diag(covariance)),
        (measured - columns @ found) / noise,
        covariance * np.outer(spread, spread),
    )


@dataclass(frozen=True)
class Added:
    """What one more column would add to a model, for each of many.

    log_evidence : Of the model with it.
    mean, deviation : Of its own parameter.
    """

    log_evidence: Floats
    mean: Floats
    deviation: Floats


def added(
    columns: Floats,
    measured: Floats,
    noise: Floats,
    mean: Floats,
    spread: Floats,
    more: Floats,
    more_mean: Floats,
    more_spread: Floats,
) -> Added:
    """As `fit`, with one more column, for each of many at once.

    Parameters
    ----------
    columns, measured, noise, mean, spread : As of `fit`, each in its own unit, such as [-] or [L].
    more : The columns that are tried. [measurement, column], in the measurement's unit over the parameter's.
    more_mean, more_spread : Of the parameter of each beforehand, in its own unit, such as [-] or [L d⁻¹].
    """
    base = fit(columns, measured, noise, mean, spread)
    scaled = columns * spread
    whole = np.linalg.inv(np.diag(noise**2) + scaled @ scaled.T)
    misses = measured - columns @ mean
    seen = whole @ more
    along, across = misses @ seen, np.einsum("nk,nk->k", more, seen)
    pull = along - more_mean * across
    widened = 1.0 + more_spread**2 * across
    gain = (
        2 * more_mean * along - more_mean**2 * across + more_spread**2 * pull**2 / widened
    ) - np.log(widened)
    return Added(
        base.log_evidence + 0.5 * gain,
        more_mean + more_spread**2 * pull / widened,
        more_spread / np.sqrt(widened),
    )


def chances(log_evidence: Sequence[float] | Floats, prior: Sequence[float] | Floats) -> Floats:
    """Chance of each explanation after the measurements. [-]

    Parameters
    ----------
    log_evidence : Of each explanation, as `Fit` has it. [-]
    prior : Chance of each before them; they need not sum to 1. [-]
    """
    logs = np.asarray(log_evidence) + np.log(np.asarray(prior))
    weight = np.exp(logs - logs.max())
    return np.asarray(weight / weight.sum())


@dataclass(frozen=True)
class Mixed:
    """A quantity of which several explanations have each their own mean and deviation."""

    value: float
    deviation: float

    @classmethod
    def of(cls, chance: Floats, mean: Floats, deviation: Floats) -> "Mixed":
        """All of them together, each by its chance."""
        weight = chance / chance.sum()
        value = float(weight @ mean)
        variance = float(weight @ (deviation**2 + (mean - value) ** 2))
        return cls(value, variance**0.5)

    def is_off(self, planned: float, least: float) -> bool:
        """Whether it is clearly another than planned, and by so much at the least.

        Parameters
        ----------
        planned, least : In its own unit, such as [-] or [L d⁻¹].
        """
        off = abs(self.value - planned)
        return off >= least and off > CLEARLY_OFF * self.deviation

    @property
    def low(self) -> float:
        """Lower end of the range that holds it 19 times in 20."""
        return self.value - TWICE_OFF * self.deviation

    @property
    def high(self) -> float:
        """Upper end of that range."""
        return self.value + TWICE_OFF * self.deviation


def step(days: Floats, begins: float, ends: float = np.inf) -> Floats:
    """1 from one day up to another, else 0. [-]

    Parameters
    ----------
    days, begins, ends : [d]
    """
    return np.asarray(((days >= begins) & (days < ends)).astype(float))


def ramp(days: Floats, begins: float, length: float, ends: float = np.inf) -> Floats:
    """Rises from 0 on one day to 1 so many days later, until it is mended. [-]

    Parameters
    ----------
    days, begins, length, ends : [d]
    """
    return np.asarray(np.clip((days - begins) / length, 0.0, 1.0) * (days < ends))
