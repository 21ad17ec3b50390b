"""The plan: the garden from above, to scale. Paths for the page, metres with y downwards."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from math import hypot
from typing import Any

from shapely import Polygon
from starlette.applications import Starlette

from euhydra.garden import catalogue, plumbing, quantities, shapes
from euhydra.garden.edits import COLLECTIONS, Collection
from euhydra.garden.model import Garden
from euhydra.garden.pipes import Fitting, Piece, Pipe, Pump
from euhydra.garden.quantities import System
from euhydra.garden.timers import Timer
from euhydra.planner.answers import Mark
from euhydra.planner.lay.answer import LayAnswer, due_of
from euhydra.planner.water import laws
from euhydra.planner.water.solving import ZoneState

MARGIN = 0.8
"""Paper round the garden. [m]"""

LEAST_SIDE = 6.0
"""Least side of the paper. [m]"""

PIECE_SIZE = 0.34
"""Side of a piece's sign. [m]"""

FOOT = quantities.to_si(1.0, "ft", "length")

Bounds = tuple[float, float, float, float]
"""Left, low, right, high. [m]"""

LETTERS = {
    "splitter": "Y",
    "shut-off": "V",
    "throttle": "V",
    "backflow": "B",
    "check": "K",
    "filter": "F",
    "regulator-low": "R",
    "regulator": "R",
    "adapter": "A",
    "coupling": "C",
    "quick": "Q",
    "air-release": "O",
}
"""Signs of pieces; the legend under the plan says them in words."""


@dataclass(frozen=True)
class Shape:
    """One part on the plan: outline as an SVG path, its layer, class and label."""

    id: str
    collection: Collection
    layer: str
    kind: str
    name: str
    d: str
    label_x: float
    label_y: float
    letter: str = ""
    mark: str = ""


@dataclass(frozen=True)
class OutletDot:
    """One outlet: where, what it gets of its due, and whose it is."""

    x: float
    y: float
    r: float
    due: str
    node: str
    zone: str
    said: str


@dataclass(frozen=True)
class PlanDrawing:
    """Everything on the paper. `box` is left, top, width and height. [m]"""

    box: Bounds
    shapes: tuple[Shape, ...]
    outlets: tuple[OutletDot, ...]
    arrows: tuple[str, ...]
    wet: tuple[tuple[float, float, float], ...]
    bar_m: float
    step_m: float


def draw(answer: LayAnswer, system: System) -> PlanDrawing:
    """The plan of a garden with what its lines give."""
    garden = answer.garden
    marks = {f.part.id: f.mark for f in reversed(answer.findings)}
    heads = _heads(answer)
    drawn = [*_ground(garden), *_planted(garden), *_sources(garden), *_lines(garden, heads)]
    drawn = [_marked(shape, marks) for shape in drawn]
    states = list(answer.states.values())
    unit = 1.0 if system is System.METRIC else FOOT
    widths = {w.bed.id: w.width for w in answer.wettings}
    return PlanDrawing(
        _box(garden),
        tuple(drawn),
        tuple(dot for state in states for dot in dots_of(state)),
        tuple(arrow for state in states for arrow in _arrows(state)),
        tuple(
            (round(o.x, 3), round(-o.y, 3), round(widths[o.waters] / 2, 3))
            for state in states
            for o in state.zone.outlets
            if o.waters in widths
        ),
        unit * (1 if system is System.METRIC else 3),
        unit / 2 if system is System.METRIC else unit,
    )


def dots_of(state: ZoneState) -> Iterable[OutletDot]:
    """Every outlet of a zone as it is drawn."""
    shares, flows = (100 * state.got).round().astype(int).tolist(), state.outlet_flow.tolist()
    for (node, due, r, x, y), share, q in zip(repainted(state), shares, flows, strict=True):
        said = f"{share} % of its due, {q * 3.6e6:.2g} L/h"
        yield OutletDot(x, y, r, due, node, state.zone.id, said)


Repainted = tuple[str, str, float, float, float]
"""Node, how it stands, radius, x and y on paper."""


