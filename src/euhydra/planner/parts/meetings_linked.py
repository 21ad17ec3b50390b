"""What meets where, by the links of the document: what each pipe begins at and ends at."""

from collections import defaultdict
from functools import cached_property
from itertools import pairwise
from math import hypot

from euhydra.garden.joints import SAME_PLACE
from euhydra.garden.model import Garden
from euhydra.garden.pipes import Piece, Pipe
from euhydra.planner.parts.meetings import Arm, Meeting, PlaceInPipe, Tube, passing

Spot = tuple[str, int]
"""A pipe or piece by id, and millimetres along it; 0 at a piece."""


def meetings(garden: Garden) -> list[Meeting]:
    """Every place at which a pipe begins, ends, or is joined by another."""
    return _Links(garden).meetings()


def open_ends(garden: Garden) -> set[str]:
    """Ids of the pipes that end in nothing but their own end."""
    return {m.where for m in meetings(garden) if len(m.arms) == 1 and not m.at_piece}


class _Links:
    def __init__(self, garden: Garden) -> None:
        self.garden = garden
        self.pipes = {pipe.id: pipe for pipe in garden.pipes}

    def meetings(self) -> list[Meeting]:
        spots: set[Spot] = set()
        for pipe in self.garden.pipes:
            spots.add(self._spot(pipe.id, 0.0))
            spots.add(self._far_spot(pipe))
        spots |= self._piece_spots
        return [self._meeting(spot) for spot in sorted(spots)]

    def _along(self, pipe_id: str, along: float | None) -> float:
        return self.pipes[pipe_id].drawn_m if along is None else along

    def _spot(self, part_id: str, along: float) -> Spot:
        """Where a place of a pipe is counted: its very beginning belongs to what feeds it, and
        its very end to what it is joined to there.
        """
        pipe = self.pipes.get(part_id)
        if pipe is None:
            return part_id, 0
        if along < SAME_PLACE and pipe.begins_at is not None:
            if pipe.begins_at not in self.pipes:
                return pipe.begins_at, 0
            return self._spot(pipe.begins_at, self._along(pipe.begins_at, pipe.begins_along_m))
        if along > pipe.drawn_m - SAME_PLACE:
            return self._far_spot(pipe)
        return part_id, round(along / SAME_PLACE)

    def _far_spot(self, pipe: Pipe) -> Spot:
        if pipe.ends_at is None:
            return pipe.id, round(pipe.drawn_m / SAME_PLACE)
        if pipe.ends_at not in self.pipes:
            return pipe.ends_at, 0
        return self._spot(pipe.ends_at, self._along(pipe.ends_at, pipe.ends_along_m))

    @cached_property
    def _arms(self) -> dict[Spot, list[Arm]]:
        found: dict[Spot, list[Arm]] = defaultdict(list)
        passed: set[Spot] = set()
        for pipe in self.garden.pipes:
            tube = Tube.of(pipe)
            start, far = self._spot(pipe.id, 0.0), self._far_spot(pipe)
            found[start].append(_arm(pipe, tube, 0.0, PlaceInPipe.START))
            found[far].append(_arm(pipe, tube, pipe.drawn_m, PlaceInPipe.FAR))
            passed.update(
                spot
                for spot in (
                    self._joins(pipe.begins_at, pipe.begins_along_m),
                    self._joins(pipe.ends_at, pipe.ends_along_m),
                )
                if spot
            )
        passed |= self._piece_spots
        for pipe_id, at in passed:
            passes, along = self.pipes.get(pipe_id), at * SAME_PLACE
            if passes is not None and SAME_PLACE < along < passes.drawn_m - SAME_PLACE:
                points = [(p.x_m, p.y_m) for p in passes.path]
                found[pipe_id, at] += passing(points, Tube.of(passes), along)
        return found

    def _joins(self, part_id: str | None, along: float | None) -> Spot | None:
        if part_id is None or part_id not in self.pipes:
            return None
        return self._spot(part_id, self._along(part_id, along))

    def _meeting(self, spot: Spot) -> Meeting:
        part_id, _ = spot
        return Meeting(tuple(self._arms[spot]), self._holds_a_piece(spot), part_id)

    def _holds_a_piece(self, spot: Spot) -> bool:
        """Whether a piece or a source is at this place, or begins there."""
        if spot[0] not in self.pipes:
            return True
        return spot in self._piece_spots

    @cached_property
    def _piece_spots(self) -> set[Spot]:
        """Places of pipes at which a piece begins."""
        found = (self._joins(p.begins_at, p.begins_along_m) for p in self._pieces)
        return {spot for spot in found if spot}

    @property
    def _pieces(self) -> tuple[Piece, ...]:
        garden = self.garden
        return (*garden.timers, *garden.fittings, *garden.pumps)


def _arm(pipe: Pipe, tube: Tube, along: float, place: PlaceInPipe) -> Arm:
    points = [(p.x_m, p.y_m) for p in pipe.path]
    if place is PlaceInPipe.FAR:
        points.reverse()
    (ax, ay), (bx, by) = next(
        ((a, b) for a, b in pairwise(points) if hypot(b[0] - a[0], b[1] - a[1]) > 0), points[:2]
    )
    return Arm(tube, place, bx - ax, by - ay)
