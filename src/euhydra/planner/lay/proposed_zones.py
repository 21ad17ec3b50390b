"""Zones proposed: what may be opened together, on how many timers, and in what turn."""

from dataclasses import dataclass, replace
from itertools import groupby

from euhydra.core.constants import SECONDS_PER_HOUR
from euhydra.garden import edits
from euhydra.garden.drinker import Drinker
from euhydra.garden.model import Garden
from euhydra.garden.pipes import Piece, Pipe
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.garden.sources import Tap
from euhydra.planner.answers import PlanError
from euhydra.planner.catch import taps
from euhydra.planner.push import shortfalls
from euhydra.planner.water import solving, throttling, zones
from euhydra.planner.water.zones import Zone

LIKE_HOURS = 1.25
"""Hours for a hot day's water over those of another up to which two may share a timer. [-] Our
choice: the thirstier one then gets a fifth too little."""

LIKE_HEIGHT = 0.3
"""Difference in height up to which two may share a gravity zone. [m] Our choice."""

JOINT_STEP = 0.05
"""Distance between branches on the pipe that a zone shares. [m]"""


@dataclass(frozen=True)
class Member:
    """A bed or group of pots as it is watered now.

    branch : First pipe that waters nothing else.
    flow : With its zone as it is now. [m³ s⁻¹]
    hours : For a hot day's water. [h]
    law : What decides whether its outlets go with others'.
    """

    part: Drinker
    zone: Zone
    branch: Pipe
    flow: float
    hours: float
    law: tuple[float, float]
    height: float


@dataclass(frozen=True)
class ProposedZone:
    """Members to be opened together, why no more, and when their turn is."""

    members: tuple[Member, ...]
    flow: float
    hours: float
    turn: Sentence

    @property
    def name(self) -> str:
        """What it waters."""
        return ", ".join(member.part.name for member in self.members)


@dataclass(frozen=True)
class Proposal:
    """The garden with fewer zones, each solved as it is proposed; and what was kept apart, why."""

    zones: tuple[ProposedZone, ...]
    apart: tuple[Sentence, ...]
    garden: Garden

    @property
    def is_change(self) -> bool:
        """Whether anything would be joined."""
        return any(len(zone.members) > 1 for zone in self.zones) and any(
            len({m.zone.id for m in zone.members}) > 1 for zone in self.zones
        )


def propose(garden: Garden) -> Proposal:
    """Join zones of one source, like need, like outlets, like height, as far as it gives.

    Each joining is tried by solving; one after which an outlet gets less than 90% of its due, or
    a tap has to give more than three quarters of its flow, is not proposed.
    """
    members = _members(garden)
    groups: list[list[Member]] = []
    apart: list[Sentence] = []
    for member in sorted(members, key=lambda m: (m.zone.source.id, -m.hours)):
        for group in groups:
            reason = _unlike(group[0], member)
            if reason is None:
                joined = _join(garden, group[0], member)
                if joined is not None and _is_even(joined, group[0].zone):
                    garden = joined
                    group.append(member)
                    break
                reason = say(
                    "lay-apart-opened-together",
                    "“{part}” apart from “{other}”: opened together, some outlets get less than 90% of "
                    "their due, or the source is asked for too much.",
                    part=member.part.name,
                    other=group[0].part.name,
                )
            if group[0].zone.source.id == member.zone.source.id:
                apart.append(reason)
        else:
            groups.append([member])
    return Proposal(_with_turns(garden, groups), tuple(apart), garden)


def _members(garden: Garden) -> list[Member]:
    found = []
    for zone in zones.zones_of(garden):
        if zone.runs_by_itself:
            continue  # it waits for no turn
        try:
            state = solving.solve_zone(zone, zone.levels[zone.usual_level])
        except PlanError:
            continue
        for branch, own in throttling.branches_of(zone):
            part = next(p for p in zone.watered if p.id == zone.outlets[own[0]].waters)
            flow = float(state.outlet_flow[own].sum())
            if flow <= 0:
                continue
            law = zone.outlets[own[0]].law
            due = solving.thirst(part)
            found.append(
                Member(
                    part,
                    zone,
                    branch,
                    flow,
                    due / flow / SECONDS_PER_HOUR,
                    (law.exponent, law.full_m),
                    zone.outlets[own[0]].height,
                )
            )
    return found


