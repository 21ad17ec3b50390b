"""The barrel at its downspout, to scale, with the heights to mark."""

from dataclasses import dataclass

from euhydra.core.standing import round_width
from euhydra.planner.store.installing import Installation

HEIGHT = 400.0
MARGIN = 34.0
BARREL_X = 150.0
MOST_WIDTH = 220.0

LEAST_GAP = 20.0
"""Least distance between two labels on paper."""


@dataclass(frozen=True)
class MarkLabel:
    """A height on the barrel: where its line is, where its words stand, and what they are."""

    y: float
    text_y: float
    name: str
    height_m: float


@dataclass(frozen=True)
class MountingSheet:
    """Positions on paper, y downwards.

    labels : Of the heights over the base, top first.
    """

    ground: float
    base: float
    rim: float
    left: float
    right: float
    inlet: float
    overflow: float
    tap: float
    diverter: float
    labels: tuple[MarkLabel, ...]


def draw(plan: Installation) -> MountingSheet:
    """The sheet's drawing."""
    store = plan.store
    scale = (HEIGHT - 2 * MARGIN) / (store.stand_m + plan.rim)

    def y(over_base: float) -> float:
        return round(HEIGHT - MARGIN - (store.stand_m + over_base) * scale, 1)

    width = min(MOST_WIDTH, round_width(store.holds_m3, store.height_m) * scale)
    heights = {
        "rim": plan.rim,
        "inlet": plan.inlet,
        "overflow": plan.overflow,
        "tap": plan.tap,
    }
    return MountingSheet(
        y(-store.stand_m),
        y(0),
        y(plan.rim),
        BARREL_X,
        round(BARREL_X + width, 1),
        y(plan.inlet),
        y(plan.overflow),
        y(plan.tap),
        y(plan.diverter),
        _labels({name: (y(height), height) for name, height in heights.items()}),
    )


def _labels(heights: dict[str, tuple[float, float]]) -> tuple[MarkLabel, ...]:
    """Labels from the top down, pushed apart where their lines lie close together."""
    labels: list[MarkLabel] = []
    for name, (y, height) in sorted(heights.items(), key=lambda item: item[1][0]):
        free = labels[-1].text_y + LEAST_GAP if labels else 0.0
        labels.append(MarkLabel(y, max(y + 5, free), name, height))
    return tuple(labels)
