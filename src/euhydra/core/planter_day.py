"""A day of planters behind a float, hour by hour: levels fall while the sun shines and come back at night."""

from dataclasses import dataclass
from itertools import pairwise
from math import acos, cos, pi

import numpy as np
import scipy
from numpy.typing import NDArray

from euhydra.core.constants import SECONDS_PER_HOUR
from euhydra.core.planters import PlanterTube

Floats = NDArray[np.float64]

HOURS = 24

FADES_OVER = 0.002
"""Depth over the foot in which a wick that falls dry stops drawing. [m] Keeps the balance smooth."""

EVEN = 1e-18
"""Square of what an hour may be off its balance, against band and valve. [-]"""

MOST_ROUNDS = 60
"""Newton steps for one hour before it is given up."""


MOST_DAYS = 7
"""Days of a spell: hotter ones seldom last. Our choice."""

SAME_LEVEL = 5e-4
"""Level within which one morning stands as the one before. [m]"""

LEAST_FLOW = 1e-12
"""[m³ s⁻¹] A drop in a day."""

MOST_HALVINGS = 12
"""Halvings of one Newton step."""


class PlanterDayError(ArithmeticError):
    """Levels of an hour that do not settle."""


@dataclass(frozen=True)
class Behind:
    """What stands behind a float.

    full : What the valve lets in when wide open. [m³ s⁻¹]
    band, set_level : Its opening falls from all, a band below the set level, to nothing at it. [m]
    box_area : Open water in the float's own box. [m²]
    areas : Open water under each planter, from the box on; empty for one trough. [m²]
    tube : From each to the next.
    foot : Level at which a wick just loses the water. [m]
    """

    full: float
    band: float
    set_level: float
    box_area: float
    areas: Floats
    tube: PlanterTube
    foot: float


@dataclass(frozen=True)
class PlanterDay:
    """Hours from midnight on. Volumes of the whole day. [m³]

    box : Level in the box at the end of each hour. [m]
    levels : [hour, planter] [m]
    drunk : By each planter.
    wanted : By each planter.
    came_in : Through the valve.
    ends : Levels and flows at its end: box, then tube and level of each planter. [m] and [m³ s⁻¹]
    """

    box: Floats
    levels: Floats
    drunk: Floats
    wanted: Floats
    came_in: float
    ends: Floats

    @property
    def share(self) -> float:
        """What all of them drank of what they wanted. [-]"""
        wanted = float(self.wanted.sum())
        return float(self.drunk.sum()) / wanted if wanted > 0 else 1.0


def sun_shares(peak_share: float) -> Floats:
    """Share of a day's water that each hour takes, as the sine of the sun's height over a day of light.

    Its length is that of which the middle hour takes `peak_share`.

    Parameters
    ----------
    peak_share : [-]
    """
    # The middle hour of L hours: cos(π/2 − π/(2L)) = sin(π/(2L)) of the whole.
    length = pi / 2 / (pi / 2 - acos(peak_share))
    edges = np.clip((np.arange(HOURS + 1) - 0.5 - (12 - length / 2)) / length, 0, 1)
    # Hours are centred on noon, so that one of them is the peak hour.
    return np.asarray([(cos(pi * a) - cos(pi * b)) / 2 for a, b in pairwise(edges)])


def run_spell(behind: Behind, a_day: Floats, shares: Floats) -> PlanterDay:
    """Such days one after another, from full, until one begins as the one before it did; the last.

    A chain that is not full again by the morning has less of a buffer for the day after.

    Parameters
    ----------
    a_day : What each planter drinks; of a trough, of all of them. [m³ d⁻¹]
    shares : Of the day that each hour takes. [-]
    """
    day = run_day(behind, a_day, shares)
    for _ in range(MOST_DAYS - 1):
        following = run_day(behind, a_day, shares, day.ends)
        moved = float(np.abs(following.ends[0::2] - day.ends[0::2]).max())
        day = following
        if moved < SAME_LEVEL:
            break
    return day


