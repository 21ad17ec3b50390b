"""Fixtures and paths that every test may use."""

import os
import sys
from collections.abc import Iterator
from pathlib import Path

import hypothesis
import pytest
import vega_datasets
from hypothesis import Phase

sys.path.insert(0, str(Path(__file__).parent))  # networks.py, engine.py

from euhydra.cli.start import bringing_in
from euhydra.core.weather import SERIES, DailyWeather
from euhydra.garden import demo
from euhydra.garden.model import Garden
from euhydra.planner.chain import Chain, run_chain
from euhydra.planner.judgement import assumed
from euhydra.planner.time import choosing_years
from euhydra.planner.today import worth
from euhydra.web import desk

YEARS_AS_SHIPPED = choosing_years.YEARS

# The suite's answer may not hang on chance: the same examples every time. To hunt for new
# ones: HYPOTHESIS_PROFILE=hunt; what it finds becomes an @example or a test of its own.
# Nor on a busy machine: speed is measured by the benchmarks, never by a timed test.
# A failure here is told at once; "hunt" makes it small, which may take minutes.
hypothesis.settings.register_profile(
    "steady", derandomize=True, deadline=None, phases=(Phase.explicit, Phase.reuse, Phase.generate)
)
hypothesis.settings.register_profile("hunt", derandomize=False, deadline=None)
hypothesis.settings.load_profile(os.environ.get("HYPOTHESIS_PROFILE", "steady"))


def pytest_xdist_auto_num_workers() -> int:
    """One more than there are cores: now and then each waits for its browser, or for a disk."""
    return len(os.sched_getaffinity(0)) + 1


@pytest.hookimpl(wrapper=True)
def pytest_collection() -> Iterator[None]:
    """What is collected stays: nobody looks through it for waste after every few tests."""
    with bringing_in():
        return (yield)


@pytest.fixture(scope="session", autouse=True)
def _same_chain_once() -> Iterator[None]:
    """One process solves a garden and its weather once, whichever server asks."""
    known: dict[object, Chain] = {}

    def remembered(garden: Garden, record: DailyWeather | None) -> Chain:
        days = record and tuple(getattr(record, name).tobytes() for name in ("days", *SERIES))
        key = garden.model_dump_json(), days
        if key not in known:
            known[key] = run_chain(garden, record)
        return known[key]

    with pytest.MonkeyPatch.context() as patched:
        patched.setattr(desk, "run_chain", remembered)
        yield


@pytest.fixture(scope="session", autouse=True)
def _few_years() -> Iterator[None]:
    """Settings chosen on a third of the years: how well they hold is the matter of `as_shipped` tests."""
    with pytest.MonkeyPatch.context() as patched:
        patched.setattr(choosing_years, "YEARS", 20)
        yield


@pytest.fixture(scope="module")
def as_shipped(_few_years: None) -> Iterator[None]:
    """Settings chosen on as many years as the program takes."""
    with pytest.MonkeyPatch.context() as patched:
        patched.setattr(choosing_years, "YEARS", YEARS_AS_SHIPPED)
        choosing_years.forget()
        yield
    choosing_years.forget()


@pytest.fixture(scope="module")
def briefly() -> Iterator[None]:
    """One value weighed and one year followed: how many there are is the matter of other tests."""
    with pytest.MonkeyPatch.context() as patched:
        patched.setattr(assumed, "MOST_WEIGHED", 1)
        patched.setattr(worth, "YEARS", 1)
        yield


@pytest.fixture
def demo_garden() -> Garden:
    """Pilchard Steps as it ships."""
    return demo.garden()


@pytest.fixture(scope="session")
def seattle_file() -> Path:
    """A real public daily record, 2012 to 2015, as a dataset package ships it."""
    return Path(vega_datasets.__file__).parent / "_data" / "seattle-weather.csv"
