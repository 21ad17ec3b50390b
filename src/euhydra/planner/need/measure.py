"""The gardener's own measure, what they give a day now, beside what is asked."""

from euhydra.core.constants import LITRES_PER_CUBIC_METRE
from euhydra.garden.drinker import Drinker
from euhydra.garden.sentences import Amount, Sentence, Value, say
from euhydra.planner.dates import MONTH_NAMES

ENOUGH = 0.9
"""Share of what is asked that a gardener's measure passes with. [-] Our choice."""

LAVISH = 1.5
"""Share from which on it is too much. [-] Our choice."""


def own_measure(part: Drinker, month: int, asked: float) -> tuple[Sentence, ...]:
    """What is to be said of the measure in the thirstiest month; nothing if none is known.

    Parameters
    ----------
    asked : Litres of a day. [L d⁻¹]
    """
    if part.gives_m3 is None or asked <= 0:
        return ()
    share = part.gives_m3 * LITRES_PER_CUBIC_METRE / asked
    values: dict[str, Value] = {
        "given": Amount(part.gives_m3, "volume"),
        "month": MONTH_NAMES[month - 1],
        "asked": Amount.litres(asked),
    }
    if share < ENOUGH:
        return (
            say(
                "need-gives-less", "You give {given} a day now; {month} asks for {asked}.", **values
            ),
        )
    if share > LAVISH:
        return (
            say(
                "need-gives-more",
                "You give {given} a day now; {month}, the thirstiest month, asks for {asked} only.",
                **values,
            ),
        )
    return (
        say("need-gives-right", "You give {given} a day now; {month} asks for {asked}.", **values),
    )
