"""What a tap's meter says: whether more runs than its timers and cans account for."""

from collections.abc import Iterator, Mapping
from datetime import timedelta
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from euhydra.core import evidence
from euhydra.core.constants import LITRES_PER_CUBIC_METRE
from euhydra.core.evidence import Mixed
from euhydra.garden.sources import Tap
from euhydra.planner.learning.claim import Claim, ClaimKind
from euhydra.planner.learning.explanations import SIZES
from euhydra.planner.learning.flows import LEAST_FALL, LEAST_LEAK, ZoneFlow, drawn_by
from euhydra.planner.learning.measured import LEAST_METERED, METER
from euhydra.planner.learning.ran import Ran, ZoneRan

Floats = NDArray[np.float64]

SPREAD, SPREAD_KNOWN = 0.08, 0.03
"""How far what runs may lie from the plan's, and what is metered at the timer too. [-] Our choice."""

UNTOLD = 0.5
"""How far what only the plan tells of may lie from it. [-] Our choice."""

BEFORE_LEAK, BEFORE_SETTING = 0.07, 0.05
"""Chance of either in a season before anything is measured. [-] Our choice."""

EVERY_D, MOST_D = 2, 30
"""Days from one beginning that is tried to the next, and the longest that a leak is tried to have lasted."""

FEWEST_INTERVALS = 3
"""Intervals between readings from which on anything is claimed. Our choice."""


def tap_claims(ran: Ran, flows: Mapping[str, ZoneFlow], tap: Tap) -> Iterator[Claim]:
    """Weigh whether a tap's water goes where the log says."""
    told = ran.told
    rows = list(_intervals(ran, tap))
    zones = [z for z in ran.zones if z.zone.source.id == tap.id and z.is_timed]
    if len(rows) < FEWEST_INTERVALS:
        return
    by_zone = [drawn_by(flows[z.zone.id], z.litres(told.record.month)) for z in zones]
    cans = np.zeros(len(told.record.days))
    for part in told.chain.garden.planted:
        if _from_here(part, tap):
            cans = cans + ran.cans(part.id)
    columns = np.array([[each[a:b].sum() for each in by_zone] for a, b, _ in rows]).reshape(
        len(rows), len(zones)
    )
    given = np.array([cans[a:b].sum() for a, b, _ in rows])
    used = np.array([litres for *_, litres in rows]) - given
    other = _by_plan(ran, tap, zones)
    # What no timer tells: a hose that is moved, a second source, a store topped up.
    if other.sum() > 0:
        columns = np.column_stack([columns, [other[a:b].sum() for a, b, _ in rows]])
    noise = np.maximum(LEAST_METERED, METER * np.maximum(columns.sum(axis=1), used))
    metered = [any(ran.of_kind("meter", zone.head_id)) for zone in zones]
    untold = np.array([other[a:b].sum() for a, b, _ in rows])
    noise = np.hypot(noise, UNTOLD * np.maximum(untold, untold.mean()))
    spread = np.array([SPREAD_KNOWN if known else SPREAD for known in metered])
    spread = np.append(spread, [UNTOLD] * (columns.shape[1] - len(zones)))

    windows = _windows(rows)
    tried: list[tuple[ClaimKind, int, int, int | None, Floats, float]] = []
    for begin, end in windows:
        on = [max(0, min(b, end or b) - max(a, begin)) for a, b, _ in rows]
        column = np.array(on, dtype=float)
        tried.append((ClaimKind.LEAK, -1, begin, end, column, BEFORE_LEAK / len(windows)))
    begins = sorted({begin for begin, _ in windows})
    for place in range(len(zones)):
        if metered[place]:
            continue
        for begin in begins:
            on = [by_zone[place][max(a, begin) : max(b, begin)].sum() for a, b, _ in rows]
            prior = BEFORE_SETTING / len(begins)
            tried.append((ClaimKind.SETTING, place, begin, None, np.array(on), prior))
    posed = (columns, used, noise, np.ones(columns.shape[1]), spread)
    none = evidence.fit(*posed)
    found = evidence.added(
        *posed,
        np.column_stack([column for *_, column, _ in tried]),
        *np.array([SIZES[kind] for kind, *_ in tried]).T,
    )
    chance = evidence.chances(
        [none.log_evidence, *found.log_evidence],
        [nothing_before(metered.count(False)), *(t[-1] for t in tried)],
    )[1:]
    first = told.record.days[0].astype(object)
    for kind, place in dict.fromkeys((t[0], t[1]) for t in tried):
        own = [k for k, t in enumerate(tried) if (t[0], t[1]) == (kind, place)]
        total = float(chance[own].sum())
        if total < evidence.EARNED:
            continue
        size = Mixed.of(chance[own], found.mean[own], found.deviation[own])
        top = max(own, key=lambda k: chance[k])
        since = first + timedelta(days=tried[top][2])
        end = tried[top][3]
        until = None if end is None else first + timedelta(days=end - 1)
        if kind is ClaimKind.LEAK and size.value > LEAST_LEAK and size.low > LEAST_LEAK / 2:
            yield Claim(
                kind, tap.id, tap.name, size.value, size.low, size.high, since, until, total
            )
        if kind is ClaimKind.SETTING and abs(size.value) >= LEAST_FALL:
            head = zones[place].zone.head
            name = head.name if head else zones[place].zone.name
            value, low, high = 1 + size.value, max(0.0, 1 + size.low), 1 + size.high
            yield Claim(kind, zones[place].head_id, name, value, low, high, since, until, total)


