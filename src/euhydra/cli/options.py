"""Options that several commands have."""

from collections.abc import Callable
from math import isfinite
from pathlib import Path
from typing import Any, TypeVar

import click


class Number(click.FloatRange):
    """A finite number in a range: "nan" and "inf" are words, not amounts."""

    def convert(
        self, value: Any, param: click.Parameter | None, ctx: click.Context | None
    ) -> float:
        """As click's, but refusing what is not finite."""
        number = float(super().convert(value, param, ctx))
        if not isfinite(number):
            self.fail(f"{value} is not an amount.", param, ctx)
        return number


Command = TypeVar("Command", bound=Callable[..., Any])

EXISTING_FILE = click.Path(path_type=Path, dir_okay=False, exists=True)

LOG_FILE = click.Path(path_type=Path)
"""A log as CSV, as Keep saves it."""

UNTIL = click.option(
    "--until",
    type=click.DateTime(["%Y-%m-%d"]),
    help="Last day of the log that is read; that of the last entry if not given.",
)

AS_JSON = click.option("--json", "as_json", is_flag=True, help="Print JSON for machines.")
WEATHER = click.option(
    "--weather",
    "weather_file",
    required=True,
    type=click.Path(path_type=Path),
    help="Daily CSV, such as date,precip_mm,tmin_c,tmax_c.",
)
COLUMNS_SAID = "euhydra.columns"
"""Where the context keeps what --column says, by header."""


def _note_columns(ctx: click.Context, param: click.Parameter, said: tuple[str, ...]) -> None:
    wrong = [each for each in said if "=" not in each]
    if wrong:
        raise click.BadParameter(f"“{wrong[0]}”: write HEADER=NAME, such as “Gauge total=precip”.")
    ctx.meta[COLUMNS_SAID] = dict(each.rsplit("=", 1) for each in said)


_COLUMN = click.option(
    "--column",
    multiple=True,
    metavar="HEADER=NAME",
    expose_value=False,
    callback=_note_columns,
    help="What a column is: date, precip, tmin, tmax, et0, rhmin, rhmax, wind or solar; nothing for none.",
)
_UNIT = click.option(
    "--unit",
    "units",
    multiple=True,
    metavar="COLUMN=UNIT",
    help="Unit of a column that does not say its own, such as precip=in or temp=f.",
)


def UNITS(command: Command) -> Command:  # noqa: N802 - stands among the options, and is used like them
    """How a weather file is read that does not say so itself: units, and what its columns are."""
    return _UNIT(_COLUMN(command))


FILL = click.option(
    "--fill-gaps",
    is_flag=True,
    help="Fill missing days: no rain, temperatures straight across.",
)
DAILY = click.option(
    "--daily", type=click.Path(path_type=Path, dir_okay=False), help="Write the days to this CSV."
)
DATA = click.option(
    "--data",
    default="data",
    show_default=True,
    type=click.Path(path_type=Path, file_okay=False),
    help="Folder that keeps your gardens.",
)
BED = click.option("--bed", default="", help="Id of the bed whose pipes are meant; else the first.")
PORT = click.option("--port", default=8000, show_default=True, type=click.IntRange(1, 65535))


def GARDEN_AND_WEATHER(command: Command) -> Command:  # noqa: N802 - stands among the options, and is used like them
    """A garden's document, its weather, and how that is read."""
    argument = click.argument("garden_file", metavar="GARDEN.json", type=click.Path(path_type=Path))
    return argument(WEATHER(UNITS(FILL(command))))
