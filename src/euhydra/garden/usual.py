"""What a new part is taken to be, by where the garden lies, until its owner says otherwise."""

from collections.abc import Mapping
from functools import cache
from types import MappingProxyType
from typing import Any, TypeVar

from pydantic.fields import FieldInfo

from euhydra.garden import kinds, quantities
from euhydra.garden.model import Garden, Place
from euhydra.garden.part import Part, quantity_of
from euhydra.garden.plantings import PlantingDate
from euhydra.garden.quantities import System

AnyPart = TypeVar("AnyPart", bound=Part)

NORTH = {"beds": PlantingDate(month=5, day=10), "pots": PlantingDate(month=5, day=1)}
SOUTH = {"beds": PlantingDate(month=10, day=10), "pots": PlantingDate(month=10, day=1)}
"""When warm-season crops go out: in May, and south of the equator in October. Common practice."""


def usual_values(collection: str, place: Place) -> dict[str, Any]:
    """Values of a new part that follow from the place, by field."""
    plantings = NORTH if place.latitude_deg >= 0 else SOUTH
    return {"planting": plantings[collection]} if collection in plantings else {}


def round_default(info: FieldInfo, system: System) -> Any:
    """The default of a field, a round number in the unit that `system` shows."""
    default, kind = info.get_default(call_default_factory=True), quantity_of(info)
    if system is System.METRIC or kind not in quantities.KINDS or not isinstance(default, float):
        return default
    return quantities.rounded(default, kind, system)


@cache
def round_defaults(model: type[Part], system: System) -> Mapping[str, float]:
    """The quantities of a new part that nobody was asked about, by field. SI units."""
    infos = {name: info for name, info in model.model_fields.items() if not info.is_required()}
    defaults = {name: round_default(info, system) for name, info in infos.items()}
    return MappingProxyType({n: value for n, value in defaults.items() if isinstance(value, float)})


def with_usual(model: type[AnyPart], system: System, **fields: Any) -> AnyPart:
    """A part with these fields; measures that are not among them are round in what `system` shows."""
    return model.model_validate({**round_defaults(model, system), **fields})


BED_USUAL = {"soil": "loam", "crop": "tomato"}
"""What a bed is that was drawn, not described."""


def drawn_usual(model: type[Part]) -> dict[str, str]:
    """What a part is taken to be that was drawn, not described, by field."""
    return dict(BED_USUAL) if kinds.kind_named("beds").model is model else {}


def drawn_fields(collection: str, garden: Garden) -> dict[str, Any]:
    """All that a part needs which is only drawn, as the document has it."""
    model = kinds.kind_named(collection).model
    described: dict[str, Any] = drawn_usual(model)
    usual = usual_values(collection, garden.place).items()
    numbers: dict[str, Any] = dict(round_defaults(model, garden.units))
    return numbers | described | {name: value.model_dump(mode="json") for name, value in usual}
