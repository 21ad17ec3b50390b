"""Flow and head of every outlet, row by row, as the page prints them."""

from dataclasses import dataclass
from itertools import groupby

from euhydra.garden import quantities
from euhydra.garden.plumbing import OutletKind
from euhydra.garden.quantities import KINDS, System
from euhydra.planner.push.answer import PushAnswer

MOST_ROWS = 12
"""Rows of outlets that are written out; the plan shows them all."""


@dataclass(frozen=True)
class OutletRow:
    """One line's outlets, or one by itself: flow and head of each, from its beginning on."""

    name: str
    law: OutletKind
    flows: tuple[str, ...]
    heads: tuple[str, ...]


@dataclass(frozen=True)
class OutletTable:
    """Rows by level of the store, the units they are printed in, and rows left out."""

    rows: dict[str, tuple[OutletRow, ...]]
    flow_unit: str
    head_unit: str
    left_out: int


def rows_of(push: PushAnswer, system: System) -> OutletTable:
    """Every outlet at every level, in the garden's units."""
    levels, count = {}, 0
    for level in push.levels:
        flows = _printed(level.state.outlet_flow.tolist(), "flow", system, 2)
        heads = _printed(level.state.outlet_head.tolist(), "head", system, 3)
        rows, at = [], 0
        for _, group in groupby(push.zone.outlets, key=lambda outlet: outlet.pipe.id):
            own = list(group)
            end = at + len(own)
            rows.append(OutletRow(own[0].pipe.name, own[0].law, flows[at:end], heads[at:end]))
            at = end
        count = len(rows)
        levels[level.name] = tuple(rows[:MOST_ROWS])
    flow_unit, head_unit = (KINDS[kind].display(system).sign for kind in ("flow", "head"))
    return OutletTable(levels, flow_unit, head_unit, max(0, count - MOST_ROWS))


def _printed(values: list[float], kind: str, system: System, decimals: int) -> tuple[str, ...]:
    return tuple(f"{quantities.from_si(v, kind, system):.{decimals}f}" for v in values)
