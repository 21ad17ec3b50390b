"""Changes to a garden: each takes a garden and returns another, checked as a whole."""

from collections.abc import Iterator, Sequence, Set
from itertools import count as count_from
from itertools import pairwise
from math import hypot
from typing import Any

from euhydra.garden import joints, kinds, placing
from euhydra.garden.kinds import Collection
from euhydra.garden.model import Garden
from euhydra.garden.part import Part, Point, link_of
from euhydra.garden.pipes import LEAST_LAID, LEAST_LENGTH, Piece, Pipe
from euhydra.garden.roofs import Downspout
from euhydra.garden.turning import lines_turned
from euhydra.garden.usual import round_defaults

FED = kinds.collections(is_fed=True)
"""Collections of what is fed by something."""


def put(garden: Garden, collection: Collection, part: Part) -> Garden:
    """The garden with `part` in place of the one with its id, or added and connected.

    Raises
    ------
    pydantic.ValidationError : if the garden would no longer hold together.
    """
    lines: list[tuple[Collection, Part]] = [("pipes", p) for p in lines_turned(garden, part)]
    return put_all(garden, [(collection, part), *lines])


def put_all(garden: Garden, parts: Sequence[tuple[Collection, Part]]) -> Garden:
    """As `put`, for several parts at once: all or none; drawn ends follow what they are joined to.

    Raises
    ------
    pydantic.ValidationError : if the garden would no longer hold together.
    """
    changes: dict[str, Any] = {}
    for collection, part in parts:
        changes = changes | _placed(garden, changes, collection, part)
    return replace(attached(garden.model_copy(update=changes)))


def put_before(garden: Garden, collection: Collection, piece: Piece, part_id: str) -> Garden:
    """As `put`, with the new piece between a part and what feeds that.

    Raises
    ------
    pydantic.ValidationError : if the garden would no longer hold together.
    """
    for place in FED:
        for part in getattr(garden, place):
            if part.id == part_id:
                at = part.path[0] if isinstance(part, Pipe) else part.at
                feed = {"begins_at": part.begins_at, "begins_along_m": part.begins_along_m}
                after = part.model_copy(update={"begins_at": piece.id, "begins_along_m": None})
                return put_all(
                    garden,
                    [(collection, piece.model_copy(update=feed | {"at": at})), (place, after)],
                )
    return put(garden, collection, piece)


def put_into(
    garden: Garden, collection: Collection, piece: Piece, pipe_id: str, along: float
) -> Garden:
    """As `put`, with the new piece set into a pipe, which is cut in two there. [m]

    At either end of the pipe nothing is cut: the piece is set before it or after it.

    Raises
    ------
    pydantic.ValidationError : if the garden would no longer hold together.
    """
    pipe = next((p for p in garden.pipes if p.id == pipe_id), None)
    if pipe is None:
        return put(garden, collection, piece)
    least = LEAST_LENGTH
    if pipe.length_m is not None:  # each half has to be long enough as it lies, too
        least = max(least, LEAST_LAID * pipe.drawn_m / pipe.length_m)
    if along < least:
        return put_before(garden, collection, piece, pipe_id)
    at = pipe.point_at(along)
    if along > pipe.drawn_m - least:
        return put(garden, collection, piece.model_copy(update={"at": at, "begins_at": pipe_id}))
    first, second = _halves(garden, pipe, along, piece.id)
    placed = piece.model_copy(update={"at": at, "begins_at": first.id, "begins_along_m": None})
    moved = {p.id: _after_cut(p, first, second, along) for c in FED for p in getattr(garden, c)}
    changes: dict[str, Any] = {c: tuple(moved[p.id] for p in getattr(garden, c)) for c in FED}
    changes["pipes"] = (*(first if p.id == first.id else p for p in changes["pipes"]), second)
    changes[collection] = (*changes.get(collection, getattr(garden, collection)), placed)
    return replace(attached(garden.model_copy(update=changes)))


def _halves(garden: Garden, pipe: Pipe, along: float, piece_id: str) -> tuple[Pipe, Pipe]:
    """The two pieces of a cut pipe; what its far end was belongs to the second."""
    cut, share = pipe.point_at(along), along / pipe.drawn_m
    before, sofar = [pipe.path[0]], 0.0
    after: list[Point] = []
    for a, b in pairwise(pipe.path):
        sofar += hypot(b.x_m - a.x_m, b.y_m - a.y_m)
        (before if sofar < along - 1e-9 else after).append(b)
    first = pipe.model_copy(
        update={
            "path": (*before, cut),
            "length_m": None if pipe.length_m is None else pipe.length_m * share,
            "ends_at": None,
            "ends_along_m": None,
            "dripper": None,
        }
    )
    second = pipe.model_copy(
        update={
            "id": free_id(garden, f"{pipe.id[:34]}-on"),
            "name": f"{pipe.name[:54]}, on",
            "path": (cut, *(p for p in after if not _close(p, cut))),
            "length_m": None if pipe.length_m is None else pipe.length_m * (1 - share),
            "begins_at": piece_id,
            "begins_along_m": None,
            "fittings_loss": 0.0,
        }
    )
    return first, second


