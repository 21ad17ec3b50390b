"""Pieces of the plan that pages of Build show: cut out round some of its parts."""

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from fastapi import Request

from euhydra.web.desk import Desk
from euhydra.web.drawing import plan


def cut_from(request: Request, desk: Desk) -> dict[str, Any]:
    """What a page needs that shows pieces of the plan."""
    drawn = desk.kept(
        request, "plan", lambda: plan.draw(desk.chain.lay, desk.revision.garden.units)
    )
    return {"plan": drawn, "shapes": {shape.id: shape for shape in drawn.shapes}}


def box_of(bounds: Mapping[str, Sequence[plan.Bounds]], part_ids: Iterable[str]) -> plan.Bounds:
    """Paper round some parts of those whose bounds are known."""
    return plan.box_round([one for part in part_ids for one in bounds.get(part, [])])
