"""The plan as pages show it, drawn once for a garden as it stands; and pieces of it, cut out round some parts."""

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from fastapi import Request

from euhydra.web.desk import Desk
from euhydra.web.drawing import plan


def plan_of(request: Request, desk: Desk) -> plan.PlanDrawing:
    """The plan of the garden on the desk."""
    units = desk.revision.garden.units
    return desk.kept(request, "plan", lambda: plan.draw(desk.chain.lay, units))


def cut_from(request: Request, desk: Desk) -> dict[str, Any]:
    """What a page needs that shows pieces of the plan."""
    drawn = plan_of(request, desk)
    return {"plan": drawn, "shapes": {shape.id: shape for shape in drawn.shapes}}


def box_of(bounds: Mapping[str, Sequence[plan.Bounds]], part_ids: Iterable[str]) -> plan.Bounds:
    """Paper round some parts of those whose bounds are known."""
    return plan.box_round([one for part in part_ids for one in bounds.get(part, [])])
