"""Fixtures and paths that every test may use."""

import sys
from pathlib import Path

import pytest
import vega_datasets

sys.path.insert(0, str(Path(__file__).parent))  # networks.py, engine.py

from euhydra.garden import demo
from euhydra.garden.model import Garden


@pytest.fixture
def demo_garden() -> Garden:
    """Pilchard Steps as it ships."""
    return demo.garden()


@pytest.fixture(scope="session")
def seattle_file() -> Path:
    """A real public daily record, 2012 to 2015, as a dataset package ships it."""
    return Path(vega_datasets.__file__).parent / "_data" / "seattle-weather.csv"
