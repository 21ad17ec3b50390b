"""What each store holds this morning, and what it wants: to be used, filled, moved on, or gone easy on."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from euhydra.core.constants import MM_PER_M, SECONDS_PER_DAY
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.garden.stores import Store
from euhydra.planner.answers import Gap
from euhydra.planner.dates import MONTH_NAMES
from euhydra.planner.learning.stores import StoreTold
from euhydra.planner.today.morning import Morning

SOON_EMPTY_D = 7.0
"""Days under which a store is gone easy on. [d] Our choice."""

UNSURE = 0.15
"""Of what a store holds, from which deviation on it is to be dipped. [-] Our choice."""

WORTH_USING = 0.1
"""Of what it holds, from which on water that would spill is worth a word. [-] Our choice."""

DRAWN_OVER_D = 14
"""Days whose draws tell how fast it empties. [d]"""

SOON_D = 2
"""Days ahead whose rain something is done about. [d] Common practice: today and tomorrow."""


@dataclass(frozen=True)
class StoreNow:
    """A store this morning.

    water, capacity : None for water that nothing tells of. [L]
    lasts : Days at the pace of the last two weeks; infinite where nothing is drawn, or its water is not known. [d]
    said : What it holds, and what it wants.
    """

    store_id: str
    name: str
    water: float | None
    capacity: float
    lasts: float
    said: Sentence


def stores_now(morning: Morning) -> Iterator[StoreNow]:
    """Every store, those linked at the bottom as one."""
    for tank, store in enumerate(morning.learned.stores):
        if not morning.learned.knows(store):
            yield _not_known(store)
            continue
        water = float(store.water[-1])
        pace = float(store.drawn[-DRAWN_OVER_D:].mean())
        dead = morning.learned.told.season.works.tanks[tank].dead
        lasts = store.filled * (store.capacity - dead) / pace if pace > 0.1 else float("inf")
        said = _said(morning, tank, store, lasts)
        yield StoreNow(store.group.id, store.group.name, water, store.capacity, lasts, said)


def _not_known(store: StoreTold) -> StoreNow:
    """Where neither rain nor a dip is written down."""
    said = say(
        "today-store-not-known",
        "What “{name}” holds is not known: no rain and no dip of late is written down. Dip it.",
        name=store.group.name,
    )
    return StoreNow(store.group.id, store.group.name, None, store.capacity, float("inf"), said)


def _said(morning: Morning, tank: int, store: StoreTold, lasts: float) -> Sentence:
    water = float(store.water[-1])
    values: dict[str, Amount | str] = {"name": store.group.name, "water": Amount.litres(water)}
    if store.deviation > UNSURE * store.capacity:
        return say(
            "today-store-dip-it",
            "“{name}” should hold {water}, give or take {band}: dip it, nothing would tell more.",
            band=Amount.litres(store.deviation),
            **values,
        )
    spills = _spills(morning, tank, water)
    wanted = _moved(morning, store, values) or _filled_up(morning, store, values)
    if wanted is not None:
        return wanted
    worth = WORTH_USING * store.capacity
    if spills > worth > water - morning.learned.told.season.works.tanks[tank].dead:
        return say(
            "today-store-fills-and-spills",
            "“{name}” holds {water}. The coming rain would fill it, and some {spills} more would spill: lead it on.",
            spills=Amount.litres(spills),
            **values,
        )
    if lasts < SOON_EMPTY_D:
        return _go_easy(morning, tank, lasts, values)
    if spills > worth:
        return say(
            "today-store-will-spill",
            "“{name}” holds {water}, and some {spills} of the coming rain would spill: use it, or lead it on.",
            spills=Amount.litres(spills),
            **values,
        )
    return say("today-store-holds", "“{name}” holds {water}.", **values)


def _moved(morning: Morning, store: StoreTold, values: dict[str, Amount | str]) -> Sentence | None:
    """Into its reserve before much rain, so that it has room for it."""
    ahead = morning.ahead
    fell = np.where(np.isnan(ahead.rain), morning.many.precip[ahead.index], ahead.rain)
    for part in store.group.stores:
        reserve = _named(morning, part.moves_to)
        if reserve is None or reserve.id in {own.id for own in store.group.stores}:
            continue
        much = fell[:SOON_D] >= part.moves_before_m * MM_PER_M
        if much.any(axis=0).mean() > 0.5:
            return say(
                "today-store-move-on",
                "“{name}” holds {water}: move it into “{reserve}” before the rain, it has room for it then.",
                reserve=reserve.name,
                **values,
            )
    return None


def _filled_up(
    morning: Morning, store: StoreTold, values: dict[str, Amount | str]
) -> Sentence | None:
    """From a tap, where somebody does that by hand and it stands low."""
    taps = {tap.id: tap.name for tap in morning.learned.told.chain.garden.taps}
    for part in store.group.stores:
        by_hand = part.topped_by in taps and part.top_up_every_d is not None
        if by_hand and float(store.water[-1]) < part.top_up_below * store.capacity:
            return say(
                "today-store-fill-up",
                "“{name}” holds {water}: fill it up to {level} from “{tap}”, the hose's end above the rim.",
                level=Amount(part.top_up_to, "share"),
                tap=taps[part.topped_by or ""],
                **values,
            )
    return None


def _named(morning: Morning, store_id: str | None) -> Store | None:
    stores = morning.learned.told.chain.garden.stores
    return next((store for store in stores if store.id == store_id), None)


def _go_easy(
    morning: Morning, tank: int, lasts: float, values: dict[str, Amount | str]
) -> Sentence:
    month = _fills_again(morning, tank)
    days = Amount(lasts * SECONDS_PER_DAY, "days")
    if month is None:
        return say(
            "today-store-go-easy",
            "“{name}” holds {water}: {days} at the pace of the last two weeks. Water by hand what suffers first.",
            days=days,
            **values,
        )
    return say(
        "today-store-go-easy-until",
        "“{name}” holds {water}: {days} at the pace of the last two weeks. Go easy until {month}, when rain usually"
        " brings more than is drawn, and water by hand what suffers first.",
        days=days,
        month=MONTH_NAMES[month - 1],
        **values,
    )


def _fills_again(morning: Morning, tank: int) -> int | None:
    """The next month in which usual rain brings more than is drawn; None where none does, or this one."""
    season = morning.learned.told.chain.season
    if isinstance(season, Gap):
        return None
    month = season.record.month
    came = np.bincount(month, season.run.arrived[tank], 13)
    drawn = np.bincount(month, season.run.drawn_from(tank), 13)
    now = morning.ahead.today.month
    coming = [(now + n - 1) % 12 + 1 for n in range(12)]
    gains = [month for month in coming if came[month] > drawn[month]]
    return gains[0] if gains and gains[0] != now else None


def _spills(morning: Morning, tank: int, water: float) -> float:
    """What would spill in the coming days, mean of all years, were nothing drawn. [L]"""
    capacity = morning.learned.told.season.works.tanks[tank].capacity
    return float(np.maximum(morning.comes(tank) - (capacity - water), 0.0).mean())
