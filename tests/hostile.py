"""What an enemy would send: every address, form, file and command, with what nobody should type.

Run as a program it sends as many as it is told to, and says what the worst of them cost:
`python tests/hostile.py 10000`.
"""

import json
import random
import resource
import sys
import tempfile
import time
from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any
from urllib.parse import quote, quote_from_bytes

from click.testing import CliRunner
from fastapi import FastAPI
from fastapi.routing import APIRoute
from fastapi.testclient import TestClient

from euhydra.cli.commands import main
from euhydra.garden import demo, document, plain_text
from euhydra.web.app import create_app
from markup import Page
from served import PAGES, client_of, lay_demo

WORDS = [
    "",
    " ",
    "0",
    "-1",
    "1",
    "00601",
    "1e999",
    "-1e-999",
    "nan",
    "9" * 20,
    "9" * 400,
    "9" * 5000,
    str(2**63),
    str(-(2**63) - 1),
    "1/0",
    "9**9**9*m",
    "(" * 200 + "m",
    "1 m/m/m/m/m/m",
    "1,234",
    "٣",
    "²",
    "½ ¾ ⅛",
    "💧" * 200,
    "a" * 70,
    "a" * 20_000,
    "<script>alert(1)</script>",
    "{litres}",
    "{30 cm|height}",
    "{~30 cm|height} {name} {0} {}",
    "%s %n %00",
    "'; DROP TABLE garden; --",
    "../../../etc/passwd",
    "..\\..\\x",
    "\x00",
    "\x01\x08\x0b\x1f\x7f\x85",
    "\u202etxet",
    "a\r\nSet-Cookie: x=y",
    "BEGIN:VEVENT",
    "=1+1",
    "2026-13-45",
    "0000-00-00",
    "9999-12-31T23:59",
    "2026-06-01T08:00",
    "32 May",
    "29 February",
    "5:99",
    "1-99999999",
    "1-1440, " * 300,
    "Mon 99999999999, Tue",
    "0 L/h 6 m, " * 200,
    "1 2 " * 5000,
    "a, " * 5000,
    "metric",
    "us",
    "true",
    "[]",
    "null",
]
"""Typed in fields, and in addresses."""

NUMBERS = [
    "0",
    "-1",
    "1",
    "2",
    "99",
    "1e3",
    "nan",
    "9" * 19,
    str(2**63),
    "9" * 5000,
    "1.5",
    "０",
    "",
]
"""In the place of a number in an address."""

VALUES: list[Any] = [
    None,
    True,
    -1,
    0,
    10**400,
    1e308,
    "",
    "x" * 5000,
    "\ud800",
    "\x00",
    [],
    {},
    [[]],
    {"x_m": 1e9, "y_m": "a"},
    [1, "2", None],
]
"""In the place of a value of a document."""

TYPES = [
    "application/x-www-form-urlencoded",
    "application/x-www-form-urlencoded; charset=utf-99",
    "application/x-www-form-urlencoded; charset=utf-16",
    "multipart/form-data",
    "multipart/form-data; boundary=" + "b" * 300,
    "application/json",
    "application/json; charset=klingon",
    "text/plain",
    "",
]

DEEP = b"[" * 50_000


