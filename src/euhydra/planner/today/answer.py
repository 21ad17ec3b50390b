"""The morning: acts of each zone and bed, what the stores hold and want, what is due."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime, time, timedelta

from euhydra.core.foretelling import WET_MM
from euhydra.garden.logbook import LogEntry
from euhydra.garden.sentences import Sentence, say
from euhydra.planner.answers import Gap, Mark, Verdict
from euhydra.planner.chain import Chain
from euhydra.planner.dates import day_in_words
from euhydra.planner.keeping import upkeep
from euhydra.planner.keeping.task import Task
from euhydra.planner.learning.answer import Learned, learn
from euhydra.planner.time import choosing_years
from euhydra.planner.today.acts import MorningAct, acts_of, floated
from euhydra.planner.today.ahead import ForecastDay, ahead_of
from euhydra.planner.today.before_weather import BeforeWeather, before_weather
from euhydra.planner.today.choosing import Do
from euhydra.planner.today.morning import Morning
from euhydra.planner.today.reasons import look_that_tells_most
from euhydra.planner.today.stores_now import StoreNow, stores_now

LOOKS = ("finger", "dip", "level")
"""Entries of what was looked at: it was so last evening too, but for a morning's run."""

LAST_LOOK, NOON = time(22), time(12)
"""When such an entry is taken to be of; and until when a gauge is read for the night. Common practice."""


@dataclass(frozen=True)
class TodayAnswer:
    """Everything that the garden wants this morning.

    before : What is done before frost or heat that is foreseen.
    unread : Since when nobody read the gauge; None while it is read, or never was.
    look : Which look would narrow most what is not known; None where enough is.
    done : Acts that somebody has done already, as much as is asked, by what they are about.
    floated : Names of what grows and a float waters.
    """

    day: date
    acts: tuple[MorningAct, ...]
    stores: tuple[StoreNow, ...]
    before: tuple[BeforeWeather, ...]
    due: tuple[Task, ...]
    is_foreseen: bool
    look: Sentence | None = None
    unread: Sentence | None = None
    done: frozenset[str] = frozenset()
    floated: tuple[str, ...] = ()

    @property
    def verdict(self) -> Verdict:
        """Whether anybody has to do anything yet."""
        left = [act for act in self.acts if act.about not in self.done]
        thirsty = [act for act in left if act.do in (Do.BY_HAND, Do.CANS)]
        paused = [act for act in left if act.do is Do.PAUSE]
        if not self.acts and self.floated:
            kept = say(
                "today-floats",
                "Nothing to do: a float waters {names} as long as there is water.",
                names=_names(self.floated),
            )
            return Verdict(Mark.WORKS, kept)
        if not self.acts:
            return Verdict(
                Mark.WORKS, say("today-nothing-grows", "Nothing grows now: it wants no water.")
            )
        off = _names([act.name for act in paused])
        turn_off = say("today-pause", "Pause {names}: no water is needed.", names=off)
        if thirsty:
            wants = _names([act.name for act in thirsty])
            said = say("today-water", "Water {names} this morning.", names=wants)
            return Verdict(Mark.BUT, said, (turn_off,) if paused else ())
        if paused:
            return Verdict(Mark.BUT, turn_off)
        if len(left) < len(self.acts):
            return Verdict(Mark.WORKS, say("today-done", "Done for this morning."))
        said = say("today-nothing-to-do", "Nothing to do: what is set does it.")
        return Verdict(Mark.WORKS, said)


def _names(names: Sequence[str]) -> str:
    return ", ".join(f"“{name}”" for name in names)


def answer_today(
    chain: Chain, log: Sequence[LogEntry], today: date, forecast: Sequence[ForecastDay] = ()
) -> TodayAnswer | Gap:
    """What is to be done, from the log up to last evening and the days ahead.

    Parameters
    ----------
    log : Oldest first; what was looked at today tells of last evening, what was done today counts
        for tomorrow.

    Raises
    ------
    PlanError : if the forecast is of days that are over, or cannot be.
    """
    if chain.record is None:
        return Gap(say("today-no-weather", "There is no weather yet: say where the garden is."))
    learned = learn(chain, list(_by_last_evening(log, today)), today - timedelta(days=1))
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
        tuple(stores_now(morning)),
        tuple(before_weather(morning, forecast)),
        tuple(task for task in due if task.is_due(today)),
        ahead.is_foreseen,
        look_that_tells_most(morning),
        _unread(learned),
        floated=tuple(floated(morning)),
    )


def _by_last_evening(log: Sequence[LogEntry], today: date) -> Iterator[LogEntry]:
    """The log up to last evening, what was looked at since among it."""
    evening = datetime.combine(today - timedelta(days=1), LAST_LOOK)
    for entry in log:
        is_todays = entry.at.date() == today
        is_rain_of_the_night = entry.kind == "rain" and entry.at.time() < NOON
        if is_todays and (entry.kind in LOOKS or is_rain_of_the_night):
            yield replace(entry, at=evening)
        elif not is_todays:
            yield entry


def _unread(learned: Learned) -> Sentence | None:
    told = learned.told
    if not told.rain_is_logged or told.is_kept_up:
        return None
    last = told.by_kind.of("rain")[-1].at.date()
    return say(
        "today-gauge-unread",
        "The gauge was last read on {day}: since then as much rain is taken as other years had. Read it, or write"
        " down what it held.",
        day=day_in_words(last),
    )
