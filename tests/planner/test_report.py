"""The season told: water by source, meters against sums, rain and whose it is, what fingers found."""

from dataclasses import replace
from datetime import date, datetime, timedelta

import pytest
from pytest import approx

from euhydra.garden import demo, normals
from euhydra.garden.logbook import LogEntry
from euhydra.planner import chain
from euhydra.planner.keeping import growing_year, hindcast
from euhydra.planner.learning.accounts import accounts
from euhydra.planner.learning.answer import learned
from euhydra.planner.learning.claim import Claim, ClaimKind
from euhydra.planner.learning.report import report

TODAY = date(2026, 7, 20)


def ago(days, hour=9):
    return datetime(TODAY.year, TODAY.month, TODAY.day, hour) - timedelta(days=days)


@pytest.fixture(scope="module")
def planned():
    return chain.run_chain(demo.garden(), normals.make_days(demo.normals(), 4))


def read(planned, *entries):
    return learned(hindcast.hindcast(planned, sorted(entries, key=lambda e: e.at), TODAY))


def meter(days_ago, cubic, word="same", part="garden-tap"):
    return LogEntry("meter", ago(days_ago), part, (cubic,), word)


def test_the_season_told(planned):
    found = report(
        read(
            planned,
            meter(60, 100.0),
            meter(30, 101.5),
            meter(20, 0.0, "new"),
            meter(10, 0.5),
            LogEntry("harvest", ago(5, 18), "top-bed", (1.5,), "", "first red ones"),
            LogEntry("harvest", ago(2, 18), "top-bed", (0.5,)),
            LogEntry("finger", ago(9), "top-bed", (), "dry"),
            LogEntry("finger", ago(6), "top-bed", (), "right"),
        )
    )
    tap = next(row for row in found.sources if row.name == "Garden tap")
    assert tap.metered == approx(2.0)
    assert tap.money == approx(2.0 * 2.15)
    bed = next(row for row in found.beds if row.name == "Top step")
    assert (bed.harvest_kg, bed.notes) == (2.0, ("first red ones",))
    assert (bed.felt, bed.felt_dry) == (2, 1)
    assert sum(found.given) == approx(1000 * sum(row.watered for row in found.beds), rel=1e-9)
    assert found.given[0] == 0  # nothing is watered in January
    assert found.drunk[TODAY.month - 1] > 0
    assert found.drunk[TODAY.month :] == (0,) * (12 - TODAY.month)  # nothing after today


def test_a_store_is_metered_where_each_of_its_timers_is(planned):
    plain = read(planned)
    store = next(store for store in plain.stores for flow in plain.flows if _is_on(flow, store))
    timers = [flow.ran.head_id for flow in plain.flows if _is_on(flow, store)]
    readings = [meter(d, c, part=t) for t in timers for d, c in ((30, 3.0), (10, 3.4))]
    row = _row(report(read(planned, *readings)), store)
    assert row.metered == approx(0.4 * len(timers))
    assert _row(report(read(planned, *readings[1:])), store).metered is None


def _is_on(flow, store):
    return flow.ran.zone.group is not None and flow.ran.zone.group.id == store.group.id


def _row(found, store):
    return next(row for row in found.sources if row.name == store.group.name)


def test_rain_is_the_gauge_s_and_before_it_the_record_s(planned):
    gauge = [
        LogEntry("rain", ago(40, 12), None, (0.004,)),
        LogEntry("rain", ago(12, 8), None, (0.011,)),
    ]
    known = read(planned, *gauge)
    rain = report(known).rain
    assert rain.gauge == approx(0.015)
    assert rain.since == ago(40).date()
    before = known.told.record.precip[: known.told.day(ago(40))].sum() / 1000
    assert rain.before == approx(before)
    assert rain.is_usual  # the record is of other years
    assert rain.said.code == "keeping-rain-gauge-usual"
    assert report(read(planned)).rain.said.code == "keeping-rain-no-gauge-usual"


def as_the_sums_have_it(planned, more=1.0):
    """Readings of the tap every ten days that count what the sums have, or a multiple of it."""
    (book,) = read(planned, meter(60, 0.0), meter(1, 1.0)).taps
    daily = sum(book.as_set, book.cans + book.other)
    begun = len(daily) - 61
    so_far = [float(daily[begun : begun + 10 * n].sum()) * more for n in range(6)]
    return [meter(60 - 10 * n, litres / 1000) for n, litres in enumerate(so_far)]


def test_meter_and_sums_agree_where_all_is_as_planned(planned):
    (account,) = accounts(read(planned, *as_the_sums_have_it(planned)))
    assert account.metered == approx(account.summed, rel=0.02)
    assert len(account.said) == 1


def test_what_a_meter_counts_more_is_told_with_what_explains_it(planned):
    known = read(planned, *as_the_sums_have_it(planned, 1.5))
    (account,) = accounts(replace(known, claims=()))
    assert account.rest == approx(account.metered - account.summed)
    assert account.said[-1].code == "account-rest-more"
    since = ago(30).date()
    leak = Claim(ClaimKind.LEAK, "garden-tap", "Garden tap", 10.0, 8, 12, since, None, 0.99)
    (account,) = accounts(replace(known, claims=(leak,)))
    assert account.leaked == approx(10.0 * (account.last - since + timedelta(days=1)).days)
    parts = account.summed + account.leaked + account.by_lines + account.rest
    assert parts == approx(account.metered)


def test_a_new_meter_leaves_its_gap_out(planned):
    readings = [meter(60, 5.0), meter(50, 6.0), meter(40, 0.0, "new"), meter(30, 1.0)]
    (account,) = accounts(read(planned, *readings))
    assert account.metered == approx(2000)
    assert account.first == ago(59).date()  # that day had been watered when it was read


@pytest.mark.parametrize(
    ("day", "latitude", "first", "name"),
    [
        (date(2026, 3, 1), 45, date(2026, 1, 1), "2026"),
        (date(2026, 3, 1), -34, date(2025, 7, 1), "2025/26"),
        (date(2026, 7, 1), -34, date(2026, 7, 1), "2026/27"),
    ],
)
def test_the_growing_year_runs_from_winter_to_winter(day, latitude, first, name):
    assert growing_year.begins(day, latitude) == first
    assert growing_year.name_of(first) == name
    assert growing_year.begins(growing_year.ends(first), latitude) == first
    years = growing_year.between(first - timedelta(days=1), day, latitude)
    assert [year.year for year in years] == [first.year, first.year - 1]
