"""Rules of what runs by itself: washing water, and floats that keep a level."""

from collections.abc import Iterator, Mapping

from euhydra.garden.model import Garden
from euhydra.garden.pipes import Fitting
from euhydra.garden.plumbing import FittingRole
from euhydra.garden.pots import KeptBy, Pots
from euhydra.garden.sentences import Amount, counted, say, words
from euhydra.garden.sources import DrumOutlet, Greywater
from euhydra.garden.stores import Store
from euhydra.garden.timers import Timer
from euhydra.planner.answers import Mark
from euhydra.planner.catch import order
from euhydra.planner.dates import months_in_words
from euhydra.planner.lay.breach import RuleBreach
from euhydra.planner.water.way import Source
from euhydra.planner.water.zones import Zone

OVER_FLOATS = 0.15
"""Least height of a store's tap over small float valves. [m] Common practice."""

NEARLY = 1e-4
"""[m] Less than a tape shows."""

FEW_FLOATS = 6
"""Float valves that thin tube feeds without an air release. Common practice."""

WIDE_ENOUGH = 0.013
"""Pipe that feeds dozens of them. [m] Common practice: 16 mm outside."""

TANK_A_POT = 0.008
"""Least store for one float-fed pot that no roof refills. [m³] Common practice."""


def joined_waters(garden: Garden) -> Iterator[RuleBreach]:
    """Washing water runs into no other water: whatever comes out of it, or out of nothing yet."""
    sources: dict[str, Source] = {source.id: source for source in garden.sources}
    fed_by = {part.id: part.begins_at for part in garden.fed}
    for pipe in garden.pipes:
        if pipe.ends_at is None:
            continue
        one, other = (sources.get(_root(end, fed_by)) for end in (pipe.id, pipe.ends_at))
        if one is None or other is None or one.id == other.id:
            continue
        if isinstance(one, Greywater) or isinstance(other, Greywater):
            yield RuleBreach(
                pipe,
                Mark.FAILS,
                say(
                    "lay-washing-water-joined",
                    "“{pipe}” joins “{one}” and “{other}”: washing water would run into the other. Take them apart.",
                    pipe=pipe.name,
                    one=one.name,
                    other=other.name,
                ),
            )


def _root(part_id: str, fed_by: Mapping[str, str | None]) -> str:
    """What a part is fed by in the end; itself where that is nothing."""
    while (before := fed_by.get(part_id)) is not None:
        part_id = before
    return part_id


def about_washing_water(zone: Zone) -> Iterator[RuleBreach]:
    """Washing water goes where it may, at once, and through no clock."""
    drum = zone.drum
    if drum is None:
        yield from _months_of_valves(zone)
        return
    for part in zone.watered:
        rule = order.greywater_rule(zone.garden, part)
        if not rule.is_allowed:
            yield RuleBreach(
                part,
                Mark.FAILS,
                say(
                    "lay-washing-water-refused",
                    "“{part}” may not have washing water: {reason} Lead “{drum}” elsewhere, and ask your local code.",
                    part=part.name,
                    reason=words(rule.reason),
                    drum=drum.name,
                ),
            )
    for piece in zone.pieces:
        if isinstance(piece, Timer):
            yield RuleBreach(
                piece,
                Mark.FAILS,
                say(
                    "lay-timer-on-washing-water",
                    "“{piece}” would hold washing water back until its hour, and it must not stand: take the timer "
                    "out.",
                    piece=piece.name,
                ),
            )
    if drum.outlet is DrumOutlet.PUMP and not zone.pumps:
        yield RuleBreach(
            drum,
            Mark.FAILS,
            say(
                "lay-drum-lacks-pump",
                "“{drum}” is emptied by a pump, but none is in its lines: set one in at the drum, or say that it "
                "empties by gravity.",
                drum=drum.name,
            ),
        )


