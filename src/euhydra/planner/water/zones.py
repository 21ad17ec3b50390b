"""Zones: what is opened at one time, found by following the water from each source."""

from collections import Counter
from dataclasses import dataclass, field, replace
from functools import cached_property
from math import ceil
from typing import Any

import numpy as np
from numpy.typing import NDArray

from euhydra.core.constants import SECONDS_PER_HOUR
from euhydra.garden import catalogue, plumbing
from euhydra.garden.beds import Bed
from euhydra.garden.catalogue import TimerKind
from euhydra.garden.drinker import Drinker
from euhydra.garden.model import Garden
from euhydra.garden.pipes import Fitting, Piece, Pipe, Pump, Turn
from euhydra.garden.sentences import Sentence, say
from euhydra.garden.sources import Greywater, Tap
from euhydra.garden.store_groups import Group, group_of
from euhydra.garden.stores import Store
from euhydra.garden.timers import Timer, find_timer
from euhydra.planner.answers import PlanError
from euhydra.planner.same import GARDENS_KEPT, Asked, by_itself, kept
from euhydra.planner.water import laws
from euhydra.planner.water.way import Joined, Outlet, Source, Way

Floats = NDArray[np.float64]

NEARLY_EMPTY = 0.05
"""Share of the drawable water left in a store that counts as nearly empty. [-] Our choice."""

LEVELS = {"full": 1.0, "half": 0.5, "nearly empty": NEARLY_EMPTY}
"""Levels at which every zone on a store is shown, as shares of the drawable water."""

MOST_NAMED = 4
"""Beds that a zone's name has; of more, it has two and how many there are."""

CLOGGED = "filter clogged"
"""How a zone with a filter is shown besides: the filter due for cleaning."""

DAYS_PER_WEEK = 7
"""[d]"""

BY_HAND = "by-hand"
"""Kind of timer of what is opened by hand, by turns."""

USUAL_WINDOW = 3 * SECONDS_PER_HOUR
"""Time to water in a day while no timer says otherwise. [s] Common practice: a morning."""


