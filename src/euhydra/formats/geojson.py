"""GeoJSON in and out: outlines to build a plan on, and the plan for other programs.

GeoJSON has degrees of longitude and latitude. A garden has metres on a local grid; the two are
joined at the garden's latitude, longitude 0, on a plane that touches the WGS 84 ellipsoid there
(good to a few millimetres in a hundred metres).
"""

import json
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from math import cos, radians, sin, sqrt
from typing import Any

from shapely import Polygon
from shapely.geometry import mapping

from euhydra.garden import kinds
from euhydra.garden.kinds import kind_of, outlines_of
from euhydra.garden.model import Garden
from euhydra.garden.part import Point

EQUATOR_RADIUS = 6_378_137.0
"""Of the WGS 84 ellipsoid. [m]"""

ECCENTRICITY_SQUARED = 0.006_694_379_990
"""Of the WGS 84 ellipsoid. [-]"""

MOST_BYTES = 5_000_000
"""Largest file taken. [bytes]"""

MOST_OUTLINES = 40
"""Most outlines taken from one file."""

MOST_ACROSS = 1000.0
"""Extent beyond which it is no garden. [m]"""


class GeoJsonError(ValueError):
    """The file cannot be used; the message says why and what to send."""


@dataclass(frozen=True)
class Outline:
    """An outline read from a file: its name, what it says that it is, its corners. [m]"""

    name: str
    what: str
    corners: tuple[Point, ...]


def dumps(garden: Garden) -> str:
    """The plan as a feature collection: areas as polygons, pipes as lines, pieces as points."""
    scale = _scale(garden.place.latitude_deg)
    origin = (0.0, garden.place.latitude_deg)

    def degrees(x: float, y: float) -> list[float]:
        return [round(origin[0] + x / scale[0], 9), round(origin[1] + y / scale[1], 9)]

    def area(outlines: Sequence[Polygon]) -> dict[str, Any]:
        rings = [
            [[degrees(*p[:2]) for p in ring] for ring in mapping(outline)["coordinates"]]
            for outline in outlines
        ]
        if len(rings) == 1:
            return {"type": "Polygon", "coordinates": rings[0]}
        return {"type": "MultiPolygon", "coordinates": rings}

    features = [
        _feature(part.id, part.name, what, area(outlines))
        for part, what, outlines in _areas(garden)
    ]
    for pipe in garden.pipes:
        line = {"type": "LineString", "coordinates": [degrees(p.x_m, p.y_m) for p in pipe.path]}
        features.append(_feature(pipe.id, pipe.name, pipe.kind, line))
    points = (p for k in kinds.PART_KINDS if k.is_point for p in getattr(garden, k.collection))
    for part in points:
        point = {"type": "Point", "coordinates": degrees(part.at.x_m, part.at.y_m)}
        what = getattr(part, "kind", kind_of(part).noun)
        features.append(_feature(part.id, part.name, what, point))
    collection = {"type": "FeatureCollection", "features": features}
    return json.dumps(collection, ensure_ascii=False, indent=1) + "\n"


def _areas(garden: Garden) -> Iterable[tuple[Any, str, list[Polygon]]]:
    """Everything that takes up room, the ground first; ground says what it is, all else its kind."""
    for kind in sorted(kinds.PART_KINDS, key=lambda kind: kind.layer != "ground"):
        for part in getattr(garden, kind.collection) if kind.outlines else ():
            if not kind.is_point:
                what = part.kind if kind.layer == "ground" else kind.noun
                yield part, what, outlines_of(part)


def _feature(part_id: str, name: str, what: str, geometry: dict[str, Any]) -> dict[str, Any]:
    return {
        "type": "Feature",
        "id": part_id,
        "properties": {"name": name, "kind": str(what)},
        "geometry": geometry,
    }


