"""Pages made to be printed: the settings card and the installation sheet."""

from fastapi import APIRouter, Request
from starlette.responses import Response

from euhydra.garden import quantities
from euhydra.garden.beds import Bed
from euhydra.garden.quantities import QuantityError, System
from euhydra.garden.stores import Store
from euhydra.planner.answers import Gap, Sentence
from euhydra.planner.store.installing import plan_installation, stand_for_head, stand_for_tap
from euhydra.planner.water import zones
from euhydra.web.desk import Db, open_desk, render
from euhydra.web.drawing import mounting

router = APIRouter()


@router.get("/gardens/{garden_id}/card", name="card")
def card(request: Request, garden_id: int, db: Db) -> Response:
    """The timer's settings on one page, to tape inside the shed door."""
    desk = open_desk(request, db, garden_id)
    timed = [zone.time for zone in desk.chain.zones if not isinstance(zone.time, Gap)]
    first = desk.chain.zone()
    gap = first if isinstance(first, Gap) else first.time
    return render(request, "card.html", desk, gap=gap if not timed else None, timed=timed)


@router.get("/gardens/{garden_id}/installation", name="installation")
def installation(
    request: Request, garden_id: int, db: Db, at: str = "", tap: str = "", head: str = ""
) -> Response:
    """Where to mark, drill and set level, for a store at its downspout.

    With `tap` or `head` typed, how high the stand has to be for that tap or that head.
    """
    desk = open_desk(request, db, garden_id)
    garden = desk.revision.garden
    if not garden.stores:
        return render(request, "installation.html", desk, plan=None)
    store = next((s for s in garden.stores if s.id == at), garden.stores[0])
    plan = plan_installation(store)
    fed = [zone for zone in zones.zones_of(garden) if zone.source.id == store.id]
    bed = next((bed for zone in fed for bed in zone.beds), None)
    wanted, fault = _wanted(store, bed, tap, head, garden.units)
    return render(
        request, "installation.html", desk, plan=plan, sheet=mounting.draw(plan), wanted=wanted,
        wanted_fault=fault, typed={"tap": tap, "head": head}, bed=bed, stores=garden.stores,
    )  # fmt: skip


def _wanted(
    store: Store, bed: Bed | None, tap: str, head: str, system: System
) -> tuple[Sentence | None, str]:
    """The stand for what was typed, or what is wrong with it."""
    try:
        if tap.strip():
            return stand_for_tap(store, quantities.parse(tap, "height", system)), ""
        if head.strip() and bed:
            return stand_for_head(store, bed, quantities.parse(head, "head", system)), ""
    except QuantityError as error:
        return None, str(error)
    return None, ""
