"""The application over a data folder with one garden alone, mostly the demo: no weather, no log."""

from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from euhydra.garden import demo
from euhydra.garden.model import Garden
from euhydra.records import database, gardens
from euhydra.web.app import create_app
from served import client_of


@contextmanager
def drawn_only(data: Path, garden: Garden) -> Iterator[TestClient]:
    """A client of it."""
    with client_of(create_app(data)) as client:
        with closing(database.connect(client.app.state.database)) as conn:
            gardens.create(conn, garden)
        yield client


@pytest.fixture
def drawn(tmp_path: Path) -> Iterator[TestClient]:
    """For one test that may change it."""
    with drawn_only(tmp_path, demo.garden()) as client:
        yield client


@pytest.fixture
def bare(tmp_path: Path) -> Iterator[TestClient]:
    """With nothing in it yet, for what asks of its place and weather alone."""
    garden = demo.garden()
    with drawn_only(tmp_path, Garden(name=garden.name, place=garden.place)) as client:
        yield client


@pytest.fixture(scope="module")
def drawn_once(tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    """For the tests of one file, which take it as they find it."""
    with drawn_only(tmp_path_factory.mktemp("data"), demo.garden()) as client:
        yield client
