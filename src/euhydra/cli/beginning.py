"""`euhydra begin`: a garden from what somebody has, in one line."""

import json
from typing import Any

import click
from pydantic import ValidationError

from euhydra.cli import climates, options
from euhydra.garden import document, normals
from euhydra.garden.model import Garden, Place
from euhydra.garden.quantities import KINDS, QuantityError, System
from euhydra.planner.answers import PlanError
from euhydra.planner.beginning import ways
from euhydra.planner.beginning.asks import Ask, AskedValue, WayKind, way_kinds


@click.command()
@click.option("--list", "lists", is_flag=True, help="List the ways to begin, and what each asks.")
@click.option("--way", help="Id of the way, as --list has it.")
@click.option("--place", help="A town, with or without its country; or latitude and longitude.")
@click.option("--set", "given", multiple=True, metavar="NAME=VALUE", help="Such as barrels=4.")
@click.option(
    "--units",
    type=click.Choice([system.value for system in System]),
    default=System.METRIC.value,
    show_default=True,
)
@click.option("--name", default="My garden", show_default=True, help="Name of the garden.")
@options.AS_JSON
def begin(
    lists: bool,
    way: str | None,
    place: str | None,
    given: tuple[str, ...],
    units: str,
    name: str,
    as_json: bool,
) -> None:
    """A garden document from what you have and where you live."""
    system = System(units)
    if lists:
        _print_list(system, as_json)
        return
    if way is None or place is None:
        raise click.UsageError("Give --way and --place, or --list to see the ways.")
    if way not in way_kinds():
        raise click.ClickException(f"“{way}” is no way to begin: {', '.join(way_kinds())}.")
    where = climates.found(place)
    begun = Garden(
        name=name,
        units=system,
        place=Place(latitude_deg=where.latitude, elevation_m=where.place.elevation_m),
    )
    kind = way_kinds()[way]
    record = normals.make_days(where.place.at_height(where.place.elevation_m))
    try:
        garden = ways.begin(begun, kind, _read(kind, given, system), record)
    except ValidationError as error:
        raise click.ClickException(document.message_of(error.errors()[0], system)) from None
    except PlanError as error:
        raise click.ClickException(error.sentence.told(system)) from None
    click.echo(document.dumps(garden), nl=False)


def _read(way: WayKind, given: tuple[str, ...], system: System) -> dict[str, AskedValue]:
    asks = {ask.id: ask for ask in way.asks}
    typed: dict[str, AskedValue] = {}
    for each in given:
        ask_id, is_set, text = each.partition("=")
        if ask_id not in asks or not is_set:
            raise click.ClickException(
                f"“{each}”: {way.id} asks for {', '.join(asks)}; write such as {next(iter(asks))}=…"
            )
        try:
            typed[ask_id] = asks[ask_id].parse(text, system)
        except QuantityError as error:
            raise click.ClickException(f"{ask_id}: {error}") from None
    return typed


def _print_list(system: System, as_json: bool) -> None:
    if as_json:
        listed = [
            {
                "id": way.id,
                "name": way.name,
                "sentence": way.sentence,
                "asks": [_told(ask, system) for ask in way.asks],
            }
            for way in way_kinds().values()
        ]
        click.echo(json.dumps(listed, indent=2, ensure_ascii=False))
        return
    for way in way_kinds().values():
        click.echo(f"{way.id}: {way.name}. {way.sentence}")
        for ask in way.asks:
            click.echo(f"  {ask.id}: {ask.label}, usually {_usual(ask, system)}")


def _usual(ask: Ask, system: System) -> str:
    value = ask.usual_in(system)
    return ask.choices()[str(value)] if ask.is_choice else ask.show(value, system)


def _told(ask: Ask, system: System) -> dict[str, Any]:
    """As machines have it; quantities in SI."""
    told: dict[str, Any] = {"id": ask.id, "label": ask.label, "kind": ask.kind}
    told |= {"usual": ask.usual_in(system)}
    if ask.is_choice:
        return told | {"choices": list(ask.choices())}
    told |= {"low": ask.low, "high": ask.high}
    return told | ({"unit": KINDS[ask.kind].unit} if ask.kind in KINDS else {})
