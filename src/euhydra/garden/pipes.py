"""Pipes of every kind, and the pieces between them: fittings and pumps; timers are beside.

Water runs from a source through pieces and pipes. Each says by id what it begins at; a place
along a pipe is counted in metres from the pipe's own beginning, as drawn.
"""

from collections.abc import Sequence
from enum import StrEnum
from itertools import pairwise
from math import hypot
from typing import Annotated, Any, Self

import numpy as np
from pydantic import Field, field_validator, model_validator

from euhydra.core.pumps import PumpCurve, PumpCurveError
from euhydra.garden import plumbing
from euhydra.garden.part import Id, Model, Part, Point, asked, known_entry, linked, refuse
from euhydra.garden.plumbing import FittingRole

JOINABLE = ("stores", "taps", "greywaters", "timers", "fittings", "pumps", "pipes")
"""Collections that something may begin at."""

LEAST_LENGTH = 0.01
"""Shortest pipe that can be drawn. [m]"""

LEAST_LAID = 0.05
"""Shortest length of a pipe as it lies, where that is given. [m]"""


class EndKind(StrEnum):
    """How the far end of a pipe is closed."""

    OPENS = "opens"
    SHUT = "shut"


def _begins() -> Any:
    return linked("Fed by", *JOINABLE, default=None, help_text="Where its water comes from.")


def _begins_along() -> Any:
    return asked(
        "How far along that pipe", "length", "Empty: at its far end.", default=None, ge=0, le=1000
    )


class Pipe(Part):
    """A pipe as it lies: hose, header, drip line, soaker, drilled pipe or micro-tube.

    holes_m : Of a drilled pipe, the width of each hole from its beginning on, where they are
        graded; those beyond the list are as wide as the last.
    """

    kind: str = asked("Kind of pipe", "pipe_kinds", default="hose-13")
    path: tuple[Point, ...] = Field(min_length=2, max_length=400)
    begins_at: Id | None = _begins()
    begins_along_m: float | None = _begins_along()
    ends_at: Id | None = linked(
        "Joined at its far end to",
        *JOINABLE,
        default=None,
        help_text="Only where it closes a ring. Otherwise it ends for itself.",
    )
    ends_along_m: float | None = asked(
        "How far along that one", "length", "Empty: at its far end.", default=None, ge=0, le=1000
    )
    waters: Id | None = linked("Waters", "drinkers", default=None)
    length_m: float | None = asked(
        "Length, if longer than drawn",
        "length",
        "As it lies, with its bends. Empty: assumed as it is drawn.",
        default=None,
        ge=LEAST_LAID,
        le=1000,
    )
    bore_m: float | None = asked(
        "Inside width, if not the usual",
        "bore",
        "Printed on it, or measured inside.",
        default=None,
        ge=0.001,
        le=0.15,
    )
    spacing_m: float | None = asked(
        "Between outlets",
        "height",
        "Usual: {~30 cm|height} in sand, {~45 cm|height} in loam, {~60 cm|height} in clay.",
        default=None,
        ge=0.05,
        le=3,
    )
    hole_m: float | None = asked(
        "Width of the holes", "bore", "Of a drilled pipe.", default=None, ge=0.0003, le=0.02
    )
    holes_m: tuple[float, ...] = Field((), max_length=400)
    dripper: str | None = asked(
        "Dripper at its end", "drippers", "Of a tube to a pot or a plant.", default=None
    )
    rise_m: float = asked("Above the ground", "height", "", default=0.0, ge=-3, le=5)
    fittings_loss: float = asked(
        "Narrow places on it",
        "plain",
        "0 if it lies free; two sharp bends: 2; a valve all but shut: thousands.",
        default=0.0,
        ge=0,
        le=1000000,
    )
    outlet_factor: float = asked(
        "Its outlets give",
        "plain",
        "1 as printed on them; Keep learns it from cups and meters.",
        default=1.0,
        ge=0.1,
        le=3,
    )
    own_flow_m3_s: float | None = asked(
        "One outlet gives, as printed on it",
        "flow",
        "If not as its kind does; of soaker hose for the length that its kind names.",
        default=None,
        gt=0,
        le=1e-3,
    )
    own_head_m: float | None = asked(
        "at a head of",
        "head",
        "{~10 m|head} is {~1 bar|tap_pressure}. Empty: as its kind.",
        default=None,
        gt=0,
        le=60,
    )
    end: EndKind = asked("Its far end", "end_kinds", default=EndKind.OPENS)

    _known = field_validator("kind")(lambda value: known_entry(value, plumbing.pipe_kinds()))

    @field_validator("dripper")
    @classmethod
    def _known_dripper(cls, value: str | None) -> str | None:
        return value if value is None else known_entry(value, plumbing.drippers())

    @model_validator(mode="after")
    def _has_a_length(self) -> Self:
        if self.drawn_m < LEAST_LENGTH:
            raise refuse(
                "length-draw-place",
                "“{name}” has no length: draw it from one place to another.",
                name=self.name,
            )
        if self.dripper and self.ends_at:
            raise refuse(
                "ends-dripper-joint",
                "“{name}” ends in a dripper and in a joint: keep one of the two.",
                name=self.name,
            )
        return self

    @property
    def drawn_m(self) -> float:
        """Length as drawn. [m]"""
        return sum(hypot(b.x_m - a.x_m, b.y_m - a.y_m) for a, b in pairwise(self.path))

    @property
    def lies_m(self) -> float:
        """Length as it lies. [m]"""
        return self.length_m if self.length_m is not None else self.drawn_m

    def point_at(self, along: float) -> Point:
        """The place so many metres along it, as drawn; its ends beyond them."""
        ((x, y),) = self.places_at([along])
        return Point(x_m=x, y_m=y)

    def places_at(self, along: Sequence[float]) -> list[tuple[float, float]]:
        """As `point_at`, as bare numbers, for the many outlets of a line. [m]"""
        x, y = np.array([(p.x_m, p.y_m) for p in self.path]).T
        sofar = np.concatenate([[0.0], np.hypot(np.diff(x), np.diff(y)).cumsum()])
        east, north = np.interp(along, sofar, x), np.interp(along, sofar, y)
        return list(zip(east.tolist(), north.tolist(), strict=True))


