"""Fixtures and paths that every test may use."""

import os
import sys
from pathlib import Path

import hypothesis
import pytest
import vega_datasets

sys.path.insert(0, str(Path(__file__).parent))  # networks.py, engine.py

from euhydra.garden import demo
from euhydra.garden.model import Garden

# The suite's answer may not hang on chance: the same examples every time. To hunt for new
# ones: HYPOTHESIS_PROFILE=hunt; what it finds becomes an @example or a test of its own.
# Nor on a busy machine: speed is measured by the benchmarks, never by a timed test.
hypothesis.settings.register_profile("steady", derandomize=True, deadline=None)
hypothesis.settings.register_profile("hunt", derandomize=False, deadline=None)
hypothesis.settings.load_profile(os.environ.get("HYPOTHESIS_PROFILE", "steady"))


@pytest.fixture
def demo_garden() -> Garden:
    """Pilchard Steps as it ships."""
    return demo.garden()


@pytest.fixture(scope="session")
def seattle_file() -> Path:
    """A real public daily record, 2012 to 2015, as a dataset package ships it."""
    return Path(vega_datasets.__file__).parent / "_data" / "seattle-weather.csv"
