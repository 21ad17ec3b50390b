"""What dips say of a store: its water each day, what its roofs bring, whether it leaks, whether its lines draw otherwise."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import timedelta

import numpy as np
from numpy.typing import NDArray

from euhydra.core import evidence
from euhydra.core.constants import LITRES_PER_CUBIC_METRE
from euhydra.core.evidence import Mixed
from euhydra.core.store_filter import EXTRA, ROOF, WATER, Beforehand, StoreDays
from euhydra.core.waterworks import Line, Tank
from euhydra.garden.store_groups import Group
from euhydra.planner.catch import spouts
from euhydra.planner.learning import followed
from euhydra.planner.learning.claim import Claim, ClaimKind
from euhydra.planner.learning.flows import ZoneFlow, drawn_by
from euhydra.planner.learning.followed import Explained, FollowedStore
from euhydra.planner.learning.ran import Ran, ZoneRan

Floats = NDArray[np.float64]

STICK_M = 0.01
"""Noise of a dip. [m]"""

LEAST_DIP_L = 1.5
"""[L]"""

ROOF_SPREAD, ROOF_MODEL = 0.14, 0.04
"""How far a roof's share may lie from the plan's, and what the model of it leaves unsure. [-] Our choice."""

DRAWN_SPREAD, DRAWN_KNOWN, DRAWN_METERED = 0.12, 0.06, 0.03
"""How far what lines draw may lie from the plan's; what was measured at them; what a meter tells. [-] Our choice."""

LEAK, SETTING = (20.0, 25.0), (-0.25, 0.3)
"""Mean and spread of a leak [L d⁻¹] and of a change of what is drawn. [-] Our choice."""

BEFORE_LEAK, BEFORE_SETTING = 0.15, 0.05
"""Chance of either in a season before anything is measured. [-] Our choice."""

MOST_BEGINNINGS = 24
"""Days on which a fault is tried to have begun."""

LEAST_LEAK = 2.0
"""[L d⁻¹]"""

LEAST_OFF = 0.08
"""Share by which a roof or a timer has to be off before it is worth a word. [-] Our choice."""

FEWEST_DIPS = 4
"""Dips from which on anything is claimed of a store. One pair is a question. Our choice."""


@dataclass(frozen=True)
class StoreTold:
    """A store through the logged year.

    water : Each evening. [L]
    met : Of what was asked of it on each day, what was there. [-]
    drawn : What was taken from it on each day, by its lines, cans, and what else the plan takes. [L]
    deviation : Of the water on the last day. [L]
    came : What ran into it on each day by the plan's roofs, less what dried up. [L]
    capacity : [L]
    filled : Of what it can give, what is there on the last day. [-]
    dips : Day, water and noise of each. [d], [L], [L]
    """

    group: Group
    water: Floats
    met: Floats
    drawn: Floats
    deviation: float
    roof: Mixed
    claims: tuple[Claim, ...]
    came: Floats
    capacity: float
    filled: float
    strays: tuple[int, ...] = ()
    dips: tuple[tuple[int, float, float], ...] = ()

    @property
    def is_dipped(self) -> bool:
        """Whether anybody dipped it this year."""
        return bool(self.dips)

    @property
    def morning(self) -> Floats:
        """Before each day's watering. [L]"""
        return np.concatenate([self.water[:1], self.water[:-1]])


def stores_told(
    ran: Ran, flows: Mapping[str, ZoneFlow], *, is_weighed: bool = True
) -> tuple[StoreTold, ...]:
    """Every store, those above first.

    Parameters
    ----------
    is_weighed : Whether faults are weighed; else only the water is followed.
    """
    spilled: dict[int, Floats] = {}
    found: dict[int, StoreTold] = {}
    tanks = ran.told.season.works.tanks
    order = sorted(range(len(tanks)), key=lambda t: _depth(tanks, t))
    for tank in order:
        told, spill = _Store(ran, flows, tank, spilled.get(tank)).told(is_weighed)
        found[tank] = told
        below = tanks[tank].spills_to
        if below is not None:
            spilled[below] = spilled.get(below, 0.0) + spill
    return tuple(found[tank] for tank in range(len(tanks)))


def _depth(tanks: Sequence[Tank], tank: int) -> int:
    """How many tanks spill down to it, one after another."""
    above = [i for i, t in enumerate(tanks) if t.spills_to == tank]
    return 1 + max((_depth(tanks, i) for i in above), default=0)


