"""The root zone of a bed as a store of water that the crop empties.

Depths are over the bed's area. Depletion Dr is what is missing to field capacity.
"""

from dataclasses import dataclass
from functools import cache
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from euhydra.core import growing_seasons
from euhydra.core.constants import MM_PER_M

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Soil:
    """Water a soil holds, as shares of its volume. FAO-56 table 19.

    field_capacity, wilting_point : [m³ m⁻³]
    tabled_available : Water that plants can draw, where a table states it by itself; in table 19 the
        middle of that column is not the difference of the other two. [m³ m⁻³]
    """

    field_capacity: float
    wilting_point: float
    tabled_available: float | None = None

    @property
    def available(self) -> float:
        """Water that plants can draw. [m³ m⁻³]"""
        if self.tabled_available is not None:
            return self.tabled_available
        return self.field_capacity - self.wilting_point

    def total_available(self, root_depth: Floats) -> Floats:
        """Water TAW that roots of `root_depth` [m] can reach. [mm] FAO-56 eq. 82.

        Parameters
        ----------
        root_depth : [m]
        """
        return MM_PER_M * self.available * root_depth


def adjusted_depletion_fraction(tabled: float | Floats, crop_et: Floats) -> Floats:
    """Depletion fraction p for the day's demand: p = p_table + 0.04 (5 − ETc), 0.1 to 0.8.

    Parameters
    ----------
    tabled : p at 5 mm a day. [-]
    crop_et : Crop evapotranspiration ETc. [mm d⁻¹]

    Returns
    -------
    p of each day. [-]

    References
    ----------
    Allen et al. (1998), FAO-56, table 22 footnote.
    """
    return np.clip(tabled + 0.04 * (5 - crop_et), 0.1, 0.8)


def stress_coefficient(depletion: float, total: float, ready: float) -> float:
    """Water stress coefficient Ks: 1 until the readily available water is gone. [-]

    Parameters
    ----------
    depletion : Dr at the start of the day. [mm]
    total : Total available water TAW. [mm]
    ready : Readily available water RAW = p TAW. [mm]

    Examples
    --------
    >>> round(stress_coefficient(44, 100, 40), 2)
    0.93

    References
    ----------
    Allen et al. (1998), FAO-56, eq. 84.
    """
    if depletion <= ready:
        return 1.0
    return max(0.0, (total - depletion) / (total - ready))


MISSED = 1e-3
"""Share of what a crop wants that counts as having missed some of it. [-] Our choice."""


def is_too_dry(transpired: Floats, crop_et: Floats) -> NDArray[np.bool_]:
    """Days on which a crop drank less than it wanted: on them, and no others, it is called too dry.

    Parameters
    ----------
    transpired : What it drank. [mm]
    crop_et : What it wanted, ETc without stress. [mm]
    """
    return np.asarray(transpired < least_drunk(crop_et))


def least_drunk(crop_et: Floats) -> Floats:
    """What a crop has to drink on a day not to be called too dry. [mm]

    Parameters
    ----------
    crop_et : What it wanted, ETc without stress. [mm]
    """
    return np.asarray((1 - MISSED) * crop_et)


class RootZoneDay(NamedTuple):
    """One day of a root zone. All [mm] over the bed.

    depletion : Dr at the evening.
    transpired : Evapotranspiration after stress, ETc,adj.
    drained : Water past the roots.
    """

    depletion: float
    transpired: float
    drained: float


def advance(
    depletion: float, rain: float, irrigation: float, crop_et: float, total: float, ready: float
) -> RootZoneDay:
    """Root zone of the next evening, after rain, watering and the crop's drinking.

    Watering is done in the morning, so stress is that of the root zone after it; rain may fall at
    any hour and relieves the crop from the next day on.

    Parameters
    ----------
    depletion : Dr of last evening. [mm]
    rain : Depth of rain; nothing runs off a garden bed. [mm]
    irrigation : Net depth of watering. [mm]
    crop_et : ETc without stress. [mm]
    total, ready : TAW and RAW of the day. [mm]

    References
    ----------
    Allen et al. (1998), FAO-56, eqs. 85 to 88.
    """
    return RootZoneDay(*_advanced(depletion, rain, irrigation, crop_et, total, ready))


