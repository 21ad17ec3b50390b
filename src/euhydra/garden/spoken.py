"""How people write a number and its unit, made plain: signs, fractions, points and thousands."""

import re

UNITS = {
    "l/h": "l_h",
    "litres/h": "l_h",
    "l/min": "l_min",
    "gal/h": "gph",
    "gal/min": "gpm",
    "m²": "m2",
    "m³": "m3",
    "m^2": "m2",
    "m^3": "m3",
    "sq m": "m2",
    "square metres": "m2",
    "ft²": "ft2",
    "ft^2": "ft2",
    "sq ft": "ft2",
    "square feet": "ft2",
    "square foot": "ft2",
    "'": "ft",
    '"': "in",
    "imp gal": "impgal",
    "uk gal": "impgal",
    "us gal": "gal",
    "fl oz": "floz",
    "°c": "degC",
    "c": "degC",
    "°f": "degF",
    "f": "degF",
    "%": "pct",
    "km/h": "kmh",
    "lb/ft²": "psf",
    "kpa": "kPa",
    "pa": "Pa",
    "per m³": "per_m3",
    "per thousand gal": "per_kgal",
    "mm/h": "mm_h",
    "in/h": "in_h",
    "lph": "l_h",
    "lpm": "l_min",
    "ft³": "ft3",
    "ft^3": "ft3",
    "cu ft": "ft3",
    "cubic feet": "ft3",
    "cubic foot": "ft3",
    "cu m": "m3",
    "cubic metre": "m3",
    "cubic metres": "m3",
    "cubic meter": "m3",
    "cubic meters": "m3",
    "oz": "floz",
    "fluid ounce": "floz",
    "fluid ounces": "floz",
    # Of these a smaller one may follow without its name, so each goes by one name.
    "feet": "ft",
    "foot": "ft",
    "hr": "h",
    "hrs": "h",
    "hour": "h",
    "hours": "h",
    "mins": "min",
    "minute": "min",
    "minutes": "min",
}
"""By what people call them, in small letters: names of ``data/units.txt``."""

NEXT_SMALLER = {"ft": "in", "h": "min", "min": "s"}
"""What a bare number is of after another: 6 ft 2, 1 h 30."""

STROKE = re.compile(r"\s*/\s*|\s+per\s+")
"""What stands between the parts of a unit."""

VULGAR = {"¼": "1/4", "½": "1/2", "¾": "3/4", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8"}

SIGNS = {
    "\u2212": "-",
    "\u00a0": " ",
    "''|\u2019\u2019|\u2032\u2032|[\u201c\u201d\u2033]": '"',
    "[\u2019\u2032]": "'",
    **{sign: f" {fraction}" for sign, fraction in VULGAR.items()},
    r"(?<=[A-Za-z])\.(?=\s|$)": "",  # 12 in., 5 sq. ft.
    r"(?<=\d)-(?=\d+/\d)": " ",  # 6-1/2
}
"""What is written otherwise than it is read here, as patterns; each after those before it."""

SPACED = re.compile(r"(?<![\d.,/])\d{1,3}(?: \d{3})+(?![\d/])")
"""Such as 1 500 L."""

THOUSANDS = re.compile(r"(?<![\d.,])\d{1,3}(?:,\d{3})+(?![\d,])")
"""Such as 1,500 gal."""

WATCH = re.compile(r"(\d{1,3}):(\d{2})")
"""As a watch has it, such as 1:30."""

WATCH_PARTS = {"hours": ("h", "min"), "seconds": ("min", "s")}
"""What stands before and after the colon, by kind of quantity."""

PAID = {"money", "tariff"}
"""Kinds of which the sign of a currency may be typed, which is the gardener's own."""


def plain(text: str, kind: str, *, has_thousands: bool) -> str:
    """What was typed in signs of one sort.

    Parameters
    ----------
    has_thousands : Whether a comma before three figures can only part thousands, as in US units.

    Examples
    --------
    >>> plain("6½ in.", "length", has_thousands=True)
    '6 1/2 in'
    >>> plain("1:30", "hours", has_thousands=False)
    '1 h 30 min'
    """
    for sign, instead in SIGNS.items():
        text = re.sub(sign, instead, text)
    if kind in PAID:
        text = text.strip("$€£ ")
    text = SPACED.sub(lambda found: found[0].replace(" ", ""), text.strip())
    if has_thousands:
        text = THOUSANDS.sub(lambda found: found[0].replace(",", ""), text)
    parts, watch = WATCH_PARTS.get(kind), WATCH.fullmatch(text)
    if parts and watch:
        return f"{watch[1]} {parts[0]} {watch[2]} {parts[1]}"
    return text


def unit(typed: str) -> str:
    """The unit that is called so, as ``data/units.txt`` has it; what we do not know as it was typed."""
    called = " ".join(typed.lower().split())
    return UNITS.get(called) or STROKE.sub("/", called)
