"""How a timer is to be set otherwise: what the plan has, beside what the log says it is set to."""

from collections.abc import Iterator, Sequence
from datetime import datetime

from euhydra.core.constants import SECONDS_PER_DAY
from euhydra.core.schedule import Position, Setting
from euhydra.garden.logbook import LogEntry
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.dates import MONTH_NAMES
from euhydra.planner.keeping.hindcast import BedTrack
from euhydra.planner.season.watering import Watered
from euhydra.planner.time.answer import MonthSetting, TimeAnswer

LIKE = 0.1
"""Share by which a setting may differ from the plan's and still be called the same. [-] Our choice."""


def last_change(
    log: Sequence[LogEntry], way: Watered, until: datetime | None = None
) -> LogEntry | None:
    """The latest setting of a bed's timer that is in the log, up to a moment."""
    head = way.time.zone.id if way.time is not None else ""
    changes = [
        e
        for e in log
        if e.kind == "setting" and e.part_id == head and (until is None or e.at <= until)
    ]
    return changes[-1] if changes else None


def set_otherwise(
    log: Sequence[LogEntry], track: BedTrack, at: datetime, day: int, is_more: bool
) -> Iterator[Sentence]:
    """What the plan would set in that month, beside what the log says it is set to."""
    way = track.way
    if way.time is None:
        litres = float(way.need.net_a_day.max()) * way.need.area_m2
        yield say(
            "keeping-hand-day-height",
            "By hand: {litres} a day at the height of the season.",
            litres=Amount.litres(litres),
        )
        return
    month = int(way.need.record.month[day])
    setting = way.time.months[month - 1].setting
    if setting is None:
        yield say(
            "keeping-plan-timer-month",
            "The plan has this timer off in this month: rain and soil carry it.",
        )
        near = _nearest_set(way.time, month)
        if is_more and near and near.setting:
            until_rain = "Until it rains, set it as in {month}"
            yield _as_set(until_rain, near.setting, MONTH_NAMES[near.month - 1])
        return
    position = setting.position
    yield _as_set("The plan for this month", setting)
    yield _next_setting(last_change(log, way, at), position, is_more)


def _nearest_set(time: TimeAnswer, month: int) -> MonthSetting | None:
    """The month nearest to one that is off, in which something is set; of two alike, the later."""
    by_distance = (n for away in range(1, 7) for n in (month + away, month - away))
    months = (time.months[(n - 1) % len(time.months)] for n in by_distance)
    return next((m for m in months if m.setting), None)


def _as_set(beginning: str, setting: Setting, month: str = "") -> Sentence:
    position = setting.position
    times = ", {times} times a day." if position.runs_a_day > 1 else "."
    return say(
        "keeping-set-as-planned",
        beginning + ": {run}, every {every}" + times,
        month=month,
        run=Amount.minutes(position.run_minutes),
        every=f"{position.mean_days:g} day{'s' if position.mean_days != 1 else ''}",
        times=position.runs_a_day,
    )


def _next_setting(changed: LogEntry | None, planned: Position, is_more: bool) -> Sentence:
    """From what it is set to, to what it is to be set to."""
    step = "go one step of the dial {way}, and feel again in three days."
    way = "further" if is_more else "back"
    if changed is None:
        return say("keeping-one-step", "If that is what it is set to, " + step, way=way)
    run, every = changed.amounts[0] or 0.0, changed.amounts[1] or SECONDS_PER_DAY
    a_day = run * SECONDS_PER_DAY / every
    wanted = planned.run_minutes * 60 * planned.runs_a_day / planned.mean_days
    is_behind = a_day < wanted * (1 - LIKE) if is_more else a_day > wanted * (1 + LIKE)
    return say(
        "keeping-set-as-planned-now" if is_behind else "keeping-one-step",
        "It is set to {run}, every {every}: "
        + ("set it as planned, and feel again in three days." if is_behind else step),
        way=way,
        run=Amount(run, "minutes"),
        every=Amount(every, "days"),
    )
