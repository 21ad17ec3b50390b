"""What helps to describe a bed on Need: the jar test."""

from fastapi import APIRouter, HTTPException, Request
from starlette.responses import RedirectResponse, Response

from euhydra.core.texture import texture_class
from euhydra.garden import edits, quantities
from euhydra.garden.model import Garden
from euhydra.garden.quantities import QuantityError
from euhydra.records import gardens
from euhydra.web.desk import Db, Typed, open_desk
from euhydra.web.pages import stations

router = APIRouter()

LAYERS = ("sand", "silt", "clay")


@router.post("/gardens/{garden_id}/need/jar", name="jar_test")
def jar_test(request: Request, garden_id: int, db: Db, typed: Typed) -> Response:
    """Name a bed's soil by the layers that settled in a jar."""
    garden = gardens.current(db, garden_id).garden
    bed = next((bed for bed in garden.beds if bed.id == typed.get("at")), None)
    if bed is None:
        raise HTTPException(409, "That bed is no longer there: someone removed it meanwhile.")
    try:
        soil = texture_class(*_layers(typed, garden))
    except (QuantityError, ValueError) as error:
        desk = open_desk(request, db, garden_id)
        return stations.show(request, desk, "need", bed.id, {"jar": str(error)}, typed)
    changed = edits.put(garden, "beds", bed.model_copy(update={"soil": soil}))
    gardens.save(
        db, garden_id, stations.based_on(typed), changed, f"Soil of “{bed.name}”: jar test"
    )
    url = request.url_for("station", garden_id=garden_id, station="need")
    return RedirectResponse(url.include_query_params(at=bed.id), 303)


def _layers(typed: Typed, garden: Garden) -> list[float]:
    try:
        heights = [quantities.parse(typed.get(name, ""), "height", garden.units) for name in LAYERS]
    except QuantityError as error:
        raise QuantityError(f"Type the height of all three layers. {error}") from None
    if min(heights) < 0 or sum(heights) <= 0:
        raise QuantityError("The layers are heights of nothing or more, and not all nothing.")
    return heights