def loads(text: str) -> list[Outline]:
    """Outlines of the polygons in a file, on a local grid with its corner at the origin.

    Raises
    ------
    GeoJsonError : if it is no GeoJSON, not in degrees, without polygons or not of garden size.
    """
    if len(text) > MOST_BYTES:
        raise GeoJsonError("The file is larger than 5 MB: cut out your garden first.")
    try:
        document = json.loads(text)
    except (RecursionError, ValueError):
        raise GeoJsonError("This is not GeoJSON: send a file with a FeatureCollection.") from None
    rings = list(_rings(document))
    if not rings:
        raise GeoJsonError(
            "There is no polygon in this file: draw outlines, not only lines or points."
        )
    if len(rings) > MOST_OUTLINES:
        raise GeoJsonError(
            f"{len(rings)} polygons: keep at most {MOST_OUTLINES}, those of your garden."
        )
    places = [place for _, _, ring in rings for place in ring]
    if any(abs(x) > 180 or abs(y) > 90 for x, y in places):
        raise GeoJsonError(
            "The coordinates are not degrees: GeoJSON has longitude and latitude. Export it again "
            "as WGS 84 (EPSG:4326)."
        )
    left, low = min(x for x, _ in places), min(y for _, y in places)
    right, high = max(x for x, _ in places), max(y for _, y in places)
    scale = _scale((low + high) / 2)
    across = max((right - left) * scale[0], (high - low) * scale[1])
    if across > MOST_ACROSS:
        raise GeoJsonError(
            f"It spans {across / 1000:,.0f} km, which is no garden: are these metres that were taken "
            "for degrees? Export it again as WGS 84 (EPSG:4326), your garden alone."
        )
    return [
        Outline(
            name,
            what,
            tuple(
                Point(x_m=round((x - left) * scale[0], 3), y_m=round((y - low) * scale[1], 3))
                for x, y in ring
            ),
        )
        for name, what, ring in rings
    ]


def _scale(latitude: float) -> tuple[float, float]:
    """Metres that a degree spans to the east and to the north there. [m °⁻¹]

    From the ellipsoid's radii of curvature: across the meridian a / w, along it a (1 − e²) / w³,
    with w = √(1 − e² sin² φ).
    """
    w = sqrt(1 - ECCENTRICITY_SQUARED * sin(radians(latitude)) ** 2)
    east = radians(EQUATOR_RADIUS / w) * max(cos(radians(latitude)), 0.01)
    north = radians(EQUATOR_RADIUS * (1 - ECCENTRICITY_SQUARED) / w**3)
    return east, north


def _rings(document: Any) -> Iterable[tuple[str, str, list[tuple[float, float]]]]:
    """Name, kind and outer ring of every polygon; the ring without its repeated last corner."""
    if not isinstance(document, dict):
        return
    features = (
        document.get("features") if document.get("type") == "FeatureCollection" else [document]
    )
    for number, feature in enumerate(features if isinstance(features, list) else [], 1):
        if not isinstance(feature, dict):
            continue
        geometry = feature.get("geometry", feature)
        named = feature.get("properties")
        properties = named if isinstance(named, dict) else {}
        name, what = properties.get("name"), properties.get("kind")
        for ring in _outer_rings(geometry):
            yield str(name or f"Outline {number}")[:60], str(what or ""), ring


def _outer_rings(geometry: Any) -> Iterable[list[tuple[float, float]]]:
    if not isinstance(geometry, dict):
        return
    coordinates = geometry.get("coordinates")
    polygons: Sequence[Any] = []
    if geometry.get("type") == "Polygon":
        polygons = [coordinates]
    elif geometry.get("type") == "MultiPolygon" and isinstance(coordinates, list):
        polygons = coordinates
    for polygon in polygons:
        try:
            ring = [(float(p[0]), float(p[1])) for p in polygon[0]]
        except (TypeError, ValueError, IndexError, KeyError):
            raise GeoJsonError("A polygon's coordinates are not pairs of numbers.") from None
        ring = ring[:-1] if len(ring) > 1 and ring[0] == ring[-1] else ring
        if len(ring) >= 3:
            yield ring
