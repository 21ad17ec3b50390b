"""Every form of every page, sent with what nobody should type: refused in words, nothing lost."""

import random
from collections.abc import Iterator
from contextlib import closing
from typing import Any

import pytest
from fastapi.testclient import TestClient

from euhydra.records import database, gardens
from euhydra.web.app import create_app
from markup import Form, Page
from served import PAGES, client_of, lay_demo
from sweeps import swept

JUNK = [
    "",
    "-1",
    "0",
    "1e999",
    "٣",
    "💧",
    "a" * 5000,
    "<script>x</script>",
    "99999999999999",
    "%00",
    "2026-13-45",
    "1 m 2 kg",
    "'; --",
    "-0",
    "1,5",
    "١ m",
    "on",
    "\\",
    "1-",
    ":",
    "5:99",
    "32 May",
]

FILES = [
    ("a.bin", b"\x00\xff", "application/octet-stream"),
    ("", b"", ""),
    ("x.csv", b"a,b\n1", "text/csv"),
    ("g.json", b"{}", "application/json"),
]

ENDS_SOMETHING = ("/delete", "/undo", "/redo", "/restore")
"""Forms that take away what the others are about: tested by themselves."""

ASKED_AT_ONCE = ("gardens/1/place", "gardens/1/push", "gardens/1/time", "gardens/1/log/1")

TRIES = 1
"""Times that each form is sent, besides once with nothing in it."""


@pytest.fixture(scope="module")
def client(tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    data = tmp_path_factory.mktemp("data")
    lay_demo(data, with_log=True)
    with client_of(create_app(data)) as client:
        yield client


def _revision(client: TestClient) -> int:
    with closing(database.connect(client.app.state.database)) as conn:
        return gardens.current(conn, 1).id


def _junk_for(form: Form, chance: random.Random) -> dict[str, str]:
    """The form as it stands, but for one to three fields."""
    names = [name for name in form.fields if name != "based_on"]
    spoilt = chance.sample(names, min(len(names), chance.randint(1, 3)))
    return form.fields | {name: chance.choice(JUNK) for name in spoilt}


@pytest.fixture(scope="module")
def forms(client: TestClient) -> dict[str, list[Form]]:
    """By the first page that has them: many stand on several."""
    found: dict[str, list[Form]] = {}
    seen = set()
    for path in PAGES:
        own = [f for f in Page(client.get(f"/{path}").text).forms() if f.action not in seen]
        found[path] = [form for form in own if not form.action.endswith(ENDS_SOMETHING)]
        seen |= {form.action for form in own}
    return found


@pytest.mark.parametrize("path", swept(PAGES, ASKED_AT_ONCE))
def test_no_form_falls_over_and_what_is_refused_changes_nothing(
    client: TestClient, forms: dict[str, list[Form]], path: str
):
    chance = random.Random(path)
    for form in forms[path]:
        for sent in [{}, *(_junk_for(form, chance) for _ in range(TRIES))]:
            files: dict[str, Any] = {name: chance.choice(FILES) for name in form.files}
            before = _revision(client)
            answer = client.post(form.action, data=sent, files=files or None)
            assert answer.status_code < 500, sent
            if answer.status_code >= 400:
                assert _revision(client) == before
            if answer.headers.get("content-type", "").startswith("text/html"):
                assert Page(answer.text).faults() == [], sent
