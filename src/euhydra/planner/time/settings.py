"""Finds each month's setting: the positions of the owner's timer tried on the zone's root zones."""

from collections.abc import Sequence
from dataclasses import replace
from math import isfinite

import numpy as np
from numpy.typing import NDArray

from euhydra.core import programme, schedule
from euhydra.core.programme import Trial
from euhydra.core.schedule import Position
from euhydra.garden.plantings import Start
from euhydra.planner.need.daily import Need
from euhydra.planner.same import Asked, kept
from euhydra.planner.time import outcomes
from euhydra.planner.time.design import Design
from euhydra.planner.time.outcomes import OFF, YEARS_KEPT, MonthChoice, asked_of, choice_of, leave
from euhydra.planner.time.positions import (
    LOOKED_AT,
    LOOKED_FURTHER,
    between,
    borne,
    worth_trying,
)
from euhydra.planner.time.programme import MONTHS, HeatRule, Programme
from euhydra.planner.time.trials import RootLanes, trials

ROUNDS = 2
"""Times that runs between the last too short and the first long enough are tried. Our choice: a clock of
minutes is down to one or two of them then."""

FEW_DAYS = 7.0
"""Days of a month in season under which its timer is left as in the month beside it. [d] Our choice."""

USED_UP = 0.8
"""Share of what roots reach easily from which a month hands on next to nothing. [-] Our choice."""

LASTING = 5.0
"""Days that ground lasts without water from which on a month may live on what it leaves the next. [d]
Our choice."""

YEARS_USED_UP = 0.1
"""Share of the years in which it may. [-] Our choice."""

NEW_COVERED = 0.9
"""Share of the days on which something is new that its setting covers. [-] Our choice."""

SEEDLING_RUNS = 2
"""Runs a day while something comes up. Common practice: two or three short ones."""


def choose_year(design: Design) -> list[MonthChoice | None]:
    """The setting of each month; one in which next to nothing grows takes its neighbour's.

    Months follow one another through the season: each takes over the root zones as the one before
    left them, so that none lives on borrowed water.
    """
    return list(_best_year(asked_of(design)))


FIRST, OTHERS = slice(0, 1), slice(1, None)
"""Of candidates of which the first is the timer turned off."""


@kept(YEARS_KEPT)
def _best_year(asked: Asked[Design]) -> tuple[MonthChoice | None, ...]:
    return tuple(_walk(asked.what))


@kept(YEARS_KEPT)
def _for_new(asked: Asked[Design]) -> Position | None:
    return choose_for_new(asked.what)


def forget() -> None:
    """Keep nothing of what was worked out, for measuring."""
    for known in (_best_year, _for_new):
        known.cache_clear()
    outcomes.forget()


def _walk(design: Design) -> list[MonthChoice | None]:
    """Month after month through the season."""
    found: list[MonthChoice | None] = [None] * MONTHS
    roots = [RootLanes.of(bed) for bed in design.beds]
    for month in outcomes.in_order(design):
        before = found[month - 2]
        now = before.setting.position if before else None
        if now and design.settled_days(month) < FEW_DAYS:
            tried = trials(month, design, roots, [now])
            leave(month, roots, tried, 0)
            found[month - 1] = replace(choice_of(month, design, now, tried, 0), is_carried=True)
        else:
            found[month - 1] = _choose(month, design, roots, now)
    return found


def choose_month(month: int, design: Design) -> MonthChoice | None:
    """The setting of one month by itself, from watered ground; None where the timer is off."""
    return _choose(month, design, [RootLanes.of(bed) for bed in design.beds])


def _choose(
    month: int, design: Design, roots: Sequence[RootLanes], stay: Position | None = None
) -> MonthChoice | None:
    """The best setting of a month; that of the month before where it is as good."""
    gross = design.gross(month)
    if gross <= 0 and not design.is_young(month):
        leave(month, roots, trials(month, design, roots, [OFF]), 0)
        return None
    before_runoff = design.minutes_before_runoff(month)
    positions, found = _searched(month, design, roots, before_runoff, stay)
    if not positions:
        leave(month, roots, found, 0)
        return None
    sinks_in = np.array([p.run_minutes <= before_runoff for p in positions])
    every = np.array([p.mean_days for p in positions])
    same = positions.index(stay) if stay in positions else None
    better = (hands_on(month, roots, found), sinks_in)
    # Young roots want water often; once they reach deep the timer may be set anew for that.
    settled = stay is not None and not design.is_young((month - 2) % MONTHS + 1)
    days_before = stay.mean_days if stay and settled else None
    best = programme.choose(found, every, gross, better, same, days_before)
    leave(month, roots, found, best)
    return choice_of(month, design, positions[best], found, best)


