"""A garden in the making: parts put down on clear ground, one beside the other, in the order of the water."""

from collections.abc import Iterable, Iterator, Mapping, Set
from typing import Any

from euhydra.garden import catalogue, edits, kinds, quantities, usual
from euhydra.garden.kinds import Collection
from euhydra.garden.model import Garden
from euhydra.garden.part import Part, Point, quantity_of
from euhydra.garden.pipes import Piece
from euhydra.garden.quantities import System
from euhydra.planner.beginning.asks import AskedValue
from euhydra.planner.lay import proposed_manifold
from euhydra.planner.lay.wishes import Wish
from euhydra.planner.water import zones
from euhydra.planner.water.zones import Zone

OPENS_ALWAYS = "clock-ball"
"""A timer whose valve opens at any head."""

CLEAR = 2.0
"""Between what stands there and what is added. [m] Our choice: a path and a barrow."""

PATH = 0.6
"""Between beds side by side. [m] Common practice: room to kneel."""

PUSHES = 0.1
"""How far over the ground of what is added the water of a store that is half full has to stand, to run there by
itself. [m] Our choice: what a low drip line takes."""

HANG_TOGETHER = ("ground_m", "share")
"""Fields whose numbers fit those of other parts: they are left as they are."""

WIDER = (1.0, 1.03, 1.06)
"""Times a width of which the round number is tried, until it is wide enough."""

WIDE_ENOUGH = 0.991
"""Part of a width that may do for it: what a store holds is let be a fiftieth more than within its walls."""


