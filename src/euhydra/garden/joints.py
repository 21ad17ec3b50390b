"""Checks on what is joined along the water's way, and on outlines."""

from collections import Counter
from collections.abc import Sequence

from shapely import Polygon

from euhydra.garden import catalogue, plumbing
from euhydra.garden.beds import Bed, BedShape
from euhydra.garden.part import Point, refuse
from euhydra.garden.patches import Patch
from euhydra.garden.pipes import Fitting, Piece, Pipe
from euhydra.garden.sentences import Amount
from euhydra.garden.sources import Greywater, Tap
from euhydra.garden.stores import Store

Joinable = Store | Tap | Greywater | Piece | Pipe

MOST_AT_A_PLACE = 2
"""Branches at one place of a pipe: a tee has one, a cross two."""

SAME_PLACE = 0.001
"""Distance along a pipe under which two joints are at one place. [m]"""


def check_joints(parts: Sequence[Joinable]) -> None:
    """Water comes from somewhere, along pipes that are long enough, through ports that are free."""
    by_id = {part.id: part for part in parts}
    _check_rings(by_id)
    taken: Counter[tuple[str, int | None]] = Counter()
    for part in parts:
        if isinstance(part, Piece | Pipe) and part.begins_at is not None:
            _check_along(part, by_id[part.begins_at], part.begins_along_m)
            taken[_port(by_id[part.begins_at], part.begins_along_m)] += 1
        if isinstance(part, Pipe) and part.ends_at is not None:
            if part.ends_at == part.id:
                raise refuse(
                    "ends-itself-join",
                    "“{part}” ends at itself: join it to another, or leave it open.",
                    part=part.name,
                )
            _check_along(part, by_id[part.ends_at], part.ends_along_m)
    for (part_id, _), count in taken.items():
        part = by_id[part_id]
        if count > ports_of(part):
            raise refuse(
                "pipes-begin-place",
                "{count} pipes begin at one place of “{part}”, which has room for {ports}: put a "
                "splitter there, or move one along.",
                count=count,
                part=part.name,
                ports=ports_of(part),
            )


def _check_rings(by_id: dict[str, Joinable]) -> None:
    for part in by_id.values():
        seen, here = {part.id}, part
        while isinstance(here, Piece | Pipe) and here.begins_at is not None:
            if here.begins_at in seen:
                raise refuse(
                    "fed-itself-round",
                    "“{part}” is fed by itself, round a ring: let one of them begin at a source.",
                    part=part.name,
                )
            seen.add(here.begins_at)
            here = by_id[here.begins_at]


def _check_along(part: Joinable, there: Joinable, along: float | None) -> None:
    if along is None:
        return
    if not isinstance(there, Pipe):
        raise refuse(
            "pipe-cannot-join",
            "“{there}” is no pipe, so “{part}” cannot join along it.",
            there=there.name,
            part=part.name,
        )
    if along > there.drawn_m + SAME_PLACE:
        raise refuse(
            "joins-but-long",
            "“{part}” joins “{there}” at {along}, but that is only {length} long: join it nearer.",
            part=part.name,
            there=there.name,
            along=Amount(along, "length"),
            length=Amount(there.drawn_m, "length"),
        )


def _port(part: Joinable, along: float | None) -> tuple[str, int | None]:
    if along is None and isinstance(part, Pipe):
        along = part.drawn_m
    return part.id, None if along is None else round(along / SAME_PLACE)


def with_room(parts: Sequence[Joinable]) -> list[Joinable]:
    """Those at whose end one more may begin."""
    by_id = {part.id: part for part in parts}
    taken = Counter(
        _port(by_id[part.begins_at], part.begins_along_m)
        for part in parts
        if isinstance(part, Piece | Pipe) and part.begins_at is not None
    )
    return [part for part in parts if taken[_port(part, None)] < ports_of(part)]


def ports_of(part: Joinable) -> int:
    """How many may begin at one place of it."""
    if isinstance(part, Store | Greywater):
        return 40  # a tap may be set wherever there is room for a hole
    if isinstance(part, Fitting):
        return catalogue.find(plumbing.fitting_kinds(), part.kind).ports
    return MOST_AT_A_PLACE if isinstance(part, Pipe) else 1


def check_outlines(beds: Sequence[Bed], patches: Sequence[Patch]) -> None:
    """No outline crosses itself."""
    for bed in beds:
        if bed.shape is BedShape.CORNERS:
            _check_outline(bed.name, bed.corners)
    for patch in patches:
        _check_outline(patch.name, patch.corners)


def _check_outline(name: str, corners: Sequence[Point]) -> None:
    outline = Polygon([(p.x_m, p.y_m) for p in corners])
    if not outline.is_valid:
        raise refuse(
            "outline-crosses-itself",
            "The outline of “{name}” crosses itself: draw its corners in order round it.",
            name=name,
        )
    if outline.area < 1e-3:
        raise refuse(
            "area-draw-corners", "“{name}” has no area: draw its corners apart.", name=name
        )
