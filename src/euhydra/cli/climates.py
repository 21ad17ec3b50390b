"""`euhydra climate`: the usual months of a place that ships with the program."""

import json

import click

from euhydra.cli import options
from euhydra.garden import reference_climates
from euhydra.garden.reference_climates import Located


@click.command()
@click.option(
    "--place", required=True, help="A town, with or without its country; or latitude and longitude."
)
@options.AS_JSON
def climate(place: str, as_json: bool) -> None:
    """The usual months of a place: rain, lowest and highest temperature, wet days."""
    where = found(place)
    town = where.place
    document = {
        "name": town.name,
        "region": town.region,
        "country": town.country,
        "latitude": town.latitude,
        "longitude": town.longitude,
        "elevation_m": town.elevation_m,
        **{column: list(months) for column, months in town.months.items()},
    }
    if as_json:
        click.echo(json.dumps(document, indent=2, ensure_ascii=False))
        return
    away = f", {where.distance_km:.0f} km away" if where.distance_km else ""
    click.echo(f"{town.label}: {town.latitude}, {town.longitude}, {town.elevation_m:g} m{away}")
    for column, months in town.months.items():
        click.echo(f"  {column}: {' '.join(f'{value:g}' for value in months)}")


def found(place: str) -> Located:
    """The place that is meant; says which are like it where none is."""
    where = reference_climates.located(place)
    if where is None:
        like = ", ".join(each.label for each in reference_climates.places_like(place))
        known = f"Like it: {like}." if like else "Name a larger town."
        raise click.ClickException(f"“{place}” is not known. {known}")
    return where
