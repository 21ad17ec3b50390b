"""A timer's programme tried on the root zones it waters, over the same month of many years.

The rule of a good programme: on nineteen days in twenty no bed is drier than its refill point, and
of all positions that keep this, the one that uses least water; among equals the longest interval,
for deep and seldom makes deep roots (common practice). Where no position keeps it, the one under
which the crops miss least. A timer that is off is a position like any other: where the ground keeps
the rule on rain and what it holds, nothing is set.

Arrays are [day, candidate, year] unless said otherwise.
"""

from collections.abc import Sequence
from dataclasses import dataclass, fields

import numpy as np
from numpy.typing import NDArray

from euhydra.core.tried_days import PROBE_OPENS, Gives, TriedDays, TriedGround

Floats = NDArray[np.float64]
Flags = NDArray[np.bool_]

STRESSED_DAYS = 0.05
"""Share of the days on which a bed may be drier than its refill point. [-] Our choice."""

CHOSEN_AT = 0.04
"""Share up to which settings are chosen, on years that are made up: real ones are a little harsher,
by some six percent in the greatest deficit of a month beside three records. [-] Our choice."""

ABOUT_EQUAL = 0.10
"""Part of the need that a setting may give above the least and still count as equal. [-] Our choice."""


@dataclass(frozen=True)
class Trial:
    """What each candidate did to one ground, over the days in season of all years. [candidate]

    missed : Share of what the crop wanted that it did not get. [-]
    stressed : Share of its days on which it missed some. [-]
    drained : Depth lost past the roots, of a day. [mm d⁻¹]
    given : Litres that the zone was given, of a day. [L d⁻¹]
    depletion : On the last evening, [candidate, year]. [mm]
    """

    missed: Floats
    stressed: Floats
    drained: Floats
    given: Floats
    depletion: Floats

    def of(self, candidates: slice) -> "Trial":
        """Some of the candidates."""
        return Trial(*(getattr(self, field.name)[candidates] for field in fields(self)))

    def beside(self, other: "Trial") -> "Trial":
        """The candidates of both, this one's first."""
        return Trial(
            *(
                np.concatenate([getattr(self, field.name), getattr(other, field.name)])
                for field in fields(self)
            )
        )


def try_on(
    grounds: Sequence[TriedGround],
    litres: Floats,
    runs: NDArray[np.intp],
    sinks_in: Sequence[Floats],
    starts: Sequence[Floats],
    gives: Gives = Gives.ALL,
) -> list[Trial]:
    """Run the candidates over several grounds that are watered together, side by side.

    Parameters
    ----------
    grounds : All of them taken in the same number of steps a day.
    litres : Into the zone on each day, [day, candidate, year]. [L]
    runs : Into which a watering day is split, [candidate].
    sinks_in : Of each ground, share of a run that does not run off, [candidate]. [-]
    starts : Of each ground, depletion on the evening before, [year] or [candidate, year]. [mm]
    gives : What of them the timer gives. The probe is reckoned to be in this ground: where it is in
        another of the zone, which asks sooner, this one is given more.
    """
    tried = TriedDays(grounds, litres, runs, sinks_in, starts, gives)
    for day in range(len(litres)):
        tried.live_through(day)
    return [_trial(ground, litres, tried, place, gives) for place, ground in enumerate(grounds)]


def _trial(
    ground: TriedGround, litres: Floats, tried: TriedDays, place: int, gives: Gives
) -> Trial:
    """Shares and means of one ground, from its sums by candidate and year."""
    depth_per_litre = tried.depth_per_litre[place]
    given = (litres * ground.is_growing[:, None, :]).sum(axis=(0, 2))
    if gives is not Gives.ALL:
        # Where nothing of it comes to the bed, all of it is given for nothing.
        comes = depth_per_litre > 0
        np.divide(tried.watered[place].sum(axis=1), depth_per_litre, out=given, where=comes)
    wanted = float(ground.crop_et[ground.is_growing].sum())
    missed = np.maximum(wanted - tried.drunk[place].sum(axis=1), 0.0)
    days = max(int(ground.is_growing.sum()), 1)
    return Trial(
        missed / max(wanted, 1e-9),
        tried.short_days[place].sum(axis=1) / days,
        tried.drained[place].sum(axis=1) / days,
        given / days,
        tried.depletion[place],
    )


