"""Finds each month's setting: the positions of the owner's timer tried on the zone's root zones."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from math import inf, isfinite

import numpy as np
from numpy.typing import NDArray

from euhydra.core import programme, schedule
from euhydra.core.programme import Trial
from euhydra.core.schedule import Position, Setting
from euhydra.garden.plantings import Start
from euhydra.planner.need.daily import Need
from euhydra.planner.same import Asked
from euhydra.planner.time.design import Design
from euhydra.planner.time.positions import (
    LOOKED_AT,
    LOOKED_FURTHER,
    between,
    borne,
    in_heat,
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

OFF = Position(0.0, 1.0)
"""A timer that gives nothing."""

SEEDLING_RUNS = 2
"""Runs a day while something comes up. Common practice: two or three short ones."""


@dataclass(frozen=True)
class BedOutcome:
    """How one bed fares under a setting.

    stressed : Share of its days drier than the refill point. [-]
    missed : Share of its drinking that it misses. [-]
    drained_l_day : Litres lost past its roots. [L d⁻¹]
    """

    need: Need
    stressed: float
    missed: float
    drained_l_day: float


@dataclass(frozen=True)
class MonthChoice:
    """The setting of one month.

    gross : Litres needed on a day in season. [L d⁻¹]
    exact_minutes : Minutes that would give the mean need exactly at the interval chosen. [min]
    heat : How it is set in a heat wave; as ever, if it can be set no longer or oftener.
    cycles, cycle_minutes : Runs that bring as much to the roots with none of it running off, and how
        long each is. [min]
    runs_off : Whether water will stand and run off for want of starts.
    is_carried : Whether it is only left as in the month before, since next to nothing grows.
    """

    month: int
    setting: Setting
    gross: float
    exact_minutes: float
    heat: Position
    cycles: int
    cycle_minutes: float
    runs_off: bool
    beds: tuple[BedOutcome, ...]
    is_carried: bool = False


def choose_year(
    design: Design, only: Sequence[Position | None] | None = None
) -> list[MonthChoice | None]:
    """The setting of each month; one in which next to nothing grows takes its neighbour's.

    Months follow one another through the season: each takes over the root zones as the one before
    left them, so that none lives on borrowed water.

    Parameters
    ----------
    only : Positions of the twelve months, to see how they do; else the best are found.
    """
    return _walk(design, only) if only else list(_best_year(_asked(design)))


def as_told(chosen: Sequence[MonthChoice | None], design: Design) -> list[MonthChoice | None]:
    """The same settings followed through the years of another design, and how they do there."""
    positions = tuple(choice.setting.position if choice else OFF for choice in chosen)
    told = _told_year(_asked(design), positions)
    return [
        replace(there, is_carried=here.is_carried) if here and there else None
        for here, there in zip(chosen, told, strict=True)
    ]


YEARS_KEPT = 32
"""Years of settings that are kept, so that an edit works out anew only zones that it changes."""


FIRST, OTHERS = slice(0, 1), slice(1, None)
"""Of candidates of which the first is the timer turned off."""


def _asked(design: Design) -> Asked[Design]:
    """What a year's settings follow from: needs by themselves, the rest by value."""
    needs = tuple(bed.need for bed in design.beds)
    shares = tuple((bed.flow_share, bed.efficiency) for bed in design.beds)
    return Asked(
        design, needs, (design.timer, design.curve, design.levels, design.most_minutes, shares)
    )


@lru_cache(maxsize=YEARS_KEPT)
def _best_year(asked: Asked[Design]) -> tuple[MonthChoice | None, ...]:
    return tuple(_walk(asked.what, None))


@lru_cache(maxsize=YEARS_KEPT)
def _told_year(
    asked: Asked[Design], positions: tuple[Position, ...]
) -> tuple[MonthChoice | None, ...]:
    return tuple(_walk(asked.what, positions))


@lru_cache(maxsize=YEARS_KEPT)
def _for_new(asked: Asked[Design]) -> Position | None:
    return choose_for_new(asked.what)


def forget() -> None:
    """Keep nothing of what was worked out, for measuring."""
    for kept in (_best_year, _told_year, _for_new):
        kept.cache_clear()


def _walk(design: Design, only: Sequence[Position | None] | None) -> list[MonthChoice | None]:
    """Month after month through the season."""
    found: list[MonthChoice | None] = [None] * MONTHS
    roots = [RootLanes.of(bed) for bed in design.beds]
    order = _in_order(design)
    stands_all_year = all(design.settled_days(month) > 0 for month in order)
    # What stands all year begins its wettest month as the last one left it: a round to find out how.
    for month in order * 2 if stands_all_year else order:
        days = design.settled_days(month)
        fixed = only[month - 1] if only else None
        if days <= 0 or (only and fixed is None):
            continue
        before = found[month - 2]
        now = before.setting.position if before else None
        if only is None and days < FEW_DAYS and now:
            choice = _choose(month, design, roots, now)
            found[month - 1] = replace(choice, is_carried=True) if choice else None
        else:
            found[month - 1] = _choose(month, design, roots, fixed, now)
    return found


