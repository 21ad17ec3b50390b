"""What a bed drinks, beside the rule that gardeners know."""

import numpy as np
import pytest
from pytest import approx

from euhydra.core.weather import SERIES, DailyWeather
from euhydra.garden import demo, normals
from euhydra.planner.dates import MONTH_NAMES
from euhydra.planner.need import daily, usual_year
from euhydra.planner.need.answer import MISLEADS, answer_need, peaks_of
from gardens import one_barrel, with_part

MONTH_DAYS = (31, 28.25, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31)

RECORD = normals.make_days(demo.normals(), 6)


@pytest.fixture(scope="module")
def answer():
    garden = one_barrel()
    return answer_need(daily.need_of(garden.beds[0], garden, RECORD), garden)


def test_litres_are_depth_times_area_and_cans_hold_ten(answer):
    july = answer.months[6]
    net = float(answer.need.net_a_day[6])
    assert july.given.amount.value * 1000 == approx(net * 2.7)
    assert july.cans == approx(net * 2.7 / 10)
    assert answer.months[0].given is None  # peppers do not stand in January
    assert answer.peak.month in (7, 8)


def test_an_inch_a_week(answer):
    # Common practice: 25.4 mm a week; on 2.7 m² that is 9.8 L a day.
    assert answer.months[6].rule == approx(25.4 / 7 * 2.7)
    rule = answer.figures[-1]
    assert rule.amount.value * 1000 == approx(9.797, abs=0.001)


def test_what_is_given_is_never_more_than_what_is_drunk_over_a_season(answer):
    given = sum(m.given.amount.value for m in answer.months if m.given)
    drunk = sum(m.drinks.amount.value for m in answer.months if m.drinks)
    assert 0 < given < drunk


def test_the_verdict_says_where_the_rule_misleads(answer):
    said = " ".join(str(reason) for reason in answer.verdict.reasons)
    july = answer.months[6]
    off = july.rule / (july.given.amount.value * 1000) - 1
    if abs(off) > MISLEADS:
        assert "An inch a week would" in said
    may = answer.months[4]
    assert may.rule > may.given.amount.value * 1000  # young plants, spring rain
    assert "times that in" in said


def test_both_ways_are_shown_where_the_weather_allows(answer):
    labels = [f.label for f in answer.grass]
    assert sum("Short grass" in label for label in labels) == 1
    garden, days = one_barrel(), len(RECORD.days)
    full = type(RECORD)(
        RECORD.days,
        RECORD.precip,
        RECORD.temp_min,
        RECORD.temp_max,
        np.full(days, np.nan),
        np.full(days, 50.0),
        np.full(days, 85.0),
        np.full(days, 2.0),
        np.full(days, 16.0),
    )
    both = answer_need(daily.need_of(garden.beds[0], garden, full), garden)
    shown = [f for f in both.grass if "Short grass" in f.label]
    assert [("Penman" in f.label, "Hargreaves" in f.label) for f in shown] == [
        (True, False),
        (False, True),
    ]
    assert shown[0].amount.value == approx(both.need.et0.mean() * 365.25 / 1000)


def test_a_bed_that_the_rain_carries_asks_for_nothing():
    garden = with_part(one_barrel(), "beds", planting={"month": 11, "day": 1}, crop="pepper")
    wet = normals.make_days(demo.normals() | {"precip_mm": [300.0] * 12}, 2)
    answer = answer_need(daily.need_of(garden.beds[0], garden, wet), garden)
    assert answer.verdict.summary.code == "need-rain-soil-carry"


def test_every_bed_at_its_peak_the_thirstiest_first():
    garden = demo.garden()
    needs = [daily.need_of(part, garden, RECORD) for part in garden.planted]
    peaks = peaks_of(needs)
    assert len(peaks) == len(needs)
    assert [p.cans for p in peaks] == sorted((p.cans for p in peaks), reverse=True)
    for peak in peaks:
        own = next(n for n in needs if n.part.name == peak.name)
        litres = own.net_a_day * own.area_m2
        assert peak.month == litres.argmax() + 1
        assert peak.litres.amount.value * 1000 == approx(litres.max())
        assert peak.year.amount.value * 1000 == approx(own.year_litres)


def test_an_edit_elsewhere_leaves_a_need_as_it_was_and_one_here_does_not():
    garden = demo.garden()
    before = daily.need_of(garden.beds[0], garden, RECORD)
    raised = with_part(garden, "stores", 2, stand_m=0.9)
    assert daily.need_of(raised.beds[0], raised, RECORD) is before
    for changed in (
        with_part(garden, "beds", mulch="thick"),
        garden.model_copy(update={"place": garden.place.model_copy(update={"latitude_deg": 50.0})}),
    ):
        assert daily.need_of(changed.beds[0], changed, RECORD) is not before
    again = normals.make_days(demo.normals(), 6)  # alike, but another record
    assert daily.need_of(garden.beds[0], garden, again) is not before
    salad = next(bed for bed in garden.beds if bed.id == "bottom-bed")
    later = with_part(garden, "plantings", planting={"month": 10, "day": 1})
    assert daily.need_of(salad, later, RECORD) is not daily.need_of(salad, garden, RECORD)


def test_a_mean_year_is_that_of_the_months_it_is_made_of():
    months = demo.normals()["precip_mm"]
    told = usual_year.told_of(RECORD).values
    assert told["rain"].value == approx(sum(months) / 1000, rel=0.01)
    depths = [mm / days for mm, days in zip(months, MONTH_DAYS, strict=True)]
    assert told["driest"] == MONTH_NAMES[depths.index(min(depths))]
    assert told["wettest"] == MONTH_NAMES[depths.index(max(depths))]
    assert usual_year.told_of(RECORD.last_years(1)) is not None
    summers = DailyWeather.of(
        RECORD.days[RECORD.month > 4],
        **{name: getattr(RECORD, name)[RECORD.month > 4] for name in SERIES},
    )
    assert usual_year.told_of(summers) is None
