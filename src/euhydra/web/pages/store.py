"""Store: the stores and their spill, who gets which water, wet ground, the installation sheet."""

from typing import Any

from fastapi import APIRouter, HTTPException, Request
from starlette.responses import HTMLResponse, Response

from euhydra.garden import quantities
from euhydra.garden.beds import Bed
from euhydra.garden.quantities import QuantityError, System
from euhydra.garden.sentences import Sentence, say
from euhydra.garden.store_groups import group_below, groups_of
from euhydra.garden.stores import Store
from euhydra.planner.answers import Gap, Mark, worst_of
from euhydra.planner.season import shares
from euhydra.planner.store import sizing, spill, wet_ground
from euhydra.planner.store.answer import GroupAnswer
from euhydra.planner.store.figures import RULE_NAMES
from euhydra.planner.store.installing import plan_installation, stand_for_head, stand_for_tap
from euhydra.planner.store.sizing import SizeCurve
from euhydra.planner.store.standing import answer_standing
from euhydra.planner.store.storms import storm_figures
from euhydra.planner.water import zones
from euhydra.web.desk import Db, Desk, RowId, open_desk, piece_of, render
from euhydra.web.drawing import (
    charts,
    drains,
    mounting,
    trench,
)
from euhydra.web.kept import KeptResults
from euhydra.web.pages.station import Choice, SeveralAnswers, Shown, StationPage, Tells

router = APIRouter()


def _store(request: Request, desk: Desk, at: str) -> Shown:
    chain, garden = desk.chain, desk.revision.garden
    if not garden.stores:
        return Shown(None, Gap(say("store-no-store", "There is no store yet: add one.")))
    here = stores_at(desk, at)
    always: dict[str, Any] = {"standings": [(s, answer_standing(s)) for s in here]}
    if garden.roofs:
        always["drains"] = drains.draw(garden)
    if isinstance(chain.store, Gap):
        return Shown(None, chain.store, always)
    answer = chain.store.group(at)
    always |= _spill(desk, answer)
    always |= {"chart": charts.store_chart(answer, garden.units)}
    return Shown(answer, None, always)


def _spill(desk: Desk, answer: GroupAnswer) -> dict[str, Any]:
    garden, group = desk.revision.garden, answer.group
    storms = storm_figures(garden, group)
    below = group_below(group, answer.season.groups, garden.downspouts)
    hour = storms[-1].amount.value if storms else 0.0
    name = f"“{below.name}”" if below else None
    ponding = quantities.rounded(spill.PONDING, "height", garden.units)
    return {"storms": storms, "spill": spill.answer_spill(group, hour, name, ponding)}


def _shares(request: Request, desk: Desk, at: str) -> Shown:
    chain = desk.chain
    if isinstance(chain.season, Gap):
        return Shown(None, chain.season)
    answer = shares.answer_balance(chain.season)
    units = desk.revision.garden.units
    chart = charts.shares_chart(answer, units)
    sources = list(zip(chart["names"], chart["parts"], strict=True))
    return Shown(answer, None, {"chart": chart, "sources": sources})


def _wet(request: Request, desk: Desk, at: str) -> Shown:
    garden = desk.revision.garden
    if not garden.wet_grounds:
        return Shown(
            None,
            Gap(
                say(
                    "store-no-wet-ground",
                    "There is no wet ground yet: describe it, if you have one.",
                )
            ),
        )
    grounds = [wet_ground.answer_wet(garden, ground) for ground in garden.wet_grounds]
    return Shown(
        SeveralAnswers(worst_of([g.verdict for g in grounds])),
        None,
        {"grounds": grounds, "trenches": [trench.draw(g) for g in garden.wet_grounds]},
    )


def stores_at(desk: Desk, at: str) -> tuple[Store, ...]:
    """The stores that share a level with the one called `at`, or with the first."""
    groups = groups_of(desk.revision.garden.stores)
    here = (g for g in groups if any(s.id == at for s in g.stores))
    return next(here, groups[0]).stores if groups else ()


