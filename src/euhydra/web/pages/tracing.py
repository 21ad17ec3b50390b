"""What a plan can be traced over or built on, and how it is taken elsewhere."""

from typing import Annotated, Any

from fastapi import APIRouter, File, Form, HTTPException, Request, UploadFile
from pydantic import ValidationError
from starlette.responses import FileResponse, RedirectResponse, Response

from euhydra.formats import geojson
from euhydra.formats.geojson import GeoJsonError
from euhydra.garden import document, edits, plumbing, quantities
from euhydra.garden.kinds import Collection, kind_named
from euhydra.garden.model import Garden
from euhydra.garden.part import Part, Point
from euhydra.garden.patches import Backdrop, Patch, PatchKind
from euhydra.garden.quantities import QuantityError
from euhydra.garden.sentences import counted
from euhydra.garden.usual import drawn_fields
from euhydra.records import gardens, pictures
from euhydra.records.pictures import PictureError
from euhydra.web.desk import Db, RowId, Typed, open_desk, render
from euhydra.web.drawing import plan, plan_shapes
from euhydra.web.drawing.plan import PlanDrawing
from euhydra.web.drawing.plan_sheet import sheet_for
from euhydra.web.pages import lay
from euhydra.web.pages.gardens import download
from euhydra.web.pages.plan_pieces import plan_of
from euhydra.web.rendering import templates

router = APIRouter()

NARROWEST, WIDEST = 0.5, 500.0
"""What a picture may show across. [m]"""

FIRST_WIDTH = 10.0
"""Metres across of a picture whose scale is not known yet. [m]"""


@router.post("/gardens/{garden_id}/lay/picture", name="add_picture")
def add_picture(
    request: Request,
    garden_id: RowId,
    db: Db,
    based_on: Annotated[int, Form()],
    picture: Annotated[UploadFile, File()],
    width: Annotated[str, Form()] = "",
) -> Response:
    """Put a picture under the plan, so many metres across."""
    garden = gardens.current(db, garden_id).garden
    try:
        across = quantities.parse(width, "length", garden.units) if width.strip() else FIRST_WIDTH
        if not NARROWEST <= across <= WIDEST:
            least, most = (quantities.show(m, "length", garden.units) for m in (NARROWEST, WIDEST))
            raise QuantityError(f"The picture's width: from {least} to {most}.")
        kept = pictures.keep(request.app.state.data, picture.file.read())
    except (PictureError, QuantityError) as error:
        desk = open_desk(request, db, garden_id)
        return lay.show_refused(request, desk, {"about": "picture"}, str(error), 422)
    backdrop = Backdrop(
        digest=kept.digest, width_px=kept.width, height_px=kept.height, metre_px=kept.width / across
    )
    changed = edits.replace(garden, backdrop=backdrop)
    gardens.save(db, garden_id, based_on, changed, "Picture under the plan")
    return _to_plan(request, garden_id)


@router.post("/gardens/{garden_id}/lay/picture/scale", name="scale_picture")
def scale_picture(
    request: Request, garden_id: RowId, db: Db, based_on: Annotated[int, Form()], typed: Typed
) -> Response:
    """Scale the picture by one known length."""
    garden = gardens.current(db, garden_id).garden
    if garden.backdrop is None:
        raise HTTPException(409, "There is no picture any more.")
    try:
        shown, true = (
            quantities.parse(typed.get(name, ""), "length", garden.units)
            for name in ("shown", "true")
        )
        if min(shown, true) <= 0:
            raise QuantityError("Both lengths have to be more than nothing.")
        metre_px = garden.backdrop.metre_px * shown / true
        picture = garden.backdrop.model_copy(update={"metre_px": metre_px})
        changed = edits.replace(garden, backdrop=Backdrop.model_validate(picture.model_dump()))
    except (QuantityError, ValidationError) as error:
        told = (
            str(error)
            if isinstance(error, QuantityError)
            else "That scale is no garden's: check both lengths."
        )
        desk = open_desk(request, db, garden_id)
        return lay.show_refused(request, desk, {"about": "picture"}, told, 422)
    gardens.save(db, garden_id, based_on, changed, "Picture under the plan: scaled")
    return _to_plan(request, garden_id)


@router.post("/gardens/{garden_id}/lay/picture/remove", name="remove_picture")
def remove_picture(
    request: Request, garden_id: RowId, db: Db, based_on: Annotated[int, Form()]
) -> Response:
    """Take the picture away; undo brings it back."""
    garden = edits.replace(gardens.current(db, garden_id).garden, backdrop=None)
    gardens.save(db, garden_id, based_on, garden, "Picture under the plan: removed")
    return _to_plan(request, garden_id)


