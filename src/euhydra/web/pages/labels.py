"""Build: labels of hoses and lines, and the page that a label leads to."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from functools import lru_cache

from fastapi import APIRouter, HTTPException, Request
from markupsafe import Markup
from starlette.responses import Response

from euhydra.garden.pipes import Pipe
from euhydra.garden.sentences import say
from euhydra.planner.answers import Gap
from euhydra.planner.parts import counting
from euhydra.planner.water import laws
from euhydra.planner.water.zones import Zone
from euhydra.web.desk import Db, Desk, RowId, open_desk, render
from euhydra.web.drawing import plan
from euhydra.web.home_addresses import for_phones, is_only_here
from euhydra.web.pages.plan_pieces import box_of, cut_from
from euhydra.web.pages.station import Shown, StationPage

router = APIRouter()


@dataclass(frozen=True)
class HoseLabel:
    """A label for a hose or line: what it is, how long, whom it waters, and where its page is."""

    pipe: Pipe
    kind: str
    zone: str
    waters: tuple[str, ...]
    code: Markup


def show_labels(request: Request, desk: Desk, at: str) -> Shown:
    """Labels of every hose and line; tubes to single pots go without."""
    labels = [label for label in labels_of(request, desk) if not label.pipe.dripper]
    if not labels:
        return Shown(
            None,
            Gap(
                say(
                    "labels-nothing-yet",
                    "There is no hose or line to label yet: draw one on Lay.",
                )
            ),
        )
    return Shown(
        _Labels(tuple(labels)),
        None,
        {"only_here": is_only_here(request), "for_phones": for_phones(request, request.url)},
    )


@dataclass(frozen=True)
class _Labels:
    labels: tuple[HoseLabel, ...]


def labels_of(request: Request, desk: Desk, part_id: str = "") -> list[HoseLabel]:
    """Labels of every pipe, or of one."""
    garden = desk.revision.garden
    names = {part.id: part.name for part in garden.planted}
    zones = [z.zone for z in desk.chain.zones]
    return [
        HoseLabel(
            pipe,
            counting.pipe_good(pipe).name,
            _zone_of(zones, pipe),
            _watered_by(zones, pipe, names),
            _code(request, desk, pipe),
        )
        for pipe in garden.pipes
        if part_id in ("", pipe.id)
    ]


def _zone_of(zones: Iterable[Zone], pipe: Pipe) -> str:
    return next((z.name for z in zones if any(p.id == pipe.id for p in z.pipes)), "")


def _watered_by(zones: Iterable[Zone], pipe: Pipe, names: Mapping[str, str]) -> tuple[str, ...]:
    if pipe.waters:
        return (names.get(pipe.waters, ""),)
    for zone in zones:
        if any(p.id == pipe.id for p in zone.pipes) and not laws.gives(pipe):
            return tuple(part.name for part in zone.watered)
    return ()


def _code(request: Request, desk: Desk, pipe: Pipe) -> Markup:
    """A code for the line's page at the address under which this page was asked for."""
    url = request.url_for("line", garden_id=desk.revision.garden_id, part_id=pipe.id)
    return _code_of(str(url))


@lru_cache(maxsize=512)
def _code_of(url: str) -> Markup:
    import segno  # so late, for no other page needs it

    code = segno.make(url, error="m", micro=False)
    svg: str = code.svg_inline(border=2, omitsize=True, svgclass="code", lineclass=None)
    return Markup(svg)


@router.get("/gardens/{garden_id}/lines/{part_id}", name="line")
def line_page(request: Request, garden_id: RowId, part_id: str, db: Db) -> Response:
    """The page that a label's code leads to: one hose or line."""
    desk = open_desk(request, db, garden_id)
    label = next(iter(labels_of(request, desk, part_id)), None)
    if label is None:
        raise HTTPException(
            404, "This hose or line is no longer in the garden: take its label off."
        )
    zone = next((z for z in desk.chain.zones if any(p.id == part_id for p in z.zone.pipes)), None)
    return render(
        request,
        "line.html",
        desk,
        label=label,
        zone=zone,
        here="labels",
        box=box_of(plan.bounds_of(desk.revision.garden), [part_id]),
        **cut_from(request, desk),
    )


PAGE = StationPage(
    key="labels",
    station="build",
    tab="Labels",
    question="Which hose is which?",
    show=show_labels,
)
