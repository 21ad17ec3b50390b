"""Wet ground from the side: trench with its pipe, sump with its float, hose to the outlet."""

from dataclasses import dataclass

from euhydra.garden.sources import WetGround

WIDTH, HEIGHT = 720.0, 240.0
LEFT, SUMP_X, OUTLET_X = 30.0, 430.0, 690.0
GROUND_Y, TOP = 118.0, 26.0

COVER = 0.4
"""Soil over the perforated pipe's upper end, as drawn. [m] Drawn, not asked."""


@dataclass(frozen=True)
class Trench:
    """Positions on paper, y downwards. Below the ground depths are to one scale; the lift has its own."""

    ground: float
    pipe_start: float
    pipe_end: float
    pipe_width: float
    sump_left: float
    sump_right: float
    sump_bottom: float
    float_on: float
    float_off: float
    outlet: float


def draw(ground: WetGround) -> Trench:
    """The drawing of one wet area."""
    deep = COVER + ground.bore_m + ground.drop_m + ground.sump_depth_m + 0.15
    scale = (HEIGHT - GROUND_Y - 14) / deep

    def y(depth: float) -> float:
        return round(GROUND_Y + depth * scale, 1)

    end = COVER + ground.drop_m
    float_on = end + ground.bore_m
    width = max(34.0, min(150.0, ground.sump_across_m * scale))
    return Trench(
        GROUND_Y,
        y(COVER),
        y(end),
        round(max(4.0, ground.bore_m * scale), 1),
        SUMP_X,
        round(SUMP_X + width, 1),
        y(float_on + ground.sump_depth_m + 0.1),
        y(float_on),
        y(float_on + ground.sump_depth_m),
        TOP,
    )
