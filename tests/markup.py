"""What every page owes its reader, whatever it tells: read with independent HTML parsers.

One in C takes every page apart and notes what it had to mend. Another follows the HTML standard step
by step, and takes twenty times as long: it is for some pages of each sort.
"""

import re
from collections import Counter
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise

import html5lib
from lxml import etree
from lxml.etree import _Element as Element

AFTER_THE_PARSER = {"template"}
"""Elements that the HTML standard allows within tables and that the parser does not know yet."""

UNFILLED = re.compile(
    r"\{[^{}]*\}|\b(None(?! of)|nan|NaN|inf|undefined|True|False)\b|\[object|<Amount"
)
"""Words that only a fault of the program writes."""

ONE_OF_MANY = re.compile(
    r"(?<![\d.,:/×–-])\b1 (days|weeks|months|years|hours|minutes|seconds|times|beds|pots|planters|tubes|outlets"
    r"|rows|lines|pipes|pieces|parts|things|steps|points|entries|pictures|photos|runs|cans|cups|barrels|tanks"
    r"|stores|timers|zones|valves|pumps|gardens|records|gaps|outlines|places|findings|changes|downspouts|roofs)\b"
)
"""One, said as if it were several."""

REFERS = ("for", "aria-controls", "aria-describedby", "aria-labelledby", "list", "form")
"""Attributes that name other elements of the page by id."""

SHOWN = ("aria-label", "placeholder", "alt", "title", "value")
"""Attributes that people read or hear."""


CLOSED = "a|b|button|details|div|dl|fieldset|figure|form|g|label|main|nav|ol|p|section|select|span|strong|summary|svg|table|ul"
"""Elements that are ended as they are begun."""

HELD = re.compile(r"<(script|style|textarea)\b.*?</\1>|<!--.*?-->", re.DOTALL)
"""What is no markup of the page itself."""


@dataclass(frozen=True)
class Form:
    """A form that is posted: what its fields hold as the page shows it, and its fields for files."""

    action: str
    fields: dict[str, str]
    files: tuple[str, ...]


def _form(element: Element) -> Form:
    fields: dict[str, str] = {}
    files = []
    for e in element.iter():
        name, kind = e.get("name"), e.get("type")
        if not name:
            continue
        if e.tag == "select":
            options = list(e.iter("option"))
            chosen = [o for o in options if o.get("selected") is not None] or options[:1]
            fields[name] = chosen[0].get("value", "") if chosen else ""
        elif kind == "file":
            files.append(name)
        elif kind in ("radio", "checkbox") and e.get("checked") is None:
            continue
        elif e.tag in ("input", "button"):
            fields[name] = e.get("value", "")
        elif e.tag == "textarea":
            fields[name] = e.text or ""
    return Form(element.get("action", ""), fields, tuple(files))


LATER = ("later", "opened")
"""Components that fetch a piece of a page."""


