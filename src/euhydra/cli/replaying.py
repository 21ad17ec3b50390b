"""The command that proves what mornings are worth: `euhydra replay`."""

from pathlib import Path

import click

from euhydra.cli import options, reading
from euhydra.formats import replay_json
from euhydra.formats.replay_json import ReplayDocument, ReplayYear
from euhydra.planner.answers import Gap
from euhydra.planner.chain import run_chain
from euhydra.planner.today.following import Follow, follow
from euhydra.planner.today.foreseen import forecaster

NEWEST = 10
"""Years of the record that are followed, the newest."""


@click.command()
@options.GARDEN_AND_WEATHER
@click.option(
    "--follow",
    "by",
    type=click.Choice([each.value for each in Follow]),
    default=Follow.TODAY.value,
    show_default=True,
    help="card: the timer as on the card; today: what each morning says; rule: the next run left "
    "out after 10 mm of rain.",
)
@click.option(
    "--forecast-skill",
    "skill",
    type=click.FloatRange(0.0, 1.0),
    help="With forecasts made from the record: share of first days told right; none without.",
)
@options.AS_JSON
def replay(
    garden_file: Path,
    weather_file: Path,
    units: tuple[str, ...],
    fill_gaps: bool,
    by: str,
    skill: float | None,
    as_json: bool,
) -> None:
    """The newest ten years of a weather record, a garden's owner going by card, Today or rule."""
    garden = reading.garden(garden_file)
    record = reading.record(weather_file, units, fill_gaps).last_years(NEWEST)
    found = follow(
        run_chain(garden, record),
        Follow(by),
        None if skill is None else forecaster(record, skill),
    )
    if isinstance(found, Gap):
        raise click.ClickException(found.told(garden.units))
    document = ReplayDocument(
        garden=garden.name,
        follow=by,
        forecast_skill=skill,
        litres_a_year=round(found.litres, 1),
        dry_share=round(found.dry_share, 5),
        years=[
            ReplayYear(
                year=each.year,
                litres=round(each.litres, 1),
                dry_days=each.dry_days,
                days=each.days,
            )
            for each in found.years
        ],
    )
    if as_json:
        click.echo(replay_json.write(document), nl=False)
        return
    click.echo(f"{by}: {document.litres_a_year:.0f} L a year, {document.dry_share:.1%} of days dry")
    for year in document.years:
        click.echo(f"  {year.year}: {year.litres:.0f} L, {year.dry_days} of {year.days} days dry")
