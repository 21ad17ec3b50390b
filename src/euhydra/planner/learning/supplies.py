"""What a tap's meter says: whether more runs than its timers and cans account for."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import timedelta

import numpy as np
from numpy.typing import NDArray

from euhydra.core import evidence
from euhydra.core.evidence import Mixed
from euhydra.planner.learning.claim import Claim, ClaimKind
from euhydra.planner.learning.explanations import SIZES
from euhydra.planner.learning.measured import LEAST_METERED, METER
from euhydra.planner.learning.tap_book import TapBook
from euhydra.planner.learning.zone_claims import LEAST_FALL, LEAST_LEAK

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


@dataclass(frozen=True)
class _Tried:
    """One explanation: what, of which zone (-1 for the tap), from and until which day, and what it would add."""

    kind: ClaimKind
    zone: int
    begin: int
    end: int | None
    adds: Floats
    prior: float


def tap_claims(book: TapBook) -> Iterator[Claim]:
    """Weigh whether a tap's water goes where the log says."""
    if len(book.intervals) < FEWEST_INTERVALS:
        return
    metered = [any(book.ran.of_kind("meter", zone.head_id)) for zone in book.zones]
    tried = list(_explanations(book, metered))
    posed = _posed(book, metered)
    none = evidence.fit(*posed)
    found = evidence.added(
        *posed,
        np.column_stack([t.adds for t in tried]),
        *np.array([SIZES[t.kind] for t in tried]).T,
    )
    chance = evidence.chances(
        [none.log_evidence, *found.log_evidence],
        [nothing_before(metered.count(False)), *(t.prior for t in tried)],
    )[1:]
    for kind, zone in dict.fromkeys((t.kind, t.zone) for t in tried):
        own = [k for k, t in enumerate(tried) if (t.kind, t.zone) == (kind, zone)]
        total = float(chance[own].sum())
        if total >= evidence.EARNED:
            size = Mixed.of(chance[own], found.mean[own], found.deviation[own])
            likely = tried[max(own, key=lambda k: chance[k])]
            yield from _claimed(book, likely, size, total)


def _posed(book: TapBook, metered: Sequence[bool]) -> tuple[Floats, Floats, Floats, Floats, Floats]:
    """Columns of what is told to be taken, what the meter has beside the cans, its noise; how sure each column is."""
    rows = book.intervals
    columns = [_between(rows, litres) for litres in book.drawn]
    used = np.array([litres for *_, litres in rows]) - _between(rows, book.cans)
    spread = [SPREAD_KNOWN if known else SPREAD for known in metered]
    untold = _between(rows, book.other)
    # What no timer tells: a hose that is moved, a second source, a store topped up.
    if book.other.sum() > 0:
        columns.append(untold)
        spread.append(UNTOLD)
    told = np.array(columns).reshape(len(columns), len(rows)).T
    noise = np.maximum(LEAST_METERED, METER * np.maximum(told.sum(axis=1), used))
    noise = np.hypot(noise, UNTOLD * np.maximum(untold, untold.mean()))
    noise = np.hypot(
        noise, book.lump
    )  # a store that a hand fills is filled in one week or in the next
    return told, used, noise, np.ones(len(columns)), np.array(spread)


def _between(rows: Sequence[tuple[int, int, float]], litres: Floats) -> Floats:
    """Of each interval. [L]"""
    return np.array([float(litres[a:b].sum()) for a, b, _ in rows])


def _explanations(book: TapBook, metered: Sequence[bool]) -> Iterator[_Tried]:
    rows = book.intervals
    windows = _windows(rows)
    for begin, end in windows:
        on = [max(0, min(b, end or b) - max(a, begin)) for a, b, _ in rows]
        prior = BEFORE_LEAK / len(windows)
        yield _Tried(ClaimKind.LEAK, -1, begin, end, np.array(on, dtype=float), prior)
    begins = sorted({begin for begin, _ in windows})
    for zone, is_metered in enumerate(metered):
        for begin in () if is_metered else begins:
            since = np.where(np.arange(len(book.drawn[zone])) >= begin, book.drawn[zone], 0.0)
            prior = BEFORE_SETTING / len(begins)
            yield _Tried(ClaimKind.SETTING, zone, begin, None, _between(rows, since), prior)


def _claimed(book: TapBook, likely: _Tried, size: Mixed, chance: float) -> Iterator[Claim]:
    """What is worth a word of an explanation that is likely."""
    tap, first = book.tap, book.ran.told.record.days[0].astype(object)
    since = first + timedelta(days=likely.begin)
    until = None if likely.end is None else first + timedelta(days=likely.end - 1)
    if likely.kind is ClaimKind.LEAK:
        if size.value > LEAST_LEAK and size.low > LEAST_LEAK / 2:
            sizes = size.value, size.low, size.high
            yield Claim(likely.kind, tap.id, tap.name, *sizes, since, until, chance)
    elif abs(size.value) >= LEAST_FALL:
        zone = book.zones[likely.zone]
        name = zone.zone.head.name if zone.zone.head else zone.zone.name
        shares = 1 + size.value, max(0.0, 1 + size.low), 1 + size.high
        yield Claim(likely.kind, zone.head_id, name, *shares, since, until, chance)


def nothing_before(zones: int) -> float:
    """Chance that neither the tap leaks nor any of so many timers runs otherwise, before anything is measured. [-]"""
    return float((1 - BEFORE_LEAK) * (1 - BEFORE_SETTING) ** zones)


def _windows(rows: Sequence[tuple[int, int, float]]) -> list[tuple[int, int | None]]:
    """Beginnings and ends that are tried; a leak that goes on has no end."""
    first, last = rows[0][0], rows[-1][1]
    days = range(first, last, EVERY_D)
    found: list[tuple[int, int | None]] = [(day, None) for day in days]
    found += [(a, b) for a in days for b in days if EVERY_D < b - a <= MOST_D]
    return found
