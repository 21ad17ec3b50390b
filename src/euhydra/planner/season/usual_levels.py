"""How full the store of each zone usually stands in each month when its beds ask for water.

Timers are set from it. It is read from a season without timers, in which every bed is given what it
lacks, and somewhat more, as timers do: so that settings need no settings before them.
"""

from collections.abc import Mapping, Sequence

import numpy as np
from numpy.typing import NDArray

from euhydra.core.weather import DailyWeather
from euhydra.garden.model import Garden
from euhydra.garden.stores import Store
from euhydra.planner.answers import PlanError
from euhydra.planner.catch.order import order_of
from euhydra.planner.push.answer import PushAnswer
from euhydra.planner.season import replay
from euhydra.planner.season.replay import Season
from euhydra.planner.season.watering import Watered
from euhydra.planner.time.design import HALF_DRAWN
from euhydra.planner.time.programme import MONTHS

Floats = NDArray[np.float64]

GIVEN_OVER = 1.3
"""Times what beds lack that timers give in the mean, dry years being what they are set for. [-]
Measured: 1.05 to 1.8 over sixteen gardens in three climates."""


def usual_levels(
    garden: Garden, record: DailyWeather, ways: Sequence[Watered]
) -> Mapping[str, tuple[float, ...]]:
    """Store volume from which a run begins, of each month, by the id of the zone. [L]

    Zones on taps have none, nor has any zone of a garden that cannot be run yet.

    Parameters
    ----------
    ways : Beds with their lines, and no timers.
    """
    pushes = {way.push.zone.id: way.push for way in ways if way.push and way.push.zone.group}
    if not pushes:
        return {}
    touching = tuple(way for way in ways if _touches_stores(garden, way))
    try:
        season = replay.replay(garden, record, touching, GIVEN_OVER)
    except PlanError:
        return {}
    return {zone_id: _levels(push, season) for zone_id, push in pushes.items()}


def _touches_stores(garden: Garden, way: Watered) -> bool:
    """Whether a bed draws from a store, or from a tap that tops one up: others change no level."""
    tops_up = {store.topped_by for store in garden.stores}
    sources = order_of(garden, way.need.part).all
    return any(isinstance(source, Store) or source.id in tops_up for source in sources)


def _levels(push: PushAnswer, season: Season) -> tuple[float, ...]:
    """The mean, weighted by what is asked, over the days on which the store holds what a day asks."""
    zone, curve, month = push.zone, push.curve, season.record.month - 1
    assert zone.group is not None
    evenings = season.run.level[season.groups.index(zone.group)]
    mornings = np.r_[evenings[:1], evenings[:-1]]
    asked = _asked(push, season)
    days = np.bincount(month, minlength=MONTHS)
    mean_asked = _sums(month, asked) / np.maximum(days, 1)
    holds = mornings - curve.runs_dry_at > mean_asked[month]
    half = curve.dead + HALF_DRAWN * (curve.full - curve.dead)
    # In a month that asks for nothing the plain mean stands.
    weight = (asked + np.where(mean_asked > 0, 0.0, 1.0)[month]) * holds
    sums = _sums(month, weight)
    levels = np.divide(
        _sums(month, weight * mornings), sums, out=np.full(MONTHS, half), where=sums > 0
    )
    return tuple(np.clip(levels, curve.dead, curve.full).tolist())


def _asked(push: PushAnswer, season: Season) -> Floats:
    """What the beds of a zone ask for on each day. [L]"""
    own = {part.id for part in push.zone.watered}
    asked = np.zeros(len(season.record.days))
    for way, watering in zip(season.ways, season.works.waterings, strict=True):
        if way.need.part.id in own:
            asked = asked + watering.asked
    return asked


def _sums(month: NDArray[np.intp], daily: Floats) -> Floats:
    """By month, January first."""
    return np.asarray(np.bincount(month, daily, MONTHS), dtype=np.float64)