def _after_cut(part: Part, first: Pipe, second: Pipe, along: float) -> Part:
    """What was joined beyond the cut is joined to the second piece."""
    update: dict[str, Any] = {}
    for end in ("begins", "ends"):
        if getattr(part, f"{end}_at", None) != first.id:
            continue
        place = getattr(part, f"{end}_along_m")
        if place is None or place > along:
            update[f"{end}_at"] = second.id
            update[f"{end}_along_m"] = None if place is None else place - along
    return part.model_copy(update=update) if update else part


def _placed(
    garden: Garden, changes: dict[str, Any], collection: Collection, part: Part
) -> dict[str, Any]:
    """Collections that change when `part` is put in its place."""
    garden = garden.model_copy(update=changes)
    parts = {p.id: p for p in getattr(garden, collection)}
    is_new = part.id not in parts
    part = placing.set_down(garden, part) if is_new else part
    changes = {collection: tuple((parts | {part.id: part}).values())}
    if is_new and collection == "roofs":
        changes["downspouts"] = (*garden.downspouts, _downspout_of(garden, part))
    if is_new and collection == "stores" and not garden.stores:
        # The first store can only be meant for what still runs to the ground.
        changes["downspouts"] = tuple(
            d if d.leads_to else d.model_copy(update={"leads_to": part.id})
            for d in garden.downspouts
        )
    if is_new and isinstance(part, Piece) and part.begins_at is not None:
        garden = garden.model_copy(update=changes)
        changes |= _behind(garden, part)
    return changes


def _behind(garden: Garden, piece: Piece) -> dict[str, Any]:
    """Where a new piece takes the last port of its place, what was there is fed by the piece."""
    there = [
        part
        for place in FED
        for part in getattr(garden, place)
        if part.id != piece.id
        and (part.begins_at, part.begins_along_m) == (piece.begins_at, piece.begins_along_m)
    ]
    owner = next(part for part in garden.joinable if part.id == piece.begins_at)
    if len(there) < joints.ports_of(owner) or len(there) > joints.ports_of(piece):
        return {}
    ids = {part.id for part in there}
    update = {"begins_at": piece.id, "begins_along_m": None}
    return {
        place: tuple(
            p.model_copy(update=update) if p.id in ids else p for p in getattr(garden, place)
        )
        for place in FED
    }


def _downspout_of(garden: Garden, roof: Part) -> Downspout:
    """A downspout for a new roof; it leads to the store, where there is but one."""
    only = garden.stores[0].id if len(garden.stores) == 1 else None
    is_first = not garden.downspouts
    name = "Downspout" if is_first else f"Downspout of {roof.name}"[:60]
    numbers: dict[str, Any] = dict(round_defaults(Downspout, garden.units))
    named = {"id": free_id(garden, "downspout"), "name": name}
    return Downspout(**named, roof_id=roof.id, leads_to=only, **numbers)


def remove(garden: Garden, part_id: str) -> Garden:
    """The garden without a part, nor what cannot be without it; other links to it are undone."""
    gone = {part_id}
    while found := _lost_with(garden, gone) - gone:
        gone |= found
    kept: dict[str, Any] = {}
    garden = _bridged(garden, gone)
    for collection in kinds.collections():
        staying = (p for p in getattr(garden, collection) if p.id not in gone)
        kept[collection] = tuple(_unlinked(part, gone) for part in staying)
    return replace(attached(garden.model_copy(update=kept)))


def _bridged(garden: Garden, gone: set[str]) -> Garden:
    """What a piece that goes fed is fed by what fed the piece."""
    before = {p.id: (p.begins_at, p.begins_along_m) for p in garden.pieces if p.id in gone}

    def bridged(part: Part) -> Part:
        begins_at, along = getattr(part, "begins_at", None), getattr(part, "begins_along_m", None)
        if begins_at not in before:
            return part
        while begins_at in before:
            begins_at, along = before[begins_at]
        return part.model_copy(update={"begins_at": begins_at, "begins_along_m": along})

    changes: dict[str, Any] = {c: tuple(map(bridged, getattr(garden, c))) for c in FED}
    return garden.model_copy(update=changes)


