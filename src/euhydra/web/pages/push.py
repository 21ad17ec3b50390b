"""Push: head and flows of a zone, and the fall that is dragged."""

from dataclasses import asdict
from typing import Any

from fastapi import APIRouter, HTTPException, Request
from starlette.responses import HTMLResponse, JSONResponse, Response

from euhydra.garden import quantities
from euhydra.garden.quantities import System
from euhydra.planner.answers import Gap, Mark, PlanError
from euhydra.planner.chain import ZoneChain
from euhydra.planner.push.answer import answer_push
from euhydra.planner.water import zones
from euhydra.records import gardens
from euhydra.web.desk import Db, Desk, RowId, open_desk, piece_of
from euhydra.web.drawing import (
    fall,
    float_chain,
    outlet_table,
    plan,
)
from euhydra.web.pages.plan_edits import RefusedEditError, Try, tried
from euhydra.web.pages.station import Shown, StationPage, Tells
from euhydra.web.pages.zone_page import dry_choices, parts_of_zone, zone_choices, zone_here
from euhydra.web.rendering import templates

router = APIRouter()


def _push(request: Request, desk: Desk, at: str) -> Shown:
    units, zone = desk.revision.garden.units, desk.chain.zone(at)
    push = zone if isinstance(zone, Gap) else zone.push
    if isinstance(push, Gap):
        return Shown(None, push)
    drawn, parts = fall.draw(push, units), plan.parts_json(desk.revision.garden)
    return Shown(
        push,
        None,
        {
            "fall": drawn,
            "fall_step": _step(units),
            "fall_handles": [asdict(handle) for handle in drawn.handles],
            "fall_parts": {h.part_id: parts[h.part_id]["part"] for h in drawn.handles},
            "fall_ends": fall.ends_of(push.zone),
            "outlet_table": outlet_table.rows_of(push, units),
            "chain_sides": [float_chain.draw(chain) for chain in push.chains],
        },
    )


@router.get("/gardens/{garden_id}/push/ways", name="push_ways")
def push_ways(request: Request, garden_id: RowId, db: Db, at: str = "") -> HTMLResponse:
    """What else might drive a zone, and how long its rows may be: after the page, for each is solved."""
    desk = open_desk(request, db, garden_id)
    zone = desk.chain.zone(at)
    push = zone if isinstance(zone, Gap) else zone.push
    if isinstance(push, Gap):
        raise HTTPException(409, str(push.sentence))
    return HTMLResponse(piece_of(request, "_push_ways.html", desk, answer=push))


def _step(units: System) -> dict[str, Any]:
    """What a slider of a height goes by: a unit that is read off a tape. [m]"""
    shown = quantities.KINDS["height"].display(units)
    return {"m": quantities.to_si(1.0, shown.unit, "height"), "sign": shown.sign}


def _mark_of(zone: ZoneChain) -> Mark | None:
    return None if isinstance(zone.push, Gap) else zone.push.mark


def _before(desk: Desk, at: str) -> str:
    """Of a zone without a pump, the piece that its first pump is set before."""
    zone = desk.chain.zone(at)
    return "" if isinstance(zone, Gap) or zone.zone.pumps else zone.zone.way.parts[0].id


PAGE = StationPage(
    key="push",
    station="push",
    tab="",
    question="Is height enough, or do I need a pump?",
    show=_push,
    form_keys=("pump", "pipe", "joint", "fitting"),
    choices=lambda desk, at: zone_choices(desk, at, _mark_of) + dry_choices(desk, at),
    parts=parts_of_zone,
    before=_before,
    tells=Tells.ALL,
    about=zone_here,
)


@router.post("/gardens/{garden_id}/try-fall", name="try_fall")
def try_fall(request: Request, garden_id: RowId, db: Db, wanted: Try) -> Response:
    """The side drawing with some parts changed; nothing is kept."""
    garden = gardens.current(db, garden_id).garden
    try:
        garden = tried(garden, wanted)
        zone = zones.zone_named(garden, wanted.zone)
        push = answer_push(zone, ())
    except (RefusedEditError, PlanError) as error:
        return JSONResponse({"message": Gap.of(error).told(garden.units)}, 422)
    outlet = next((o for o in zone.outlets if o.node == wanted.node), None)
    context: dict[str, Any] = {
        "fall": fall.draw(push, garden.units, outlet),
        "system": garden.units,
    }
    html = templates.get_template("_fall_drawing.html").render(context)
    usual = push.usual.state
    return JSONResponse(
        {
            "drawing": html,
            "flow": quantities.show(usual.flow, "flow", garden.units),
            "even": quantities.show(usual.low_quarter, "share", garden.units),
            "metre": context["fall"].metre,
        }
    )
