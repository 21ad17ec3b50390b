"""Gardens that tests begin with, besides the demo."""

from pathlib import Path

from euhydra.garden import demo, document, edits, kinds
from euhydra.garden.model import Garden
from euhydra.garden.part import Part, Point
from euhydra.garden.pipes import Fitting, Pump
from euhydra.garden.pots import KeptBy, Pots
from euhydra.garden.quantities import System
from euhydra.garden.sources import Tap, WetGround
from euhydra.planner.lay import proposed_lines, proposed_manifold
from euhydra.planner.lay.wishes import Method, Wish

DATA = Path(__file__).parent / "data"


def one_barrel() -> Garden:
    """One roof, one barrel, one bed, one timer: small enough to work by hand."""
    return document.loads((DATA / "one_barrel.json").read_text("utf-8"))


def with_part(garden: Garden, collection: str, position: int = 0, **changes: object) -> Garden:
    """The garden with some fields of one part changed."""
    part = getattr(garden, collection)[position]
    return edits.put(garden, collection, type(part).model_validate(part.model_dump() | changes))


def ten_beds() -> Garden:
    """Ten beds with a hose, a line and a timer each, on one large store."""
    return beds_alike(10)


def beds_alike(count: int) -> Garden:
    """So many beds, each with a hose, lines and a timer of its own, on one large store."""
    garden = with_part(one_barrel(), "stores", volume_m3=3.0)
    linked = ("begins_at", "waters")

    def copies(collection: str) -> tuple[Part, ...]:
        return tuple(
            part.model_copy(
                update={"id": f"{part.id}-{i}"}
                | {
                    name: f"{getattr(part, name)}-{i}"
                    for name in linked
                    if getattr(part, name, None) not in (None, "shed-barrel")
                }
            )
            for i in range(count)
            for part in getattr(garden, collection)
        )

    return edits.replace(garden, **{c: copies(c) for c in ("beds", "pipes", "timers")})


def four_on_a_tap(fills_in_s: float) -> Garden:
    """Four such beds on a garden tap, all on splitters, and no store.

    Parameters
    ----------
    fills_in_s : Time in which the tap fills ten litres. [s]
    """
    tap = Tap(id="tap", name="Tap", bucket_m3=0.01, fills_in_s=fills_in_s, window_s=4 * 3600)
    garden = edits.put(beds_alike(4), "taps", tap)
    for name, after in (("first", "tap"), ("second", "first"), ("third", "first")):
        splitter = Fitting(id=name, name=name, kind="splitter", begins_at=after)
        garden = edits.put(garden, "fittings", splitter)
    for position, after in enumerate(("second", "second", "third", "third")):
        garden = with_part(garden, "timers", position, begins_at=after)
    return edits.remove(edits.remove(garden, "shed-barrel"), "shed-roof")


def long_row(metres: float, kind: str) -> Garden:
    """The small garden's bed made long, with one row of another kind of line."""
    garden = with_part(one_barrel(), "beds", length_m=metres)
    garden = edits.remove(garden, "middle-line-2")
    path = [{"x_m": 5.4, "y_m": 6.225}, {"x_m": 5.4 + metres, "y_m": 6.225}]
    row = next(i for i, pipe in enumerate(garden.pipes) if pipe.id == "middle-line-1")
    return with_part(garden, "pipes", row, path=path, kind=kind)


def two_sources() -> Garden:
    """The small garden with a second line to its bed, from a tap."""
    garden = edits.put(one_barrel(), "taps", demo.garden().taps[0])
    wish = Wish("middle-bed", "garden-tap", Method.ROWS, "line-2", timer="dial-solenoid")
    return proposed_lines.lay(garden, wish)


def tapped() -> Garden:
    """The small garden on a garden tap: no store, no roof."""
    garden = one_barrel().model_copy(update={"taps": demo.garden().taps[:1]})
    garden = with_part(garden, "timers", begins_at="garden-tap")
    garden = edits.remove(garden, "shed-barrel")
    return edits.remove(garden, "shed-roof")


def abroad() -> Garden:
    """The demo in feet and gallons, south of the equator, under names as long as they may get."""
    garden = demo.garden()
    renamed = {
        collection: tuple(
            part.model_copy(update={"name": f"{part.name} beside the old greenhouse wall"[:60]})
            if "name" in type(part).model_fields
            else part
            for part in getattr(garden, collection)
        )
        for collection in (kind.collection for kind in kinds.PART_KINDS)
    }
    place = garden.place.model_copy(update={"latitude_deg": -37.0})
    return edits.replace(garden, units=System.US, place=place, **renamed)


def soggy() -> Garden:
    """The demo with wet ground, and a pump before its first timer."""
    ground = WetGround(id="corner", name="Corner", area_m2=40.0, drop_m=0.1)
    pump = Pump(id="pump", name="Pump", kind="battery-mid", battery_ah=20.0)
    garden = edits.put(demo.garden(), "wet_grounds", ground)
    return edits.put_before(garden, "pumps", pump, "top-timer")


def three_troughs() -> Garden:
    """Troughs of twelve buckets below the barrel, each with a float of its own on one shared pipe."""
    empty = dict.fromkeys(("pipes", "fittings", "timers", "beds", "pots", "plantings"), ())
    garden = edits.replace(one_barrel().model_copy(update=empty))
    for number in range(3):
        trough = Pots(
            id=f"trough-{number}",
            name=f"Trough {number + 1}",
            kept_by=KeptBy.TROUGH,
            columns=6,
            rows=2,
            pitch_m=0.35,
            trough_width_m=0.7,
            crop="tomato",
            ground_m=0.3,
            height_m=0.0,
            at=Point(x_m=8, y_m=4 + 1.5 * number),
        )
        garden = edits.put(garden, "pots", trough)
    wishes = [
        Wish(pots.id, "shed-barrel", Method.POTS, "float-box", has_valve=False)
        for pots in garden.pots
    ]
    return proposed_manifold.lay_together(garden, wishes)