def repainted(state: ZoneState) -> list[Repainted]:
    """What a drag changes of every outlet of a zone."""
    radii = (0.045 * state.got.clip(0.2, 2.5) ** 0.5).round(4).tolist()
    return [
        (o.node, due_of(share), r, round(o.x, 3), round(-o.y, 3))
        for o, share, r in zip(state.zone.outlets, state.got.tolist(), radii, strict=True)
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
    """Every part as the page edits it: collection and document fields, by id."""
    return {
        part.id: {
            "collection": collection,
            "part": part.model_dump(mode="json", exclude_defaults=True),
        }
        for collection in COLLECTIONS
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
    for part_id, outline in _outlines(garden):
        found.setdefault(part_id, []).append(outline.bounds)
    for pipe in garden.pipes:
        found[pipe.id] = [(p.x_m, p.y_m, p.x_m, p.y_m) for p in pipe.path]
    places = [(tap.id, tap.at) for tap in garden.taps]
    places += [(spot.id, spot.at) for spot in garden.spots]
    places += [(piece.id, piece.at) for piece in garden.pieces]
    found |= {part_id: [(at.x_m, at.y_m, at.x_m, at.y_m)] for part_id, at in places}
    return found


def _outlines(garden: Garden) -> Iterable[tuple[str, Polygon]]:
    yield from ((p.id, shapes.of_patch(p)) for p in garden.patches)
    yield from ((r.id, shapes.of_roof(r)) for r in garden.roofs)
    yield from ((b.id, shapes.of_bed(b)) for b in garden.beds)
    for store in garden.stores:
        yield from ((store.id, outline) for outline in shapes.of_store(store))
    for pots in garden.pots:
        yield from ((pots.id, outline) for outline in shapes.of_pots(pots))


def _ground(garden: Garden) -> Iterable[Shape]:
    order = {"terrace": 0, "lawn": 1, "path": 2, "building": 3}
    for patch in sorted(garden.patches, key=lambda p: order[p.kind]):
        x, y = min(c.x_m for c in patch.corners), min(c.y_m for c in patch.corners)
        yield Shape(
            patch.id,
            "patches",
            "ground",
            patch.kind,
            patch.name,
            _outline(shapes.of_patch(patch)),
            x + 0.1,
            -y - 0.12,
        )
    for roof in garden.roofs:
        outline = shapes.of_roof(roof)
        yield Shape(
            roof.id,
            "roofs",
            "buildings",
            "roof",
            roof.name,
            _roof(outline),
            outline.centroid.x,
            -outline.centroid.y + 0.1,
        )
    for spot in garden.spots:
        x, y = spot.at.x_m, -spot.at.y_m
        yield Shape(
            spot.id,
            "spots",
            "ground",
            "spot",
            f"{spot.ground_m:g} m",
            f"M{x - 0.1:.3f},{y:.3f}h0.2M{x:.3f},{y - 0.1:.3f}v0.2",
            x + 0.12,
            y - 0.06,
        )


def _planted(garden: Garden) -> Iterable[Shape]:
    for bed in garden.beds:
        outline = shapes.of_bed(bed)
        left, _, right, high = outline.bounds
        yield Shape(
            bed.id,
            "beds",
            "beds",
            "bed",
            bed.name,
            _outline(outline),
            (left + right) / 2,
            -high - 0.1,
        )
    for pots in garden.pots:
        outlines = shapes.of_pots(pots)
        yield Shape(
            pots.id,
            "pots",
            "beds",
            str(pots.kind),
            pots.name,
            "".join(map(_outline, outlines)),
            outlines[0].centroid.x,
            -max(o.bounds[3] for o in outlines) - 0.08,
        )


def _sources(garden: Garden) -> Iterable[Shape]:
    for number, store in enumerate(garden.stores):
        outlines = shapes.of_store(store)
        lower = 0.3 + 0.45 * (number % 2)  # neighbours' names stand one under the other
        yield Shape(
            store.id,
            "stores",
            "sources",
            "store",
            store.name,
            "".join(map(_outline, outlines)),
            store.at.x_m,
            -min(o.bounds[1] for o in outlines) + lower,
        )
    for tap in garden.taps:
        x, y = tap.at.x_m, -tap.at.y_m
        yield Shape(tap.id, "taps", "sources", "tap", tap.name, _square(x, y, 0.15), x, y + 0.5)


def _lines(garden: Garden, heads: dict[str, int]) -> Iterable[Shape]:
    for pipe in garden.pipes:
        middle = pipe.point_at(pipe.drawn_m / 2)
        family = laws.kind_of(pipe).family
        depth = f" head-{heads[pipe.id]}" if pipe.id in heads else " no-water"
        yield Shape(
            pipe.id,
            "pipes",
            "pipes",
            family + depth,
            pipe.name,
            _open_path(pipe),
            middle.x_m,
            -middle.y_m - 0.08,
        )
    for collection, pieces in (
        ("timers", garden.timers),
        ("fittings", garden.fittings),
        ("pumps", garden.pumps),
    ):
        for piece in pieces:
            x, y = piece.at.x_m, -piece.at.y_m
            yield Shape(
                piece.id,
                collection,
                "pieces",
                "piece",
                piece.name,  # type: ignore[arg-type]
                _square(x, y, PIECE_SIZE / 2),
                x,
                y + 0.09,
                letter_of(piece),
            )


def letter_of(piece: Piece) -> str:
    """The sign of a piece."""
    if isinstance(piece, Timer):
        return "T"
    if isinstance(piece, Pump):
        return "P"
    assert isinstance(piece, Fitting)
    return LETTERS.get(piece.kind, "?")


def letters_in(garden: Garden) -> list[tuple[str, str]]:
    """Signs that are on the plan, with their meaning."""
    found = {}
    if garden.timers:
        found["T"] = "timer"
    if garden.pumps:
        found["P"] = "pump"
    for fitting in garden.fittings:
        kind = catalogue.find(plumbing.fitting_kinds(), fitting.kind)
        found.setdefault(letter_of(fitting), kind.noun)
    return list(found.items())


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


def _arrows(state: ZoneState) -> Iterable[str]:
    """A small head on each plain pipe, the way the water runs."""
    for pipe in state.zone.pipes:
        segments = state.zone.way.segments[pipe.id]
        if not segments or laws.kind_of(pipe).family == "micro" or pipe.drawn_m < 0.4:
            continue
        flow = state.flows[segments[0].link]
        a, b = pipe.point_at(pipe.drawn_m / 2 - 0.06), pipe.point_at(pipe.drawn_m / 2 + 0.06)
        if flow < 0:
            a, b = b, a
        if abs(flow) > 1e-10:
            yield _arrow(a.x_m, -a.y_m, b.x_m, -b.y_m)


def _arrow(ax: float, ay: float, bx: float, by: float) -> str:
    dx, dy = bx - ax, by - ay
    size = hypot(dx, dy) or 1.0
    nx, ny = -dy / size * 0.07, dx / size * 0.07
    return f"M{bx:.3f},{by:.3f}L{ax + nx:.3f},{ay + ny:.3f}L{ax - nx:.3f},{ay - ny:.3f}Z"


def _marked(shape: Shape, marks: dict[str, Mark]) -> Shape:
    return replace(shape, mark=str(marks[shape.id])) if shape.id in marks else shape


def _outline(polygon: Polygon) -> str:
    return _points(polygon.exterior.coords[:-1]) + "Z"


def _roof(polygon: Polygon) -> str:
    """Outline with its ridge."""
    corners = polygon.exterior.coords[:-1]
    (ax, ay), (bx, by), (cx, cy), (dx, dy) = corners
    ridge = f"M{(ax + dx) / 2:.3f},{-(ay + dy) / 2:.3f}L{(bx + cx) / 2:.3f},{-(by + cy) / 2:.3f}"
    return _outline(polygon) + ridge


def _open_path(pipe: Pipe) -> str:
    return _points([(p.x_m, p.y_m) for p in pipe.path])


def _points(points: Sequence[Sequence[float]]) -> str:
    return "".join(
        f"{'L' if i else 'M'}{x:.3f},{-y:.3f}" for i, (x, y) in enumerate(p[:2] for p in points)
    )


def _square(x: float, y: float, half: float) -> str:
    return f"M{x - half:.3f},{y - half:.3f}h{2 * half}v{2 * half}h{-2 * half}Z"