def _unlike(one: Member, other: Member) -> Sentence | None:
    """Why two may not share a zone, before it is solved; None if they may."""
    names = f"“{other.part.name}” apart from “{one.part.name}”"
    if one.zone.source.id != other.zone.source.id:
        return say("lay-other-water", "{names}: other water.", names=names)
    if one.law != other.law:
        return say(
            "lay-outlets-follow-another",
            "{names}: its outlets follow another law, so no run suits both.",
            names=names,
        )
    if max(one.hours, other.hours) > LIKE_HOURS * min(one.hours, other.hours):
        return say(
            "lay-hot-day-takes",
            "{names}: a hot day takes {one} there and {other} here.",
            names=names,
            one=Amount.hours(one.hours),
            other=Amount.hours(other.hours),
        )
    if one.zone.group and not one.zone.pumps and abs(one.height - other.height) > LIKE_HEIGHT:
        return say(
            "lay-lie-apart-height",
            "{names}: they lie {height} apart in height.",
            names=names,
            height=Amount(abs(one.height - other.height), "head"),
        )
    return None


def _join(garden: Garden, first: Member, other: Member) -> Garden | None:
    """The garden with another's branch fed from the first one's pipe; its own head goes."""
    if first.zone.id == other.zone.id:
        return garden
    here = next(p for p in garden.pipes if p.id == first.branch.id)
    taken = [p.begins_along_m for p in garden.fed if p.begins_at == here.id]
    along = JOINT_STEP
    while any(t is not None and abs(t - along) < JOINT_STEP / 2 for t in taken):
        along += JOINT_STEP
    if along > here.drawn_m:
        return None
    branch = next(p for p in garden.pipes if p.id == other.branch.id)
    moved = branch.model_copy(update={"begins_at": here.id, "begins_along_m": along})
    changed = edits.put(garden, "pipes", moved)
    for part in reversed(other.zone.way.parts):
        feeds = any(p.begins_at == part.id for p in changed.fed)
        if isinstance(part, Piece) and not feeds:
            changed = edits.remove(changed, part.id)
    return changed


def _is_even(garden: Garden, before: Zone) -> bool:
    try:
        zone = zones.again(before, garden)
        state = solving.solve_zone(zone, zone.levels[zone.usual_level])
    except PlanError:
        return False
    if isinstance(zone.source, Tap) and state.flow > taps.usable_flow(zone.source):
        return False
    return state.lowest_share >= shortfalls.EVEN


def _with_turns(garden: Garden, groups: list[list[Member]]) -> tuple[ProposedZone, ...]:
    """The zones in turn, source by source: one after another, on every second day if need be."""
    found: list[ProposedZone] = []
    for source_id, own in groupby(groups, key=lambda group: group[0].zone.source.id):
        listed = [_zone_of(garden, group) for group in own]
        hours = sum(zone.hours for zone in listed)
        window = max(m.zone.window_s for g in groups for m in g if m.zone.source.id == source_id)
        days = max(1, -(-hours * SECONDS_PER_HOUR // window))
        start = 0.0
        for number, zone in enumerate(listed, 1):
            every = "every day" if days <= 1 else "every {days} days, on day {day}"
            turn = say(
                "lay-turn",
                every + (", {start} after the first" if start else ", first"),
                days=int(days),
                day=(number - 1) % int(days) + 1,
                start=Amount.hours(start),
            )
            found.append(replace(zone, turn=turn))
            start = start + zone.hours if days <= 1 else 0.0
    return tuple(found)


def _zone_of(garden: Garden, group: list[Member]) -> ProposedZone:
    zone = zones.again(group[0].zone, garden)
    state = solving.solve_zone(zone, zone.levels[zone.usual_level])
    due = sum(solving.thirst(member.part) for member in group)
    hours = due / max(state.flow, 1e-12) / SECONDS_PER_HOUR
    return ProposedZone(tuple(group), state.flow, hours, say("lay-turn", ""))