def nothing_before(zones: int) -> float:
    """Chance that neither the tap leaks nor any of so many timers runs otherwise, before anything is measured. [-]"""
    return float((1 - BEFORE_LEAK) * (1 - BEFORE_SETTING) ** zones)


def _by_plan(ran: Ran, tap: Tap, zones: list[ZoneRan]) -> Floats:
    """What the plan takes from a tap beside those zones: for beds with another source first, and to top up. [L]"""
    season = ran.told.season
    own = {place for zone in zones for place in zone.ways}
    taps = {i for i, part in enumerate(season.supplies) if part.id == tap.id}
    taken = np.zeros(len(ran.told.record.days))
    for place, watering in enumerate(season.works.waterings):
        for source, litres in zip(watering.sources, season.run.given[place], strict=True):
            if place not in own and isinstance(source, int) and source in taps:
                taken = taken + litres
    for top_up, litres in zip(season.works.top_ups, season.run.topped, strict=True):
        if top_up.supply in taps:
            taken = taken + litres
    return taken


def _from_here(part: object, tap: Tap) -> bool:
    by_hand = getattr(part, "hand_from", None)
    return by_hand == tap.id or (by_hand is None and tap.id in getattr(part, "sources", ()))


def _intervals(ran: Ran, tap: Tap) -> Iterator[tuple[int, int, float]]:
    """First day, day after the last, and litres between two readings of the tap's meter."""
    readings = ran.of_kind("meter", tap.id)
    for (_, before), (_, after) in pairwise(readings):
        first, last = ran.next_run(before.at), ran.next_run(after.at)
        if after.word == "new" or last <= first:
            continue
        used = (after.amounts[0] or 0.0) - (before.amounts[0] or 0.0)
        yield first, last, used * LITRES_PER_CUBIC_METRE


def _windows(rows: list[tuple[int, int, float]]) -> list[tuple[int, int | None]]:
    """Beginnings and ends that are tried; a leak that goes on has no end."""
    first, last = rows[0][0], rows[-1][1]
    days = range(first, last, EVERY_D)
    found: list[tuple[int, int | None]] = [(day, None) for day in days]
    found += [(a, b) for a in days for b in days if EVERY_D < b - a <= MOST_D]
    return found
