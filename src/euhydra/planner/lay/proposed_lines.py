"""Lines proposed for a bed or a group of pots: ordinary pipes and pieces, to be changed at will."""

from euhydra.garden import edits, joints
from euhydra.garden.beds import Bed
from euhydra.garden.drinker import Drinker
from euhydra.garden.joints import Joinable
from euhydra.garden.kinds import outlines_of
from euhydra.garden.model import Garden
from euhydra.garden.part import Point
from euhydra.garden.pipes import Pipe
from euhydra.garden.pots import Pots
from euhydra.garden.sentences import say
from euhydra.garden.sources import Tap
from euhydra.garden.stores import Store
from euhydra.planner.answers import PlanError
from euhydra.planner.lay import bed_lines, heads, making_room, pot_lines
from euhydra.planner.lay.layer import Layer
from euhydra.planner.lay.wishes import Method, Wish, target_of
from euhydra.planner.water import laws


def lay(garden: Garden, wish: Wish) -> Garden:
    """The garden with the lines laid.

    Raises
    ------
    PlanError : if what is wished cannot be laid.
    pydantic.ValidationError : if the garden would no longer hold together.
    """
    garden, start, at = start_of(garden, wish)
    layer = Layer(garden, wish, target_of(garden, wish))
    lay_lines(layer, *heads.put_before(layer, start, at))
    return edits.put_all(garden, layer.parts)


def starts_of(garden: Garden) -> list[Joinable]:
    """Where lines may begin: sources, pieces and plain pipes with room for one more, and every tap."""
    free = {part.id for part in joints.with_room(garden.joinable)}
    return [
        part
        for part in garden.joinable
        if part.id in free or isinstance(part, Tap)
        if not isinstance(part, Pipe) or laws.kind_of(part).family == "plain"
    ]


def start_of(garden: Garden, wish: Wish) -> tuple[Garden, Joinable, Point]:
    """Where its water comes from, with room made there, and the place where that ends.

    Raises
    ------
    PlanError : if it is not there.
    """
    start = next((p for p in garden.joinable if p.id == wish.begins_at), None)
    if start is None:
        raise PlanError(
            say(
                "lay-say-water-comes",
                "Say where its water comes from: a store, a tap, or a pipe that is there.",
            )
        )
    garden, start = making_room.with_room_at(garden, start)
    if isinstance(start, Pipe):
        return garden, start, start.path[-1]
    if isinstance(start, Store) and start.count > 1:
        return garden, start, _middle_of_nearest(start, target_of(garden, wish))
    return garden, start, start.at


def _middle_of_nearest(stores: Store, target: Drinker) -> Point:
    """Of several alike, joined on one level, the middle of the one next to what is watered."""
    (outline, *_) = outlines_of(target)
    nearest = min(outlines_of(stores), key=outline.distance)
    middle = nearest.centroid
    return Point(x_m=round(middle.x, 3), y_m=round(middle.y, 3))


def lay_lines(layer: Layer, feed: str, at: Point) -> None:
    """Lay them as wished, from what feeds them and the place where it ends."""
    match layer.target, layer.wish.method:
        case Pots() as pots, _ if pots.is_joined:
            pot_lines.to_box(layer, feed, at, pots)
        case Pots() as pots, _:
            pot_lines.to_pots(layer, feed, at, pots)
        case Bed() as bed, Method.STEMS:
            bed_lines.to_stems(layer, feed, at, bed)
        case Bed() as bed, Method.SOAKER:
            bed_lines.as_soaker(layer, feed, at, bed)
        case Bed() as bed, _:
            bed_lines.in_rows(layer, feed, at, bed)
        case _:
            raise PlanError(
                say(
                    "lay-draw-lines-yourself",
                    "Draw the lines of “{target}” yourself: none are laid for it.",
                    target=layer.target.name,
                )
            )
