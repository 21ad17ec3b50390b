"""Places where a name may stand on the plan: within what it names, beside it, or led to."""

from dataclasses import dataclass, fields

import numpy as np
from numpy.typing import NDArray

from euhydra.web.drawing.lettering import LETTER_PX

Floats = NDArray[np.float64]

Bounds = tuple[float, float, float, float]
"""Left, top, right and bottom, or low and high. [m] or [px]"""

ASCENT, DESCENT = 0.76, 0.24
"""Of letters over and under their line. [em]"""

PAD_PX = 1.5
"""Kept free round a name. [px]"""

LED, PREFERRED = 10.0, 0.4
"""What a leader costs, and each place less preferred."""

RINGS_EM = (1.2, 2.2, 3.5, 5.0, 7.0, 9.5)
WAYS = 16
"""How far off, and which ways, a name may stand that is led to. Our choice."""

ANCHORS = {0.0: "start", 0.5: "middle", 1.0: "end"}
"""By the share of a name that stands before what it hangs on."""

UP, DOWN, LEVEL = -0.4, 1.0, 0.3
"""Where its line is when it stands over, under or beside that. [em]"""

INSIDE = np.array(
    [
        (0.0, 1.0, 0.35, -0.45, 0.0),
        (0.0, 0.0, 0.35, 1.05, 0.0),
        (1.0, 1.0, -0.35, -0.45, 1.0),
        (1.0, 0.0, -0.35, 1.05, 1.0),
        (0.5, 1.0, 0.0, -0.45, 0.5),
        (0.5, 0.0, 0.0, 1.05, 0.5),
        (0.5, 0.5, 0.0, UP, 0.5),
        (0.5, 0.5, 0.0, 1.1, 0.5),
        *((0.0, share, 0.35, 0.0, 0.0) for share in (0.25, 0.4, 0.6, 0.75)),
    ]
)
BESIDE = np.array(
    [
        (0.5, 0.0, 0.0, UP, 0.5),
        (0.5, 1.0, 0.0, DOWN, 0.5),
        (0.0, 0.0, 0.0, UP, 0.0),
        (1.0, 0.0, 0.0, UP, 1.0),
        (1.0, 0.5, 0.45, LEVEL, 0.0),
        (0.0, 0.5, -0.45, LEVEL, 1.0),
        (0.0, 1.0, 0.0, DOWN, 0.0),
        (1.0, 1.0, 0.0, DOWN, 1.0),
    ]
)
"""Places within what is named and at its sides: shares of its width and height from its left and top, how far
off from there [em], and the share of the name before that. The preferred ones first. Our choice."""

_ROUND = 2 * np.pi * np.tile(np.arange(WAYS), len(RINGS_EM)) / WAYS
LED_WAYS = np.column_stack((np.cos(_ROUND), np.sin(_ROUND)))
LED_RINGS = np.repeat(np.array(RINGS_EM), WAYS)
LED_BEFORE = np.select([LED_WAYS[:, 0] > 0.3, LED_WAYS[:, 0] < -0.3], [0.0, 1.0], 0.5)
LED_LINES = np.select([LED_BEFORE != 0.5, LED_WAYS[:, 1] > 0], [LEVEL, DOWN], UP)
"""Of each place that is led to, from near to far: which way it is, how far [em], the share of the name before
it, and where its line is from there [em]."""


@dataclass(frozen=True)
class NamePlaces:
    """Places where a name may stand, as in `PlacedName`; first indices are places, second ones x and y.

    at : What each hangs on. [px]
    off : Where its line begins, ends or has its middle from there. [px]
    before : Share of the name that stands before that: 0, a half or all of it.
    cost : Its own.
    led : End of its leader from what it hangs on; not a number without. [px]
    """

    at: Floats
    off: Floats
    before: Floats
    cost: Floats
    led: Floats

    def boxes(self, width: float) -> Floats:
        """Left, top, right and bottom of a name that is so wide, at each place. [px]"""
        left = self.at[:, 0] + self.off[:, 0] - self.before * width
        line = self.at[:, 1] + self.off[:, 1]
        above, below = ASCENT * LETTER_PX + PAD_PX, DESCENT * LETTER_PX + PAD_PX
        return np.column_stack((left - PAD_PX, line - above, left + width + PAD_PX, line + below))

    def __add__(self, more: "NamePlaces") -> "NamePlaces":
        return NamePlaces(
            *(
                np.concatenate((getattr(self, field.name), getattr(more, field.name)))
                for field in fields(self)
            )
        )


def beside(layer: str, bounds: Bounds, width: float) -> NamePlaces:
    """Places in or beside what is named, the preferred ones first, for a name so wide. [px]"""
    left, top, right, bottom = bounds
    inside, order = INSIDE, BESIDE
    if layer == "buildings":
        inside = np.concatenate((INSIDE[6:8], INSIDE[:6], INSIDE[8:]))
    if layer == "buildings" or (layer == "ground" and right - left >= width):
        order = np.concatenate((inside, BESIDE))
    along, down, dx, dy, before = order.T
    at = np.column_stack((left + along * (right - left), top + down * (bottom - top)))
    off = np.column_stack((dx, dy)) * LETTER_PX
    cost = PREFERRED * np.arange(len(order), dtype=np.float64)
    return NamePlaces(at, off, before, cost, np.full_like(at, np.nan))


def led_to(bounds: Bounds) -> NamePlaces:
    """Places round what is named, from near to far, with a leader. [px]"""
    low, high = np.array(bounds[:2]), np.array(bounds[2:])
    at = np.clip((low + high) / 2 + LED_WAYS * (high - low), low, high)
    led = LED_WAYS * LED_RINGS[:, None] * LETTER_PX
    line = np.column_stack((np.zeros(len(led)), LED_LINES * LETTER_PX))
    return NamePlaces(at, led + line, LED_BEFORE, LED + LED_RINGS, led * 0.92)
