"""Zones solved: heads and flows at a level of the store, and what each outlet gets of its due."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property, lru_cache

import numpy as np
from numpy.typing import NDArray

from euhydra.core import hydraulics, recovery, uniformity
from euhydra.core.constants import LITRES_PER_CUBIC_METRE, SECONDS_PER_HOUR
from euhydra.core.delivery import DrainCurve
from euhydra.core.network import Network, Solution
from euhydra.garden.drinker import Drinker
from euhydra.garden.pipes import Pipe
from euhydra.garden.sentences import Amount, say
from euhydra.garden.store_groups import Group
from euhydra.planner.answers import PlanError
from euhydra.planner.same import Asked, kept
from euhydra.planner.water import laws
from euhydra.planner.water.way import Outlet
from euhydra.planner.water.zones import Zone

Floats = NDArray[np.float64]

CURVE_SHARES = tuple(i / 8 for i in range(9))
"""Shares of the drawable water at which delivery is solved."""

MOST_ROUNDS, SETTLED = 8, 1e-5
"""Rounds of solving drilled pipe again, and the change of head that ends them. [m]"""

SOLUTIONS_KEPT = 128
"""Networks whose solutions are kept, so that an edit solves only the zones that it changes."""

WAYS_KEPT = 128
"""Ways solved at a level that are kept: a dozen levels of each of ten zones."""

ENDLESS = 1e6
"""Litres that a tap counts as holding: more than any run takes. [L]"""


LEAST_OF_A_FLOAT = 1e-3 / 3600
"""What a float valve lets in at least, wide open. [m³ s⁻¹] Our choice: a litre an hour, or it counts as dry."""


@dataclass(frozen=True)
class SolvedWay:
    """A way solved, whatever it is called and in whatever garden it is.

    outlets : Along the water's way.
    """

    network: Network
    solution: Solution
    outlets: Sequence[Outlet]

    @cached_property
    def places(self) -> NDArray[np.intp]:
        """Positions of the outlets among the network's nodes."""
        index = {name: i for i, name in enumerate(self.network.nodes.ids)}
        return np.array([index[outlet.node] for outlet in self.outlets], dtype=np.intp)

    @cached_property
    def heads(self) -> dict[str, float]:
        """Height to which the water would rise at each node. [m]"""
        return dict(zip(self.network.nodes.ids, self.solution.head.tolist(), strict=True))

    @cached_property
    def flows(self) -> dict[str, float]:
        """Flow of every pipe, pump and valve by its name. [m³ s⁻¹]"""
        return dict(zip(self.network.link_ids, self.solution.flow.tolist(), strict=True))

    @cached_property
    def outlet_flow(self) -> Floats:
        """Of every outlet. [m³ s⁻¹]"""
        flow = self.solution.outflow[self.places]
        flow.flags.writeable = False  # it is handed out again
        return flow


