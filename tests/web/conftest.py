"""The application over a data folder with the demo garden alone: no weather, no log."""

from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from euhydra.garden import demo
from euhydra.records import database, gardens
from euhydra.web.app import create_app
from served import client_of


@contextmanager
def drawn_only(data: Path) -> Iterator[TestClient]:
    """A client of it."""
    with client_of(create_app(data)) as client:
        with closing(database.connect(client.app.state.database)) as conn:
            gardens.create(conn, demo.garden())
        yield client


@pytest.fixture
def drawn(tmp_path: Path) -> Iterator[TestClient]:
    """For one test that may change it."""
    with drawn_only(tmp_path) as client:
        yield client


@pytest.fixture(scope="module")
def drawn_once(tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    """For the tests of one file, which take it as they find it."""
    with drawn_only(tmp_path_factory.mktemp("data")) as client:
        yield client
