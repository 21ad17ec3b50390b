"""The bank of filters, against a filter by an independent hand where nothing bends, and against a planted leak."""

import numpy as np
from pytest import approx

from euhydra.core import store_filter
from euhydra.core.store_filter import EXTRA, ROOF, WATER, Beforehand, StoreDays

DAYS = 60


def days(leak: float, roof: float, seed: int = 0) -> StoreDays:
    rng = np.random.default_rng(seed)
    inflow = np.where(np.arange(DAYS) % 6 == 0, 60.0, 0.0)
    drawn, water, dips = np.full(DAYS, 6.0), 600.0, []
    for day in range(DAYS):
        water = min(1000.0, water + roof * inflow[day] - drawn[day] - leak * (day >= 30))
        if day % 4 == 1:
            dips.append((day, float(water + rng.normal(0, 4)), 4.0))
    return StoreDays(1000.0, 10.0, inflow, drawn, np.zeros(DAYS), None, tuple(dips))


def run(found: StoreDays, *begins: int):
    on = np.array([(np.arange(DAYS) >= b).astype(float) for b in begins])
    before = Beforehand((1.0, 0.2), (1.0, 0.03), (10.0, 15.0), (-0.25, 0.3))
    is_leak = np.ones(len(on), dtype=bool)
    return store_filter.run_bank(found, on, is_leak, before, 600.0)


def test_a_straight_store_is_filtered_as_by_the_textbook():
    """The joint normal of all dips, put together by hand, has the density that the filter adds up."""
    found = days(0.0, 1.0)
    bank = run(found, DAYS)
    # Jumps of each day and the four unknowns are normal: every dip is a straight sum of them.
    spread = np.array([250.0, 0.2, 0.03])
    rows, means, own = [], [], []
    for day, _, _ in found.dips:
        rain, drawn = found.inflow[: day + 1].sum(), found.drawn[: day + 1].sum()
        rows.append([1.0, rain, -drawn])
        means.append(600.0 + rain - drawn)
        noise = (
            (store_filter.INFLOW_NOISE * found.inflow) ** 2
            + (store_filter.DRAWN_NOISE * found.drawn) ** 2
            + store_filter.DAY_NOISE**2
        )
        own.append(noise[: day + 1].sum())
    rows = np.array(rows)
    covariance = rows @ np.diag(spread**2) @ rows.T + np.minimum.outer(own, own)
    covariance += np.diag([noise**2 for *_, noise in found.dips])
    from scipy import stats

    density = stats.multivariate_normal(means, covariance).logpdf([v for _, v, _ in found.dips])
    assert bank.log_evidence[0] == approx(density, rel=0.02)


def test_a_leak_is_found_by_when_and_how_much_and_the_roof_beside_it():
    bank = run(days(8.0, 0.85), DAYS, 10, 30, 45)
    assert int(np.argmax(bank.log_evidence)) == 2
    assert bank.mean[2, EXTRA] == approx(8.0, abs=1.5)
    assert bank.mean[2, ROOF] == approx(0.85, abs=0.08)


def test_an_empty_store_gives_nothing_and_a_dip_that_fits_nothing_is_passed_over():
    found = days(0.0, 1.0)
    dry = StoreDays(1000.0, 10.0, found.inflow * 0, found.drawn * 20, found.dries, None, ())
    bank = run(dry, DAYS)
    assert (bank.level >= 0).all()
    assert bank.drawn.sum() == approx(590.0, abs=1.0)
    odd = (*found.dips[:5], (found.dips[5][0], 5.0, 4.0), *found.dips[6:])
    strays = run(StoreDays(1000.0, 10.0, found.inflow, found.drawn, found.dries, None, odd), DAYS)
    assert strays.strays == (5,)
    assert strays.mean[0, WATER] == approx(run(found, DAYS).mean[0, WATER], abs=5)


def with_dips(found: StoreDays, dips) -> StoreDays:
    return StoreDays(1000.0, 10.0, found.inflow, found.drawn, found.dries, None, tuple(dips))


def test_a_store_that_somebody_emptied_goes_on_from_its_dips():
    found = days(0.0, 1.0)
    less = [
        (day, volume - 400.0 * (k >= 7), noise) for k, (day, volume, noise) in enumerate(found.dips)
    ]
    bank = run(with_dips(found, less), DAYS)
    assert bank.strays == (7,)
    assert bank.level[less[-1][0], 0] == approx(less[-1][1], abs=8)
    assert bank.mean[0, ROOF] == approx(run(found, DAYS).mean[0, ROOF], abs=0.03)


def test_the_last_dip_is_believed_and_tells_nothing_of_the_rest():
    found = days(0.0, 1.0)
    day, _, noise = found.dips[-1]
    bank = run(with_dips(found, [*found.dips[:-1], (day, 50.0, noise)]), DAYS)
    assert bank.strays == (len(found.dips) - 1,)
    assert bank.level[day, 0] == approx(50.0)
    assert bank.log_evidence[0] == approx(
        run(with_dips(found, found.dips[:-1]), DAYS).log_evidence[0]
    )
