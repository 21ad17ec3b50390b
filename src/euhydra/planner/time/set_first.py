"""What leads on the settings: what to set the timer to now, or when to turn it on."""

from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.dates import MONTH_NAMES, how_often
from euhydra.planner.time.answer import TimeAnswer
from euhydra.planner.time.programme import MONTHS


def set_first(answer: TimeAnswer, month: int) -> Sentence | None:
    """What is set in a month, or in the next that has a setting; None where none has, or another zone waters first.

    Parameters
    ----------
    month : Of the year, January being 1.
    """
    coming = [answer.months[(month - 1 + ahead) % MONTHS] for ahead in range(MONTHS)]
    first = next((each for each in coming if each.setting), None)
    if first is None or first.setting is None or answer.stands_by:
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
