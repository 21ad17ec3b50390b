"""The usual cautions, at the station where they apply."""

import tomllib
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from typing import Any

from euhydra.garden.model import Garden


@dataclass(frozen=True)
class Caution:
    """What can happen, what to do, and whom to ask (may be empty).

    where : Collections of the garden of which one has to hold something; none where it always stands.
    """

    title: str
    harm: str
    act: str
    ask: str
    where: tuple[str, ...] = ()

    def stands_in(self, garden: Garden) -> bool:
        """Whether it is of any use in a garden."""
        return not self.where or any(getattr(garden, name) for name in self.where)


@cache
def _all() -> dict[str, tuple[Caution, ...]]:
    table = tomllib.loads(files("euhydra.data").joinpath("cautions.toml").read_text("utf-8"))
    return {station: tuple(map(_caution, rows)) for station, rows in table.items()}


def _caution(row: Mapping[str, Any]) -> Caution:
    return Caution(**{**row, "where": tuple(row.get("where", ()))})


def cautions_at(station: str, garden: Garden | None = None) -> tuple[Caution, ...]:
    """The cautions of a station, such as `store`; those of use in a garden, where one is given."""
    found = _all().get(station, ())
    return tuple(each for each in found if garden is None or each.stands_in(garden))
