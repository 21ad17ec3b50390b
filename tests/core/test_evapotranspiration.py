import numpy as np
import pandas as pd
import pyet
import pytest
from pytest import approx

from euhydra.core.evapotranspiration import hargreaves_samani, penman_monteith
from euhydra.core.radiation import extraterrestrial_radiation


@pytest.mark.parametrize(
    ("latitude", "day", "printed"),
    [
        (-20.0, 246, 32.2),  # FAO-56 example 8, p. 47
        (45.72, 196, 40.6),  # FAO-56 example 20, p. 78: Lyon, 15 July
    ],
)
def test_extraterrestrial_radiation_of_the_worked_examples(latitude, day, printed):
    assert extraterrestrial_radiation(latitude, np.array([float(day)]))[0] == approx(
        printed, abs=0.05
    )


def test_hargreaves_samani_lyon_in_july():
    # FAO-56 example 20, p. 78: Tmax 26.6, Tmin 14.8, Ra 40.6, printed ET0 5.0 mm/day
    et0 = hargreaves_samani(np.array([26.6]), np.array([14.8]), np.array([40.6]))
    assert et0[0] == approx(5.0, abs=0.05)


def test_agrees_with_an_independent_implementation():
    # pyet, hargreaves(method=0), a year at 41.2° N. It takes the latent heat of each day's
    # temperature where FAO-56 eq. 52 takes 2.45 MJ/kg, so its result is brought to that.
    days = pd.date_range("2021-01-01", "2021-12-31")
    season = np.cos(2 * np.pi * (days.dayofyear - 200) / 365)
    low, high = pd.Series(10 + 7 * season, days), pd.Series(20 + 9 * season, days)
    mean = (low + high) / 2
    theirs = pyet.hargreaves(mean, high, low, np.radians(41.2), method=0)
    theirs = theirs * pyet.calc_lambda(mean) / 2.45

    ra = extraterrestrial_radiation(41.2, days.dayofyear.to_numpy(float))
    assert ra == approx(pyet.extraterrestrial_r(days, np.radians(41.2)).to_numpy(), rel=0.002)
    ours = hargreaves_samani(high.to_numpy(), low.to_numpy(), ra)
    assert ours == approx(theirs.to_numpy(), rel=0.002)


def test_polar_night_and_day():
    ra = extraterrestrial_radiation(80.0, np.array([10.0, 172.0]))
    assert ra[0] == 0
    assert ra[1] > 40


def test_swapped_temperatures_are_refused():
    with pytest.raises(ValueError, match="day 2"):
        hargreaves_samani(np.array([20.0, 5.0]), np.array([10.0, 9.0]), np.array([30.0, 30.0]))


def test_penman_monteith_brussels_in_july():
    # FAO-56 example 18, p. 72: Brussels, 6 July, 100 m; Rs 22.07, u2 2.078; printed 3.9 mm/day.
    one = [np.array([v]) for v in (21.5, 12.3, 84.0, 63.0, 2.078, 22.07)]
    ra = extraterrestrial_radiation(50.8, np.array([187.0]))
    assert penman_monteith(*one, ra, 100.0)[0] == approx(3.9, abs=0.05)


def test_penman_monteith_agrees_with_an_independent_implementation():
    # pyet, pm_fao56, a year of made-up days at 41.2° N, 28 m.
    days = pd.date_range("2021-01-01", "2021-12-31")
    season = np.cos(2 * np.pi * (days.dayofyear - 200) / 365)
    rng = np.random.default_rng(5)
    low, high = pd.Series(10 + 7 * season, days), pd.Series(20 + 9 * season, days)
    dry = pd.Series(45 - 10 * season + rng.normal(0, 5, 365), days)
    damp = pd.Series(85 - 8 * season + rng.normal(0, 3, 365), days).clip(upper=100)
    wind = pd.Series(rng.gamma(4, 0.6, 365), days)
    ra = extraterrestrial_radiation(41.2, days.dayofyear.to_numpy(float))
    solar = pd.Series(ra * rng.uniform(0.3, 0.74, 365), days)
    theirs = pyet.pm_fao56(
        (low + high) / 2,
        wind,
        rs=solar,
        elevation=28.0,
        lat=np.radians(41.2),
        tmax=high,
        tmin=low,
        rhmax=damp,
        rhmin=dry,
    )
    series = (s.to_numpy() for s in (high, low, damp, dry, wind, solar))
    ours = penman_monteith(*series, ra, 28.0)
    assert ours.sum() == approx(theirs.sum(), rel=0.01)
    assert ours == approx(theirs.to_numpy(), rel=0.02)


def test_no_sky_is_darker_than_the_standard_has_it():
    # ASCE-EWRI (2005): the cloudiness function is that of 0.3 under any darker sky.
    ra = extraterrestrial_radiation(50.0, np.array([180.0]))
    clear = 0.75 * ra[0]

    def et0(share: float) -> tuple[float, float]:
        """With the sun's own part taken off: what is left follows the sky's warmth alone."""
        values = (24.0, 14.0, 80.0, 45.0, 2.0, share * clear)
        one = tuple(np.array([value]) for value in values)
        return float(penman_monteith(*one, ra, 0.0)[0]), share

    (dark, a), (darker, b), (limit, c) = et0(0.2), et0(0.1), et0(0.3)
    # Below the limit ET0 is straight in the sun alone.
    assert (dark - darker) / (a - b) == approx((limit - dark) / (c - a), rel=1e-9)