def _files() -> list[tuple[str, bytes]]:
    """Names and contents of files that are not what they say."""
    header = b"date,precip_mm,tmin_c,tmax_c\n"
    garden = document.dumps(demo.garden()).encode()
    old = {
        "schema_version": 1,
        "name": "x",
        "stores": [{"id": "s"}],
        "beds": [{"id": "b", "width_m": 1}],
        "hoses": [{"id": "h", "name": "h", "store_id": "s", "bed_id": "b"}],
        "drip_lines": [{"id": "d", "name": "d", "bed_id": "b", "rows": 1_500_000}],
    }
    return [
        ("", b""),
        ("a\x01.csv", b"\x00\xff\xfe"),
        ("w.csv", header),
        ("w.csv", header + b"2026-01-01,1,2,3\n" * 3),
        ("w.csv", header + b"2026-01-01,nan,inf,-inf\n0001-01-01,1,1,1\n9999-12-31,1,1,1\n"),
        ("w.csv", header + b'2026-01-01,"' + b"1" * 200_000 + b'",1,2\n'),
        ("w.csv", b"year,doy,precip_mm,tmin_c,tmax_c\n" + b"9" * 5000 + b",1,1,1,2\n"),
        ("w.csv", b"a," * 70_000),
        ("p.csv", b"good,name,pack,unit,price\nhose,x,1,9**9**9*m,1\n"),
        ("p.csv", b"good,name,pack,unit,price\nhose,x,1," + b"(" * 5000 + b"m,1\n"),
        ("p.csv", b'good,name,pack,unit,price\n"' + b"x" * 200_000 + b'",x,1,m,1\n'),
        ("l.csv", b"id,when,kind,about,about_id,word,amounts,note\n" + b"x," * 200),
        (
            "l.csv",
            b"id,when,kind,about,about_id,word,amounts,note\nx,2026-06-01T08:00,note,,,,,\x0b\n",
        ),
        ("g.json", b"{}"),
        ("g.json", DEEP),
        ("g.json", b'{"schema_version": ' + b"9" * 5000 + b"}"),
        ("g.json", json.dumps(old).encode()),
        ("g.json", garden),
        ("g.json", garden.replace(b'"name": "', b'"name": "\\ud800\\u0007', 3)),
        ("g.json", garden[:-40]),
        ("g.geojson", b'{"type":"FeatureCollection","features":[{"geometry":' + DEEP),
        (
            "g.geojson",
            b'{"type":"FeatureCollection","features":[{"type":"Feature","geometry":{"type":'
            b'"Polygon","coordinates":[[[1e400,0],["a",1],[null,2]]]},"properties":[]}]}',
        ),
        ("n.inp", b"[JUNCTIONS]\n" + b"x " * 5000 + b"\n[PIPES]\na a a 1 1 1\n[END]\n"),
        (
            "p.png",
            b"\x89PNG\r\n\x1a\n"
            + b"\x00\x00\x00\rIHDR\x00\x00\x00\x01\x03\x93\x87\x00\x08\x02\x00\x00\x00",
        ),
        ("b.zip", b"PK\x05\x06" + b"\x00" * 18),
    ]


FILES = _files()


@dataclass(frozen=True)
class Attempt:
    """One request."""

    method: str
    url: str
    body: dict[str, Any] = field(default_factory=dict)
    """What the client is given besides."""


class Enemy:
    """Makes requests up, for every route of an application: one that is added is tried at once."""

    def __init__(self, app: FastAPI, client: TestClient, chance: random.Random) -> None:
        self.chance = chance
        # An application keeps what it includes as it came.
        held = [getattr(each, "original_router", app.router).routes for each in app.routes]
        known = [r for routes in [app.routes, *held] for r in routes if isinstance(r, APIRoute)]
        self.routes = [route for route in known if not route.path.endswith(ENDLESS)]
        forms = [form for path in PAGES for form in Page(client.get(f"/{path}").text).forms()]
        self.forms = {form.action: form.fields for form in forms}
        self.names = sorted(
            {name for form in forms for name in form.fields} | {"at", "back", "part_id"}
        )

    def attempt(self) -> Attempt:
        """One of them."""
        route = self.chance.choice(self.routes)
        method = self.chance.choice(sorted(route.methods or {"GET"}))
        if method == "POST" and self.chance.random() < 0.5:
            return self._spoilt_form()
        url = self._url(route)
        if self.chance.random() < 0.7:
            url += "?" + self._encoded(self._fields(route))
        return Attempt(method, url, self._body(route) if method == "POST" else {})

    def _url(self, route: APIRoute) -> str:
        """Its path; most parts of it as they should be, so that what lies behind is reached."""
        url = route.path
        for name in route.param_convertors:
            value = self._one(name) if self.chance.random() < 0.3 else self._usual(name)
            url = url.replace("{" + name + "}", quote(value, safe="") or "-")
        return url

    def _usual(self, name: str) -> str:
        if name.endswith("_id"):
            return self.chance.choice(["1", "1", "1", "2"])
        return self.chance.choice(["store", "lay", "bed", "roof", "shed-hose", "keep", "0" * 64])

    def _one(self, name: str) -> str:
        return self.chance.choice(NUMBERS if name.endswith("_id") else WORDS)

    def _fields(self, route: APIRoute) -> dict[str, str]:
        known = [*route.dependant.query_params, *route.dependant.body_params]
        names = [each.alias for each in known] + self.chance.sample(self.names, 3)
        return {name: self.chance.choice(WORDS) for name in names if self.chance.random() < 0.7}

    def _encoded(self, fields: dict[str, str]) -> str:
        pairs = [
            f"{quote(name)}={quote(value, errors='replace')[:3000]}"
            for name, value in fields.items()
        ]
        if self.chance.random() < 0.1:
            pairs.append(quote_from_bytes(b"at=\xff\xfe\xed\xa0\x80", safe="="))
        return "&".join(pairs)

    def _spoilt_form(self) -> Attempt:
        """A form as a page shows it, with some of its fields as nobody should fill them."""
        action, shown = self.chance.choice(sorted(self.forms.items()))
        fields = dict(shown)
        for name in self.chance.sample(sorted(fields), min(len(fields), self.chance.randint(0, 3))):
            fields[name] = self.chance.choice(WORDS)
        body: dict[str, Any] = {"data": fields}
        if self.chance.random() < 0.4:
            body["files"] = self._sent_files(["file", "photo", "picture"])
        return Attempt("POST", action, body)

    def _sent_files(self, names: Sequence[str]) -> dict[str, tuple[str, bytes]]:
        return {name: self.chance.choice(FILES) for name in names}

    def _body(self, route: APIRoute) -> dict[str, Any]:
        how = self.chance.random()
        fields = self._fields(route)
        if how < 0.35:
            return {"data": fields}
        if how < 0.6:
            names = [each.alias for each in route.dependant.body_params] or ["file"]
            return {"data": fields, "files": self._sent_files(names)}
        if how < 0.85:
            return self._json()
        raw = self.chance.choice(
            [DEEP, b"\xff" * 300, b"a=" + b"1" * 100_000, b"--b\r\n", b"&" * 5000]
        )
        return {"content": raw, "headers": {"content-type": self.chance.choice(TYPES)}}

    def _json(self) -> dict[str, Any]:
        """A change of the plan, with something in it that no part of a garden is."""
        part = self.chance.choice(demo.garden().parts).model_dump(mode="json")
        spoilt = self.chance.choice([*part, "id", "name", "at", "path"])
        part[spoilt] = self.chance.choice(VALUES)
        wanted: dict[str, Any] = {
            "based_on": self.chance.choice([1, 2, 10**30, "1"]),
            "puts": [
                {"collection": self.chance.choice(["beds", "pipes", "stores", "x"]), "part": part}
            ],
            "zone": "",
        }
        if self.chance.random() < 0.5:
            wanted[self.chance.choice([*wanted, "removes", "change", "node"])] = self.chance.choice(
                VALUES
            )
        text = json.dumps(wanted).encode()
        return {"content": text, "headers": {"content-type": "application/json"}}


