"""What a new part is taken to be, by where the garden lies, until its owner says otherwise."""

from typing import Any

from euhydra.garden.model import Place
from euhydra.garden.plantings import PlantingDate

NORTH = {"beds": PlantingDate(month=5, day=10), "pots": PlantingDate(month=5, day=1)}
SOUTH = {"beds": PlantingDate(month=10, day=10), "pots": PlantingDate(month=10, day=1)}
"""When warm-season crops go out: in May, and south of the equator in October. Common practice."""


def usual_values(collection: str, place: Place) -> dict[str, Any]:
    """Values of a new part that follow from the place, by field."""
    plantings = NORTH if place.latitude_deg >= 0 else SOUTH
    return {"planting": plantings[collection]} if collection in plantings else {}


BED_USUAL = {"soil": "loam", "crop": "tomato"}
"""What a bed is that was drawn, not described."""


def drawn_fields(collection: str, place: Place) -> dict[str, Any]:
    """As `usual_values`, as the document has them, with all that a part needs which is only drawn."""
    described: dict[str, Any] = dict(BED_USUAL) if collection == "beds" else {}
    usual = usual_values(collection, place).items()
    return described | {name: value.model_dump(mode="json") for name, value in usual}
