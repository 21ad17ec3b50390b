"""Quick sums without a garden: planters on a float, one store on one roof, reference evapotranspiration."""

import json
from pathlib import Path

import click
import numpy as np

from euhydra.cli import options, printing, reading
from euhydra.core import catchment, store, weather
from euhydra.core import planters as planter_chain
from euhydra.core.store import StoreRule


@click.command("planters")
@click.option(
    "--store-head-m",
    required=True,
    type=options.Number(-10, 60),
    help="Water of the store over the valve.",
)
@click.option("--supply-length-m", default=1.0, show_default=True, type=options.Number(0.01, 500))
@click.option("--supply-bore-mm", default=12.7, show_default=True, type=options.Number(1, 150))
@click.option("--valve-l-h", required=True, type=options.Number(0, 1e5, min_open=True))
@click.option(
    "--valve-at-m",
    default=1.0,
    show_default=True,
    type=options.Number(0, 100, min_open=True),
    help="Head at which the float valve gives that, full open.",
)
@click.option(
    "--valve-band-mm",
    default=20.0,
    show_default=True,
    type=options.Number(0, 500, min_open=True),
    help="Below the set level by so much it is full open.",
)
@click.option("--set-level-mm", required=True, type=options.Number(0, 2000, min_open=True))
@click.option("--count", required=True, type=click.IntRange(1, planter_chain.MOST_PLANTERS))
@click.option("--tube-length-m", required=True, type=options.Number(0.01, 50))
@click.option("--tube-bore-mm", required=True, type=options.Number(1, 150))
@click.option(
    "--blocked",
    default=0.0,
    show_default=True,
    type=options.Number(0, 1, max_open=True),
    help="Share of a tube's area that roots and mix take.",
)
@click.option("--draw-l-day", required=True, type=options.Number(0, 1000), help="Of one planter.")
@click.option(
    "--peak-share",
    default=0.12,
    show_default=True,
    type=options.Number(0, 1),
    help="Share of a day's water that the peak hour takes.",
)
@click.option(
    "--foot-level-mm",
    required=True,
    type=options.Number(0, 2000),
    help="Where a wick's foot falls dry.",
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


@click.command()
@options.WEATHER
@options.UNITS
@options.FILL
@click.option("--roof-m2", required=True, type=options.Number(0, 1e5, min_open=True))
@click.option(
    "--coefficient", default=0.8, show_default=True, type=options.Number(0, 1, min_open=True)
)
@click.option("--first-flush-mm", default=0.0, show_default=True, type=options.Number(0, 50))
@click.option(
    "--first-flush-reset",
    default=catchment.FirstFlushReset.WET_SPELL.value,
    show_default=True,
    type=click.Choice([str(r) for r in catchment.FirstFlushReset]),
    help="Taken once in a run of wet days, or once a day.",
)
@click.option("--store-l", required=True, type=options.Number(0, 1e6, min_open=True))
@click.option("--dead-l", default=0.0, show_default=True, type=options.Number(0, 1e6))
@click.option("--start-l", default=0.0, show_default=True, type=options.Number(0, 1e6))
@click.option("--demand-l-day", required=True, type=options.Number(0, 1e6))
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


@click.command()
@options.WEATHER
@options.UNITS
@options.FILL
@click.option(
    "--latitude", required=True, type=options.Number(-90, 90), help="Degrees, north plus."
)
@click.option("--elevation-m", default=0.0, show_default=True, type=options.Number(-430, 5500))
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
