"""Files that a command names, read or refused with a message."""

from collections.abc import Sequence
from datetime import date, datetime, timedelta
from pathlib import Path

import click

from euhydra.cli import options
from euhydra.core.network import Network
from euhydra.core.weather import DailyWeather
from euhydra.formats import card_json, forecast_csv, inp, log_csv, weather_csv, weather_table
from euhydra.formats.card_json import Card, CardError
from euhydra.formats.forecast_csv import ForecastFileError, ForecastRow
from euhydra.formats.log_csv import LogFileError
from euhydra.formats.weather_columns import NEEDED, UnitsNeededError, WeatherFileError
from euhydra.garden import document
from euhydra.garden.document import GardenError
from euhydra.garden.logbook import LogEntry
from euhydra.garden.model import Garden
from euhydra.garden.sentences import counted
from euhydra.planner.answers import PlanError
from euhydra.planner.water import solving, zones

LATEST = datetime(9998, 1, 1)
"""A log that is read for a day of its own may lie in any year."""


def _text(file: Path) -> str:
    return weather_table.decode(_bytes(file))


def _bytes(file: Path) -> bytes:
    try:
        return file.read_bytes()
    except OSError as error:
        raise click.ClickException(f"{file} cannot be read: {error.strerror}.") from None


def garden(file: Path) -> Garden:
    """The garden in a file."""
    try:
        return document.loads(_bytes(file).decode("utf-8"))
    except UnicodeDecodeError:
        raise click.ClickException(f"{file} is not a text file, so not a garden.") from None
    except GardenError as error:
        raise click.ClickException(f"{file}:\n{error}") from None


def card(file: Path) -> Card:
    """The settings in a file."""
    try:
        return card_json.read(_bytes(file).decode("utf-8"))
    except UnicodeDecodeError:
        raise click.ClickException(f"{file} is not a text file, so no card.") from None
    except CardError as error:
        raise click.ClickException(f"{file}: {error}") from None


def log(file: Path, garden: Garden) -> list[LogEntry]:
    """The entries of a log, oldest first."""
    try:
        rows = log_csv.read(_text(file), garden, LATEST)
    except LogFileError as error:
        raise click.ClickException(f"{file}:\n{error}") from None
    return sorted((row.entry for row in rows), key=lambda entry: entry.at)


def network(file: Path, level: str, bed: str = "") -> Network:
    """The pipe network in an `.inp` file, or of a garden's bed at a level of its store."""
    if file.suffix.lower() == ".inp":
        try:
            read = inp.read(_bytes(file).decode("utf-8", errors="replace"))
        except inp.InpError as error:
            raise click.ClickException(f"{file}: {error}") from None
        if read.left_out:
            click.echo(f"As at the first hour; left out: {'; '.join(read.left_out)}.", err=True)
        return read.network
    try:
        return solving.network_of(zones.zone_named(garden(file), bed), zones.LEVELS[level])
    except PlanError as error:
        raise click.ClickException(str(error)) from None


def record(
    file: Path, units: tuple[str, ...], fill_gaps: bool, needed: tuple[str, ...] = tuple(NEEDED)
) -> DailyWeather:
    """The weather in a file; says on stderr what was left out or filled."""
    said = dict(pair.split("=", 1) for pair in units if "=" in pair)
    try:
        columns = click.get_current_context().meta.get(options.COLUMNS_SAID, {})
        read = weather_csv.read(_text(file), said, needed, columns)
    except UnitsNeededError as error:
        raise click.ClickException(f"{file}: {error} Add for example {error.example}.") from None
    except WeatherFileError as error:
        raise click.ClickException(f"{file}:\n{error}") from None
    for header in read.left_out:
        click.echo(f"Column “{header}” is not understood and left out.", err=True)
    if not read.gaps:
        return read.record()
    if not fill_gaps:
        days = ", ".join(str(day) for day in list(read.gaps)[:8])
        more = f" and {len(read.gaps) - 8} more" if len(read.gaps) > 8 else ""
        raise click.ClickException(
            f"{file}: {counted(len(read.gaps), 'day')} missing or incomplete: {days}{more}. Mend the file, or "
            "add --fill-gaps to take them as dry, with temperatures straight across."
        )
    click.echo(
        f"{counted(len(read.gaps), 'day')} filled: no rain, temperatures straight across.", err=True
    )
    return weather_csv.fill_gaps(read)


def last_day(log: Sequence[LogEntry], until: datetime | None) -> date:
    """The day up to which a log is read: as asked, else that of its last entry."""
    if until is not None:
        return until.date()
    # What stands in the gauge in the morning fell on the day before.
    return max(e.at for e in log).date() if log else date.today() - timedelta(days=1)


def forecast(file: Path) -> list[ForecastRow]:
    """Days ahead, from a CSV file."""
    try:
        return forecast_csv.read(_text(file))
    except ForecastFileError as error:
        raise click.ClickException(f"{file.name}: {error}") from None
