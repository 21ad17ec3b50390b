"""The plan as it is edited: changes, tries, the part that is chosen, lines laid for a bed."""

from typing import Annotated, Any

from fastapi import APIRouter, Form, HTTPException, Request
from pydantic import BaseModel, Field, ValidationError
from starlette.responses import JSONResponse, RedirectResponse, Response

from euhydra.garden import document, edits, quantities
from euhydra.garden.edits import Collection
from euhydra.garden.model import Garden
from euhydra.garden.part import Part
from euhydra.garden.pipes import Piece
from euhydra.garden.quantities import QuantityError
from euhydra.planner.answers import PlanError
from euhydra.planner.lay import proposed_lines, proposed_zones
from euhydra.planner.lay.answer import answer_lay, carried_by
from euhydra.planner.lay.proposed_lines import Method, Wish
from euhydra.planner.push.answer import answer_push
from euhydra.planner.water import solving, zones
from euhydra.planner.water.zones import Zone
from euhydra.records import gardens
from euhydra.records.gardens import Revision, StaleWriteError
from euhydra.web.desk import Db, Typed, open_desk, templates
from euhydra.web.drawing import fall, plan
from euhydra.web.pages import stations

router = APIRouter()

MOST_PUTS = 700
"""Most parts in one change."""


class Put(BaseModel):
    """A part as it shall be."""

    collection: Collection
    part: dict[str, Any]


class SetIn(BaseModel):
    """A piece to be set into a pipe, at a place along it."""

    collection: Collection
    part: dict[str, Any]
    pipe: str
    along_m: float = Field(ge=0, le=1000)


class Edit(BaseModel):
    """One change to a garden, made on its drawing."""

    based_on: int
    change: str = Field("Drawing: changed", max_length=120)
    puts: list[Put] = Field([], max_length=MOST_PUTS)
    removes: list[str] = Field([], max_length=MOST_PUTS)
    set_in: SetIn | None = None


class Try(BaseModel):
    """Parts to be tried without keeping them, and the zone to be looked at ("" for all)."""

    puts: list[Put] = Field([], max_length=MOST_PUTS)
    zone: str = ""
    node: str = ""


class RefusedEditError(ValueError):
    """The garden would not hold together; the message says why."""


def changed(garden: Garden, wanted: Edit) -> Garden:
    """The garden with a change made.

    Raises
    ------
    RefusedEditError : with what is wrong, and about which part.
    """
    try:
        parts = [(put.collection, _part(put)) for put in wanted.puts]
        if parts:
            garden = edits.put_all(garden, parts)
        for part_id in wanted.removes:
            garden = edits.remove(garden, part_id)
        if wanted.set_in is not None:
            place = wanted.set_in
            piece = _part(Put(collection=place.collection, part=place.part))
            if not isinstance(piece, Piece):
                raise RefusedEditError("Only pieces are set into pipes.")
            garden = edits.put_into(garden, place.collection, piece, place.pipe, place.along_m)
    except ValidationError as error:
        raise RefusedEditError(_told(error, garden)) from None
    return garden


def _part(put: Put) -> Part:
    model: type[Part] = edits.model_of(put.collection)
    try:
        return model.model_validate(put.part)
    except ValidationError as error:
        first = error.errors()[0]
        name, place = put.part.get("name", put.part.get("id", "")), document.place_of(first)
        raise RefusedEditError(f"“{name}”, {place}: {document.message_of(first)}") from None


def _told(error: ValidationError, garden: Garden) -> str:
    return " ".join(document.message_of(e, garden.units) for e in error.errors()[:3])


@router.post("/gardens/{garden_id}/edit", name="edit")
def edit(request: Request, garden_id: int, db: Db, wanted: Edit) -> Response:
    """Keep a change: a new revision and the drawing as it is then; or what is wrong with it."""
    try:
        now = gardens.current(db, garden_id)
        garden = changed(now.garden, wanted)
        gardens.save(db, garden_id, wanted.based_on, garden, wanted.change)
    except RefusedEditError as error:
        return JSONResponse({"message": str(error)}, 422)
    except StaleWriteError as error:
        return JSONResponse({"message": str(error)}, 409)
    return JSONResponse(drawn(request, gardens.current(db, garden_id)))


