"""The command that reads a log: `euhydra learn`."""

from datetime import datetime
from pathlib import Path

import click

from euhydra.cli import options, reading
from euhydra.formats import learned_json
from euhydra.planner.answers import Gap
from euhydra.planner.chain import run_chain
from euhydra.planner.learning.answer import learn as learn_from
from euhydra.web.learned_file import learned_document


@click.command()
@options.GARDEN_AND_WEATHER
@click.option(
    "--log",
    "log_file",
    required=True,
    type=options.LOG_FILE,
    help="The log as CSV, as Keep saves it.",
)
@options.UNTIL
@options.AS_JSON
def learn(
    garden_file: Path,
    weather_file: Path,
    units: tuple[str, ...],
    fill_gaps: bool,
    log_file: Path,
    until: datetime | None,
    as_json: bool,
) -> None:
    """What a log shows: leaks, clogs, thirst, each claimed only where it is likely 19 to 1."""
    garden = reading.garden(garden_file)
    log = reading.log(log_file, garden)
    chain = run_chain(garden, reading.record(weather_file, units, fill_gaps))
    today = reading.last_day(log, until)
    found = learn_from(chain, log, today)
    if isinstance(found, Gap):
        raise click.ClickException(found.told(garden.units))
    document = learned_document(found)
    if as_json:
        click.echo(learned_json.write(document), nl=False)
        return
    click.echo(document.headline)
    for claim in document.claims:
        click.echo(f"  {claim.text}")
    for asked in document.asks:
        click.echo(f"  ? {asked}")