@dataclass(frozen=True)
class ZoneState:
    """A zone solved at one level of its store.

    share : Of the drawable water left. [-]
    outlet_flow : Of every outlet, along the water's way; none where the valve does not open. [m³ s⁻¹]
    """

    zone: Zone
    share: float
    solved: SolvedWay
    outlet_flow: Floats

    @property
    def network(self) -> Network:
        """As it was solved."""
        return self.solved.network

    @property
    def solution(self) -> Solution:
        """Heads and flows of the network."""
        return self.solved.solution

    @property
    def heads(self) -> dict[str, float]:
        """Height to which the water would rise at each node. [m]"""
        return self.solved.heads

    @property
    def flows(self) -> dict[str, float]:
        """Flow of every pipe, pump and valve by its name. [m³ s⁻¹]"""
        return self.solved.flows

    @property
    def flow(self) -> float:
        """Drawn from the source. [m³ s⁻¹]"""
        return float(self.outlet_flow.sum())

    @property
    def mean_flow(self) -> float:
        """Of one outlet. [m³ s⁻¹]"""
        return float(self.outlet_flow.mean())

    @cached_property
    def wanted(self) -> Floats:
        """Share of the zone's water that each outlet should give; they add up to 1. [-]"""
        return wanted_shares(self.zone)

    @cached_property
    def got(self) -> Floats:
        """What each outlet gives over what it should, were the zone's water shared well. [-]

        A float has no due: it lets in what is drunk, and shuts. It has all of it while it lets in any.
        """
        if self.flow <= 0:
            return np.zeros_like(self.outlet_flow)
        if self.zone.keeps_level:
            return np.where(self.outlet_flow >= LEAST_OF_A_FLOAT, 1.0, 0.0)
        return np.asarray(self.outlet_flow / (self.flow * self.wanted))

    def head_on(self, pipe: Pipe) -> float:
        """Head at the beginning of a line; 0 where nothing leads to it. [m]"""
        segments = self.zone.way.segments[pipe.id]
        if not segments:
            return 0.0
        return self.heads[segments[0].start] - self.zone.way.stops[segments[0].end].height

    @property
    def lowest_share(self) -> float:
        """Weakest outlet over its due; 0 when nothing flows. [-]"""
        return float(self.got.min())

    @cached_property
    def low_quarter(self) -> float:
        """Low-quarter distribution uniformity, each outlet against its due. [-]"""
        return uniformity.low_quarter_uniformity(self.got)

    @cached_property
    def emission_uniformity(self) -> float:
        """Design emission uniformity with the maker's variation. [-]"""
        variation = max(outlet.law.variation for outlet in self.zone.outlets)
        return uniformity.design_emission_uniformity(self.got, variation, 1.0)

    @property
    def outlet_head(self) -> Floats:
        """Solved head over every outlet. [m]"""
        places = self.solved.places
        return self.solution.head[places] - self.network.nodes.elevation[places]

    @property
    def weakest(self) -> Outlet:
        """The outlet that gets least of its due."""
        return self.zone.outlets[int(np.argmin(self.got))]

    def share_to(self, part_id: str) -> float:
        """Share of the zone's flow that a bed or group of pots gets. [-]"""
        if self.flow <= 0:
            return float(self.wanted[self._to(part_id)].sum())
        return float(self.outlet_flow[self._to(part_id)].sum()) / self.flow

    def due_of(self, part_id: str) -> float:
        """What a bed or group of pots gets over its due; 0 when nothing flows. [-]"""
        if self.flow <= 0:
            return 0.0
        if self.zone.keeps_level:
            return float(self.got[self._to(part_id)].min())
        return self.share_to(part_id) / float(self.wanted[self._to(part_id)].sum())

    def low_quarter_in(self, part_id: str) -> float:
        """Low-quarter uniformity within one bed. [-]"""
        return uniformity.low_quarter_uniformity(self.outlet_flow[self._to(part_id)])

    def kept_in(self, part_id: str) -> float:
        """Share that the worst-fed quarter of one bed's plants keeps, as lines and outlets are made. [-]

        In a bed each plant counts as fed by one outlet, though its roots may reach more: to be safe.
        """
        own = self._to(part_id)
        part = next(part for part in self.zone.watered if part.id == part_id)
        each = max(1.0, float(own.sum()) / part.plants) if part.container else 1.0
        laws_here = (o.law for o, is_own in zip(self.zone.outlets, own, strict=True) if is_own)
        variation = max(law.variation for law in laws_here)
        return self.low_quarter_in(part_id) * uniformity.makers_spread(variation, each)

    def _to(self, part_id: str) -> NDArray[np.bool_]:
        return np.array([outlet.waters == part_id for outlet in self.zone.outlets])

    @property
    def lost_before_outlets(self) -> float:
        """Head lost from the source to the first outlet. [m]"""
        first = self.zone.outlets[0].node
        route = self.zone.way.route_to(first)
        return self.heads[route[0].node] - self.heads[route[-2].node]

    @property
    def lost_among_outlets(self) -> float:
        """Head lost from before the first outlet to the weakest. [m]"""
        route = self.zone.way.route_to(self.zone.outlets[0].node)
        return self.heads[route[-2].node] - self.heads[self.weakest.node]


