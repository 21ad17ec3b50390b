"""The plan: the garden from above, to scale. Paths for the page, metres with y downwards."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import groupby
from math import hypot
from typing import Any

from starlette.applications import Starlette

from euhydra.core.constants import METRES_PER_FOOT
from euhydra.garden import joints, kinds, quantities
from euhydra.garden.kinds import PartKind, collections
from euhydra.garden.model import Garden
from euhydra.garden.pipes import Pipe
from euhydra.garden.quantities import System
from euhydra.planner.answers import Mark
from euhydra.planner.lay.answer import LayAnswer, due_of
from euhydra.planner.water import laws
from euhydra.planner.water.solving import ZoneState
from euhydra.planner.water.way import Outlet
from euhydra.web.drawing import plan_shapes
from euhydra.web.drawing.lettering import LETTER_PX
from euhydra.web.drawing.plan_names import PlacedName, Seen, metres_a_pixel, place_names, seen_on
from euhydra.web.drawing.plan_shapes import Shape

MARGIN = 0.8
"""Paper round the garden. [m]"""

LEAST_SIDE = 6.0
"""Least side of the paper. [m]"""


FRAMES = {"wide": (700.0, 630.0), "narrow": (356.0, 480.0)}
"""Frames for which names are placed: beside fields and on a phone. [px]"""

BAR_WORDS_EM = 3.0
"""Width of what is said beside the scale bar. [em]"""


Bounds = tuple[float, float, float, float]
"""Left, low, right, high. [m]"""


@dataclass(frozen=True)
class OutletDot:
    """One outlet: where, what it gets of its due, and whose it is."""

    x: float
    y: float
    r: float
    due: str
    node: str
    pipe: str
    zone: str
    said: str


Round = tuple[float, float, float]
"""A circle on paper: x, y, radius. [m]"""


@dataclass(frozen=True)
class PlanDrawing:
    """Everything on the paper. `box` is left, top, width and height. [m]

    garden : Whose plan it is.
    wet : What outlets wet, pipe by pipe.
    """

    garden: Garden

    box: Bounds
    shapes: tuple[Shape, ...]
    outlets: tuple[OutletDot, ...]
    arrows: tuple[tuple[str, str], ...]
    wet: tuple[tuple[str, list[Round]], ...]
    bar_m: float
    step_m: float

    @property
    def outlets_by_pipe(self) -> list[tuple[str, list[OutletDot]]]:
        """Outlets pipe by pipe, along the water's way."""
        return [
            (pipe_id, list(dots)) for pipe_id, dots in groupby(self.outlets, key=lambda o: o.pipe)
        ]

    @cached_property
    def names(self) -> Mapping[str, tuple[PlacedName, ...]]:
        """Where names stand, by the size of the frame that they are placed for; only pages that show them ask."""
        return {
            size: self.named(metres_a_pixel(self.box, *frame)) for size, frame in FRAMES.items()
        }

    @cached_property
    def _seen(self) -> Seen:
        return seen_on(self.garden, self.shapes)

    def named(self, px: float) -> tuple[PlacedName, ...]:
        """Where names stand whose letters are so many pixels of that size. [m px⁻¹]"""
        left, top, _, height = self.box
        # As _plan_scale.html draws it, with its words beside it.
        bar_y, row = top + height - 0.25, LETTER_PX * px
        bar = left + 0.3, bar_y - row, left + 0.4 + self.bar_m + BAR_WORDS_EM * row, bar_y + row / 2
        return place_names(self._seen, self.box, px, bar)


def draw(answer: LayAnswer, system: System) -> PlanDrawing:
    """The plan of a garden with what its lines give."""
    garden = answer.garden
    marks = {f.part.id: f.mark for f in reversed(answer.findings)}
    drawn = [
        _marked(shape, marks) for shape in plan_shapes.shapes_of(garden, _heads(answer), system)
    ]
    states = list(answer.states.values())
    unit = 1.0 if system is System.METRIC else METRES_PER_FOOT
    widths = {w.bed.id: w.width for w in answer.wettings}
    return PlanDrawing(
        garden,
        _box(garden),
        tuple(drawn),
        tuple(dot for state in states for dot in dots_of(state, system)),
        tuple(arrow for state in states for arrow in _arrows(state)),
        tuple(
            (pipe_id, [_wetted(o, widths[o.waters]) for o in own if o.waters in widths])
            for state in states
            for pipe_id, own in groupby(state.zone.outlets, key=lambda o: o.pipe.id)
        ),
        unit * (1 if system is System.METRIC else 3),
        unit / 2 if system is System.METRIC else unit,
    )


def _wetted(outlet: Outlet, width: float) -> Round:
    return round(outlet.x, 3), round(-outlet.y, 3), round(width / 2, 3)


def dots_of(state: ZoneState, system: System) -> Iterable[OutletDot]:
    """Every outlet of a zone as it is drawn."""
    shares, flows = (100 * state.got).round().astype(int).tolist(), state.outlet_flow.tolist()
    radii = (0.045 * state.got.clip(0.2, 2.5) ** 0.5).round(4).tolist()
    pipes = [outlet.pipe.id for outlet in state.zone.outlets]
    each = zip(repainted(state), radii, pipes, shares, flows, strict=True)
    for (node, due, x, y), r, pipe_id, share, q in each:
        said = f"{share} % of its due, {quantities.show(q, 'flow', system, 2)}"
        yield OutletDot(x, y, r, due, node, pipe_id, state.zone.id, said)


