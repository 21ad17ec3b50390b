"""The usual cautions, at the station where they apply."""

import tomllib
from dataclasses import dataclass
from functools import cache
from importlib.resources import files


@dataclass(frozen=True)
class Caution:
    """What can happen, what to do, and whom to ask (may be empty)."""

    title: str
    harm: str
    act: str
    ask: str


@cache
def _all() -> dict[str, tuple[Caution, ...]]:
    table = tomllib.loads(files("euhydra.data").joinpath("cautions.toml").read_text("utf-8"))
    return {station: tuple(Caution(**row) for row in rows) for station, rows in table.items()}


def cautions_at(station: str) -> tuple[Caution, ...]:
    """The cautions of a station, such as `store`."""
    return _all().get(station, ())