def wanted_shares(zone: Zone) -> Floats:
    """Share of a zone's water that each outlet should give. [-]

    A bed's water is shared equally among its outlets; beds are weighed by their area, pots by
    what they drink. An outlet that waters nothing counts like the mean of the others.
    """
    counts: dict[str | None, int] = {}
    for outlet in zone.outlets:
        counts[outlet.waters] = counts.get(outlet.waters, 0) + 1
    weight = {part.id: thirst(part) for part in zone.watered}
    known = [weight[o.waters] / counts[o.waters] for o in zone.outlets if o.waters in weight]
    usual = sum(known) / len(known) if known else 1.0
    each = [
        weight[o.waters] / counts[o.waters] if o.waters in weight else usual for o in zone.outlets
    ]
    shares = np.array(each)
    return np.asarray(shares / shares.sum())


BED_THIRST = 0.005
"""Depth that beds and leaves of pots drink on a hot day, to weigh one against another in a zone.
[m] Common practice: an inch in five days of heat."""


def thirst(part: Drinker) -> float:
    """Water that a bed or a group of pots drinks on a hot day. [m³]"""
    measured = part.hot_day_m3
    return measured if measured is not None else part.area_m2 * BED_THIRST


def solve_zone(zone: Zone, share: float, is_dirty: bool = False) -> ZoneState:
    """Heads and flows of the zone with `share` of the drawable water left, solved once.

    A valve that does not open at this head lets nothing through.

    Raises
    ------
    PlanError : if the network could not be solved.
    """
    known = zone.solved.get((share, is_dirty))
    if known is None:
        found = _PosedWay(zone, _heads(zone, share), is_dirty).solved()
        known = zone.solved[share, is_dirty] = _state(zone, share, found)
    assert isinstance(known, ZoneState)
    return known


@dataclass(frozen=True)
class _PosedWay:
    """A zone's way to be solved.

    heads : Of its sources. [m]
    opened : Pipes by id at which more or less comes out, and that times what it would be. [-]
    """

    zone: Zone
    heads: tuple[float, ...]
    is_dirty: bool = False
    opened: tuple[tuple[str, float], ...] = ()

    def solved(self) -> SolvedWay:
        """As every other that is laid out alike, at the same heads."""
        figures = self.heads, self.is_dirty, self.opened
        return _solved_way(Asked(self, (self.zone.way.layout,), figures))


@kept(WAYS_KEPT)
def _solved_way(asked: Asked[_PosedWay]) -> SolvedWay:
    posed, zone = asked.what, asked.what.zone
    ids = (source.id for source in zone.way.sources)
    heads = dict(zip(ids, posed.heads, strict=True))
    network = zone.way.network(heads, posed.is_dirty)
    return _solve(zone, _opened(zone, network, dict(posed.opened)) if posed.opened else network)


def solve_opened(zone: Zone, share: float, factors: Mapping[str, float]) -> ZoneState:
    """As `solve_zone`, with what comes out at some pipes times a factor, at the same head.

    Parameters
    ----------
    factors : By the id of the pipe. [-]

    Raises
    ------
    PlanError : if the network could not be solved.
    """
    posed = _PosedWay(zone, _heads(zone, share), opened=tuple(factors.items()))
    return _state(zone, share, posed.solved())


def _opened(zone: Zone, network: Network, factors: Mapping[str, float]) -> Network:
    index = {name: i for i, name in enumerate(network.nodes.ids)}
    coefficient = network.nodes.outlet_coefficient.copy()
    for node, pipe in {outlet.node: outlet.pipe for outlet in zone.outlets}.items():
        coefficient[index[node]] *= factors.get(pipe.id, 1.0)
    return replace(network, nodes=replace(network.nodes, outlet_coefficient=coefficient))


def _solve(zone: Zone, network: Network) -> SolvedWay:
    solution = _solved(zone, network)
    drilled = [pipe for pipe in zone.pipes if laws.kind_of(pipe).family == "drilled"]
    if drilled:
        network, solution = _recovering(zone, drilled, network, solution)
    return SolvedWay(network, solution, zone.outlets)


def _state(zone: Zone, share: float, found: SolvedWay) -> ZoneState:
    flow = found.outlet_flow if zone.opens_at(share) else np.zeros_like(found.outlet_flow)
    return ZoneState(zone, share, found, flow)