ENDLESS = "/stream"
"""An answer that goes on until somebody hangs up, which this client does not."""

COMMANDS = (
    ("solve", "FILE"),
    ("solve", "FILE", "--bed", "WORD"),
    ("export", "FILE"),
    ("season", "FILE", "--weather", "FILE"),
    ("et0", "--weather", "FILE", "--latitude", "WORD", "--elevation", "WORD"),
    ("restore", "FILE", "--yes", "--data", "FOLDER"),
    ("passphrase", "--phrase", "WORD", "--data", "FOLDER"),
)


def commands(chance: random.Random, folder: Path) -> Iterator[list[str]]:
    """Commands with files that are not what they say."""
    while True:
        words = []
        for number, word in enumerate(chance.choice(COMMANDS)):
            match word:
                case "FILE":
                    name, content = chance.choice(FILES)
                    given = folder / f"given-{number}{Path(plain_text.name(name)).suffix}"
                    given.write_bytes(content)
                    words.append(str(given))
                case "FOLDER":
                    words.append(str(folder / "data"))
                case "WORD":
                    words.append(chance.choice(WORDS).replace("\0", ""))  # which no shell passes on
                case _:
                    words.append(word)
        yield words


def run(count: int, seed: int) -> None:
    """Send so many; print what answered, what failed, and what the worst cost."""
    chance = random.Random(seed)
    answers: Counter[int] = Counter()
    worst: list[tuple[float, str]] = []
    with tempfile.TemporaryDirectory() as name:
        lay_demo(Path(name), with_log=True)
        app = create_app(Path(name))
        with client_of(app, follow_redirects=False) as client:
            enemy = Enemy(app, client, chance)
            for _ in range(count):
                attempt = enemy.attempt()
                began = time.process_time()
                answer = client.request(attempt.method, attempt.url, **attempt.body)
                worst = sorted([*worst, (time.process_time() - began, attempt.url[:120])])[-5:]
                answers[answer.status_code] += 1
                if answer.status_code >= 500:
                    print("FAILED", answer.status_code, str(attempt)[:600])
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    print(f"{count} requests, seed {seed}: {dict(sorted(answers.items()))}; peak {peak:.0f} MB")
    for seconds, url in worst:
        print(f"  {seconds:.2f} s of processor: {url}")
    with tempfile.TemporaryDirectory() as name:
        ended: Counter[str] = Counter()
        for _, words in zip(range(count // 20), commands(chance, Path(name)), strict=False):
            result = CliRunner().invoke(main, words)
            is_told = result.exception is None or isinstance(result.exception, SystemExit)
            ended["told" if is_told else "uncaught"] += 1
            if not is_told:
                print("UNCAUGHT", words, repr(result.exception)[:300])
    print(f"commands: {dict(ended)}")


if __name__ == "__main__":
    run(int(sys.argv[1]), int(sys.argv[2]) if len(sys.argv) > 2 else 1)
