"""Prints each measurement beside its budget. Nothing here passes or fails on time."""

import sys
from pathlib import Path

import pytest

sys.path.insert(0, str(Path(__file__).parents[1] / "tests"))  # networks.py, engine.py

LINES: list[str] = []


@pytest.fixture
def report():
    """Adds a line to the summary."""
    return LINES.append


def milliseconds(seconds: float) -> str:
    """A time as it is printed."""
    return f"{seconds * 1000:.1f} ms"


def percentile(benchmark, share: float) -> float:
    """Time that `share` of the rounds stayed under. [s]"""
    times = benchmark.stats.stats.sorted_data
    return times[min(len(times) - 1, int(share * len(times)))]


def pytest_terminal_summary(terminalreporter):
    terminalreporter.section("against the budgets")
    for line in LINES:
        terminalreporter.write_line(line)
