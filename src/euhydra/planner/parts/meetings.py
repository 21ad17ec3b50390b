"""What meets at one place of the pipework, and which joint that takes.

An arm is a tube that leads away from the place. A tube that only passes has two.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from enum import StrEnum
from itertools import pairwise
from math import acos, degrees, hypot

from euhydra.garden.pipes import EndKind, Pipe
from euhydra.planner.parts import uses
from euhydra.planner.parts.uses import Good
from euhydra.planner.water import laws

SHARP = 60.0
"""Turn from which on a stiff tube takes an elbow. [°] Common practice: it kinks."""

BEND_IS_HERE = 0.003
"""Distance to a bend within which a place is at it. [m]"""

STIFF = ("plain", "drip", "drilled")
"""Families of pipe that do not follow a corner by themselves."""


@dataclass(frozen=True)
class Tube:
    """A tube as joints see it: family, inside width [m], and how its far end is closed."""

    family: str
    bore: float
    end: EndKind
    has_dripper: bool

    @classmethod
    def of(cls, pipe: Pipe) -> "Tube":
        """The pipe as a tube."""
        kind = laws.kind_of(pipe)
        return cls(kind.family, laws.bore_of(pipe), pipe.end, pipe.dripper is not None)


class PlaceInPipe(StrEnum):
    """Which place of a tube something meets at."""

    START = "start"
    ALONG = "along"
    FAR = "far"


@dataclass(frozen=True)
class Arm:
    """A tube leading away from the place of it that is here; `dx`, `dy` point along it."""

    tube: Tube
    place: PlaceInPipe
    dx: float
    dy: float


@dataclass(frozen=True)
class Meeting:
    """Everything at one place. `at_piece` where a piece or a source holds it; `where` names it."""

    arms: tuple[Arm, ...]
    at_piece: bool
    where: str


def passing(points: Sequence[tuple[float, float]], tube: Tube, along: float) -> list[Arm]:
    """Both arms of a tube at a place that it passes; a bend close by counts as being there.

    Parameters
    ----------
    points : Of the stroke. [m]
    along : How far along it. [m]
    """
    path = [points[0], *(b for a, b in pairwise(points) if a != b)]
    run, at = 0.0, 0
    for at, (a, b) in enumerate(pairwise(path)):
        long = hypot(b[0] - a[0], b[1] - a[1])
        if along <= run + long or at == len(path) - 2:
            break
        run += long
    before, after = at, at
    if along - run < BEND_IS_HERE:
        before = max(at - 1, 0)
    elif run + long - along < BEND_IS_HERE:
        after = min(at + 1, len(path) - 2)
    (ax, ay), (bx, by) = path[before : before + 2]
    (cx, cy), (dx, dy) = path[after : after + 2]
    return [
        Arm(tube, PlaceInPipe.ALONG, ax - bx, ay - by),
        Arm(tube, PlaceInPipe.ALONG, dx - cx, dy - cy),
    ]


def turn_between(a: Arm, b: Arm) -> float:
    """Turn from one arm to the other; 0 where they are in one line. [°]"""
    long = hypot(a.dx, a.dy) * hypot(b.dx, b.dy)
    if long <= 0:
        return 0.0
    return degrees(acos(min(1.0, max(-1.0, -(a.dx * b.dx + a.dy * b.dy) / long))))


def joints_of(meeting: Meeting) -> list[Good]:
    """Joints that a place takes."""
    wide = [arm for arm in meeting.arms if arm.tube.family != "micro"]
    if not wide:
        return _joined(meeting.arms, meeting.at_piece)
    punched = [arm for arm in meeting.arms if arm.tube.family == "micro"]
    barbs = [uses.sized("punch-barb", [arm.tube.bore]) for arm in punched]
    return barbs + _joined(wide, meeting.at_piece)


def _joined(arms: Sequence[Arm], at_piece: bool) -> list[Good]:
    count = len(arms) + at_piece
    if count == 1 or (count == 2 and at_piece):
        # What begins at a piece is screwed or pushed on: see ``adapters``.
        return [] if at_piece else _end(arms[0])
    if count == 2:
        return _two(arms[0], arms[1])
    return [uses.sized("tee" if count == 3 else "cross", (arm.tube.bore for arm in arms))]


def _two(a: Arm, b: Arm) -> list[Good]:
    bores = (a.tube.bore, b.tube.bore)
    if turn_between(a, b) >= SHARP and a.tube.family in STIFF:
        return [uses.sized("elbow", bores)]
    is_passing = a.place is PlaceInPipe.ALONG and b.place is PlaceInPipe.ALONG
    return [] if is_passing else [uses.sized("coupling", bores)]


def _end(arm: Arm) -> list[Good]:
    if arm.place is not PlaceInPipe.FAR or arm.tube.family == "micro" or arm.tube.has_dripper:
        return []  # a tube ends in its dripper, or open
    kind = "end-opens" if arm.tube.end is EndKind.OPENS else "end-shut"
    return [uses.sized(kind, [arm.tube.bore])]


def bends(points: Iterable[tuple[float, float]], tube: Tube) -> list[Good]:
    """Elbows along one tube as it is drawn."""
    if tube.family not in STIFF:
        return []
    path, found = list(points), []
    for (a, b), (_, c) in pairwise(pairwise(path)):
        before = Arm(tube, PlaceInPipe.ALONG, a[0] - b[0], a[1] - b[1])
        after = Arm(tube, PlaceInPipe.ALONG, c[0] - b[0], c[1] - b[1])
        if turn_between(before, after) >= SHARP:
            found.append(uses.sized("elbow", [tube.bore]))
    return found
