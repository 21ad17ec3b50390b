"""What a way to begin asks: measures and choices, each with the usual value of such a garden."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from functools import cache
from importlib.resources import files
from tomllib import loads
from typing import Any

from euhydra.garden import catalogue, plumbing, quantities
from euhydra.garden.quantities import KINDS, QuantityError, System

AskedValue = float | int | str
"""Of a quantity in SI, of a count, or the id of a choice."""


@dataclass(frozen=True)
class Ask:
    """One measure or choice.

    at : Part of the drawing under which it stands.
    kind : Kind of quantity, `count`, or a list of choices.
    usual : What such a garden usually has. SI units.
    low, high : What is plausible. SI units.
    options : Ids of the choices that fit; empty for all of the list.
    sets : The field that the value stands in, such as `roofs.length_m`; empty where it stands in none.
    """

    id: str
    at: str
    label: str
    kind: str
    help: str
    usual: AskedValue
    low: float = 0.0
    high: float = 0.0
    options: tuple[str, ...] = ()
    sets: str = ""

    @property
    def is_choice(self) -> bool:
        """Whether one of a list is chosen."""
        return self.kind not in KINDS and self.kind != "count"

    def usual_in(self, system: System) -> AskedValue:
        """The usual value, a round number in the units shown."""
        if self.kind in KINDS:
            assert isinstance(self.usual, float)
            return quantities.rounded(self.usual, self.kind, system)
        return self.usual

    def choices(self) -> dict[str, str]:
        """Its choices that fit, by id, with their names; of a timer what one sees of it."""
        rows = CHOICES[self.kind]()
        return {
            row_id: getattr(rows[row_id], "face", "") or rows[row_id].name
            for row_id in self.options or rows
        }

    def parse(self, text: str, system: System) -> AskedValue:
        """What was typed.

        Raises
        ------
        QuantityError : with what to type instead.
        """
        if self.is_choice:
            if text not in self.choices():
                raise QuantityError(f"“{text}” is no choice here: {', '.join(self.choices())}.")
            return text
        found: AskedValue
        if self.kind == "count":
            found = quantities.whole(text)
        else:
            found = quantities.parse(text, self.kind, system)
        if not self.low <= found <= self.high:
            raise QuantityError(
                f"Type from {self.show(self.low, system)} to {self.show(self.high, system)}."
            )
        return found

    def show(self, value: AskedValue, system: System) -> str:
        """A value as it is typed."""
        if self.kind in KINDS:
            return quantities.typed(float(value), self.kind, system)
        return str(value) if self.is_choice else f"{value:.0f}"


LINKED, OVERFLOWING = "linked", "overflowing"
"""How barrels in a row are joined."""


@dataclass(frozen=True)
class _Choice:
    name: str


JOINS = {
    LINKED: _Choice("by hose at the foot: one level"),
    OVERFLOWING: _Choice("only by overflow, one into the next"),
}

CHOICES: Mapping[str, Callable[[], Mapping[str, Any]]] = {
    "joins": lambda: JOINS,
    "crops": catalogue.crops,
    "soils": catalogue.soils,
    "timers": catalogue.timers,
    "pump_kinds": plumbing.pump_kinds,
}
"""Lists of choices."""


@cache
def _data() -> Mapping[str, Any]:
    return loads(files("euhydra").joinpath("data", "ways.toml").read_text("utf-8"))


@dataclass(frozen=True)
class WayKind:
    """A way to begin, in words.

    draws : What is drawn at each place of the drawing, in the order of the water.
    is_source : Whether it is about where water comes from, and so takes none from what is there.
    """

    id: str
    name: str
    sentence: str
    draws: Mapping[str, str]
    asks: tuple[Ask, ...]
    is_source: bool = False


@cache
def way_kinds() -> dict[str, WayKind]:
    """Every way to begin, by id, in the order in which they are shown."""
    asks = {name: _ask(name, row) for name, row in _data()["asks"].items()}
    return {
        name: WayKind(
            name,
            row["name"],
            row["sentence"],
            row["draws"],
            tuple(replace(asks[ask], usual=usual) for ask, usual in row.get("asks", {}).items()),
            row.get("is_source", False),
        )
        for name, row in _data()["ways"].items()
    }


@cache
def fields_set() -> frozenset[str]:
    """Every field that a way to begin asks for, as `collection.field`."""
    return frozenset(ask.sets for way in way_kinds().values() for ask in way.asks if ask.sets)


def _ask(name: str, row: Mapping[str, Any]) -> Ask:
    return Ask(**{"id": name, "usual": 0.0, **row, "options": tuple(row.get("options", ()))})
