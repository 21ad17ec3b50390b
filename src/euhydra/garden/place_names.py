"""What places are called: however it is spelled, with or without the state and the country."""

import re
import unicodedata
from collections.abc import Iterable

LETTERS = str.maketrans({"ł": "l", "ø": "o", "đ": "d", "ı": "i", "æ": "ae", "œ": "oe", ".": None})
"""What small letters without a mark above or below are written for, and what is left out."""

ABBREVIATED = {"saint": "st", "fort": "ft", "mount": "mt"}
"""Words that are mostly written short."""

COUNTRIES_TOO = {
    "United Kingdom": (
        "uk",
        "gb",
        "great britain",
        "england",
        "scotland",
        "wales",
        "northern ireland",
    ),
    "United States": ("us", "usa", "america"),
    "United Arab Emirates": ("uae",),
    "New Zealand": ("nz", "aotearoa"),
    "Germany": ("deutschland",),
    "Austria": ("osterreich",),
    "Switzerland": ("schweiz", "suisse", "svizzera"),
    "Italy": ("italia",),
    "Spain": ("espana",),
    "Netherlands": ("holland", "nederland"),
    "Czechia": ("czech republic",),
    "Brazil": ("brasil",),
}
"""What countries are called besides."""

ANY_PLACE = ("city", "area", "near", "downtown")
"""Words that tell no place from another."""


def plain(text: str) -> str:
    """Small letters without their accents, one blank between words."""
    parts = unicodedata.normalize("NFKD", text.casefold())
    bare = "".join(each for each in parts if not unicodedata.combining(each)).translate(LETTERS)
    words = (ABBREVIATED.get(word, word) for word in bare.split())
    return " ".join(words)


def words_of(text: str) -> list[str]:
    """Its words, plain."""
    return re.findall(r"[^\s,;/()]+", plain(text))


def is_called(text: str, names: Iterable[str], around: Iterable[str]) -> bool:
    """Whether somebody means a place by this.

    Parameters
    ----------
    names : All that it is called.
    around : What may follow: its state and its country, in words.

    Examples
    --------
    >>> is_called("Portland, OR", ["Portland"], ["Oregon", "OR", "United States"])
    True
    >>> is_called("Portland, Maine", ["Portland"], ["Oregon", "OR", "United States"])
    False
    """
    asked = words_of(text)
    allowed = {word for each in (*around, *ANY_PLACE) for word in words_of(each)}
    named = (words_of(name) for name in names)
    return any(
        asked[: len(name)] == name and allowed.issuperset(asked[len(name) :]) for name in named
    )
