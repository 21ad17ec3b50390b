"""The log as one state and what it shows, the causes first."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date

from euhydra.garden.logbook import LogEntry, entry_kinds
from euhydra.garden.sentences import Sentence, say
from euhydra.planner.answers import Gap
from euhydra.planner.chain import Chain
from euhydra.planner.dates import day_in_words
from euhydra.planner.keeping.hindcast import KEPT_UP, Hindcast, hindcast
from euhydra.planner.learning.beds import BedTold, beds_told
from euhydra.planner.learning.claim import Claim, ClaimKind
from euhydra.planner.learning.flows import ZoneFlow, zone_flow
from euhydra.planner.learning.measured import WaterThere
from euhydra.planner.learning.questions import questions
from euhydra.planner.learning.ran import Ran
from euhydra.planner.learning.stores import FEWEST_DIPS, StoreTold, stores_told
from euhydra.planner.learning.supplies import tap_claims
from euhydra.planner.learning.tap_book import TapBook

OLD_D = 21
"""Days after which what is over leads no more. [d] Our choice."""

CAUSES = (ClaimKind.LEAK, ClaimKind.FILTER, ClaimKind.CLOG, ClaimKind.SETTING)
"""What has to be mended, and brings about what fingers feel."""


@dataclass(frozen=True)
class Learned:
    """What the log says, up to a day.

    told : With what came to each bed by what was measured.
    claims : Each likely 19 to 1, those first that go on, and the causes before what follows.
    asks : What is too little yet to claim anything.
    """

    told: Hindcast
    flows: tuple[ZoneFlow, ...]
    taps: tuple[TapBook, ...]
    stores: tuple[StoreTold, ...]
    beds: tuple[BedTold, ...]
    claims: tuple[Claim, ...]
    asks: tuple[Sentence, ...] = ()

    @property
    def strays(self) -> tuple[Sentence, ...]:
        """Entries that were passed over, for they fit nothing else that was written down."""
        names = {part.id: part.name for part in self.told.chain.garden.parts}
        places = {place for flow in self.flows for place in flow.strays}
        known = (store for store in self.stores if len(store.dips) >= FEWEST_DIPS)
        places |= {place for store in known for place in store.strays}
        entries = (self.told.log[place] for place in sorted(places))
        return tuple(
            say(
                "learned-stray",
                "{kind}, “{name}”, {day}: this fits nothing else that was written down. Look at it again in the log.",
                kind=entry_kinds()[entry.kind].name,
                name=names.get(entry.part_id or "", ""),
                day=day_in_words(entry.at.date()),
            )
            for entry in entries
        )

    def knows(self, store: StoreTold) -> bool:
        """Whether a dip of these weeks, or the rain since the last one, tells what a store holds."""
        newest = max((day for day, _, _ in store.dips), default=-KEPT_UP.days)
        is_dipped_lately = len(self.told.record.days) - newest <= KEPT_UP.days
        return is_dipped_lately or self.told.rain_is_known

    @property
    def leading(self) -> tuple[Claim, ...]:
        """What goes on, or was over only lately."""
        return tuple(c for c in self.claims if _leads(c, self.told.today))

    @property
    def headline(self) -> Sentence:
        """The first of what goes on; that nothing is wrong else."""
        if self.leading:
            return self.leading[0].said
        return say("learned-nothing", "Nothing in the log says otherwise than the plan.")


def learn(chain: Chain, log: Sequence[LogEntry], today: date) -> Learned | Gap:
    """Read the log of the year up to a day.

    Parameters
    ----------
    log : Oldest first; later entries are left out.
    """
    known = [entry for entry in log if entry.at.date() <= today]
    told = hindcast(chain, known, today)
    return told if isinstance(told, Gap) else learned(told)


def learned(told: Hindcast) -> Learned:
    """One estimate: lines by what was measured at them, then taps and stores, then beds."""
    ran = Ran(told)
    flows = {zone.zone.id: zone_flow(ran, zone) for zone in ran.zones}
    fed = [zone for zone in ran.zones if zone.zone.group is not None]
    stores = stores_told(ran, flows, is_weighed=not fed)
    # Where a store ran empty, and how high it stood, tells what its zones could give.
    there = {s.group.id: WaterThere(s.morning, s.met) for s in stores if s.is_dipped}
    for zone in fed:
        assert zone.zone.group is not None
        if zone.zone.group.id in there:
            flows[zone.zone.id] = zone_flow(ran, zone, there[zone.zone.group.id])
    if fed:
        stores = stores_told(ran, flows)
    beds = beds_told(ran, flows, stores)
    books = tuple(TapBook(ran, flows, tap) for tap in told.chain.garden.taps)
    claims = [
        *(claim for flow in flows.values() for claim in flow.claims),
        *(claim for book in books for claim in tap_claims(book)),
        *(claim for store in stores for claim in store.claims),
        *(bed.claim for bed in beds if bed.claim),
    ]
    order = list(ClaimKind)
    claims.sort(
        key=lambda c: (not _leads(c, told.today), bool(c.until), order.index(c.kind), -c.chance)
    )
    told = replace(told, litres=tuple(bed.given for bed in beds))
    asks = tuple(questions(ran, stores))
    return Learned(told, tuple(flows.values()), books, stores, beds, tuple(claims), asks)


def _leads(claim: Claim, today: date) -> bool:
    return claim.until is None or (today - claim.until).days <= OLD_D
