"""The morning: acts of each zone and bed, what the stores hold and want, what is due."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from euhydra.core.constants import SECONDS_PER_DAY
from euhydra.garden.logbook import LogEntry
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.answers import Gap, Mark, Verdict
from euhydra.planner.chain import Chain
from euhydra.planner.keeping import upkeep
from euhydra.planner.keeping.upkeep import Task
from euhydra.planner.learning.answer import learn
from euhydra.planner.learning.stores import StoreTold
from euhydra.planner.time import choosing_years
from euhydra.planner.today.acts import MorningAct, acts_of
from euhydra.planner.today.ahead import WET_MM, ForecastDay, ahead_of
from euhydra.planner.today.choosing import Do
from euhydra.planner.today.morning import Morning
from euhydra.planner.today.reasons import look_that_tells_most

SOON_EMPTY_D = 7.0
"""Days under which a store is gone easy on. [d] Our choice."""

UNSURE = 0.15
"""Of what a store holds, from which deviation on it is to be dipped. [-] Our choice."""

DRAWN_OVER_D = 14
"""Days whose draws tell how fast it empties. [d]"""


@dataclass(frozen=True)
class StoreNow:
    """A store this morning.

    water, capacity : [L]
    lasts : Days at the pace of the last two weeks; infinite where nothing is drawn. [d]
    said : What it holds, and what it wants.
    """

    store_id: str
    name: str
    water: float
    capacity: float
    lasts: float
    said: Sentence


@dataclass(frozen=True)
class TodayAnswer:
    """Everything that the garden wants this morning.

    look : Which look would narrow most what is not known; None where enough is.
    """

    day: date
    acts: tuple[MorningAct, ...]
    stores: tuple[StoreNow, ...]
    due: tuple[Task, ...]
    is_foreseen: bool
    look: Sentence | None = None

    @property
    def verdict(self) -> Verdict:
        """Whether anybody has to do anything."""
        thirsty = [act for act in self.acts if act.do in (Do.BY_HAND, Do.CANS)]
        paused = [act for act in self.acts if act.do is Do.PAUSE]
        if not self.acts:
            return Verdict(
                Mark.WORKS, say("today-nothing-grows", "Nothing grows now: it wants no water.")
            )
        turn_off = say("today-pause", "Pause {names}: no water is needed.", names=_names(paused))
        if thirsty:
            said = say("today-water", "Water {names} this morning.", names=_names(thirsty))
            return Verdict(Mark.BUT, said, (turn_off,) if paused else ())
        if paused:
            return Verdict(Mark.BUT, turn_off)
        said = say("today-nothing-to-do", "Nothing to do: what is set does it.")
        return Verdict(Mark.WORKS, said)


def _names(acts: Sequence[MorningAct]) -> str:
    return ", ".join(f"“{act.name}”" for act in acts)


def answer_today(
    chain: Chain, log: Sequence[LogEntry], today: date, forecast: Sequence[ForecastDay] = ()
) -> TodayAnswer | Gap:
    """What is to be done, from the log up to last evening and the days ahead.

    Parameters
    ----------
    log : Oldest first; what is of today counts for tomorrow.

    Raises
    ------
    PlanError : if the forecast is of days that are over, or cannot be.
    """
    if chain.record is None:
        return Gap(say("today-no-weather", "There is no weather yet: say where the garden is."))
    learned = learn(chain, log, today - timedelta(days=1))
    if isinstance(learned, Gap):
        return learned
    many = choosing_years.years_like(chain.record, chain.garden.place)
    was_wet = bool(learned.told.record.precip[-1] >= WET_MM)
    ahead = ahead_of(many, chain.garden.place.latitude_deg, today, forecast, was_wet)
    morning = Morning(learned, many, ahead)
    due = upkeep.answer_upkeep(chain, log, today).tasks
    return TodayAnswer(
        today,
        acts_of(morning),
        tuple(_stores(morning)),
        tuple(task for task in due if task.is_due(today)),
        ahead.is_foreseen,
        look_that_tells_most(morning),
    )


def _stores(morning: Morning) -> Iterator[StoreNow]:
    learned = morning.learned
    for tank, store in enumerate(learned.stores):
        water = float(store.water[-1])
        pace = float(store.drawn[-DRAWN_OVER_D:].mean())
        usable = store.filled * (store.capacity - learned.told.season.works.tanks[tank].dead)
        lasts = usable / pace if pace > 0.1 else float("inf")
        said = _said_of(store, water, lasts, _spills(morning, tank, water))
        yield StoreNow(store.group.id, store.group.name, water, store.capacity, lasts, said)


def _spills(morning: Morning, tank: int, water: float) -> float:
    """What would spill in the coming days, mean of all years, were nothing drawn. [L]"""
    capacity = morning.learned.told.season.works.tanks[tank].capacity
    return float(np.maximum(morning.comes(tank) - (capacity - water), 0.0).mean())


def _said_of(store: StoreTold, water: float, lasts: float, spills: float) -> Sentence:
    if store.deviation > UNSURE * store.capacity:
        return say(
            "today-store-dip-it",
            "“{name}” holds {water} by the sums, give or take {band}: dip it, nothing would tell more.",
            name=store.group.name,
            water=Amount.litres(water),
            band=Amount.litres(store.deviation),
        )
    values: dict[str, Amount | str] = {"name": store.group.name, "water": Amount.litres(water)}
    if lasts < SOON_EMPTY_D:
        return say(
            "today-store-go-easy",
            "“{name}” holds {water}: {days} at the pace of the last two weeks. Water by hand what suffers first.",
            days=Amount(lasts * SECONDS_PER_DAY, "days"),
            **values,
        )
    if spills > 0.1 * store.capacity:
        return say(
            "today-store-will-spill",
            "“{name}” holds {water}, and some {spills} of the coming rain would spill: use it, or lead it on.",
            spills=Amount.litres(spills),
            **values,
        )
    return say("today-store-holds", "“{name}” holds {water}.", **values)
