"""Pipes and pieces as laws: bores, spacings, outlets, curves, losses."""

from dataclasses import replace
from math import pi

from euhydra.core.constants import GRAVITY, WATER_DENSITY
from euhydra.core.network import ValveKind
from euhydra.core.pumps import PumpCurve
from euhydra.garden import catalogue, plumbing
from euhydra.garden.pipes import Fitting, Piece, Pipe, Pump
from euhydra.garden.plumbing import OutletKind, PipeKind
from euhydra.garden.sources import Tap
from euhydra.garden.timers import OwnTimer, Timer, find_timer

USUAL_STATIC = 30.0
"""Head of a tap whose pressure was not measured. [m] Common practice: 3 bar."""

USUAL_BORE = 0.0127
"""Bore of a piece that no pipe follows. [m]"""

JET = 0.61
"""Discharge coefficient of a clean drilled hole. [-] Handbook value for a sharp edge, from memory."""


def kind_of(pipe: Pipe) -> PipeKind:
    """The pipe's row in the catalogue."""
    return catalogue.find(plumbing.pipe_kinds(), pipe.kind)


def gives(pipe: Pipe) -> bool:
    """Whether water leaves along it, or from a dripper at its end."""
    return kind_of(pipe).has_outlets or pipe.dripper is not None


def bore_of(pipe: Pipe) -> float:
    """Inside width. [m]"""
    return pipe.bore_m if pipe.bore_m is not None else kind_of(pipe).bore_m


def spacing_of(pipe: Pipe) -> float:
    """Distance between outlets. [m]"""
    kind = kind_of(pipe)
    return kind.spacing_m if pipe.spacing_m is None or kind.family == "porous" else pipe.spacing_m


USUAL_HOLE = 0.001
"""Width of a drilled hole that is not told: that of the catalogue's drilled pipe. [m]"""


def hole_of(pipe: Pipe) -> float:
    """Width of the holes of a drilled pipe. [m]"""
    return pipe.hole_m if pipe.hole_m is not None else USUAL_HOLE


def outlet_law(pipe: Pipe) -> OutletKind:
    """The law of one outlet along a pipe; of porous hose, of one step of it."""
    kind = kind_of(pipe)
    law = as_printed(pipe, kind.outlet)
    if kind.family == "porous":
        share = spacing_of(pipe)
        return replace(law, flow_m3_s=law.flow_m3_s * share)
    if kind.family == "drilled" and pipe.hole_m is not None:
        return _hole(pipe.hole_m, law.variation)
    return law


def as_printed(pipe: Pipe, law: OutletKind) -> OutletKind:
    """The law of its outlets with the flow that the owner read on them."""
    if pipe.own_flow_m3_s is None:
        return law
    head = law.at_head_m if pipe.own_head_m is None else pipe.own_head_m
    return replace(law, flow_m3_s=pipe.own_flow_m3_s, at_head_m=head)


def _hole(width: float, variation: float) -> OutletKind:
    """The law of a drilled hole. [m], [-]"""
    flow = JET * pi / 4 * width**2 * (2 * GRAVITY) ** 0.5
    return OutletKind(flow, 1.0, 0.5, variation)


def law_of_hole(pipe: Pipe, number: int, law: OutletKind) -> OutletKind:
    """The law of a graded pipe's outlet, counted from 0."""
    if not pipe.holes_m or kind_of(pipe).family != "drilled":
        return law
    return _hole(pipe.holes_m[min(number, len(pipe.holes_m) - 1)], law.variation)


def outlet_places(pipe: Pipe) -> dict[float, str]:
    """Node of each outlet by its place along the pipe as it lies; the first half a spacing in. [m]"""
    spacing, lies = spacing_of(pipe), pipe.lies_m
    count = max(1, int(lies / spacing + 0.5 + 1e-9))
    return {
        min(spacing * (number - 0.5), lies): f"{pipe.id}/{number}" for number in range(1, count + 1)
    }


def pump_curve(pump: Pump) -> PumpCurve:
    """The pump's own curve, or its kind's."""
    own = [(point.flow_m3_s, point.head_m) for point in pump.points]
    return PumpCurve.through(own or list(catalogue.find(plumbing.pump_kinds(), pump.kind).points))


def static_head(tap: Tap) -> float:
    """Head of a tap with all shut, over its spout. [m]"""
    if tap.static_pa is None:
        return USUAL_STATIC
    return tap.static_pa / (WATER_DENSITY * GRAVITY)


def valve_of(
    piece: Piece, own: tuple[OwnTimer, ...], is_dirty: bool = False
) -> tuple[ValveKind, float, float]:
    """What a timer or fitting is to the solver: kind, loss number K, setting [m].

    Parameters
    ----------
    own : Kinds of timer that the owner described.
    is_dirty : Whether filters are due for cleaning.
    """
    if isinstance(piece, Timer):
        return ValveKind.THROTTLE, find_timer(own, piece.kind).loss_coefficient, 0.0
    assert isinstance(piece, Fitting)
    kind = catalogue.find(plumbing.fitting_kinds(), piece.kind)
    loss = (piece.loss if piece.loss is not None else kind.loss) * (
        kind.dirty_factor if is_dirty else 1.0
    )
    if kind.setting_m > 0:
        return ValveKind.REGULATOR, loss, piece.setting_m or kind.setting_m
    return (ValveKind.CHECK if kind.is_one_way else ValveKind.THROTTLE), loss, 0.0
