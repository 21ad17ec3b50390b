"""Catch cups, each test beside what is solved there."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from euhydra.core.uniformity import low_quarter_uniformity
from euhydra.garden.logbook import LogEntry
from euhydra.planner.answers import PlanError
from euhydra.planner.chain import ZoneChain
from euhydra.planner.steps import first_run
from euhydra.planner.water import solving


@dataclass(frozen=True)
class CupTest:
    """Catch cups along a line or in a bed, beside what is solved there.

    solved_even, measured_even : Low-quarter uniformity. [-]
    """

    name: str
    solved_even: float
    measured_even: float


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
        _, *volumes = (value or 0.0 for value in entry.amounts)
        cups = np.array(volumes)
        if len(flows) and float(flows.mean()) > 0:
            found.append(
                CupTest(
                    names[entry.part_id],
                    low_quarter_uniformity(flows),
                    low_quarter_uniformity(cups),
                )
            )
    return found
