"""Entries of the log in words, and as one would type them again."""

from datetime import datetime

import pytest
from pytest import approx

from euhydra.garden import demo, logbook
from euhydra.garden.logbook import LogEntry, entry_kinds
from euhydra.garden.quantities import System
from euhydra.web import log_words

AT = datetime(2026, 6, 21, 7, 30)


@pytest.mark.parametrize(
    ("entry", "metric", "us"),
    [
        (LogEntry("rain", AT, None, (0.015,)), "15 mm", "0.591 in"),
        (LogEntry("dip", AT, "shed-barrel", (0.57,)), "57 cm", "22.4 in"),
        (LogEntry("meter", AT, "garden-tap", (231.4132,), "same"), "231,413 L", "61,133 gal"),
        (
            LogEntry("meter", AT, "garden-tap", (0.0,), "new"),
            "a new or reset meter, 0 L",
            "a new or reset meter, 0 gal",
        ),
        (LogEntry("flow", AT, "shed-timer", (0.002, 300.0), "whole"), "24 L/h", "6.34 gal/h"),
        (
            LogEntry("cups", AT, "top-bed", (60.0, 12e-6, 11e-6, 13e-6, 9e-6)),
            "4 cups, 11.3 mL",
            "4 cups, 0.38 fl oz",
        ),
        (
            LogEntry("cups", AT, "top-bed", (60.0, 0.0, 0.0)),
            "2 cups, all empty",
            "2 cups, all empty",
        ),
        (LogEntry("finger", AT, "top-bed", (), "muddy"), "muddy", "muddy"),
        (
            LogEntry("setting", AT, "top-timer", (1800.0, 172800.0)),
            "now runs 30 min, every 2 days",
            "now runs 30 min, every 2 days",
        ),
        (
            LogEntry("setting", AT, "top-timer", (1800.0, None)),
            "now runs 30 min",
            "now runs 30 min",
        ),
        (LogEntry("battery", AT, "top-timer"), "", ""),
    ],
)
def test_amounts_are_told_in_the_reader_s_units(entry, metric, us):
    assert log_words.said(entry, System.METRIC).startswith(metric)
    assert log_words.said(entry, System.US).startswith(us)


@pytest.mark.parametrize("system", list(System))
@pytest.mark.parametrize(
    "entry",
    [
        LogEntry("rain", AT, None, (0.0123,)),
        LogEntry("meter", AT, "garden-tap", (231.413,), "same"),
        LogEntry("flow", AT, "shed-timer", (0.00215, 305.0), "whole"),
        LogEntry("cups", AT, "top-bed", (60.0, 12.5e-6, 11e-6, 13e-6, 9e-6), "", "windy"),
        LogEntry("setting", AT, "top-timer", (1800.0, None)),
        LogEntry("feed", AT, "shed-barrel", (0.00175,), "", "seaweed"),
        LogEntry("harvest", AT, "top-bed", (1.234,)),
    ],
)
def test_an_entry_saved_as_it_stands_stays_what_it_was(entry, system):
    """The form of an entry, sent without a change, loses at most the last digit shown."""
    garden = demo.garden().model_copy(update={"units": system})
    typed = log_words.typed_of(entry, system)
    again = logbook.read(typed, garden, datetime(2026, 7, 1))
    assert (again.kind, again.at, again.part_id, again.word, again.note) == (
        entry.kind,
        entry.at,
        entry.part_id,
        entry.word,
        entry.note,
    )
    assert len(again.amounts) == len(entry.amounts)
    for now, before in zip(again.amounts, entry.amounts, strict=True):
        assert now == (before if before is None else approx(before, rel=1e-3))


def test_a_kind_that_nothing_here_could_be_about_is_not_offered():
    bare = demo.garden().model_copy(update={"timers": (), "pumps": ()})
    offered = {k.kind.id: k for k in log_words.kinds_shown(bare)}
    assert offered["battery"].needs_part
    assert not offered["rain"].needs_part
    assert set(offered) == set(entry_kinds())
