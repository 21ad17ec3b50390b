"""Head loss over pumps and valves, in the form the solver needs: loss and slope at a flow."""

from enum import Enum, auto
from math import pi

from euhydra.core.constants import GRAVITY
from euhydra.core.network import PumpLink, ValveKind, ValveLink

SEAL_SLOPE = 1e12
"""Head per backward flow through a piece that lets none back. [s m⁻²] As of a dry outlet."""

OPENING_FLOW = 1e-8
"""Flow over which a check valve's opening head builds up, so that no law jumps. [m³ s⁻¹]"""

LEAST_SLOPE = 1.0
"""Slope under which a law is drawn straight, so that none is flat. [s m⁻²] At 100 L/h: 0.03 mm."""

FIRST_SHARE = 0.1
"""Share of a pump's last flow below which its law is searched with the slope from there. [-]"""

HEAD_SLACK = 1e-6
"""Head by which a regulator has to miss its setting before it changes. [m]"""


class Status(Enum):
    """How a regulator stands."""

    OPEN = auto()
    ACTIVE = auto()
    SHUT = auto()


def pump_loss(pump: PumpLink, flow: float) -> tuple[float, float]:
    """Head loss (negative: it lifts) of a pump and a slope for the search; a seal holds backflow.

    Parameters
    ----------
    flow : [m³ s⁻¹]
    """
    if flow <= 0:
        return -pump.curve.shutoff + SEAL_SLOPE * flow, SEAL_SLOPE
    # Near rest most curves are level; a slope from farther on keeps the search from leaping.
    far = FIRST_SHARE * pump.curve.flow[-1] * pump.curve.speed
    slope = max(pump.curve.slope_at(flow), pump.curve.slope_at(far), LEAST_SLOPE)
    return -pump.curve.head_at(flow), slope


def valve_loss(valve: ValveLink, flow: float) -> tuple[float, float]:
    """Head loss and slope of an open valve; check valves and regulators let nothing back.

    Parameters
    ----------
    flow : [m³ s⁻¹]
    """
    if flow < 0 and valve.kind is not ValveKind.THROTTLE:
        return SEAL_SLOPE * flow, SEAL_SLOPE
    unit = valve.minor_loss * 8 / (pi**2 * GRAVITY * valve.diameter**4)
    slope = max(2 * unit * abs(flow), LEAST_SLOPE)
    loss = max(unit * abs(flow), LEAST_SLOPE) * flow
    if valve.kind is ValveKind.CHECK and valve.setting > 0:
        if flow < OPENING_FLOW:
            return loss + valve.setting * flow / OPENING_FLOW, valve.setting / OPENING_FLOW
        return loss + valve.setting, slope
    return loss, slope


def next_status(status: Status, flow: float, before: float, after: float, hold: float) -> Status:
    """What a regulator does next.

    Parameters
    ----------
    flow : Through it. [m³ s⁻¹]
    before, after : Head on its two sides, after its own open loss. [m]
    hold : Head that it holds at its end. [m]

    References
    ----------
    Rossman et al. (2020), EPANET 2.2 User Manual, pressure reducing valves.
    """
    if status is Status.SHUT:
        if before >= hold + HEAD_SLACK and after < hold - HEAD_SLACK:
            return Status.ACTIVE
        if before < hold - HEAD_SLACK and before > after + HEAD_SLACK:
            return Status.OPEN
        return Status.SHUT
    if flow < -OPENING_FLOW:
        return Status.SHUT
    if status is Status.ACTIVE and before < hold - HEAD_SLACK:
        return Status.OPEN
    if status is Status.OPEN and after >= hold + HEAD_SLACK:
        return Status.ACTIVE
    return status
