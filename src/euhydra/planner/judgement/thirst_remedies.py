"""What may make beds drink less: mulch, shade, shelter."""

from collections.abc import Iterator

from euhydra.garden import edits, kinds
from euhydra.garden.drinker import Drinker
from euhydra.garden.model import Garden
from euhydra.garden.sentences import quoted, say
from euhydra.planner.catch.order import order_of
from euhydra.planner.judgement.remedy import Case, Remedy


def drink_less(case: Case) -> Iterator[Remedy]:
    """Thick mulch on everything that drinks from the store, or from any where none is named."""
    garden = case.garden
    thirsty = [part for part in garden.planted if _drinks_there(garden, part, case)]
    mulched = [
        (collection_of(part), part.model_copy(update={"mulch": "thick"}))
        for part in thirsty
        if getattr(part, "mulch", "thick") != "thick"
    ]
    if mulched:
        yield Remedy(
            say(
                "cure-mulch-all",
                "Mulch {parts} with straw or bark.",
                parts=quoted(part.name for _, part in mulched),
            ),
            edits.put_all(garden, mulched),
        )


def _drinks_there(garden: Garden, part: Drinker, case: Case) -> bool:
    named = {p for p in case.finding.parts if any(store.id == p for store in garden.stores)}
    return not named or any(source.id in named for source in order_of(garden, part).all)


def collection_of(part: object) -> str:
    """The collection that a part is in."""
    return next(kind.collection for kind in kinds.PART_KINDS if isinstance(part, kind.model))
