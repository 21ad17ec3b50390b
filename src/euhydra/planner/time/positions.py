"""Positions of a timer that are worth trying in a month: as often as ground and pots ask, about as much as is needed."""

from collections.abc import Iterable, Sequence
from itertools import pairwise
from math import ceil, inf

import numpy as np
from numpy.typing import NDArray

from euhydra.core import schedule
from euhydra.core.constants import SECONDS_PER_MINUTE
from euhydra.core.schedule import Position, Rhythm
from euhydra.garden.timers import Timer
from euhydra.planner.need.daily import Need
from euhydra.planner.time.design import BedShare, Design
from euhydra.planner.water.zones import Zone

LOOKED_AT = (0.35, 0.5, 0.7, 0.85, 1.0, 1.15, 1.3, 1.6, 2.0, 2.6)
"""Multiples of the mean need near which runs are tried. [-] Our choice."""

LOOKED_FURTHER = (3.5, 5.0, 7.0, 10.0)
"""Further multiples, where none of the first keeps the rule. [-] Our choice."""

LOOKED_BETWEEN = 4
"""Runs that are tried between one that is too short and the next that is not. Our choice."""

LONGER = 2.0
"""Intervals that are tried, over the days that the ground lasts without rain. [-] Our choice."""

YOUNG_DAYS = 3.0
"""Longest interval while roots are young. [d] Common practice: every third day in spring."""

WARM = 3.0
"""What short grass drinks on a mean day of a warm month, from which on pots are watered daily.
[mm d⁻¹] Our choice: some 20 °C at noon in temperate places."""


def set_now(zone: Zone) -> Position | None:
    """What the owner's timer is set to; None where that was not said."""
    head = zone.head
    if not isinstance(head, Timer) or head.set_minutes is None:
        return None
    return Position(head.set_minutes / SECONDS_PER_MINUTE, float(head.set_every_d), head.set_starts)


def worth_trying(
    month: int, design: Design, before_runoff: float, multiples: tuple[float, ...]
) -> list[Position]:
    """Positions near the need that keep to as few runs a day, and as long between, as ground and pots bear.

    Parameters
    ----------
    before_runoff : Longest run before water stands; the longest that keeps to it is tried too. [min]
    multiples : Of the mean need, near which they are. [-]
    """
    every = borne(month, design, before_runoff)
    near = schedule.near_need(every, _wanted_minutes(month, design), multiples)
    if before_runoff >= design.most_minutes:
        return near
    longest = [sinks[-1] for rhythm in every if (sinks := rhythm.up_to(before_runoff))]
    return list(dict.fromkeys([*near, *longest]))


def borne(month: int, design: Design, before_runoff: float) -> list[Rhythm]:
    """All positions that ground and pots bear in a month; those that come nearest, if none does.

    Parameters
    ----------
    before_runoff : Longest run before water stands. [min]
    """
    wanted = _wanted_minutes(month, design)
    every = schedule.rhythms_of(design.timer.positions, design.most_minutes)
    longest = min((longest_interval(bed, month) for bed in design.beds), default=inf)
    shortest = min(rhythm.mean_days for rhythm in every)
    possible = [r for r in every if r.mean_days <= max(longest, shortest) + 0.5]
    cycles = schedule.cycles_for(min(2 * wanted, design.most_minutes), before_runoff)
    least = max((least_runs(bed, month) for bed in design.beds), default=1)
    most = max(rhythm.runs_a_day for rhythm in possible)
    allowed = {min(max(count, least), most) for count in (1, cycles)}
    return [rhythm for rhythm in possible if rhythm.runs_a_day in allowed]


def _wanted_minutes(month: int, design: Design) -> float:
    """Minutes a day that give the mean need; where rain meets nearly all of it, what is drunk. [min d⁻¹]"""
    litres = design.gross(month)
    if litres <= 0 or design.counts_on_rain(month):
        litres = design.drinks[month - 1] * design.area_m2
    minutes = design.exact_minutes(litres, month)
    return min(minutes, design.most_minutes)


