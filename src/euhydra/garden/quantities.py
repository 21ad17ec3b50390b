"""Quantities as people type and read them, and as SI numbers inside.

The only place where units are converted. Every field of the garden document and every figure
on a screen names one of the kinds below.
"""

import csv
import re
from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum
from fractions import Fraction
from functools import cache, lru_cache
from importlib.resources import files
from math import cos, floor, isfinite, log10, radians
from typing import TYPE_CHECKING, Literal, TypeVar

import numpy as np
from numpy.typing import NDArray

from euhydra.garden import spoken

if TYPE_CHECKING:
    import pint

WHOLE_FROM_TEN = {"share", "minutes"}
"""Kinds of which nobody wants a tenth once there are ten."""


ROUNDED = {"flow", "pressure"}
"""Kinds that are rounded before the point too: nobody knows a flow to five figures."""

TO_THE_PENNY = {"money", "tariff"}
"""Kinds that are shown with two decimals, like a bill."""

MOST_DECIMALS = {"head": 2}
"""Kinds that are never shown finer, whatever the digits asked for: a centimetre of head."""

READ_DECIMALS = {"volume": 1, "area": 2, "length": 2}
"""Kinds that are shown no finer where they are read; a field shows what was typed."""


SIXTEENTHS = {"tape"}
"""Kinds that are read off a tape: inches in sixteenths, as it has them."""


QuantityKind = Literal[
    "length",
    "pack_length",
    "height",
    "tape",
    "head",
    "elevation",
    "bore",
    "area",
    "volume",
    "rain",
    "flow",
    "seep",
    "cup",
    "speed",
    "temperature",
    "minutes",
    "hours",
    "days",
    "share",
    "plain",
    "angle",
    "mass",
    "pressure",
    "wind",
    "level",
    "seconds",
    "tap_pressure",
    "money",
    "tariff",
    "intake",
    "cupful",
]
"""Names of the kinds of quantity in ``data/quantities.csv``, for the type checker."""


class System(StrEnum):
    """Which units a garden is shown in."""

    METRIC = "metric"
    US = "us"


US_UNITS_IN = "United States"
"""Country whose gardens are measured in US units."""


def usual_system(country: str) -> System:
    """Units of a garden there, until somebody chooses."""
    return System.US if country == US_UNITS_IN else System.METRIC


class QuantityError(ValueError):
    """What was typed is not a quantity of the kind asked for; the message says what to type."""


@dataclass(frozen=True)
class Display:
    """A unit as shown: its name, the sign after a number, and whether a bare number means it."""

    unit: str
    sign: str
    is_plain: bool
    example: str


@dataclass(frozen=True)
class Kind:
    """A kind of quantity: its unit inside, and how each system shows it.

    A bare number is taken only where the system has one everyday unit for the kind
    (`is_plain`); elsewhere the unit has to be said.
    """

    name: str
    unit: str
    metric: Display
    us: Display

    def display(self, system: System) -> Display:
        """How `system` shows this kind."""
        return self.metric if system is System.METRIC else self.us


def _display(row: dict[str, str], system: System) -> Display:
    unit, sign, plain, example = (
        row[f"{system}_{c}"] for c in ("unit", "sign", "plain", "example")
    )
    return Display(unit, sign, plain == "yes", example)


def _kinds() -> dict[str, Kind]:
    text = files("euhydra.data").joinpath("quantities.csv").read_text("utf-8")
    return {
        row["name"]: Kind(
            row["name"], row["unit"], _display(row, System.METRIC), _display(row, System.US)
        )
        for row in csv.DictReader(text.splitlines())
    }


KINDS = _kinds()
"""Every kind of quantity that the program knows, by name."""


@cache
def _registry() -> "pint.UnitRegistry[float]":
    import pint

    registry: pint.UnitRegistry[float] = pint.UnitRegistry(
        str(files("euhydra.data").joinpath("units.txt")), autoconvert_offset_to_baseunit=True
    )
    return registry


