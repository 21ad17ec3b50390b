"""Two weather records made one: where they disagree, where both have gaps, what is made up."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from euhydra.core import climate_fit, made_days
from euhydra.core.climate import ClimateKind
from euhydra.core.weather import SERIES, DailyWeather

Days = NDArray[np.datetime64]
Flags = NDArray[np.bool_]

SAME_RAIN = 0.5
"""Difference of a day's rain that two gauges may have. [mm] Our choice."""

SAME_TEMPERATURE = 0.5
"""Difference of a day's extremes that two thermometers may have. [°C] Our choice."""

MOST_YEARS = 200
"""Longest span that may be joined. [a]"""


@dataclass(frozen=True)
class Joined:
    """A record from the first day of either to the last, and which of its days are made up."""

    record: DailyWeather
    is_made_up: Flags


def disagreements(first: DailyWeather, second: DailyWeather) -> Days:
    """Days that both records have, and on which they differ by more than two gauges may."""
    common, here, there = np.intersect1d(first.days, second.days, return_indices=True)
    differs = np.abs(first.precip[here] - second.precip[there]) > SAME_RAIN
    for name in ("temp_min", "temp_max"):
        apart = np.abs(getattr(first, name)[here] - getattr(second, name)[there])
        differs |= apart > SAME_TEMPERATURE
    return np.asarray(common[differs])


def join(
    trusted: DailyWeather, other: DailyWeather, kind: ClimateKind, rng: np.random.Generator
) -> Joined:
    """Both records in one; the first counts where both have a day.

    Days that neither has are made up from the climate of all days that there are.

    Parameters
    ----------
    kind : Of climate, for the days that are made up.
    rng : Source of chance for them.

    Raises
    ------
    ValueError : if they lie too far apart, or together lack a whole month of the year.
    """
    first = min(trusted.days[0], other.days[0])
    last = max(trusted.days[-1], other.days[-1])
    days = np.arange(first, last + np.timedelta64(1, "D"))
    if len(days) > MOST_YEARS * 366:
        raise ValueError(f"the records lie more than {MOST_YEARS} years apart")
    series = {name: np.full(len(days), np.nan) for name in SERIES}
    for record in (other, trusted):
        places = (record.days - first).astype(int)
        for name in SERIES:
            series[name][places] = getattr(record, name)
    missing = np.isnan(series["precip"])
    if missing.any():
        _fill(days, series, missing, kind, rng)
    return Joined(DailyWeather.of(days, **series), missing)


def _fill(
    days: Days,
    series: dict[str, NDArray[np.float64]],
    missing: Flags,
    kind: ClimateKind,
    rng: np.random.Generator,
) -> None:
    known = DailyWeather.of(days[~missing], **{n: values[~missing] for n, values in series.items()})
    fitted = climate_fit.climate_of_record(known, kind)
    years = days.astype("datetime64[Y]").astype(int) + 1970
    made = made_days.generate(fitted, int(years[0]), int(years[-1] - years[0]) + 1, rng)
    places = np.searchsorted(made.days, days[missing])
    for name in ("precip", "temp_min", "temp_max"):
        series[name][missing] = getattr(made, name)[places]


def spans(days: Days, flags: Flags) -> list[tuple[str, str]]:
    """First and last day of each unbroken run of flagged days."""
    edges = np.flatnonzero(np.diff(np.r_[0, flags.astype(np.int8), 0]))
    pairs = zip(edges[::2], edges[1::2] - 1, strict=True)
    return [(str(days[a]), str(days[b])) for a, b in pairs]