def _advanced(
    depletion: float, rain: float, irrigation: float, crop_et: float, total: float, ready: float
) -> tuple[float, float, float]:
    """As `advance`, plain: it runs a hundred thousand times for one answer."""
    watered = depletion - irrigation
    if watered <= ready:
        transpired = crop_et
    else:
        transpired = stress_coefficient(watered, total, ready) * crop_et
    balance = depletion - rain - irrigation + transpired
    if balance < 0:
        return 0.0, transpired, -balance  # eq. 88
    if balance > total:  # nothing is left to take below the wilting point
        return total, transpired - (balance - total), 0.0
    return balance, transpired, 0.0


def _advanced_each(
    depletion: Floats,
    rain: Floats,
    irrigation: Floats,
    crop_et: Floats,
    total: Floats,
    ready: Floats,
) -> tuple[Floats, Floats, Floats]:
    """As `_advanced`, of many root zones at once."""
    watered = depletion - irrigation
    spread = np.where(total > ready, total - ready, 1.0)
    stress = np.where(watered <= ready, 1.0, np.maximum((total - watered) / spread, 0.0))
    wished = stress * crop_et
    balance = depletion - rain - irrigation + wished
    transpired = wished - np.maximum(balance - total, 0.0)
    return np.clip(balance, 0.0, total), transpired, np.maximum(-balance, 0.0)


RAIN_REMEMBERED = 30
"""Days of rain by which the ground beside the lines is judged. [d] Our choice: about what a root zone
lasts."""


def moist_share(wetted: float, rain: Floats, crop_et: Floats) -> Floats:
    """Share of a bed's ground that holds water for the roots on each day. [-]

    What the lines wet, and of the rest as much as the rain of the last weeks was of what was drunk:
    in a rainy month roots drink from all of the bed, in a dry one from what the lines wet.

    Parameters
    ----------
    wetted : Share of the bed that its lines wet. [-]
    rain, crop_et : Of each day. [mm]

    References
    ----------
    Under drip the root zone is that of the wetted soil: common practice, Keller and Bliesner (1990),
    from memory. How far rain makes up for it is our choice.
    """
    if wetted >= 1:
        return np.ones_like(rain)
    fell, drunk = _of_last_days(rain), _of_last_days(crop_et)
    by_rain = np.divide(fell, drunk, out=np.ones_like(fell), where=drunk > 0)
    return np.asarray(wetted + (1 - wetted) * np.minimum(by_rain, 1.0))


def _of_last_days(daily: Floats) -> Floats:
    """Sum of the days up to the one before each. [mm]"""
    before = np.r_[0.0, np.cumsum(daily)]
    first = np.maximum(np.arange(len(daily)) - RAIN_REMEMBERED, 0)
    return np.asarray(before[: len(daily)] - before[first])


STEPS_OF_A_POT = 6
"""Steps into which a day of a pot is cut, for it may dry out between two runs. [-] Our choice."""


