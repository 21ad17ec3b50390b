"""How well a plan foresees the dips of a month that nobody has dipped yet: as it was, and with what was learned."""

from collections.abc import Sequence
from datetime import date, datetime, time, timedelta

import numpy as np

from euhydra.garden.logbook import LogEntry
from euhydra.planner.chain import Chain, run_chain
from euhydra.planner.learning import taking_over
from euhydra.planner.learning.answer import Learned, learn
from euhydra.planner.learning.stores import StoreTold

TOLD = ("rain", "setting", "watered")
"""What is known of the month: its rain, and what was done."""


def taught(chain: Chain, log: Sequence[LogEntry], today: date) -> Chain:
    """The plan with everything taken over that the log shows by a day."""
    garden = chain.garden
    found = learn(chain, log, today)
    assert isinstance(found, Learned)
    for claim in found.claims:
        if taking_over.can_be_taken_over(claim):
            garden = taking_over.taken_over(garden, claim)
    return run_chain(garden, chain.record)


def error_of(chain: Chain, log: Sequence[LogEntry], first: date, last: date) -> float:
    """Root mean square of what a plan has in its stores beside the dips of a month. [L]

    It begins with the water that all dips before the month tell of together, and is told of no later one.
    """
    before = [e for e in log if e.at.date() < first]
    begun = learn(chain, before, first - timedelta(days=1))
    assert isinstance(begun, Learned)
    known = [e for e in log if e.kind in TOLD] + [_dipped(store, first) for store in begun.stores]
    found = learn(chain, sorted(known, key=lambda e: e.at), last)
    assert isinstance(found, Learned)
    off = []
    for store in found.stores:
        stores = {part.id: part for part in store.group.stores}
        for dip in log:
            if dip.kind == "dip" and dip.part_id in stores and first <= dip.at.date() <= last:
                height = stores[dip.part_id].base_m + dip.amounts[0]
                day = found.told.day(dip.at - timedelta(hours=12))
                off.append(float(store.water[day]) / 1000 - store.group.level.volume_at(height))
    assert off
    return float(np.sqrt(np.mean(np.square(off)))) * 1000


def _dipped(store: StoreTold, first: date) -> LogEntry:
    """What a stick would have found on the morning of the first day. [m]"""
    part = store.group.stores[0]
    heights = np.linspace(0.0, part.height_m, 500)
    volumes = [store.group.level.volume_at(part.base_m + height) for height in heights]
    height = float(np.interp(store.water[-1] / 1000, volumes, heights))
    return LogEntry("dip", datetime.combine(first, time(7)), part.id, (height,))
