"""The planner from a shell: `euhydra --help`."""

import json
import os
from pathlib import Path

import click

from euhydra.cli import (
    beginning,
    cards,
    climates,
    judging,
    learning,
    options,
    printing,
    reading,
    replaying,
    safekeeping,
    sums,
    today,
)
from euhydra.cli.start import bringing_in
from euhydra.core import hydraulics
from euhydra.core.network import NetworkError
from euhydra.formats import answers_json, card_json, inp
from euhydra.garden import demo as demo_garden
from euhydra.garden import document
from euhydra.planner import chain
from euhydra.planner.answers import Gap, PlanError
from euhydra.planner.water import zones
from euhydra.web.network_file import network_file


@click.group(context_settings={"help_option_names": ["-h", "--help"]})
@click.version_option(package_name="euhydra")
def main() -> None:
    """Plan home irrigation from roof to root: catch, store, push, time."""
    os.umask(0o077)  # gardens, logs and backups are their owner's alone


main.add_command(beginning.begin)
main.add_command(safekeeping.passphrase)
main.add_command(safekeeping.backup)
main.add_command(safekeeping.restore)
main.add_command(sums.planters)
main.add_command(sums.tank)
main.add_command(sums.et0)
main.add_command(climates.climate)
main.add_command(judging.answers)
main.add_command(judging.cure)
main.add_command(learning.learn)
main.add_command(replaying.replay)
main.add_command(today.today)


@main.command()
@options.PORT
@options.DATA
@click.option("--reset", is_flag=True, help="Lay out the demo garden anew; others are kept.")
def demo(port: int, data: Path, reset: bool) -> None:
    """Serve with the demo garden, Pilchard Steps; what you change is kept."""
    with bringing_in():
        from euhydra.web import server

    server.seed_demo(data, reset, with_log=True)
    server.serve(
        data,
        port,
        f"Pilchard Steps is at http://127.0.0.1:{port} (stop with Ctrl-C).",
        f"Your changes are kept in {data}. To lay the demo out anew: make demo-reset",
    )


@main.command()
@options.PORT
@options.DATA
@click.option("--home-network", is_flag=True, help="Serve phones at home too, behind a passphrase.")
@click.option(
    "--name", "names", multiple=True, help="Another name or address of this computer at home."
)
@click.option(
    "--certificate", type=options.EXISTING_FILE, help="Certificate (PEM) for the home network."
)
@click.option("--key", type=options.EXISTING_FILE, help="Its key (PEM).")
def serve(
    port: int,
    data: Path,
    home_network: bool,
    names: tuple[str, ...],
    certificate: Path | None,
    key: Path | None,
) -> None:
    """Serve your own gardens: to this computer only, or to your home network."""
    with bringing_in():
        from euhydra.web import server

    if (certificate is None) is not (key is None):
        raise click.UsageError("--certificate and --key belong together: give both, or neither.")
    if home_network:
        sealed = server.Certificate(certificate, key) if certificate and key else None
        server.serve_home(data, port, names, sealed)
        return
    if certificate:
        raise click.UsageError("--certificate seals the home network: give --home-network too.")
    server.serve(data, port, f"Euhydra is at http://127.0.0.1:{port} (stop with Ctrl-C).")


@main.command()
@click.argument("file", type=click.Path(path_type=Path))
@click.option(
    "--level",
    type=click.Choice(list(zones.LEVELS)),
    default="full",
    show_default=True,
    help="Level of the store, for a garden.",
)
@options.BED
@options.AS_JSON
def solve(file: Path, level: str, bed: str, as_json: bool) -> None:
    """Heads and flows of a garden (JSON) or a pipe network (.inp)."""
    network = reading.network(file, level, bed)
    try:
        solution = hydraulics.solve(network)
    except NetworkError as error:
        raise click.ClickException(str(error)) from None
    result = printing.solution(network, solution)
    if as_json:
        click.echo(json.dumps(result, indent=1))
    else:
        printing.print_solution(result)
    if not solution.converged:
        raise click.ClickException(
            f"Not solved after {solution.iterations} steps: the figures above are only the last try."
        )


@main.command()
@click.argument("garden_file", metavar="GARDEN.json", type=click.Path(path_type=Path))
@options.WEATHER
@options.UNITS
@options.FILL
@options.DAILY
@options.AS_JSON
@click.option(
    "--card",
    "card_file",
    type=click.Path(path_type=Path),
    help="Settings to follow, as euhydra card prints them, instead of those made for this weather.",
)
@click.option(
    "--evenness",
    type=options.Number(0.05, 1.0),
    help="Share that the worst-fed quarter of each line keeps; else as it is solved.",
)
def season(
    garden_file: Path,
    weather_file: Path,
    units: tuple[str, ...],
    fill_gaps: bool,
    daily: Path | None,
    as_json: bool,
    card_file: Path | None,
    evenness: float | None,
) -> None:
    """A garden through a weather record, day by day."""
    garden = reading.garden(garden_file)
    record = reading.record(weather_file, units, fill_gaps)
    planned = chain.run_chain(garden, record)
    programmes = {}
    if card_file:
        try:
            programmes = cards.programmes_of(reading.card(card_file), planned)
        except KeyError as error:
            raise click.ClickException(f"No timer of this garden waters {error}.") from None
    found = planned.season
    if programmes or evenness is not None:
        found = chain.followed(planned, programmes, evenness)
    if isinstance(found, Gap):
        raise click.ClickException(str(found.sentence))
    if daily:
        printing.write_daily(daily, *printing.season_days(found))
    totals = printing.season_totals(found)
    printing.print_totals(totals | {"beds": cards.beds_of(found)}, as_json)


@main.command()
@click.argument("garden_file", metavar="GARDEN.json", type=click.Path(path_type=Path))
@options.WEATHER
@options.UNITS
@options.FILL
@options.AS_JSON
def card(
    garden_file: Path,
    weather_file: Path,
    units: tuple[str, ...],
    fill_gaps: bool,
    as_json: bool,
) -> None:
    """What to set on every timer, month by month, and how often its driest bed will be too dry."""
    garden = reading.garden(garden_file)
    record = reading.record(weather_file, units, fill_gaps)
    found = cards.card_of(chain.run_chain(garden, record))
    if not found.zones:
        raise click.ClickException("No timer waters anything here: there is nothing to set.")
    if as_json:
        click.echo(card_json.write(found), nl=False)
    else:
        printing.print_card(found)


@main.command()
@click.argument("garden_file", metavar="GARDEN.json", type=click.Path(path_type=Path))
@click.option("--to", "target", required=True, type=click.Choice(["inp", "json"]))
@options.BED
def export(garden_file: Path, target: str, bed: str) -> None:
    """Print a garden as a pipe network (inp, store full) or as its checked document (json)."""
    garden = reading.garden(garden_file)
    if target == "json":
        click.echo(document.dumps(garden), nl=False)
        return
    try:
        click.echo(network_file(zones.zone_named(garden, bed)), nl=False)
    except (PlanError, inp.InpError) as error:
        raise click.ClickException(str(error)) from None


@main.command()
@click.argument("of", default="garden", type=click.Choice(["garden", "answers"]))
def schema(of: str) -> None:
    """Print the JSON Schema of the garden document, or of answers."""
    printed = document.schema() if of == "garden" else answers_json.schema()
    click.echo(json.dumps(printed, indent=2))


@main.command("demo-garden")
def print_demo_garden() -> None:
    """Print the demo garden's document."""
    click.echo(demo_garden.garden_text(), nl=False)
