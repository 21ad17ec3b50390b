"""Options that several commands have."""

from pathlib import Path

import click

EXISTING_FILE = click.Path(path_type=Path, dir_okay=False, exists=True)

AS_JSON = click.option("--json", "as_json", is_flag=True, help="Print JSON for machines.")
WEATHER = click.option(
    "--weather",
    "weather_file",
    required=True,
    type=click.Path(path_type=Path),
    help="Daily CSV, such as date,precip_mm,tmin_c,tmax_c.",
)
UNITS = click.option(
    "--unit",
    "units",
    multiple=True,
    metavar="COLUMN=UNIT",
    help="Unit of a column that does not say its own, such as precip=in or temp=f.",
)
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
