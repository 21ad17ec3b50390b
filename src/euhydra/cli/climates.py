"""`euhydra climate`: the usual months of a place that ships with the program."""

import json

import click

from euhydra.cli import options
from euhydra.garden import reference_climates


@click.command()
@click.option("--place", required=True, help="A town, with or without its country.")
@options.AS_JSON
def climate(place: str, as_json: bool) -> None:
    """The usual months of a place: rain, lowest and highest temperature, wet days."""
    found = reference_climates.place_named(place)
    if found is None:
        like = ", ".join(each.label for each in reference_climates.places_like(place))
        known = f"Like it: {like}." if like else "Name a larger town."
        raise click.ClickException(f"“{place}” is not known. {known}")
    document = {
        "name": found.name,
        "country": found.country,
        "latitude": found.latitude,
        "longitude": found.longitude,
        "elevation_m": found.elevation_m,
        **{column: list(months) for column, months in found.months.items()},
    }
    if as_json:
        click.echo(json.dumps(document, indent=2, ensure_ascii=False))
        return
    click.echo(f"{found.label}: {found.latitude}, {found.longitude}, {found.elevation_m:g} m")
    for column, months in found.months.items():
        click.echo(f"  {column}: {' '.join(f'{value:g}' for value in months)}")
