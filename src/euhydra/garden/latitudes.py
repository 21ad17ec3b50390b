"""A latitude as people write it: in degrees, with minutes and seconds, with a letter for north or south."""

import re

from euhydra.garden.quantities import QuantityError

EXAMPLE = "48.5, 33.9 S or 41° 12' N"

MARKS = str.maketrans(
    {"°": " ", "º": " ", "'": " ", "’": " ", "′": " ", '"': " ", "″": " ", "”": " "}
)

LONGEST = 60
"""Letters of what may be a place by its degrees; more are a slip, and cost time to read. Our choice."""

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
    fault = QuantityError(f"“{text.strip():.40}” is no latitude: for example {EXAMPLE}.")
    degrees = _degrees(text, "north", "south")
    if degrees is None:
        raise fault
    if not abs(degrees) <= MOST:
        raise QuantityError(
            f"A latitude lies between 90 south and 90 north: for example {EXAMPLE}."
        )
    return degrees


def pair(text: str) -> tuple[float, float] | None:
    """Latitude and longitude, north and east positive, where both are typed; None for anything else.

    Examples
    --------
    >>> pair("50.85, 4.35"), pair("33.9 S 151.2 E"), pair("Brussels")
    ((50.85, 4.35), (-33.9, 151.2), None)
    """
    if len(text) > LONGEST:
        return None
    for gap in re.finditer(r"[,;\s]+", text.strip()):
        first, second = text.strip()[: gap.start()], text.strip()[gap.end() :]
        latitude = _degrees(first, "north", "south")
        longitude = _degrees(second, "east", "west")
        if latitude is None or longitude is None:
            continue
        if abs(latitude) <= MOST and abs(longitude) <= 2 * MOST:
            return latitude, longitude
    return None


def _degrees(text: str, plus: str, minus: str) -> float | None:
    """Degrees with minutes, seconds and the side of the Earth; None for what is none."""
    if len(text) > LONGEST:
        return None
    p, m = plus[0], minus[0]
    plain = text.strip().lower().replace("−", "-").replace(",", ".")
    side = re.search(
        rf"\b({plus}|{minus}|{p}|{m})\b|(?<=[\d°'\"′″ ])([{p}{m}])$|^([{p}{m}])(?=[\d ])", plain
    )
    letter = next((each[0] for each in side.groups() if each), "") if side else ""
    if side:
        plain = plain[: side.start()] + plain[side.end() :]
    is_minus = plain.startswith("-")
    numbers = plain.lstrip("+-").translate(MARKS).split()
    if not 1 <= len(numbers) <= 3 or (is_minus and letter):
        return None
    try:
        parts = [float(number) for number in numbers]
    except ValueError:
        return None
    if any(part < 0 for part in parts) or any(part >= 60 for part in parts[1:]):
        return None
    degrees = sum((part / 60.0**place for place, part in enumerate(parts)), 0.0)
    if degrees != degrees or degrees > 360:
        return None
    return round(-degrees if is_minus or letter == m else degrees, 6)
