"""A pipe network as arrays: what the solver reads and what it returns."""

import pickle
from dataclasses import dataclass, field, fields
from enum import StrEnum
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from euhydra.core.constants import WATER_KINEMATIC_VISCOSITY
from euhydra.core.pumps import PumpCurve

Floats = NDArray[np.float64]
Integers = NDArray[np.intp]


class HeadLossLaw(StrEnum):
    """Which law the `roughness` of the pipes belongs to."""

    DARCY_WEISBACH = "D-W"
    HAZEN_WILLIAMS = "H-W"


class NetworkError(ValueError):
    """The network cannot be solved as it stands; the message names the part and the remedy."""


@dataclass(frozen=True)
class Nodes:
    """Points of the network. All arrays are as long as `ids`.

    elevation : Height of the point; of the orifice where there is an outlet. [m]
    fixed_head : Head held by a water surface; NaN at a junction. [m]
    demand : Flow taken out whatever the head. [m³ s⁻¹]
    outlet_coefficient : k of q = k H^x; 0 where nothing flows out. [m³ s⁻¹ m⁻ˣ]
    outlet_exponent : x of the same law, over 0. [-]
    outlet_opens : Head up to which nothing flows out. [m]
    outlet_full : Head from which the law holds; between the two the flow grows as a root. [m]
    """

    ids: tuple[str, ...]
    elevation: Floats
    fixed_head: Floats
    demand: Floats
    outlet_coefficient: Floats
    outlet_exponent: Floats
    outlet_opens: Floats
    outlet_full: Floats


@dataclass(frozen=True)
class Pipes:
    """Pipes between nodes. All arrays are as long as `ids`.

    start, end : Positions in the node arrays.
    length : [m]
    diameter : Inner diameter. [m]
    roughness : Wall roughness for Darcy–Weisbach [m], or C for Hazen–Williams [-].
    minor_loss : Sum of local loss coefficients K. [-]
    is_open : False for a pipe that is shut.
    is_one_way : True for a pipe with a flap that lets nothing back.
    """

    ids: tuple[str, ...]
    start: Integers
    end: Integers
    length: Floats
    diameter: Floats
    roughness: Floats
    minor_loss: Floats
    is_open: NDArray[np.bool_]
    is_one_way: NDArray[np.bool_]

    @cached_property
    def figures(self) -> bytes:
        """All that is in them: the same of pipes that are alike."""
        return _figures_of(self)


@dataclass(frozen=True)
class PumpLink:
    """A pump from one node to another; water never runs back through it.

    start, end : Positions in the node arrays.
    """

    id: str
    start: int
    end: int
    curve: PumpCurve


class ValveKind(StrEnum):
    """What a valve does besides losing head."""

    THROTTLE = "throttle"
    CHECK = "check"
    REGULATOR = "regulator"


@dataclass(frozen=True)
class ValveLink:
    """A short piece between two nodes.

    start, end : Positions in the node arrays.
    diameter : On which `minor_loss` counts. [m]
    minor_loss : K of the open piece. [-]
    setting : Of a regulator, the head over its end that it holds at most; of a check valve, the
        head that opens it; without meaning for a throttle. [m]
    """

    id: str
    kind: ValveKind
    start: int
    end: int
    diameter: float
    minor_loss: float
    setting: float = 0.0


@dataclass(frozen=True)
class Network:
    """Nodes, what joins them, the law of head loss and the water's kinematic viscosity. [m² s⁻¹]"""

    nodes: Nodes
    pipes: Pipes
    pumps: tuple[PumpLink, ...] = ()
    valves: tuple[ValveLink, ...] = ()
    law: HeadLossLaw = HeadLossLaw.DARCY_WEISBACH
    viscosity: float = WATER_KINEMATIC_VISCOSITY

    @property
    def figures(self) -> bytes:
        """All that is in it: the same of networks that are alike. Pipes are read once for all heads."""
        rest = self.pumps, self.valves, self.law, self.viscosity
        return self.pipes.figures + _figures_of(self.nodes) + pickle.dumps(rest)

    @property
    def link_ids(self) -> tuple[str, ...]:
        """Of pipes, pumps and valves, in the order in which a solution lists them."""
        return (*self.pipes.ids, *(p.id for p in self.pumps), *(v.id for v in self.valves))

    @cached_property
    def start(self) -> Integers:
        """Where each link begins."""
        return np.concatenate([self.pipes.start, self._ends("start")])

    @cached_property
    def end(self) -> Integers:
        """Where each link ends."""
        return np.concatenate([self.pipes.end, self._ends("end")])

    def _ends(self, which: str) -> Integers:
        pieces = (*self.pumps, *self.valves)
        return np.array([getattr(piece, which) for piece in pieces], dtype=np.intp)


def _figures_of(columns: Nodes | Pipes) -> bytes:
    return pickle.dumps([getattr(columns, each.name) for each in fields(columns)])


@dataclass(frozen=True)
class Solution:
    """Heads and flows, and how the search for them ended.

    head : Of each node. [m]
    outflow : Leaving the network at each node; negative at a source. [m³ s⁻¹]
    flow : Of each pipe, pump and valve, positive from start to end. [m³ s⁻¹]
    head_loss : Of each, start over end; negative over a pump that lifts. [m]
    converged : Whether the figures are a solution. If not, they are only the last try.
    iterations : Newton steps taken.
    residual : Largest head that any pipe or outlet law is off by. [m]
    """

    head: Floats
    outflow: Floats
    flow: Floats
    head_loss: Floats
    converged: bool
    iterations: int
    residual: float


