"""What leads on the settings: what to set the timer to now, or when to turn it on."""

from collections.abc import Callable
from datetime import date, timedelta

from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.dates import MONTH_NAMES, day_in_words, how_often
from euhydra.planner.time.answer import TimeAnswer
from euhydra.planner.time.programme import MONTHS

DAYS_AHEAD = 366
"""How far is looked for what grows next. [d]"""


def set_first(answer: TimeAnswer, today: date) -> Sentence | None:
    """What is set today, or when something grows next; None where nothing is, or another zone waters first."""
    if answer.stands_by:
        return None
    return _for_what_is_new(answer, today) or _of_months(answer, today.month)


def _for_what_is_new(answer: TimeAnswer, today: date) -> Sentence | None:
    """For what is planted now, or next where nothing grows before that."""
    new, needs = answer.programme.new, [bed.need for bed in answer.design.beds]
    first = _next_day(today, lambda day: any(need.grows_on(day) for need in needs))
    if new is None or first is None or not any(need.is_new_on(first) for need in needs):
        return None
    settled = _next_day(first, lambda day: not any(need.is_new_on(day) for need in needs))
    values: dict[str, Amount | str] = {
        "planted": day_in_words(first),
        "until": day_in_words(settled or first),
        "run": Amount.minutes(new.run_minutes),
        "often": how_often(new),
    }
    if first == today:
        return say(
            "time-set-while-new",
            "Until {until}, while what is planted is new, set it to {run}, {often}.",
            **values,
        )
    return say(
        "time-set-once-planted",
        "Leave it off until you plant on {planted}; then set it to {run}, {often}, until {until}.",
        **values,
    )


def _next_day(today: date, is_so: Callable[[date], bool]) -> date | None:
    """The first day from today on that it is so; None if none within a year."""
    days = (today + timedelta(days=ahead) for ahead in range(DAYS_AHEAD))
    return next(filter(is_so, days), None)


def _of_months(answer: TimeAnswer, month: int) -> Sentence | None:
    """What is set in a month, January being 1, or in the next that has a setting."""
    coming = [answer.months[(month - 1 + ahead) % MONTHS] for ahead in range(MONTHS)]
    first = next((each for each in coming if each.setting), None)
    if first is None or first.setting is None:
        return None
    position = first.setting.position
    values: dict[str, Amount | str] = {
        "month": MONTH_NAMES[first.month - 1],
        "run": Amount.minutes(position.run_minutes),
        "often": how_often(position),
    }
    if first.month == month:
        return say("time-set-now", "In {month} set it to {run}, {often}.", **values)
    return say(
        "time-set-later", "Leave it off until {month}; then set it to {run}, {often}.", **values
    )
