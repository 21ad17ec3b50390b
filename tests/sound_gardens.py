"""Gardens in which nothing is wrong, laid by the program: flaws are planted in them one at a time."""

from collections.abc import Callable
from dataclasses import replace

from euhydra.core.weather import DailyWeather
from euhydra.garden import demo, edits, normals
from euhydra.garden.beds import Bed
from euhydra.garden.model import Garden, Place
from euhydra.garden.part import Point
from euhydra.garden.pipes import Pump
from euhydra.garden.plantings import PlantingDate
from euhydra.garden.pots import KeptBy, Pots
from euhydra.garden.quantities import System
from euhydra.garden.roofs import Downspout, Roof
from euhydra.garden.sources import DrumOutlet, Greywater, Tap, TapKind, WetGround
from euhydra.garden.stores import RAIN_GARDEN, Store
from euhydra.planner.judgement import guarding
from euhydra.planner.lay import proposed_manifold
from euhydra.planner.lay.wishes import Method, Wish
from euhydra.planner.water import zones

YEARS_MADE = 8
"""Years of made-up weather."""

RECORD = normals.make_days(demo.normals(), YEARS_MADE)
"""Weather of all of them."""

MAY = PlantingDate(month=5, day=20)


def _begun(units: System = System.METRIC) -> Garden:
    place = Place(latitude_deg=41.2, elevation_m=28.0)
    return Garden(name="Known answers", units=units, place=place)


def _with_rain(garden: Garden, **store: object) -> Garden:
    """A roof, its downspout, and a store on a slab that carries what drinks from it."""
    roof = Roof(id="roof", name="Roof", length_m=7, width_m=4, material="pitched-hard")
    garden = edits.replace(garden, roofs=(roof,))
    given = {
        "id": "tank",
        "name": "Tank",
        "kind": "tote",
        "volume_m3": 2.0,
        "height_m": 1.0,
        "across_m": 2.0,
        "width_m": 1.0,
        "rim_m": 1.15,
        "stand_m": 0.5,
        "footing": "slab",
        "at": Point(x_m=8.5, y_m=2),
        "overflow_to": RAIN_GARDEN,
        "soak_area_m2": 8.0,
        "soak_soil": "sandy-loam",
    }
    tank = Store.model_validate(given | store)
    spout = Downspout(id="spout", name="Downspout", roof_id="roof", leads_to="tank", bore_m=0.1)
    return edits.replace(garden, stores=(tank,), downspouts=(spout,))


def _with_tap(garden: Garden, kind: TapKind = TapKind.MAINS, pressure: float = 3e5) -> Garden:
    tap = Tap(
        id="tap",
        name="Tap",
        kind=kind,
        at=Point(x_m=9, y_m=4),
        bucket_m3=0.01,
        fills_in_s=30.0,
        static_pa=pressure,
        window_s=3 * 3600,
    )
    return edits.put(garden, "taps", tap)


def _bed(
    garden: Garden, name: str = "bed", crop: str = "tomato", y: float = 2, **more: object
) -> Garden:
    given = {
        "id": name,
        "name": name.capitalize(),
        "at": Point(x_m=11, y_m=y),
        "length_m": 3.0,
        "width_m": 1.0,
        "soil": "loam",
        "crop": crop,
        "planting": MAY,
    }
    return edits.put(garden, "beds", Bed.model_validate(given | more))


def _pots(garden: Garden, **more: object) -> Garden:
    given = {
        "id": "pots",
        "name": "Pots",
        "at": Point(x_m=11, y_m=6),
        "across_m": 0.4,
        "columns": 5,
        "pitch_m": 0.5,
        "crop": "patio-flowers",
        "planting": MAY,
    }
    return edits.put(garden, "pots", Pots.model_validate(given | more))


def _laid(garden: Garden, *wishes: Wish) -> Garden:
    """Lines as the program lays them."""
    for wish in wishes:
        garden = proposed_manifold.lay_together(garden, [wish])
    return _filtered(garden)