@router.post("/gardens/{garden_id}/step/{way}", name="step")
def step(request: Request, garden_id: int, way: str, db: Db) -> Response:
    """Undo or redo, and the drawing as it is then."""
    if way not in ("undo", "redo"):
        raise HTTPException(404, "There is undo and redo.")
    (gardens.undo if way == "undo" else gardens.redo)(db, garden_id)
    return JSONResponse(drawn(request, gardens.current(db, garden_id)))


def drawn(request: Request, revision: Revision) -> dict[str, Any]:
    """What the page needs to paint the plan anew."""
    answer = answer_lay(revision.garden)
    context = {
        "request": request, "garden": revision.garden, "system": revision.garden.units,
        "garden_id": revision.garden_id, "answer": answer,
        "plan": plan.draw(answer, revision.garden.units), "backdrop": plan.backdrop_of(request.app, revision.garden_id, revision.garden),
        "proposal": proposed_zones.propose(revision.garden), "revision": revision,
    }  # fmt: skip

    def fragment(name: str) -> str:
        return templates.get_template(name).render(context)

    return {
        "revision": revision.id,
        "canUndo": revision.can_undo,
        "canRedo": revision.can_redo,
        "drawing": fragment("_plan_drawing.html"),
        "verdict": fragment("_lay_verdict.html"),
        "below": fragment("_lay_below.html"),
        "parts": plan.parts_json(revision.garden),
    }


@router.post("/gardens/{garden_id}/try", name="try_plan")
def try_plan(garden_id: int, db: Db, wanted: Try) -> Response:
    """What the outlets of every zone that is touched would get; nothing is kept."""
    touched = {put.part.get("id") for put in wanted.puts}
    try:
        garden = _tried(gardens.current(db, garden_id).garden, wanted)
        dots: list[plan.Repainted] = []
        for zone in zones.zones_of(garden):
            if _is_touched(zone, touched) if touched else wanted.zone in ("", zone.id):
                dots += plan.repainted(solving.solve_zone(zone, zone.levels[zone.usual_level]))
    except (RefusedEditError, PlanError) as error:
        return JSONResponse({"message": str(error)}, 422)
    return JSONResponse({"outlets": dots})


def _is_touched(zone: Zone, touched: set[Any]) -> bool:
    ids = {zone.source.id, *(part.id for part in (*zone.way.parts, *zone.watered))}
    if zone.group:
        ids.update(store.id for store in zone.group.stores)
    return bool(ids & touched)


def _tried(garden: Garden, wanted: Try) -> Garden:
    """As `changed`, but each part alone is checked: a drag has to be quick."""
    updates: dict[str, Any] = {}
    for put in wanted.puts:
        part = _part(put)
        parts = updates.get(put.collection, getattr(garden, put.collection))
        updates[put.collection] = tuple(part if p.id == part.id else p for p in parts)
    return edits.attached(garden.model_copy(update=updates))


@router.post("/gardens/{garden_id}/try-fall", name="try_fall")
def try_fall(request: Request, garden_id: int, db: Db, wanted: Try) -> Response:
    """The side drawing with some parts changed; nothing is kept."""
    try:
        garden = _tried(gardens.current(db, garden_id).garden, wanted)
        zone = zones.zone_named(garden, wanted.zone)
        push = answer_push(zone, ())
    except (RefusedEditError, PlanError) as error:
        return JSONResponse({"message": str(error)}, 422)
    outlet = next((o for o in zone.outlets if o.node == wanted.node), None)
    context: dict[str, Any] = {
        "fall": fall.draw(push, garden.units, outlet),
        "system": garden.units,
    }
    html = templates.get_template("_fall_drawing.html").render(context)
    usual = push.usual.state
    return JSONResponse({
        "drawing": html,
        "flow": quantities.show(usual.flow, "flow", garden.units),
        "even": quantities.show(usual.low_quarter, "share", garden.units),
        "metre": context["fall"].metre,
    })  # fmt: skip


@router.get("/gardens/{garden_id}/part", name="part")
def part(request: Request, garden_id: int, db: Db, at: str) -> Response:
    """The forms of the part that is chosen on the plan."""
    revision = gardens.current(db, garden_id)
    views = stations.forms_of_part(revision.garden, at)
    if not views:
        raise HTTPException(404, "There is no such part.")
    carried = carried_by(revision.garden, at)
    context = {
        "carried": carried,
        "request": request, "forms": views, "garden_id": garden_id, "revision": revision, "at": at,
        "system": revision.garden.units,
    }  # fmt: skip
    return Response(templates.get_template("_part.html").render(context), media_type="text/html")


