"""Stores that share one level, and checks on everything that is joined to something else."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

from euhydra.core.linked import LinkedLevel, NeverMeetError, Vessel
from euhydra.garden.part import refuse
from euhydra.garden.roofs import Downspout, Roof
from euhydra.garden.sentences import Amount
from euhydra.garden.stores import LinkKind, Store

SHARE_SLACK = 1e-6
"""Shares of a roof may pass its whole by rounding. [-]"""

HEIGHT_SLACK = 1e-6
"""[m]"""


@dataclass(frozen=True)
class Group:
    """Stores of one level, in the garden's order: one by itself, or several linked."""

    stores: tuple[Store, ...]

    @property
    def id(self) -> str:
        """That of its first store."""
        return self.stores[0].id

    @property
    def name(self) -> str:
        """Of all its stores."""
        *first, last = (store.name for store in self.stores)
        return f"{', '.join(first)} and {last}" if first else last

    @cached_property
    def level(self) -> LinkedLevel:
        """Volume against the height of the water."""
        return LinkedLevel.of(
            [Vessel(s.base_m, s.height_m, s.count * s.plan_m2) for s in self.stores]
        )

    @property
    def capacity_m3(self) -> float:
        """Water when the lowest overflow runs. [m³]"""
        return self.level.capacity

    @property
    def lowest(self) -> Store:
        """The store whose overflow runs first."""
        return min(self.stores, key=lambda store: store.overflow_m)

    @property
    def overflow_to(self) -> str:
        """A destination, or the id of a store."""
        return self.lowest.overflow_to

    @property
    def count(self) -> int:
        """Vessels in it."""
        return sum(store.count for store in self.stores)

    def dead_m3(self, tap: Store) -> float:
        """Water that never comes out of that store's tap. [m³]"""
        return self.level.volume_at(tap.lowest_m)


def groups_of(stores: Sequence[Store]) -> tuple[Group, ...]:
    """The stores by level, each group where its first store stands."""
    root = {store.id: store.id for store in stores}

    def top(store_id: str) -> str:
        while root[store_id] != store_id:
            store_id = root[store_id]
        return store_id

    for store in stores:
        if store.linked_to is not None:
            root[top(store.linked_to)] = top(store.id)
    members: dict[str, list[Store]] = {}
    for store in stores:
        members.setdefault(top(store.id), []).append(store)
    return tuple(Group(tuple(group)) for group in members.values())


def group_of(stores: Sequence[Store], store_id: str) -> Group:
    """The group that a store belongs to."""
    return next(g for g in groups_of(stores) if any(s.id == store_id for s in g.stores))


def check_shares(roofs: Sequence[Roof], downspouts: Sequence[Downspout]) -> None:
    """No roof gives more than all of itself."""
    for roof in roofs:
        total = sum(d.share for d in downspouts if d.roof_id == roof.id)
        if total > 1 + SHARE_SLACK:
            raise refuse(
                "downspouts-share-bring",
                "The downspouts of “{roof}” share out {total} of it: bring them down to {whole} "
                "together.",
                roof=roof.name,
                total=Amount(total, "share"),
                whole=Amount(1.0, "share"),
            )


def check_downspouts(downspouts: Sequence[Downspout]) -> None:
    """Joined downspouts lead on, not round."""
    onward = {d.id: d.leads_to for d in downspouts}
    for downspout in downspouts:
        seen, here = {downspout.id}, downspout.leads_to
        while here in onward:
            if here in seen:
                raise refuse(
                    "joined-ring-downspouts",
                    "“{downspout}” is joined in a ring of downspouts: lead one of them to a store.",
                    downspout=downspout.name,
                )
            seen.add(here)
            here = onward[here]


SIPHON_LIFT = 7.0
"""Height over its lowest water at which a siphon breaks. [m] Common practice: air and vapour gather well
before the 10 m that the air's weight would hold."""


def siphon_lift(group: Group) -> float:
    """Height of a siphon's crest, over the rims, above the lowest water that is drawn. [m]"""
    lowest = min(store.lowest_m for store in group.stores)
    return max(store.rim_height_m for store in group.stores) - lowest


def check_links(stores: Sequence[Store]) -> None:
    """Linked stores reach one level, and a siphon between them is not too high to hold."""
    for group in groups_of(stores):
        is_over = any(store.link_by is LinkKind.SIPHON for store in group.stores)
        if group.count > 1 and is_over and siphon_lift(group) > SIPHON_LIFT:
            raise refuse(
                "siphon-too-high",
                "The siphon of “{group}” would rise {lift} over the lowest water, and breaks from {most} on: link "
                "them at the bottom, or stand them nearer in height.",
                group=group.name,
                lift=Amount(siphon_lift(group), "head"),
                most=Amount(SIPHON_LIFT, "head"),
            )
    for group in groups_of(stores):
        try:
            _ = group.level
        except NeverMeetError:
            highest = max(group.stores, key=lambda store: store.base_m)
            lowest = group.lowest
            raise refuse(
                "linked-but-second",
                "“{highest}” and “{lowest}” are linked, but the second runs over at {overflow}, before the"
                " water reaches the first one's bottom at {base}: lower “{highest}”, or let it spill"
                " into “{lowest}”.",
                highest=highest.name,
                lowest=lowest.name,
                overflow=Amount(lowest.overflow_m, "head"),
                base=Amount(highest.base_m, "head"),
            ) from None


def group_below(
    group: Group, groups: Sequence[Group], downspouts: Sequence[Downspout]
) -> Group | None:
    """The group that takes a group's overflow, straight or by another downspout; None if it leaves."""
    onward: dict[str | None, str | None] = {d.id: d.leads_to for d in downspouts}
    target: str | None = group.overflow_to
    for _ in range(len(onward) + 1):  # joined downspouts lead on, and not round
        target = onward.get(target, target)
    return next((g for g in groups if any(s.id == target for s in g.stores)), None)


def check_overflows(stores: Sequence[Store], downspouts: Sequence[Downspout]) -> None:
    """Overflows run downhill, and not round."""
    groups = groups_of(stores)
    below_of = {group.id: group_below(group, groups, downspouts) for group in groups}
    for group in groups:
        below = below_of[group.id]
        if below is None:
            continue
        if below is group:
            raise refuse(
                "spills-whose-level",
                "“{lowest}” spills into “{group}”, whose level it shares: lead its overflow out of the "
                "group.",
                lowest=group.lowest.name,
                group=group.name,
            )
        if below.level.full > group.level.full + HEIGHT_SLACK:
            raise refuse(
                "runs-over-below",
                "“{lowest}” runs over at {overflow}, below the top of “{below}” at {top}: water does "
                "not run uphill. Raise the first, or link the two.",
                lowest=group.lowest.name,
                overflow=Amount(group.level.full, "head"),
                below=below.name,
                top=Amount(below.level.full, "head"),
            )
        seen: set[str] = {group.id}
        here: Group | None = below
        while here is not None:
            if here.id in seen:
                raise refuse(
                    "spills-ring-stores",
                    "“{group}” spills in a ring of stores: lead one overflow to the ground or a drain.",
                    group=group.name,
                )
            seen.add(here.id)
            here = below_of[here.id]
