"""A stranger on the pages without a browser: opens, fills in forms, sends them, reads what is there."""

from collections.abc import Mapping
from itertools import chain
from pathlib import Path
from types import MappingProxyType
from urllib.parse import urljoin

import httpx2
import lxml.html
from lxml.html import FormElement, HtmlElement

from euhydra.web.app import create_app
from served import client_of


def _words(element: HtmlElement) -> str:
    return " ".join(element.text_content().split())


class Visitor:
    """One who walks through the application over a data folder, or by a client of one that is served.

    `at` is where the walk stands.
    """

    def __init__(self, data: Path, client: httpx2.Client | None = None) -> None:
        self.client = client or client_of(create_app(data))
        self.at = ""
        self.page: HtmlElement = lxml.html.fragment_fromstring("<main></main>")

    def open(self, address: str) -> None:
        """Go to a page; an address without a slash before it is one of the garden at hand."""
        is_whole = address.startswith(("/", "?"))
        whole = urljoin(self.at, address) if is_whole else f"{self.garden}/{address}"
        self._read(self.client.get(whole))

    def wait(self) -> None:
        """Until what comes after the page is there, as a browser sets it in."""
        for place in self.page.xpath("//*[@x-data='later']"):
            piece = self.client.get(place.get("data-url")).text
            place.append(lxml.html.fragment_fromstring(piece, create_parent="div"))

    @property
    def garden(self) -> str:
        """The beginning of the addresses of the garden at hand."""
        return "/".join(self.at.split("/")[:3])

    def _read(self, response) -> None:
        self.status = response.status_code
        self.at = response.url.path
        self.page = lxml.html.fromstring(response.text)

    def form(self, key: str) -> HtmlElement:
        """The place of a part's form, or of the form that adds it."""
        plain = key.removeprefix("add-")
        found = [self.page.get_element_by_id(p, None) for p in (key, f"add-{plain}")]
        return next(place for place in found if place is not None)

    def fill(self, key: str, answers: Mapping[str, str]) -> None:
        """Fill some fields of a part's form by their labels, and send it; it is taken."""
        self.send(key, answers)
        assert self.status == 200, self.faults()

    def send(self, key: str, answers: Mapping[str, str]) -> None:
        """Fill some fields of the first form at a place by their labels, and send it as it then is."""
        place = self.form(key)
        form = next(chain(place.iter("form"), place.iterancestors("form")))
        for label, answer in answers.items():
            name = self.field(form, label).get("name")
            form.fields[name] = _option(form, name, answer)
        self._post(form)

    def field(self, within: HtmlElement, label: str) -> HtmlElement:
        """The field with exactly this label."""
        of_label = [e for e in within.iter("label") if _words(e) == label]
        assert of_label, f"{label!r} is no field here"
        return self.page.get_element_by_id(of_label[0].get("for"))

    def lay(self, what: str, also: tuple[str, ...] = (), **choices: str) -> None:
        """Lines laid on Lay for one bed, and others on the same timer; choices by the fields' names."""
        self.open("lay")
        form = self.form("for-me").forms[0]
        form.fields["waters"] = _option(form, "waters", what)
        for label in form.iter("label"):
            box = label.find("input")
            if box is not None and any(_words(label).startswith(name) for name in also):
                box.checked = True
        for name, choice in choices.items():
            form.fields[name] = choice
        self._post(form)
        assert self.status == 200, self.faults()

    def _post(self, form: FormElement) -> None:
        address = form.action.split("#")[0]
        self._read(self.client.post(address, data=dict(form.form_values())))

    def send_with(self, words: str, answers: Mapping[str, str] = MappingProxyType({})) -> None:
        """Send the form of the button with these words; answers by the names of its fields."""
        button = next(b for b in self.page.iter("button") if _words(b) == words)
        form = next(e for e in button.iterancestors("form"))
        for name, answer in answers.items():
            form.fields[name] = answer
        self._post(form)
        assert self.status == 200, self.faults()

    def faults(self) -> list[str]:
        """What the page says against what was typed."""
        said = chain(self.page.find_class("fault"), self.page.find_class("fault-box"))
        return [words for words in map(_words, said) if words]

    @property
    def text(self) -> str:
        """Everything the page says."""
        return _words(self.page)

    @property
    def verdict(self) -> str:
        """The page's answer in a sentence."""
        return _words(self.page.find_class("summary")[0])

    def rows(self, words: str) -> list[str]:
        """Rows of tables that say this, whatever the case of its letters."""
        return [row for row in map(_words, self.page.iter("tr")) if words.lower() in row.lower()]

    def row(self, words: str) -> str:
        """The only row that says this."""
        (found,) = self.rows(words)
        return found

    def headings(self, words: str) -> list[str]:
        """Headings that say this."""
        found = (_words(e) for e in self.page.iter("h1", "h2", "h3", "h4"))
        return [heading for heading in found if words in heading]

    def items(self, words: str) -> list[str]:
        """Items of lists whose heading says this."""
        items = self.page.iter("li")
        return [
            _words(e) for e in items if any(words in _words(h) for h in e.iter("h2", "h3", "h4"))
        ]

    def follow(self, words: str) -> None:
        """Go where the first link that says this leads."""
        self.open(self.links(words)[0].get("href"))

    def links(self, words: str) -> list[HtmlElement]:
        """Links that say this."""
        return [e for e in self.page.iter("a") if words in _words(e)]


def _option(form: FormElement, name: str, answer: str) -> str:
    """The value of a choice, by its value or by its words; what is typed stands as it is."""
    field = form.inputs[name]
    if field.tag != "select":
        return answer
    by_words = {_words(option): option.get("value", "") for option in field.iter("option")}
    return by_words.get(answer, answer)
