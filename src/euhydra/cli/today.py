"""The command for every morning: `euhydra today`."""

from datetime import datetime
from pathlib import Path

import click

from euhydra.cli import options, reading
from euhydra.formats import today_json
from euhydra.planner.answers import Gap, PlanError
from euhydra.planner.chain import run_chain
from euhydra.planner.today.ahead import ForecastDay
from euhydra.planner.today.answer import answer_today
from euhydra.web.today_file import today_document


@click.command()
@options.GARDEN_AND_WEATHER
@click.option(
    "--date", "day", required=True, type=click.DateTime(["%Y-%m-%d"]), help="The morning."
)
@click.option(
    "--forecast",
    "forecast_file",
    type=click.Path(path_type=Path),
    help="Days ahead as CSV: date,rain_mm,chance,tmin_c,tmax_c.",
)
@click.option("--log", "log_file", type=options.LOG_FILE, help="The log as CSV, as Keep saves it.")
@options.AS_JSON
def today(
    garden_file: Path,
    weather_file: Path,
    units: tuple[str, ...],
    fill_gaps: bool,
    day: datetime,
    forecast_file: Path | None,
    log_file: Path | None,
    as_json: bool,
) -> None:
    """What the garden wants this morning: water, leave, pause, cans; its stores; what is due."""
    garden = reading.garden(garden_file)
    log = reading.log(log_file, garden) if log_file else []
    rows = reading.forecast(forecast_file) if forecast_file else []
    chain = run_chain(garden, reading.record(weather_file, units, fill_gaps))
    try:
        ahead = [ForecastDay(r.day, r.rain, r.chance, r.lowest, r.highest) for r in rows]
        found = answer_today(chain, log, day.date(), ahead)
    except PlanError as error:
        raise click.ClickException(error.sentence.told(garden.units)) from None
    if isinstance(found, Gap):
        raise click.ClickException(found.told(garden.units))
    document = today_document(found, garden)
    if as_json:
        click.echo(today_json.write(document), nl=False)
        return
    click.echo(document.summary)
    for act in found.acts:
        click.echo(f"  {act.said.told(garden.units)}. {act.reason.told(garden.units)}")
    for each in document.before:
        click.echo(f"  {each.text}")
    for store in document.stores:
        click.echo(f"  {store.text}")
    for task in document.due:
        click.echo(f"  Due: {task.title}")
