"""What may be written into the log, and what is said of the rest."""

from datetime import datetime

import pytest
from pytest import approx

from euhydra.garden import edits, logbook
from euhydra.garden.logbook import EntryError, LogEntry, MeterNeighbours
from euhydra.garden.quantities import System

NOW = datetime(2026, 7, 10, 12, 0)


def read(garden, **typed):
    return logbook.read({"at": "2026-07-10T08:15"} | typed, garden, NOW)


def test_every_kind_is_read_in_the_gardens_units(demo_garden):
    rain = read(demo_garden, kind="rain", depth="12.5 mm", note=" after the storm ")
    assert (rain.amounts, rain.note) == ((0.0125,), "after the storm")
    american = edits.replace(demo_garden, units=System.US)
    assert read(american, kind="rain", depth="0.5").amounts[0] == approx(0.0127)
    cups = read(
        demo_garden, kind="cups", part="top-line-1", seconds="60 s", cups="12 mL, 11 mL, 13, 9 mL"
    )
    assert cups.amounts == approx((60.0, 12e-6, 11e-6, 13e-6, 9e-6))
    setting = read(demo_garden, kind="setting", part="top-timer", run="20 min", every="2 days")
    assert setting.amounts == (1200.0, 172800.0)
    assert read(demo_garden, kind="setting", part="top-timer", run="0 min").amounts == (0.0, None)
    assert read(demo_garden, kind="finger", part="top-bed", word="muddy").word == "muddy"


@pytest.mark.parametrize(
    ("typed", "field", "said"),
    [
        ({"kind": "dip", "part": "shed-barrel", "depth": "140 cm"}, "depth", "112 cm to its rim"),
        ({"kind": "rain", "depth": "3 m"}, "depth", "check the unit"),
        (
            {"kind": "flow", "part": "top-timer", "volume": "900 L", "seconds": "1 s"},
            "seconds",
            "check the bucket and the time",
        ),
        ({"kind": "rain", "depth": "much"}, "depth", "not understood"),
        ({"kind": "rain", "depth": "5", "at": "2026-08-01T08:00"}, "at", "in the future"),
        ({"kind": "rain", "depth": "5", "at": "yesterday"}, "at", "not understood as a time"),
        ({"kind": "finger", "part": "top-bed", "word": "wettish"}, "word", "Choose one"),
        ({"kind": "finger", "word": "dry"}, "part", "Say what it is about"),
        ({"kind": "finger", "part": "gone-bed", "word": "dry"}, "part", "not in the garden"),
        (
            {"kind": "cups", "part": "top-line-1", "seconds": "60", "cups": "12 mL"},
            "cups",
            "at least two",
        ),
        ({"kind": "note", "note": "x" * 5000}, "note", "shorten"),
        ({"kind": "moon"}, "kind", "Choose what"),
    ],
)
def test_what_cannot_be_says_where_and_what_to_do(demo_garden, typed, field, said):
    with pytest.raises(EntryError) as error:
        read(demo_garden, **typed)
    assert said in error.value.faults[field]


def test_a_watch_may_be_ahead_by_a_time_zone(demo_garden):
    assert read(demo_garden, kind="note", at="2026-07-11T01:00").at.day == 11


def test_a_meter_does_not_run_backwards():
    entry = LogEntry("meter", NOW, "garden-tap", (120.0,), "same")
    logbook.check_meter(entry, MeterNeighbours(119.0, 121.0), System.METRIC)
    with pytest.raises(EntryError, match="stood at 130,000 L"):
        logbook.check_meter(entry, MeterNeighbours(130.0, None), System.METRIC)
    with pytest.raises(EntryError, match="later entry"):
        logbook.check_meter(entry, MeterNeighbours(None, 110.0), System.METRIC)
    new = LogEntry("meter", NOW, "garden-tap", (0.0,), "new")
    logbook.check_meter(new, MeterNeighbours(130.0, None), System.METRIC)
