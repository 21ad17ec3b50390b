"""Evidence of straight-line models, against the whole normal density worked out by an independent package."""

import numpy as np
from pytest import approx
from scipy import stats

from euhydra.core import evidence
from euhydra.core.evidence import Mixed


def test_evidence_is_the_density_of_what_was_measured():
    """As Bishop (2006), equations 3.49 to 3.51 and 3.86, from memory; the density is SciPy's."""
    rng = np.random.default_rng(3)
    columns = rng.normal(size=(12, 3))
    noise, mean, spread = rng.uniform(0.2, 1, 12), np.array([1.0, 0, -0.5]), np.array([0.3, 1, 2])
    measured = columns @ np.array([1.2, 0.4, 0.1]) + noise * rng.normal(size=12)
    found = evidence.fit(columns, measured, noise, mean, spread)
    covariance = np.diag(noise**2) + columns @ np.diag(spread**2) @ columns.T
    density = stats.multivariate_normal(columns @ mean, covariance)
    assert found.log_evidence == approx(density.logpdf(measured))
    precision = np.diag(spread**-2.0) + columns.T @ np.diag(noise**-2) @ columns
    pulled = mean / spread**2 + columns.T @ (measured / noise**2)
    assert found.mean == approx(np.linalg.solve(precision, pulled))
    assert found.deviation == approx(np.sqrt(np.diag(np.linalg.inv(precision))))
    many = evidence.added(
        columns[:, :2], measured, noise, mean[:2], spread[:2], columns[:, 2:], mean[2:], spread[2:]
    )
    assert many.log_evidence[0] == approx(found.log_evidence)
    assert (many.mean[0], many.deviation[0]) == approx((found.mean[2], found.deviation[2]))
    assert found.of(np.array([1.0, 0, 0])).deviation == approx(found.deviation[0])


def test_chances_follow_bayes():
    assert evidence.chances([np.log(0.2), np.log(0.4)], [0.5, 0.25]) == approx([0.5, 0.5])


def test_a_mixture_has_the_mean_and_the_variance_of_its_parts():
    mixed = Mixed.of(np.array([1.0, 3.0]), np.array([0.0, 4.0]), np.array([1.0, 2.0]))
    assert (mixed.value, mixed.deviation) == approx((3.0, np.sqrt(0.25 * 10 + 0.75 * 5)))


def test_courses_begin_rise_and_end():
    days = np.arange(6.0)
    assert evidence.step(days, 2, 4).tolist() == [0, 0, 1, 1, 0, 0]
    assert evidence.ramp(days, 1, 4).tolist() == [0, 0, 0.25, 0.5, 0.75, 1]