def attached(garden: Garden) -> Garden:
    """The garden with the drawn ends of its pipes where the things they are joined to are.

    A joint along a pipe that has become shorter than that moves to its end.
    """
    places: dict[str, Point] = {p.id: p.at for p in (*garden.sources, *garden.pieces)}
    pipes = {pipe.id: pipe for pipe in garden.pipes}
    done: dict[str, Pipe] = {}

    def place(part_id: str | None, along: float | None, depth: int) -> Point | None:
        if part_id in places:
            return places[part_id]
        if part_id not in pipes or depth > len(pipes):
            return None
        pipe = attach(pipes[part_id], depth + 1)
        return pipe.path[-1] if along is None else pipe.point_at(along)

    def attach(pipe: Pipe, depth: int = 0) -> Pipe:
        if pipe.id not in done:
            first = place(pipe.begins_at, pipe.begins_along_m, depth) or pipe.path[0]
            last = place(pipe.ends_at, pipe.ends_along_m, depth) or pipe.path[-1]
            path = (first, *pipe.path[1:-1], last)
            same = all(_close(a, b) for a, b in zip(path, pipe.path, strict=True))
            moved = pipe if same else pipe.model_copy(update={"path": path})
            kept = _kept_along(moved, pipes)
            done[pipe.id] = moved.model_copy(update=kept) if kept else moved
        return done[pipe.id]

    return garden.model_copy(update={"pipes": tuple(attach(pipe) for pipe in garden.pipes)})


def _kept_along(pipe: Pipe, pipes: dict[str, Pipe]) -> dict[str, float]:
    """Places along other pipes that lie beyond their ends, drawn in to them. [m]"""
    found = {}
    for end in ("begins", "ends"):
        along, there = getattr(pipe, f"{end}_along_m"), pipes.get(getattr(pipe, f"{end}_at"))
        if along is not None and there is not None and along > there.drawn_m:
            found[f"{end}_along_m"] = there.drawn_m
    return found


def _close(a: Point, b: Point) -> bool:
    return abs(a.x_m - b.x_m) < 1e-6 and abs(a.y_m - b.y_m) < 1e-6


def without_lines(garden: Garden, drinkers: Set[str], keep: str = "") -> Garden:
    """The garden without what waters these alone: their lines, and what then leads nowhere.

    Parameters
    ----------
    drinkers : Ids of beds and groups.
    keep : Id of a part that stays all the same, with its way from the source.
    """
    gone = ids_of_lines(garden, drinkers, keep)
    left: dict[str, Any] = {
        place: tuple(_unlinked(p, gone) for p in getattr(garden, place) if p.id not in gone)
        for place in kinds.collections()
    }
    return replace(attached(garden.model_copy(update=left)))


def ids_of_lines(garden: Garden, drinkers: Set[str], keep: str = "") -> set[str]:
    """Ids of what `without_lines` takes out."""
    by_id = {part.id: part for part in garden.fed}
    kept = set()
    while keep in by_id:
        kept.add(keep)
        keep = by_id[keep].begins_at or ""
    feeds: dict[str, set[str]] = {}
    for part in by_id.values():
        feeds.setdefault(part.begins_at or "", set()).add(part.id)
    gone = {pipe.id for pipe in garden.pipes if pipe.waters in drinkers} - kept
    waiting: set[str] | None = None
    while waiting is None or waiting:
        waiting = {
            part_id
            for part_id in by_id.keys() - gone - kept
            if feeds.get(part_id, set()) and feeds[part_id] <= gone
            if getattr(by_id[part_id], "waters", None) is None
        }
        gone |= waiting
    return gone


def _lost_with(garden: Garden, gone: set[str]) -> set[str]:
    """Parts with a link that they need to one of `gone`."""
    return {
        part.id
        for part in garden.parts
        for name, field in type(part).model_fields.items()
        if link_of(field) and field.is_required() and getattr(part, name) in gone
    }


def _unlinked(part: Part, gone: set[str]) -> Part:
    changes: dict[str, Any] = {
        name: field.default
        for name, field in type(part).model_fields.items()
        if link_of(field) and getattr(part, name) in gone
    }
    sources = getattr(part, "sources", ())
    if gone & set(sources):
        changes["sources"] = tuple(s for s in sources if s not in gone)
    return part.model_copy(update=changes) if changes else part


def free_id(garden: Garden, stem: str) -> str:
    """An id that no part has yet: `stem`, or `stem-2` and so on."""
    return next(_free_ids(garden, stem))


def _free_ids(garden: Garden, stem: str) -> Iterator[str]:
    taken = {part.id for part in garden.parts}
    names = (stem if n == 1 else f"{stem}-{n}" for n in count_from(1))
    return (name for name in names if name not in taken)


def put_alike(garden: Garden, collection: Collection, part: Part, count: int) -> Garden:
    """So many new parts like `part`, numbered and spread out, as one change.

    Raises
    ------
    pydantic.ValidationError : if the garden would no longer hold together.
    """
    free = _free_ids(garden, part.id)
    names = {next(free): f"{part.name[:56]} {number}" for number in range(1, count + 1)}
    return put_all(garden, [(collection, each) for each in placing.spread(garden, part, names)])


def replace(garden: Garden, **changes: object) -> Garden:
    """The garden with some fields changed, checked as a whole."""
    fields = {name: getattr(garden, name) for name in type(garden).model_fields}
    return type(garden).model_validate(fields | changes)
