"""The parts of a garden as the plan draws them: outlines, signs, and where their names stand."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from shapely import Polygon

from euhydra.garden import catalogue, kinds, plumbing, quantities, shapes
from euhydra.garden.kinds import Collection, PartKind, kind_of
from euhydra.garden.model import Garden
from euhydra.garden.part import Part
from euhydra.garden.patches import Patch, Spot
from euhydra.garden.pipes import Fitting, Piece, Pipe
from euhydra.garden.pots import KeptBy, Pots
from euhydra.garden.quantities import System
from euhydra.garden.roofs import Roof
from euhydra.garden.sources import Tap, WetGround
from euhydra.planner.water import laws
from euhydra.web.drawing.piece_places import PIECE_SIZE, TAP_HALF, Place, piece_places

GROUND_ORDER = {"terrace": 0, "lawn": 1, "path": 2, "building": 3}
"""What lies under what."""

LAYERS = ("ground", "buildings", "beds", "sources", "pipes", "pieces")
"""From below upwards."""


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


Drawn = tuple[str, str, float, float, str]
"""Class, path, where the name stands, and the letter of a piece."""


def shapes_of(garden: Garden, heads: Mapping[str, int], system: System) -> Iterator[Shape]:
    """Every part that has a place on the plan, layer by layer.

    Parameters
    ----------
    heads : How deep the blue of each pipe is, by its id; pipes without water are not in it.
    """
    places = piece_places(garden)
    for layer in LAYERS:
        for kind in sorted((k for k in kinds.PART_KINDS if k.layer == layer), key=_rank):
            for number, part in enumerate(_in_order(garden, kind)):
                sort, path, x, y, letter = _drawn(part, kind, number, heads, places)
                name = _height(part, system) if isinstance(part, Spot) else part.name
                yield Shape(part.id, kind.collection, layer, sort, name, path, x, y, letter)


def _rank(kind: PartKind) -> bool:
    """What has an outline lies under what is a mark."""
    return kind.outlines is None


def _in_order(garden: Garden, kind: PartKind) -> Sequence[Any]:
    parts: Sequence[Any] = getattr(garden, kind.collection)
    if kind.model is Patch:
        return sorted(parts, key=lambda patch: GROUND_ORDER[patch.kind])
    return parts


def _drawn(
    part: Any,
    kind: PartKind,
    number: int,
    heads: Mapping[str, int],
    places: Mapping[str, Place],
) -> Drawn:
    match part:
        case Pipe():
            return _pipe(part, heads)
        case Piece():
            x, y = places[part.id][0], -places[part.id][1]
            return "piece", _square(x, y, PIECE_SIZE / 2), x, y + 0.09, letter_of(part)
        case Tap():
            x, y = part.at.x_m, -part.at.y_m
            return "tap", _square(x, y, TAP_HALF), x, y + 0.5, ""
        case WetGround():
            outlines = shapes.of_wet_ground(part)
            left = min(outline.bounds[0] for outline in outlines)
            high = max(outline.bounds[3] for outline in outlines)
            return "drain", "".join(map(_outline, outlines)), left + 0.1, -high - 0.1, ""
        case Spot():
            x, y = part.at.x_m, -part.at.y_m
            cross = f"M{x - 0.1:.3f},{y:.3f}h0.2M{x:.3f},{y - 0.1:.3f}v0.2"
            return "spot", cross, x + 0.12, y - 0.06, ""
        case _:
            assert kind.outlines is not None
            return _area(part, kind, kind.outlines(part), number)


def _area(part: Any, kind: PartKind, outlines: list[Polygon], number: int) -> Drawn:
    """What takes up room: named at its corner, in its middle, above it or under it."""
    path, first = "".join(map(_outline, outlines)), outlines[0]
    sort = str(part.kind) if kind.layer in SORTED and hasattr(part, "kind") else kind.noun
    if kind.layer == "ground":
        x, y = min(c.x_m for c in part.corners), min(c.y_m for c in part.corners)
        return sort, path, x + 0.1, -y - 0.12, ""
    if kind.layer == "buildings":
        path += _ridge(first) if isinstance(part, Roof) else ""
        return kind.noun, path, first.centroid.x, -first.centroid.y + 0.1, ""
    if isinstance(part, Pots) and part.is_joined:
        path += _joining(part)
    if kind.layer == "beds":
        left, _, right, _ = first.bounds
        high = max(outline.bounds[3] for outline in outlines)
        return sort, path, (left + right) / 2, -high - 0.1, ""
    lower = 0.3 + 0.45 * (number % 2)  # neighbours' names stand one under the other
    low = min(outline.bounds[1] for outline in outlines)
    return kind.noun, path, part.at.x_m, -low + lower, ""


def _joining(pots: Pots) -> str:
    """The trough that planters stand in, or the tubes from each to the next."""
    if pots.kept_by is KeptBy.TROUGH:
        return _outline(shapes.of_trough(pots))
    (ax, ay), *others = shapes.pot_places(pots)
    return f"M{ax:.3f},{-ay:.3f}" + "".join(f"L{x:.3f},{-y:.3f}" for x, y in others)


SORTED = ("ground", "beds")
"""Layers in which a part is drawn by its own sort."""


def _pipe(pipe: Pipe, heads: Mapping[str, int]) -> Drawn:
    middle = pipe.point_at(pipe.drawn_m / 2)
    depth = f" head-{heads[pipe.id]}" if pipe.id in heads else " no-water"
    sort = laws.kind_of(pipe).family + depth
    return sort, _open_path(pipe), middle.x_m, -middle.y_m - 0.08, ""


def _height(spot: Spot, system: System) -> str:
    return quantities.show(spot.ground_m, "head", system)


def letter_of(piece: Piece) -> str:
    """The sign of a piece: of its kind, or of the row that says what it is."""
    if isinstance(piece, Fitting):
        return catalogue.find(plumbing.fitting_kinds(), piece.kind).letter
    return kind_of(piece).letter


def letters_in(garden: Garden) -> list[tuple[str, str]]:
    """Signs that are on the plan, with their meaning."""
    found: dict[str, str] = {}
    for kind in sorted(kinds.PART_KINDS, key=lambda kind: not kind.letter):
        for part in getattr(garden, kind.collection) if kind.layer == "pieces" else ():
            found.setdefault(letter_of(part), _noun_of(part))
    return list(found.items())


def _noun_of(piece: Part) -> str:
    if isinstance(piece, Fitting):
        return catalogue.find(plumbing.fitting_kinds(), piece.kind).noun
    return kind_of(piece).noun


def _outline(polygon: Polygon) -> str:
    return _points(polygon.exterior.coords[:-1]) + "Z"


def _ridge(polygon: Polygon) -> str:
    corners = polygon.exterior.coords[:-1]
    (ax, ay), (bx, by), (cx, cy), (dx, dy) = corners
    return f"M{(ax + dx) / 2:.3f},{-(ay + dy) / 2:.3f}L{(bx + cx) / 2:.3f},{-(by + cy) / 2:.3f}"


def _open_path(pipe: Pipe) -> str:
    return _points([(p.x_m, p.y_m) for p in pipe.path])


def _points(points: Sequence[Sequence[float]]) -> str:
    return "".join(
        f"{'L' if i else 'M'}{x:.3f},{-y:.3f}" for i, (x, y) in enumerate(p[:2] for p in points)
    )


def _square(x: float, y: float, half: float) -> str:
    return f"M{x - half:.3f},{y - half:.3f}h{2 * half}v{2 * half}h{-2 * half}Z"
