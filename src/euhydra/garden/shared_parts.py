"""Parts that gardens have in common as the very same objects, so that what follows from them is known by them.

A garden is read anew at every change, though one part of it has changed: the others are then those
of the garden before.
"""

from threading import Lock

from cachetools import LRUCache

from euhydra.garden import kinds
from euhydra.garden.model import Garden
from euhydra.garden.part import Part

PARTS_KEPT = 4096
"""Parts that are kept: those of some dozens of gardens."""

_PARTS: LRUCache[tuple[type[Part], str], Part] = LRUCache(PARTS_KEPT)
_KEEPING = Lock()


def with_shared_parts(garden: Garden) -> Garden:
    """The same garden, of parts that were read before where they say the same to the letter."""
    with _KEEPING:
        shared = {
            collection: tuple(map(_shared, getattr(garden, collection)))
            for collection in kinds.collections()
        }
    return garden.model_copy(update=shared)


def with_parts_of(garden: Garden, other: Garden) -> Garden:
    """The same garden, of the parts of another where they say the same to the letter."""
    known = {_said(part): part for part in other.parts}
    parts = {
        collection: tuple(known.get(_said(part), part) for part in getattr(garden, collection))
        for collection in kinds.collections()
    }
    return garden.model_copy(update=parts)


def _shared(part: Part) -> Part:
    known: Part = _PARTS.setdefault(_said(part), part)
    return known


def _said(part: Part) -> tuple[type[Part], str]:
    return type(part), part.model_dump_json()
