"""What the demo's pages say, as lines to compare: before and after a change that should change nothing.

Run as ``python tests/page_texts.py write OUT.json`` on each side, then
``python tests/page_texts.py compare BEFORE.json AFTER.json``. Every page and file that the demo
links to is read, in both unit systems: its words, and the attributes that people read, draw or
follow.
"""

import json
import re
import sys
import tempfile
from contextlib import closing
from difflib import unified_diff
from pathlib import Path

import lxml.html
from lxml.etree import _Element as Element

from euhydra.garden import edits
from euhydra.garden.quantities import System
from euhydra.records import database, gardens
from euhydra.web.app import create_app
from euhydra.web.server import seed_demo
from served import PAGES, client_of

ATTRIBUTES = (
    "aria-label",
    "placeholder",
    "alt",
    "title",
    "value",
    "d",
    "points",
    "x",
    "y",
    "href",
    "action",
    "name",
    "id",
)
"""Those that people read, draw or follow."""

MOST_PAGES = 700
"""In one unit system; the demo links to fewer."""

OF_THE_DAY = re.compile(r"20\d\d-\d\d-\d\d \d\d:\d\d UTC|DTSTAMP:\w+")
"""What differs between two runs of one program."""

LINK = re.compile(r'(?:href|src)="([/?][^"#]*)')

SHOWN_LINES = 12
"""Of each page that differs."""


def lines_of(html: str) -> list[str]:
    """A page's words and read attributes, in the order of the page."""
    lines: list[str] = []

    def walk(element: Element) -> None:
        if not isinstance(element.tag, str):
            return
        is_code = element.tag in ("script", "style")
        if is_code and element.get("type") != "application/json":
            return
        lines.extend(f"[{a}={element.get(a)}]" for a in ATTRIBUTES if element.get(a))
        if element.text and element.text.strip():
            lines.append(" ".join(element.text.split()))
        for child in element:
            walk(child)
            if child.tail and child.tail.strip():
                lines.append(" ".join(child.tail.split()))

    walk(lxml.html.document_fromstring(html))
    return lines


def _read(kind: str, status: int, body: str) -> list[str]:
    if kind.startswith("text/html"):
        lines = lines_of(body)
    elif "zip" in kind or "pdf" in kind or ("image" in kind and "svg" not in kind):
        lines = []
    else:
        lines = body.splitlines()
    return [f"STATUS {status}", *(OF_THE_DAY.sub("", line) for line in lines)]


def read_all(folder: Path, system: System) -> dict[str, list[str]]:
    """Every page and file of the demo in `folder`, by its address."""
    seed_demo(folder, with_log=True)
    texts = {}
    with client_of(create_app(folder)) as client:
        with closing(database.connect(client.app.state.database)) as conn:
            revision = gardens.current(conn, 1)
            garden = edits.replace(revision.garden, units=system)
            gardens.save(conn, 1, revision.id, garden, "Units")
        ahead = [f"/{page}" for page in PAGES]
        seen = set(ahead)
        while ahead:
            address = ahead.pop(0)
            answer = client.get(address)
            kind = answer.headers.get("content-type", "")
            texts[f"{system} {address}"] = _read(kind, answer.status_code, answer.text)
            if kind.startswith("text/html"):
                found = {link.replace("&amp;", "&") for link in LINK.findall(answer.text)}
                whole = {address.split("?")[0] + a if a[0] == "?" else a for a in found}
                new = {a for a in whole if "/static/" not in a} - seen
                if len(seen) < MOST_PAGES:
                    seen |= new
                    ahead += sorted(new)
    return texts


def compare(before: dict[str, list[str]], after: dict[str, list[str]]) -> list[str]:
    """What differs, as lines."""
    told = [f"gone: {a}" for a in sorted(before.keys() - after.keys())]
    told += [f"new: {a}" for a in sorted(after.keys() - before.keys())]
    for address in sorted(before.keys() & after.keys()):
        if before[address] != after[address]:
            changes = unified_diff(before[address], after[address], lineterm="", n=0)
            lines = [line for line in changes if line[:2] not in ("@@", "--", "++")]
            told += [f"differs: {address}", *(f"  {line[:300]}" for line in lines[:SHOWN_LINES])]
    return told


def main(arguments: list[str]) -> None:
    """Write the texts, or compare two writings."""
    match arguments:
        case ["write", out]:
            texts: dict[str, list[str]] = {}
            for system in System:
                with tempfile.TemporaryDirectory() as folder:
                    texts |= read_all(Path(folder), system)
            Path(out).write_text(json.dumps(texts, ensure_ascii=False, indent=0), "utf-8")
            print(f"{len(texts)} pages and files")
        case ["compare", before, after]:
            told = compare(*(json.loads(Path(p).read_text("utf-8")) for p in (before, after)))
            print("\n".join(told) or "No difference.")
            sys.exit(bool(told))
        case _:
            sys.exit(__doc__)


if __name__ == "__main__":
    main(sys.argv[1:])
