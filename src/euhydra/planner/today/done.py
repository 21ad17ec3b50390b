"""What was done this morning, against what the morning asks."""

from euhydra.core.constants import LITRES_PER_CUBIC_METRE, SECONDS_PER_DAY, SECONDS_PER_MINUTE
from euhydra.planner.today.acts import MorningAct
from euhydra.planner.today.choosing import Do

ENOUGH = 0.9
"""Share of what is asked from which on it is done: nobody stands beside the valve with a clock. [-] Our choice."""


def is_done(act: MorningAct, amount: float) -> bool:
    """Whether what was done this morning is what is asked now: that may have grown since.

    Parameters
    ----------
    amount : As the log has it: of a run, a pause or a setting [s], of cans [m³].
    """
    return amount >= ENOUGH * _asked(act)


def _asked(act: MorningAct) -> float:
    if act.do is Do.PAUSE:
        return act.days * SECONDS_PER_DAY
    if act.head_id is not None and act.do in (Do.BY_HAND, Do.TURN):
        return act.minutes * SECONDS_PER_MINUTE
    return act.litres / LITRES_PER_CUBIC_METRE