def _filtered(garden: Garden) -> Garden:
    """With a filter in each head that wants one."""
    for zone in zones.zones_of(garden):
        if not zone.has_filter and zone.drum is None:
            garden = guarding.with_fitting(garden, zone, "filter")
    return garden


def barrel_bed(units: System = System.METRIC, crop: str = "tomato", soil: str = "loam") -> Garden:
    """One bed on drip line from a tank on a stand."""
    garden = _bed(_with_rain(_begun(units)), crop=crop, soil=soil)
    return _laid(garden, Wish("bed", "tank", Method.ROWS, "line-low", timer="dial-ball"))


def barrel_two_beds(units: System = System.METRIC) -> Garden:
    """Two beds on lines of their own."""
    garden = _with_rain(_begun(units), volume_m3=4.0, across_m=4.0)
    garden = _bed(_bed(garden), "onions", "onion", y=5)
    return _laid(
        garden,
        Wish("bed", "tank", Method.ROWS, "line-low", timer="dial-ball"),
        Wish("onions", "tank", Method.ROWS, "line-low", timer="clock-ball"),
    )


def barrel_shared(units: System = System.METRIC) -> Garden:
    """Two beds on one timer."""
    garden = _with_rain(_begun(units), volume_m3=4.0, across_m=4.0)
    garden = _bed(_bed(garden), "onions", y=5)
    wishes = [
        Wish(bed, "tank", Method.ROWS, "line-low", timer="dial-ball") for bed in ("bed", "onions")
    ]
    return _filtered(proposed_manifold.lay_together(garden, wishes))


def barrel_pots(units: System = System.METRIC) -> Garden:
    """Pots with drippers for barrels."""
    garden = _pots(_with_rain(_begun(units)))
    return _laid(garden, Wish("pots", "tank", Method.POTS, "low-2", timer="dial-ball"))


def tap_bed(units: System = System.METRIC, crop: str = "tomato", soil: str = "loam") -> Garden:
    """One bed on the mains."""
    garden = _bed(_with_tap(_begun(units)), crop=crop, soil=soil)
    return _laid(garden, Wish("bed", "tap", Method.ROWS, "line-2", timer="week-solenoid"))


def tap_two_beds(units: System = System.METRIC) -> Garden:
    """Two beds on the mains, each with a timer of its own."""
    garden = _bed(_bed(_with_tap(_begun(units))), "beans", "bean", y=5)
    return _laid(
        garden,
        Wish("bed", "tap", Method.ROWS, "line-2", timer="week-solenoid"),
        Wish("beans", "tap", Method.ROWS, "line-2", timer="week-ball"),
    )


def tap_shared(units: System = System.METRIC) -> Garden:
    """A bed and pots on one timer: not sound."""
    garden = _pots(_bed(_with_tap(_begun(units))))
    wishes = [
        Wish("bed", "tap", Method.ROWS, "line-pc", timer="week-solenoid"),
        Wish("pots", "tap", Method.POTS, "holds-2", timer="week-solenoid"),
    ]
    return _filtered(proposed_manifold.lay_together(garden, wishes))


def tap_pots(units: System = System.METRIC) -> Garden:
    """Pots on the mains."""
    garden = _pots(_with_tap(_begun(units)))
    return _laid(garden, Wish("pots", "tap", Method.POTS, "holds-2", timer="week-solenoid"))


def can_beds(units: System = System.METRIC) -> Garden:
    """Two beds without lines, by can from a tap."""
    garden = _bed(_with_tap(_begun(units)), hand_from="tap", by_hand_d=2)
    return _bed(garden, "lettuces", "lettuce", y=4, hand_from="tap", by_hand_d=2)