def about_floats(zone: Zone) -> Iterator[RuleBreach]:
    """A float does by itself what a timer would, and clogs on the first leaf."""
    if not zone.keeps_level:
        return
    yield from _height_over_floats(zone)
    yield from _many_floats(zone)
    yield from _open_troughs(zone)
    for piece in zone.pieces:
        if isinstance(piece, Timer):
            yield RuleBreach(
                piece,
                Mark.BUT,
                say(
                    "lay-timer-before-float",
                    "“{piece}” shuts the water off from a float, which keeps its level by itself: take the timer out.",
                    piece=piece.name,
                ),
            )
    if not zone.has_filter:
        yield RuleBreach(
            zone.outlets[0].pipe,
            Mark.BUT,
            say(
                "lay-no-screen-before-float",
                "No screen before the float of “{zone}”: grit keeps it from shutting, and the box runs over. Set a "
                "filter before it.",
                zone=zone.name,
            ),
        )


def _each_has_a_float(zone: Zone) -> bool:
    return all(isinstance(part, Pots) and not part.is_joined for part in zone.watered)


def _height_over_floats(zone: Zone) -> Iterator[RuleBreach]:
    """Small valves want some head to open on, with the store down at its tap."""
    store = zone.source
    if not isinstance(store, Store) or not _each_has_a_float(zone) or zone.pumps:
        return
    over = store.tap_m - zone.outlet_m
    if 0 < over < OVER_FLOATS - NEARLY:
        yield RuleBreach(
            store,
            Mark.BUT,
            say(
                "lay-tank-too-low-for-floats",
                "The tap of “{store}” is {over} over the float valves, and they want {least}: raise it by {by}.",
                store=store.name,
                over=Amount(over, "height"),
                least=Amount(OVER_FLOATS, "height"),
                by=Amount(OVER_FLOATS - over, "height"),
            ),
        )


def _many_floats(zone: Zone) -> Iterator[RuleBreach]:
    """Six valves are fed by thin tube; dozens by wide pipe out of which the air can go."""
    if not _each_has_a_float(zone) or zone.group is None or zone.pumps:
        return
    count = len(zone.outlets)
    has_air_release = any(
        isinstance(piece, Fitting) and piece.role is FittingRole.LETS_AIR_OUT
        for piece in zone.pieces
    )
    if count > FEW_FLOATS and not has_air_release:
        yield RuleBreach(
            zone.outlets[0].pipe,
            Mark.BUT,
            say(
                "lay-floats-without-air-release",
                "{count} float valves hang on “{zone}”: at so little head a bubble stops the water. Set an air release "
                "at its highest place, and feed them from pipe of {bore}.",
                count=count,
                zone=zone.name,
                bore=Amount(WIDE_ENOUGH, "bore"),
            ),
        )
    least, holds = TANK_A_POT * count, zone.group.capacity_m3
    if zone.is_filled_by_hand and holds < least:
        yield RuleBreach(
            zone.source,
            Mark.BUT,
            say(
                "lay-tank-small-for-floats",
                "No roof fills “{store}”, and it holds {holds} for {pots}: {least} let you refill it in peace, "
                "when a third is left.",
                store=zone.source.name,
                holds=Amount(holds, "volume"),
                pots=counted(count, "pot"),
                least=Amount(least, "volume"),
            ),
        )


def _open_troughs(zone: Zone) -> Iterator[RuleBreach]:
    """Open water dries, turns green and breeds mosquitoes."""
    for pots in zone.watered:
        if isinstance(pots, Pots) and pots.kept_by is KeptBy.TROUGH and pots.open_m2 > 0:
            yield RuleBreach(
                pots,
                Mark.BUT,
                say(
                    "lay-trough-lies-open",
                    "{area} of “{pots}” is open water: it dries, turns green and breeds mosquitoes. Cover it between "
                    "the planters with boards or foil, and fine mesh over every hole.",
                    area=Amount(pots.open_m2, "area"),
                    pots=pots.name,
                ),
            )


def _months_of_valves(zone: Zone) -> Iterator[RuleBreach]:
    """Only what runs by itself is shut off by the month: the rest has its timer, or a hand."""
    for piece in zone.pieces:
        if isinstance(piece, Fitting) and piece.open_months:
            yield RuleBreach(
                piece,
                Mark.BUT,
                say(
                    "lay-months-without-drum",
                    "“{piece}” is said to be open in {months}; that counts on washing water alone: elsewhere set "
                    "the months on the timer.",
                    piece=piece.name,
                    months=months_in_words(piece.open_months),
                ),
            )
