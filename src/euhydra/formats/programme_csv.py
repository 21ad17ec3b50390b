"""A year of timer settings as a table: one row a zone and month."""

from collections.abc import Iterable
from dataclasses import astuple, dataclass, fields

from euhydra.formats import cells


@dataclass(frozen=True)
class ProgrammeRow:
    """What one timer is set to in one month, or for `new plants`; empty where it is off.

    run_minutes : Of one run. [min]
    runs_a_day : On a watering day.
    days_between : From one watering day to the next; empty if it goes by weekday. [d]
    weekdays : Such as `Mon Wed Fri`.
    starts : Hours at which its runs begin, such as `5:00 14:00`.
    water_a_run, unit : Of one run, in the garden's own units.
    """

    zone: str
    timer: str
    month: str
    run_minutes: str
    runs_a_day: str
    days_between: str
    weekdays: str
    starts: str
    water_a_run: str
    unit: str


def write(rows: Iterable[ProgrammeRow]) -> str:
    """The table, with a header line."""
    return cells.table([field.name for field in fields(ProgrammeRow)], map(astuple, rows))
