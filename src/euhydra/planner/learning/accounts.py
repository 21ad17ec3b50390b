"""Metered against summed: where the difference between a meter and the settings in the log comes from."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np
from numpy.typing import NDArray

from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.dates import day_in_words
from euhydra.planner.learning.answer import Learned
from euhydra.planner.learning.claim import Claim, ClaimKind
from euhydra.planner.learning.flows import ZoneFlow
from euhydra.planner.learning.tap_book import TapBook

Floats = NDArray[np.float64]

AGREES = 0.05
"""Share of a meter's count within which sums agree with it. [-] Our choice: what a meter of a garden is good for."""


@dataclass(frozen=True)
class MeterAccount:
    """A meter between its first and its last reading of the year. [L]

    summed : By the settings, cans and top-ups of the log, were lines to give what the plan has them give.
    leaked : What the log shows to have leaked behind it.
    by_lines : What lines, filters and dials give otherwise than the plan, by buckets, cups and timers' meters.
    """

    part_id: str
    name: str
    first: date
    last: date
    metered: float
    summed: float
    leaked: float
    by_lines: float

    @property
    def rest(self) -> float:
        """What nothing in the log explains. [L]"""
        return self.metered - self.summed - self.leaked - self.by_lines

    @property
    def said(self) -> tuple[Sentence, ...]:
        """The difference, and where it comes from."""
        return tuple(self._said())

    def _said(self) -> Iterator[Sentence]:
        yield say(
            "account",
            "“{name}”, {first} to {last}: {metered} by its meter, {summed} by the settings and cans in the log.",
            name=self.name,
            first=day_in_words(self.first),
            last=day_in_words(self.last),
            metered=Amount.litres(self.metered),
            summed=Amount.litres(self.summed),
        )
        worth = AGREES * max(self.metered, self.summed)
        if abs(self.metered - self.summed) <= worth:
            return
        if abs(self.leaked) > worth / 2:
            yield say(
                "account-leak", "{litres} leaked, as the log shows.", litres=_litres(self.leaked)
            )
        if self.by_lines < -worth / 2:
            yield say(
                "account-lines-less",
                "{litres} less came out of its lines than the plan has them give.",
                litres=_litres(self.by_lines),
            )
        elif self.by_lines > worth / 2:
            yield say(
                "account-lines-more",
                "{litres} more came out of its lines than the plan has them give.",
                litres=_litres(self.by_lines),
            )
        if self.rest > worth:
            yield say(
                "account-rest-more",
                "{litres} more are not explained: a hose, a can or a leak that is not in the log.",
                litres=_litres(self.rest),
            )
        elif self.rest < -worth:
            yield say(
                "account-rest-less",
                "{litres} less are not explained: a run left out, a clog or a dial that nobody measured.",
                litres=_litres(self.rest),
            )


def accounts(learned: Learned) -> tuple[MeterAccount, ...]:
    """Every meter of a tap, and of a timer that has its own, read twice at least."""
    of_taps = (_of_tap(learned, book) for book in learned.taps if book.intervals)
    of_zones = (_of_zone(learned, flow) for flow in learned.flows if flow.metered)
    return (*of_taps, *of_zones)


def _of_tap(learned: Learned, book: TapBook) -> MeterAccount:
    summed = sum(book.as_set, book.cans + book.other)
    by_lines = leaked = np.zeros(len(summed))
    for zone, as_set in zip(book.zones, book.as_set, strict=True):
        flow = book.flows[zone.zone.id]
        by_lines = by_lines + as_set * (flow.factor - 1 + _dial(learned, flow))
        leaked = leaked + flow.leak
    for claim in _claims(learned, ClaimKind.LEAK, book.tap.id):
        leaked = leaked + claim.value * _while(learned, claim)
    return _account(learned, book.tap.id, book.tap.name, book.intervals, (summed, leaked, by_lines))


def _of_zone(learned: Learned, flow: ZoneFlow) -> MeterAccount:
    litres = flow.ran.litres(learned.told.record.month)
    head = flow.ran.zone.head
    return _account(
        learned,
        flow.ran.head_id,
        head.name if head else flow.ran.zone.name,
        flow.metered,
        (litres, flow.leak, litres * (flow.factor - 1)),
    )


def _account(
    learned: Learned,
    part_id: str,
    name: str,
    intervals: Sequence[tuple[int, int, float]],
    litres: tuple[Floats, Floats, Floats],
) -> MeterAccount:
    on = _within(learned, intervals)
    begin: date = learned.told.record.days[0].astype(object)
    return MeterAccount(
        part_id,
        name,
        begin + timedelta(days=intervals[0][0]),
        begin + timedelta(days=intervals[-1][1] - 1),
        sum(used for *_, used in intervals),
        *(float(series[on].sum()) for series in litres),
    )


def _within(learned: Learned, intervals: Sequence[tuple[int, int, float]]) -> NDArray[np.bool_]:
    """Days between readings: a meter that was changed leaves a gap."""
    on = np.zeros(len(learned.told.record.days), dtype=bool)
    for first, last, _ in intervals:
        on[first:last] = True
    return on


def _dial(learned: Learned, flow: ZoneFlow) -> Floats:
    """How far a timer ran otherwise than set, where only the tap's meter shows it. [-]"""
    off = np.zeros(len(learned.told.record.days))
    if np.any(flow.setting != 1.0):
        return off
    for claim in _claims(learned, ClaimKind.SETTING, flow.ran.head_id):
        off = off + (claim.value - 1) * _while(learned, claim)
    return off


def _claims(learned: Learned, kind: ClaimKind, part_id: str) -> Iterator[Claim]:
    return (c for c in learned.claims if c.kind is kind and c.part_id == part_id)


def _while(learned: Learned, claim: Claim) -> Floats:
    """1 on the days of a claim."""
    days = np.arange(len(learned.told.record.days))
    first = learned.told.day(claim.since) if claim.since else 0
    last = learned.told.day(claim.until) if claim.until else len(days) - 1
    return ((days >= first) & (days <= last)).astype(float)


def _litres(value: float) -> Amount:
    return Amount.litres(abs(value))
