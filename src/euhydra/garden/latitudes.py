"""A latitude as people write it: in degrees, with minutes and seconds, with a letter for north or south."""

import re

from euhydra.garden.quantities import QuantityError

EXAMPLE = "48.5, 33.9 S or 41° 12' N"

MARKS = str.maketrans(
    {"°": " ", "º": " ", "'": " ", "’": " ", "′": " ", '"': " ", "″": " ", "”": " "}
)

MOST = 90.0
"""At the poles. [°]"""


def parse(text: str) -> float:
    """Degrees, north positive.

    Raises
    ------
    QuantityError : with what to type instead.

    Examples
    --------
    >>> parse("41° 12' N"), parse("33.9 S"), parse("-33,9")
    (41.2, -33.9, -33.9)
    """
    fault = QuantityError(f"“{text.strip()}” is no latitude: for example {EXAMPLE}.")
    plain = text.strip().lower().replace("−", "-").replace(",", ".")
    side = re.search(r"\b(north|south|n|s)\b|(?<=[\d°'\"′″ ])([ns])$|^([ns])(?=[\d ])", plain)
    letter = next((each[0] for each in side.groups() if each), "") if side else ""
    if side:
        plain = plain[: side.start()] + plain[side.end() :]
    is_minus = plain.startswith("-")
    numbers = plain.lstrip("+-").translate(MARKS).split()
    if not 1 <= len(numbers) <= 3 or (is_minus and letter):
        raise fault
    try:
        parts = [float(number) for number in numbers]
    except ValueError:
        raise fault from None
    if any(part < 0 for part in parts) or any(part >= 60 for part in parts[1:]):
        raise fault
    degrees = sum((part / 60.0**place for place, part in enumerate(parts)), 0.0)
    if not degrees <= MOST:
        raise QuantityError(
            f"A latitude lies between 90 south and 90 north: for example {EXAMPLE}."
        )
    return round(-degrees if is_minus or letter == "s" else degrees, 6)
