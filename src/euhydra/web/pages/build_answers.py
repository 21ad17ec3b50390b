"""What the pages of Build show: the list, the steps, the labels."""

import zlib
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import segno
from fastapi import Request
from markupsafe import Markup

from euhydra.garden.pipes import Pipe
from euhydra.planner.answers import Gap, PlanError
from euhydra.planner.lay import comparing
from euhydra.planner.lay.comparing import ZoneChoice
from euhydra.planner.parts import counting
from euhydra.planner.parts.answer import Price, make_list
from euhydra.planner.push.answer import PushAnswer
from euhydra.planner.steps import first_run
from euhydra.planner.steps.answer import answer_steps
from euhydra.planner.steps.first_run import FirstRun
from euhydra.planner.water import laws
from euhydra.planner.water.zones import Zone
from euhydra.records import log, prices
from euhydra.web.desk import Desk
from euhydra.web.drawing import plan
from euhydra.web.pages.shown import Shown

NOTHING_YET = Gap("There is nothing to build yet: draw a store, a bed and a line on Lay.")


def show_shopping(request: Request, desk: Desk, at: str) -> Shown:
    """The shopping list, at the owner's prices."""
    if not desk.revision.garden.parts:
        return Shown(None, NOTHING_YET)
    own, there = _own(request, desk)
    answer = desk.kept(
        request, f"list {_digest(own)} {sorted(there)}",
        lambda: make_list(desk.revision.garden, own, there),
    )  # fmt: skip
    choices = desk.kept(
        request, f"compared {_digest(own)}",
        lambda: [comparing.compare(push, own) for push in _pushed(desk)],
    )  # fmt: skip
    return Shown(answer, None, {"compared": _several(choices), "names": _names(desk)})


def show_steps(request: Request, desk: Desk, at: str) -> Shown:
    """The steps, each with its small drawing."""
    garden = desk.revision.garden
    if not garden.parts:
        return Shown(None, NOTHING_YET)
    with desk.reading(request) as conn:
        done = prices.ticked(conn, desk.revision.garden_id, "step")
    answer = answer_steps(garden, done)
    bounds = plan.bounds_of(garden)
    boxes = {
        step.key: box_of(bounds, step.parts)
        for step in answer.steps
        if any(part in bounds for part in step.parts)
    }
    return Shown(answer, None, {"done": done, "boxes": boxes} | cut_from(request, desk))


def cut_from(request: Request, desk: Desk) -> dict[str, Any]:
    """What a page needs that shows pieces of the plan."""
    drawn = desk.kept(
        request, "plan", lambda: plan.draw(desk.chain.lay, desk.revision.garden.units)
    )
    return {"plan": drawn, "shapes": {shape.id: shape for shape in drawn.shapes}}


def box_of(bounds: Mapping[str, Sequence[plan.Bounds]], part_ids: Iterable[str]) -> plan.Bounds:
    """Paper round some parts of those whose bounds are known."""
    return plan.box_round([one for part in part_ids for one in bounds.get(part, [])])


def show_first_run(request: Request, desk: Desk, at: str) -> Shown:
    """The first run of one zone, with what the log says of it."""
    zone = desk.chain.zone(at)
    if isinstance(zone, Gap) or isinstance(zone.push, Gap):
        return Shown(None, zone if isinstance(zone, Gap) else NOTHING_YET)
    with desk.reading(request) as conn:
        done = prices.ticked(conn, desk.revision.garden_id, "step")
    fills = () if isinstance(zone.time, Gap) else zone.time.fills

    def compute() -> FirstRun:
        with desk.reading(request) as conn:
            entries = log.in_order(conn, desk.revision.garden_id, None, "flow", "dip", "fill")
        return first_run.answer_first_run(zone.zone, entries, fills[0] if fills else None)

    try:
        answer = desk.kept_with_log(request, f"first run {zone.zone.id}", compute)
    except PlanError as error:
        return Shown(None, Gap(str(error)))
    parts = [part.id for part in (zone.zone.source, *zone.zone.way.parts)]
    return Shown(answer, None, {
        "done": done, "box": box_of(plan.bounds_of(desk.revision.garden), parts), "parts": parts,
    } | cut_from(request, desk))  # fmt: skip


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
        return Shown(None, Gap("There is no hose or line to label yet: draw one on Lay."))
    return Shown(_Labels(tuple(labels)), None)


@dataclass(frozen=True)
class _Labels:
    labels: tuple[HoseLabel, ...]


def _own(request: Request, desk: Desk) -> tuple[dict[str, Price], frozenset[str]]:
    with desk.reading(request) as conn:
        own = as_prices(prices.all_prices(conn))
        there = frozenset(prices.ticked(conn, desk.revision.garden_id, "there"))
    return own, there


def as_prices(kept: Mapping[str, tuple[float, float]]) -> dict[str, Price]:
    return {good: Price(*pair) for good, pair in kept.items()}


def _digest(own: Mapping[str, Price]) -> int:
    return zlib.crc32(repr(sorted((k, p.pack, p.price) for k, p in own.items())).encode())


def _pushed(desk: Desk) -> list[PushAnswer]:
    return [z.push for z in desk.chain.zones if not isinstance(z.push, Gap)]


def _several(choices: Iterable[ZoneChoice]) -> list[ZoneChoice]:
    return [choice for choice in choices if len(choice.alternatives) > 1]


def _names(desk: Desk) -> dict[str, str]:
    return {part.id: part.name for part in desk.revision.garden.parts}


def labels_of(request: Request, desk: Desk, part_id: str = "") -> list[HoseLabel]:
    """Labels of every pipe, or of one."""
    garden = desk.revision.garden
    names = {part.id: part.name for part in garden.planted}
    zones = [z.zone for z in desk.chain.zones]
    return [
        HoseLabel(
            pipe, counting.pipe_good(pipe).name, _zone_of(zones, pipe),
            _watered_by(zones, pipe, names), _code(request, desk, pipe),
        )
        for pipe in garden.pipes
        if part_id in ("", pipe.id)
    ]  # fmt: skip


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
    code = segno.make(url, error="m", micro=False)
    svg: str = code.svg_inline(border=2, omitsize=True, svgclass="code", lineclass=None)
    return Markup(svg)
