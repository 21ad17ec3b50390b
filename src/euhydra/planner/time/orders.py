"""The programme told month by month, for a table or a calendar."""

from collections.abc import Sequence
from dataclasses import dataclass

from euhydra.core.schedule import Position
from euhydra.planner.time import dayplan
from euhydra.planner.time.answer import MonthSetting, TimeAnswer
from euhydra.planner.time.dayplan import DayPlan

NEW_PLANTS = 0
"""Stands for a month in orders for new plants."""


@dataclass(frozen=True)
class MonthOrder:
    """One timer's orders for one month, or (month 0) for new plants; `position` is None where off.

    starts : When its runs begin. [s]
    litres_a_run : [L]
    """

    answer: TimeAnswer
    month: int
    position: Position | None
    starts: tuple[float, ...]
    litres_a_run: float


def month_orders(answers: Sequence[TimeAnswer]) -> list[MonthOrder]:
    """Orders of every timer, timer by timer: for new plants, then by month."""
    plans = [dayplan.plan_day(answers, month) for month in range(1, 13)]
    orders: list[MonthOrder] = []
    for answer in answers:
        new = answer.programme.new
        if new is not None:
            slot = dayplan.lone_slot(answer, new.run_minutes, answer.design.lowest_while_new)
            orders.append(MonthOrder(answer, NEW_PLANTS, new, (slot.start,), slot.litres))
        orders += [_order(answer, m, plans[m.month - 1]) for m in answer.months]
    return orders


def _order(answer: TimeAnswer, month: MonthSetting, plan: DayPlan) -> MonthOrder:
    setting = month.setting
    if setting is None:
        return MonthOrder(answer, month.month, None, (), 0.0)
    starts = tuple(plan.starts_of(answer.zone))
    return MonthOrder(answer, month.month, setting.position, starts, setting.litres_a_run)
