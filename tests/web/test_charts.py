"""Series of the charts: in the reader's units, and in the order of the season."""

from datetime import date

import pytest

from euhydra.garden.quantities import System
from euhydra.planner.learning.report import RainTold, SeasonReport
from euhydra.web.drawing import charts


def report(first):
    litres = tuple(float(10 * month) for month in range(1, 13))
    rain = RainTold(0.1, first, 0.0, False)
    return SeasonReport(first, date(2026, 11, 25), rain, litres, litres, (), (), (), (), ())


@pytest.mark.parametrize(
    ("first", "begins"), [(date(2026, 1, 1), "Jan"), (date(2026, 7, 1), "Jul")]
)
def test_a_season_s_chart_begins_with_its_first_month(first, begins):
    chart = charts.season_chart(report(first), System.METRIC)
    assert chart.labels[0] == begins
    of = dict(zip(chart.labels, chart.given, strict=True))
    assert (of["Jan"], of["Jul"], of["Dec"]) == (10, 70, 120)


def test_it_is_shown_in_gallons_where_those_are_read():
    chart = charts.season_chart(report(date(2026, 1, 1)), System.US)
    assert chart.unit == "gal"
    assert chart.given[11] == pytest.approx(
        120 / 3.785411784, abs=0.01
    )  # a US gallon is 231 cubic inches