@dataclass(frozen=True)
class _Posed:
    """A network to be solved: the same as every other with the same figures."""

    network: Network = field(compare=False)
    figures: bytes

    @classmethod
    def of(cls, network: Network) -> "_Posed":
        return cls(network, network.figures)


@lru_cache(maxsize=SOLUTIONS_KEPT)
def _solution_of(posed: _Posed) -> Solution:
    return hydraulics.solve(posed.network)


def _solved(zone: Zone, network: Network) -> Solution:
    solution = _solution_of(_Posed.of(network))
    if not solution.converged:
        raise PlanError(
            say(
                "water-not-solved",
                "The pipes of “{zone}” could not be solved (off by {residual} after {iterations} "
                "steps): check their lengths, widths and pieces.",
                zone=zone.name,
                residual=Amount(solution.residual, "length"),
                iterations=solution.iterations,
            )
        )
    return solution


def _recovering(
    zone: Zone, drilled: list[Pipe], network: Network, solution: Solution
) -> tuple[Network, Solution]:
    """Drilled pipe solved again with the head that the water's speed holds back at each hole.

    What is held back is told as a hole so much higher, until nothing changes: the pipe is wide and the
    holes many, so that the speed is what friction alone would have it within a few rounds.
    """
    before = np.zeros_like(network.nodes.elevation)
    for _ in range(MOST_ROUNDS):
        held = _held_back(zone, drilled, network, solution)
        if np.abs(held - before).max() < SETTLED:
            break
        nodes = replace(network.nodes, elevation=network.nodes.elevation + held - before)
        network, before = replace(network, nodes=nodes), held
        solution = _solved(zone, network)
    return network, solution


def _held_back(zone: Zone, drilled: list[Pipe], network: Network, solution: Solution) -> Floats:
    """Head that speed holds back at each node of the network; 0 where there is no hole. [m]"""
    index = {name: i for i, name in enumerate(network.nodes.ids)}
    flows = dict(zip(network.link_ids, np.abs(solution.flow).tolist(), strict=True))
    holes = {outlet.node for outlet in zone.outlets}
    found = np.zeros(len(network.nodes.ids))
    for pipe in drilled:
        segments = zone.way.segments[pipe.id]
        along = np.array([flows[segment.link] for segment in segments])
        after = np.append(along[1:], 0.0)
        held = recovery.held_back(along, after, laws.bore_of(pipe))
        for segment, head in zip(segments, held.tolist(), strict=True):
            if segment.end in holes:
                found[index[segment.end]] = head
    return found


def network_of(zone: Zone, share: float) -> Network:
    """The zone as pipes and nodes at one level of its store."""
    ids = (source.id for source in zone.way.sources)
    return zone.way.network(dict(zip(ids, _heads(zone, share), strict=True)))


def _heads(zone: Zone, share: float) -> tuple[float, ...]:
    """Heights of the water in its sources. [m]"""
    return tuple(zone.surface_of(source, share) for source in zone.way.sources)


def drain_curve(zone: Zone) -> DrainCurve:
    """Delivery of the zone against the level of its store, from solved networks. [L], [L/h]"""
    if zone.group is None:
        flow = litres_an_hour(solve_zone(zone, 1.0).flow)
        return DrainCurve.of([0.0, ENDLESS], [flow, flow])
    shares = sorted({*CURVE_SHARES, *_bottoms(zone, zone.group)})
    volumes = [zone.volume_at(share) * LITRES_PER_CUBIC_METRE for share in shares]
    flows = [litres_an_hour(solve_zone(zone, share).flow) for share in shares]
    return DrainCurve.of(volumes, flows)


def _bottoms(zone: Zone, group: Group) -> list[float]:
    """Shares at which another linked store falls dry, and the level begins to fall faster."""
    shares = ((v - zone.dead_m3) / zone.usable_m3 for v in group.level.volume.tolist())
    return [share for share in shares if 1e-6 < share < 1 - 1e-6]


def litres_an_hour(flow: float) -> float:
    """A flow in m³/s as litres an hour."""
    return flow * LITRES_PER_CUBIC_METRE * SECONDS_PER_HOUR
