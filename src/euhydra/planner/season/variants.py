"""The same garden with one thing changed, to be replayed beside it."""

from collections.abc import Mapping
from dataclasses import dataclass

from pydantic import ValidationError

from euhydra.garden import catalogue, edits
from euhydra.garden.kinds import Collection
from euhydra.garden.model import Garden
from euhydra.garden.sentences import lowered
from euhydra.garden.store_groups import groups_of


@dataclass(frozen=True)
class Variant:
    """Another plan: what is changed, in words, and the garden with it."""

    key: str
    words: str
    garden: Garden


def variants_of(garden: Garden) -> tuple[Variant, ...]:
    """Plans that a gardener would weigh: stores, mulch, pump, timers."""
    found = [*_stores(garden), *_savings(garden), *_removals(garden), *_timers(garden)]
    return tuple(variant for variant in found if variant is not None)


def _stores(garden: Garden) -> list[Variant | None]:
    found: list[Variant | None] = []
    for group in groups_of(garden.stores):
        store = group.stores[0]
        found.append(
            _changed(
                garden,
                f"more-{store.id}",
                f"one more in “{group.name}”",
                "stores",
                {store.id: {"count": store.count + 1}},
            )
        )
        if store.count > 1:
            found.append(
                _changed(
                    garden,
                    f"fewer-{store.id}",
                    f"one fewer in “{group.name}”",
                    "stores",
                    {store.id: {"count": store.count - 1}},
                )
            )
        elif len(groups_of(garden.stores)) > 1 or len(group.stores) > 1:
            found.append(_without(garden, store.id, store.name))
    return found


def _savings(garden: Garden) -> list[Variant | None]:
    bare = {bed.id: {"mulch": "thick"} for bed in garden.beds if bed.mulch != "thick"}
    mulched = {bed.id: {"mulch": "none"} for bed in garden.beds if bed.mulch != "none"}
    return [
        _changed(garden, "mulch", "every bed mulched", "beds", bare) if bare else None,
        _changed(garden, "no-mulch", "no bed mulched", "beds", mulched) if mulched else None,
    ]


def _removals(garden: Garden) -> list[Variant | None]:
    return [
        _without(garden, part.id, part.name)
        for part in (*garden.pumps, *garden.taps, *garden.greywaters)
    ]


def _timers(garden: Garden) -> list[Variant | None]:
    return [
        _changed(
            garden,
            f"timer-{kind.id}",
            f"every timer: {lowered(kind.name)}",
            "timers",
            {timer.id: {"kind": kind.id, "body": None} for timer in garden.timers},
        )
        for kind in catalogue.timers().values()
        if any(timer.kind != kind.id for timer in garden.timers)
    ]


def _changed(
    garden: Garden,
    key: str,
    words: str,
    collection: Collection,
    changes: Mapping[str, Mapping[str, object]],
) -> Variant | None:
    parts = [
        (collection, part.model_copy(update=changes[part.id]))
        for part in getattr(garden, collection)
        if part.id in changes
    ]
    try:
        return Variant(key, words, edits.put_all(garden, parts))
    except ValidationError:
        return None  # it cannot be: nothing to weigh


def _without(garden: Garden, part_id: str, name: str) -> Variant | None:
    try:
        return Variant(f"without-{part_id}", f"without “{name}”", edits.remove(garden, part_id))
    except ValidationError:
        return None
