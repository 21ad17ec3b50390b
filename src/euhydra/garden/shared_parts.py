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


def _shared(part: Part) -> Part:
    known: Part = _PARTS.setdefault((type(part), part.model_dump_json()), part)
    return known
