"""Values of a form's fields: how each kind is read from what was typed, and shown."""

import re
from collections.abc import Mapping, Sequence
from typing import Any

from pydantic.fields import FieldInfo
from pydantic_core import ErrorDetails

from euhydra.garden import document, quantities
from euhydra.garden.part import quantity_of
from euhydra.garden.pipes import CurvePoint
from euhydra.garden.quantities import KINDS, QuantityError, System
from euhydra.planner.dates import MONTH_NAMES, hour_in_words, months_in_words
from euhydra.web.wording import choice_lists

DAYS = ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")

MOST_POSITIONS = 24 * 60
"""Positions of a dial, ranges counted out."""

MOST_SOURCES = 4
"""Sources that a bed may list."""


def typed_in(info: FieldInfo, name: str, typed: Mapping[str, str]) -> str:
    """What was typed in a field; of a list of sources, what was chosen, in order."""
    if quantity_of(info) == "sources":
        chosen = (typed.get(f"{name}-{i}", "") for i in range(1, MOST_SOURCES + 1))
        return " ".join(choice for choice in chosen if choice)
    return typed.get(name, "").strip()


def parse(info: FieldInfo, text: str, system: System) -> Any:
    """What the model takes for `text` in that field.

    Raises
    ------
    QuantityError : with what to type instead.
    """
    kind = quantity_of(info)
    if not text and not info.is_required():
        return info.get_default(call_default_factory=True)
    if kind in KINDS:
        return quantities.parse(text, kind, system)
    if kind == "count":
        return quantities.whole(text)
    if kind == "every":
        return _parse_every(text)
    if kind in choice_lists() or kind == "link":
        if not text:
            raise QuantityError("Choose one.")
        return text
    if kind == "sources":
        return tuple(text.split())
    if kind == "weekdays":
        return _parse_weekdays(text)
    if kind == "months":
        return _parse_months(text)
    if kind == "curve":
        return _parse_curve(text, system)
    if kind == "positions":
        return _parse_positions(text)
    if kind == "clock":
        return _parse_clock(text)
    if kind == "day":
        return _parse_day(text)
    if not text:
        raise QuantityError("Give it a name.")
    return text


HOURS = re.compile(r"\s*([0-9]{1,4})\s*(?:h|hours?)\s*", re.ASCII | re.IGNORECASE)
"""An interval as a dial without a clock has it, such as `48 h`."""


def _parse_every(text: str) -> int:
    """So many days, as such or in the hours of a dial."""
    if not (found := HOURS.fullmatch(text)):
        return quantities.whole(text.lower().removesuffix("days").removesuffix("day"))
    days, rest = divmod(int(found[1]), 24)
    if rest or not days:
        raise QuantityError(
            "Type whole days, such as 2, or their hours as on a dial, such as 48 h."
        )
    return days


DAY_NUMBER = re.compile(r"([0-9]{1,2})(?:st|nd|rd|th)?", re.ASCII | re.IGNORECASE)
"""A day of the month, such as 10 or 10th."""

AND = re.compile(r"[,;]|\band\b")
"""What stands between the pieces of a list."""


def _parse_day(text: str) -> dict[str, int]:
    """Month and day from such as `10 May`, `May 10th`."""
    words = re.split(r"[\s.,-]+", text)
    names = [w for w in words if w[:3].lower() in MONTHS]
    numbers = [found[1] for found in map(DAY_NUMBER.fullmatch, words) if found]
    if len(names) != 1 or len(numbers) != 1:
        raise QuantityError("Type day and month, such as 10 May.")
    return {"month": MONTHS[names[0][:3].lower()], "day": int(numbers[0])}


def _parse_weekdays(text: str) -> tuple[int, ...]:
    """Loads by weekday, Monday first, from such as `Mon 2, Thu`."""
    loads = [0] * len(DAYS)
    for piece in AND.split(text):
        words = piece.split()
        if not words:
            continue
        day = next((i for i, name in enumerate(DAYS) if words[0][:3].title() == name), None)
        if day is None:
            raise QuantityError(f"“{words[0]}” is no day of the week: type such as Mon 2, Thu.")
        number = words[1] if len(words) > 1 else "1"
        if not number.isdecimal() or len(words) > 2:
            raise QuantityError(f"“{piece.strip()}” is not understood: type such as Mon 2, Thu.")
        loads[day] += quantities.whole(number)
    return tuple(loads)


def _parse_months(text: str) -> tuple[int, ...]:
    """Months, January being 1, from such as `May to September, November`."""
    found: set[int] = set()
    for piece in AND.split(text):
        names = [w[:3].lower() for w in re.split(r"\b(?:to|through|until)\b|[-–\s]+", piece) if w]
        if not names:
            continue
        if len(names) > 2 or any(name not in MONTHS for name in names):
            raise QuantityError(
                f"“{piece.strip()}” is not understood: type such as May to September, November."
            )
        first, last = MONTHS[names[0]], MONTHS[names[-1]]
        found |= {(first + i - 1) % 12 + 1 for i in range((last - first) % 12 + 1)}
    return tuple(sorted(found))


