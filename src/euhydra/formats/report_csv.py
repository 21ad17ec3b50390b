"""A season's report as CSV: what, name, measure, value; units stand in the measure's name."""

from collections.abc import Iterable
from dataclasses import dataclass

from euhydra.formats import cells

COLUMNS = ("about", "name", "measure", "value")


@dataclass(frozen=True)
class ReportRow:
    """One figure, such as `bed`, `Top step`, `harvest_kg`, 4.2."""

    about: str
    name: str
    measure: str
    value: float


def write(rows: Iterable[ReportRow]) -> str:
    """The table as text."""
    return cells.table(COLUMNS, ((r.about, r.name, r.measure, f"{r.value:.6g}") for r in rows))
