"""Branches of a zone throttled against each other, until each gets what it should."""

from collections.abc import Mapping
from dataclasses import dataclass
from math import pi

from euhydra.core.constants import GRAVITY
from euhydra.garden.pipes import Pipe
from euhydra.planner.water import laws, solving, zones
from euhydra.planner.water.solving import ZoneState
from euhydra.planner.water.way import Joined
from euhydra.planner.water.zones import Zone

MOST_TURNS = 40
"""Tries of throttling before it is given up."""

NEAR = 0.01
"""Share by which a branch may miss its due. [-]"""

LEVEL = 0.5
"""Share of the drawable water at which branches are set. [-]"""


@dataclass(frozen=True)
class Branch:
    """A part of the zone with a valve of its own: its first pipe and what it should take.

    loss : Loss number K to add on the bore of its first pipe. [-]
    flow : When it is set right. [m³ s⁻¹]
    """

    pipe: Pipe
    name: str
    loss: float
    flow: float


@dataclass(frozen=True)
class Throttled:
    """The zone with its branches throttled, and how far each."""

    zone: Zone
    branches: tuple[Branch, ...]


def branches_of(zone: Zone) -> list[tuple[Pipe, list[int]]]:
    """First pipe of everything watered by itself, with the positions of its outlets."""
    parents = {part.id: part.begins_at for part in zone.way.parts}
    by_id = {part.id: part for part in zone.way.parts}

    def upstream(part_id: str) -> list[str]:
        found = [part_id]
        while (before := parents.get(found[-1])) in by_id:
            assert before is not None
            found.append(before)
        return found

    routes = {id(o): upstream(o.pipe.id) for o in zone.outlets}
    found = []
    for watered in zone.watered:
        own = [i for i, o in enumerate(zone.outlets) if o.waters == watered.id]
        others = {p for i, o in enumerate(zone.outlets) if i not in set(own) for p in routes[id(o)]}
        route = routes[id(zone.outlets[own[0]])]
        alone = [p for p in route if p not in others and isinstance(by_id[p], Pipe)]
        shared = set.intersection(*(set(routes[id(zone.outlets[i])]) for i in own))
        firsts = [p for p in alone if p in shared]
        if firsts:
            first: Joined = by_id[firsts[-1]]
            assert isinstance(first, Pipe)
            found.append((first, own))
    return found


def throttle(zone: Zone, asks: Mapping[str, float] | None = None) -> Throttled | None:
    """Losses that give every branch its due, the weakest left open; None if that cannot be.

    Parameters
    ----------
    asks : What each bed or group of pots should get, in any unit; by what is due to its area where
        that is not known.
    """
    branches = branches_of(zone)
    if len(branches) < 2 or len(branches) < len(zone.watered):
        return None
    losses = [0.0] * len(branches)
    level = LEVEL if zone.group else 1.0
    for _ in range(MOST_TURNS):
        changed = _with_losses(zone, [(p, k) for (p, _), k in zip(branches, losses, strict=True)])
        state = solving.solve_zone(changed, level)
        if state.flow <= 0:
            return None
        wanted = _wanted(state, branches, asks)
        got = [
            float(state.outlet_flow[own].sum() / state.flow) / share
            for (_, own), share in zip(branches, wanted, strict=True)
        ]
        least = min(got)
        if least <= 0:
            return None
        if max(got) / least < 1 + NEAR:
            flows = [float(state.outlet_flow[own].sum()) for _, own in branches]
            return Throttled(
                changed,
                tuple(
                    Branch(pipe, zone.watered[i].name, losses[i], flows[i])
                    for i, (pipe, _) in enumerate(branches)
                ),
            )
        for i, (pipe, own) in enumerate(branches):
            flow = float(state.outlet_flow[own].sum())
            # Loss and outlets share the head: what the branch has too much is taken up by K.
            head = state.heads[zone.outlets[own[0]].node] - zone.outlets[own[0]].height
            spare = max(head, 0.0) * (1 - (least / got[i]) ** 2)
            area = pi / 4 * laws.bore_of(pipe) ** 2
            losses[i] += spare / ((flow * least / got[i] / area) ** 2 / (2 * GRAVITY))
    return None


def _wanted(
    state: ZoneState, branches: list[tuple[Pipe, list[int]]], asks: Mapping[str, float] | None
) -> list[float]:
    """Share of the zone's water that each branch should take. [-]"""
    if asks is None:
        return [float(state.wanted[own].sum()) for _, own in branches]
    total = sum(asks.values())
    return [asks[part.id] / total for part in state.zone.watered]


def _with_losses(zone: Zone, losses: list[tuple[Pipe, float]]) -> Zone:
    changed = {
        pipe.id: pipe.model_copy(update={"fittings_loss": pipe.fittings_loss + loss})
        for pipe, loss in losses
    }
    return zones.in_garden(zone, pipes=dict(changed))
