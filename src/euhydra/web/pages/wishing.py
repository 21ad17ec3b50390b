"""Lay lines for me: what its form offers, and what is typed there."""

from typing import Any

from euhydra.garden import quantities
from euhydra.garden.model import Garden
from euhydra.garden.quantities import QuantityError
from euhydra.planner.lay import proposed_lines
from euhydra.planner.lay.lines_there import wishes_there
from euhydra.planner.lay.wishes import Method, Wish
from euhydra.web.desk import Typed

USUAL_LINES = {
    Method.ROWS: ("line", "line-low"),
    Method.SOAKER: ("soaker", "soaker"),
    Method.STEMS: ("dripper", "low-2"),
    Method.POTS: ("dripper", "button-2"),
}
"""By method: the field that names the kind of line or dripper, and the usual one."""


LEFT_THERE = "left"
"""What the form says where lines that are there already stay beside the new ones."""


def wishable(garden: Garden) -> dict[str, Any]:
    """Where lines may begin; the fields of the form as they are usual, and as the lines are by what has some."""
    there = wishes_there(garden)
    starts = proposed_lines.starts_of(garden)
    listed = {part.id for part in starts}
    # Where lines begin that are there is room again once they are taken out.
    freed = {wish.begins_at for wish in there.values()} - listed
    usual = dict(USUAL_LINES[method] for method in (Method.ROWS, Method.SOAKER, Method.POTS))
    return {
        "starts": [*starts, *(part for part in garden.joinable if part.id in freed)],
        "fresh": usual | {"begins_at": starts[0].id if starts else "", "timer": ""},
        "there": {waters: _fields_of(wish) for waters, wish in there.items()},
    }


def _fields_of(wish: Wish) -> dict[str, str]:
    name, _ = USUAL_LINES[wish.method]
    known = {"begins_at": wish.begins_at, name: wish.line}
    chosen = {"method": wish.method.value, "timer": wish.timer or ""}
    return chosen | {field: value for field, value in known.items() if value}


ALSO = "also-"
"""Before the id of what is laid together with the first, as the form names it."""


def wishes_typed(garden: Garden, typed: Typed) -> list[Wish]:
    """What is to be laid, as typed: the first, and what is laid with it.

    Raises
    ------
    QuantityError : naming the field and what to type instead.
    """
    first = typed.get("waters", "")
    also = [p.id for p in garden.planted if f"{ALSO}{p.id}" in typed and p.id != first]
    return [_wish(garden, typed, waters) for waters in (first, *also)]


def _wish(garden: Garden, typed: Typed, waters: str) -> Wish:
    method = typed.get("method", "rows")
    if any(pots.id == waters for pots in garden.pots):
        method = Method.POTS
    if method not in set(Method):
        raise QuantityError("Choose how it is to be watered.")
    name, usual = USUAL_LINES[Method(method)]
    return Wish(
        waters,
        typed.get("begins_at", ""),
        Method(method),
        typed.get(name) or usual,
        _metres(
            garden,
            typed.get("spacing", "").strip(),
            "height",
            BETWEEN_OUTLETS,
            "Between outlets",
        ),
        _rows(typed.get("rows", "").strip()),
        typed.get("timer") or None,
        has_valve="valves" in typed,
        hose_m=_metres(garden, typed.get("hose", "").strip(), "length", HOSE, "Hose to it"),
    )


HOSE = 0.05, 300.0
"""Hose to where lines begin that are laid for the gardener, from and to. [m]"""

BETWEEN_OUTLETS = 0.05, 3.0
"""Between outlets of a line that is laid for the gardener, from and to. [m]"""


def _metres(
    garden: Garden, text: str, quantity: str, limits: tuple[float, float], what: str
) -> float | None:
    """A length as typed; None where nothing is. [m]"""
    if not text:
        return None
    metres = quantities.parse(text, quantity, garden.units)
    if not limits[0] <= metres <= limits[1]:
        least, most = (quantities.show(m, quantity, garden.units) for m in limits)
        raise QuantityError(f"{what}: from {least} to {most}.")
    return metres


MOST_LAID = 40
"""Rows that are laid at once."""


def _rows(text: str) -> int | None:
    if not text:
        return None
    rows = quantities.whole(text) if text.isdecimal() else 0
    if not 1 <= rows <= MOST_LAID:
        raise QuantityError(f"Rows: type a whole number from 1 to {MOST_LAID}, or leave it empty.")
    return rows