def gives_in(step: int, steps: int, runs: int) -> bool:
    """Whether one of the day's runs, even over the day, falls in this step of it.

    Examples
    --------
    >>> [step for step in range(6) if gives_in(step, 6, 3)]
    [0, 2, 4]
    """
    return any(run * steps // runs == step for run in range(runs))


def advance_in_steps(
    depletion: float,
    rain: float,
    irrigation: float,
    crop_et: float,
    total: float,
    ready: float,
    runs: int,
    steps: int,
) -> RootZoneDay:
    """As `advance`, with the day cut into steps and its watering split into runs.

    Parameters
    ----------
    depletion, rain, irrigation, crop_et, total, ready : As in `advance`. [mm]
    runs : Runs of the day, at least one and no more than steps.
    steps : Of the day; 1 for what holds more than a day's water.
    """
    if steps <= 1:
        return advance(depletion, rain, irrigation, crop_et, total, ready)
    transpired = drained = 0.0
    a_run, a_step, last = irrigation / runs, crop_et / steps, steps - 1
    for step, gives in enumerate(_steps_that_give(steps, runs)):
        depletion, drunk, lost = _advanced(
            depletion,
            rain if step == last else 0.0,
            a_run if gives else 0.0,
            a_step,
            total,
            ready,
        )
        transpired += drunk
        drained += lost
    return RootZoneDay(depletion, transpired, drained)


def advance_each_in_steps(
    depletion: Floats,
    rain: Floats,
    irrigation: Floats,
    crop_et: Floats,
    total: Floats,
    ready: Floats,
    runs: NDArray[np.intp],
    steps: int,
) -> tuple[Floats, Floats, Floats]:
    """As `advance_in_steps`, of many root zones at once: depletion, transpired, drained. [mm]

    Parameters
    ----------
    depletion, rain, irrigation, crop_et, total, ready : As in `advance`, of each. [mm]
    runs : Runs of the day, of each.
    steps : Of the day; 1 for what holds more than a day's water.
    """
    if steps <= 1:
        return _advanced_each(depletion, rain, irrigation, crop_et, total, ready)
    transpired, drained = np.zeros_like(depletion), np.zeros_like(depletion)
    a_run, a_step, none = irrigation / runs, crop_et / steps, np.zeros_like(rain)
    for step, gives in enumerate(_runs_that_give(steps)[:, runs], start=1):
        fell = rain if step == steps else none
        given = np.where(gives, a_run, none)
        depletion, drunk, lost = _advanced_each(depletion, fell, given, a_step, total, ready)
        transpired += drunk
        drained += lost
    return depletion, transpired, drained


@cache
def _runs_that_give(steps: int) -> NDArray[np.bool_]:
    """Whether a step of the day sees a run, for each number of runs up to that of steps. [step, runs]"""
    return np.array([_steps_that_give(steps, runs) for runs in range(steps + 1)]).T


@cache
def _steps_that_give(steps: int, runs: int) -> tuple[bool, ...]:
    return tuple(gives_in(step, steps, runs) for step in range(steps))


def least_irrigation(
    rain: Floats, crop_et: Floats, ready: Floats, is_growing: NDArray[np.bool_]
) -> Floats:
    """Net watering of each day that just keeps the crop out of stress.

    Each season begins with the soil at field capacity; water is given on the days on which
    depletion would pass the readily available water, and just enough to stop it there, so that
    rain finds as much room as the crop allows.

    Parameters
    ----------
    rain, crop_et, ready : Of each day, as in `advance`. [mm]
    is_growing : Days between planting and the end of harvest.

    Returns
    -------
    Net watering of each day. [mm]
    """

    def a_day(gone: Any, today: tuple[Any, ...], most: Any, least: Any) -> tuple[Any, Any]:
        fell, et, raw = today
        needed = most(0.0, gone - fell + et - raw)
        return needed, most(0.0, gone - fell - needed + et)

    return growing_seasons.given_through(is_growing, (rain, crop_et, ready), a_day)


def refill_on(
    rain: Floats,
    crop_et: Floats,
    total: Floats,
    is_growing: NDArray[np.bool_],
    most: Floats,
) -> Floats:
    """Net watering that fills the root zone again on each day on which water is given, as far as it goes.

    What a day does not bring is still lacking on the next.

    Parameters
    ----------
    rain, crop_et, total : Of each day, as in `advance`. [mm]
    is_growing : Days between planting and the end of harvest.
    most : That can be given on each day; 0 where there is no water, infinite where nothing limits it. [mm]

    Returns
    -------
    Net watering of each day; 0 on other days. [mm]
    """

    def a_day(gone: Any, today: tuple[Any, ...], larger: Any, least: Any) -> tuple[Any, Any]:
        fell, et, held, there = today
        lacking = least(larger(0.0, gone - fell + et), held)
        given = least(lacking, there)
        return given, lacking - given

    return growing_seasons.given_through(is_growing, (rain, crop_et, total, most), a_day)