class Scene:
    """The garden so far, what was asked, and where the next part stands.

    Parameters
    ----------
    garden : What is there.
    values : What was typed or is usual, by the id of what was asked. SI units.
    asked : Fields that these set, as `collection.field`.
    feed : Id of a source that is there, for what is added to drink from; None for a source of its own.
    """

    def __init__(
        self,
        garden: Garden,
        values: Mapping[str, AskedValue],
        asked: Set[str],
        feed: str | None = None,
    ) -> None:
        self.garden = garden
        self.feed = feed
        self._before = {part.id for part in garden.parts}
        self.values = values
        self._asked = asked
        self._holding: list[float] = []
        self.taken: dict[str, set[str]] = {}
        """Measures of each new part that nobody was asked about, by its id."""
        self.left = _right_edge(garden)
        self.x = self.left

    def number(self, name: str) -> float:
        """A measure. SI units."""
        return float(self.values[name])

    def number_or(self, name: str, otherwise: float) -> float:
        """A measure, or what stands for it where it is not asked. SI units."""
        return float(self.values.get(name, otherwise))

    def choice_or(self, name: str, otherwise: str) -> str:
        """What was chosen, or what stands for it where it is not asked."""
        return str(self.values.get(name, otherwise))

    def count(self, name: str) -> int:
        """How many; one where it is not asked."""
        return self.count_or(name, 1)

    def count_or(self, name: str, otherwise: int) -> int:
        """How many, or what stands for it where it is not asked."""
        return int(self.values.get(name, otherwise))

    def choice(self, name: str) -> str:
        """What was chosen."""
        return str(self.values[name])

    def is_tap(self, source: str) -> bool:
        """Whether a source has the pressure of a tap."""
        return any(tap.id == source for tap in self.garden.taps)

    def is_low(self, source: str) -> bool:
        """Whether a store stands so low that its water has to be pumped to what is added."""
        found = next((store for store in self.garden.stores if store.id == source), None)
        return found is not None and (found.overflow_m + found.lowest_m) / 2 < PUSHES

    def is_pressed(self, source: str) -> bool:
        """Whether what is added has the pressure of a tap or pump."""
        return self.is_tap(source) or self.is_low(source)

    def line(self, source: str) -> str:
        """Kind of drip line that suits what a source has to push with."""
        return "line-2" if self.is_pressed(source) else "line-low"

    def timer(self, source: str) -> str:
        """The timer asked for; one that opens without pressure where what it is fed from has none."""
        wished = self.choice_or("timer", self.choice_or("tap_timer", OPENS_ALWAYS))
        opens_at = catalogue.find(catalogue.timers(), wished).least_opening_head_m
        return wished if self.is_tap(source) or opens_at <= 0 else OPENS_ALWAYS

    def at(self, x: float, y: float) -> Point:
        """A place so far right of and above where the new parts begin. [m]"""
        return Point(x_m=round(x, 3), y_m=round(y, 3))

    def put(self, collection: Collection, stem: str, name: str, **fields: Any) -> str:
        """A part added, with what is usual where the garden lies; its id."""
        model = kinds.kind_named(collection).model
        free = set(self._free(collection, fields))
        given = usual.drawn_fields(collection, self.garden) | self._rounded(model, fields, free)
        part_id = edits.free_id(self.garden, stem)
        self.taken[part_id] = free
        part = model.model_validate(given | {"id": part_id, "name": self._free_name(name)})
        self.garden = edits.put(self.garden, collection, part)
        return part_id

    def change(self, collection: Collection, part_id: str, **fields: Any) -> None:
        """A part with other fields."""
        part = next(p for p in getattr(self.garden, collection) if p.id == part_id)
        free = set(self._free(collection, fields))
        given = self._rounded(type(part), fields, free)
        self.taken.setdefault(part_id, set()).update(free)
        changed = type(part).model_validate(part.model_dump() | given)
        self.garden = edits.put(self.garden, collection, changed)

    def put_before(self, collection: Collection, piece: Piece, before: str) -> None:
        """A piece set into the way before another."""
        self.garden = edits.put_before(self.garden, collection, piece, before)

    def free_id(self, stem: str) -> str:
        """An id that nothing has yet."""
        return edits.free_id(self.garden, stem)

    def lay(self, *wishes: Wish) -> tuple[Zone, ...]:
        """Lines laid for several on one head, as the program lays them; the zones that are new."""
        there = {zone.id for zone in zones.zones_of(self.garden)}
        self.garden = proposed_manifold.lay_together(self.garden, wishes)
        return tuple(zone for zone in zones.zones_of(self.garden) if zone.id not in there)

    def new_parts(self, collection: Collection) -> tuple[Part, ...]:
        """Parts of a collection that were not there before."""
        return tuple(p for p in getattr(self.garden, collection) if p.id not in self._before)

    def measure(self, value: float, kind: str) -> float:
        """A measure that nobody was asked about: a round number in the units shown. SI units."""
        if self.garden.units is System.METRIC:
            return round(value, 2)
        return quantities.rounded(value, kind, self.garden.units)

    def measure_holding(self, width: float) -> float:
        """The like of it, for the width of a store that is to hold as much. [m]"""
        wider = (self.measure(width * spare, "height") for spare in WIDER)
        found = next(found for found in wider if found >= WIDE_ENOUGH * width)
        self._holding.append(found)
        return found

    def _free(self, collection: Collection, fields: Mapping[str, Any]) -> Iterator[str]:
        """Names of the measures among some fields that nobody was asked about."""
        infos = kinds.kind_named(collection).model.model_fields
        for name, value in fields.items():
            is_measure = isinstance(value, float) and quantity_of(infos[name]) in quantities.KINDS
            is_asked = name in HANG_TOGETHER or f"{collection}.{name}" in self._asked
            if is_measure and not is_asked:
                yield name

    def _rounded(
        self, model: type[Part], fields: Mapping[str, Any], free: Set[str]
    ) -> dict[str, Any]:
        """Some fields, those that nobody was asked about as round numbers."""

        def shown(name: str, value: Any) -> Any:
            if name not in free or value in self._holding or self.garden.units is System.METRIC:
                return value
            return self.measure(value, quantity_of(model.model_fields[name]))

        return {name: shown(name, value) for name, value in fields.items()}

    def _free_name(self, name: str) -> str:
        taken = {part.name for part in self.garden.parts}
        number = 1
        while (found := name if number == 1 else f"{name} {number}") in taken:
            number += 1
        return found


def _right_edge(garden: Garden) -> float:
    """Where clear ground begins, to the right of all that stands there. [m]"""
    outlines = [outline for part in garden.parts for outline in kinds.outlines_of(part)]
    ends = [outline.bounds[2] for outline in outlines]
    ends += [point.x_m for pipe in garden.pipes for point in pipe.path]
    return max(ends) + CLEAR if ends else 0.0


def marked(scene: Scene, before: Garden, typed: Iterable[str], usual_ones: Iterable[str]) -> Garden:
    """The garden, in its new parts what was typed told as known, and what was not as assumed.

    Parameters
    ----------
    typed, usual_ones : Fields as `collection.field`.
    """
    there = {part.id for part in before.parts}
    known_fields, taken_fields = sorted(typed), sorted(usual_ones)
    parts: list[tuple[Collection, Part]] = []
    for collection in kinds.collections():
        known = tuple(f.split(".")[1] for f in known_fields if f.startswith(f"{collection}."))
        taken = {f.split(".")[1] for f in taken_fields if f.startswith(f"{collection}.")}
        for part in getattr(scene.garden, collection):
            own = tuple(sorted((taken | scene.taken.get(part.id, set())) - set(known)))
            if part.id not in there and (known or own):
                changed = part.model_copy(update={"confirmed": known, "assumed": own})
                parts.append((collection, changed))
    return edits.put_all(scene.garden, parts)