class _Store:
    def __init__(
        self, ran: Ran, flows: Mapping[str, ZoneFlow], tank: int, spills: Floats | None
    ) -> None:
        self.ran, self.flows, self.tank = ran, flows, tank
        self.season = ran.told.season
        self.group = self.season.groups[tank]
        self.days = len(ran.told.record.days)
        self.entries, self.dips = self._dips()
        self.spills = np.zeros(self.days) if spills is None else spills

    def told(self, is_weighed: bool) -> tuple[StoreTold, Floats]:
        works = self.season.works.tanks[self.tank]
        volume = np.full(self.days, 0.6 * works.capacity)
        nothing = [Explained(None, 0, None, 1.0)]
        # What lines give follows the level, and the level what they give: it is followed twice.
        evening = self._follow(self._days(volume), nothing).evening
        days = self._days(np.concatenate([evening[:1], evening[:-1]]))
        known = self._explanations() if is_weighed else nothing
        found = self._follow(days, known)
        return self._told(known, days, found), found.spilled

    def _told(self, known: list[Explained], days: StoreDays, found: FollowedStore) -> StoreTold:
        chance, mean, deviation = found.chance, found.mean, found.deviation
        roof = Mixed.of(chance, mean[:, ROOF], deviation[:, ROOF])
        evening = found.evening
        morning = np.concatenate([evening[:1], evening[:-1]])
        claims = []
        if len(self.dips) >= FEWEST_DIPS:
            claims = [
                *self._of_fault(ClaimKind.LEAK, known, chance, mean, deviation),
                *self._of_fault(ClaimKind.SETTING, known, chance, mean, deviation),
                *self._of_roof(roof),
            ]
        water = Mixed.of(chance, mean[:, WATER], deviation[:, WATER])
        met = self._met(morning, days)
        return StoreTold(
            self.group,
            evening,
            met,
            days.drawn * met,
            water.deviation,
            roof,
            tuple(claims),
            days.inflow - days.dries,
            days.capacity,
            min(max(float(evening[-1] - days.dead) / (days.capacity - days.dead), 0.0), 1.0),
            tuple(self.entries[k] for k in found.strays),
            self.dips,
        )

    def _met(self, morning: Floats, days: StoreDays) -> Floats:
        """Of what its zones are set to take, what is there: a meter that counts less says nothing of the store."""
        asked = np.zeros(self.days)
        for zone in self._zones():
            litres = zone.litres(self.ran.told.record.month, morning)
            asked = asked + litres * self.flows[zone.zone.id].factor
        there = np.maximum(morning - days.dead, 0.0)
        return np.asarray(np.minimum(1.0, there / np.maximum(asked, 1e-6)))

    def _of_fault(
        self,
        kind: ClaimKind,
        every: list[Explained],
        chance: Floats,
        mean: Floats,
        deviation: Floats,
    ) -> Iterator[Claim]:
        own = np.array([e.kind is kind for e in every])
        if not own.any() or float(chance[own].sum()) < evidence.EARNED:
            return
        share = chance[own]
        size = Mixed.of(share, mean[own, EXTRA], deviation[own, EXTRA])
        begins = float(
            (share / share.sum()) @ np.array([e.begins for e in every if e.kind is kind])
        )
        likely = max((e for e in every if e.kind is kind), key=lambda e: chance[every.index(e)])
        first = self.ran.told.record.days[0].astype(object)
        since = first + timedelta(days=round(begins))
        until = None if likely.ends is None else first + timedelta(days=likely.ends)
        total = float(share.sum())
        if kind is ClaimKind.LEAK:
            if size.low > LEAST_LEAK / 2 and size.value > LEAST_LEAK:
                yield Claim(
                    kind,
                    self.group.id,
                    self.group.name,
                    size.value,
                    size.low,
                    size.high,
                    since,
                    until,
                    total,
                )
            return
        zone = self._zones()[0]
        if size.is_off(0.0, LEAST_OFF):
            value, low, high = 1 + size.value, 1 + size.low, 1 + size.high
            head = zone.zone.head
            name = head.name if head else zone.zone.name
            yield Claim(kind, zone.head_id, name, value, max(low, 0.0), high, since, until, total)

    def _of_roof(self, roof: Mixed) -> Iterator[Claim]:
        ids = {store.id for store in self.group.stores}
        garden = self.ran.told.chain.garden
        roofs = {s.roof_id for s in garden.downspouts if s.leads_to in ids}
        told = Mixed(roof.value, float(np.hypot(roof.deviation, ROOF_MODEL)))
        if not roofs or not told.is_off(1.0, LEAST_OFF):
            return
        for part in garden.roofs:
            if part.id in roofs:
                yield Claim(
                    ClaimKind.ROOF,
                    part.id,
                    part.name,
                    roof.value,
                    max(roof.low, 0.0),
                    roof.high,
                    None,
                    None,
                    evidence.EARNED,
                )

    def _zones(self) -> list[ZoneRan]:
        return [
            zone
            for zone in self.ran.zones
            if zone.zone.group is not None and zone.zone.group.id == self.group.id
        ]

    def _dips(self) -> tuple[list[int], tuple[tuple[int, float, float], ...]]:
        """Places in the log, and day, volume and noise of each; the last of a day."""
        found: dict[int, tuple[int, tuple[int, float, float]]] = {}
        level = self.group.level
        for store in self.group.stores:
            for place, entry in self.ran.of_kind("dip", store.id):
                height = store.base_m + (entry.amounts[0] or 0.0)
                volume, more, less = (
                    level.volume_at(height + by) * LITRES_PER_CUBIC_METRE
                    for by in (0.0, STICK_M, -STICK_M)
                )
                noise = max(LEAST_DIP_L, (more - less) / 2)
                day = self.ran.told.evening(entry.at)
                found[day] = (place, (day, volume, noise))
        days = sorted(found)
        return [found[d][0] for d in days], tuple(found[d][1] for d in days)

    def _days(self, volume: Floats) -> StoreDays:
        works, told = self.season.works.tanks[self.tank], self.ran.told
        drawn = np.zeros(self.days)
        for zone in self._zones():
            flow = self.flows[zone.zone.id]
            drawn = drawn + drawn_by(flow, zone.litres(told.record.month, volume))
        timed = {place for zone in self._zones() for place in zone.ways}
        for place, way in enumerate(self.season.ways):
            drawn = drawn + self._cans(way.need.part)
            watering = self.season.works.waterings[place]
            from_here = [
                k
                for k, s in enumerate(watering.sources)
                if isinstance(s, Line) and s.tank == self.tank
            ]
            if place not in timed and from_here and way.push is not None:
                drawn = drawn + self._planned(place, from_here)
        tops = self.season.works.top_ups
        return StoreDays(
            works.capacity,
            works.dead,
            works.inflow + self.spills,
            drawn,
            np.zeros(self.days) if works.dries is None else works.dries,
            next(((t.below, t.up_to) for t in tops if t.tank == self.tank), None),
            self.dips,
        )

    def _planned(self, place: int, sources: Sequence[int]) -> Floats:
        """What a float or a hand takes from here by the plan, where no timer tells. [L]"""
        taken = [self.season.run.given[place][source] for source in sources]
        return np.asarray(np.sum(taken, axis=0))

    def _cans(self, part: object) -> Floats:
        ids = {store.id for store in self.group.stores}
        by_hand = getattr(part, "hand_from", None)
        sources = getattr(part, "sources", ())
        if by_hand in ids or (by_hand is None and any(s in ids for s in sources)):
            return self.ran.cans(getattr(part, "id", ""))
        return np.zeros(self.days)

    def _explanations(self) -> list[Explained]:
        found = [Explained(None, 0, None, 1 - BEFORE_LEAK - BEFORE_SETTING)]
        # Water that somebody or a float fills in at days of its own hides what leaves.
        is_topped = any(t.tank == self.tank for t in self.season.works.top_ups)
        if len(self.dips) < FEWEST_DIPS or is_topped:
            return found
        days = [day for day, *_ in self.dips]
        begins = days[:: max(1, len(days) // MOST_BEGINNINGS)][:-1]
        begins = [max(days[0] - 20, 0), *begins]
        windows: list[tuple[int, int | None]] = []
        for begin in begins:
            windows.append((begin + 1, None))
            windows += [(begin + 1, end) for end in begins if end > begin + 3]
        share = BEFORE_LEAK / len(windows)
        found += [Explained(ClaimKind.LEAK, b, e, share) for b, e in windows]
        zones = self._zones()
        metered = any(self.ran.of_kind("meter", zone.head_id) for zone in zones)
        if len(zones) == 1 and not metered:
            share = BEFORE_SETTING / len(begins)
            found += [Explained(ClaimKind.SETTING, b + 1, None, share) for b in begins]
        return found

    def _follow(self, days: StoreDays, known: list[Explained]) -> FollowedStore:
        ids = {store.id for store in self.group.stores}
        has_roof = bool(spouts.spouts_into(self.ran.told.chain.garden, ids))
        measured = [self.flows[z.zone.id] for z in self._zones()]
        is_known = bool(measured) and all(flow.count >= 3 for flow in measured)
        is_metered = bool(measured) and all(len(flow.metered) >= 3 for flow in measured)
        spread = DRAWN_METERED if is_metered else DRAWN_KNOWN if is_known else DRAWN_SPREAD
        roof = 1.0, ROOF_SPREAD if has_roof else 0.02
        return followed.follow(days, known, Beforehand(roof, (1.0, spread), LEAK, SETTING))
