"""Results as tables for people, JSON for machines, and daily CSV."""

import json
from collections.abc import Iterable
from csv import writer
from pathlib import Path
from typing import Any

import click
import numpy as np

from euhydra.core import planters, store, weather
from euhydra.core.constants import LITRES_PER_CUBIC_METRE, MM_PER_M, SECONDS_PER_HOUR
from euhydra.core.network import Network, Solution
from euhydra.core.planters import FloatSupply, FloatValve, PlanterTube
from euhydra.core.weather import DailyWeather
from euhydra.formats.card_json import Card, CardSetting
from euhydra.garden.sentences import counted
from euhydra.planner.season.replay import Season
from euhydra.records.backup import Contents

DAYS = ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")


def solution(network: Network, solution: Solution) -> dict[str, Any]:
    """A solved network as JSON."""
    per_hour = LITRES_PER_CUBIC_METRE * SECONDS_PER_HOUR
    nodes = network.nodes
    velocity = [*_velocities(network, solution), *[None] * len(network.pumps)]
    velocity += [
        float(q) / (np.pi / 4 * valve.diameter**2)
        for valve, q in zip(network.valves, solution.flow[len(velocity) :], strict=True)
    ]
    node_rows = zip(
        nodes.ids,
        solution.head.tolist(),
        (solution.head - nodes.elevation).tolist(),
        (solution.outflow * per_hour).tolist(),
        strict=True,
    )
    link_rows = zip(
        network.link_ids,
        (solution.flow * per_hour).tolist(),
        velocity,
        solution.head_loss.tolist(),
        strict=True,
    )
    return {
        "converged": solution.converged,
        "iterations": solution.iterations,
        "residual_m": solution.residual,
        "nodes": [
            {"id": i, "head_m": h, "pressure_m": p, "outflow_l_h": q} for i, h, p, q in node_rows
        ],
        "links": [
            {"id": i, "flow_l_h": q, "velocity_m_s": v, "headloss_m": h} for i, q, v, h in link_rows
        ],
    }


def planter_chain(
    *,
    store_head_m: float,
    supply_length_m: float,
    supply_bore_mm: float,
    valve_l_h: float,
    valve_at_m: float,
    valve_band_mm: float,
    set_level_mm: float,
    count: float,
    tube_length_m: float,
    tube_bore_mm: float,
    blocked: float,
    draw_l_day: float,
    peak_share: float,
    foot_level_mm: float,
) -> dict[str, Any]:
    """A chain of planters alike in its peak hour as JSON; levels are over the floor of the box."""
    litre_an_hour = 1 / (LITRES_PER_CUBIC_METRE * SECONDS_PER_HOUR)
    each, several = draw_l_day * peak_share, int(count)
    supply = FloatSupply(store_head_m, PlanterTube(supply_length_m, supply_bore_mm / MM_PER_M))
    valve = FloatValve.giving(
        valve_l_h * litre_an_hour, valve_at_m, valve_band_mm / MM_PER_M, set_level_mm / MM_PER_M
    )
    tube = planters.joining(tube_length_m, tube_bore_mm / MM_PER_M, blocked)
    draw, foot = each * litre_an_hour, foot_level_mm / MM_PER_M
    box = planters.box_level(supply, valve, several * draw)
    levels = None if box is None else planters.chain_levels(box, tube, np.full(several, draw))
    return {
        "valve_suffices": box is not None,
        "peak_draw_l_h": several * each,
        "box_level_mm": None if box is None else box * MM_PER_M,
        "levels_mm": None if levels is None else (levels * MM_PER_M).tolist(),
        "starved": None if levels is None else planters.starved(levels, foot),
        "carries": planters.carries(supply, valve, tube, draw, foot),
    }


def print_planter_chain(result: dict[str, Any]) -> None:
    """The same for people."""
    click.echo(f"Peak hour: {result['peak_draw_l_h']:.3g} L/h in all.")
    if not result["valve_suffices"]:
        click.echo("The float valve does not give that: raise the store, or take a larger valve.")
    else:
        click.echo(f"Box: {result['box_level_mm']:.1f} mm over its floor.")
        dry = set(result["starved"])
        for number, level in enumerate(result["levels_mm"], 1):
            click.echo(f"{number:4d}  {level:7.1f} mm{'  starved' if number in dry else ''}")
    click.echo(f"One box and such tubes carry {result['carries']} planters of this thirst.")


def _velocities(network: Network, solution: Solution) -> list[float]:
    diameter = network.pipes.diameter
    in_pipes = solution.flow[: len(diameter)]
    return [float(v) for v in in_pipes / (np.pi / 4 * diameter**2)]


def print_solution(result: dict[str, Any]) -> None:
    """A solved network as two tables."""
    click.echo(f"solved in {result['iterations']} steps" if result["converged"] else "NOT solved")
    click.echo(f"\n{'node':<32}{'head m':>10}{'pressure m':>12}{'outflow L/h':>13}")
    for node in result["nodes"]:
        click.echo(
            f"{node['id']:<32}{node['head_m']:>10.3f}{node['pressure_m']:>12.3f}{node['outflow_l_h']:>13.3f}"
        )
    click.echo(f"\n{'pipe':<32}{'flow L/h':>10}{'speed m/s':>12}{'loss m':>13}")
    for link in result["links"]:
        speed = "" if link["velocity_m_s"] is None else f"{link['velocity_m_s']:.3f}"
        click.echo(
            f"{link['id']:<32}{link['flow_l_h']:>10.3f}{speed:>12}{link['headloss_m']:>13.4f}"
        )


