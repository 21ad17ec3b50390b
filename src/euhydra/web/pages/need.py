"""Need: what a bed or a group of pots drinks, and the jar test."""

from collections.abc import Sequence

from fastapi import APIRouter, HTTPException, Request
from starlette.responses import Response

from euhydra.core.texture import texture_class
from euhydra.garden import edits, quantities
from euhydra.garden.beds import Bed
from euhydra.garden.kinds import Collection
from euhydra.garden.model import Garden
from euhydra.garden.part import Part
from euhydra.garden.quantities import QuantityError
from euhydra.planner.answers import Gap
from euhydra.planner.need.answer import answer_need, peaks_of
from euhydra.planner.need.daily import Need
from euhydra.records import gardens
from euhydra.web.desk import Db, Desk, RowId, Typed, open_desk
from euhydra.web.drawing import (
    charts,
    season_strip,
)
from euhydra.web.pages.station import (
    Choice,
    Shown,
    StationPage,
    Tells,
    back_to,
    based_on,
    show_page,
)

router = APIRouter()


def _need(request: Request, desk: Desk, at: str) -> Shown:
    plant = desk.chain.plant(at)
    need = plant if isinstance(plant, Gap) else plant.need
    if isinstance(need, Gap):
        return Shown(None, need)
    garden = desk.revision.garden
    answer = desk.kept(request, ("need", need.part.id), lambda: answer_need(need, garden))
    return Shown(
        answer,
        None,
        {
            "chart": charts.need_chart(answer, garden.units),
            "strip": season_strip.draw(need.part, garden),
            "is_bed": isinstance(need.part, Bed),
            "peaks": desk.kept(request, "peaks", lambda: peaks_of(_needs(desk))),
        },
    )


def _needs(desk: Desk) -> list[Need]:
    return [plant.need for plant in desk.chain.planted if isinstance(plant.need, Need)]


def _plants(desk: Desk, at: str) -> list[Choice]:
    here = desk.chain.plant(at)
    return [Choice(p.part.id, p.part.name, p is here, None) for p in desk.chain.planted]


def _about(desk: Desk, at: str) -> frozenset[str]:
    here = desk.chain.plant(at)
    return frozenset() if isinstance(here, Gap) else frozenset({here.part.id})


def _parts(desk: Desk, collection: Collection, at: str) -> Sequence[Part]:
    garden, plant = desk.revision.garden, desk.chain.plant(at)
    if isinstance(plant, Gap):
        return []
    if collection == "plantings":
        return [p for p in garden.plantings if p.bed_id == plant.part.id]
    parts: Sequence[Part] = getattr(garden, collection)
    return [plant.part] if plant.part in parts else parts if collection == "own_crops" else []


PAGE = StationPage(
    key="need",
    station="need",
    tab="",
    question="What does this drink, and how many cans is that?",
    hint="Tap a figure to see how it is worked out, and from what.",
    show=_need,
    form_keys=(
        "bed",
        "thirst",
        "hand",
        "pots",
        "pot-thirst",
        "pot-below",
        "pot-hand",
        "planting",
        "own-crop",
    ),
    choices=_plants,
    parts=_parts,
    tells=Tells.ALL,
    about=_about,
)

LAYERS = ("sand", "silt", "clay")


@router.post("/gardens/{garden_id}/need/jar", name="jar_test")
def jar_test(request: Request, garden_id: RowId, db: Db, typed: Typed) -> Response:
    """Name a bed's soil by the layers that settled in a jar."""
    garden = gardens.current(db, garden_id).garden
    bed = next((bed for bed in garden.beds if bed.id == typed.get("at")), None)
    if bed is None:
        raise HTTPException(409, "That bed is no longer there: someone removed it meanwhile.")
    try:
        soil = texture_class(*_layers(typed, garden))
    except (QuantityError, ValueError) as error:
        desk = open_desk(request, db, garden_id)
        return show_page(
            request, desk, PAGE, bed.id, status=422, typed=typed, faults={"jar": str(error)}
        )
    changed = edits.put(garden, "beds", bed.model_copy(update={"soil": soil}))
    gardens.save(db, garden_id, based_on(typed), changed, f"Soil of “{bed.name}”: jar test")
    return back_to(request, garden_id, PAGE.key, bed.id)


def _layers(typed: Typed, garden: Garden) -> list[float]:
    try:
        heights = [quantities.parse(typed.get(name, ""), "height", garden.units) for name in LAYERS]
    except QuantityError as error:
        raise QuantityError(f"Type the height of all three layers. {error}") from None
    if min(heights) < 0 or sum(heights) <= 0:
        raise QuantityError("The layers are heights of nothing or more, and not all nothing.")
    return heights
