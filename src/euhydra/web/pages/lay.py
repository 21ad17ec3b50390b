"""Lay: the plan, the part that is chosen on it, lines and zones laid for the gardener."""

from collections.abc import Sequence

from fastapi import APIRouter, HTTPException, Request
from pydantic import ValidationError
from starlette.responses import Response

from euhydra.garden import edits
from euhydra.garden.kinds import Collection
from euhydra.garden.part import Part
from euhydra.garden.quantities import QuantityError
from euhydra.planner.answers import Gap, PlanError
from euhydra.planner.lay import proposed_manifold, proposed_zones
from euhydra.planner.lay.answer import carried_by
from euhydra.planner.water import solving, zones
from euhydra.records import gardens
from euhydra.records.gardens import StaleWriteError
from euhydra.web.desk import Db, Desk, RowId, Typed, open_desk
from euhydra.web.drawing import (
    fall,
    plan,
    plan_shapes,
    plan_told,
)
from euhydra.web.forms import NoSuchPartError
from euhydra.web.pages.plan_edits import told_of_faults
from euhydra.web.pages.plan_pieces import plan_of
from euhydra.web.pages.station import (
    Shown,
    StationPage,
    Tells,
    back_to,
    based_on,
    forms_of_part,
    show_page,
)
from euhydra.web.pages.wishing import LEFT_THERE, wishable, wishes_typed
from euhydra.web.plan_tools import tools_for
from euhydra.web.rendering import templates

router = APIRouter()


def _lay(request: Request, desk: Desk, at: str) -> Shown:
    garden = desk.revision.garden
    answer = desk.chain.lay
    return Shown(
        answer,
        None,
        {
            "plan": plan_of(request, desk),
            "listed": (listed := plan_told.told_of(answer, garden.units)),
            "told": {part.id: part.said for part in listed},
            "parts": plan.parts_json(garden),
            "plan_tools": tools_for(garden),
            "letters": plan_shapes.letters_in(garden),
            "proposal": desk.chain.proposal,
            "backdrop": plan.backdrop_of(request.app, desk.revision.garden_id, garden),
        }
        | wishable(garden),
    )


def _chosen(desk: Desk, collection: Collection, at: str) -> Sequence[Part]:
    return [part for part in getattr(desk.revision.garden, collection) if part.id == at]


PAGE = StationPage(
    key="lay",
    station="lay",
    tab="",
    question="What goes where, and what does each plant get?",
    hint="Tap a bed or a line to choose it; then it can be dragged. Undo takes back anything.",
    show=_lay,
    form_keys=(
        "bed",
        "sources",
        "hand",
        "pots",
        "pot-sources",
        "pot-hand",
        "pot-below",
        "pipe",
        "joint",
        "pump",
        "fitting",
        "timer",
        "patch",
        "spot",
        "roof",
        "store",
        "tap",
        "greywater",
        "drum",
    ),
    parts=_chosen,
    turns_to_new=True,
    tells=Tells.ALL,
)


def show_refused(request: Request, desk: Desk, typed: Typed, fault: str, status: int) -> Response:
    """Lay again, with what was asked for and what is wrong with it."""
    at = typed.get("waters", "")
    return show_page(request, desk, PAGE, at, status=status, typed=typed, fault=fault)


@router.get("/gardens/{garden_id}/part", name="part")
def part(request: Request, garden_id: RowId, db: Db, at: str) -> Response:
    """The forms of the part that is chosen on the plan."""
    revision = gardens.current(db, garden_id)
    try:
        views = forms_of_part(revision.garden, at)
    except NoSuchPartError as error:
        raise HTTPException(404, str(error)) from None
    if not views:
        raise HTTPException(404, "There is no such part.")
    carried = carried_by(revision.garden, at)
    context = {
        "carried": carried,
        "request": request,
        "forms": views,
        "garden_id": garden_id,
        "revision": revision,
        "at": at,
        "system": revision.garden.units,
    }
    return Response(templates.get_template("_part.html").render(context), media_type="text/html")


@router.get("/gardens/{garden_id}/outlet", name="outlet")
def outlet(request: Request, garden_id: RowId, db: Db, zone: str, node: str) -> Response:
    """Head, flow and working at one outlet."""
    revision = gardens.current(db, garden_id)
    try:
        found = zones.zone_named(revision.garden, zone)
        state = solving.solve_zone(found, found.levels[found.usual_level])
        place = next(i for i, o in enumerate(found.outlets) if o.node == node)
    except (PlanError, StopIteration):
        raise HTTPException(404, "There is no such outlet.") from None
    context = {
        "request": request,
        "system": revision.garden.units,
        "zone": found,
        "state": state,
        "outlet": found.outlets[place],
        "flow": float(state.outlet_flow[place]),
        "head": float(state.outlet_head[place]),
        "got": float(state.got[place]),
        "garden_id": garden_id,
        "losses": fall.losses_to(state, found.outlets[place]),
    }
    return Response(templates.get_template("_outlet.html").render(context), media_type="text/html")


@router.post("/gardens/{garden_id}/lay/zones", name="join_zones")
def join_zones(request: Request, garden_id: RowId, db: Db, typed: Typed) -> Response:
    """Join zones as proposed, as one change."""
    garden = gardens.current(db, garden_id).garden
    joined = proposed_zones.propose(garden).garden
    done = gardens.save(db, garden_id, based_on(typed), joined, "Zones joined")
    return back_to(request, garden_id, PAGE.key, done=done)


@router.post("/gardens/{garden_id}/lay/for-me", name="lay_for_me")
def lay_for_me(request: Request, garden_id: RowId, db: Db, typed: Typed) -> Response:
    """Lay lines for a bed or pots, or for several on one timer: ordinary pipes, as one change."""
    desk = open_desk(request, db, garden_id)
    garden = desk.revision.garden
    try:
        wishes = wishes_typed(garden, typed)
        cleared = garden
        if typed.get("there") != LEFT_THERE:
            cleared = edits.without_lines(garden, {w.waters for w in wishes}, wishes[0].begins_at)
        laid_out = proposed_manifold.lay_together(cleared, wishes)
        chosen = {wish.waters for wish in wishes}
        names = ", ".join(p.name for p in garden.planted if p.id in chosen)
        change = f"Lines laid for {names}"[:120]
        done = gardens.save(db, garden_id, based_on(typed), laid_out, change)
    except (PlanError, QuantityError) as error:
        return show_refused(request, desk, typed, Gap.of(error).told(garden.units), 422)
    except ValidationError as error:
        return show_refused(request, desk, typed, told_of_faults(error, garden), 422)
    except StaleWriteError as error:
        return show_refused(request, desk, typed, str(error), 409)
    return back_to(request, garden_id, PAGE.key, wishes[0].waters, done)