@dataclass(frozen=True)
class Zone:
    """What is watered at one go; without a timer it is opened by hand.

    head : Timer, or valve opened by turns, that opens it; None where a tap is turned.
    has_twin : Whether another zone waters just the same.
    solved : Its states so far, kept by `solving.solve_zone`; a changed zone begins with none.
    """

    id: str
    way: Way
    head: Timer | Fitting | None
    has_twin: bool = False
    solved: dict[tuple[float, bool], Any] = field(
        init=False, default_factory=dict, compare=False, repr=False
    )

    @property
    def garden(self) -> Garden:
        """The garden that it is in."""
        return self.way.garden

    @property
    def source(self) -> Source:
        """Where its water comes from."""
        return self.way.source

    @property
    def outlets(self) -> list[Outlet]:
        """Every outlet, along the water's way."""
        return self.way.outlets

    @property
    def pipes(self) -> list[Pipe]:
        """Its pipes, each after what feeds it."""
        return [part for part in self.way.parts if isinstance(part, Pipe)]

    @property
    def pieces(self) -> list[Piece]:
        """Its timers, fittings and pumps, each after what feeds it."""
        return [part for part in self.way.parts if isinstance(part, Piece)]

    @property
    def pumps(self) -> list[Pump]:
        """Its pumps."""
        return [part for part in self.way.parts if isinstance(part, Pump)]

    @cached_property
    def watered(self) -> tuple[Drinker, ...]:
        """Beds and groups of pots that its outlets water."""
        ids = {pipe.waters for pipe in self.pipes if laws.gives(pipe)}
        return tuple(p for p in self.garden.planted if p.id in ids)

    @property
    def beds(self) -> tuple[Bed, ...]:
        """Beds that it waters."""
        return tuple(part for part in self.watered if isinstance(part, Bed))

    @property
    def name(self) -> str:
        """What it is called: what it waters, and from where if another zone waters the same."""
        names = [part.name for part in self.watered]
        if len(names) > MOST_NAMED:
            names = [*names[:2], f"{len(names) - 2} more"]
        name = ", ".join(names) or self.way.parts[-1].name
        return f"{name} ({self.source.name})" if self.has_twin else name

    @cached_property
    def group(self) -> Group | None:
        """The stores that share its store's level; None on a tap."""
        return group_at(self.garden, self.source)

    @property
    def vessel(self) -> Store | None:
        """The store or drum that it begins at; None on a tap."""
        return vessel_of(self.source)

    @property
    def drum(self) -> Greywater | None:
        """The drum of washing water that it begins at: then it runs by itself, whenever that fills."""
        return self.source if isinstance(self.source, Greywater) else None

    @property
    def timer(self) -> TimerKind | None:
        """The kind of timer at its head; what is opened by turns is opened by hand."""
        if self.head is None:
            return None
        if isinstance(self.head, Fitting):
            kind = catalogue.find(catalogue.timers(), BY_HAND)
        else:
            kind = find_timer(self.garden.own_timers, self.head.kind)
        return _as_visited(kind, self)

    @property
    def window_s(self) -> float:
        """Longest that it may run in a day: its timer, and the tap that it comes from. [s]"""
        if isinstance(self.source, Tap):
            return min(self.span_s, self.source.window_s)
        return self.span_s

    @property
    def span_s(self) -> float:
        """Longest from its first drop of a day to its last. [s]"""
        return self.head.window_s if isinstance(self.head, Timer) else USUAL_WINDOW

    @cached_property
    def keeps_level(self) -> bool:
        """Whether floats alone let its water out: then nobody opens it, and no timer."""
        drippers = plumbing.drippers()
        kinds = [pipe.dripper for pipe in self.pipes if laws.gives(pipe)]
        return bool(kinds) and all(k is not None and drippers[k].keeps_level for k in kinds)

    @property
    def runs_by_itself(self) -> bool:
        """Whether nobody opens it, and no timer: washing water and floats do."""
        return self.drum is not None or self.keeps_level

    @property
    def is_filled_by_hand(self) -> bool:
        """Whether its store is filled by nothing but a hand: no roof, no other store, no float."""
        if self.group is None:
            return False
        stores = {store.id for store in self.group.stores}
        spouts = (spout.leads_to for spout in self.garden.downspouts)
        above = (store.overflow_to for store in self.garden.stores)
        topped = any(store.topped_by for store in self.group.stores)
        return not topped and stores.isdisjoint([*spouts, *above])

    @property
    def noun(self) -> str:
        """What its source is called in a sentence."""
        if isinstance(self.source, Tap):
            return "tap"
        if isinstance(self.source, Greywater):
            return "drum"
        return self.source.noun

    @cached_property
    def outlet_m(self) -> float:
        """Height of its highest outlet. [m]"""
        return max((o.height for o in self.outlets), default=self.source.tap_m)

    @property
    def levels(self) -> dict[str, float]:
        """Levels at which it is shown."""
        return LEVELS if self.group else {"open": 1.0}

    @property
    def usual_level(self) -> str:
        """The level at which times are reckoned."""
        return "half" if self.group else "open"

    @property
    def has_filter(self) -> bool:
        """Whether anything in it clogs."""
        return any(
            isinstance(p, Fitting)
            and catalogue.find(plumbing.fitting_kinds(), p.kind).dirty_factor > 1
            for p in self.way.parts
        )

    @cached_property
    def dead_m3(self) -> float:
        """Water that never comes out of the store's tap. [m³]"""
        return self.group.dead_m3(self.vessel) if self.group and self.vessel else 0.0

    @cached_property
    def usable_m3(self) -> float:
        """Water above the store's tap, in all stores of its level. [m³]"""
        return self.group.capacity_m3 - self.dead_m3 if self.group else 0.0

    def volume_at(self, share: float) -> float:
        """Store volume when `share` of the drawable water is left. [m³]"""
        return self.dead_m3 + share * self.usable_m3

    def surface_at(self, share: float) -> float:
        """Height of the water surface, or as high as a tap's pressure would lift it. [m]"""
        return self.surface_of(self.source, share)

    def surface_of(self, source: Source, share: float) -> float:
        """Height of the water in one of its sources. [m]"""
        if isinstance(source, Tap):
            return source.tap_m + laws.static_head(source)
        if self.group and any(s.id == source.id for s in self.group.stores):
            return self.group.level.level_at(self.volume_at(share))
        other, vessel = group_at(self.garden, source), vessel_of(source)
        assert other is not None
        assert vessel is not None
        dead = other.dead_m3(vessel)
        return other.level.level_at(dead + share * (other.capacity_m3 - dead))

    def head_at(self, share: float) -> float:
        """Height of the water surface over the highest outlet. [m]"""
        return self.surface_at(share) - self.outlet_m

    def head_at_valve(self, share: float) -> float:
        """Head at rest on the timer's valve. [m]"""
        before = self.way.parts[: self.way.parts.index(self.head)] if self.head else ()
        lifted = sum(laws.pump_curve(p).shutoff for p in before if isinstance(p, Pump))
        height = self.way.stops[self.head.id].height if self.head else self.source.tap_m
        return self.surface_at(share) - height + lifted

    def opens_at(self, share: float) -> bool:
        """Whether the timer's valve opens at that level."""
        return self.timer is None or self.head_at_valve(share) >= self.timer.least_opening_head_m


