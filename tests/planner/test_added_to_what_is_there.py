"""What is added and drinks from a source that is there: it is laid so that it works, however low its water stands."""

import pytest

from beginnings import begun, place
from euhydra.planner.beginning import ways
from euhydra.planner.beginning.asks import way_kinds
from euhydra.planner.chain import run_chain
from euhydra.planner.judgement.answer import judge
from euhydra.planner.judgement.finding import Severity
from sweeps import swept

FED = [key for key, way in way_kinds().items() if key != "empty" and not way.is_source]
"""Ways that may drink from what is there."""

SOURCES = [
    ("cellar", "store"),
    ("terraces", "store-2"),
    ("terraces", "tap"),
    ("overflowing", "store"),
]
"""Tanks in the ground, barrels a terrace lower, a tap, barrels on the ground."""

LOW = [("cellar", "store"), ("terraces", "store-2")]

OF_THE_SOURCE = {"store-too-small", "store-too-little-comes", "lay-tank-too-low-for-floats"}
"""That a source holds too little for more, or wants a higher stand, is told with its cures, and cannot be laid away."""

SUFFERS = Severity.PLANTS_SUFFER.weight


def added(base: str, source: str, way: str):
    return ways.begin(begun(base), way_kinds()[way], {}, place("Brussels")[1], source)


@pytest.mark.parametrize(
    ("base", "source", "way"),
    swept(
        [(base, source, way) for base, source in SOURCES for way in FED],
        [
            ("cellar", "store", "tap"),
            ("cellar", "store", "towers"),
            ("terraces", "store-2", "pairs"),
            ("terraces", "store-2", "planters"),
            ("terraces", "tap", "patio"),
        ],
    ),
)
def test_what_is_added_is_laid_so_that_it_works(base, source, way):
    before = {
        finding.key for finding in judge(run_chain(begun(base), place("Brussels")[1])).findings
    }
    judged = judge(run_chain(added(base, source, way), place("Brussels")[1]))
    new = [finding for finding in judged.findings if finding.key not in before]
    assert {f.code for f in new if f.severity.weight <= SUFFERS} <= OF_THE_SOURCE
    assert "lay-threads-do-not-mate" not in {f.code for f in new}


@pytest.mark.parametrize(("base", "source"), LOW)
def test_water_that_stands_low_is_pumped_and_what_needs_no_line_is_carried(base, source):
    there = len(begun(base).pumps)
    for way in FED:
        assert len(added(base, source, way).pumps) == there + (way != "can"), way
