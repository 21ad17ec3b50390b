"""What towns are called: however it is spelled, with or without the state and the country."""

import re
import unicodedata
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

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

ANY_TOWN = ("city", "area")
"""Words that tell no town from another."""

LONGEST = 80
"""Letters of what may be a town; more are a slip, and cost time to compare. Our choice."""


def plain(text: str) -> str:
    """Small letters without their accents, one blank between words."""
    parts = unicodedata.normalize("NFKD", text.casefold())
    bare = "".join(each for each in parts if not unicodedata.combining(each)).translate(LETTERS)
    return " ".join(ABBREVIATED.get(word, word) for word in bare.split())


def words_of(text: str) -> tuple[str, ...]:
    """Its words, plain; none of what is too long to be a town."""
    return tuple(re.findall(r"[^\s,;/()]+", plain(text))) if len(text) <= LONGEST else ()


@dataclass(frozen=True)
class Called:
    """What a town is called, in plain words.

    names : All its names.
    around : What may follow one: of its state and its country.
    """

    names: tuple[tuple[str, ...], ...]
    around: frozenset[str]

    @classmethod
    def by(cls, names: Iterable[str], around: Iterable[str]) -> "Called":
        """Of names and surroundings as they are written."""
        words = (word for each in (*around, *ANY_TOWN) for word in words_of(each))
        return cls(tuple(map(words_of, names)), frozenset(words))

    def is_meant(self, asked: Sequence[str]) -> bool:
        """Whether somebody means it by such words.

        Examples
        --------
        >>> portland = Called.by(["Portland"], ["Oregon", "OR", "United States"])
        >>> portland.is_meant(words_of("Portland, OR"))
        True
        >>> portland.is_meant(words_of("Portland, Maine"))
        False
        """
        return any(
            tuple(asked[: len(name)]) == name and self.around.issuperset(asked[len(name) :])
            for name in self.names
        )
