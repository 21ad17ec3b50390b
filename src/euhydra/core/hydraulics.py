"""Steady flow in a pipe network: trees and loops, fixed heads, outlets.

Newton's method on the pipe laws and the balance of every junction at once. The flows drop out
of each step, which leaves one sparse symmetric system for the heads (Todini and Pilati 1988).
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from euhydra.core import friction, outlets
from euhydra.core.junction_heads import HeadEquations
from euhydra.core.network import HeadLossLaw, Network, Solution, ValveKind, ValveLink
from euhydra.core.pieces import SEAL_SLOPE, Status, next_status, pump_loss, valve_loss

Floats = NDArray[np.float64]

START_VELOCITY = 0.3
"""Velocity from which the search starts in every pipe. [m s⁻¹] Any will do."""

CAUTIOUS_FROM = 25
"""Step from which the search goes only part of the way, in case it swings to and fro."""

CAUTIOUS_SHARE = 0.6
"""Part of the way that it goes then. [-]"""

TIE = 1e3
"""Conductance by which a working regulator's end is tied to its setting. [m² s⁻¹] At 1 m³/h the
head is off by less than a thousandth of a millimetre."""

TRACE = 1e-11
"""Flow that counts as none: what a seal lets back. [m³ s⁻¹]"""

STILL = 1e-12
"""Sum of changes that counts as none in a network where hardly anything flows. [m³ s⁻¹]"""


@dataclass(frozen=True)
class Tolerance:
    """When the search ends.

    head : Largest error left in any pipe or outlet law. [m]
    flow : Largest change of the last step, as a share of the sum of all flows. [-]
    most_steps : Steps after which it gives up.
    """

    head: float = 1e-6
    flow: float = 1e-6
    most_steps: int = 100


def solve(network: Network, tolerance: Tolerance | None = None) -> Solution:
    """Heads and flows of the network at rest in time.

    Returns
    -------
    Solution. Look at `converged` first: without it the figures are only the last try.

    Raises
    ------
    NetworkError : if there is no source, or some nodes cannot be reached from any.

    References
    ----------
    Todini and Pilati (1988), A gradient algorithm for the analysis of pipe networks.
    Rossman et al. (2020), EPANET 2.2 User Manual, analysis algorithms.
    """
    return _Search(network, tolerance or Tolerance()).run()


class _Search:
    """Newton's steps from a first guess until every law holds and every junction balances."""

    def __init__(self, network: Network, tolerance: Tolerance) -> None:
        self.network, self.tolerance = network, tolerance
        nodes = network.nodes
        self.system = HeadEquations.of(network)
        self.is_outlet = nodes.outlet_coefficient > 0
        self.law = outlets.OutletLaw(
            nodes.outlet_coefficient[self.is_outlet],
            nodes.outlet_exponent[self.is_outlet],
            nodes.outlet_opens[self.is_outlet],
            nodes.outlet_full[self.is_outlet],
        )
        self.orifice = nodes.elevation[self.is_outlet]
        self.count = len(network.pipes.ids)
        self.is_open = np.append(
            network.pipes.is_open, np.ones(len(network.start) - self.count, dtype=bool)
        )
        self.friction = _friction_in(network)
        self.regulators = [
            (i, valve)
            for i, valve in enumerate(network.valves, self.count + len(network.pumps))
            if valve.kind is ValveKind.REGULATOR
        ]
        self.status = {i: Status.OPEN for i, _ in self.regulators}

    def run(self) -> Solution:
        network, tolerance = self.network, self.tolerance
        nodes, system = network.nodes, self.system
        highest = nodes.fixed_head[system.is_fixed].max() + sum(
            p.curve.shutoff for p in network.pumps
        )
        head = np.where(system.is_fixed, nodes.fixed_head, highest)
        flow = self._first_flow()
        at = self._over_orifice(head)
        outflow = outlets.outlet_flow(at, self.law) / 2

        converged, step, residual = False, 0, np.inf
        loss = self._loss(flow)
        while step < tolerance.most_steps and not converged:
            step += 1
            line = outlets.linearise(at, outflow, self.law)
            conductance = np.where(self.is_open, 1 / loss.slope, 0.0)
            intercept = np.where(self.is_open, flow - loss.head_loss * conductance, 0.0)
            leaving, to_ground = self._outlets_leaving(line)
            holding = self._hold(flow, conductance, intercept, leaving, to_ground)
            head = system.heads(conductance, intercept, leaving, to_ground)

            drop = head[network.start] - head[network.end]
            new_flow = intercept + conductance * drop
            new_outflow = line.intercept + line.conductance * self._over_orifice(head)
            for i, valve in holding:
                new_flow[i] = self._passing(new_flow, new_outflow, i, valve)
            change = np.abs(new_flow - flow).sum() + np.abs(new_outflow - outflow).sum()
            total = np.abs(new_flow).sum() + np.abs(new_outflow).sum()
            share = 1.0 if step < CAUTIOUS_FROM else CAUTIOUS_SHARE
            flow = flow + share * (new_flow - flow)
            outflow = outflow + share * (new_outflow - outflow)
            at = outlets.follow(at, self._over_orifice(head), new_outflow, self.law)

            loss = self._loss(flow)
            gaps = np.where(self.is_open, loss.head_loss - drop, 0.0)
            gaps[[i for i, _ in holding]] = 0.0
            residual = float(np.abs(gaps).max(initial=0.0))
            law_flow = outlets.outlet_flow(self._over_orifice(head), self.law)
            outlet_gap = np.abs(np.maximum(outflow, 0.0) - law_flow).sum()
            is_settled = self._settle(flow, head)
            converged = bool(
                is_settled
                and residual <= tolerance.head
                and change <= tolerance.flow * total + STILL
                and outlet_gap <= tolerance.flow * total + STILL
            )

        leaving = np.where(system.is_fixed, self._net_inflow(flow), nodes.demand)
        leaving[self.is_outlet] += np.where(outflow < TRACE, 0.0, outflow)
        flow = np.where(np.abs(flow) < TRACE, 0.0, flow)
        drop = head[network.start] - head[network.end]
        head_loss = np.append(loss.head_loss[: self.count], drop[self.count :])
        return Solution(head, leaving, flow, head_loss, converged, step, residual)

    def _first_flow(self) -> Floats:
        """A velocity in the pipes; in pumps, half of what they have points for."""
        flow = START_VELOCITY * np.pi / 4 * self.network.pipes.diameter**2
        pumps = [p.curve.flow[-1] * p.curve.speed / 2 for p in self.network.pumps]
        valves = [START_VELOCITY * np.pi / 4 * v.diameter**2 for v in self.network.valves]
        return np.concatenate([flow, pumps, valves])

    def _over_orifice(self, head: Floats) -> Floats:
        return np.asarray(head[self.is_outlet] - self.orifice)

    def _loss(self, flow: Floats) -> friction.PipeLoss:
        p, network = self.network.pipes, self.network
        in_pipes = flow[: self.count]
        found = self.friction.loss(in_pipes)
        back = p.is_one_way & (in_pipes < 0)
        if back.any():
            found = friction.PipeLoss(
                np.where(back, SEAL_SLOPE * in_pipes, found.head_loss),
                np.where(back, SEAL_SLOPE, found.slope),
            )
        if len(flow) == self.count:
            return found
        rest = flow[self.count :].tolist()
        special = [pump_loss(p, q) for p, q in zip(network.pumps, rest, strict=False)]
        special += [
            valve_loss(v, q)
            for v, q in zip(network.valves, rest[len(network.pumps) :], strict=True)
        ]
        for i, status in self.status.items():
            if status is Status.SHUT:
                special[i - self.count] = (SEAL_SLOPE * float(flow[i]), SEAL_SLOPE)
        losses, slopes = zip(*special, strict=True)
        return friction.PipeLoss(
            np.concatenate([found.head_loss, losses]), np.concatenate([found.slope, slopes])
        )

    def _outlets_leaving(self, line: outlets.OutletLine) -> tuple[Floats, Floats]:
        leaving = self.network.nodes.demand.copy()
        leaving[self.is_outlet] += line.intercept - line.conductance * self.orifice
        to_ground = np.zeros(len(leaving))
        to_ground[self.is_outlet] = line.conductance
        return leaving, to_ground

    def _hold(
        self,
        flow: Floats,
        conductance: Floats,
        intercept: Floats,
        leaving: Floats,
        to_ground: Floats,
    ) -> list[tuple[int, ValveLink]]:
        """Working regulators: their ends are tied to their setting, their flow is drawn before."""
        holding = [(i, v) for i, v in self.regulators if self.status[i] is Status.ACTIVE]
        for i, valve in holding:
            conductance[i] = intercept[i] = 0.0
            to_ground[valve.end] += TIE
            leaving[valve.end] -= TIE * self._held_head(valve)
            leaving[valve.start] += flow[i]
        return holding

    def _held_head(self, valve: ValveLink) -> float:
        return float(self.network.nodes.elevation[valve.end]) + valve.setting

    def _passing(self, flow: Floats, outflow: Floats, link: int, valve: ValveLink) -> float:
        """What a working regulator lets through: all that leaves its end by other ways."""
        network, at = self.network, valve.end
        flow = flow.copy()
        flow[link] = 0.0
        onward = flow[network.start == at].sum() - flow[network.end == at].sum()
        taken = np.zeros(len(network.nodes.ids))
        taken[self.is_outlet] = outflow
        return float(onward + taken[at] + network.nodes.demand[at])

    def _settle(self, flow: Floats, head: Floats) -> bool:
        """Let each regulator stand as its heads ask; whether none has changed."""
        is_settled = True
        for i, valve in self.regulators:
            before = float(head[valve.start]) - valve_loss(valve, max(float(flow[i]), 0.0))[0]
            found = next_status(
                self.status[i],
                float(flow[i]),
                before,
                float(head[valve.end]),
                self._held_head(valve),
            )
            is_settled &= found is self.status[i]
            self.status[i] = found
        return is_settled

    def _net_inflow(self, flow: Floats) -> Floats:
        count = len(self.network.nodes.ids)
        arriving = np.bincount(self.network.end, flow, count)
        return np.asarray(arriving - np.bincount(self.network.start, flow, count), dtype=float)


def _friction_in(network: Network) -> friction.DarcyWeisbach | friction.HazenWilliams:
    pipes = network.pipes
    if network.law is HeadLossLaw.HAZEN_WILLIAMS:
        return friction.HazenWilliams(
            pipes.length, pipes.diameter, pipes.roughness, pipes.minor_loss
        )
    return friction.DarcyWeisbach(
        pipes.length, pipes.diameter, pipes.roughness, pipes.minor_loss, network.viscosity
    )
