"""The text of an `.inp` file from a network."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import pi, sqrt

import numpy as np

from euhydra.core.network import HeadLossLaw, Network, ValveKind, ValveLink
from euhydra.formats.inp.terms import (
    ENGINE_VISCOSITY,
    FLAP_LENGTH,
    SI_FLOWS,
    VALVE_KINDS,
    InpError,
)

MOST_NAME = 31
"""Longest name the format holds."""

NAME = re.compile(r'[^\s;"\[]+')
"""Names the format holds as they stand."""


@dataclass(frozen=True)
class TankShape:
    """The shape of a store, which runs down as the engine runs on.

    level : Rising heights, from its floor to its overflow. [m]
    volume : Water in it at each. [m³]
    outlet : Height under which nothing comes out. [m]
    """

    level: tuple[float, ...]
    volume: tuple[float, ...]
    outlet: float


def dumps(network: Network, title: str, shapes: Mapping[str, TankShape] | None = None) -> str:
    """The network as `.inp` text, in litres a minute and millimetres.

    Nodes of fixed head are tanks where `shapes` names them, which stand at that head at the first
    hour; the others are reservoirs.

    Names longer than the format's 31 signs are replaced by short ones; the long one follows in
    a comment on the same line. A regulator that sits on a source or on another regulator gets a
    very short pipe before it, since the format's own program refuses it there.

    Raises
    ------
    InpError : if it has what the format does not: outlets of several exponents or with a head at
        which they open, check valves with an opening head.
    """
    nodes, pipes = network.nodes, network.pipes
    if (nodes.outlet_full > 0).any():
        raise InpError("Some outlets open at a head of their own; this format has no such outlets.")
    if any(v.kind is ValveKind.CHECK and v.setting > 0 for v in network.valves):
        raise InpError("A check valve opens at a head of its own; this format has no such valve.")
    outlets = np.flatnonzero(nodes.outlet_coefficient > 0).tolist()
    exponents = np.unique(nodes.outlet_exponent[outlets]).tolist()
    if len(exponents) > 1:
        raise InpError("The outlets have several exponents; this format holds one for all.")
    lpm = SI_FLOWS["LPM"]
    millimetres = 1000.0 if network.law is HeadLossLaw.DARCY_WEISBACH else 1.0
    node, pipe = _short_names(nodes.ids, "N"), _short_names(pipes.ids, "P")
    elevation, demand = nodes.elevation.tolist(), (nodes.demand / lpm).tolist()
    is_fixed = ~np.isnan(nodes.fixed_head)
    stubs = _stubs(network)
    junctions, sources = np.flatnonzero(~is_fixed).tolist(), np.flatnonzero(is_fixed).tolist()
    shapes = shapes or {}
    tanks = [i for i in sources if nodes.ids[i] in shapes]
    reservoirs = [i for i in sources if i not in tanks]
    columns = zip(
        pipes.start.tolist(),
        pipes.end.tolist(),
        pipes.length.tolist(),
        (pipes.diameter * 1000).tolist(),
        (pipes.roughness * millimetres).tolist(),
        pipes.minor_loss.tolist(),
        _states(network),
        strict=True,
    )
    lines = [
        "[TITLE]",
        title.replace("\n", " ").replace("[", "("),
        *("", "[JUNCTIONS]"),
        *(_row(nodes.ids[i], node[i], elevation[i], demand[i]) for i in junctions),
        *(_row(name, name, elevation[valve.end], 0.0) for name, valve in stubs.items()),
        *("", "[RESERVOIRS]"),
        *(_row(nodes.ids[i], node[i], float(nodes.fixed_head[i])) for i in reservoirs),
        *("", "[TANKS]"),
        *(
            _tank_row(nodes.ids[i], node[i], float(nodes.fixed_head[i]), shapes[nodes.ids[i]], n)
            for n, i in enumerate(tanks)
        ),
        *("", "[PIPES]"),
        *(
            _row(pipes.ids[i], pipe[i], node[start], node[end], *rest)
            for i, (start, end, *rest) in enumerate(columns)
        ),
        *_flap_rows(network, node),
        *(
            _short_pipe(network, valve, name, f"{name}-pipe", node[valve.start], name, "Open")
            for name, valve in stubs.items()
        ),
        *_pump_rows(network, node, lpm),
        *_curve_rows(network, [shapes[nodes.ids[i]] for i in tanks], lpm),
        *_valve_rows(network, node, {valve.id: name for name, valve in stubs.items()}),
        *("", "[EMITTERS]"),
        *(_row(nodes.ids[i], node[i], float(nodes.outlet_coefficient[i]) / lpm) for i in outlets),
        *("", "[OPTIONS]", "Units LPM", f"Headloss {network.law}"),
        f"Viscosity {network.viscosity / ENGINE_VISCOSITY!r}",
        f"Emitter Exponent {exponents[0] if exponents else 0.5!r}",
        *("Accuracy 0.000001", "Trials 200", "", "[TIMES]", "Duration 0", "", "[END]", ""),
    ]
    return "\n".join(lines)


def _states(network: Network) -> list[str]:
    pipes = network.pipes
    words = np.where(pipes.is_one_way, "CV", np.where(pipes.is_open, "Open", "Closed"))
    return [str(word) for word in words]


def _flap_rows(network: Network, node: list[str]) -> list[str]:
    """Check valves, as very short pipes."""
    flaps = [v for v in network.valves if v.kind is ValveKind.CHECK]
    return [
        _short_pipe(network, v, v.id, short, node[v.start], node[v.end], "CV")
        for v, short in zip(flaps, _short_names(tuple(v.id for v in flaps), "F"), strict=True)
    ]


def _short_pipe(
    network: Network, valve: ValveLink, name: str, short: str, start: str, end: str, state: str
) -> str:
    """A pipe as wide as the valve, so short that it takes no head but the valve's."""
    wall = 0.0 if network.law is HeadLossLaw.DARCY_WEISBACH else 140.0
    loss = valve.minor_loss if state == "CV" else 0.0
    return _row(name, short, start, end, FLAP_LENGTH, valve.diameter * 1000, wall, loss, state)