def _searched(
    month: int,
    design: Design,
    roots: Sequence[RootLanes],
    before_runoff: float,
    stay: Position | None,
) -> tuple[list[Position], list[Trial]]:
    """Positions to choose from and what they do; none, and what that does, where off is best.

    Off is best where it keeps the rule and hands on enough, or where no setting would do more; but
    not while what grows is young.
    """
    tried = worth_trying(month, design, before_runoff, LOOKED_AT)
    every = borne(month, design, before_runoff)
    if stay and stay not in tried and any(rhythm.holds(stay) for rhythm in every):
        tried.append(stay)
    with_off = trials(month, design, roots, [OFF, *tried])
    without, found = ([trial.of(which) for trial in with_off] for which in (FIRST, OTHERS))
    may_be_off = bool(programme.keeps_rule(without)[0]) and not design.is_young(month)
    if may_be_off and hands_on(month, roots, without)[0]:
        return [], without
    good = _good(month, roots, found)
    if not good.any():
        # Where rain does most in the mean, a dry year asks for many times the mean.
        tried = worth_trying(month, design, before_runoff, (*LOOKED_AT, *LOOKED_FURTHER))
        found = trials(month, design, roots, tried)
        good = _good(month, roots, found)
    if may_be_off and not good.any():
        return [], without
    for _ in range(ROUNDS):
        finer = between(tried, _good(month, roots, found), every)
        if not finer:
            break
        more = trials(month, design, roots, finer)
        found = [first.beside(other) for first, other in zip(found, more, strict=True)]
        tried = [*tried, *finer]
    return tried, found


def _good(month: int, roots: Sequence[RootLanes], trials: Sequence[Trial]) -> NDArray[np.bool_]:
    """Whether each candidate keeps the rule, and leaves the next month something."""
    return programme.keeps_rule(trials) & hands_on(month, roots, trials)


def hands_on(month: int, roots: Sequence[RootLanes], trials: Sequence[Trial]) -> NDArray[np.bool_]:
    """Whether each candidate leaves the next month ground that is not used up, in nearly every year."""
    enough = np.ones(len(trials[0].given), dtype=bool)
    for lane, trial in zip(roots, trials, strict=True):
        last = lane.days(month)[-1]
        need = lane.bed.need
        goes_on = need.is_growing[np.minimum(last + 1, len(need.is_growing) - 1)]
        # What holds a few days' drinking is full again with the next month's first runs.
        holds = need.ready[last] > LASTING * need.crop_et[last]
        used_up = (trial.depletion > USED_UP * need.ready[last]) & holds
        enough &= (used_up & goes_on).mean(axis=1) <= YEARS_USED_UP
    return enough


def choose_for_new(design: Design) -> Position | None:
    """Setting while something roots in or comes up: every day, seedlings more than once."""
    wanted = wanted_while_new(design)
    if wanted <= 0:
        return None
    minutes = design.exact_minutes(wanted, design.lowest_while_new)
    minutes = minutes if isfinite(minutes) else design.most_minutes
    sown = any(_is_sown(bed.need) for bed in design.beds)
    every = schedule.positions_of(design.timer.positions, design.most_minutes)
    shortest = min(p.mean_days for p in every)
    daily_ones = [p for p in every if p.mean_days == shortest]
    runs = min(SEEDLING_RUNS if sown else 1, max(p.runs_a_day for p in daily_ones))
    fitting = [p for p in daily_ones if p.runs_a_day >= runs]
    enough = [p for p in fitting if p.minutes_a_day / p.mean_days >= minutes - 0.5]
    if not enough:
        return max(fitting, key=lambda p: p.minutes_a_day)
    return min(enough, key=lambda p: (p.runs_a_day, p.minutes_a_day))


def wanted_while_new(design: Design) -> float:
    """Litres into the zone that cover nearly every day on which something in it is new. [L d⁻¹]"""
    wanted = 0.0
    for bed in design.beds:
        new = bed.need.is_new
        if new.any() and bed.efficiency > 0 and bed.flow_share > 0:
            thirsty = float(np.quantile(bed.need.crop_et[new], NEW_COVERED))
            daily = thirsty * bed.need.area_m2 / bed.efficiency
            wanted = max(wanted, daily / bed.flow_share)
    return wanted


def _is_sown(need: Need) -> bool:
    return need.part.own_planting.started is Start.SOWN


def programme_of(design: Design, months: Sequence[MonthChoice | None]) -> Programme:
    """The whole year's programme."""
    return Programme(
        design.timer,
        tuple(choice.setting.position if choice else None for choice in months),
        _for_new(asked_of(design)),
        design.rain_a_day,
        design.pauses,
        tuple(_heat_rule(choice, design) for choice in months),
    )


def _heat_rule(choice: MonthChoice | None, design: Design) -> HeatRule | None:
    """From which day on the timer is set for heat in a month; None where that changes nothing."""
    if choice is None or choice.heat == choice.setting.position:
        return None
    from_et0 = design.beds[0].need.et0_in_heat[choice.month - 1]
    return HeatRule(from_et0, choice.heat) if from_et0 > 0 else None