@dataclass(frozen=True)
class Page:
    """A page as a browser would take it apart; or a piece of one, which comes after it."""

    html: str

    @property
    def is_piece(self) -> bool:
        """Whether it is set into a page that is there."""
        return "<!doctype" not in self.html[:200].lower()

    @cached_property
    def _parsed(self) -> tuple[Element, list[str]]:
        parser = etree.HTMLParser(encoding="utf-8")
        root = etree.fromstring((self.html.strip() or "<p>").encode(), parser)
        return root, [f"{each.message}: {self._line(each.line)}" for each in parser.error_log]

    @cached_property
    def elements(self) -> list[Element]:
        """All of them, in the order of the page."""
        return [e for e in self._parsed[0].iter() if isinstance(e.tag, str)]

    def _line(self, number: int) -> str:
        lines = self.html.splitlines()
        return lines[min(number, len(lines)) - 1].strip()[:120]

    def against_the_standard(self) -> list[str]:
        """What the HTML standard calls errors in it."""
        parser = html5lib.HTMLParser(namespaceHTMLElements=False)
        parser.parse(self.html)
        return [
            f"{code}: {self._line(line)}"
            for (line, _), code, data in parser.errors
            if data.get("name") not in AFTER_THE_PARSER
            and not (self.is_piece and code == "expected-doctype-but-got-start-tag")
        ]

    def addresses(self) -> set[str]:
        """Where its links, pictures, scripts and pieces lead, without the place on the page."""
        found = [e.get(name, "") for e in self.elements for name in ("href", "src")]
        found += [e.get("data-url", "") for e in self.elements if e.get("x-data") in LATER]
        return {address.split("#")[0] for address in found if address and address[0] in "/?"}

    def forms(self) -> list[Form]:
        """Forms that are posted somewhere."""
        posted = (e for e in self.elements if e.tag == "form" and e.get("method") == "post")
        return [form for form in map(_form, posted) if form.action]

    def faults(self) -> list[str]:
        """What is wrong with it: broken markup, ids twice or missing, words left unfilled."""
        found = [*self._parsed[1], *self._left_open(), *self._of_ids(), *self._of_words()]
        return [*found, *self._of_headings(), *self._of_tables(), *self._of_fields()]

    def _of_fields(self) -> list[str]:
        """What stands in a field is read again as it is: thousands that are parted could be thousandths."""
        values = (e.get("value", "") for e in self.elements if e.tag == "input")
        return [f"thousands in a field: {v}" for v in values if re.search(r"^-?\d{1,3},\d{3}", v)]

    def _left_open(self) -> list[str]:
        """Elements that are begun and not ended, or the other way round."""
        markup = HELD.sub("", self.html)
        begun, ended = (
            Counter(re.findall(f"<{slash}({CLOSED})\\b", markup)) for slash in ("", "/")
        )
        return [f"<{tag}> is not closed" for tag in begun | ended if begun[tag] != ended[tag]]

    def _of_tables(self) -> list[str]:
        """A table says what it is of, and each of its heads what it is the head of."""
        tables = [e for e in self.elements if e.tag == "table"]
        unnamed = [t for t in tables if t.find("caption") is None and not t.get("aria-label")]
        heads = [th for t in tables for th in t.iter("th") if th.get("scope") is None]
        words = [" ".join(t.itertext())[:60] for t in unnamed]
        return [
            *(f"a table without a name: {' '.join(said.split())}" for said in words),
            *(
                f"a head without a scope: {' '.join(''.join(th.itertext()).split())}"
                for th in heads
            ),
        ]

    def _of_ids(self) -> list[str]:
        ids = Counter(e.get("id") for e in self.elements if e.get("id"))
        twice = [f"id twice: {name}" for name, count in ids.items() if count > 1]
        missing = [
            f"{e.tag} {name}={wanted} leads nowhere"
            for e in self.elements
            for name, value in e.items()
            if name in REFERS
            for wanted in value.split()
            if wanted not in ids
        ]
        on_page = [
            f"link to #{e.get('href', '')[1:]} leads nowhere"
            for e in self.elements
            if e.tag == "a"
            and len(e.get("href", "")) > 1
            and e.get("href", "")[0] == "#"
            and e.get("href", "")[1:].removeprefix("open-") not in ids  # aimed.js opens it
        ]
        return twice + missing + on_page

    def _of_words(self) -> list[str]:
        texts: set[str] = set()  # most of a page is said more than once
        for element in self.elements:
            texts.update(value for name, value in element.items() if name in SHOWN)
            if element.tag not in ("script", "style"):
                texts.add(element.text or "")
            texts.add(element.tail or "")
        wrong = {"unfilled": UNFILLED, "one of many": ONE_OF_MANY}
        return [
            f"{what}: {text.strip()[:120]}"
            for text in texts
            for what, words in wrong.items()
            if words.search(text)
        ]

    def _of_headings(self) -> list[str]:
        levels = [int(e.tag[1]) for e in self.elements if re.fullmatch("h[1-6]", e.tag)]
        if self.is_piece:
            return []
        faults = [] if levels.count(1) == 1 else [f"{levels.count(1)} first headings"]
        for before, after in pairwise(levels):
            if after > before + 1:
                faults.append(f"a heading of level {after} follows one of level {before}")
        return faults