def waits_until_dry(
    net: Floats, rain: Floats, crop_et: Floats, total: Floats, ready: Floats, is_growing: Flags
) -> Flags:
    """Days on which a moisture switch lets the run of the day begin: one of its grounds is dry enough.

    Arrays are [ground, day]; the run is reckoned to bring what it is set for.

    Parameters
    ----------
    net : What the run of the day brings; 0 where none is due. [mm]
    rain, crop_et, total, ready : As in `rootzone.advance`. [mm]

    Returns
    -------
    [day].
    """
    days = net.shape[1]
    opens = np.zeros(days, dtype=bool)
    grounds = range(len(net))
    columns = [a.T.tolist() for a in (net, rain, crop_et, total, ready, is_growing)]
    depletion = [0.0] * len(net)
    for day, (due, fell, drinks, most, easy, grows) in enumerate(zip(*columns, strict=True)):
        lets = any(
            grows[i] and due[i] > 0 and depletion[i] >= PROBE_OPENS * easy[i] for i in grounds
        )
        opens[day] = lets
        for i in grounds:
            given = due[i] if lets else 0.0
            left = max(0.0, depletion[i] - given) + drinks[i] - fell[i]
            depletion[i] = min(max(0.0, left), most[i]) if grows[i] else 0.0
    return opens


def choose(
    trials: Sequence[Trial],
    interval_days: Floats,
    need: float,
    preferred: Sequence[Flags] = (),
    stay: int | None = None,
    days_before: float | None = None,
) -> int:
    """Position of the candidate that keeps the rule of the module with least water.

    Those that are preferred come first, but only if they keep the rule: none that leaves a bed
    too dry is better than one that waters it.

    Parameters
    ----------
    trials : Of each ground of the zone.
    interval_days : Of each candidate. [d]
    need : Litres that the zone needs on a mean day. [L d⁻¹]
    preferred : Candidates that are better in another way, the weightiest way last.
    stay : The candidate that is set already: it stays where none is better.
    days_before : Interval that is set already: among equals the nearest to it, else the longest. [d]
    """
    given = np.max([trial.given for trial in trials], axis=0)
    missed = np.max([trial.missed for trial in trials], axis=0)
    keeps = keeps_rule(trials)
    for better in preferred[::-1]:
        if (keeps & better).any():
            keeps = keeps & better
    if not keeps.any():
        # A percent of the crop's wish is worth an equal part more water, no less.
        keeps = missed <= missed.min() + 0.01
    least = given[keeps].min()
    good = np.flatnonzero(keeps & (given <= least + ABOUT_EQUAL * need))
    if stay is not None and stay in good:
        return stay
    if days_before is not None:
        jump = np.abs(np.log(interval_days / days_before))
        return int(min(good, key=lambda i: (jump[i], given[i])))
    return int(max(good, key=lambda i: (interval_days[i], -given[i])))


def keeps_rule(trials: Sequence[Trial]) -> Flags:
    """Whether no ground is drier than its refill point on more days than it may be; [candidate]."""
    stressed = np.max([trial.stressed for trial in trials], axis=0)
    return np.asarray(stressed <= CHOSEN_AT)


def paused_by_rain(rain: Floats, a_day: float, steps: Sequence[int]) -> Flags:
    """Days on which a gardener who holds to the rain plan has the timer paused.

    After rain it is paused for as many whole days as the rain covers, in steps that it has; the
    first of them is the day after.

    Parameters
    ----------
    rain : [day, year]. [mm]
    a_day : What the crops drink on a day of the month. [mm d⁻¹]
    steps : Of the rain delay, rising. [d]
    """
    paused = np.zeros(rain.shape, dtype=bool)
    if not len(steps) or a_day <= 0:
        return paused
    for days in steps:
        enough = rain >= rain_for(days, a_day)
        for later in range(1, days + 1):
            paused[later:] |= enough[:-later]
    return paused


def rain_for(days: int, a_day: float) -> float:
    """Rain that stands in for so many days of watering. [mm]

    Parameters
    ----------
    days : [d]
    a_day : What the crops drink on a day. [mm d⁻¹]
    """
    return days * a_day
