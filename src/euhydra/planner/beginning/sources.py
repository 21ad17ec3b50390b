"""Where the water of a new garden comes from: roofs, barrels, tanks, taps, a drum of washing water."""

from math import ceil, floor, pi, sqrt
from typing import Any

from euhydra.core import soaking
from euhydra.garden import catalogue, usual
from euhydra.garden.pipes import Pump
from euhydra.garden.sources import DrumOutlet, TapKind
from euhydra.garden.store_groups import group_of
from euhydra.garden.stores import DOWNSPOUT, USUAL_FREEBOARD, Hold
from euhydra.planner.beginning.scene import Scene
from euhydra.planner.store import spill
from euhydra.planner.store.storms import storm_figures

BESIDE = 0.5
"""From the house's corner to the first store. [m]"""

ROW = 1.0
"""How far above the garden's lower edge stores, taps and drums stand. [m]"""

BARREL_DEPTH = 0.85
"""Water in a full barrel. [m] Common practice: one of 200 L."""

SPARE = 1.1
"""Times the ground that an overflow needs that it is given. [-]"""

WASHDAYS = (0, 3, 5, 1, 4, 2, 6)
"""Days of the week on which loads fall, the first of them most. Monday is 0. Our choice."""


def roof(scene: Scene, spouts: int = 1) -> str:
    """A roof at the left, by its plan; its id."""
    roof_id = scene.put(
        "roofs",
        "roof",
        "Roof",
        at=scene.at(scene.left, 0.0),
        length_m=scene.number("roof_length"),
        width_m=scene.number("roof_depth"),
        material="pitched-hard",
    )
    scene.x = scene.left + scene.number("roof_length") + BESIDE
    return roof_id


def spouts(scene: Scene, roof_id: str, leads_to: str, count: int = 1, **fields: Any) -> None:
    """Its downspouts, wide enough, each with its share; the first leads on, the others join it."""
    own = next(each for each in scene.garden.downspouts if each.roof_id == roof_id)
    # Rounded down, for together they may not have more than all of the roof.
    given = {"share": floor(1000 / count) / 1000, "guard": "mesh", "bore_m": 0.1} | fields
    scene.change("downspouts", own.id, leads_to=leads_to, **given)
    for _ in range(count - 1):
        scene.put("downspouts", "spout", "Downspout", roof_id=roof_id, leads_to=own.id, **given)


def barrel(scene: Scene, volume: float) -> dict[str, Any]:
    """Fields of a round barrel of so much water. [m³]"""
    deep = scene.measure(BARREL_DEPTH if volume >= 0.15 else 0.6, "height")
    across = scene.measure_holding(2 * sqrt(volume / deep / pi))
    rim = scene.measure(deep + USUAL_FREEBOARD, "height")
    sizes = {"volume_m3": volume, "height_m": deep, "across_m": across, "rim_m": rim}
    return {"kind": "barrel", "held_by": Hold.WALL} | sizes


def tote(scene: Scene, volume: float = 1.0, width: float = 1.0) -> dict[str, Any]:
    """Fields of a tote of so much water, so wide. [m³, m]

    Common practice: 1,000 L in a cage of 1.2 by 1.0 m, with an overflow where the hose from the roof still falls.
    """
    deep = scene.measure(1.0, "height")
    rim = scene.measure(deep + USUAL_FREEBOARD, "height")
    sizes = {"volume_m3": volume, "height_m": deep, "across_m": 1.2, "width_m": width, "rim_m": rim}
    return {"kind": "tote"} | sizes


def tank(scene: Scene, volume: float, depth: float) -> dict[str, float]:
    """Sizes of a square tank of so much water of a depth. [m³, m]"""
    deep = scene.measure(depth, "height")
    side = scene.measure_holding(sqrt(volume / deep))
    rim = scene.measure(deep + USUAL_FREEBOARD, "height")
    return {
        "volume_m3": volume,
        "height_m": deep,
        "across_m": side,
        "width_m": side,
        "rim_m": rim,
    }


def row_beside(wide: float) -> float:
    """Where stores so wide [m] stand that no hose from the first row lies across them. [m]"""
    return ROW + 2 * wide


def store(scene: Scene, name: str, row: float = ROW, **fields: Any) -> str:
    """A store beside what stands there, in a row so far above the edge [m]; its id.

    The next part stands beyond it.
    """
    across, count = float(fields["across_m"]), int(fields.get("count", 1))
    given = {"footing": "slab", "overflow_to": DOWNSPOUT, "at": scene.at(scene.x + across / 2, row)}
    store_id = scene.put("stores", "store", name, **(given | fields))
    scene.x += count * across * 1.1
    return store_id


def soak(scene: Scene, store_id: str) -> None:
    """A rain garden under its overflow that takes a cloudburst."""
    group = group_of(scene.garden.stores, store_id)
    storms = storm_figures(scene.garden, group)
    if not storms:
        return
    soil = catalogue.find(catalogue.soils(), group.lowest.soak_soil)
    needed = soaking.rain_garden_area(
        storms[-1].amount.value, spill.PONDING, soil.intake_m_s, spill.STORM_SECONDS
    )
    for each in group.stores:
        scene.change("stores", each.id, soak_area_m2=float(max(4, ceil(needed * SPARE))))


def tap(scene: Scene, row: float = ROW) -> str:
    """A garden tap in a row so far above the edge [m], known by bucket and stopwatch; its id."""
    return scene.put(
        "taps",
        "tap",
        "Garden tap",
        at=scene.at(scene.x, row),
        kind=TapKind.MAINS,
        bucket_m3=scene.number_or("bucket", 0.01),
        fills_in_s=scene.number_or("fills", 40.0),
        window_s=3 * 3600.0,
    )


def pump(scene: Scene, kind: str, source: str, before: str) -> None:
    """A pump at a store, before the first piece."""
    store = next(each for each in scene.garden.stores if each.id == source)
    where: dict[str, Any] = {"at": store.at, "begins_at": source}
    pump_id = scene.free_id("pump")
    piece = usual.with_usual(Pump, scene.garden.units, id=pump_id, name="Pump", kind=kind, **where)
    scene.put_before("pumps", piece, before)


def drum(scene: Scene) -> str:
    """A drum at the house that the laundry runs into; its id."""
    loads = [0] * 7
    for n in range(scene.count("loads")):
        loads[WASHDAYS[n % 7]] += 1
    volume = scene.number("drum")
    return scene.put(
        "greywaters",
        "drum",
        "Washing water",
        at=scene.at(scene.x, ROW),
        people=0,
        loads=tuple(loads),
        load_m3=scene.number("load"),
        drum_m3=volume,
        pump_on_m3=round(volume * 0.1, 3),
        pump_off_m3=0.001,
        stand_m=0.0,
        outlet=DrumOutlet.PUMP,
    )
