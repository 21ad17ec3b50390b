"""The planner from a shell: `euhydra --help`."""

import json
import os
from math import isfinite
from pathlib import Path
from typing import Any

import click
import numpy as np

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
    today,
)
from euhydra.cli.start import bringing_in
from euhydra.core import catchment, hydraulics, store, weather
from euhydra.core import planters as planter_chain
from euhydra.core.network import NetworkError
from euhydra.core.store import StoreRule
from euhydra.formats import answers_json, card_json, inp
from euhydra.garden import demo as demo_garden
from euhydra.garden import document
from euhydra.planner import chain
from euhydra.planner.answers import Gap, PlanError
from euhydra.planner.water import zones
from euhydra.records import backup as backups
from euhydra.records import database
from euhydra.records import passphrase as passphrases
from euhydra.records.database import DatabaseError
from euhydra.web.network_file import network_file


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


@click.group(context_settings={"help_option_names": ["-h", "--help"]})
@click.version_option(package_name="euhydra")
def main() -> None:
    """Plan home irrigation from roof to root: catch, store, push, time."""
    os.umask(0o077)  # gardens, logs and backups are their owner's alone


main.add_command(beginning.begin)
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
    type=Number(0.05, 1.0),
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


@main.command("planters")
@click.option(
    "--store-head-m", required=True, type=Number(-10, 60), help="Water of the store over the valve."
)
@click.option("--supply-length-m", default=1.0, show_default=True, type=Number(0.01, 500))
@click.option("--supply-bore-mm", default=12.7, show_default=True, type=Number(1, 150))
@click.option("--valve-l-h", required=True, type=Number(0, 1e5, min_open=True))
@click.option(
    "--valve-at-m",
    default=1.0,
    show_default=True,
    type=Number(0, 100, min_open=True),
    help="Head at which the float valve gives that, full open.",
)
@click.option(
    "--valve-band-mm",
    default=20.0,
    show_default=True,
    type=Number(0, 500, min_open=True),
    help="Below the set level by so much it is full open.",
)
@click.option("--set-level-mm", required=True, type=Number(0, 2000, min_open=True))
@click.option("--count", required=True, type=click.IntRange(1, planter_chain.MOST_PLANTERS))
@click.option("--tube-length-m", required=True, type=Number(0.01, 50))
@click.option("--tube-bore-mm", required=True, type=Number(1, 150))
@click.option(
    "--blocked",
    default=0.0,
    show_default=True,
    type=Number(0, 1, max_open=True),
    help="Share of a tube's area that roots and mix take.",
)
@click.option("--draw-l-day", required=True, type=Number(0, 1000), help="Of one planter.")
@click.option(
    "--peak-share",
    default=0.12,
    show_default=True,
    type=Number(0, 1),
    help="Share of a day's water that the peak hour takes.",
)
@click.option(
    "--foot-level-mm", required=True, type=Number(0, 2000), help="Where a wick's foot falls dry."
)
@options.AS_JSON
def planters(as_json: bool, **asked: float) -> None:
    """A float box and a chain of planters behind it: a quick sum without a garden."""
    if asked["foot_level_mm"] >= asked["set_level_mm"]:
        raise click.BadParameter(
            "it has to lie under the set level, or every planter is dry.",
            param_hint="--foot-level-mm",
        )
    result = printing.planter_chain(**asked)
    if as_json:
        click.echo(json.dumps(result, indent=1))
    else:
        printing.print_planter_chain(result)


@main.command()
@options.WEATHER
@options.UNITS
@options.FILL
@click.option("--roof-m2", required=True, type=Number(0, 1e5, min_open=True))
@click.option("--coefficient", default=0.8, show_default=True, type=Number(0, 1, min_open=True))
@click.option("--first-flush-mm", default=0.0, show_default=True, type=Number(0, 50))
@click.option(
    "--first-flush-reset",
    default=catchment.FirstFlushReset.WET_SPELL.value,
    show_default=True,
    type=click.Choice([str(r) for r in catchment.FirstFlushReset]),
    help="Taken once in a run of wet days, or once a day.",
)
@click.option("--store-l", required=True, type=Number(0, 1e6, min_open=True))
@click.option("--dead-l", default=0.0, show_default=True, type=Number(0, 1e6))
@click.option("--start-l", default=0.0, show_default=True, type=Number(0, 1e6))
@click.option("--demand-l-day", required=True, type=Number(0, 1e6))
@click.option(
    "--rule",
    default=StoreRule.YIELD_AFTER_SPILLAGE.value,
    show_default=True,
    type=click.Choice([str(r) for r in StoreRule]),
    help="yas: today's rain is drawn from tomorrow on; ybs: before it spills; same-day: between.",
)
@options.DAILY
@options.AS_JSON
def tank(
    weather_file: Path,
    units: tuple[str, ...],
    fill_gaps: bool,
    roof_m2: float,
    coefficient: float,
    first_flush_mm: float,
    first_flush_reset: str,
    store_l: float,
    dead_l: float,
    start_l: float,
    demand_l_day: float,
    rule: str,
    daily: Path | None,
    as_json: bool,
) -> None:
    """One store, one roof, one steady demand: a quick sum without a garden."""
    if dead_l >= store_l:
        raise click.BadParameter(
            f"{dead_l} L of dead water leave nothing in {store_l} L.", param_hint="--dead-l"
        )
    if start_l > store_l:
        raise click.BadParameter(
            f"{start_l} L do not fit into {store_l} L.", param_hint="--start-l"
        )
    record = reading.record(weather_file, units, fill_gaps, ("precip",))
    inflow = catchment.roof_inflow(
        record.precip,
        roof_m2,
        coefficient,
        first_flush_mm,
        catchment.FirstFlushReset(first_flush_reset),
    )
    demand = np.full(len(inflow), demand_l_day)
    run = store.run_store(inflow, demand, store_l, StoreRule(rule), dead_l, start_l)
    if daily:
        header = ["date", "inflow_l", "demand_l", "supplied_l", "spill_l", "store_l"]
        columns = (run.inflow, run.demand, run.supplied, run.spill, run.level)
        printing.write_daily(daily, header, printing.rows(record, columns))
    printing.print_totals(
        {
            "days": len(inflow),
            "rule": rule,
            **printing.store_totals(run),
            "volumetric_reliability": run.volumetric_reliability,
            "time_reliability": run.time_reliability,
            "days_empty": int(run.is_empty.sum()),
            "longest_unmet_run_days": store.longest_run(run.is_short),
        },
        as_json,
    )


