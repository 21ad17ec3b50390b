"""What leads on the settings: what to set the timer to now, or when to turn it on."""

from collections.abc import Callable
from datetime import date, timedelta

from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.dates import MONTH_NAMES, day_in_words, how_often
from euhydra.planner.time.answer import TimeAnswer

DAYS_AHEAD = 366
"""How far is looked for what grows next. [d]"""


def set_first(answer: TimeAnswer, today: date) -> Sentence | None:
    """What is set today, or on the next day with a setting; None where nothing is, or another zone waters first."""
    if answer.stands_by:
        return None
    needs = [bed.need for bed in answer.design.beds]

    def is_new(day: date) -> bool:
        return answer.programme.new is not None and any(need.is_new_on(day) for need in needs)

    def is_set(day: date) -> bool:
        has_setting = answer.months[day.month - 1].setting is not None
        return is_new(day) or (has_setting and any(need.grows_on(day) for need in needs))

    first = _next_day(today, is_set)
    if first is None:
        return None
    if is_new(first):
        settled = _next_day(first, lambda day: not is_new(day))
        return _for_what_is_new(answer, first, settled or first, is_now=first == today)
    return _of_month(answer, first.month, is_now=first.month == today.month)


def _next_day(today: date, is_so: Callable[[date], bool]) -> date | None:
    """The first day from today on that it is so; None if none within a year."""
    days = (today + timedelta(days=ahead) for ahead in range(DAYS_AHEAD))
    return next(filter(is_so, days), None)


def _for_what_is_new(answer: TimeAnswer, planted: date, settled: date, *, is_now: bool) -> Sentence:
    new = answer.programme.new
    assert new is not None
    values: dict[str, Amount | str] = {
        "planted": day_in_words(planted),
        "until": day_in_words(settled),
        "run": Amount.minutes(new.run_minutes),
        "often": how_often(new),
    }
    if is_now:
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


def _of_month(answer: TimeAnswer, month: int, *, is_now: bool) -> Sentence:
    setting = answer.months[month - 1].setting
    assert setting is not None
    values: dict[str, Amount | str] = {
        "month": MONTH_NAMES[month - 1],
        "run": Amount.minutes(setting.position.run_minutes),
        "often": how_often(setting.position),
    }
    if is_now:
        return say("time-set-now", "In {month} set it to {run}, {often}.", **values)
    return say(
        "time-set-later", "Leave it off until {month}; then set it to {run}, {often}.", **values
    )
