"""Every kind of part: where it stands in the document, and what is true of all of its sort.

A new kind is a class, a collection of ``Garden``, a row here, and a form in ``web.part_forms``.
"""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated, Any

from pydantic import AfterValidator
from shapely import Polygon

from euhydra.garden import shapes
from euhydra.garden.beds import Bed
from euhydra.garden.drinker import Drinker
from euhydra.garden.part import Link, Part
from euhydra.garden.patches import Patch, Spot
from euhydra.garden.pipes import Fitting, Pipe, Pump
from euhydra.garden.plantings import OwnCrop, Planting
from euhydra.garden.pots import Pots
from euhydra.garden.roofs import Downspout, Roof
from euhydra.garden.sources import Greywater, Tap, WetGround
from euhydra.garden.stores import Store
from euhydra.garden.timers import OwnTimer, Timer

Outlines = Callable[[Any], list[Polygon]]

TAP_SIDE = 0.3
"""Room that a tap takes up on the plan. [m]"""


@dataclass(frozen=True)
class PartKind:
    """A kind of part.

    collection : Of the garden, as in its document.
    noun : In messages.
    layer : Of the plan that it is drawn in; "" for what has no place there.
    outlines : Of what takes up room; None for points, lines and what has no place.
    is_source : Whether zones begin at it.
    is_fed : Whether something feeds it, and it may feed something in turn.
    is_point : Whether it stands at one place of the plan, whatever room it is given.
    is_level : Whether the height of the ground is known where it stands.
    letter : Its sign on the plan, of a piece whose sort is one letter.
    """

    collection: str
    model: type[Part]
    noun: str
    layer: str = ""
    outlines: Outlines | None = None
    is_source: bool = False
    is_fed: bool = False
    is_point: bool = False
    is_level: bool = False
    letter: str = ""

    @property
    def drinks(self) -> bool:
        """Whether it drinks: then it is a ``Drinker``."""
        return issubclass(self.model, Drinker)

    @property
    def feeds(self) -> bool:
        """Whether a pipe or a piece may begin at it."""
        return self.is_source or self.is_fed


def _tap_outline(tap: Tap) -> list[Polygon]:
    return [shapes.rectangle(tap.at, TAP_SIDE, TAP_SIDE)]


PART_KINDS = (
    PartKind("roofs", Roof, "roof", "buildings", lambda part: [shapes.of_roof(part)]),
    PartKind("downspouts", Downspout, "downspout"),
    PartKind("stores", Store, "store", "sources", shapes.of_store, is_source=True, is_level=True),
    PartKind(
        "taps", Tap, "tap", "sources", _tap_outline, is_source=True, is_point=True, is_level=True
    ),
    PartKind("beds", Bed, "bed", "beds", lambda part: [shapes.of_bed(part)], is_level=True),
    PartKind("pots", Pots, "pot", "beds", shapes.of_pots, is_level=True),
    PartKind("plantings", Planting, "planting"),
    PartKind("own_crops", OwnCrop, "own crop"),
    PartKind("own_timers", OwnTimer, "own timer"),
    PartKind("pipes", Pipe, "pipe", "pipes", is_fed=True),
    PartKind("timers", Timer, "timer", "pieces", is_fed=True, is_point=True, letter="T"),
    PartKind("fittings", Fitting, "fitting", "pieces", is_fed=True, is_point=True),
    PartKind("pumps", Pump, "pump", "pieces", is_fed=True, is_point=True, letter="P"),
    PartKind(
        "greywaters",
        Greywater,
        "greywater",
        "sources",
        lambda part: shapes.of_store(part.as_store),
        is_source=True,
        is_level=True,
    ),
    PartKind("wet_grounds", WetGround, "wet ground", "pipes", shapes.of_wet_ground),
    PartKind("patches", Patch, "patch", "ground", lambda part: [shapes.of_patch(part)]),
    PartKind("spots", Spot, "spot", "ground", is_point=True, is_level=True),
)
"""In the order of the document."""


def kind_named(collection: str) -> PartKind:
    """The kind whose parts a collection holds.

    Raises
    ------
    KeyError : if there is no such collection.
    """
    return {kind.collection: kind for kind in PART_KINDS}[collection]


def kind_of(part: Part) -> PartKind:
    """The kind that a part is of."""
    return next(kind for kind in PART_KINDS if type(part) is kind.model)


def collections(**wanted: bool) -> tuple[str, ...]:
    """Collections whose kinds are as wanted, such as `is_fed=True`."""
    return tuple(
        kind.collection
        for kind in PART_KINDS
        if all(getattr(kind, name) is value for name, value in wanted.items())
    )


def linked_collections(link: Link) -> tuple[str, ...]:
    """Collections that a link may lead to, with those that a group of them stands for."""
    groups = {"drinkers": collections(drinks=True)}
    return tuple(c for name in link.collections for c in groups.get(name, (name,)))


def outlines_of(part: Part) -> list[Polygon]:
    """Outlines of a part that takes up room; none for others."""
    outlines = kind_of(part).outlines
    return outlines(part) if outlines else []


def _known(collection: str) -> str:
    if collection not in collections():
        raise ValueError(f"there is no collection “{collection}”")
    return collection


Collection = Annotated[str, AfterValidator(_known)]
"""Name of one of the garden's collections of parts."""
