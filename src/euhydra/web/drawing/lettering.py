"""Lettering: how wide words are in the font of the pages, and how a name that is too wide is shortened."""

from itertools import chain

LETTER_PX = 13.0
"""Height of the letters on the plan. [px]"""

ADVANCES = {
    0.21: " ',.:;",
    0.24: "ij|Il",
    0.29: "!f()[]{}-",
    0.34: 'tr"',
    0.41: "/\\*?xszvy",
    0.48: "Yck",
    0.5: "JL#$+0123456789<=>FX^~Veg",
    0.55: "_EASThuaR`no",
    0.6: "PZbdpqK&CB",
    0.68: "DGHNUOQ",
    0.75: "wM…",
    0.86: "W%@m",
}
"""Widths of letters by their width. [em] From the font that the pages are set in."""

_WIDTHS = {letter: width for width, letters in ADVANCES.items() for letter in letters}
USUAL_WIDTH = 0.62
"""Of a letter that is not among them. [em]"""

LAST_WORD = 0.4
"""Most of its room that a name's last word may take and still be kept: a number or a side tells two names apart."""


def width_px(text: str, size: float = LETTER_PX) -> float:
    """Width of some words in letters of a size. [px]"""
    return size * 1.04 * sum(_WIDTHS.get(letter, USUAL_WIDTH) for letter in text)


def fitted(name: str, room: float, size: float = LETTER_PX) -> str:
    """A name as far as there is room for it: its beginning and its last word, with … for what is left out.

    Parameters
    ----------
    room, size : Width that it may have, and height of its letters. [px]
    """
    if width_px(name, size) <= room:
        return name
    *words, last = name.split(" ")
    is_kept = words and width_px(last, size) <= LAST_WORD * room
    end = f"… {last}" if is_kept else "…"
    first = words[0] if words else last
    whole = (" ".join(words[:count]).rstrip(",") for count in range(len(words), 0, -1))
    cut = (first[:count] for count in range(len(first) - 1, 0, -1))
    fitting = (f"{s}{end}" for s in chain(whole, cut) if width_px(f"{s}{end}", size) <= room)
    return next(fitting, "…")
