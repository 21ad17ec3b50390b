"""Swings of the weather about its usual course: quick ones, gone in days, and some that last for weeks."""

from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
import scipy
from numpy.typing import NDArray

Floats = NDArray[np.float64]

FADES = (20.0, 30.0, 45.0, 70.0, 110.0)
"""Times in which what lasts may fade to 1/e. [d]"""

FINER = 5
"""Pieces of a season, about a month each, that tell how fast it fades."""

ROUNDS = 4
"""Times that the quick part is taken anew from what is left to it."""

MOST_LASTING = 0.5
"""Greatest share of a day's variance that may last. [-] Our choice."""

MOST_QUICK = 0.98
"""Greatest correlation of the quick part with the day before. [-]"""


class Three(NamedTuple):
    """What swings together: warmth, the root of the range, the odds of rain."""

    warmth: float
    root_range: float
    rain: float


@dataclass(frozen=True)
class Lasting:
    """The part of the weather that lasts for weeks: three linked series of one pace.

    fades : Time in which it falls to 1/e. [d]
    spread : Its standard deviation: of warmth and range in spreads of a day, of rain in the
        logarithm of the odds of a wet day. [-]
    warm_wide, warm_wet, wide_wet : Correlations of the three. [-]
    """

    fades: float
    spread: Three
    warm_wide: float
    warm_wet: float
    wide_wet: float

    @property
    def slow(self) -> float:
        """Correlation with the day before. [-]"""
        return float(np.exp(-1.0 / self.fades))

    @property
    def covariance(self) -> Floats:
        """Of the three. 3 by 3."""
        spread = np.array(self.spread)
        links = np.eye(3)
        links[0, 1] = links[1, 0] = self.warm_wide
        links[0, 2] = links[2, 0] = self.warm_wet
        links[1, 2] = links[2, 1] = self.wide_wet
        return np.asarray(links * np.outer(spread, spread))

    def made(self, days: int, rng: np.random.Generator) -> Floats:
        """Warmth, range and rain of so many days. 3 by days."""
        values, axes = np.linalg.eigh(self.covariance)
        shocks = (axes * np.sqrt(np.maximum(values, 0.0))) @ rng.standard_normal((3, days))
        return np.array([remembering(self.slow, row) for row in shocks])


def remembering(persistence: float, shocks: Floats) -> Floats:
    """A series with the variance of its shocks, which remembers the day before from its first day on.

    Parameters
    ----------
    persistence : Correlation with the day before. [-]
    shocks : Of mean 0 and one variance. [-]
    """
    pushes = np.sqrt(1 - persistence**2) * shocks
    pushes[:1] = shocks[:1]
    # Each day is its push and a share of the day before: a matrix of two bands.
    bands = np.array([np.ones(len(pushes)), np.full(len(pushes), -persistence)])
    return np.asarray(scipy.linalg.solve_banded((1, 0), bands, pushes))


def variance_of_mean(persistence: float, days: int) -> float:
    """Variance of the mean of so many days on end of such a series of variance 1. [-]

    Parameters
    ----------
    persistence : Correlation with the day before. [-]
    days : [d]
    """
    lags = np.arange(1, days)
    return float((1 + 2 * np.sum((1 - lags / days) * persistence**lags)) / days)


def quick_of(series: Floats, lasting: float, slow: float) -> float:
    """Correlation of the quick part with the day before, of a series of which a part lasts. [-]

    Parameters
    ----------
    series : Of mean 0 and variance 1, one value a day. [-]
    lasting : Share of its variance that lasts. [-]
    slow : Correlation of that part with the day before. [-]
    """
    day_to_day = float(np.mean(series[1:] * series[:-1])) if len(series) > 1 else 0.0
    return float(np.clip((day_to_day - lasting * slow) / (1 - lasting), 0.0, MOST_QUICK))


def quick_link(one: float, other: float, correlation: float) -> float:
    """Correlation of the shocks of two quick parts whose values on one day correlate so. [-]

    Parameters
    ----------
    one, other : Correlations with the day before. [-]
    correlation : Of the two on the same day. [-]
    """
    kept = np.sqrt((1 - one**2) * (1 - other**2)) / (1 - one * other)
    return float(np.clip(correlation / kept, -0.95, 0.95))


