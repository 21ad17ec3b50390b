"""Words of the owner's that any page, drawing, calendar or table can hold."""

import re

UNPRINTABLE = re.compile(
    "[\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f"  # controls: XML 1.0 section 2.2 knows none of them
    "\u2028\u2029"  # ends of lines to scripts, not to people
    "\u202a-\u202e\u2066-\u2069"  # turn the text round that follows
    "\ud800-\udfff\ufffe\uffff]"  # halves of characters, and none at all
)

SPACES = re.compile(r"\s+")


def lines(text: str) -> str:
    """What may have several lines; each character that nothing can show becomes a space."""
    return UNPRINTABLE.sub(" ", text.replace("\r\n", "\n").replace("\r", "\n")).strip()


def name(text: str) -> str:
    """What stands in one line."""
    return SPACES.sub(" ", lines(text)).strip()