@dataclass
class NetworkBuilder:
    """Collects nodes and pipes by name, then freezes them into a `Network`."""

    law: HeadLossLaw = HeadLossLaw.DARCY_WEISBACH
    viscosity: float = WATER_KINEMATIC_VISCOSITY
    _nodes: dict[str, tuple[float, ...]] = field(default_factory=dict)
    _pipes: dict[str, tuple[str, str, float, float, float, float, bool, bool]] = field(
        default_factory=dict
    )
    _pumps: dict[str, tuple[str, str, PumpCurve]] = field(default_factory=dict)
    _valves: dict[str, tuple[str, str, ValveKind, float, float, float]] = field(
        default_factory=dict
    )

    def add_source(self, node_id: str, head: float) -> None:
        """A water surface that holds `head`. [m]"""
        self._add_node(node_id, (head, head, 0.0, 0.0, 1.0, 0.0, 0.0))

    def add_junction(
        self,
        node_id: str,
        elevation: float,
        demand: float = 0.0,
        outlet_coefficient: float = 0.0,
        outlet_exponent: float = 0.5,
        outlet_opens: float = 0.0,
        outlet_full: float = 0.0,
    ) -> None:
        """A joint, an outlet or both. Units as in `Nodes`."""
        outlet = (outlet_coefficient, outlet_exponent, outlet_opens, outlet_full)
        self._add_node(node_id, (elevation, np.nan, demand, *outlet))

    def _add_node(self, node_id: str, node: tuple[float, ...]) -> None:
        if node_id in self._nodes:
            raise NetworkError(f"Two nodes are called {node_id}: give one another name.")
        self._nodes[node_id] = node

    def add_pipe(
        self,
        pipe_id: str,
        start: str,
        end: str,
        length: float,
        diameter: float,
        roughness: float,
        minor_loss: float = 0.0,
        is_open: bool = True,
        is_one_way: bool = False,
    ) -> None:
        """A pipe between two nodes that are already there. Units as in `Pipes`."""
        self._check_link("Pipe", pipe_id, start, end)
        numbers = (length, diameter, roughness, minor_loss)
        self._pipes[pipe_id] = (start, end, *numbers, is_open, is_one_way)

    def add_pump(self, pump_id: str, start: str, end: str, curve: PumpCurve) -> None:
        """A pump that lifts from `start` to `end`."""
        self._check_link("Pump", pump_id, start, end)
        self._pumps[pump_id] = (start, end, curve)

    def add_valve(
        self,
        valve_id: str,
        start: str,
        end: str,
        kind: ValveKind,
        diameter: float,
        minor_loss: float = 0.0,
        setting: float = 0.0,
    ) -> None:
        """A valve between two nodes that are already there. Units as in `Valve`."""
        self._check_link("Valve", valve_id, start, end)
        regulated = {v[1] for v in self._valves.values() if v[2] is ValveKind.REGULATOR}
        if kind is ValveKind.REGULATOR:
            if not np.isnan(self._nodes[end][1]):
                raise NetworkError(f"Regulator {valve_id} ends at a source: turn it round.")
            if end in regulated:
                raise NetworkError(f"Two regulators end at {end}: keep one.")
        self._valves[valve_id] = (start, end, kind, diameter, minor_loss, setting)

    def _check_link(self, what: str, link_id: str, start: str, end: str) -> None:
        if link_id in self._pipes or link_id in self._pumps or link_id in self._valves:
            raise NetworkError(f"Two links are called {link_id}: give one another name.")
        for node_id in (start, end):
            if node_id not in self._nodes:
                raise NetworkError(f"{what} {link_id} ends at {node_id}, which is not there.")
        if start == end:
            raise NetworkError(f"{what} {link_id} starts and ends at {start}.")

    def build(self) -> Network:
        """The network collected so far."""
        if not self._nodes:
            raise NetworkError("The network is empty.")
        index = {node_id: i for i, node_id in enumerate(self._nodes)}
        columns = np.array(list(self._nodes.values()), dtype=float).T
        pipes = list(self._pipes.values())
        numbers = np.array([p[2:6] for p in pipes], dtype=float).reshape(-1, 4)
        length, diameter, roughness, minor_loss = numbers.T
        return Network(
            Nodes(tuple(self._nodes), *columns),
            Pipes(
                tuple(self._pipes),
                np.array([index[p[0]] for p in pipes], dtype=np.intp),
                np.array([index[p[1]] for p in pipes], dtype=np.intp),
                length,
                diameter,
                roughness,
                minor_loss,
                np.array([p[6] for p in pipes], dtype=bool),
                np.array([p[7] for p in pipes], dtype=bool),
            ),
            tuple(
                PumpLink(name, index[start], index[end], curve)
                for name, (start, end, curve) in self._pumps.items()
            ),
            tuple(
                ValveLink(name, kind, index[start], index[end], diameter, minor_loss, setting)
                for name, (start, end, kind, diameter, minor_loss, setting) in self._valves.items()
            ),
            self.law,
            self.viscosity,
        )