def run_day(
    behind: Behind, a_day: Floats, shares: Floats, begins: Floats | None = None
) -> PlanterDay:
    """The day from midnight; what a dry wick misses is drunk when its water is back.

    Implicit in time, Newton's method on the levels and flows of one hour, a tridiagonal system.

    Parameters
    ----------
    a_day : What each planter drinks; of a trough, of all of them. [m³ d⁻¹]
    shares : Of the day that each hour takes. [-]
    begins : As another day ends; None for full. [m] and [m³ s⁻¹] in turn.

    Raises
    ------
    PlanterDayError : if an hour does not settle.
    """
    count = len(behind.areas)
    state = _full(behind) if begins is None else begins
    owed = np.zeros(len(a_day))
    drunk, came_in = np.zeros(len(a_day)), 0.0
    box, levels = np.zeros(HOURS), np.zeros((HOURS, count))
    peak = a_day * shares.max() / SECONDS_PER_HOUR
    for hour in range(HOURS):
        wants = (a_day * shares[hour] + owed) / SECONDS_PER_HOUR
        asks = np.minimum(wants, np.maximum(peak, a_day * shares[hour] / SECONDS_PER_HOUR))
        state = _hour(behind, state, asks)
        given = asks * _wet(behind, _levels_of(behind, state)) * SECONDS_PER_HOUR
        owed = np.maximum(wants * SECONDS_PER_HOUR - given, 0.0)
        drunk += given
        came_in += behind.full * _opening(behind, state[0]) * SECONDS_PER_HOUR
        box[hour], levels[hour] = state[0], state[2::2]
    return PlanterDay(box, levels, drunk, np.asarray(a_day, dtype=float), came_in, state)


def _full(behind: Behind) -> Floats:
    state = np.zeros(2 * len(behind.areas) + 1)
    state[0::2] = behind.set_level
    return state


def _levels_of(behind: Behind, state: Floats) -> Floats:
    """Of what drinks: the planters, or the one water of a trough. [m]"""
    return state[2::2] if len(behind.areas) else state[:1]


def _opening(behind: Behind, box: float) -> float:
    return float(np.clip((behind.set_level - box) / behind.band, 0.0, 1.0))


def _wet(behind: Behind, levels: Floats) -> Floats:
    """Share of its thirst that a wick draws at a level. [-]"""
    return np.clip((levels - behind.foot) / FADES_OVER, 0.0, 1.0)


def _hour(behind: Behind, before: Floats, asks: Floats) -> Floats:
    """Levels and flows at the end of an hour: box, then tube and level of each planter.

    Each step is halved until it brings the hour nearer to its balance: float and wick have kinks,
    over which whole steps would swing for ever.
    """
    state = before.copy()
    rest, bands = _residual(behind, before, state, asks)
    for _ in range(MOST_ROUNDS):
        off, step = _off(behind, rest, asks), _solved(bands, rest)
        if off < EVEN:
            return state
        for _ in range(MOST_HALVINGS):
            tried = state + step
            rest, bands = _residual(behind, before, tried, asks)
            if _off(behind, rest, asks) < off:
                break
            step = step / 2
        state = tried
    raise PlanterDayError("The levels behind the float do not settle.")


def _solved(bands: Floats, rest: Floats) -> Floats:
    above, on, below = bands
    if len(rest) == 1:
        return np.asarray(-rest / on)
    solved: Floats = scipy.linalg.lapack.dgtsv(below[:-1], on, above[1:], -rest)[3]
    return solved


def _off(behind: Behind, rest: Floats, asks: Floats) -> float:
    """How far an hour is from its balance: heads against the band, flows against what is asked. [-]"""
    heads = rest[1::2] / behind.band
    flows = rest[0::2] / max(behind.full, float(asks.sum()), LEAST_FLOW)
    return float(heads @ heads) + float(flows @ flows)


def _residual(behind: Behind, before: Floats, state: Floats, asks: Floats) -> tuple[Floats, Floats]:
    """What is out of balance, and its slopes as the bands of a tridiagonal matrix."""
    size, count = len(state), len(behind.areas)
    rest, bands = np.zeros(size), np.zeros((3, size))
    above, on, below = bands  # above[j] is row j−1, below[j] is row j+1, of column j
    levels, flows = state[0::2], state[1::2]
    kept = np.concatenate([[behind.box_area], behind.areas]) / SECONDS_PER_HOUR
    rest[0::2] = kept * (levels - before[0::2])
    on[0::2] = kept
    is_open = 0.0 < behind.set_level - levels[0] < behind.band
    rest[0] -= behind.full * _opening(behind, levels[0])
    on[0] += behind.full / behind.band * is_open
    drinking = levels[1:] if count else levels
    wet = _wet(behind, drinking)
    fading = asks / FADES_OVER * ((wet > 0) & (wet < 1))
    places = slice(2, None, 2) if count else slice(0, 1)
    rest[places] += asks * wet
    on[places] += fading
    if not count:
        return rest, bands
    tube = behind.tube.losses(flows)
    rest[0:-1:2] += flows  # leaves the box, or the planter before
    above[1::2] = 1.0
    rest[2::2] -= flows
    below[1::2] = -1.0
    rest[1::2] = levels[:-1] - levels[1:] - tube.head_loss
    on[1::2] = -tube.slope
    below[0:-1:2] = 1.0
    above[2::2] = -1.0
    return rest, bands