def longest_interval(bed: BedShare, month: int) -> float:
    """Days from one watering to the next that roots bear; pots want water daily when it is warm. [d]

    So long that the ground lasts with usual rain, and never over twice what it lasts without.
    """
    need = bed.need
    drinks, ready, net = (
        float(series[month - 1])
        for series in (need.crop_et_a_day, need.ready_by_month, need.settled_a_day)
    )
    if drinks <= 0:
        return inf
    if wants_daily(need, month):
        return 1.0
    lasts = schedule.longest_interval(ready, drinks)
    with_rain = min(LONGER * lasts, max(lasts, ready / net if net > 0 else inf))
    return min(with_rain, YOUNG_DAYS) if month in need.young_months else with_rain


def wants_daily(need: Need, month: int) -> bool:
    """Whether these are pots in a warm month, without a reserve that lasts longer."""
    pot = need.part.container
    return pot is not None and pot.reserve_m3 <= 0 and float(need.et0_a_day[month - 1]) >= WARM


def least_runs(bed: BedShare, month: int) -> int:
    """Runs a day without which pots would use up what they hold ready, on a hot day of the month."""
    need = bed.need
    ready = float(need.ready_by_month[month - 1])
    if need.part.container is None or ready <= 0:
        return 1
    return max(1, ceil(need.in_heat[month - 1] / ready - 1e-9))


def between(
    tried: Sequence[Position], keeps: NDArray[np.bool_], every: Iterable[Rhythm]
) -> list[Position]:
    """Positions between one that does not keep the rule and the next longer run that does.

    Parameters
    ----------
    keeps : Whether each that was tried keeps the rule.
    every : All positions of the timer.
    """
    known: dict[tuple[float, int], list[tuple[float, bool]]] = {}
    for position, keeps_rule in zip(tried, keeps.tolist(), strict=True):
        alike = known.setdefault((position.interval_days, position.starts), [])
        alike.append((position.run_minutes, keeps_rule))
    found: list[Position] = []
    for rhythm in every:
        first = rhythm.positions[0]
        runs = sorted(known.get((first.interval_days, first.starts), ()))
        for (short, is_enough), (longer, is_more) in pairwise(runs):
            if is_more and not is_enough:
                inside = rhythm.between(short, longer)
                step = max(1, ceil(len(inside) / LOOKED_BETWEEN))
                found += inside[step // 2 :: step]
                break
    return found


def in_heat(month: int, design: Design, position: Position) -> Position:
    """How the timer is set in a heat wave: longer where beds are watered, oftener where pots are."""
    wanted = position.minutes_a_day * max(
        (_hotter(b.need, month) for b in design.beds), default=1.0
    )
    every = schedule.rhythms_of(design.timer.positions, design.most_minutes)
    if any(bed.need.part.container is not None for bed in design.beds):
        more = [r for r in every if r.mean_days <= 1 and _is_oftener(r, position)]
        oftener = [p for rhythm in more for p in rhythm.positions]
        least = wanted / position.mean_days
        enough = [p for p in oftener if p.minutes_a_day >= least - 0.5]
        if enough:
            return min(enough, key=lambda p: (p.runs_a_day, p.minutes_a_day))
    alike = [p for rhythm in every if rhythm.is_of(position) for p in rhythm.positions]
    longer = [p for p in alike if p.run_minutes >= position.run_minutes]
    enough = [p for p in longer if p.minutes_a_day >= wanted - 0.5]
    if enough:
        return min(enough, key=lambda p: p.run_minutes)
    return max(longer, key=lambda p: p.run_minutes, default=position)


def _is_oftener(other: Rhythm, than: Position) -> bool:
    """Daily instead of every so many days, or one run a day more."""
    if than.mean_days > 1:
        return other.runs_a_day == max(1, than.runs_a_day)
    return other.runs_a_day == than.runs_a_day + 1


def _hotter(need: Need, month: int) -> float:
    """What is drunk on a day of a heat wave over a mean day of the month; 1 where nothing is. [-]"""
    mean = float(need.crop_et_a_day[month - 1])
    return max(1.0, need.in_heat[month - 1] / mean) if mean > 0 else 1.0
