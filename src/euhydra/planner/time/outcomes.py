"""How settings do: months lived through one after the other under given positions, several years' worth beside each other."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import inf

import numpy as np

from euhydra.core import schedule
from euhydra.core.programme import Trial
from euhydra.core.schedule import Position, Setting
from euhydra.planner.need.daily import Need
from euhydra.planner.same import Asked, kept
from euhydra.planner.time.design import Design
from euhydra.planner.time.positions import in_heat
from euhydra.planner.time.programme import MONTHS
from euhydra.planner.time.trials import RootLanes, trials

OFF = Position(0.0, 1.0)
"""A timer that gives nothing."""

YEARS_KEPT = 16
"""Years of settings that are kept, so that an edit works out anew only zones that it changes."""


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


def asked_of(design: Design) -> Asked[Design]:
    """What a year's settings follow from: needs by themselves, the rest by value."""
    needs = tuple(bed.need for bed in design.beds)
    shares = tuple((bed.flow_share, bed.efficiency) for bed in design.beds)
    return Asked(
        design, needs, (design.timer, design.curve, design.levels, design.most_minutes, shares)
    )


def choice_of(
    month: int, design: Design, position: Position, found: Sequence[Trial], at: int
) -> MonthChoice:
    """A position that was tried in a month, and how the beds fare under it.

    Parameters
    ----------
    found : What was tried, of each bed.
    at : Place of the position among what was tried.
    """
    gross = design.gross(month)
    given = float(max(trial.given[at] for trial in found))
    share = given / gross if gross > 0 else inf
    setting = Setting(position, design.litres(position.run_minutes, month), given, share)
    exact = design.exact_minutes(gross * position.mean_days, month)
    before_runoff = design.minutes_before_runoff(month)
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
                float(trial.stressed[at]),
                float(trial.missed[at]),
                float(trial.drained[at]) * bed.need.area_m2
                + given * bed.flow_share * (1 - bed.efficiency * sinks),
            )
            for bed, trial, sinks in zip(design.beds, found, sinks_in_beds, strict=True)
        ),
    )


def _sinks(design: Design, position: Position, month: int) -> list[float]:
    """Share of a run that sinks into each bed. [-]"""
    minutes = np.array([position.run_minutes])
    return [float(design.sinks_in(bed, minutes, month)[0]) for bed in design.beds]


def leave(month: int, roots: Sequence[RootLanes], trials: Sequence[Trial], best: int) -> None:
    """Hand the root zones on as the candidate chosen left them."""
    for lane, trial in zip(roots, trials, strict=True):
        lane.leave(month, trial.depletion[best])


def in_order(design: Design) -> list[int]:
    """Months in which something settled grows, from the one in which a season begins.

    What stands all year begins with its wettest month as the last one leaves it: all twelve come twice,
    the first time to find out how.
    """
    days = [design.settled_days(month) for month in range(1, MONTHS + 1)]
    begins = [i for i in range(MONTHS) if days[i] > 0 and days[i - 1] <= 0]
    net = [design.gross(month) for month in range(1, MONTHS + 1)]
    first = begins[0] if begins else int(np.argmin(net))
    order = [(first + i) % MONTHS + 1 for i in range(MONTHS)]
    growing = [month for month in order if days[month - 1] > 0]
    return growing * 2 if len(growing) == MONTHS else growing


def lived(
    design: Design, years: Sequence[Sequence[Position]]
) -> tuple[tuple[MonthChoice | None, ...], ...]:
    """How each of several years' settings does; None for months in which nothing settled grows.

    Parameters
    ----------
    years : Positions of twelve months each.
    """
    return _lived(asked_of(design), tuple(map(tuple, years)))


@kept(YEARS_KEPT)
def _lived(
    asked: Asked[Design], years: tuple[tuple[Position, ...], ...]
) -> tuple[tuple[MonthChoice | None, ...], ...]:
    design = asked.what
    found: list[list[MonthChoice | None]] = [[None] * MONTHS for _ in years]
    roots = [RootLanes.of(bed) for bed in design.beds]
    for month in in_order(design):
        positions = [year[month - 1] for year in years]
        tried = trials(month, design, roots, positions)
        for root, trial in zip(roots, tried, strict=True):
            root.leave(month, trial.depletion)
        for at, (own, position) in enumerate(zip(found, positions, strict=True)):
            own[month - 1] = choice_of(month, design, position, tried, at)
    return tuple(map(tuple, found))


def as_told(
    chosen: Sequence[MonthChoice | None],
    design: Design,
    beside: Sequence[Sequence[Position]] = (),
) -> tuple[tuple[MonthChoice | None, ...], ...]:
    """Settings chosen on other years followed through those of a design, and others beside them.

    Parameters
    ----------
    beside : Positions of twelve months each.
    """
    positions = [choice.setting.position if choice else OFF for choice in chosen]
    told, *others = lived(design, [positions, *beside])
    as_chosen = tuple(
        replace(there, is_carried=here.is_carried) if here and there else None
        for here, there in zip(chosen, told, strict=True)
    )
    return as_chosen, *others


def forget() -> None:
    """Keep nothing of what was lived through, for measuring."""
    _lived.cache_clear()