def opened_bed(units: System = System.METRIC) -> Garden:
    """A bed on drip line from a tap that somebody opens every second day."""
    garden = _bed(_with_tap(_begun(units)), by_hand_d=2)
    return _laid(garden, Wish("bed", "tap", Method.ROWS, "line-2"))


def well_bed(units: System = System.METRIC) -> Garden:
    """One bed on a well's pressure set."""
    garden = _bed(_with_tap(_begun(units), TapKind.WELL), crop="courgette")
    return _laid(garden, Wish("bed", "tap", Method.ROWS, "line-2", timer="week-solenoid"))


def pumped_bed(units: System = System.METRIC) -> Garden:
    """A bed above its tank, and a pump in it."""
    garden = _bed(_with_rain(_begun(units), stand_m=0.0), ground_m=1.5)
    wish = Wish("bed", "tank", Method.ROWS, "line-low", rows=3, timer="dial-ball")
    garden = _laid(garden, wish)
    zone = zones.zones_of(garden)[0]
    pump = Pump(
        id="pump", name="Pump", kind="solar-small", at=Point(x_m=8.5, y_m=2), begins_at="tank"
    )
    return edits.put_before(garden, "pumps", pump, zone.way.parts[0].id)


def linked_barrels(units: System = System.METRIC) -> Garden:
    """Two tanks linked at the bottom, and one bed."""
    garden = _with_rain(_begun(units), volume_m3=1.0, across_m=1.0)
    second = garden.stores[0].model_copy(
        update={"id": "second", "name": "Second", "at": Point(x_m=8.5, y_m=4), "linked_to": "tank"}
    )
    garden = _bed(edits.put(garden, "stores", second))
    return _laid(garden, Wish("bed", "tank", Method.ROWS, "line-low", timer="dial-ball"))


def washing_shrubs(units: System = System.METRIC) -> Garden:
    """A drum of washing water that empties by an open hose onto fruit bushes."""
    garden = _bed(_begun(units), "bushes", "currant", length_m=4.0, width_m=1.0, ground_m=-1.0)
    drum = Greywater(
        id="drum",
        name="Drum",
        at=Point(x_m=6, y_m=2),
        bed_id="bushes",
        people=0,
        loads=(1, 0, 1, 0, 1, 0, 0),
        load_m3=0.05,
        drum_m3=0.2,
        outlet=DrumOutlet.GRAVITY,
        outlet_height_m=0.0,
        stand_m=0.5,
    )
    return edits.put(garden, "greywaters", drum)


def float_troughs(units: System = System.METRIC) -> Garden:
    """Planters in a covered trough that a float keeps full."""
    garden = _with_rain(_begun(units), volume_m3=6.0, across_m=6.0)
    garden = _pots(
        garden,
        kept_by=KeptBy.TROUGH,
        columns=6,
        rows=1,
        pitch_m=0.35,
        trough_width_m=0.3,
        crop="pepper",
        height_m=0.0,
        depth_m=0.25,
    )
    return _laid(garden, Wish("pots", "tank", Method.POTS, "float-box", has_valve=False))


def washing_lines(units: System = System.METRIC) -> Garden:
    """A drum of washing water on lines through a bed of fruit bushes."""
    garden = _bed(_begun(units), "bushes", "currant", length_m=4.0)
    drum = Greywater(
        id="drum",
        name="Drum",
        at=Point(x_m=6, y_m=2),
        people=0,
        loads=(2, 0, 0, 1, 0, 2, 0),
        load_m3=0.05,
        drum_m3=0.12,
        stand_m=0.5,
        ground_m=1.0,
    )
    garden = edits.put(garden, "greywaters", drum)
    return _laid(garden, Wish("bushes", "drum", Method.ROWS, "tape"))


def float_each(units: System = System.METRIC) -> Garden:
    """A row of pots with a float valve in each."""
    garden = _with_rain(_begun(units), volume_m3=6.0, across_m=6.0)
    garden = _pots(
        garden,
        kept_by=KeptBy.EACH,
        columns=8,
        rows=1,
        crop="pepper",
        height_m=0.0,
        depth_m=0.25,
    )
    return _laid(garden, Wish("pots", "tank", Method.POTS, "float-pot", has_valve=False))