@lru_cache(maxsize=512)
def _linear(unit: str, inside: str) -> tuple[float, float]:
    """Factor and offset from `unit` to `inside`.

    Raises
    ------
    QuantityError : if it measures something else.
    """
    if unit in ("", inside):
        return 1.0, 0.0
    import pint  # late: what is only looked at, in the units it is kept in, waits for no library

    registry = _registry()
    try:
        zero = float(registry.Quantity(0.0, unit).to(inside or "dimensionless").magnitude)
        one = float(registry.Quantity(1.0, unit).to(inside or "dimensionless").magnitude)
    except pint.PintError:
        raise QuantityError(f"“{unit:.20}” is not a unit for this.") from None
    return one - zero, zero


@cache
def _unit_names() -> frozenset[str]:
    """Every name and sign of a unit in ``data/units.txt``, and what they are called in the plural."""
    names = frozenset(_registry())
    return names | {f"{name}s" for name in names}


MOST_PARTS = 4
"""Names in a unit with strokes, such as `l/h/m`."""


def _is_unit(unit: str) -> bool:
    """Whether it is made of names that we know; only such a one may reach the library.

    The library would compute with whatever else it is given: powers without end, divisions by
    zero, brackets within brackets.
    """
    names = unit.split("/")
    return not unit or (len(names) <= MOST_PARTS and all(name in _unit_names() for name in names))


def to_si(value: float, unit: str, kind: str) -> float:
    """`value` in `unit` as the number that is kept inside.

    Raises
    ------
    QuantityError : if the unit is unknown or measures something else.
    """
    inside = KINDS[kind].unit
    if unit != inside and not _is_unit(unit):
        raise QuantityError(f"“{unit:.20}” is not a unit.")
    factor, offset = _linear(unit, inside)
    return value * factor + offset


Numbers = TypeVar("Numbers", float, NDArray[np.float64])


def from_si(value: Numbers, kind: str, system: System) -> Numbers:
    """The kept number, or an array of them, in the unit that `system` shows."""
    factor, offset = _linear(KINDS[kind].display(system).unit, KINDS[kind].unit)
    return (value - offset) / factor


PITCH = re.compile(r"(.+?)\s+at\s+(\d+(?:\.\d+)?)\s*(?:°|deg|degrees)?", re.IGNORECASE)
"""A length along a roof's slope with its pitch, such as `3.5 m at 30°`."""

NUMBER = r"\d+(?:[.,]\d+)?(?:\s+\d+/\d+|/\d+)?|[.,]\d+"
UNIT = r"[^\d\s.,:+-][^\d.,+-]*?(?:[23](?!\d)|²|³|\^2|\^3)?"
PIECE = re.compile(rf"\s*({NUMBER})\s*({UNIT})?(?=\s*(?:[\d.,]|$))")


def parse(text: str, kind: str, system: System) -> float:
    """The number inside for what a person typed, such as `55 gal`, `3/4 in` or `6 ft 2`.

    Parameters
    ----------
    text : As typed.
    kind : A name of `KINDS`.
    system : Decides what a bare number means, where it can mean only one thing.

    Raises
    ------
    QuantityError : with what to type instead.

    Examples
    --------
    >>> parse("6 ft 2", "length", System.METRIC)
    1.8796
    >>> parse("3/4 in", "bore", System.METRIC)
    0.01905
    """
    shown = KINDS[kind].display(system)
    cleaned = spoken.plain(text, kind, has_thousands=system is System.US)
    sloped = PITCH.fullmatch(cleaned) if kind == "level" else None
    if sloped:
        return _level_length(sloped[1], float(sloped[2]), system)
    if not cleaned:
        raise QuantityError(f"Nothing typed yet: for example {shown.example}.")
    # The sign goes inside the conversion, for the sake of -4 °F.
    sign = -1.0 if cleaned.startswith("-") else 1.0
    total, last_unit, rest = 0.0, "", cleaned.lstrip("+-").strip()
    while rest:
        match = PIECE.match(rest)
        if not match:
            raise QuantityError(f"“{text.strip()}” is not understood: for example {shown.example}.")
        unit = _unit_of(match[2], last_unit, shown, kind)
        if not match[2] and match.end() < len(rest):
            raise QuantityError(f"“{text.strip()}” is not understood: for example {shown.example}.")
        total += to_si(sign * _number(match[1]), unit, kind)
        last_unit, rest = unit, rest[match.end() :].strip()
    if not isfinite(total):
        raise QuantityError(f"“{text.strip()}” is too large to be meant.")
    return total


