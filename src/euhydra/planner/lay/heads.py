"""What stands between a source and its lines: pump, timer, filter and whatever else belongs there."""

from math import hypot

from shapely import Point as Dot
from shapely.ops import nearest_points

from euhydra.garden import plumbing, usual
from euhydra.garden.kinds import outlines_of
from euhydra.garden.model import Garden
from euhydra.garden.part import Part, Point
from euhydra.garden.pipes import Fitting, Piece, Pipe, Pump
from euhydra.garden.plumbing import FittingKind, FittingRole
from euhydra.garden.pots import Pots
from euhydra.garden.sources import DrumOutlet, Greywater, Tap, TapKind
from euhydra.garden.stores import Store
from euhydra.garden.timers import Timer
from euhydra.planner.lay import drum_pumps, self_running
from euhydra.planner.lay.layer import LINES_BEGIN, Layer
from euhydra.planner.lay.wishes import Method

PIECE_STEP = 0.4
"""Distance at which pieces of a head assembly are drawn apart. [m]"""

LAST_TURN = 14 * 3600.0
"""Latest hour at which a timer is made to begin. [s] Our choice: leaves dry before night."""

ASIDE = (0, 1, -1, 2, -2, 3, -3)
"""Steps to the side that are tried for a head where another is drawn already."""

LEAST_ROOM = 0.1
"""Room in which a head can be drawn before what is watered. [m] With less it lies over it."""


def put_before(layer: Layer, start: Part, at: Point) -> tuple[str, Point]:
    """Timer, and what belongs between the source and a drip line; the last one and its place."""
    feed, at = start.id, _beside_others(layer, start, at)
    source, there = _upstream(layer.garden, start)
    if isinstance(source, Greywater):
        feed, at = _emptied(layer, source, feed, at, there)
    elif layer.wish.timer and not layer.keeps_level:
        at = _next_place(layer, at)
        timer = Timer(
            id=layer.new_id("timer"),
            name=layer.named("timer"),
            at=at,
            begins_at=feed,
            kind=layer.wish.timer,
            starts_s=_turn_of(layer, source),
        )
        layer.parts.append(("timers", timer))
        feed = timer.id
    for row in _wanted(layer, source):
        if row.id in there:
            continue
        at = _next_place(layer, at)
        fitting = Fitting(
            id=layer.new_id(row.noun.split()[0]),
            name=layer.named(row.noun),
            at=at,
            begins_at=feed,
            kind=row.id,
        )
        layer.parts.append(("fittings", fitting))
        feed = fitting.id
    return feed, at


def _turn_of(layer: Layer, source: Part) -> float:
    """When a timer begins: where others empty the same store, after them; else when all do. [s]"""
    usual_start = float(Timer.model_fields["starts_s"].default)
    if not isinstance(source, Store):
        return usual_start
    garden = layer.garden
    others = (t for t in garden.timers if _upstream(garden, t)[0].id == source.id)
    turn = max((timer.starts_s + timer.window_s for timer in others), default=usual_start)
    return turn if turn <= LAST_TURN else usual_start


def _emptied(
    layer: Layer, drum: Greywater, feed: str, at: Point, there: set[str]
) -> tuple[str, Point]:
    """A pump in the drum where it is said to have one; no timer, for its water must not wait."""
    kinds = [kind.id for kind in drum_pumps.sunk_kinds()]
    if drum.outlet is not DrumOutlet.PUMP or there & set(kinds):
        return feed, at
    pump = usual.with_usual(
        Pump,
        layer.garden.units,
        id=layer.new_id("pump"),
        name=layer.named("pump"),
        at=at,
        begins_at=feed,
        kind=kinds[0],
    )
    layer.parts.append(("pumps", pump))
    return pump.id, at


def _wanted(layer: Layer, source: Part) -> list[FittingKind]:
    """What belongs between a source and its lines, in order."""
    kinds = list(plumbing.fitting_kinds().values())

    def first(role: FittingRole) -> FittingKind:
        return next(kind for kind in kinds if kind.role is role)

    if isinstance(source, Greywater) or (layer.keeps_level and not isinstance(source, Tap)):
        # Against lint, and against grit in a float, whatever the line.
        return [first(FittingRole.FILTERS), *_air_release(layer)]
    if not isinstance(source, Tap):
        name = layer.wish.line
        line = plumbing.pipe_kinds().get(name) or plumbing.drippers().get(name)
        return [first(FittingRole.FILTERS)] if line is not None and line.is_narrow else []
    regulators = [kind for kind in kinds if kind.role is FittingRole.REGULATES]
    is_soft = layer.wish.method is Method.SOAKER or layer.wish.line == "tape"
    choose = min if is_soft else max
    is_mains = source.kind is TapKind.MAINS
    return [
        *([first(FittingRole.STOPS_BACKFLOW)] if is_mains else []),
        first(FittingRole.FILTERS),
        choose(regulators, key=lambda kind: kind.setting_m),
        first(FittingRole.ADAPTS),
    ]


def _air_release(layer: Layer) -> list[FittingKind]:
    """Before many small floats: at so little head a bubble stops the water."""
    pots = layer.target
    if not isinstance(pots, Pots) or pots.is_joined or pots.plants <= self_running.FEW_FLOATS:
        return []
    kinds = plumbing.fitting_kinds().values()
    return [kind for kind in kinds if kind.role is FittingRole.LETS_AIR_OUT][:1]


def _next_place(layer: Layer, at: Point) -> Point:
    """A step on towards what is watered, so small that the whole head hangs before it."""
    here, outline = Dot(at.x_m, at.y_m), outlines_of(layer.target)[0]
    _, edge = nearest_points(here, outline)
    room = here.distance(outline) - LINES_BEGIN
    to, part = outline.centroid, PIECE_STEP
    if room > LEAST_ROOM:
        to, part = edge, room / 6
    dx, dy = to.x - at.x_m, to.y - at.y_m
    away = max(hypot(dx, dy), 1e-6)
    step = min(PIECE_STEP, part, away / 8)
    return Point(x_m=round(at.x_m + step * dx / away, 3), y_m=round(at.y_m + step * dy / away, 3))


def _beside_others(layer: Layer, start: Part, at: Point) -> Point:
    """Where a head hangs that does not lie over another from the same source: beside it, as far as there is need."""
    pieces = [piece.at for piece in layer.garden.pieces if piece.id != start.id]
    first = _next_place(layer, at)
    dx, dy = first.x_m - at.x_m, first.y_m - at.y_m
    step = hypot(dx, dy)
    if step < 1e-6:
        return at
    for aside in ASIDE:
        beside = Point(
            x_m=round(at.x_m - aside * PIECE_STEP * dy / step, 3),
            y_m=round(at.y_m + aside * PIECE_STEP * dx / step, 3),
        )
        there = _next_place(layer, beside)
        if all(hypot(p.x_m - there.x_m, p.y_m - there.y_m) > step / 2 for p in pieces):
            return beside
    return at


def _upstream(garden: Garden, start: Part) -> tuple[Part, set[str]]:
    """The source that `start` is fed by, and the kinds of piece on the way."""
    by_id = {part.id: part for part in garden.joinable}
    here, kinds = start, set()
    while isinstance(here, Piece | Pipe) and here.begins_at is not None:
        kinds.add(here.kind)
        here = by_id[here.begins_at]
    return here, kinds
