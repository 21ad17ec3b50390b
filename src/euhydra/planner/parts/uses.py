"""A good as it stands on the shopping list, and uses of it."""

from collections.abc import Iterable
from dataclasses import dataclass

from euhydra.garden import catalogue
from euhydra.garden import goods as kinds
from euhydra.garden.goods import Unit

TUBE_STEP = 0.0001
"""Inside widths are told apart to a tenth of a millimetre. [m]"""


@dataclass(frozen=True)
class Good:
    """Something to buy.

    key : Names it in the owner's price table.
    name : With its sizes, to be filled in the reader's units.
    pack, price : How many one pack holds, and what one (or a metre) costs: a guess.
    """

    key: str
    name: str
    group: str
    unit: Unit
    pack: float
    price: float
    tools: tuple[str, ...] = ()


@dataclass(frozen=True)
class Use:
    """So many of a good at one part of the garden. `where` is its id."""

    good: Good
    amount: float
    where: str


def plain(kind_id: str) -> Good:
    """A good that comes in one size."""
    kind = catalogue.find(kinds.goods(), kind_id)
    return Good(kind.id, kind.name, kind.group, kind.unit, kind.pack, kind.price, kind.tools)


def sized(kind_id: str, bores: Iterable[float]) -> Good:
    """A joint by the inside widths of the tubes that it takes, the widest first. [m]"""
    kind = catalogue.find(kinds.goods(), kind_id)
    widths = sorted({tube_size(b) for b in bores}, reverse=True)
    keys = "-".join(size_key(w) for w in widths)
    said = " to ".join(f"{{{size_key(w)} mm|bore}}" for w in widths)
    return Good(
        f"{kind.id}-{keys}",
        f"{kind.name}, {said}",
        kind.group,
        kind.unit,
        kind.pack,
        kind.price,
        kind.tools,
    )


def tube_size(bore: float) -> float:
    """Inside width to the step at which tubes are told apart. [m]"""
    return round(bore / TUBE_STEP) * TUBE_STEP


def size_key(bore: float) -> str:
    """Inside width in millimetres, such as `13.6`."""
    return f"{bore * 1000:.1f}".removesuffix(".0")