def _parse_curve(text: str, system: System) -> tuple[dict[str, float], ...]:
    """Points of a pump's curve from such as `0 L/h 6 m, 900 L/h 4 m`."""
    points = []
    for piece in text.replace(";", ",").split(","):
        words = piece.split()
        if len(words) != 4:
            raise QuantityError(f"“{piece.strip()}” is not understood: type such as 900 L/h 4 m.")
        flow = quantities.parse(" ".join(words[:2]), "flow", system)
        head = quantities.parse(" ".join(words[2:]), "head", system)
        points.append({"flow_m3_s": flow, "head_m": head})
    return tuple(points)


def _parse_positions(text: str) -> tuple[float, ...]:
    """Positions of a dial from such as `5, 10, 20` or `1-60`."""
    found: list[float] = []
    for piece in text.replace(";", ",").split(","):
        ends = [end.strip() for end in piece.split("-")]
        if not all(end.replace(".", "", 1).isdecimal() for end in ends) or len(ends) > 2:
            raise QuantityError(
                f"“{piece.strip()}” is not understood: type such as 5, 10, 20, or 1-60."
            )
        first, last = float(ends[0]), float(ends[-1])
        if last < first:
            raise QuantityError(
                f"“{piece.strip()}”: the longest is shorter than the shortest. Type {ends[-1]}-{ends[0]}."
            )
        if not len(found) + last - first < MOST_POSITIONS:
            raise QuantityError(
                f"“{piece.strip():.40}” is too much: up to {MOST_POSITIONS} positions in all."
            )
        found += [first + i for i in range(int(last - first) + 1)]
    return tuple(found)


def _positions_shown(positions: Sequence[float]) -> str:
    runs: list[list[float]] = []
    for place in positions:
        if runs and place == runs[-1][-1] + 1:
            runs[-1].append(place)
        else:
            runs.append([place])
    said = (
        f"{run[0]:g}-{run[-1]:g}" if len(run) > 2 else ", ".join(f"{p:g}" for p in run)
        for run in runs
    )
    return ", ".join(said)


CLOCK = re.compile(
    r"(\d{1,2})(?:[:.h](\d{1,2}))?\s*h?\s*(?:([ap])\.?\s?m\.?)?", re.ASCII | re.IGNORECASE
)
"""An hour of the day, such as 5:30, 5, or 6 pm."""


def _parse_clock(text: str) -> float:
    """Seconds after midnight from such as `5:30`, `5` or `6:30 pm`."""
    found = CLOCK.fullmatch(text.strip())
    if found is None:
        raise QuantityError("Type an hour of the day, such as 5:30.")
    hour, minute, half = int(found[1]), int(found[2] or "0"), (found[3] or "").lower()
    is_there = 1 <= hour <= 12 if half else hour <= 23
    if half:
        hour = hour % 12 + (12 if half == "p" else 0)
    if not is_there or minute > 59:
        raise QuantityError("An hour of the day lies between 0:00 and 23:59.")
    return hour * 3600.0 + minute * 60.0


def _curve_shown(points: Sequence[CurvePoint], system: System) -> str:
    return ", ".join(
        f"{quantities.typed(p.flow_m3_s, 'flow', system)} "
        f"{quantities.typed(p.head_m, 'head', system)}"
        for p in points
    )


MONTHS = {name[:3].lower(): number for number, name in enumerate(MONTH_NAMES, 1)}


def shown(info: FieldInfo, value: Any, system: System) -> str:
    """A value as the field shows it; nothing for None."""
    if value is None:
        return ""
    kind = quantity_of(info)
    if kind in KINDS:
        return quantities.typed(value, kind, system)
    if kind == "sources":
        return " ".join(value)
    if kind == "curve":
        return _curve_shown(value, system)
    if kind == "positions":
        return _positions_shown(value)
    if kind == "clock":
        return hour_in_words(value)
    if kind == "weekdays":
        said = (f"{day} {n}" for day, n in zip(DAYS, value, strict=True) if n)
        return ", ".join(said)
    if kind == "months":
        return months_in_words(value) if value else ""
    if kind == "day":
        return f"{value.day} {MONTH_NAMES[value.month - 1]}"
    return str(value)


def message_of(info: FieldInfo, detail: ErrorDetails, system: System) -> str:
    """What the model has against the field, limits in the garden's units."""
    kind, limits = quantity_of(info), detail.get("ctx", {})
    if kind in KINDS:
        for name, words in (
            ("gt", "Too small: it has to be more than"),
            ("ge", "Too small: at least"),
            ("lt", "Too large: it has to be less than"),
            ("le", "Too large: at most"),
        ):
            if name in limits:
                return f"{words} {quantities.show(float(limits[name]), kind, system)}."
    return document.message_of(detail, system)
