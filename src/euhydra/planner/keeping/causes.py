"""Causes of a fault, each put into the pipes of a zone and solved."""

import tomllib
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import cache
from importlib.resources import files
from math import pi

import numpy as np

from euhydra.core.constants import GRAVITY
from euhydra.garden.part import Point
from euhydra.garden.pipes import Fitting, Pipe
from euhydra.garden.plumbing import FittingRole
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.answers import PlanError
from euhydra.planner.steps import first_run
from euhydra.planner.water import laws, solving, zones
from euhydra.planner.water.solving import ZoneState
from euhydra.planner.water.way import Way
from euhydra.planner.water.zones import NEARLY_EMPTY, Zone

CLOG_TAKES = 0.75
"""Share of the outlets' head that a clog takes in the trial. [-] Our choice: plainly felt."""

LEAK_WIDE, END_WIDE = 0.004, 0.01
"""Hole of a leak and of an open end in the trial. [m] Our choice."""

RUNS_AWAY = 3.0
"""From so many times the usual flow on, it is told in times, not in percent. [-]"""

HOLE = "hole-of-a-trial"
"""Begins the ids of what a trial adds."""


@dataclass(frozen=True)
class CauseKind:
    """What can be wrong, how to make sure, what to do. See the data file."""

    id: str
    title: str
    test: str
    cure: str
    order: int
    solved: bool


@cache
def cause_kinds() -> dict[str, CauseKind]:
    """Every cause, by id."""
    table = tomllib.loads(files("euhydra.data").joinpath("fault_causes.toml").read_text("utf-8"))
    return {key: CauseKind(id=key, **row) for key, row in table.items()}


@dataclass(frozen=True)
class Pattern:
    """Flows with something wrong, as shares of the usual ones. [-]

    whole : Out of the source.
    near, far : Of the first and of the second half of each line's outlets.
    """

    whole: float
    near: float
    far: float

    def distance(self, other: "Pattern") -> float:
        """How unlike another it is."""
        pairs = ((self.whole, other.whole), (self.near, other.near), (self.far, other.far))
        return sum(abs(a - b) for a, b in pairs if not np.isnan(a) and not np.isnan(b))


@dataclass(frozen=True)
class Cause:
    """A cause with what the solved network says of it."""

    kind: CauseKind
    pattern: Pattern | None
    said: Sentence


def try_causes(zone: Zone, sound: ZoneState, share: float) -> list[Cause]:
    """Each cause that this zone can have, solved."""
    trials: list[tuple[str, Callable[[], ZoneState | None]]] = [
        ("filter", lambda: _filter_clog(zone, sound, share)),
        ("low-store", lambda: solving.solve_zone(zone, NEARLY_EMPTY) if zone.group else None),
        ("others", lambda: _with_others(zone, share)),
        ("line-clog", lambda: _line_clog(zone, sound, share)),
        ("hose-clog", lambda: _hose_clog(zone, sound, share)),
        ("open-end", lambda: _open_end(zone, share)),
        ("leak", lambda: _leak(zone, share)),
        ("regulator", lambda: _unregulated(zone, share)),
    ]
    found = []
    for cause_id, trial in trials:
        try:
            state = trial()
        except PlanError:
            continue
        if state is not None:
            pattern = _pattern(zone, sound, state)
            found.append(Cause(cause_kinds()[cause_id], pattern, _said(pattern)))
    if zone.timer is not None:
        shut = Pattern(0.0, 0.0, 0.0)
        found.append(
            Cause(
                cause_kinds()["valve"],
                shut,
                say("keeping-nothing-comes", "Then nothing comes out."),
            )
        )
    return found


def _said(p: Pattern) -> Sentence:
    halves = {"near": Amount(p.near, "share"), "far": Amount(p.far, "share")}
    template = "Then the near half gives {near} of the usual, the far half {far}, and "
    if p.whole > RUNS_AWAY:
        return say(
            "keeping-water-runs-away",
            template + "{times} times the usual leaves the source.",
            **halves,
            times=Amount(float(round(p.whole)), "plain"),
        )
    return say(
        "keeping-shares-of-usual",
        template + "the source {whole}.",
        **halves,
        whole=Amount(p.whole, "share"),
    )


def _pattern(zone: Zone, sound: ZoneState, state: ZoneState) -> Pattern:
    usual = {o.node: float(q) for o, q in zip(sound.zone.outlets, sound.outlet_flow, strict=True)}
    now = _flows_by_place(state)
    near: list[float] = []
    far: list[float] = []
    for indices in first_run.outlets_along(zone).values():
        half = (len(indices) + 1) // 2
        for place, i in enumerate(indices):
            outlet = zone.outlets[i]
            before = usual[outlet.node]
            if before > 0:
                share = now.get((round(outlet.x, 3), round(outlet.y, 3)), 0.0) / before
                (near if place < half else far).append(share)
    whole = state.flow / sound.flow if sound.flow > 0 else 0.0
    return Pattern(whole, _mean(near), _mean(far) if far else _mean(near))


def _mean(shares: Sequence[float]) -> float:
    return float(np.mean(shares)) if shares else 0.0


def _flows_by_place(state: ZoneState) -> dict[tuple[float, float], float]:
    """By where an outlet is: a cut line has other nodes, but its outlets stay where they were."""
    return {
        (round(o.x, 3), round(o.y, 3)): float(q)
        for o, q in zip(state.zone.outlets, state.outlet_flow, strict=True)
        if not o.pipe.id.startswith(HOLE)
    }