@dataclass(frozen=True)
class Seasons:
    """Means of three series over seasons, and over pieces of them, from year to year.

    days : Length of a mean. [d]
    covariance : Of the means of warmth, range and wet days. 3 by 3. [-]
    """

    days: int
    covariance: Floats


def seasons_of(series: Floats, number: NDArray[np.intp], pieces: int) -> Seasons:
    """The means of whole seasons cut in so many pieces, each piece against its own usual mean.

    Parameters
    ----------
    series : Three by days. [-]
    number : Of the season that each day is in; under 0 on days that count for none.
    """
    found = []
    length = np.bincount(number[number >= 0]).max()
    for season in range(int(number.max()) + 1):
        own = series[:, number == season]
        if own.shape[1] >= 0.95 * length:
            found.append([part.mean(axis=1) for part in np.array_split(own, pieces, axis=1)])
    means = np.array(found)
    apart = means - means.mean(axis=0)
    together = np.einsum("spi,spj->ij", apart, apart)
    return Seasons(int(length // pieces), together / ((len(means) - 1) * pieces))


def lasting_of(series: Floats, number: NDArray[np.intp], chance: float, answer: float) -> Lasting:
    """What lasts in three daily series: what makes seasons spread more than the quick part does.

    Parameters
    ----------
    series : Warmth and range as distances from their course, in spreads; wet days less their
        usual share. 3 by days. [-]
    number : Of the season that each day is in; under 0 on days that count for none.
    chance : Variance that a day's chance of rain brings to the mean of so many days, times the
        days. [d]
    answer : More chance of rain for each unit in the logarithm of its odds. [-]

    References
    ----------
    Wilks (1999), Interannual variability and extreme-value characteristics of several stochastic
    daily precipitation models, Agricultural and Forest Meteorology 93: why daily memory alone
    leaves months too much alike. From memory. The three linked series are our own form of it.
    """
    whole, finer = seasons_of(series, number, 1), seasons_of(series, number, FINER)
    best, least = None, np.inf
    for fades in FADES:
        found = _with_pace(fades, series, whole, chance, answer)
        made = np.diag(_spread_of_means(found, series, finer.days, chance, answer))
        misses = float(np.sum(np.log(made / np.diag(finer.covariance)) ** 2))
        if misses < least:
            best, least = found, misses
    assert best is not None
    return best


def _with_pace(
    fades: float, series: Floats, seen: Seasons, chance: float, answer: float
) -> Lasting:
    """What lasts if it fades so: what the quick part leaves of the seasons' covariance."""
    found = _nearest(fades, np.zeros((3, 3)))
    kept = variance_of_mean(found.slow, seen.days) * np.outer([1, 1, answer], [1, 1, answer])
    for _ in range(ROUNDS):
        quick = _quick_spread(found, series, seen.days, chance)
        found = _nearest(fades, (seen.covariance - quick) / kept)
    return found


def _quick_spread(lasting: Lasting, series: Floats, days: int, chance: float) -> Floats:
    """Covariance that the quick parts bring to means of so many days. 3 by 3."""
    shares = np.square(lasting.spread[:2])
    own = [
        (1 - share) * variance_of_mean(quick_of(row, share, lasting.slow), days)
        for row, share in zip(series[:2], shares, strict=True)
    ]
    spread = np.diag([*own, chance / days])
    rest = np.sqrt(np.prod(1 - shares))
    link = (float(np.mean(series[0] * series[1])) - lasting.covariance[0, 1]) / rest
    spread[0, 1] = spread[1, 0] = np.clip(link, -1, 1) * np.sqrt(own[0] * own[1])
    return spread


def _spread_of_means(
    lasting: Lasting, series: Floats, days: int, chance: float, answer: float
) -> Floats:
    answers = np.outer([1, 1, answer], [1, 1, answer])
    slow = lasting.covariance * answers * variance_of_mean(lasting.slow, days)
    return np.asarray(slow + _quick_spread(lasting, series, days, chance))


def _nearest(fades: float, covariance: Floats) -> Lasting:
    """The nearest that can be: no variance under nothing, no link over certainty."""
    variance = np.clip(np.diag(covariance), 1e-6, [MOST_LASTING, MOST_LASTING, 1.0])
    spread = np.sqrt(variance)
    links = np.clip(covariance / np.outer(spread, spread), -0.9, 0.9)
    return Lasting(
        fades,
        Three(*spread.tolist()),
        float(links[0, 1]),
        float(links[0, 2]),
        float(links[1, 2]),
    )
