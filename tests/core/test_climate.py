from dataclasses import replace

import numpy as np
import pytest
from pytest import approx

from euhydra.core import joining
from euhydra.core.climate import MonthlyNormals, climate_of_normals
from euhydra.core.climate_fit import climate_of_record
from euhydra.core.made_days import generate
from euhydra.core.weather import DailyWeather
from euhydra.formats import weather_csv
from euhydra.garden.climate_kinds import climate_kinds

NORMALS = MonthlyNormals(
    np.array([92, 78, 66, 61, 44, 21, 7, 12, 42, 86, 108, 104.0]),
    np.array([5, 6, 7, 9, 12, 16, 18, 19, 16, 13, 9, 7.0]),
    np.array([13, 13, 16, 18, 22, 26, 29, 29, 26, 21, 16, 13.0]),
    np.array([10, 9, 8, 8, 6, 3, 1.2, 1.5, 4, 8, 10, 11.0]),
)


MILD = climate_kinds()["maritime"].swings


def made(seed: int = 7, years: int = 30):
    return generate(climate_of_normals(NORMALS, MILD), 2001, years, np.random.default_rng(seed))


def test_means_of_the_months_are_the_normals():
    days = made()
    rain = np.bincount(days.month - 1, days.precip, 12) / 30
    assert rain == approx(NORMALS.precip, rel=1e-9)
    for month in range(1, 13):
        assert days.temp_max[days.month == month].mean() == approx(
            NORMALS.temp_max[month - 1], abs=0.9
        )


def test_wet_days_are_about_as_many_and_come_in_spells():
    days = made()
    wet = days.precip > 0
    january = days.month == 1
    assert wet[january].sum() / 30 == approx(10, abs=1.5)
    # Geng et al. (1986): rain is likelier after rain.
    after_wet, after_dry = wet[1:][wet[:-1]].mean(), wet[1:][~wet[:-1]].mean()
    assert after_wet > after_dry + 0.1


def test_same_seed_same_days_other_seed_others():
    assert (made(7).precip == made(7).precip).all()
    assert (made(7).precip != made(8).precip).any()


def test_years_differ():
    days = made()
    a_year = [days.precip[days.year == y].sum() for y in range(2001, 2031)]
    assert np.std(a_year) > 40


def test_the_coldest_hour_stays_below_the_warmest():
    days = made()
    assert (days.temp_min < days.temp_max).all()


def test_month_without_rain_stays_dry():
    dry = MonthlyNormals(
        np.r_[0.0, NORMALS.precip[1:]], NORMALS.temp_min, NORMALS.temp_max, np.full(12, np.nan)
    )
    days = generate(climate_of_normals(dry, MILD), 2001, 5, np.random.default_rng(1))
    assert days.precip[days.month == 1].sum() == 0


def seattle(file) -> DailyWeather:
    return weather_csv.read(file.read_text("utf-8"), {}).record()


def test_years_made_like_a_record_have_its_months_spells_and_swings(seattle_file):
    record = seattle(seattle_file)
    made_up = generate(climate_of_record(record, MILD), 2001, 40, np.random.default_rng(3))
    month = record.month
    for m in range(1, 13):
        here, there = record.precip[month == m], made_up.precip[made_up.month == m]
        assert there.mean() == approx(here.mean(), rel=0.02)  # scaled to it, leap days apart
        wet, wet_made = (here >= 0.2).mean(), (there > 0).mean()
        assert wet_made == approx(wet, abs=0.07)
        for name in ("temp_min", "temp_max"):
            mean = getattr(record, name)[month == m].mean()
            assert getattr(made_up, name)[made_up.month == m].mean() == approx(mean, abs=0.9)
    for series in (record, made_up):
        rain = series.precip >= 0.2
        assert rain[1:][rain[:-1]].mean() > rain[1:][~rain[:-1]].mean() + 0.2


def part(record: DailyWeather, days: slice) -> DailyWeather:
    series = {name: getattr(record, name)[days] for name in ("precip", "temp_min", "temp_max")}
    return DailyWeather.of(record.days[days], **series)


def test_two_records_join_to_one_and_what_neither_has_is_made_up(seattle_file):
    record = seattle(seattle_file)
    first, second = part(record, slice(0, 700)), part(record, slice(720, None))
    joined = joining.join(first, second, MILD, np.random.default_rng(1))
    assert (joined.record.days == record.days).all()
    assert joining.spans(joined.record.days, joined.is_made_up) == [("2013-12-01", "2013-12-20")]
    known = ~joined.is_made_up
    assert joined.record.precip[known] == approx(record.precip[known])
    assert (joined.record.temp_min < joined.record.temp_max).all()


def test_the_trusted_record_counts_where_two_disagree(seattle_file):
    record = seattle(seattle_file)
    other = replace(part(record, slice(0, 400)), precip=record.precip[:400] + 3.0)
    assert len(joining.disagreements(record, other)) == 400
    assert len(joining.disagreements(record, record)) == 0
    rng = np.random.default_rng(1)
    assert joining.join(record, other, MILD, rng).record.precip == approx(record.precip)
    assert joining.join(other, record, MILD, rng).record.precip[:400] == approx(other.precip)


def test_a_record_without_a_summer_cannot_be_fitted(seattle_file):
    with pytest.raises(ValueError, match="every month"):
        climate_of_record(part(seattle(seattle_file), slice(0, 100)), MILD)
