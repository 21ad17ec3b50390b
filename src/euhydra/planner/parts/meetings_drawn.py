"""What meets where, by the drawing alone: strokes that touch, whatever the document links.

It is there to check the count by links: a pipe that is linked to one place and drawn at another
makes the two disagree.
"""

from collections.abc import Sequence
from itertools import pairwise
from math import hypot

import numpy as np
from numpy.typing import NDArray
from shapely import LineString, Point, STRtree

from euhydra.garden.model import Garden
from euhydra.garden.pipes import Piece, Pipe
from euhydra.planner.parts.meetings import Arm, Meeting, PlaceInPipe, Tube, passing

TOUCH = 0.003
"""Distance under which two strokes touch. [m]"""

Spot = tuple[float, float]


def meetings(garden: Garden) -> list[Meeting]:
    """Every place at which a stroke ends or touches another's end."""
    pipes = [pipe for pipe in garden.pipes if pipe.drawn_m > 0]
    if not pipes:
        return []
    return _Strokes(garden, pipes).meetings()


class _Strokes:
    def __init__(self, garden: Garden, pipes: Sequence[Pipe]) -> None:
        self.pipes = pipes
        self.tubes = [Tube.of(pipe) for pipe in pipes]
        self.paths = [[(p.x_m, p.y_m) for p in pipe.path] for pipe in pipes]
        self.lines = [LineString(path) for path in self.paths]
        self.tree = STRtree(self.lines)
        pieces: tuple[Piece, ...] = (*garden.timers, *garden.fittings, *garden.pumps)
        self.pieces = [(part.at.x_m, part.at.y_m) for part in pieces]
        screwed = {part.id for part in pieces}
        self.on_pipes = [
            (part.at.x_m, part.at.y_m) for part in pieces if part.begins_at not in screwed
        ]
        sources = [(part.at.x_m, part.at.y_m) for part in garden.sources]
        self.held = np.array([*self.pieces, *sources]).reshape(-1, 2)

    def meetings(self) -> list[Meeting]:
        seen: list[Meeting] = []
        taken: set[tuple[int, int]] = set()
        for at in self._ends():
            cell = round(at[0] / TOUCH), round(at[1] / TOUCH)
            near = {(cell[0] + i, cell[1] + j) for i in (-1, 0, 1) for j in (-1, 0, 1)}
            if near & taken:
                continue
            taken.add(cell)
            seen.append(self._meeting(at))
        return [meeting for meeting in seen if meeting.arms]

    def _ends(self) -> list[Spot]:
        """Ends of strokes, and pieces that sit on one; what is screwed to another piece sits on none."""
        ends = [spot for path in self.paths for spot in (path[0], path[-1])]
        return ends + [at for at in self.on_pipes if self._touching(at)]

    def _touching(self, at: Spot) -> list[int]:
        found: NDArray[np.intp] = self.tree.query(Point(at), "dwithin", distance=TOUCH)
        return sorted(found.tolist())

    def _meeting(self, at: Spot) -> Meeting:
        arms, names = [], []
        touching = self._touching(at)
        for i in touching:
            own = self._arms_of(i, at)
            if len(touching) > 1 and own[0].tube.has_dripper and own[0].place is PlaceInPipe.FAR:
                continue  # it ends in its dripper, over or under what else is drawn there
            arms += own
            names.append(self.pipes[i].name)
        is_held = bool(len(self.held)) and bool(
            (np.hypot(*(self.held - np.array(at)).T) <= TOUCH).any()
        )
        there = _not_from_the_piece(arms) if is_held else arms
        return Meeting(tuple(there), is_held, " and ".join(names))

    def _arms_of(self, i: int, at: Spot) -> list[Arm]:
        """One arm where the stroke begins or ends here, two where it passes; one in a ring's two."""
        path, tube = self.paths[i], self.tubes[i]
        starts, ends = _apart(path[0], at) <= TOUCH, _apart(path[-1], at) <= TOUCH
        arms = []
        if starts:
            arms.append(_leading(path, tube, PlaceInPipe.START))
        if ends:
            arms.append(_leading(path[::-1], tube, PlaceInPipe.FAR))
        if arms:
            return arms
        return passing(path, tube, float(self.lines[i].project(Point(at))))


def _not_from_the_piece(arms: Sequence[Arm]) -> Sequence[Arm]:
    """Where a stroke comes to a piece, wide tubes that begin there begin at the piece, not at it."""
    fed = any(arm.place is not PlaceInPipe.START for arm in arms)
    return [
        arm
        for arm in arms
        if not fed or arm.place is not PlaceInPipe.START or arm.tube.family == "micro"
    ]


def _apart(a: Spot, b: Spot) -> float:
    return hypot(a[0] - b[0], a[1] - b[1])


def _leading(path: Sequence[Spot], tube: Tube, place: PlaceInPipe) -> Arm:
    a, b = next(((a, b) for a, b in pairwise(path) if _apart(a, b) > 0), (path[0], path[1]))
    return Arm(tube, place, b[0] - a[0], b[1] - a[1])