def soggy_corner(units: System = System.METRIC) -> Garden:
    """A barrel garden with a corner too wet, which pipe, sump and pump keep dry."""
    ground = WetGround(
        id="corner",
        name="Soggy corner",
        at=Point(x_m=-12, y_m=-6),
        area_m2=40.0,
        drop_m=0.1,
        sump_across_m=1.2,
        sump_depth_m=0.6,
    )
    return edits.put(barrel_bed(units), "wet_grounds", ground)


def warmer(by: float) -> DailyWeather:
    """The weather of all of them, every day so many degrees warmer."""
    return replace(RECORD, temp_min=RECORD.temp_min + by, temp_max=RECORD.temp_max + by)


def south(base: Callable[..., Garden]) -> Garden:
    """The same south of the equator, planted half a year later; its weather is turned about too."""
    garden = base()
    place = garden.place.model_copy(update={"latitude_deg": -38.0})
    garden = edits.replace(garden, place=place)
    for collection in ("beds", "pots"):
        for part in getattr(garden, collection):
            later = part.model_copy(update={"planting": PlantingDate(month=11, day=20)})
            garden = edits.put(garden, collection, later)
    return garden


BASES: dict[str, Callable[..., Garden]] = {
    base.__name__: base
    for base in (
        barrel_bed,
        barrel_two_beds,
        barrel_shared,
        barrel_pots,
        tap_bed,
        tap_two_beds,
        tap_pots,
        can_beds,
        opened_bed,
        well_bed,
        pumped_bed,
        linked_barrels,
        washing_shrubs,
        washing_lines,
        float_troughs,
        float_each,
        soggy_corner,
    )
}


def mountain_pump(units: System = System.METRIC) -> Garden:
    """A pump beside its tank, high above the sea: too strong for the lines, but for a regulator."""
    garden = pumped_bed(units)
    garden = edits.replace(garden, place=garden.place.model_copy(update={"elevation_m": 4500.0}))
    pump = garden.pumps[0].model_copy(update={"kind": "transfer"})
    garden = edits.put(garden, "pumps", pump)
    return guarding.with_fitting(garden, zones.zones_of(garden)[0], "regulator")


def odd_threads(units: System = System.METRIC) -> Garden:
    """Hoses said to be screwed on with a pipe thread: a file may say so."""
    garden = barrel_bed(units)
    return edits.replace(garden, place=garden.place.model_copy(update={"hose_thread": "r34"}))


UNSOUND: dict[str, Callable[..., Garden]] = {
    base.__name__: base for base in (tap_shared, mountain_pump, odd_threads)
}
"""Gardens that only flaws begin with."""

SOUND: dict[str, Callable[[], Garden]] = {
    **{name.replace("_", " "): base for name, base in BASES.items()},
    "barrel bed, US": lambda: barrel_bed(System.US),
    "tap bed, US": lambda: tap_bed(System.US),
    "tap pots, US": lambda: tap_pots(System.US),
    "pumped bed, US": lambda: pumped_bed(System.US),
    "barrel cabbages in clay loam": lambda: barrel_bed(crop="cabbage", soil="clay-loam"),
    "barrel strawberries in sandy loam": lambda: barrel_bed(crop="strawberry", soil="sandy-loam"),
    "tap beans in silt loam": lambda: tap_bed(crop="bean", soil="silt-loam"),
    "tap courgettes in sandy loam": lambda: tap_bed(crop="courgette", soil="sandy-loam"),
    "tap roses": lambda: tap_bed(crop="rose"),
    "tap two beds, US": lambda: tap_two_beds(System.US),
}
"""Gardens in which nothing weighs more than that it could be better."""
