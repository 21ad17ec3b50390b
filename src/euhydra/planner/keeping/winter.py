"""Lists for winter and spring: what comes in, is drained, stays, is capped; hoses by label."""

from collections.abc import Iterator
from dataclasses import dataclass

from euhydra.garden.model import Garden
from euhydra.garden.pipes import Pipe
from euhydra.garden.plumbing import FittingRole
from euhydra.garden.sentences import Sentence, say
from euhydra.planner.chain import Chain
from euhydra.planner.parts import meetings_linked
from euhydra.planner.water import laws


@dataclass(frozen=True)
class Stored:
    """A hose or line in winter."""

    pipe: Pipe
    waters: str
    stays: bool


COME_IN = (
    FittingRole.FILTERS,
    FittingRole.REGULATES,
    FittingRole.STOPS_BACKFLOW,
    FittingRole.SPLITS,
    FittingRole.OPENS_WITH_ANY,
)
"""What frost would crack with the last of its water in it."""


def winter_list(garden: Garden) -> tuple[tuple[str, tuple[Sentence, ...]], ...]:
    indoors = [
        say("keeping-dry-batteries", "“{t}”: dry, batteries out", t=t.name) for t in garden.timers
    ]
    indoors += [
        say("keeping-drained-unplugged-first", "“{p}”: drained, unplugged first", p=p.name)
        for p in garden.pumps
    ]
    indoors += [
        say("keeping-opened-dried", "“{f}”: opened and dried", f=f.name)
        for f in garden.fittings
        if f.role in COME_IN
    ]
    drained = [
        say(
            "keeping-both-ends-open",
            "“{p}”: both ends open, lifted from one end to the other",
            p=p.name,
        )
        for p in garden.pipes
        if not laws.gives(p) and p.waters is None
    ]
    drained += [
        say("keeping-emptied-tap-left", "“{s}”: emptied, its tap left open", s=s.name)
        for s in garden.stores
        if s.sunk_m <= 0
    ]
    stays = [
        say("keeping-below-frost-left", "“{s}”: below the frost, left full", s=s.name)
        for s in garden.stores
        if s.sunk_m > 0
    ]
    stays += (
        [say("keeping-drip-lines-stay", "Drip lines may stay, drained, with their ends open")]
        if any(laws.kind_of(p).has_outlets for p in garden.pipes)
        else []
    )
    capped = [
        say(
            "keeping-diverter-shut-rain",
            "“{d}”: diverter shut, so that the rain stays in the pipe",
            d=d.name,
        )
        for d in garden.downspouts
        if d.leads_to
    ]
    capped += [
        say(
            "keeping-shut-inside-house",
            "“{t}”: shut off inside the house, opened outside",
            t=t.name,
        )
        for t in garden.taps
    ]
    lists = (
        ("Comes in", indoors),
        ("Is drained", drained),
        ("Stays out", stays),
        ("Is shut and capped", capped),
    )
    return tuple((title, tuple(items)) for title, items in lists if items)


def spring_list(chain: Chain) -> tuple[Sentence, ...]:
    garden = chain.garden
    if not garden.joinable:
        return ()
    steps = [
        say(
            "keeping-look-stand-level",
            "Look at every stand: level, nothing sunk or rotten, straps tight.",
        )
    ]
    steps += [
        say("keeping-rinse-shut-tap", "Rinse “{s}”, shut its tap, check mesh and lid.", s=s.name)
        for s in garden.stores
    ]
    steps += [
        say(
            "keeping-let-first-rain",
            "Let the first rain run by, then open the diverter of “{d}”.",
            d=d.name,
        )
        for d in garden.downspouts
        if d.leads_to
    ]
    steps += [
        say(
            "keeping-screw-heads-together",
            "Screw the heads together, in the order of the steps on Build; new washers, clean "
            "filters, new batteries.",
        )
    ]
    steps += [
        say(
            "keeping-flush-ends-open",
            "“{zone}”: flush with its ends open, close them, walk the line.",
            zone=z.zone.name,
        )
        for z in chain.zones
    ]
    steps += [
        say(
            "keeping-run-zone-once",
            "Run each zone once while you watch, and hold a cup under its first and last outlet.",
        )
    ]
    return tuple(steps)


def hose_list(chain: Chain) -> Iterator[Stored]:
    """By name, as the labels say, so that each finds its place again."""
    loose = meetings_linked.open_ends(chain.garden)
    for zone in chain.zones:
        waters = ", ".join(part.name for part in zone.zone.watered)
        for pipe in sorted(zone.zone.pipes, key=lambda p: p.name):
            if pipe.dripper is None:
                yield Stored(
                    pipe,
                    waters,
                    laws.gives(pipe) or (pipe.id not in loose and pipe.waters is not None),
                )