def _filter_clog(zone: Zone, sound: ZoneState, share: float) -> ZoneState | None:
    """The first filter so clogged that it takes most of the head before it."""
    clogged = next(
        (p for p in zone.way.parts if isinstance(p, Fitting) and p.role is FittingRole.FILTERS),
        None,
    )
    if clogged is None:
        return None
    head = sound.heads[clogged.id] - zone.outlet_m
    loss = _loss_that_takes(zone.pipes[0], sound.flow, head)
    return solving.solve_zone(
        zones.in_garden(zone, fittings={clogged.id: clogged.model_copy(update={"loss": loss})}),
        share,
    )


def _with_others(zone: Zone, share: float) -> ZoneState | None:
    """Everything else on the same source open too."""
    own = {part.id for part in zone.way.parts}
    more = [
        part
        for other in zones.zones_of(zone.garden)
        if other.id != zone.id and other.source.id == zone.source.id
        for part in other.way.parts
        if part.id not in own
    ]
    if not more:
        return None
    way = Way(zone.garden, zone.source, (*zone.way.parts, *dict.fromkeys(more)))
    both = solving.solve_zone(replace(zone, way=way), share)
    keep = [i for i, outlet in enumerate(both.zone.outlets) if outlet.pipe.id in own]
    return replace(
        both,
        outlet_flow=np.where(
            np.isin(np.arange(len(both.outlet_flow)), keep), both.outlet_flow, 0.0
        ),
    )


def _rows(zone: Zone) -> list[Pipe]:
    """Lines with outlets that feed nothing else."""
    feeding = {part.begins_at for part in zone.way.parts}
    return [p for p in zone.pipes if laws.kind_of(p).has_outlets and p.id not in feeding]


def _line_clog(zone: Zone, sound: ZoneState, share: float) -> ZoneState | None:
    """The longest line, clogged half way."""
    rows = _rows(zone)
    if not rows:
        return None
    row = max(rows, key=lambda p: p.lies_m)
    beyond = [i for i, o in enumerate(zone.outlets) if o.pipe.id == row.id]
    beyond = beyond[len(beyond) // 2 :]
    flow = float(sound.outlet_flow[beyond].sum())
    loss = _loss_that_takes(row, flow, float(sound.outlet_head[beyond].mean()))
    middle = row.point_at(row.drawn_m / 2)
    first = row.model_copy(update={"path": (row.path[0], middle), "length_m": row.lies_m / 2})
    second = row.model_copy(
        update={
            "id": f"{row.id}-far",
            "path": (middle, row.path[-1]),
            "length_m": row.lies_m / 2,
            "begins_at": row.id,
            "begins_along_m": None,
            "fittings_loss": row.fittings_loss + loss,
        }
    )
    return solving.solve_zone(_exchanged(zone, first, second), share)


def _hose_clog(zone: Zone, sound: ZoneState, share: float) -> ZoneState | None:
    """The first pipe of all, kinked at its beginning."""
    pipe = zone.pipes[0]
    loss = _loss_that_takes(pipe, sound.flow, float(sound.outlet_head.mean()))
    return solving.solve_zone(
        _exchanged(zone, pipe.model_copy(update={"fittings_loss": pipe.fittings_loss + loss})),
        share,
    )


def _loss_that_takes(pipe: Pipe, flow: float, head: float) -> float:
    """Loss number K that takes `CLOG_TAKES` of a head at a quarter of the flow. [-]"""
    speed = max(flow / 2, 1e-9) / (pi / 4 * laws.bore_of(pipe) ** 2)
    return CLOG_TAKES * max(head, 1e-3) / (speed**2 / (2 * GRAVITY))


def _open_end(zone: Zone, share: float) -> ZoneState | None:
    """The far end of the longest line open."""
    rows = _rows(zone)
    if not rows:
        return None
    row = max(rows, key=lambda p: p.lies_m)
    return _with_hole(zone, row, row.drawn_m, END_WIDE, share)


def _leak(zone: Zone, share: float) -> ZoneState | None:
    """A hole half way along the first pipe."""
    pipe = zone.pipes[0]
    return _with_hole(zone, pipe, pipe.drawn_m / 2, LEAK_WIDE, share)


def _with_hole(zone: Zone, pipe: Pipe, along: float, wide: float, share: float) -> ZoneState:
    at = pipe.point_at(along)
    off = Point(x_m=at.x_m + 0.3, y_m=at.y_m)
    at_end = along >= pipe.drawn_m
    hole = Pipe(
        id=HOLE,
        name="Hole",
        kind="hole-1",
        path=(at, off),
        begins_at=pipe.id,
        begins_along_m=None if at_end else along,
        spacing_m=0.3,
        hole_m=wide,
    )
    return solving.solve_zone(_exchanged(zone, pipe, hole), share)


def _unregulated(zone: Zone, share: float) -> ZoneState | None:
    regulators = [
        p for p in zone.way.parts if isinstance(p, Fitting) and p.role is FittingRole.REGULATES
    ]
    if not regulators:
        return None
    open_wide = {r.id: r.model_copy(update={"setting_m": 100.0}) for r in regulators}
    return solving.solve_zone(zones.in_garden(zone, fittings=dict(open_wide)), share)


def _exchanged(zone: Zone, pipe: Pipe, *more: Pipe) -> Zone:
    """The zone with one pipe exchanged, and others after it."""
    garden = zone.garden.model_copy(
        update={"pipes": (*(pipe if p.id == pipe.id else p for p in zone.garden.pipes), *more)}
    )
    parts = [pipe if part.id == pipe.id else part for part in zone.way.parts]
    return replace(zone, way=Way(garden, zone.source, (*parts, *more)))
