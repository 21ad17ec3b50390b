"""Price table and log as CSV: what goes out comes back; what is wrong names its line."""

import csv
from datetime import datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pytest import approx

from euhydra.formats import cells, log_csv, prices_csv, report_csv
from euhydra.formats.log_csv import LogFileError, LogRow
from euhydra.formats.prices_csv import PriceFileError, PriceRow
from euhydra.formats.report_csv import ReportRow
from euhydra.garden import edits
from euhydra.garden.logbook import LogEntry
from euhydra.garden.quantities import System

NOW = datetime(2026, 7, 10, 12, 0)

ENTRIES = [
    LogEntry("rain", datetime(2026, 6, 1, 8, 5), None, (0.0123,), "", "a, “b”; c\nand d"),
    LogEntry("cups", datetime(2026, 6, 2, 9), "top-line-1", (60.0, 12e-6, 11e-6, 9.5e-6)),
    LogEntry("setting", datetime(2026, 6, 3, 9), "top-timer", (1200.0, None)),
    LogEntry("finger", datetime(2026, 6, 4, 9), "top-bed", (), "muddy"),
    LogEntry("meter", datetime(2026, 6, 5, 9), "garden-tap", (12345.678,), "same"),
]


@pytest.mark.parametrize("system", System)
def test_the_log_comes_back_as_it_went_out(demo_garden, system):
    garden = edits.replace(demo_garden, units=system)
    text = log_csv.write((LogRow(str(i), e) for i, e in enumerate(ENTRIES)), garden)
    back = log_csv.read(text, garden, NOW)
    assert [row.id for row in back] == ["0", "1", "2", "3", "4"]
    for row, entry in zip(back, ENTRIES, strict=True):
        same = ("kind", "at", "part_id", "word", "note")
        assert all(getattr(row.entry, name) == getattr(entry, name) for name in same)
        for found, meant in zip(row.entry.amounts, entry.amounts, strict=True):
            assert found == (None if meant is None else approx(meant, rel=1e-6))


def test_an_entry_about_a_part_that_is_gone_comes_back_too(demo_garden):
    text = log_csv.write([LogRow("1", ENTRIES[3])], demo_garden)
    without = edits.remove(demo_garden, "top-bed")
    (row,) = log_csv.read(text, without, NOW)
    assert row.entry == ENTRIES[3]
    with pytest.raises(LogFileError, match="not the id of any part"):
        log_csv.read(text.replace("top-bed", "<b>"), without, NOW)


@pytest.mark.parametrize(
    ("line", "said"),
    [
        ("1,2026-06-01T08:00,rain,,,,depth=3 m,", "Line 2: “3 m” cannot be"),
        ("1,2027-06-01T08:00,rain,,,,depth=3 mm,", "in the future"),
        ("1,,rain,,,,depth=3 mm,", "There is no time"),
        ("1,2026-06-01T08:00,moon,,,,,", "Choose what"),
    ],
)
def test_a_wrong_line_of_a_log_is_named(demo_garden, line, said):
    text = "id,when,kind,about,about_id,word,amounts,note\n" + line + "\n"
    with pytest.raises(LogFileError, match=said):
        log_csv.read(text, demo_garden, NOW)


def test_a_table_that_is_no_log_says_how_one_begins(demo_garden):
    with pytest.raises(LogFileError, match="no column “when”"):
        log_csv.read("a,b\n1,2\n", demo_garden, NOW)


def test_what_is_no_table_at_all_is_said_so(demo_garden):
    monster = "when,kind,note\n" + "x" * 200_000 + ",rain,\n"
    with pytest.raises(LogFileError, match="not a table"):
        log_csv.read(monster, demo_garden, NOW)
    with pytest.raises(PriceFileError, match="not a table"):
        prices_csv.read("good,pack,price\n" + "x" * 200_000 + ",1,1\n")


def test_prices_come_back_and_wrong_ones_are_named():
    rows = [
        PriceRow("hose", "Hose, 13 mm", 50, "ft", 12.5),
        PriceRow("tee", "Tee", 5, "", 3.0),
    ]
    assert prices_csv.read(prices_csv.write(rows)) == rows
    assert [row.holds for row in rows] == [approx(15.24), 5]
    assert prices_csv.read("good,pack,price\nhose,15,12.5\n")[0].holds == 15  # in metres, as before
    for line, said in (
        ("hose,,15,-1", "Line 2: a price of -1 is below nothing"),
        ("hose,,0,1", "holds nothing"),
        ("hose,,15,dear", "no number"),
        (",,15,1", "no name"),
        ("hose,,15,nan", "no price"),
    ):
        with pytest.raises(PriceFileError, match=said):
            prices_csv.read(f"good,name,pack,price\n{line}\n")
    with pytest.raises(PriceFileError, match="no column “pack”"):
        prices_csv.read("good,price\nhose,1\n")


@given(st.text(max_size=20))
def test_no_cell_is_a_formula_and_every_cell_comes_back(text):
    out = cells.guarded(text)
    assert cells.plain(out) == text
    if out.startswith(cells.BEGINS_FORMULA):
        float(out)  # then it is a number


@pytest.mark.parametrize(
    "note", ["=HYPERLINK(1)", "-2 leaves", "'=quoted", "@shed", "+++", "plain", "-5"]
)
def test_a_note_that_looks_like_a_formula_is_no_formula_in_the_table(demo_garden, note):
    row = LogRow("a", LogEntry("note", datetime(2026, 6, 1, 8), None, (), "", note))
    text = log_csv.write([row], demo_garden)
    (cell,) = [line[-1] for line in csv.reader(text.splitlines()[1:])]
    assert not cell.startswith(("=", "@", "+")) or cell == note == "-5"
    assert log_csv.read(text, demo_garden, NOW) == [row]


def test_a_bed_s_name_is_no_formula_in_any_table():
    name = "=cmd()"
    assert "'=cmd()" in report_csv.write([ReportRow("bed", name, "dry_days", 3)])
    assert "'=cmd()" in prices_csv.write([PriceRow("x", name, 1, "", 2)])
    assert "\nbed,Top step,watered_m3,-0.25\n" in report_csv.write(
        [ReportRow("bed", "Top step", "watered_m3", -0.25)]
    )
