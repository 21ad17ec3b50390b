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


BUDGETED_LOOP = 0.7
"""Time of the plain loop on the machine that the budgets are for. [s]"""


def plain_loop(additions: int = 10_000_000) -> float:
    """Time for ten million additions to a name of a module, in its dictionary: how fast the machine is now. [s]

    A loop on a function's own names says little: it runs in the processor alone, as a program does not.

    Parameters
    ----------
    additions : That are done. The time is reckoned for ten million.
    """
    started = time.perf_counter()
    exec(f"for number in range({additions}): total += number", {"total": 0})
    return (time.perf_counter() - started) * 10_000_000 / additions


@pytest.hookimpl(wrapper=True)
def pytest_runtest_call(item):
    """Says of each measurement how much slower the machine was just then than the one of the budgets."""
    already, before = len(LINES), plain_loop(1_000_000)
    try:
        return (yield)
    finally:
        slower = (before + plain_loop(1_000_000)) / 2 / BUDGETED_LOOP
        LINES[already:] = [f"{line} ×{slower:.1f}" for line in LINES[already:]]


def pytest_sessionstart(session):
    LINES.append(f"the machine, before: a plain loop of ten million additions {plain_loop():.2f} s")


def pytest_terminal_summary(terminalreporter):
    LINES.append(
        f"the machine, after: {plain_loop():.2f} s. Budgets are for one of {BUDGETED_LOOP} s; "
        "× is how much slower it was before and after each measurement"
    )
    terminalreporter.section("against the budgets")
    for line in LINES:
        terminalreporter.write_line(line)
