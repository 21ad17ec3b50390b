"""What is bought besides pipes, pieces and pumps; threads, and the adapters between them."""

from dataclasses import dataclass
from enum import StrEnum
from functools import cache

from euhydra.core.threads import Thread
from euhydra.garden.catalogue import ReferenceRow, entry, rows
from euhydra.garden.part import known_entry


class Unit(StrEnum):
    """How a good is counted."""

    EACH = "each"
    METRE = "metre"


class Grip(StrEnum):
    """How an end of a piece holds on to another."""

    MALE = "male"
    FEMALE = "female"
    BARB = "barb"
    TUBE = "tube"


@dataclass(frozen=True)
class End:
    """One end of a piece or a tube.

    size : Id of a thread; of a barb or tube its inside width. [mm, one decimal]
    """

    hold: Grip
    size: str


@dataclass(frozen=True)
class ThreadKind(ReferenceRow):
    """A thread by name.

    hose : Where hoses are screwed on with it, in words; "" for one of pipes alone.
    countries : Those whose hoses have it, where it is not the usual one.
    """

    form: Thread
    hose: str
    countries: tuple[str, ...]


@dataclass(frozen=True)
class Adapter(ReferenceRow):
    """A piece with two unlike ends, and its price: a guess."""

    one: End
    other: End
    price: float


@dataclass(frozen=True)
class GoodKind(ReferenceRow):
    """A good by what it is.

    pack, price : How many come in one pack, and what one of them costs: guesses to be edited.
    """

    group: str
    unit: Unit
    pack: float
    price: float
    tools: tuple[str, ...]


@cache
def threads() -> dict[str, ThreadKind]:
    """Threads by id."""
    return rows(
        "threads.csv",
        lambda r: ThreadKind(
            *entry(r),
            Thread(
                float(r["diameter_mm"]) / 1000,
                float(r["per_inch"]),
                float(r["angle_deg"]),
                r["is_taper"] == "yes",
            ),
            r["hose"],
            tuple(filter(None, r["countries"].split(";"))),
        ),
    )


def hose_threads() -> dict[str, ThreadKind]:
    """Those that hoses are screwed on with, the most usual first."""
    return {id: kind for id, kind in threads().items() if kind.hose}


def hose_thread_in(country: str) -> str:
    """Id of the thread that hoses of a country have."""
    usual, *others = hose_threads()
    return next((id for id in others if country in threads()[id].countries), usual)


@cache
def adapters() -> dict[str, Adapter]:
    """Adapters between threads by id; named after their two ends."""
    return rows("adapters.csv", _adapter)


def _adapter(row: dict[str, str]) -> Adapter:
    one, other = (_end(row[c]) for c in ("one_end", "other_end"))
    name = f"Adapter: {_said(one)} to {_said(other)}"
    return Adapter(row["id"], name, row["source"], one, other, float(row["price"]))


def _end(text: str) -> End:
    hold, size = text.split()
    return End(Grip(hold), size)


def _said(end: End) -> str:
    return f"{end.hold} {threads()[end.size].name}"


@cache
def goods() -> dict[str, GoodKind]:
    """Goods by id."""
    return rows(
        "goods.csv",
        lambda r: GoodKind(
            *entry(r),
            r["group"],
            Unit(r["unit"]),
            float(r["pack"]),
            float(r["price"]),
            tuple(r["tools"].split()),
        ),
    )


def known_thread(value: str | None) -> str | None:
    """`value`, if it is none or the id of a thread."""
    return value if value is None else known_entry(value, threads())