@router.get("/gardens/{garden_id}/outlet", name="outlet")
def outlet(request: Request, garden_id: int, db: Db, zone: str, node: str) -> Response:
    """Head, flow and working at one outlet."""
    revision = gardens.current(db, garden_id)
    try:
        found = zones.zone_named(revision.garden, zone)
        state = solving.solve_zone(found, found.levels[found.usual_level])
        place = next(i for i, o in enumerate(found.outlets) if o.node == node)
    except (PlanError, StopIteration):
        raise HTTPException(404, "There is no such outlet.") from None
    context = {
        "request": request, "system": revision.garden.units, "zone": found, "state": state,
        "outlet": found.outlets[place], "flow": float(state.outlet_flow[place]),
        "head": float(state.outlet_head[place]), "got": float(state.got[place]),
        "garden_id": garden_id,
        "losses": fall.losses_to(state, found.outlets[place]),
    }  # fmt: skip
    return Response(templates.get_template("_outlet.html").render(context), media_type="text/html")


@router.post("/gardens/{garden_id}/lay/zones", name="join_zones")
def join_zones(
    request: Request, garden_id: int, db: Db, based_on: Annotated[int, Form()]
) -> Response:
    """Join zones as proposed, as one change."""
    garden = gardens.current(db, garden_id).garden
    gardens.save(db, garden_id, based_on, proposed_zones.propose(garden).garden, "Zones: joined")
    return RedirectResponse(request.url_for("station", garden_id=garden_id, station="lay"), 303)


@router.post("/gardens/{garden_id}/lay/for-me", name="lay_for_me")
def lay_for_me(request: Request, garden_id: int, db: Db, typed: Typed) -> Response:
    """Lay lines for a bed or pots: ordinary pipes, as one change."""
    desk = open_desk(request, db, garden_id)
    garden = desk.revision.garden
    based_on = typed.get("based_on", "")
    try:
        wish = _wish(garden, typed)
        laid_out = proposed_lines.lay(garden, wish)
        name = next(p.name for p in garden.planted if p.id == wish.waters)
        number = int(based_on) if based_on.isdecimal() else 0
        gardens.save(db, garden_id, number, laid_out, f"Lines laid for {name}")
    except (PlanError, QuantityError) as error:
        return stations.show_lay(request, desk, typed, str(error), 422)
    except ValidationError as error:
        return stations.show_lay(request, desk, typed, _told(error, garden), 422)
    except StaleWriteError as error:
        return stations.show_lay(request, desk, typed, str(error), 409)
    url = request.url_for("station", garden_id=garden_id, station="lay")
    return RedirectResponse(url.include_query_params(at=wish.waters), 303)


USUAL_LINES = {
    Method.ROWS: ("line", "line-low"),
    Method.SOAKER: ("soaker", "soaker"),
    Method.STEMS: ("dripper", "low-2"),
    Method.POTS: ("dripper", "button-2"),
}
"""By method: the field that names the kind of line or dripper, and the usual one."""


def _wish(garden: Garden, typed: Typed) -> Wish:
    """What is to be laid, as typed.

    Raises
    ------
    QuantityError : naming the field and what to type instead.
    """
    waters, method = typed.get("waters", ""), typed.get("method", "rows")
    if any(pots.id == waters for pots in garden.pots):
        method = Method.POTS
    if method not in set(Method):
        raise QuantityError("Choose how it is to be watered.")
    name, usual = USUAL_LINES[Method(method)]
    return Wish(
        waters, typed.get("begins_at", ""), Method(method), typed.get(name) or usual,
        _spacing(garden, typed.get("spacing", "").strip()), _rows(typed.get("rows", "").strip()),
        typed.get("timer") or None,
    )  # fmt: skip


def _spacing(garden: Garden, text: str) -> float | None:
    """Distance between outlets; None for as usual. [m]"""
    if not text:
        return None
    metres = quantities.parse(text, "height", garden.units)
    if not 0.05 <= metres <= 3:
        raise QuantityError("Between outlets: from 5 cm to 3 m.")
    return metres


def _rows(text: str) -> int | None:
    if not text:
        return None
    if not (text.isdecimal() and 1 <= int(text) <= 40):
        raise QuantityError("Rows: type a whole number from 1 to 40, or leave it empty.")
    return int(text)