MOST_FIGURES = 9
"""Figures of a whole number that is taken; more are a slip, and cost time to read."""


def whole(text: str) -> int:
    """A whole number as typed.

    Raises
    ------
    QuantityError : with what to type instead.
    """
    cleaned = text.strip()
    if not cleaned.isdecimal():
        raise QuantityError("Type a whole number, such as 2.")
    if len(cleaned) > MOST_FIGURES:
        raise QuantityError(f"“{cleaned:.12}…” is too large to be meant.")
    return int(cleaned)


def whole_or(text: str, otherwise: int) -> int:
    """A whole number as an address has it; `otherwise` where it has none."""
    try:
        return whole(text)
    except QuantityError:
        return otherwise


def _level_length(slope: str, pitch: float, system: System) -> float:
    """A length along a slope as the level length under it. [m]"""
    if not 0 <= pitch < 90:
        example = KINDS["level"].display(system).example
        raise QuantityError(f"A pitch lies between 0 and 90 degrees: for example {example}.")
    return parse(slope, "length", system) * cos(radians(pitch))


def _unit_of(typed: str | None, last_unit: str, shown: Display, kind: str) -> str:
    if typed:
        called = " ".join(typed.lower().split())
        if called == shown.sign.lower() or (called == "°" and shown.sign.startswith("°")):
            return shown.unit
        unit = spoken.unit(typed)
        try:
            to_si(1.0, unit, kind)
        except QuantityError as error:
            raise QuantityError(f"{error} Type for example {shown.example}.") from None
        return unit
    if last_unit in spoken.NEXT_SMALLER:
        return spoken.NEXT_SMALLER[last_unit]
    if shown.is_plain and not last_unit:
        return shown.unit
    raise QuantityError(f"Say the unit too: for example {shown.example}.")


def _number(text: str) -> float:
    if re.fullmatch(r"\d{1,3},\d{3}", text):
        whole, part = text.split(",")
        raise QuantityError(
            f"“{text}” could be {whole}{part} or {whole}.{part}: write one of them."
        )
    value = 0.0
    for piece in text.replace(",", ".").split():
        top, _, bottom = piece.partition("/")
        if bottom and float(bottom) == 0:
            raise QuantityError(f"“{text}” divides by zero.")
        value += float(top) / (float(bottom) if bottom else 1.0)
    return value


TALL = 3.0
"""Height over which nobody tells it in centimetres or inches. [m] Our choice."""


def show(
    value: float, kind: str, system: System, digits: int = 3, decimals: int | None = None
) -> str:
    """`value` as people read it, with its unit, to about `digits` significant figures.

    Parameters
    ----------
    decimals : With which it stands in a column, as of `column_decimals`; None by itself.

    Examples
    --------
    >>> show(0.2, "volume", System.METRIC), show(0.2, "volume", System.US)
    ('200 L', '52.8 gal')
    >>> show(0.934, "share", System.METRIC)
    '93 %'
    >>> show(0.173, "tape", System.METRIC), show(0.173, "tape", System.US)
    ('17.3 cm', '6 13/16 in')
    >>> show(15.0, "height", System.METRIC), show(15.0, "height", System.US)
    ('15 m', '49.2 ft')
    """
    if kind == "height" and decimals is None and abs(value) > TALL:
        kind = "head"
    number = show_number(value, kind, system, digits, decimals)
    gap = "" if kind == "angle" else " "
    return f"{number}{gap}{KINDS[kind].display(system).sign}".rstrip()