def _stubs(network: Network) -> dict[str, ValveLink]:
    """Regulators that need a pipe before them, by the name of the node that is put in between."""
    is_fixed = ~np.isnan(network.nodes.fixed_head)
    regulators = [v for v in network.valves if v.kind is ValveKind.REGULATOR]
    ends = {v.end for v in regulators}
    wanting = [v for v in regulators if is_fixed[v.start] or v.start in ends]
    return {f"_stub-{i}": valve for i, valve in enumerate(wanting)}


def _pump_rows(network: Network, node: list[str], lpm: float) -> list[str]:
    pumps = network.pumps
    if not pumps:
        return []
    names = _short_names(tuple(p.id for p in pumps), "U")
    curves = [f"C{i}" for i in range(len(pumps))]
    return [
        *("", "[PUMPS]"),
        *(
            _row(p.id, name, node[p.start], node[p.end], "HEAD", curve, "SPEED", p.curve.speed)
            for p, name, curve in zip(pumps, names, curves, strict=True)
        ),
    ]


def _tank_row(name: str, short: str, head: float, shape: TankShape, number: int) -> str:
    """Floor, levels over it, a width that the curve of its volume overrides, least volume, curve."""
    floor, top = shape.level[0], shape.level[-1]
    across = 2 * sqrt(shape.volume[-1] / (pi * (top - floor)))
    levels = (min(head, top) - floor, max(shape.outlet - floor, 0.0), top - floor)
    return _row(name, short, floor, *levels, across, 0.0, f"T{number}")


def _curve_rows(network: Network, tanks: Sequence[TankShape], lpm: float) -> list[str]:
    """Of pumps, head against flow; of tanks, volume against the level over the floor."""
    rows = [
        f"C{i} {flow / lpm!r} {head!r}"
        for i, pump in enumerate(network.pumps)
        for flow, head in zip(pump.curve.flow, pump.curve.head, strict=True)
    ]
    rows += [
        f"T{i} {level - tank.level[0]!r} {volume!r}"
        for i, tank in enumerate(tanks)
        for level, volume in zip(tank.level, tank.volume, strict=True)
    ]
    return ["", "[CURVES]", *rows] if rows else []


def _valve_rows(network: Network, node: list[str], stub_of: Mapping[str, str]) -> list[str]:
    valves = [v for v in network.valves if v.kind is not ValveKind.CHECK]
    if not valves:
        return []
    words = {kind: word for word, kind in VALVE_KINDS.items()}
    names = _short_names(tuple(v.id for v in valves), "V")
    return [
        *("", "[VALVES]"),
        *(
            _row(
                v.id,
                name,
                stub_of.get(v.id, node[v.start]),
                node[v.end],
                v.diameter * 1000,
                words[v.kind],
                *(
                    (v.minor_loss, 0.0)
                    if v.kind is ValveKind.THROTTLE
                    else (v.setting, v.minor_loss)
                ),
            )
            for v, name in zip(valves, names, strict=True)
        ),
    ]


def _short_names(names: tuple[str, ...], letter: str) -> list[str]:
    return [
        name if len(name) <= MOST_NAME and NAME.fullmatch(name) else f"{letter}{i}"
        for i, name in enumerate(names)
    ]


def _row(name: str, short: str, *values: object) -> str:
    comment = "" if short == name else f" ; {name}"
    words = (f"{value:.12g}" if isinstance(value, float) else str(value) for value in values)
    return " ".join([short, *words]) + comment