Repainted = tuple[str, str, float, float]
"""Node, how it stands, x and y on paper."""


def repainted(state: ZoneState) -> list[Repainted]:
    """What a drag changes of every outlet of a zone."""
    return [
        (o.node, due_of(share), round(o.x, 3), round(-o.y, 3))
        for o, share in zip(state.zone.outlets, state.got.tolist(), strict=True)
    ]


def backdrop_of(app: Starlette, garden_id: int, garden: Garden) -> dict[str, Any] | None:
    """The picture under the plan: its address, and its place on paper. [m]"""
    shown = garden.backdrop
    if shown is None:
        return None
    height = shown.height_px / shown.metre_px
    href = app.url_path_for("backdrop", garden_id=garden_id, digest=shown.digest)
    return {
        "href": str(href),
        "x": round(shown.at.x_m, 3),
        "y": round(-shown.at.y_m - height, 3),
        "width": round(shown.width_px / shown.metre_px, 3),
        "height": round(height, 3),
    }


def parts_json(garden: Garden) -> dict[str, dict[str, Any]]:
    """Every part as the page edits it: collection, document fields, whether nothing more may begin there; by id."""
    full = {part.id for part in garden.joinable}
    full -= {part.id for part in joints.with_room(garden.joinable)}
    return {
        part.id: {
            "collection": collection,
            "part": part.model_dump(mode="json", exclude_defaults=True),
        }
        | ({"isFull": True} if part.id in full else {})
        for collection in collections()
        for part in getattr(garden, collection)
    }


def _box(garden: Garden) -> Bounds:
    bounds = [one for several in bounds_of(garden).values() for one in several]
    if garden.backdrop is not None:
        picture = garden.backdrop
        right = picture.at.x_m + picture.width_px / picture.metre_px
        high = picture.at.y_m + picture.height_px / picture.metre_px
        bounds.append((picture.at.x_m, picture.at.y_m, right, high))
    return box_round(bounds) if bounds else (-1.0, -7.0, 10.0, 8.0)


def box_round(bounds: Sequence[Bounds]) -> Bounds:
    """Paper round some parts, which lie in its middle, as a view box: left, top, width, height. [m]"""
    left, low = min(b[0] for b in bounds), min(b[1] for b in bounds)
    right, high = max(b[2] for b in bounds), max(b[3] for b in bounds)
    width = max(right - left + 2 * MARGIN, LEAST_SIDE)
    height = max(high - low + 2 * MARGIN, LEAST_SIDE)
    return (left + right - width) / 2, -(low + high + height) / 2, width, height


def bounds_of(garden: Garden) -> dict[str, list[Bounds]]:
    """Where each part lies, by its id."""
    found: dict[str, list[Bounds]] = {}
    for kind in kinds.PART_KINDS:
        for part in getattr(garden, kind.collection):
            if kind.layer and (bounds := _bounds_of(part, kind)):
                found[part.id] = bounds
    return found


def _bounds_of(part: Any, kind: PartKind) -> list[Bounds]:
    if kind.outlines is not None and not kind.is_point:
        return [outline.bounds for outline in kind.outlines(part)]
    places = part.path if isinstance(part, Pipe) else [part.at]
    return [(p.x_m, p.y_m, p.x_m, p.y_m) for p in places]


def _heads(answer: LayAnswer) -> dict[str, int]:
    """How deep the blue of each pipe is: 1 to 4 by the head at its beginning."""
    found = {}
    for state in answer.states.values():
        for pipe in state.zone.pipes:
            segments = state.zone.way.segments[pipe.id]
            if segments:
                stop = state.zone.way.stops[segments[-1].end]
                head = max(state.heads[stop.node] - stop.height, 0.0)
                found[pipe.id] = 1 + sum(head > limit for limit in (0.5, 1.5, 5.0))
    return found


def _arrows(state: ZoneState) -> Iterable[tuple[str, str]]:
    """By the id of each plain pipe a small head, the way the water runs."""
    for pipe in state.zone.pipes:
        segments = state.zone.way.segments[pipe.id]
        if not segments or laws.kind_of(pipe).family == "micro" or pipe.drawn_m < 0.4:
            continue
        flow = state.flows[segments[0].link]
        a, b = pipe.point_at(pipe.drawn_m / 2 - 0.06), pipe.point_at(pipe.drawn_m / 2 + 0.06)
        if flow < 0:
            a, b = b, a
        if abs(flow) > 1e-10:
            yield pipe.id, _arrow(a.x_m, -a.y_m, b.x_m, -b.y_m)


def _arrow(ax: float, ay: float, bx: float, by: float) -> str:
    dx, dy = bx - ax, by - ay
    size = hypot(dx, dy) or 1.0
    nx, ny = -dy / size * 0.07, dx / size * 0.07
    return f"M{bx:.3f},{by:.3f}L{ax + nx:.3f},{ay + ny:.3f}L{ax - nx:.3f},{ay - ny:.3f}Z"


def _marked(shape: Shape, marks: dict[str, Mark]) -> Shape:
    return replace(shape, mark=str(marks[shape.id])) if shape.id in marks else shape