def typed(value: float, kind: str, system: System, digits: int = 4) -> str:
    """As `show`, as one would type it: what stands in a field is read again, and thousands could be thousandths.

    Examples
    --------
    >>> typed(3.0, "volume", System.METRIC)
    '3000 L'
    """
    return show(value, kind, system, digits).replace(",", "")


def show_number(
    value: float, kind: str, system: System, digits: int = 3, decimals: int | None = None
) -> str:
    """As `show`, without the unit."""
    shown = from_si(value, kind, system)
    if not isfinite(shown):
        return "∞" if shown > 0 else "–"
    if kind in SIXTEENTHS and system is System.US:
        return _sixteenths(shown)
    if kind in TO_THE_PENNY:
        return f"{shown:,.2f}".replace("-", "−")
    if shown == 0 or abs(shown) < 1e-9:
        return "0"
    own = _decimals(shown, kind, digits)
    # What would be nothing among larger ones is shown as it is by itself.
    is_alone = decimals is None or round(abs(shown), decimals) == 0
    fixed = own if decimals is None or is_alone else decimals
    if kind in ROUNDED:
        shown = float(f"{shown:.{_digits(kind, digits)}g}")
    text = f"{shown:,.{fixed}f}".replace("-", "−")
    return text.rstrip("0").rstrip(".") if "." in text and is_alone else text


def column_decimals(values: Iterable[float], kind: str, system: System) -> int:
    """Decimals with which values that stand in one column are shown: those of the largest.

    Examples
    --------
    >>> places = column_decimals([0.0213, 0.007], "volume", System.METRIC)
    >>> [show(v, "volume", System.METRIC, decimals=places) for v in (0.0213, 0.007)]
    ['21.3 L', '7.0 L']
    """
    shown = [abs(from_si(value, kind, system)) for value in values]
    largest = max((v for v in shown if isfinite(v)), default=0.0)
    return _decimals(largest, kind, 3) if largest > 1e-9 else 0


def _digits(kind: str, digits: int) -> int:
    return 2 if kind in WHOLE_FROM_TEN and digits <= 3 else digits


def _decimals(shown: float, kind: str, digits: int) -> int:
    """Decimals of a number that is not nothing, by its size."""
    wanted = max(0, _digits(kind, digits) - 1 - floor(log10(abs(shown)) + 1e-9))
    finest = READ_DECIMALS if digits <= 3 else MOST_DECIMALS
    return min(wanted, finest.get(kind, MOST_DECIMALS.get(kind, 6)))


def _sixteenths(inches: float) -> str:
    """Such as `6 13/16`; `0` below half a sixteenth."""
    nearest = Fraction(round(abs(inches) * 16), 16)
    whole, rest = divmod(nearest, 1)
    words = " ".join(str(part) for part in (whole, rest) if part) or "0"
    return f"−{words}" if inches < 0 and nearest else words


CLOSE_ENOUGH = 0.03
"""Share by which a usual figure may be moved to be a round one. [-]"""


def rounded(value: float, kind: str, system: System) -> float:
    """The nearest round number in the unit that `system` shows, kept inside.

    As few digits as stay within three hundredths of it: 60 cm is 24 in, 2.5 cm is 1 in.

    Examples
    --------
    >>> show(rounded(0.6, "height", System.US), "height", System.US)
    '24 in'
    >>> show(rounded(0.6, "height", System.METRIC), "height", System.METRIC)
    '60 cm'
    """
    shown = from_si(value, kind, system)
    if shown == 0:
        return value
    for digits in range(1, 4):
        near = float(f"{shown:.{digits}g}")
        if abs(near - shown) <= CLOSE_ENOUGH * abs(shown):
            return to_si(near, KINDS[kind].display(system).unit, kind)
    return value
