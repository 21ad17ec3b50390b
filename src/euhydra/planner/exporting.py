"""The programme told month by month, for a table or a calendar."""

from collections.abc import Sequence
from dataclasses import dataclass

from euhydra.core.schedule import Position
from euhydra.planner import dayplan
from euhydra.planner.timing import TimeAnswer


@dataclass(frozen=True)
class MonthOrder:
    """One timer's orders for one month; `position` is None where it is off.

    starts : When its runs begin. [s]
    litres_a_run : [L]
    """

    answer: TimeAnswer
    month: int
    position: Position | None
    starts: tuple[float, ...]
    litres_a_run: float


def month_orders(answers: Sequence[TimeAnswer]) -> list[MonthOrder]:
    """Orders of every timer, timer by timer, January first."""
    plans = [dayplan.plan_day(answers, month) for month in range(1, 13)]
    return [
        MonthOrder(
            answer, month, m.setting.position if m.setting else None,
            tuple(plans[month - 1].starts_of(answer.zone)) if m.setting else (),
            m.setting.litres_a_run if m.setting else 0.0,
        )
        for answer in answers
        for month, m in enumerate(answer.months, 1)
    ]  # fmt: skip
