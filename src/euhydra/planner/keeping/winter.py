"""Lists for winter and spring: what comes in, is drained, stays, is capped; hoses by label."""

from collections.abc import Iterator
from dataclasses import dataclass

from euhydra.garden.model import Garden
from euhydra.garden.pipes import Pipe
from euhydra.garden.plumbing import FittingRole
from euhydra.planner.answers import Sentence
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
)
"""What frost would crack with the last of its water in it."""


def winter_list(garden: Garden) -> tuple[tuple[str, tuple[Sentence, ...]], ...]:
    indoors = [Sentence(f"“{t.name}”: dry, batteries out") for t in garden.timers]
    indoors += [Sentence(f"“{p.name}”: drained, unplugged first") for p in garden.pumps]
    indoors += [
        Sentence(f"“{f.name}”: opened and dried") for f in garden.fittings if f.role in COME_IN
    ]
    drained = [
        Sentence(f"“{p.name}”: both ends open, lifted from one end to the other")
        for p in garden.pipes
        if not laws.gives(p) and p.waters is None
    ]
    drained += [
        Sentence(f"“{s.name}”: emptied, its tap left open") for s in garden.stores if s.sunk_m <= 0
    ]
    stays = [
        Sentence(f"“{s.name}”: below the frost, left full") for s in garden.stores if s.sunk_m > 0
    ]
    stays += (
        [Sentence("Drip lines may stay, drained, with their ends open")]
        if any(laws.kind_of(p).has_outlets for p in garden.pipes)
        else []
    )
    capped = [
        Sentence(f"“{d.name}”: diverter shut, so that the rain stays in the pipe")
        for d in garden.downspouts
        if d.leads_to
    ]
    capped += [
        Sentence(f"“{t.name}”: shut off inside the house, opened outside") for t in garden.taps
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
    steps = [Sentence("Look at every stand: level, nothing sunk or rotten, straps tight.")]
    steps += [
        Sentence(f"Rinse “{s.name}”, shut its tap, check mesh and lid.") for s in garden.stores
    ]
    steps += [
        Sentence(f"Let the first rain run by, then open the diverter of “{d.name}”.")
        for d in garden.downspouts
        if d.leads_to
    ]
    steps += [
        Sentence(
            "Screw the heads together, in the order of the steps on Build; new washers, clean filters, new batteries."
        )
    ]
    steps += [
        Sentence(f"“{z.zone.name}”: flush with its ends open, close them, walk the line.")
        for z in chain.zones
    ]
    steps += [
        Sentence(
            "Run each zone once while you watch, and hold a cup under its first and last outlet."
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
