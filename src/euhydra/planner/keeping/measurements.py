"""What the log measured, each beside what the plan says of it."""

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from euhydra.core.calibration import SoilTest
from euhydra.core.constants import LITRES_PER_CUBIC_METRE
from euhydra.core.uniformity import low_quarter_uniformity
from euhydra.garden.logbook import LogEntry
from euhydra.garden.stores import Store
from euhydra.garden.timers import Timer
from euhydra.planner.answers import PlanError
from euhydra.planner.chain import ZoneChain
from euhydra.planner.keeping.hindcast import Hindcast
from euhydra.planner.steps import first_run
from euhydra.planner.water import solving

Floats = NDArray[np.float64]

LEAST_RAIN_L = 5.0
"""Litres from a roof below which an interval tells nothing. [L]"""

NEARLY_FULL = 0.97
"""From this share of a store on, it may have spilled, and a dip tells nothing of the roof. [-]"""

FlowPair = tuple[float, float, int]
"""Solved, measured, and which entry of the log."""


def flow_pairs(chain: ZoneChain, log: Sequence[LogEntry]) -> list[FlowPair]:
    """Flows of all of a zone by bucket beside what is solved at the store's level then."""
    zone, found = chain.zone, []
    head = next((p.id for p in zone.way.parts if isinstance(p, Timer)), zone.source.id)
    for i, entry in enumerate(log):
        if entry.kind != "flow" or entry.word != "whole" or entry.part_id != head:
            continue
        level, _ = first_run.level_of(zone, log[: i + 1])
        try:
            solved = solving.solve_zone(zone, round(level, 3)).flow
        except PlanError:
            continue
        if solved > 0:
            found.append((solved, first_run.measured_flow(entry), i))
    return found


@dataclass(frozen=True)
class CupTest:
    """Catch cups along a line or in a bed, beside what is solved there.

    solved, measured : Mean of one outlet. [m³ s⁻¹]
    solved_even, measured_even : Low-quarter uniformity. [-]
    entry : Position in the log.
    """

    name: str
    solved: float
    measured: float
    solved_even: float
    measured_even: float
    entry: int


def cup_tests(chain: ZoneChain, log: Sequence[LogEntry]) -> list[CupTest]:
    """Every catch-cup test in a zone."""
    zone, found = chain.zone, []
    along = first_run.outlets_along(zone)
    names = {part.id: part.name for part in (*zone.pipes, *zone.watered)}
    for i, entry in enumerate(log):
        if entry.kind != "cups" or entry.part_id not in names:
            continue
        in_bed = [k for k, o in enumerate(zone.outlets) if o.waters == entry.part_id]
        outlets = along.get(entry.part_id, in_bed)
        level, _ = first_run.level_of(zone, log[: i + 1])
        try:
            flows = solving.solve_zone(zone, round(level, 3)).outlet_flow[outlets]
        except PlanError:
            continue
        seconds, *volumes = (value or 0.0 for value in entry.amounts)
        cups = np.array(volumes)
        if len(flows) and float(flows.mean()) > 0:
            found.append(
                CupTest(
                    names[entry.part_id],
                    float(flows.mean()),
                    float(cups.mean()) / seconds,
                    low_quarter_uniformity(flows),
                    low_quarter_uniformity(cups),
                    i,
                )
            )
    return found


def cup_pairs(chain: ZoneChain, log: Sequence[LogEntry]) -> list[FlowPair]:
    return [(test.solved, test.measured, test.entry) for test in cup_tests(chain, log)]


def meter_pairs(told: Hindcast, chain: ZoneChain) -> list[FlowPair]:
    """Litres between two readings of a meter at the timer, beside what was run meanwhile."""
    head = next((p.id for p in chain.zone.way.parts if isinstance(p, Timer)), None)
    ways = [
        (i, way)
        for i, way in enumerate(told.season.ways)
        if way.time is not None and way.time.zone.id == chain.zone.id
    ]
    readings = [
        (i, e) for i, e in enumerate(told.log) if e.kind == "meter" and e.part_id == head and head
    ]
    found = []
    for (_, before), (i, after) in pairwise(readings):
        if after.word == "new" or not ways:
            continue
        first, last = told.day(before.at), told.day(after.at)
        run = sum(float(told.tracks[k].watered[first:last].sum()) for k, _ in ways)
        used = ((after.amounts[0] or 0.0) - (before.amounts[0] or 0.0)) * LITRES_PER_CUBIC_METRE
        if run > LEAST_RAIN_L:
            found.append((run, used, i))
    return found


UNDOES = ("flush", "clog", "repair")
"""Entries after which what was measured before tells nothing of how it is now."""


def mended_at(log: Sequence[LogEntry], parts: Collection[str]) -> datetime:
    """When some parts were last flushed, cleared or repaired; long ago if never."""
    done = [e.at for e in log if e.kind in UNDOES and (e.part_id in parts or e.part_id is None)]
    return max(done, default=datetime.min)


def since(pairs: Sequence[FlowPair], log: Sequence[LogEntry], moment: datetime) -> list[FlowPair]:
    """Those that were measured after a moment."""
    return [pair for pair in pairs if log[pair[2]].at >= moment]


def ages_of(pairs: Sequence[FlowPair], told: Hindcast) -> Floats:
    """Days since each was measured. [d]"""
    return np.array([(told.today - told.log[i].at.date()).days for *_, i in pairs], dtype=float)


def dip_pairs(told: Hindcast, tank: int, store: Store) -> list[FlowPair]:
    """Litres that the roof should have brought between two dips, those that came, and the later dip."""
    group, works = told.season.groups[tank], told.season.works
    dips = [(i, e) for i, e in enumerate(told.log) if e.kind == "dip" and e.part_id == store.id]
    run = told.season.run
    drawn = run.drawn_from(tank) + run.dried[tank]
    capacity = works.tanks[tank].capacity
    found = []
    for (_, before), (place, after) in pairwise(dips):
        first, last = told.day(before.at), told.day(after.at)
        volumes = [
            group.level.volume_at(store.base_m + (e.amounts[0] or 0.0)) * LITRES_PER_CUBIC_METRE
            for e in (before, after)
        ]
        brought = float(works.tanks[tank].inflow[first:last].sum())
        used = float(drawn[first:last].sum())
        spilled = max(volumes[0] + brought - used, volumes[1]) > NEARLY_FULL * capacity
        if last > first and brought > LEAST_RAIN_L and not spilled:
            found.append((brought, volumes[1] - volumes[0] + used, place))
    return found


def soil_tests(told: Hindcast, part_id: str) -> list[SoilTest]:
    """Finger tests of one bed. In the morning they tell of last evening."""
    return [
        SoilTest(told.day(e.at - timedelta(hours=12)), e.word)
        for e in told.log
        if e.kind == "finger" and e.part_id == part_id
    ]
