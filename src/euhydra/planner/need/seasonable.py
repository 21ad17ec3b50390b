"""Whether a crop is in its season where it stands: frost at planting and harvest, cold, heat, and winter."""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np
from numpy.typing import NDArray

from euhydra.core import frost
from euhydra.core.weather import DailyWeather
from euhydra.garden.model import Garden
from euhydra.garden.plantings import PlantingDate
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.dates import MONTH_NAMES, day_in_words
from euhydra.planner.need import growth
from euhydra.planner.need.daily import TRIFLE, Need
from euhydra.planner.need.growth import Growth
from euhydra.planner.same import Asked, by_itself, kept

Floats = NDArray[np.float64]
Flags = NDArray[np.bool_]

YEAR = 365

WARM_C = 12.0
"""Mean of a day below which crops of warm places stand still. [°C] Common practice."""

HOT_C = 25.0
"""Mean of a day above which crops of cool places bolt or turn bitter. [°C] Common practice."""

WINTER_C = 5.0
"""Mean of a month below which it is winter. [°C] Common practice: growth stops."""

BORNE = 0.2
"""Share of its season that a crop bears out of its element. [-] Our choice."""

ANNUAL_D = 270
"""Seasons longer than this are of what stays. [d]"""

SMOOTHED = 31
"""Days over which usual temperatures are smoothed. [d]"""

SAID = {
    "need-planted-into-frost": "“{crop}”: out from {planted} on, and frost is usual until {last}. {then}",
    "need-harvest-into-frost": "“{crop}”: in the ground until {ends}, and frost is usual from {first} on. {then}",
    "need-too-cold-for-it": "“{crop}”: planted on {planted}, in the cold for much of the time. {then}",
    "need-too-hot-for-it": "“{crop}”: planted on {planted}, growing through the heat, which makes it bolt. {then}",
}
"""What is wrong with a crop's season: its code, and its words."""

FROSTS = {"need-planted-into-frost", "need-harvest-into-frost"}
"""One night kills; of heat and cold some days more or less are no matter."""

WITHIN = 7
"""Days from a date that would do within which heat and cold are not worth a word. [d] Our choice."""


RECORDS_KEPT = 8
"""Records of which it is kept when frosts are usual."""


@dataclass(frozen=True)
class _Climate:
    """The usual year: mean temperature of each day, and the days between the frosts.

    is_frosty : Days on which frost is usual in one year of ten. [day of the year]
    last, first : Last frost of spring and first of autumn, days from 1; None without frost.
    """

    mean: Floats
    is_frosty: Flags
    last: int | None
    first: int | None


def out_of_season(need: Need, garden: Garden) -> tuple[Sentence, ...]:
    """What is planted into frost, or grows out of its season, with the date that would do."""
    climate = _climate(need, garden)
    if climate is None:
        return ()
    found: list[Sentence] = []
    for each in growth.growths_in(need.part, garden):
        season = each.crop.season
        stays = season.root_start >= season.root_full or growth.lasts(each) > ANNUAL_D
        if not (each.crop.is_border or stays):
            found += _about(each, climate)
    return tuple(found)


def dates_that_would_do(need: Need, garden: Garden) -> Iterator[tuple[Growth, PlantingDate]]:
    """Of what is out of its season, the nearest date on which it would not be; nothing where none is."""
    climate = _climate(need, garden)
    if climate is None:
        return
    for each in growth.growths_in(need.part, garden):
        planted, days = _day_of(each.planting), growth.lasts(each)
        if _fits(each, climate, planted, days):
            continue
        better = _date_that_would_do(each, climate, planted, days)
        if better is not None:
            day = date(2023, 1, 1) + timedelta(days=(better - 1) % YEAR)
            yield each, PlantingDate(month=day.month, day=day.day)


