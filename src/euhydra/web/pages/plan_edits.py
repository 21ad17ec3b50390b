"""The plan as it is edited: changes kept, undone, or only tried."""

import sqlite3
from collections.abc import Iterable
from typing import Any

from fastapi import APIRouter, HTTPException, Request
from pydantic import BaseModel, Field, ValidationError
from starlette.responses import JSONResponse, Response

from euhydra.garden import document, edits, plain_text
from euhydra.garden.kinds import Collection, kind_named
from euhydra.garden.model import Garden
from euhydra.garden.part import Part
from euhydra.garden.pipes import Piece
from euhydra.planner.answers import Gap, PlanError
from euhydra.planner.judgement import telling
from euhydra.planner.judgement.finding import by_weight
from euhydra.planner.judgement.lay_findings import drawn_findings
from euhydra.planner.lay import proposed_zones
from euhydra.planner.lay.answer import answer_lay
from euhydra.planner.water import solving, zones
from euhydra.planner.water.zones import Zone
from euhydra.records import gardens, weather
from euhydra.records.gardens import Revision, StaleWriteError
from euhydra.web.desk import Db, RowId
from euhydra.web.drawing import plan, plan_told
from euhydra.web.next_step import next_step
from euhydra.web.pages.wishing import wishable
from euhydra.web.rendering import templates

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
        raise RefusedEditError(told_of_faults(error, garden)) from None
    return garden


def _part(put: Put) -> Part:
    model: type[Part] = kind_named(put.collection).model
    try:
        return model.model_validate(put.part)
    except ValidationError as error:
        first = error.errors()[0]
        name = plain_text.name(str(put.part.get("name", put.part.get("id", ""))))[:60]
        place = document.place_of(first)
        raise RefusedEditError(f"“{name}”, {place}: {document.message_of(first)}") from None


def told_of_faults(error: ValidationError, garden: Garden) -> str:
    return " ".join(document.message_of(e, garden.units) for e in error.errors()[:3])


@router.post("/gardens/{garden_id}/edit", name="edit")
def edit(request: Request, garden_id: RowId, db: Db, wanted: Edit) -> Response:
    """Keep a change: a new revision and the drawing as it is then; or what is wrong with it."""
    try:
        now = gardens.current(db, garden_id)
        garden = changed(now.garden, wanted)
        gardens.save(db, garden_id, wanted.based_on, garden, wanted.change)
    except RefusedEditError as error:
        return JSONResponse({"message": str(error)}, 422)
    except StaleWriteError as error:
        return JSONResponse({"message": str(error)}, 409)
    touched = {*(put.part["id"] for put in wanted.puts), *wanted.removes}
    return JSONResponse(drawn(request, db, gardens.current(db, garden_id), touched))


@router.post("/gardens/{garden_id}/step/{way}", name="step")
def step(request: Request, garden_id: RowId, way: str, db: Db) -> Response:
    """Undo or redo, and the drawing as it is then."""
    if way not in ("undo", "redo"):
        raise HTTPException(404, "There is undo and redo.")
    before = gardens.current(db, garden_id)
    (gardens.undo if way == "undo" else gardens.redo)(db, garden_id)
    after = gardens.current(db, garden_id)
    stepped = before if way == "undo" else after
    return JSONResponse(drawn(request, db, after) | {"change": stepped.change})


def drawn(
    request: Request, db: sqlite3.Connection, revision: Revision, touched: Iterable[str] = ()
) -> dict[str, Any]:
    """What the page needs to paint the plan anew, and what it says and asks beside it.

    Parameters
    ----------
    touched : Ids of the parts that were changed.
    """
    answer = answer_lay(revision.garden)
    picture = plan.draw(answer, revision.garden.units)
    listed = plan_told.told_of(answer, revision.garden.units)
    has_weather = weather.in_use(db, revision.garden_id) is not None
    context = {
        "request": request,
        "garden": revision.garden,
        "system": revision.garden.units,
        "garden_id": revision.garden_id,
        "answer": answer,
        "judged_so": telling.verdict_of(by_weight(tuple(drawn_findings(answer))), answer.verdict),
        "plan": picture,
        "listed": listed,
        "told": {part.id: part.said for part in listed},
        "backdrop": plan.backdrop_of(request.app, revision.garden_id, revision.garden),
        "proposal": proposed_zones.propose(revision.garden),
        "revision": revision,
        "next_step": next_step(revision.garden, has_weather),
        "wished": {},
        "wish_fault": "",
    } | wishable(revision.garden)

    def fragment(name: str) -> str:
        return templates.get_template(name).render(context)

    return {
        "revision": revision.id,
        "change": revision.change,
        "told": plan_told.outcome_of(answer, touched),
        "canUndo": revision.can_undo,
        "canRedo": revision.can_redo,
        "drawing": fragment("_plan_drawing.html") + fragment("_plan_scale.html"),
        "box": picture.box,
        "verdict": fragment("_lay_verdict.html"),
        "next": fragment("_lay_next.html"),
        "wish": fragment("_lay_wish.html"),
        "below": fragment("_lay_below.html"),
        "parts": plan.parts_json(revision.garden),
    }


@router.post("/gardens/{garden_id}/try", name="try_plan")
def try_plan(garden_id: RowId, db: Db, wanted: Try) -> Response:
    """What the outlets of every zone that is touched would get; nothing is kept."""
    garden = gardens.current(db, garden_id).garden
    try:
        garden = tried(garden, wanted)
        touched = {put.part["id"] for put in wanted.puts}
        dots: list[plan.Repainted] = []
        for zone in zones.zones_of(garden):
            if _is_touched(zone, touched) if touched else wanted.zone in ("", zone.id):
                dots += plan.repainted(solving.solve_zone(zone, zone.levels[zone.usual_level]))
    except (RefusedEditError, PlanError) as error:
        return JSONResponse({"message": Gap.of(error).told(garden.units)}, 422)
    return JSONResponse({"outlets": dots})


def _is_touched(zone: Zone, touched: set[Any]) -> bool:
    ids = {zone.source.id, *(part.id for part in (*zone.way.parts, *zone.watered))}
    if zone.group:
        ids.update(store.id for store in zone.group.stores)
    return bool(ids & touched)


def tried(garden: Garden, wanted: Try) -> Garden:
    """As `changed`, but each part alone is checked: a drag has to be quick."""
    updates: dict[str, Any] = {}
    for put in wanted.puts:
        part = _part(put)
        parts = updates.get(put.collection, getattr(garden, put.collection))
        updates[put.collection] = tuple(part if p.id == part.id else p for p in parts)
    return edits.attached(garden.model_copy(update=updates))