@router.get("/gardens/{garden_id}/installation", name="installation")
def installation(
    request: Request, garden_id: RowId, db: Db, at: str = "", tap: str = "", head: str = ""
) -> Response:
    """Where to mark, drill and set level, for a store at its downspout.

    With `tap` or `head` typed, how high the stand has to be for that tap or that head.
    """
    desk = open_desk(request, db, garden_id)
    garden = desk.revision.garden
    mounted = [store for store in garden.stores if not store.is_below_ground]
    if not mounted:
        return render(request, "installation.html", desk, plan=None, has_stores=bool(garden.stores))
    store = next((s for s in mounted if s.id == at), mounted[0])
    plan = plan_installation(store)
    fed = [zone for zone in zones.zones_of(garden) if zone.source.id == store.id]
    bed = next((bed for zone in fed for bed in zone.beds), None)
    wanted, fault = _wanted(store, bed, tap, head, garden.units)
    return render(
        request,
        "installation.html",
        desk,
        plan=plan,
        sheet=mounting.draw(plan),
        wanted=wanted,
        wanted_fault=fault,
        typed={"tap": tap, "head": head},
        bed=bed,
        stores=mounted,
    )


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


@router.get("/gardens/{garden_id}/store/sizes", name="sizes")
def sizes(request: Request, garden_id: RowId, db: Db, at: str = "") -> dict[str, Any]:
    """The size curve, for the page to draw once it has been worked out."""
    desk = open_desk(request, db, garden_id)
    answer = _group(desk, at)
    curves: KeptResults[SizeCurve] = request.app.state.size_curves

    def compute() -> SizeCurve:
        return sizing.size_curve(answer.group, answer.tank, answer.season, answer.hardest)

    curve = curves.get((*desk.key, answer.tank), compute)
    return charts.size_chart(curve, desk.revision.garden.units)


@router.get("/gardens/{garden_id}/store/rules", name="store_rules")
def store_rules(request: Request, garden_id: RowId, db: Db, at: str = "") -> HTMLResponse:
    """What the store gives under each rule; asked for when it is opened, for each is another run of all years."""
    desk = open_desk(request, db, garden_id)
    answer = _group(desk, at)
    more = {"answer": answer, "rule_names": RULE_NAMES}
    return HTMLResponse(piece_of(request, "_store_rules.html", desk, **more))


@router.get("/gardens/{garden_id}/store/year", name="store_year")
def store_year(
    request: Request, garden_id: RowId, db: Db, year: int, at: str = ""
) -> dict[str, Any]:
    """One year of a store, day by day."""
    desk = open_desk(request, db, garden_id)
    answer = _group(desk, at)
    if year not in charts.years_of(answer):
        raise HTTPException(404, f"There is no weather of {year}.")
    return charts.store_year(answer, year, desk.revision.garden.units)


def _group(desk: Desk, at: str) -> GroupAnswer:
    answer = desk.chain.store
    if isinstance(answer, Gap):
        raise HTTPException(409, str(answer.sentence))
    return answer.group(at)


def _groups(desk: Desk, at: str) -> list[Choice]:
    here = stores_at(desk, at)
    marks: dict[str, Mark] = {}
    if not isinstance(desk.chain.store, Gap):
        marks = {g.group.id: g.summary.mark for g in desk.chain.store.groups}
    groups = groups_of(desk.revision.garden.stores)
    return [Choice(g.id, g.name, g.stores == here, marks.get(g.id)) for g in groups]


STORES = StationPage(
    key="store",
    station="store",
    tab="Stores",
    question="How many barrels, and when do they run dry?",
    show=_store,
    form_keys=("store", "joints", "reserve", "standing"),
    choices=_groups,
    parts=lambda desk, _, at: stores_at(desk, at),
    turns_to_new=True,
    tells=Tells.ALL,
    about=lambda desk, at: frozenset(store.id for store in stores_at(desk, at)),
)

SHARES = StationPage(
    key="shares",
    station="store",
    tab="Who gets which water",
    question="Which bed gets which water, and what does it cost?",
    show=_shares,
    form_keys=("sources", "hand", "pot-sources", "pot-hand"),
)

WET = StationPage(
    key="wet",
    station="store",
    tab="Too wet",
    question="How does a soggy corner get dry again?",
    show=_wet,
    form_keys=("wet",),
    tells=Tells.ALL,
    about=lambda desk, at: frozenset(ground.id for ground in desk.revision.garden.wet_grounds),
)
