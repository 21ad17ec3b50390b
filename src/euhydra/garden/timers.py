"""Timers: those in the garden, and kinds that the owner describes."""

from itertools import pairwise
from math import ceil
from typing import Self

from pydantic import field_validator, model_validator

from euhydra.core.schedule import TimerPositions
from euhydra.garden import catalogue
from euhydra.garden.catalogue import TimerKind, WorksBy
from euhydra.garden.part import Id, Part, asked, known_entry, linked, refuse
from euhydra.garden.pipes import Piece
from euhydra.garden.plantings import OWN

SHORTEST_DELAY = 0.5
"""Rain delay of half a day: pressed in the evening it skips the next morning, as a whole day does. [d]"""

LONGEST_RUN = 24 * 60
"""[min]"""


class Timer(Piece):
    """A timer with its valve.

    set_minutes, set_every_d, set_starts : What the owner has it set to now; None where not told.
    """

    kind: str = asked("Kind of timer", "timers")
    window_s: float = asked(
        "Longest time to water in a day",
        "hours",
        "Mornings, before the heat: 3 hours is usual.",
        default=3 * 3600.0,
        ge=60,
        le=24 * 3600,
    )
    starts_s: float = asked(
        "First run at",
        "clock",
        "Mornings: leaves dry before night.",
        default=5 * 3600.0,
        ge=0,
        lt=24 * 3600,
    )
    body: Id | None = linked(
        "In one body with",
        "timers",
        default=None,
        help_text="Of a timer with several outlets: they run one after another.",
    )
    set_minutes: float | None = asked(
        "Now set to run", "minutes", "Empty: not set yet.", default=None, ge=60, le=24 * 3600
    )
    set_every_d: int = asked(
        "every so many days", "every", "Or as the dial has it: 48 h.", default=1, ge=1, le=14
    )
    set_starts: int = asked("so many times on that day", "count", "", default=1, ge=1, le=8)

    @field_validator("kind")
    @classmethod
    def _known(cls, value: str) -> str:
        return value if value.startswith(OWN) else known_entry(value, catalogue.timers())


class OwnTimer(Part):
    """A kind of timer that the owner describes by what it can be set to."""

    works_by: WorksBy = asked("It works by", "works_by", default=WorksBy.CLOCK)
    run_minutes: tuple[float, ...] = asked(
        "Runs it can be set to, in minutes",
        "positions",
        "Such as 5, 10, 20, 30, or 1-60.",
        default=(5.0, 10.0, 15.0, 20.0, 30.0, 45.0, 60.0),
        max_length=LONGEST_RUN,
    )
    interval_days: tuple[float, ...] = asked(
        "Days from one run to the next",
        "positions",
        "Such as 1, 2, 3, 7; 0.5 is twice a day.",
        default=(1.0, 2.0, 3.0, 7.0),
        max_length=60,
    )
    starts: int = asked("Starts on one day, at the most", "count", "", default=1, ge=1, le=8)
    delay_days: tuple[float, ...] = asked(
        "Steps of its rain delay, in days",
        "positions",
        "Empty: it has none. 0.5 is twelve hours: pressed in the evening, they skip the next morning.",
        default=(),
        max_length=20,
    )
    outlets: int = asked("Valves in one body", "count", "", default=1, ge=1, le=12)
    battery_months: int = asked(
        "Months on one set of batteries", "count", "0 without.", default=6, ge=0, le=60
    )
    least_opening_head_m: float = asked(
        "Least head to open its valve",
        "head",
        "A ball turned by a motor: 0. A diaphragm: about {~5 m|head}.",
        default=0.0,
        ge=0,
        le=60,
    )
    loss_coefficient: float = asked(
        "How much its open valve holds back",
        "plain",
        "A ball valve: about 4. A diaphragm: about 30.",
        default=4.0,
        ge=0,
        le=500,
    )

    @model_validator(mode="after")
    def _can_be_set(self) -> Self:
        for places, what in ((self.run_minutes, "runs"), (self.interval_days, "days between runs")):
            if not places:
                raise refuse(
                    "positions-list-such",
                    "“{name}” has no positions: list its {what}, such as those printed round the dial.",
                    name=self.name,
                    what=what,
                )
            if min(places) <= 0 or any(b <= a for a, b in pairwise(places)):
                raise refuse(
                    "positions-rise",
                    "The {what} of “{name}” have to rise from more than nothing.",
                    what=what,
                    name=self.name,
                )
        if self.run_minutes[-1] > LONGEST_RUN:
            raise refuse(
                "run-longer-day",
                "“{name}” would run longer than a day: give minutes up to {longest_run}.",
                name=self.name,
                longest_run=LONGEST_RUN,
            )
        if min(self.delay_days, default=1) < SHORTEST_DELAY:
            raise refuse(
                "rain-delay-whole",
                "“{name}”: a rain delay is of half a day or of whole days, such as 0.5, 1, 2, 3.",
                name=self.name,
            )
        return self

    @property
    def kind(self) -> TimerKind:
        """The kind as those that ship are."""
        by_week = self.works_by in (WorksBy.WEEKDAYS, WorksBy.HAND)
        return TimerKind(
            self.id,
            self.name,
            "Your own description",
            "Described by you.",
            self.works_by,
            TimerPositions(self.run_minutes, self.interval_days, self.starts, by_week),
            tuple(sorted({ceil(d) for d in self.delay_days})),
            self.outlets,
            self.battery_months,
            self.least_opening_head_m,
            self.loss_coefficient,
        )


def find_timer(own: tuple[OwnTimer, ...], kind: str) -> TimerKind:
    """The kind called so: the owner's own, or one that ships."""
    for timer in own:
        if timer.id == kind:
            return timer.kind
    return catalogue.find(catalogue.timers(), kind)


def check_bodies(timers: tuple[Timer, ...], own: tuple[OwnTimer, ...]) -> None:
    """Refuse more valves in one body than it has, and a body within a body.

    Raises
    ------
    PydanticCustomError : with what to change.
    """
    by_id = {timer.id: timer for timer in timers}
    for timer in timers:
        members = [t for t in timers if t.body == timer.id]
        if timer.body is not None and by_id[timer.body].body is not None:
            raise refuse(
                "body-timer-itself",
                "“{timer}” is in one body with a timer that is itself in another's: name the first of "
                "them.",
                timer=timer.name,
            )
        outlets = find_timer(own, timer.kind).outlets
        if len(members) + 1 > outlets and members:
            raise refuse(
                "outlet-timers-body",
                "“{timer}” has {outlets} outlet{s}, and {members} timers are in its body: take one "
                "out, or choose another kind.",
                timer=timer.name,
                outlets=outlets,
                s="s" if outlets > 1 else "",
                members=len(members) + 1,
            )