def _as_visited(kind: TimerKind, zone: Zone) -> TimerKind:
    """No oftener than somebody comes to what is opened by turns: each place takes a visit of its own."""
    moved = next((p for p in zone.way.parts if isinstance(p, Fitting) and p.is_visited), None)
    if moved is None or moved.visits_week is None:
        return kind
    places = sum(part.begins_at == moved.id for part in zone.garden.fed)
    least = DAYS_PER_WEEK * max(places, 1) / moved.visits_week
    seldom = tuple(d for d in kind.positions.interval_days if d >= least - 0.01)
    positions = replace(kind.positions, interval_days=seldom or (float(ceil(least)),))
    return replace(kind, positions=positions)


def vessel_of(source: Source) -> Store | None:
    """The store that a source is, or that a drum is to the water in it; None for a tap."""
    if isinstance(source, Tap):
        return None
    return source.as_store if isinstance(source, Greywater) else source


def group_at(garden: Garden, source: Source) -> Group | None:
    """The stores that share the level of a source; None for a tap."""
    vessel = vessel_of(source)
    if vessel is None or isinstance(source, Store):
        return group_of(garden.stores, source.id) if vessel else None
    return Group((vessel,))


def zones_of(garden: Garden) -> tuple[Zone, ...]:
    """Every zone that has an outlet, source by source.

    Each timer, and each piece whose branches are opened by turns, begins a zone of its own; it
    takes along what lies between it and the source. What no such piece opens is a zone for each
    way out of the source.
    """
    return _zones_of(by_itself(garden))


@kept(GARDENS_KEPT)
def _zones_of(same: Asked[Garden]) -> tuple[Zone, ...]:
    garden = same.what
    fed: dict[str, list[Joined]] = {}
    for part in garden.fed:
        if part.begins_at is not None:
            fed.setdefault(part.begins_at, []).append(part)
    found: list[Zone] = []
    for source in garden.sources:
        for first in fed.get(source.id, []):
            found += _zones_from(garden, source, first, fed, (), None)
    zones = [zone for zone in found if any(map(laws.gives, zone.pipes))]
    names = Counter(zone.name for zone in zones)
    return tuple(replace(zone, has_twin=names[zone.name] > 1) for zone in zones)


def _zones_from(
    garden: Garden,
    source: Source,
    first: Joined,
    fed: dict[str, list[Joined]],
    before: tuple[Joined, ...],
    head: Timer | Fitting | None,
) -> list[Zone]:
    """The zone that begins with `first`, and those that begin within it."""
    if isinstance(first, Timer):
        head = first
    own: list[Joined] = [*before]
    inner: list[tuple[Joined, tuple[Joined, ...], Timer | Fitting | None]] = []
    routes: dict[str, tuple[Joined, ...]] = {}
    waiting = [first]
    while waiting:
        part = waiting.pop(0)
        route = routes.get(part.begins_at or "", before)
        own.append(part)
        routes[part.id] = (*route, part)
        for after in fed.get(part.id, []):
            by_turns = part if isinstance(part, Fitting) and part.turn is Turn.BY_TURNS else None
            if isinstance(after, Timer) or by_turns:
                inner.append((after, routes[part.id], head or by_turns))
            else:
                waiting.append(after)
    zones = [
        Zone(head.id if head is first and head else first.id, Way(garden, source, tuple(own)), head)
    ]
    for after, route, opened_by in inner:
        zones += _zones_from(garden, source, after, fed, route, opened_by)
    return zones


