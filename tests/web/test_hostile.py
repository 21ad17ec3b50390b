"""Whatever is sent is answered in words: no failure, nothing changed by what is refused.

A longer run, with what the worst of it cost: `python tests/hostile.py 10000`.
"""

import json
import random
from collections.abc import Iterator
from contextlib import closing

import pytest
from click.testing import CliRunner
from fastapi.testclient import TestClient

import hostile
from euhydra.cli.commands import main
from euhydra.garden import plain_text
from euhydra.records import database, gardens
from euhydra.web.app import create_app
from hostile import Enemy
from served import client_of, lay_demo
from sweeps import swept

pytestmark = pytest.mark.usefixtures("briefly")

REQUESTS = 40
"""Of each seed."""

COMMANDS = 40


@pytest.fixture(scope="module")
def client(tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    data = tmp_path_factory.mktemp("data")
    lay_demo(data, with_log=True)
    with client_of(create_app(data), follow_redirects=False) as client:
        yield client


def _standing(client: TestClient) -> list[int]:
    with closing(database.connect(client.app.state.database)) as conn:
        return [gardens.current(conn, each.id).id for each in gardens.all_gardens(conn)]


@pytest.mark.parametrize("seed", swept(range(9), [2]))
def test_no_request_fails_and_what_is_refused_changes_nothing(client, seed):
    enemy = Enemy(client.app, client, random.Random(seed))
    for _ in range(REQUESTS):
        attempt = enemy.attempt()
        before = _standing(client)
        answer = client.request(attempt.method, attempt.url, **attempt.body)
        assert answer.status_code < 500, attempt
        if answer.status_code >= 400:
            assert _standing(client) == before, attempt
        if answer.headers.get("content-type", "").startswith("text/html"):
            assert plain_text.UNPRINTABLE.search(answer.text) is None, attempt


def test_no_command_fails_but_in_words(tmp_path):
    chance = random.Random(1)
    for _, words in zip(range(COMMANDS), hostile.commands(chance, tmp_path), strict=False):
        result = CliRunner().invoke(main, words)
        is_told = result.exception is None or isinstance(result.exception, SystemExit)
        assert is_told, (words, result.exception)


@pytest.mark.parametrize(
    ("refused", "shown"),
    [
        ("/gardens/1/catch/roof", "/gardens/1/catch"),
        ("/gardens/1/lay/for-me", "/gardens/1/lay"),
        ("/gardens/1/weather/file/7", "/gardens/1/weather"),
        ("/gardens/1/log/1/removed", "/gardens/1/log/1"),
        ("/gardens/1/units", "/gardens/1/today"),
        ("/gardens/1", "/gardens/1/today"),
        ("/restore", "/"),
    ],
)
def test_a_refused_form_can_be_loaded_again(client, refused, shown):
    answer = client.get(refused)
    assert (answer.status_code, answer.headers["location"].removeprefix(str(client.base_url))) == (
        303,
        shown,
    )


def test_an_address_that_is_none_is_not_found(client):
    for address in ("/gardens/1/nowhere", "/gardens/1/log/999999", f"/gardens/{2**64}/catch"):
        assert client.get(address).status_code in (404, 422)


@pytest.mark.parametrize(
    "name", ["A\x07bell\x0b", "two\nlines", "\u202eback", "half \ud800", "\x00"]
)
def test_a_name_is_harmless_in_every_page_and_file(client, name):
    document = client.get("/gardens/1/garden.json").json()
    document["name"] = f"N{name}"
    document["beds"][0]["name"] = f"B{name}"
    files = {"file": ("g.json", json.dumps(document).encode())}
    made = client.post("/gardens/from-file", files=files)
    assert made.status_code == 303
    home = made.headers["location"].removesuffix("/place")
    for path in ("place", "lay", "plan.svg", "upkeep.ics", "plan.geojson", "programme.csv"):
        answer = client.get(f"{home}/{path}")
        assert answer.status_code in (200, 409), path
        assert plain_text.UNPRINTABLE.search(answer.text.replace("\r\n", "\n")) is None, path
