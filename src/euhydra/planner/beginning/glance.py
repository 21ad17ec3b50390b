"""What a garden in the making answers, in a few figures: the same that its stations show."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Self

import numpy as np

from euhydra.garden.model import Garden
from euhydra.garden.sentences import Amount
from euhydra.planner.answers import Gap
from euhydra.planner.chain import Chain, ChainBegun, ZoneChain, ways_of
from euhydra.planner.dates import MONTH_NAMES
from euhydra.planner.judgement.answer import Judgement
from euhydra.planner.judgement.finding import Finding
from euhydra.planner.need.answer import peaks_of
from euhydra.planner.need.daily import Need
from euhydra.planner.push.answer import PushAnswer
from euhydra.planner.store.answer import GroupAnswer
from euhydra.planner.time.answer import MonthSetting, TimeAnswer

LASTS = "Full, it lasts without rain"
ON_TIMER = "On the timer"
"""Labels of what takes longer to work out."""

CANS = "Cans a day, when it is driest"
"""Label of what is carried where nothing is piped."""


@dataclass(frozen=True)
class Glance:
    """Figures with their labels, in the order of the water; the hardest month's setting; what is found first.

    hardest : None where no timer is set.
    first : None where nothing is wrong.
    awaited : Labels of figures that are still worked out; nothing of them is known, nor what is found.
    """

    figures: tuple[tuple[str, Amount], ...]
    hardest: MonthSetting | None
    first: Finding | None
    awaited: tuple[str, ...] = ()


@dataclass(frozen=True)
class Addition:
    """What is looked at where something is added to a garden that is there.

    ids : Of the parts that are new.
    feed : Id of the source that was there and feeds them; "" where they have their own.
    """

    ids: frozenset[str]
    feed: str = ""

    @classmethod
    def to(cls, base: Garden, garden: Garden, feed: str = "") -> Self:
        """What a garden has that the one before had not."""
        there = {part.id for part in base.parts}
        return cls(frozenset(part.id for part in garden.parts if part.id not in there), feed)


def glance_at(judged: Judgement, added: Addition | None = None) -> Glance:
    """The figures of a garden at a glance, or of what is added to one."""
    view = _View(judged.chain, added)
    return Glance(
        tuple(view.figures()), view.hardest(), next(filter(view.concerns, judged.findings), None)
    )


def soon_at(begun: ChainBegun, added: Addition | None = None) -> Glance:
    """The figures that are soon worked out, and the names of those that come after them."""
    view = _View(begun.first_answers, added)
    awaited = [LASTS] if any(view.is_drawn_from(s.id) for s in begun.garden.stores) else []
    awaited += [ON_TIMER] if any(view.is_new(timer.id) for timer in begun.garden.timers) else []
    return Glance(tuple(view.figures()), None, None, tuple(awaited))


@dataclass(frozen=True)
class _View:
    chain: Chain
    added: Addition | None

    def is_new(self, part_id: str) -> bool:
        """Whether a part is among what is looked at."""
        return self.added is None or part_id in self.added.ids

    def is_drawn_from(self, source_id: str) -> bool:
        """Whether a source is new, or feeds what is new."""
        return self.is_new(source_id) or (self.added is not None and source_id == self.added.feed)

    def concerns(self, finding: Finding) -> bool:
        """Whether a finding is about what is looked at."""
        return self.added is None or any(map(self.is_drawn_from, (*finding.parts, finding.about)))

    @property
    def zones(self) -> list[ZoneChain]:
        """Those that water what is looked at."""
        return [z for z in self.chain.zones if any(self.is_new(p.id) for p in z.zone.watered)]

    def figures(self) -> Iterator[tuple[str, Amount]]:
        """In the order of the water."""
        chain = self.chain
        new_roofs = [self.is_new(roof.id) for roof in chain.garden.roofs]
        if not isinstance(chain.catch, Gap) and any(new_roofs):
            label = "The roof brings, a year" if all(new_roofs) else "All roofs bring, a year"
            yield label, chain.catch.year.amount
        drums = [drum for drum in chain.garden.greywaters if self.is_new(drum.id)]
        washing = sum(sum(drum.week_m3) for drum in drums)
        if washing > 0:
            yield "The washing brings, a week", Amount(washing, "volume")
            yield from self._asked_a_week()
        yield from self._drunk()
        if not isinstance(chain.store, Gap):
            groups = [g for g in chain.store.groups if any(map(self.is_drawn_from, _ids(g)))]
            lasting = next((group.lasting for group in groups if group.lasting), ())
            if lasting:
                yield LASTS, lasting[0].amount
        push = next((z.push for z in self.zones if isinstance(z.push, PushAnswer)), None)
        if push is not None:
            heads = push.usual.state.outlet_head
            if len(heads):
                yield "Head at the weakest outlet", Amount(max(float(heads.min()), 0.0), "head")
            yield "All outlets together give", Amount(push.usual.state.flow, "flow")

    def _asked_a_week(self) -> Iterator[tuple[str, Amount]]:
        ways = [w for w in ways_of(self.chain.planted) if self.is_new(w.need.part.id)]
        if ways:
            weeks = sum((way.asked_a_week for way in ways), np.zeros(12))
            month = MONTH_NAMES[int(np.argmax(weeks))]
            yield f"The plants ask, a week in {month}", Amount.litres(float(weeks.max()))

    def _drunk(self) -> Iterator[tuple[str, Amount]]:
        planted = [plant for plant in self.chain.planted if self.is_new(plant.part.id)]
        needs = [plant.need for plant in planted if isinstance(plant.need, Need)]
        if not needs:
            return
        yield "The plants ask, a year", Amount.litres(sum(need.year_litres for need in needs))
        if not self.zones:
            yield CANS, Amount.cans(sum(peak.cans for peak in peaks_of(needs)))

    def hardest(self) -> MonthSetting | None:
        """The month of the first zone's timer that gives most."""
        time = next((z.running for z in self.zones if isinstance(z.running, TimeAnswer)), None)
        if time is None or not time.set_months:
            return None
        return max(time.set_months, key=lambda month: month.choice.gross if month.choice else 0.0)


def _ids(group: GroupAnswer) -> tuple[str, ...]:
    return tuple(store.id for store in group.group.stores)