def _in_order(design: Design) -> list[int]:
    """Months from the one in which a season begins; of what stands all year, from the wettest."""
    days = [design.settled_days(month) for month in range(1, MONTHS + 1)]
    begins = [i for i in range(MONTHS) if days[i] > 0 and days[i - 1] <= 0]
    net = [design.gross(month) for month in range(1, MONTHS + 1)]
    first = begins[0] if begins else int(np.argmin(net))
    return [(first + i) % MONTHS + 1 for i in range(MONTHS)]


def choose_month(month: int, design: Design) -> MonthChoice | None:
    """The setting of one month by itself, from watered ground; None where the timer is off."""
    return _choose(month, design, [RootLanes.of(bed) for bed in design.beds], None)


def _choose(
    month: int,
    design: Design,
    roots: Sequence[RootLanes],
    only: Position | None,
    stay: Position | None = None,
) -> MonthChoice | None:
    """The best setting of a month, or the only one; that of the month before where it is as good."""
    gross = design.gross(month)
    if gross <= 0 and only is None and not _is_young(month, design):
        _leave(month, roots, trials(month, design, roots, [OFF]), 0)
        return None
    before_runoff = design.minutes_before_runoff(month)
    if only is None:
        positions, found = _searched(month, design, roots, before_runoff, stay)
    else:
        positions = [only]
        found = trials(month, design, roots, positions)
    if not positions:
        _leave(month, roots, found, 0)
        return None
    sinks_in = np.array([p.run_minutes <= before_runoff for p in positions])
    every = np.array([p.mean_days for p in positions])
    same = positions.index(stay) if stay in positions else None
    better = (hands_on(month, roots, found), sinks_in)
    # Young roots want water often; once they reach deep the timer may be set anew for that.
    settled = stay is not None and not _is_young((month - 2) % MONTHS + 1, design)
    days_before = stay.mean_days if stay and settled else None
    best = programme.choose(found, every, gross, better, same, days_before)
    _leave(month, roots, found, best)
    position = positions[best]
    given = float(max(trial.given[best] for trial in found))
    share = given / gross if gross > 0 else inf
    setting = Setting(position, design.litres(position.run_minutes, month), given, share)
    exact = design.exact_minutes(gross * position.mean_days, month)
    sinks_in_beds = _sinks(design, position, month)
    useful = position.minutes_a_day * min(sinks_in_beds)
    cycles = schedule.cycles_for(useful, before_runoff)
    return MonthChoice(
        month,
        setting,
        gross,
        exact / position.runs_a_day,
        in_heat(month, design, position),
        cycles,
        useful / cycles,
        position.run_minutes > before_runoff,
        tuple(
            BedOutcome(
                bed.need,
                float(trial.stressed[best]),
                float(trial.missed[best]),
                float(trial.drained[best]) * bed.need.area_m2
                + given * bed.flow_share * (1 - bed.efficiency * sinks),
            )
            for bed, trial, sinks in zip(design.beds, found, sinks_in_beds, strict=True)
        ),
    )


def _sinks(design: Design, position: Position, month: int) -> list[float]:
    """Share of a run that sinks into each bed. [-]"""
    minutes = np.array([position.run_minutes])
    return [float(design.sinks_in(bed, minutes, month)[0]) for bed in design.beds]


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
    may_be_off = bool(programme.keeps_rule(without)[0]) and not _is_young(month, design)
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


def _is_young(month: int, design: Design) -> bool:
    """Whether something in the zone was planted within the last weeks, on some day of the month."""
    return any(month in bed.need.young_months for bed in design.beds)


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


def _leave(month: int, roots: Sequence[RootLanes], trials: Sequence[Trial], best: int) -> None:
    """Hand the root zones on as the candidate chosen left them."""
    for lane, trial in zip(roots, trials, strict=True):
        lane.leave(month, trial.depletion[best])


def choose_for_new(design: Design) -> Position | None:
    """Setting while something roots in or comes up: every day, seedlings more than once."""
    wanted = 0.0
    for bed in design.beds:
        new = bed.need.is_new
        if new.any() and bed.efficiency > 0 and bed.flow_share > 0:
            thirsty = float(np.quantile(bed.need.crop_et[new], NEW_COVERED))
            daily = thirsty * bed.need.area_m2 / bed.efficiency
            wanted = max(wanted, daily / bed.flow_share)
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


def _is_sown(need: Need) -> bool:
    return need.part.own_planting.started is Start.SOWN


def programme_of(design: Design, months: Sequence[MonthChoice | None]) -> Programme:
    """The whole year's programme."""
    return Programme(
        design.timer,
        tuple(choice.setting.position if choice else None for choice in months),
        _for_new(_asked(design)),
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
