"""Nobody at home: the garden over the same days of every year, with what runs by itself."""

from dataclasses import dataclass, replace
from datetime import date

import numpy as np
from numpy.typing import NDArray

from euhydra.core import bed, works_record
from euhydra.core.bed import BedInputs
from euhydra.core.waterworks import Watering, Waterworks
from euhydra.garden.sentences import say
from euhydra.planner.answers import PlanError
from euhydra.planner.season.replay import Season
from euhydra.planner.season.watering import Watered
from euhydra.planner.season.works import deep_litres

LONGEST = 120
"""Longest absence that is reckoned. [d] Our choice."""


@dataclass(frozen=True)
class Absence:
    """When nobody is there.

    leaves, returns : First day without, and first day with somebody again.
    last_watered : Day on which beds without a timer were last watered through.
    filled : How full the stores of each level are on that day, of what they can give, in the order
        of the season's groups. [-]
    """

    leaves: date
    returns: date
    last_watered: date
    filled: tuple[float, ...]

    def __post_init__(self) -> None:
        if self.returns <= self.leaves:
            raise PlanError(
                say(
                    "season-come-back-before",
                    "You come back before you leave: give a later return.",
                )
            )
        if self.last_watered > self.leaves:
            raise PlanError(
                say(
                    "season-last-watering-after",
                    "The last watering is after you leave: give the day before you go, or earlier.",
                )
            )
        if (self.returns - self.last_watered).days > LONGEST:
            raise PlanError(
                say(
                    "season-days-but-timer",
                    "That is more than {longest} days: nothing but a timer and a tap holds so long. Give a "
                    "shorter time.",
                    longest=LONGEST,
                )
            )
        if not all(0 <= share <= 1 for share in self.filled):
            raise PlanError(
                say(
                    "season-stores-between-empty", "Stores are between empty, 0 %, and full, 100 %."
                )
            )

    @property
    def days(self) -> int:
        """From the last watering to the return. [d]"""
        return (self.returns - self.last_watered).days


def starts_of(season: Season, absence: Absence) -> NDArray[np.intp]:
    """Positions of the day of the last watering in every year that holds the whole absence."""
    days = season.record.days.astype("datetime64[D]")
    month_day = np.datetime_as_string(days, unit="D")
    when = absence.last_watered
    # Every year has to have that day.
    wanted = "02-28" if (when.month, when.day) == (2, 29) else when.strftime("%m-%d")
    found = np.flatnonzero(np.char.endswith(month_day, f"-{wanted}"))
    return np.asarray(found[found + absence.days < len(days)])


def is_served(way: Watered) -> bool:
    """Whether water comes by itself: by a float, or a timer that nobody has to start."""
    return way.keeps_level or (way.time is not None and not way.time.timer.wants_somebody)


def first_dry_days(season: Season, absence: Absence, start: int) -> list[int]:
    """For each bed, days after the last watering on which it is first too dry; the absence if never."""
    span = slice(start, start + absence.days)
    run = works_record.run_waterworks(works_of(season, absence, span))
    firsts = []
    for i, inputs in enumerate(season.bed_inputs):
        dry = bed.run_bed(_cut(inputs, span), run.supplied(i)).is_stressed
        firsts.append(int(np.argmax(dry)) if dry.any() else absence.days)
    return firsts


def works_of(season: Season, absence: Absence, span: slice) -> Waterworks:
    """The works over those days, from stores as full as they are; no hand opens anything."""
    works = season.works
    tanks = tuple(
        replace(
            t,
            inflow=t.inflow[span],
            dries=None if t.dries is None else t.dries[span],
            start=t.dead + share * (t.capacity - t.dead),
        )
        for t, share in zip(works.tanks, absence.filled, strict=True)
    )
    supplies = tuple(replace(s, available=s.available[span]) for s in works.supplies)
    waterings = tuple(_watering(season, i, span) for i in range(len(season.ways)))
    transfers = tuple(
        replace(t, is_due=np.zeros(absence.days, dtype=bool)) for t in works.transfers
    )
    return Waterworks(tanks, supplies, waterings, works.top_ups, transfers)


def _watering(season: Season, i: int, span: slice) -> Watering:
    """What the bed's timer is on: no wash is done, no can carried, no second hose opened."""
    way, watering = season.ways[i], season.works.waterings[i]
    at = None
    if is_served(way) and way.push is not None:
        ids = [part.id for part in season.orders[i].sources]
        source = way.push.zone.source.id
        at = ids.index(source) + season.orders[i].is_deep if source in ids else None
    if at is None:
        return Watering(np.zeros(span.stop - span.start), ())
    line = watering.sources[at]
    if not isinstance(line, int):
        line = replace(line, hours=line.hours[span])
    wanted = watering.wanted
    if season.orders[i].is_deep:
        wanted = wanted - deep_litres(way.need)  # whoever gave that is away
    limit = None if watering.limit is None else watering.limit[span]
    return Watering(wanted[span], (line,), limit)


def _cut(inputs: BedInputs, span: slice) -> BedInputs:
    return replace(
        inputs,
        rain=inputs.rain[span],
        crop_et=inputs.crop_et[span],
        total=inputs.total[span],
        ready=inputs.ready[span],
        is_growing=inputs.is_growing[span],
        kept=inputs.kept[span],
        runs=inputs.runs[span],
    )