def in_winter(need: Need) -> tuple[Sentence, ...]:
    """Whether what grows in winter is watered; none where it has no winter, or nothing grows in it."""
    record = need.record
    if np.isnan(record.temp_min).all():
        return ()
    mean = (record.temp_min + record.temp_max) / 2
    cold = [
        month
        for month in range(1, 13)
        if need.growing_days[month - 1] > 0 and mean[record.month == month].mean() < WINTER_C
    ]
    if not cold:
        return ()
    watered = [month for month in cold if need.net_a_day[month - 1] > TRIFLE]
    names = ", ".join(MONTH_NAMES[month - 1] for month in watered or cold)
    if watered:
        most = max(float(need.net_a_day[month - 1]) for month in watered)
        return (
            say(
                "need-winter-watered",
                "It grows through winter and wants water even in {months}, up to {litres} a day: by its line only "
                "where pipe and timer are safe from frost, else by can on mild days.",
                months=names,
                litres=Amount.litres(most * need.area_m2),
            ),
        )
    return (
        say(
            "need-winter-rain",
            "In {months} it stands through winter on rain alone: nothing is watered then.",
            months=names,
        ),
    )


def _about(each: Growth, climate: _Climate) -> Iterator[Sentence]:
    planted, days = _day_of(each.planting), growth.lasts(each)
    if _fits(each, climate, planted, days):
        return
    better = _date_that_would_do(each, climate, planted, days)
    then = (
        f"Planted on {_words(better)} it would do."
        if better is not None
        else "No date would do here: grow it under cover, or take a quicker sort."
    )
    code = _why(each, climate, planted, days)
    if code not in FROSTS and better is not None and abs(better - planted) <= WITHIN:
        return
    yield say(
        code,
        SAID[code],
        crop=each.crop.name,
        planted=_words(planted),
        ends=_words(planted + days),
        last=_words(climate.last or 1),
        first=_words(climate.first or 1),
        then=then,
    )


def _why(each: Growth, climate: _Climate, planted: int, days: int) -> str:
    season = _season(planted, days)
    if not each.crop.likes_it_warm:
        return "need-too-hot-for-it"
    if climate.is_frosty[season[0]]:
        return "need-planted-into-frost"
    if climate.is_frosty[season].any():
        return "need-harvest-into-frost"
    return "need-too-cold-for-it"


def _fits(each: Growth, climate: _Climate, planted: int, days: int) -> bool:
    season = _season(planted, days)
    if each.crop.likes_it_warm:
        cold = float((climate.mean[season] < WARM_C).mean())
        return not climate.is_frosty[season].any() and cold <= BORNE
    return float((climate.mean[season] > HOT_C).mean()) <= BORNE


def _date_that_would_do(each: Growth, climate: _Climate, planted: int, days: int) -> int | None:
    """The nearest day of the year on which it fits, before or after; None if there is none."""
    for away in range(1, YEAR // 2 + 1):
        for day in (planted + away, planted - away):
            if _fits(each, climate, day, days):
                return day
    return None


def _season(planted: int, days: int) -> NDArray[np.intp]:
    """Positions in the year of its days."""
    return (planted - 1 + np.arange(days)) % YEAR


def _day_of(planting: PlantingDate) -> int:
    last = 28 if planting.month == 2 else 31  # 29 February is planted a day earlier in other years
    return date(2023, planting.month, min(planting.day, last)).timetuple().tm_yday


def _words(day: int) -> str:
    return day_in_words(date(2023, 1, 1) + timedelta(days=(day - 1) % YEAR))


def _climate(need: Need, garden: Garden) -> _Climate | None:
    return _climate_of(by_itself(need.record), garden.place.latitude_deg < 0)


@kept(RECORDS_KEPT)
def _climate_of(asked: Asked[DailyWeather], is_south: bool) -> _Climate | None:
    record = asked.what
    if np.isnan(record.temp_min).any():
        return None
    mean = (record.temp_min + record.temp_max) / 2
    at = np.minimum(record.day_of_year.astype(int), YEAR) - 1
    counts = np.maximum(np.bincount(at, minlength=YEAR), 1)
    usual = np.bincount(at, mean, YEAR) / counts
    if (np.bincount(at, minlength=YEAR) == 0).any():
        return None
    half = SMOOTHED // 2
    ring = np.r_[usual[-half:], usual, usual[:half]]
    smooth = np.convolve(ring, np.full(SMOOTHED, 1 / SMOOTHED), "valid")
    days = frost.frost_days(record, frost.FROST_C, is_south)
    if days is None:
        return _Climate(smooth, np.zeros(YEAR, dtype=bool), None, None)
    last, first = (int(day) for day in days)
    index = np.arange(1, YEAR + 1)
    between = (index > last) & (index < first) if last < first else (index > last) | (index < first)
    return _Climate(smooth, ~between, last, first)
