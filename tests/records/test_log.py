"""The log in the database: kept once, found, changed with its history, and taken out."""

from contextlib import closing
from datetime import datetime, timedelta

import pytest

from euhydra.garden.logbook import LogEntry
from euhydra.records import database, gardens, log, prices
from euhydra.records.log import Search


@pytest.fixture
def conn(tmp_path, demo_garden):
    with closing(database.connect(database.prepare(tmp_path))) as conn:
        gardens.create(conn, demo_garden)
        yield conn


def rain(day: int, mm: float = 5, note: str = "") -> LogEntry:
    return LogEntry("rain", datetime(2026, 6, day, 8), None, (mm / 1000,), "", note)


def test_the_same_entry_sent_twice_is_kept_once(conn):
    first = log.add(conn, 1, "phone-1", rain(1))
    again = log.add(conn, 1, "phone-1", rain(2, 9))
    assert first == (1, True)
    assert again == (1, False)
    assert [kept.entry for kept in log.find(conn, 1, Search())] == [rain(1)]
    assert log.add_all(conn, 1, [("phone-1", rain(1)), ("phone-2", rain(3))]) == (1, 1)


def test_found_by_kind_part_and_words(conn):
    dip = LogEntry("dip", datetime(2026, 6, 5, 9), "shed-barrel", (0.4,), "", "100% full of leaves")
    log.add_all(conn, 1, [(str(i), e) for i, e in enumerate((rain(1), rain(2, 7, "hail"), dip))])
    assert [k.entry for k in log.find(conn, 1, Search("rain"))] == [rain(2, 7, "hail"), rain(1)]
    assert [k.entry for k in log.find(conn, 1, Search(text="hail"))] == [rain(2, 7, "hail")]
    assert [k.entry for k in log.find(conn, 1, Search(text="0% f"))] == [dip]
    assert log.find(conn, 1, Search(text="_")) == []  # an underscore is no wildcard
    assert [k.entry for k in log.find(conn, 1, Search(text="barrel", parts=("shed-barrel",)))] == [
        dip
    ]
    assert log.in_order(conn, 1, datetime(2026, 6, 2), "rain") == [rain(2, 7, "hail")]


def test_a_change_keeps_what_was_and_removal_can_be_undone(conn):
    entry_id, _ = log.add(conn, 1, "a", rain(1))
    before = log.state(conn, 1)
    log.change(conn, 1, entry_id, rain(1, 8))
    assert log.one(conn, 1, entry_id).entry == rain(1, 8)
    assert [was for was, _ in log.history(conn, entry_id)] == [rain(1)]
    log.change(conn, 1, entry_id, rain(1, 8))  # nothing new: no history
    assert len(log.history(conn, entry_id)) == 1
    there = log.state(conn, 1)
    assert there != before
    log.set_removed(conn, 1, entry_id, True)
    assert log.find(conn, 1, Search()) == []
    assert log.count(conn, 1) == 0
    assert log.span(conn, 1) is None
    assert log.state(conn, 1) != there
    log.set_removed(conn, 1, entry_id, False)
    assert log.count(conn, 1) == 1
    assert log.span(conn, 1) == (rain(1).at.date(), rain(1).at.date())
    assert log.state(conn, 1) == there
    with pytest.raises(log.NoSuchEntryError):
        log.change(conn, 2, entry_id, rain(1))


def test_meters_have_neighbours(conn):
    start = datetime(2026, 6, 1, 8)
    for i, reading in enumerate((10.0, 12.0, 15.0)):
        log.add(
            conn,
            1,
            str(i),
            LogEntry("meter", start + timedelta(days=i), "garden-tap", (reading,), "same"),
        )
    between = LogEntry("meter", start + timedelta(days=1, hours=2), "garden-tap", (13.0,), "same")
    around = log.meter_around(conn, 1, between)
    assert (around.before, around.after) == (12.0, 15.0)
    other = log.meter_around(conn, 1, LogEntry("meter", start, "shed-timer", (1.0,)))
    assert (other.before, other.after) == (None, None)


def test_prices_and_ticks_are_remembered(conn):
    prices.put_prices(conn, {"hose": (15.0, 12.5)})
    prices.put_prices(conn, {"hose": (25.0, 20.0)})
    assert prices.all_prices(conn) == {"hose": (25.0, 20.0)}
    prices.tick(conn, 1, "step", "gather", True)
    prices.tick(conn, 1, "step", "gather", True)
    assert list(prices.ticked(conn, 1, "step")) == ["gather"]
    prices.tick(conn, 1, "step", "gather", False)
    assert prices.ticked(conn, 1, "step") == {}
