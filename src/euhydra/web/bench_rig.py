"""The garden's plan put on the bench: its stores, its zones, and two weeks of its weather."""

from dataclasses import replace

import numpy as np

from euhydra.devices.bench import Bench, StoreRig, ZoneRig
from euhydra.devices.keeper import KeeperPlan
from euhydra.devices.simulated import DAY
from euhydra.garden.sentences import say
from euhydra.garden.stores import Store
from euhydra.planner.answers import Gap, PlanError
from euhydra.planner.chain import Chain
from euhydra.planner.push.answer import PushAnswer
from euhydra.planner.season import week
from euhydra.planner.season.replay import Season
from euhydra.planner.time import dayplan
from euhydra.planner.time.answer import TimeAnswer
from euhydra.planner.time.dayplan import DayPlan

BENCH_DAYS = 14
"""[d]"""


def build(chain: Chain, month: int) -> tuple[Bench, np.datetime64, list[str]]:
    """The bench from the first Monday of a month's middling year on, that day, and its zones' ids.

    Raises
    ------
    PlanError : if no zone has settings, or there is no season to take levels from.
    """
    pairs = [
        (z.push, z.running) for z in chain.zones if isinstance(z.push, PushAnswer) and z.running
    ]
    if not pairs:
        raise PlanError(say("bench-no-settings", "No zone has settings yet: see Settings."))
    if isinstance(chain.season, Gap) or chain.record is None:
        raise PlanError(
            say(
                "bench-no-water-or-weather",
                "There is no water or no weather to run the plan on yet.",
            )
        )
    season, record = chain.season, chain.record
    first = week.first_monday(record, month)
    span = slice(first, first + BENCH_DAYS)
    plan = dayplan.plan_day([time for _, time in pairs], month)
    bench = Bench(
        _stores(season, first),
        [_zone(push, time, season, plan, first) for push, time in pairs],
        tuple(record.precip[span].tolist()),
        tuple(record.temp_min[span].tolist()),
        tuple(record.temp_max[span].tolist()),
    )
    return bench, record.days[first], [time.zone.id for _, time in pairs]


def _stores(season: Season, first: int) -> list[StoreRig]:
    rigs = []
    rain = float(season.record.precip.sum())
    for tank, group, levels in zip(
        season.works.tanks, season.groups, season.run.level, strict=True
    ):
        level = tank.start if first == 0 else float(levels[first - 1])
        a_mm = float(tank.inflow.sum()) / rain if rain > 0 else 0.0
        rigs.append(StoreRig(group.name, tank.capacity, tank.dead, level, a_mm))
    return rigs


def _zone(push: PushAnswer, time: TimeAnswer, season: Season, plan: DayPlan, first: int) -> ZoneRig:
    zone, programme = time.zone, time.programme
    slots = [slot for slot in plan.slots if slot.zone is not None and slot.zone.id == zone.id]
    # The keeper pauses by itself, so the programme is taken as if nobody did.
    dry = replace(time, programme=programme.without_rain_plan())
    runs = tuple(
        (round(day * DAY + slot.start / 60), round(day * DAY + slot.end / 60))
        for day, slot in week.runs_over(time, season.runs_of(dry), slots, first, BENCH_DAYS)
    )
    store = None
    if isinstance(zone.source, Store):
        store = next(
            i for i, g in enumerate(season.groups) if any(s.id == zone.source.id for s in g.stores)
        )
    return ZoneRig(
        KeeperPlan(zone.name, tuple(sorted(runs)), programme.rain_plan),
        push.curve,
        store,
        programme.timer.battery_months > 0,
        zone.has_filter,
        bool(zone.pumps),
    )