def open_lines(garden: Garden, drum_id: str, month: int) -> Zone | None:
    """All that stands open on a drum in a month, for nobody is there to open it; None without lines.

    Branches behind a hand valve that is shut in that month are left out.

    Parameters
    ----------
    month : January is 1.
    """
    drum = next(grey for grey in garden.greywaters if grey.id == drum_id)
    waiting, found = [drum_id], list[Joined]()
    while waiting:
        here = waiting.pop(0)
        for part in garden.fed:
            if part.begins_at == here and not _is_shut(part, month):
                found.append(part)
                waiting.append(part.id)
    if not any(isinstance(part, Pipe) and laws.gives(part) for part in found):
        return None
    return Zone(drum_id, Way(garden, drum, tuple(found)), None)


def _is_shut(part: Joined, month: int) -> bool:
    return isinstance(part, Fitting) and not part.is_open_in(month)


def is_controlled(zone: Zone) -> bool:
    """Whether a controller with several stations opens it, which may start a pump or a master valve too."""
    timer = zone.timer
    return isinstance(zone.head, Timer) and timer is not None and timer.outlets > 1


def again(zone: Zone, garden: Garden) -> Zone:
    """The same zone in a changed garden.

    Raises
    ------
    PlanError : if it is no longer there.
    """
    found = next((z for z in zones_of(garden) if z.id == zone.id), None)
    if found is None:
        raise PlanError(
            say("water-no-longer-watered", "“{zone}” is no longer watered.", zone=zone.name)
        )
    return found


def zones_to(garden: Garden, part_id: str) -> list[Zone]:
    """Zones that water a bed or pots, in the order of their sources where that is said."""
    planted = next((p for p in garden.planted if p.id == part_id), None)
    order = {source: i for i, source in enumerate(planted.sources)} if planted else {}
    found = [z for z in zones_of(garden) if any(part.id == part_id for part in z.watered)]
    return sorted(found, key=lambda zone: order.get(zone.source.id, len(order)))


def sources_in_use(garden: Garden) -> set[str]:
    """Sources that feed a zone."""
    return {zone.source.id for zone in zones_of(garden)}


def zone_named(garden: Garden, at: str | None = None) -> Zone:
    """The zone called so, or the first that waters what is called so; without a name, the first.

    Raises
    ------
    PlanError : if there is no such zone.
    """
    zones = zones_of(garden)
    if not at and zones:
        return zones[0]
    named = [z for z in zones if z.id == at] or (zones_to(garden, at) if at else [])
    if named:
        return named[0]
    part = next((p for p in garden.planted if at in (None, "", p.id)), None)
    if part is None:
        raise PlanError(
            say("water-no-such-zone", "There is no such bed or zone.")
            if at
            else say("water-no-bed-yet", "There is no bed yet: add one on Lay.")
        )
    raise PlanError(no_water(part.name))


def no_water(name: str) -> Sentence:
    """What a bed without a zone waits for."""
    return say(
        "water-not-connected",
        "“{name}” is not connected: lay a line to it from a store or tap on Lay, or say that you water it by hand.",
        name=name,
    )


def in_garden(zone: Zone, **changes: dict[str, Piece | Pipe | Store | Greywater]) -> Zone:
    """The zone with some parts of its garden exchanged, by collection and id; joints stay.

    Nothing is checked: it is for trying.
    """
    garden = zone.garden.model_copy(
        update={
            collection: tuple(parts.get(p.id, p) for p in getattr(zone.garden, collection))
            for collection, parts in changes.items()
        }
    )
    new: dict[str, Joined] = {p.id: p for p in garden.fed}
    source = next(s for s in garden.sources if s.id == zone.source.id)
    parts = tuple(new[part.id] for part in zone.way.parts)
    head = zone.head
    if head is not None:
        found = new[head.id]
        assert isinstance(found, Timer | Fitting)
        head = found
    return replace(zone, way=Way(garden, source, parts), head=head)


def raised(zone: Zone, by: float) -> Zone:
    """The zone with its stores or its drum so much higher. [m]"""
    assert zone.group is not None
    if zone.drum is not None:
        higher = zone.drum.model_copy(update={"stand_m": zone.drum.stand_m + by})
        return in_garden(zone, greywaters={higher.id: higher})
    stores = {s.id: s.model_copy(update={"stand_m": s.stand_m + by}) for s in zone.group.stores}
    return in_garden(zone, stores=dict(stores))
