"""Room for one more hose at a tap that has none left: a splitter, as the shopping list then has it."""

from euhydra.garden import edits, joints, kinds, plumbing
from euhydra.garden.joints import Joinable
from euhydra.garden.model import Garden
from euhydra.garden.pipes import Fitting
from euhydra.garden.plumbing import FittingRole
from euhydra.garden.sources import Tap


def with_room_at(garden: Garden, start: Joinable) -> tuple[Garden, Joinable]:
    """The garden with a free place at `start`, and what a line begins at there.

    At a full tap a splitter is put between it and what it feeds; where that is a full splitter, the
    new one takes one of its places, so that they stand in a row. Anything else stays as it is.
    """
    if not isinstance(start, Tap) or start in joints.with_room(garden.joinable):
        return garden, start
    last = _last_splitter(garden, start)
    if last in joints.with_room(garden.joinable):
        return garden, last
    fed = next(part for part in garden.fed if part.begins_at == last.id)
    splitter = Fitting(
        id=edits.free_id(garden, "splitter"),
        name=f"Splitter at {start.name}"[:60],
        kind=_splitter_kind(),
        at=last.at,
        begins_at=last.id,
    )
    moved = fed.model_copy(update={"begins_at": splitter.id, "begins_along_m": None})
    # Only one of what hangs there moves: an edit by hand would take all of them along.
    place = kinds.kind_of(fed).collection
    changes = {place: tuple(moved if p.id == fed.id else p for p in getattr(garden, place))}
    changes["fittings"] = (*changes.get("fittings", garden.fittings), splitter)
    return edits.replace(edits.attached(garden.model_copy(update=changes))), splitter


def _last_splitter(garden: Garden, tap: Tap) -> Tap | Fitting:
    """The tap, or the last splitter of those that stand in a row on it."""
    last: Tap | Fitting = tap
    while True:
        after = [
            part
            for part in garden.fittings
            if part.begins_at == last.id and part.role is FittingRole.SPLITS
        ]
        if not after:
            return last
        last = next((s for s in after if s in joints.with_room(garden.joinable)), after[0])


def _splitter_kind() -> str:
    kinds = plumbing.fitting_kinds().values()
    return next(kind.id for kind in kinds if kind.role is FittingRole.SPLITS)