def store_totals(run: store.StoreRun) -> dict[str, float]:
    """Sums of a store's run. [L]"""
    return {
        "inflow_l": float(run.inflow.sum()),
        "demand_l": float(run.demand.sum()),
        "supplied_l": float(run.supplied.sum()),
        "spill_l": float(run.spill.sum()),
        "store_start_l": run.start,
        "store_end_l": float(run.level[-1]) if len(run.level) else run.start,
        "mass_balance_residual_l": run.mass_balance_residual,
    }


def season_totals(season: Season) -> dict[str, Any]:
    """Sums of a season: all stores, all beds, and each store by itself."""
    run = _whole(season)
    areas = [way.need.area_m2 for way in season.ways]

    def litres(name: str) -> float:
        sums = (float(getattr(bed, name).sum()) for bed in season.beds)
        return sum(depth * area for depth, area in zip(sums, areas, strict=True))

    return {
        "days": len(run.inflow),
        "rule": str(season.works.tanks[0].rule) if season.works.tanks else "",
        **store_totals(run),
        "other_sources_l": season.run.from_elsewhere,
        "mass_balance_residual_l": sum(
            abs(season.run.residual(i)) for i in range(len(season.groups))
        ),
        "volumetric_reliability": run.volumetric_reliability,
        "time_reliability": run.time_reliability,
        "days_empty": int(run.is_empty.sum()),
        "longest_unmet_run_days": store.longest_run(run.is_short),
        "bed_rain_l": litres("rain"),
        "bed_transpired_l": litres("transpired"),
        "planters_drank_l": sum(
            float(bed.transpired.sum()) * area
            for bed, area, way in zip(season.beds, areas, season.ways, strict=True)
            if way.keeps_level
        ),
        "bed_drained_l": litres("drained"),
        "bed_stressed_days": sum(int(bed.is_stressed.sum()) for bed in season.beds),
        "bed_mass_balance_residual_l": sum(
            abs(bed.mass_balance_residual) * area
            for bed, area in zip(season.beds, areas, strict=True)
        ),
        "stores": [
            {
                "name": group.name,
                **store_totals(season.run.tank_run(tank)),
                "mass_balance_residual_l": season.run.residual(tank),
            }
            for tank, group in enumerate(season.groups)
        ],
    }


def print_card(card: Card) -> None:
    """Every timer's settings, a line a month."""
    for zone in card.zones:
        click.echo(f"{zone.id}: too dry on {zone.dry_share or 0:.1%} of its days, in other years")
        for month in zone.months:
            click.echo(f"  {month.month:2d}  {_told(month) if not month.off else 'off'}")
        if zone.new_plants:
            click.echo(f"  new plants  {_told(zone.new_plants)}")


def _told(setting: CardSetting) -> str:
    days = "".join(DAYS[day] + " " for day in setting.weekdays).strip()
    when = days or f"every {setting.every_days:g} days"
    return f"{setting.starts} × {setting.run_min:g} min, {when}"


def _whole(season: Season) -> store.StoreRun:
    """All stores as one: what roofs bring, what beds want and get from any source, what is lost."""
    works, run = season.works, season.run
    nothing = np.zeros(len(season.record.days))
    lost = [run.spill[i] for i, tank in enumerate(works.tanks) if tank.spills_to is None]
    return store.StoreRun(
        sum((tank.inflow for tank in works.tanks), nothing) - sum(run.dried, nothing),
        sum((watering.wanted for watering in works.waterings), nothing),
        sum((run.supplied(i) for i in range(len(works.waterings))), nothing),
        sum(lost, nothing),
        sum(run.level, nothing),
        sum(tank.start for tank in works.tanks),
        sum(tank.dead for tank in works.tanks),
    )


def season_days(season: Season) -> tuple[list[str], Iterable[list[object]]]:
    """Header and rows of a season's daily table; a bed's columns begin with its id."""
    run = _whole(season)
    columns = {
        "inflow_l": run.inflow,
        "demand_l": run.demand,
        "supplied_l": run.supplied,
        "spill_l": run.spill,
        "store_l": run.level,
    }
    for way, bed in zip(season.ways, season.beds, strict=True):
        for name in ("rain", "watered", "transpired", "drained", "depletion"):
            columns[f"{way.need.part.id}_{name}_mm"] = getattr(bed, name)
    return ["date", *columns], rows(season.record, tuple(columns.values()))


def rows(record: DailyWeather, columns: tuple[weather.Floats, ...]) -> Iterable[list[object]]:
    """Rows of a daily table; empty where there is no value."""
    for day, *values in zip(
        record.days.astype(str).tolist(), *(c.tolist() for c in columns), strict=True
    ):
        yield [day, *("" if v != v else round(v, 6) for v in values)]


def write_daily(file: Path, header: list[str], rows: Iterable[list[object]]) -> None:
    """Write a daily table as CSV."""
    try:
        with file.open("w", newline="", encoding="utf-8") as out:
            table = writer(out, lineterminator="\n")
            table.writerow(header)
            table.writerows(rows)
    except OSError as error:
        raise click.ClickException(f"{file} cannot be written: {error.strerror}.") from None


def print_totals(totals: dict[str, Any], as_json: bool) -> None:
    """Print totals for people, or as JSON."""
    if as_json:
        click.echo(json.dumps(totals, indent=1))
        return
    for name, value in totals.items():
        shown = f"{value:,.4g}" if isinstance(value, float) and abs(value) < 1000 else value
        click.echo(f"{name:<32}{shown:,.0f}" if isinstance(shown, float) else f"{name:<32}{shown}")


def contents(found: Contents) -> str:
    """What a backup holds, in a line."""
    names = ", ".join(found.gardens) or "no garden"
    return f"{names}; {counted(found.entries, 'log entry', 'log entries')}, {counted(found.pictures, 'picture')}"
