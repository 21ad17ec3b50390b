"""What a roof brings down its downspout."""

from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


class FirstFlushReset(StrEnum):
    """When the first-flush device stands empty again."""

    WET_SPELL = "wet-spell"
    DAY = "day"


def roof_inflow(
    rain: Floats,
    plan_area: float,
    runoff_coefficient: float,
    first_flush: float = 0.0,
    reset: FirstFlushReset = FirstFlushReset.WET_SPELL,
    dry_days: int = 1,
) -> Floats:
    """Water reaching the store on each day.

        inflow = plan area × runoff coefficient × (rain − first flush)

    The first flush is a depth of rain, taken off before the coefficient: once in a run of wet
    days, or once a day. One millimetre on one square metre is one litre.

    Parameters
    ----------
    rain : Depth on each day. [mm]
    plan_area : Area under the eaves that drains to this downspout. [m²]
    runoff_coefficient : Share of the rain that comes down. [-]
    first_flush : Depth turned away at the start of rain. [mm]
    reset : When the device stands empty again.
    dry_days : Dry days in a row that empty it, where it empties after a wet spell. [d]

    Returns
    -------
    Litres of each day. [L]

    Examples
    --------
    >>> roof_inflow(np.array([5.0, 0.0, 5.0]), 10, 0.8, first_flush=1.0)
    array([32.,  0., 32.])

    References
    ----------
    Texas Water Development Board (2005), Texas Manual on Rainwater Harvesting, first flush.
    """
    taken = first_flush_taken(rain, first_flush, reset, dry_days)
    return plan_area * runoff_coefficient * (rain - taken)


def first_flush_taken(
    arriving: Floats, holds: float, reset: FirstFlushReset, dry_days: int = 1
) -> Floats:
    """What the first-flush device takes on each day, in the unit of what arrives.

    Parameters
    ----------
    arriving : On each day: a depth of rain [mm], or the litres of one or several pipes [L].
    holds : What the device holds, in the same unit. [mm] or [L]
    reset : When the device stands empty again.
    dry_days : Dry days in a row in which its slow drip empties it. [d]
    """
    if reset is FirstFlushReset.DAY:
        return np.minimum(arriving, holds)
    wet = np.flatnonzero(arriving > 0)
    is_empty = np.diff(wet, prepend=-1) > max(dry_days, 1)  # after as many days without any
    sofar = np.cumsum(arriving[wet])
    spell = np.cumsum(is_empty)  # 0 as long as it has not been empty since the record's first day
    before = np.concatenate([[0.0], (sofar - arriving[wet])[is_empty]])[spell]
    held = np.minimum(sofar - before, holds)
    first = np.concatenate([[True], spell[1:] != spell[:-1]])[: len(wet)]
    taken = np.zeros_like(arriving)
    # Sums are rounded: it never takes more than arrives.
    taken[wet] = np.minimum(np.where(first, held, np.diff(held, prepend=0.0)), arriving[wet])
    return taken


def fill_time(
    volume: float, rain_rate: float, plan_area: float, runoff_coefficient: float
) -> float:
    """Hours of rain at `rain_rate` that fill `volume` from this roof.

    Parameters
    ----------
    volume : [L]
    rain_rate : [mm h⁻¹]
    plan_area : [m²]
    runoff_coefficient : [-]

    Returns
    -------
    Time. [h]

    Examples
    --------
    >>> round(fill_time(200, 60, 30, 0.9) * 60, 1)  # minutes, in a cloudburst
    7.4
    """
    return volume / (rain_rate * plan_area * runoff_coefficient)