@main.command()
@options.WEATHER
@options.UNITS
@options.FILL
@click.option("--latitude", required=True, type=Number(-90, 90), help="Degrees, north plus.")
@click.option("--elevation-m", default=0.0, show_default=True, type=Number(-430, 5500))
@click.option(
    "--method",
    default="hs",
    show_default=True,
    type=click.Choice(["hs", "pm"]),
    help="hs: Hargreaves–Samani; pm: FAO-56 Penman–Monteith.",
)
@options.DAILY
@options.AS_JSON
def et0(
    weather_file: Path,
    units: tuple[str, ...],
    fill_gaps: bool,
    latitude: float,
    elevation_m: float,
    method: str,
    daily: Path | None,
    as_json: bool,
) -> None:
    """Reference evapotranspiration from a weather file."""
    record = reading.record(weather_file, units, fill_gaps, ("tmin", "tmax"))
    ra = weather.extraterrestrial(record, latitude)
    estimate = weather.hargreaves(record, latitude)
    if method == "pm":
        estimate = weather.penman_monteith(record, latitude, elevation_m)
        if np.isnan(estimate).any():
            raise click.ClickException(
                "Penman–Monteith needs rhmin_pct, rhmax_pct, wind_m_s and solar_mj_m2 on every day: "
                "add them, or use --method hs."
            )
    if daily:
        printing.write_daily(
            daily, ["date", "ra_mj_m2", "et0_mm"], printing.rows(record, (ra, estimate))
        )
    printing.print_totals(
        {
            "days": len(estimate),
            "method": method,
            "elevation_m": elevation_m,
            "et0_mm": float(estimate.sum()),
            "et0_mm_a_year": float(estimate.sum()) / record.years,
        },
        as_json,
    )


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
@options.DATA
@click.password_option(
    "--phrase", prompt="Passphrase for the home network", help="Asked for if not given."
)
def passphrase(data: Path, phrase: str) -> None:
    """Choose the passphrase that stands before your gardens on the home network."""
    try:
        passphrases.put(data, phrase)
    except (passphrases.PassphraseError, OSError) as error:
        raise click.ClickException(str(error)) from None
    click.echo("Kept, as a hash; every session has ended. Serve with: euhydra serve --home-network")
    click.echo(
        "The home network carries it unsealed, readable to who listens there, unless you give "
        "--certificate and --key."
    )


@main.command()
@options.DATA
@click.argument("file", type=click.Path(path_type=Path, dir_okay=False))
def backup(data: Path, file: Path) -> None:
    """Save everything in a data folder as one FILE."""
    try:
        made = backups.make(database.prepare(data).parent, file)
    except (DatabaseError, OSError) as error:
        raise click.ClickException(str(error)) from None
    click.echo(f"{file}: {printing.contents(made)}.")


@main.command()
@options.DATA
@click.argument("file", type=click.Path(path_type=Path, dir_okay=False, exists=True))
@click.option("--yes", is_flag=True, help="Do not ask.")
def restore(data: Path, file: Path, yes: bool) -> None:
    """Put a backup FILE in the place of everything in a data folder, once it has proved itself."""
    try:
        found = backups.check(file)
        click.echo(f"{file}, of {found.made_at}: {printing.contents(found)}. It is whole.")
        if not yes:
            click.confirm(f"Replace everything in {data} by it?", abort=True)
        backups.restore(data, file)
    except (backups.BackupError, DatabaseError, OSError) as error:
        raise click.ClickException(f"{error} Nothing was changed.") from None
    click.echo(f"Restored. What was there before is kept in {data / 'backups'}.")


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