@router.get("/gardens/{garden_id}/pictures/{digest}.png", name="backdrop")
def backdrop(request: Request, garden_id: RowId, digest: str, db: Db) -> Response:
    """A picture that this garden's plan lies on, or lay on before a change."""
    path = pictures.find(request.app.state.data, digest)
    if path is None or not gardens.has_picture(db, garden_id, digest):
        raise HTTPException(404, "There is no such picture.")
    return FileResponse(path, media_type="image/png")


@router.post("/gardens/{garden_id}/lay/outlines", name="add_outlines")
def add_outlines(
    request: Request,
    garden_id: RowId,
    db: Db,
    based_on: Annotated[int, Form()],
    outlines: Annotated[UploadFile, File()],
) -> Response:
    """Take outlines from a GeoJSON file: beds where they say so, else paths and buildings."""
    garden = gardens.current(db, garden_id).garden
    try:
        found = geojson.loads(outlines.file.read().decode("utf-8", errors="replace"))
        changed = edits.put_all(garden, _parts(garden, found))
    except (GeoJsonError, ValidationError) as error:
        told = str(error)
        if isinstance(error, ValidationError):
            told = document.message_of(error.errors()[0], garden.units)
        desk = open_desk(request, db, garden_id)
        return lay.show_refused(request, desk, {"about": "outlines"}, told, 422)
    gardens.save(db, garden_id, based_on, changed, f"{counted(len(found), 'outline')} brought in")
    return _to_plan(request, garden_id)


def _parts(garden: Garden, found: list[geojson.Outline]) -> list[tuple[Collection, Part]]:
    parts: list[tuple[Collection, Part]] = []
    taken = {part.id for part in garden.parts}
    number = 1
    for outline in found:
        while f"outline-{number}" in taken:
            number += 1
        taken.add(f"outline-{number}")
        parts.append(_part(garden, f"outline-{number}", outline))
    return parts


def _part(garden: Garden, part_id: str, outline: geojson.Outline) -> tuple[Collection, Part]:
    named = {"id": part_id, "name": outline.name}
    if outline.what == "bed":
        xs, ys = [p.x_m for p in outline.corners], [p.y_m for p in outline.corners]
        at = Point(x_m=min(xs), y_m=min(ys))
        sides: dict[str, Any] = {"length_m": max(xs) - min(xs), "width_m": max(ys) - min(ys)}
        model = kind_named("beds").model
        shape = {"shape": "corners", "corners": outline.corners, "at": at}
        return "beds", model.model_validate(named | shape | sides | drawn_fields("beds", garden))
    kind = outline.what if outline.what in set(PatchKind) else PatchKind.BUILDING
    return "patches", Patch.model_validate(named | {"kind": kind, "corners": outline.corners})


@router.get("/gardens/{garden_id}/plan.geojson", name="download_geojson")
def download_geojson(garden_id: RowId, db: Db) -> Response:
    """The plan for other programs."""
    garden = gardens.current(db, garden_id).garden
    return download(geojson.dumps(garden), "plan.geojson", "application/geo+json")


def _plan_context(request: Request, garden_id: int, db: Db) -> dict[str, Any]:
    desk = open_desk(request, db, garden_id)
    garden = desk.revision.garden
    return {
        "plan": plan_of(request, desk),
        "answer": desk.chain.lay,
        "letters": plan_shapes.letters_in(garden),
        "system": garden.units,
        "backdrop": plan.backdrop_of(request.app, garden_id, garden),
        "pipe_names": {kind.id: kind.name for kind in plumbing.pipe_kinds().values()},
    }


@router.get("/gardens/{garden_id}/plan.svg", name="download_svg")
def download_svg(request: Request, garden_id: RowId, db: Db) -> Response:
    """The plan as a drawing of its own, without the picture under it."""
    context = _plan_context(request, garden_id, db) | {"alone": True, "backdrop": None}
    return download(
        templates.get_template("_plan_svg.html").render(context), "plan.svg", "image/svg+xml"
    )


@router.get("/gardens/{garden_id}/plan", name="plan_sheet")
def plan_sheet(request: Request, garden_id: RowId, db: Db) -> Response:
    """The plan on a sheet to print, with its pipes by length."""
    desk = open_desk(request, db, garden_id)
    context = _plan_context(request, garden_id, db)
    drawing: PlanDrawing = context["plan"]
    sheet = sheet_for(drawing.box, desk.revision.garden.units)
    context |= {"sheet": sheet, "sheet_names": {"wide": drawing.named(sheet.metres_a_pixel)}}
    return render(request, "plan_sheet.html", desk, **context)


def _to_plan(request: Request, garden_id: int) -> Response:
    return RedirectResponse(request.url_for("station", garden_id=garden_id, station="lay"), 303)
