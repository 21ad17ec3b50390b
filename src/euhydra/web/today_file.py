"""What the garden wants this morning, put into its document."""

from math import isfinite

from euhydra.formats.today_json import (
    ActDocument,
    BeforeDocument,
    DueDocument,
    StoreDocument,
    TodayDocument,
)
from euhydra.garden.model import Garden
from euhydra.planner.today.answer import TodayAnswer


def today_document(answer: TodayAnswer, garden: Garden) -> TodayDocument:
    """As machines read it."""
    units = garden.units
    return TodayDocument(
        garden=garden.name,
        day=answer.day.isoformat(),
        summary=answer.verdict.summary.told(units),
        look=answer.look.told(units) if answer.look else None,
        acts=[
            ActDocument(
                zone=act.about,
                do=act.do.value,
                minutes=round(act.minutes, 1),
                days=act.days,
                litres=round(act.litres, 1),
                cans=round(act.cans, 1),
                dry_days=round(act.dry_days, 2),
                reason=act.reason.told(units),
                sure=act.sure.value,
                left=(round(act.left[0], 3), round(act.left[2], 3)),
            )
            for act in answer.acts
        ],
        stores=[
            StoreDocument(
                store=store.store_id,
                water_l=None if store.water is None else round(store.water, 1),
                capacity_l=round(store.capacity, 1),
                lasts_days=round(store.lasts, 1) if isfinite(store.lasts) else None,
                text=store.said.told(units),
            )
            for store in answer.stores
        ],
        before=[BeforeDocument(key=each.key, text=each.said.told(units)) for each in answer.before],
        due=[
            DueDocument(
                key=task.key, part=task.part_id, title=task.title, since=task.due.isoformat()
            )
            for task in answer.due
        ],
    )
