"""The parts that are laid for one bed or group of pots, as they are collected."""

from collections.abc import Sequence
from dataclasses import dataclass, field

from euhydra.garden import plumbing
from euhydra.garden.drinker import Drinker
from euhydra.garden.kinds import Collection, outlines_of
from euhydra.garden.model import Garden
from euhydra.garden.part import Part, Point
from euhydra.garden.pipes import Fitting, Pipe
from euhydra.garden.plumbing import FittingRole
from euhydra.garden.pots import Pots
from euhydra.planner.lay import rows
from euhydra.planner.lay.detours import way_round
from euhydra.planner.lay.wishes import Wish

FLOAT_BOX = "float-box"
"""Kind of float valve before a chain of planters."""

LINES_BEGIN = 0.2
"""How far before what is watered its lines begin, or leave the pipe that they share. [m]"""


@dataclass
class Layer:
    """Collects the parts that are laid for one bed or group of pots, each with an id of its own.

    trunk, along : A pipe that others branch from too, and how far along it this one does. [m]
    """

    garden: Garden
    wish: Wish
    target: Drinker
    trunk: str = ""
    along: float | None = None
    parts: list[tuple[Collection, Part]] = field(default_factory=list)

    def __post_init__(self) -> None:
        self.taken = {part.id for part in self.garden.parts}

    def new_id(self, stem: str) -> str:
        """An id that nothing has yet."""
        stem = f"{self.target.id}-{stem}"[:36]
        number = 1
        while (name := stem if number == 1 else f"{stem}-{number}") in self.taken:
            number += 1
        self.taken.add(name)
        return name

    def named(self, what: str) -> str:
        """A part's name: whose it is, and what."""
        return f"{self.target.name}, {what}"[:60]

    def pipe(
        self, stem: str, what: str, path: Sequence[Point], begins_at: str, **more: object
    ) -> Pipe:
        """Add a pipe."""
        if begins_at == self.trunk:
            more = more | {"begins_along_m": self.along}
        pipe = Pipe.model_validate(
            {
                "id": self.new_id(stem),
                "name": self.named(what),
                "path": tuple(path),
                "begins_at": begins_at,
            }
            | more
        )
        self.parts.append(("pipes", pipe))
        return pipe

    def valve(self, at: Point) -> str:
        """A valve where the branch leaves the shared pipe."""
        kinds = plumbing.fitting_kinds().values()
        kind = next(kind for kind in kinds if kind.role is FittingRole.THROTTLES)
        fitting = Fitting(
            id=self.new_id("valve"),
            name=self.named("valve"),
            at=at,
            begins_at=self.trunk,
            begins_along_m=self.along,
            kind=kind.id,
        )
        self.parts.append(("fittings", fitting))
        return fitting.id

    @property
    def dripper(self) -> str:
        """The kind of dripper; before a chain of planters a float valve, whatever was wished."""
        wished = plumbing.drippers().get(self.wish.line)
        is_joined = isinstance(self.target, Pots) and self.target.is_joined
        if is_joined and (wished is None or not wished.keeps_level):
            return FLOAT_BOX
        return self.wish.line

    @property
    def keeps_level(self) -> bool:
        """Whether floats let the water out: they want a screen, and no timer."""
        kind = plumbing.drippers().get(self.dripper)
        return isinstance(self.target, Pots) and kind is not None and kind.keeps_level

    def feed(self, begins_at: str, at: Point, to: Point) -> str:
        """Plain pipe to where the lines begin; the id of what they are fed by."""
        if rows.distance(at, to) < 0.02:
            return begins_at
        way, hose = self.way_to(at, to), self.wish.hose_m
        pipe = self.pipe("hose", "hose", way, begins_at, fittings_loss=3.0, length_m=hose)
        return pipe.id

    def way_to(self, at: Point, to: Point) -> list[Point]:
        """Every bend of a pipe round stores and what else is planted, from one end to the other."""
        others = (p for p in (*self.garden.planted, *self.garden.stores) if p.id != self.target.id)
        return way_round(at, to, [each for part in others for each in outlines_of(part)])
