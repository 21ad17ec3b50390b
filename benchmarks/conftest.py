"""Prints each measurement beside its budget. Nothing here passes or fails on time."""

import sys
import time
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


def plain_loop() -> float:
    """Ten million additions to a name of a module, in its dictionary: how fast the machine is now. [s]

    A loop on a function's own names says little: it runs in the processor alone, as a program does not.
    """
    started = time.perf_counter()
    exec("for number in range(10_000_000): total += number", {"total": 0})
    return time.perf_counter() - started


def pytest_sessionstart(session):
    LINES.append(f"the machine, before: a plain loop of ten million additions {plain_loop():.2f} s")


def pytest_terminal_summary(terminalreporter):
    LINES.append(f"the machine, after: {plain_loop():.2f} s (budgets are for one of 0.7 s)")
    terminalreporter.section("against the budgets")
    for line in LINES:
        terminalreporter.write_line(line)
