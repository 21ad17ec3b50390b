"""The law of an outlet, q = k H^x, in the form the solver needs."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

FLAT_BELOW = 0.4
"""Exponent under which an outlet is followed by its head rather than by its flow. [-]
A flat law makes head a steep power of flow, which Newton follows badly. Chosen by trial."""

SEAL_SLOPE = 1e12
"""Head per backward flow through a dry outlet: it lets no water in. [s m⁻²] At 1 m of suction
it would pass 4e-6 L/h; the solution reports exactly none."""

RAMP_HEAD = 1e-4
"""Head below which a flat outlet's law is drawn straight to zero. [m]"""


@dataclass(frozen=True)
class OutletLine:
    """Straight line that stands in for each outlet's law near the present state.

    intercept, conductance : outflow ≈ intercept + conductance × head over the orifice.
    [m³ s⁻¹], [m² s⁻¹]
    """

    intercept: Floats
    conductance: Floats


@dataclass(frozen=True)
class OutletLaw:
    """The law of every outlet: q = k H^x from its full head on.

    coefficient : k. [m³ s⁻¹ m⁻ˣ]
    exponent : x; 0.5 for holes, near 0 when pressure-compensating, near 1 for porous hose. [-]
    opens : Head over the orifice up to which it stays dry. [m]
    full : Head from which the law holds; between the two the flow grows as a root. 0 for plain
        outlets. [m]
    """

    coefficient: Floats
    exponent: Floats
    opens: Floats
    full: Floats

    @cached_property
    def has_flat(self) -> bool:
        """Whether any of them is followed by its head."""
        return bool(_is_flat(self).any())


def outlet_flow(head: Floats, law: OutletLaw) -> Floats:
    """Flow out of each outlet; nothing below the head at which it opens.

    Parameters
    ----------
    head : Head over the orifice. [m]

    Returns
    -------
    Flow. [m³ s⁻¹]

    References
    ----------
    Keller and Karmeli (1974); field standard form of the emitter law. The rise from the opening
    to the full head of a compensating outlet: an orifice's, common practice.
    """
    if not law.has_flat:
        return np.asarray(law.coefficient * np.maximum(head, 0.0) ** law.exponent)
    over = head - law.opens
    ramped = np.clip(over / RAMP_HEAD, 0.0, 1.0)
    at = np.where(_is_flat(law), np.maximum(head, law.opens + RAMP_HEAD), np.maximum(head, 0.0))
    on_law = (
        law.coefficient * np.maximum(at, law.full) ** law.exponent * np.sqrt(_openness(at, law))
    )
    return np.asarray(np.where(_is_flat(law), ramped * on_law, np.where(over > 0, on_law, 0.0)))


def _is_flat(law: OutletLaw) -> NDArray[np.bool_]:
    """Whether the law is followed by its head; such a law rises along a ramp from where it opens."""
    return (law.exponent < FLAT_BELOW) | (law.full > 0)


def _openness(head: Floats, law: OutletLaw) -> Floats:
    """Square of the share of the law's flow that a half-open outlet gives. [-]"""
    rise = np.maximum(law.full - law.opens, 1e-9)
    return np.clip((head - law.opens) / rise, 0.0, 1.0)


def head_for(flow: Floats, law: OutletLaw) -> Floats:
    """Head at which each outlet gives `flow`; the inverse of `outlet_flow` for flows over 0. [m]

    Parameters
    ----------
    flow : [m³ s⁻¹]
    """
    share = np.maximum(flow, 0.0) / law.coefficient
    at_full = law.full**law.exponent
    rising = law.opens + (law.full - law.opens) * (share / np.maximum(at_full, 1e-12)) ** 2
    with np.errstate(over="ignore"):
        on_law = share ** (1 / law.exponent)
    return np.asarray(np.where((law.full > 0) & (share < at_full), rising, on_law))


def follow(at: Floats, head: Floats, flow: Floats, law: OutletLaw) -> Floats:
    """Head at which a flat law is straightened next, after a step from `at`.

    The law bends down and its tangent lies above it, so a step to a higher head is taken by its
    head and a step to a lower one by its flow: neither leaps past the law.

    Parameters
    ----------
    at : Head at which it was straightened. [m]
    head, flow : Where the step along the tangent ended. [m], [m³ s⁻¹]
    """
    if not law.has_flat:
        return head
    falls = (head < at) & (flow > 0)
    return np.asarray(np.where(falls, np.minimum(head_for(flow, law), at), head))


def linearise(head: Floats, flow: Floats, law: OutletLaw) -> OutletLine:
    """Tangent of each outlet's law: at its flow, or at its head where the law is flat.

    Parameters
    ----------
    head : Head over the orifice at the present state. [m]
    flow : Flow at the present state; below 0 it is held back by the seal. [m³ s⁻¹]
    """
    by_flow = _tangent_at_flow(flow, law.coefficient, law.exponent)
    if not law.has_flat:
        return by_flow
    flat = _is_flat(law)
    by_head = _tangent_at_head(head, law)
    return OutletLine(
        np.where(flat, by_head.intercept, by_flow.intercept),
        np.where(flat, by_head.conductance, by_flow.conductance),
    )


def _tangent_at_flow(flow: Floats, coefficient: Floats, exponent: Floats) -> OutletLine:
    # H = (q/k)^(1/x), and a seal for q below 0.
    running = np.maximum(flow, 1e-6 * coefficient)
    head = (running / coefficient) ** (1 / exponent)
    slope = head / (exponent * running)
    forward = flow > 0
    head = np.where(forward, head, SEAL_SLOPE * flow)
    slope = np.where(forward, slope, SEAL_SLOPE)
    at_flow = np.where(forward, running, flow)
    return OutletLine(at_flow - head / slope, 1 / slope)


def _tangent_at_head(head: Floats, law: OutletLaw) -> OutletLine:
    """Near the head at which it opens, the law is drawn straight over `RAMP_HEAD`."""
    over = head - law.opens
    at = np.maximum(head, law.opens + RAMP_HEAD)
    on_law = outlet_flow(at, law)
    rising = at < law.full
    power = np.where(rising, 0.0, law.exponent * on_law / np.maximum(at, RAMP_HEAD))
    root = np.where(rising, 0.5 * on_law / np.maximum(at - law.opens, RAMP_HEAD), 0.0)
    ramp = on_law / RAMP_HEAD
    curved = over >= RAMP_HEAD
    flow = np.where(curved, on_law, np.maximum(over, 0.0) * ramp)
    slope = np.where(curved, power + root, np.where(over > 0, ramp, 1 / SEAL_SLOPE))
    return OutletLine(flow - slope * head, slope)