class Piece(Part):
    """Anything that sits at one place between pipes."""

    kind: str
    at: Point = Point()
    begins_at: Id | None = _begins()
    begins_along_m: float | None = _begins_along()


class Turn(StrEnum):
    """Whether what follows a piece is opened together with the rest, or by turns."""

    TOGETHER = "together"
    BY_TURNS = "by-turns"


Month = Annotated[int, Field(ge=1, le=12)]


class Fitting(Piece):
    """A piece without a clock or motor: splitter, valve, filter, regulator, coupling."""

    kind: str = asked("Kind of piece", "fitting_kinds")
    setting_m: float | None = asked(
        "Holds a head of",
        "head",
        "Of a regulator. Empty: as usual for its kind.",
        default=None,
        ge=0.5,
        le=60,
    )
    loss: float | None = asked(
        "How much it holds back",
        "plain",
        "Of a throttled valve: 10 a little, 1000 nearly all. Empty: as usual for its kind.",
        default=None,
        ge=0,
        le=1e6,
    )
    turn: Turn = asked("What it feeds is opened", "turns", default=Turn.TOGETHER)
    visits_week: int | None = asked(
        "Somebody moves it, at most so many times a week",
        "count",
        "Of what is opened by turns. Empty: as often as the beds ask.",
        default=None,
        ge=1,
        le=21,
    )
    open_months: tuple[Month, ...] = asked(
        "Open in these months",
        "months",
        "Of a hand valve on washing water, such as May to September. Empty: all year.",
        default=(),
        max_length=12,
    )

    @property
    def role(self) -> FittingRole:
        """What it does."""
        return plumbing.fitting_kinds()[self.kind].role

    @property
    def is_visited(self) -> bool:
        """Whether somebody has to come to open what it feeds, and does so only so often."""
        return self.turn is Turn.BY_TURNS and self.visits_week is not None

    def is_open_in(self, month: int) -> bool:
        """Whether it lets water through in a month, January being 1."""
        return not self.open_months or month in self.open_months

    _known = field_validator("kind")(lambda value: known_entry(value, plumbing.fitting_kinds()))


class CurvePoint(Model):
    """A point of a pump's curve."""

    flow_m3_s: float = Field(ge=0, le=0.1)
    head_m: float = Field(ge=0, le=200)


class Pump(Piece):
    """A pump in the line."""

    kind: str = asked("Kind of pump", "pump_kinds")
    points: tuple[CurvePoint, ...] = asked(
        "What it gives, at which height",
        "curve",
        "Pairs, such as {0 L/h|flow} {~6 m|head}, {~500 L/h|flow} {~4 m|head}, {~900 L/h|flow} {~1 m|head}. Empty: the kind's.",
        default=(),
        max_length=12,
    )
    height_m: float = asked(
        "Pump above the ground",
        "head",
        "Below it: minus. Sunk in the store it never sucks air.",
        default=0.0,
        ge=-5,
        le=10,
    )
    suction_m: float = asked(
        "Suction hose", "length", "0 if it sits in the water.", default=0.0, ge=0, le=50
    )
    band_m3: float = asked(
        "Water between on and off",
        "volume",
        "In its pressure vessel or float's travel.",
        default=0.001,
        ge=0,
        le=1,
    )
    power_w: float | None = asked(
        "Draws, watts",
        "plain",
        "From its label; volts times amps. Empty: as usual for its kind.",
        default=None,
        gt=0,
        le=3000,
    )
    battery_ah: float | None = asked(
        "Battery, ampere-hours", "plain", "Of a battery pump.", default=None, ge=0.5, le=2000
    )

    _known = field_validator("kind")(lambda value: known_entry(value, plumbing.pump_kinds()))

    @model_validator(mode="after")
    def _falls(self) -> Self:
        if self.points:
            try:
                PumpCurve.through([(p.flow_m3_s, p.head_m) for p in self.points])
            except PumpCurveError as error:
                raise refuse(
                    "pump-curve", "“{name}”: {error}", name=self.name, error=str(error)
                ) from None
        return self
