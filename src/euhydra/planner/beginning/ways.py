"""Each way to begin, from what was asked to parts of a garden: drawn, laid, joined in order, with its timer."""

from collections.abc import Callable, Mapping
from itertools import pairwise

from euhydra.core.weather import DailyWeather
from euhydra.garden import kinds
from euhydra.garden.drinker import Drinker
from euhydra.garden.model import Garden
from euhydra.garden.pipes import Fitting, Turn
from euhydra.garden.plumbing import FittingRole
from euhydra.garden.pots import KeptBy, PotKind
from euhydra.garden.sentences import Amount, say
from euhydra.garden.stores import RAIN_GARDEN, Hold, Intake, LinkKind
from euhydra.planner.answers import PlanError
from euhydra.planner.beginning import plants, sources
from euhydra.planner.beginning.asks import LINKED, AskedValue, WayKind, fields_set
from euhydra.planner.beginning.scene import Scene, marked
from euhydra.planner.lay.wishes import Method, Wish
from euhydra.planner.need import daily, seasonable
from euhydra.planner.water.zones import Zone

HEAD_OF_TROUGH = 0.25
"""Depth of mix in a bucket that stands in a trough. [m] Common practice: what peat mixes lift through."""

MOST_GROUND = 60.0
"""Beds that are begun with at once. [m²] Our choice."""

VISITS = 14
"""Times a week that somebody moves a hose or turns a splitter. Common practice: two zones a day."""

LOWER = 1.0
"""How much lower the second group of barrels stands. [m] Our choice: what a terrace is high."""

SMALL_PUMP, DEEP_PUMP = "solar-small", "barrel"
"""What helps a store on the ground, or a hose that bears little; and what lifts water out of the ground."""

DRY_MONTHS = {True: (5, 6, 7, 8, 9), False: (11, 12, 1, 2, 3)}
"""Months in which washing water is led outdoors, north of the equator and south of it. Common practice."""


def _barrel(scene: Scene) -> None:
    _beds_on(scene, scene.feed or _house_barrel(scene))


def _house_barrel(scene: Scene) -> str:
    """One barrel under a downspout; its id."""
    roof = sources.roof(scene)
    store = sources.store(
        scene,
        "Barrel",
        stand_m=scene.number_or("stand", 0.0),
        **sources.barrel(scene, scene.number("barrel")),
    )
    sources.spouts(scene, roof, store)
    return store


def _totes(scene: Scene) -> None:
    _beds_on(scene, scene.feed or _terraced_totes(scene))


def _terraced_totes(scene: Scene) -> str:
    """Totes that share one level, low on a terrace, which is ground; the id of their store."""
    roof = sources.roof(scene)
    totes = sources.tote(scene) | {"count": scene.count("barrels"), "overflow_to": RAIN_GARDEN}
    store = sources.store(scene, "Totes", ground_m=scene.number("terrace"), stand_m=0.0, **totes)
    sources.spouts(scene, roof, store)
    sources.soak(scene, store)
    return store


def _terraces(scene: Scene) -> None:
    roof = sources.roof(scene)
    one = sources.barrel(scene, scene.number("barrel"))
    upper = sources.store(scene, "House barrels", stand_m=0.3, **one, count=scene.count("barrels"))
    row = sources.row_beside(one["across_m"])
    lower = sources.store(
        scene,
        "Lower barrels",
        row,
        ground_m=-LOWER,
        stand_m=0.3,
        link_by=LinkKind.SIPHON,
        count=scene.count("lower_barrels"),
        **one,
        overflow_to=RAIN_GARDEN,
    )
    scene.change("stores", upper, overflow_to=lower)
    sources.spouts(scene, roof, upper)
    sources.soak(scene, lower)
    tap = sources.tap(scene, row)
    scene.change("stores", lower, topped_by=tap)
    step, below = scene.number("terrace_step"), -LOWER - 0.2
    terraces = plants.beds(
        scene, scene.count("terraces"), "Terrace", step, width_m=1.0, ground_m=below
    )
    # The highest drinks from the house barrels, so that no water is left behind in them.
    for place, bed in enumerate(terraces):
        source = lower if place else upper
        scene.lay(Wish(bed, source, Method.ROWS, "line-low", timer=scene.timer(source)))


def _overflowing(scene: Scene) -> None:
    roof = sources.roof(scene)
    one = sources.barrel(scene, scene.number("barrel"))
    count = scene.count("barrels")
    if scene.choice("joined") == LINKED:
        first = last = sources.store(scene, "Barrels", **one, count=count)
    else:
        row = [sources.store(scene, "Barrel", **one) for _ in range(count)]
        for above, below in pairwise(row):
            scene.change("stores", above, overflow_to=below)
        first, last = row[0], row[-1]
    scene.change("stores", last, overflow_to=RAIN_GARDEN)
    sources.spouts(scene, roof, first)
    sources.soak(scene, last)
    beds = plants.beds(scene, scene.count("beds"), "Raised bed", width_m=1.0)
    _pumped(scene, last, beds, scene.choice("pump"), "week-ball")


def _cellar(scene: Scene) -> None:
    roof = sources.roof(scene)
    store = sources.store(
        scene,
        "Buried tanks",
        **sources.tank(scene, scene.number("tank"), 1.6),
        kind="buried",
        sunk_m=2.0,
        count=scene.count("tanks"),
        intake=Intake.FLOATING,
        overflow_to=RAIN_GARDEN,
    )
    sources.spouts(scene, roof, store, scene.count("spouts"), first_flush_m=0.0004)
    sources.soak(scene, store)
    beds = plants.beds(scene, scene.count("beds"))
    _pumped(scene, store, beds, "barrel", "weather")


def _drilled(scene: Scene) -> None:
    store = scene.feed or _house_barrel(scene)
    (bed,) = plants.beds(scene, 1, "Row")
    timer = scene.timer(store)
    zone = _only(scene.lay(Wish(bed, store, Method.ROWS, "hole-1", rows=1, timer=timer)))
    if not scene.is_tap(store):
        sources.pump(scene, _pump_for(scene, store), store, zone.way.parts[0].id)


def _tap(scene: Scene) -> None:
    _beds_on(scene, scene.feed or sources.tap(scene))


def _soaker(scene: Scene) -> None:
    source = scene.feed or sources.tap(scene)
    (bed,) = plants.beds(scene, 1)
    hose, timer = _soaker_for(scene, source), scene.timer(source)
    _lay(scene, source, Wish(bed, source, Method.SOAKER, hose, timer=timer), pump=SMALL_PUMP)


def _soaker_for(scene: Scene, source: str) -> str:
    return "soaker" if scene.is_tap(source) else "soaker-low"


def _pairs(scene: Scene) -> None:
    tap = scene.feed or sources.tap(scene)
    hose = _soaker_for(scene, tap)
    beds = plants.beds(scene, scene.count("beds"))
    coupling = ""
    for n in range(0, len(beds), 2):
        pair = beds[n : n + 2]
        zone = _only(scene.lay(*(Wish(b, coupling or tap, Method.SOAKER, hose) for b in pair)))
        if not coupling:
            first = zone.pipes[0]
            piece = Fitting(
                id=scene.free_id("coupling"),
                name="Quick coupling",
                kind="quick",
                at=first.path[0],
                begins_at=tap,
                turn=Turn.BY_TURNS,
                visits_week=VISITS,
            )
            scene.put_before("fittings", piece, first.id)
            coupling = piece.id
            if scene.is_low(tap):
                sources.pump(scene, SMALL_PUMP, tap, coupling)


def _patio(scene: Scene) -> None:
    source = scene.feed or sources.tap(scene)
    pots = plants.pots(scene, scene.count("pots"))
    dripper, timer = _dripper_for(scene, source), scene.timer(source)
    _lay(scene, source, Wish(pots, source, Method.POTS, dripper, timer=timer))


def _dripper_for(scene: Scene, source: str) -> str:
    return "button-2" if scene.is_pressed(source) else "low-2"


def _towers(scene: Scene) -> None:
    source = scene.feed or sources.tap(scene)
    towers = [
        plants.pots(
            scene, 1, "Tower", place=n, kind=PotKind.TOWER, tiers=scene.count("tiers"), height_m=0.3
        )
        for n in range(scene.count("towers"))
    ]
    dripper, timer = _dripper_for(scene, source), scene.timer(source)
    laid = scene.lay(
        *(Wish(each, source, Method.POTS, dripper, timer=timer, has_valve=True) for each in towers)
    )
    if not scene.is_tap(source):
        # From a store alone the lowest tier takes what the highest would need.
        sources.pump(scene, _pump_for(scene, source), source, _only(laid).way.parts[0].id)


def _troughs(scene: Scene) -> None:
    store = scene.feed or _house_barrel(scene)
    buckets = plants.pots(
        scene,
        scene.count("planters"),
        "Buckets",
        kept_by=KeptBy.TROUGH,
        trough_width_m=round(scene.number("pot_width") + 0.05, 3),
        height_m=0.0,
        depth_m=HEAD_OF_TROUGH,
    )
    _lay(scene, store, Wish(buckets, store, Method.POTS, "float-box"))


def _planters(scene: Scene) -> None:
    store = scene.feed or _reserved_barrels(scene)
    width = scene.number("pot_width")
    planters = plants.pots(
        scene,
        scene.count("planters"),
        "Planters",
        kept_by=KeptBy.CHAIN,
        joint_bore_m=scene.number("joint_bore"),
        joint_m=round(max(0.1, width * 0.5), 2),
        height_m=0.0,
        depth_m=HEAD_OF_TROUGH,
    )
    _lay(scene, store, Wish(planters, store, Method.POTS, "float-box"))


def _reserved_barrels(scene: Scene) -> str:
    """Linked barrels, and a tote into which they are emptied before rain; the id of the barrels."""
    roof = sources.roof(scene)
    one = sources.barrel(scene, scene.number("barrel"))
    store = sources.store(
        scene, "Barrels", stand_m=scene.number("stand"), count=scene.count("barrels"), **one
    )
    sources.spouts(scene, roof, store)
    volume = scene.number("reserve")
    width = scene.measure_holding(max(1.0, volume / 1.2))
    reserve = sources.store(
        scene,
        "Reserve",
        sources.row_beside(width),
        **sources.tote(scene, volume, width),
        stand_m=scene.number("stand"),
        held_by=Hold.WALL,
    )
    scene.change("stores", store, moves_to=reserve, gives_back_below=0.25)
    return store


def _floats(scene: Scene) -> None:
    store = scene.feed or _small_tank(scene)
    pots = plants.pots(scene, scene.count("pots"), kept_by=KeptBy.EACH, height_m=0.0, depth_m=0.25)
    _lay(scene, store, Wish(pots, store, Method.POTS, "float-pot"))


def _small_tank(scene: Scene) -> str:
    """A tank that somebody fills from a tap; its id."""
    tap = sources.tap(scene)
    volume = scene.number("tank")
    scene.x += 1.0
    return sources.store(
        scene,
        "Small tank",
        **sources.barrel(scene, volume),
        stand_m=scene.number("stand"),
        topped_by=tap,
        top_up_below=0.33,
        top_up_to=1.0,
    )


def _washing(scene: Scene) -> None:
    drum = sources.drum(scene)
    near, far = plants.beds(scene, 2)
    scene.change("beds", far, name="Bed in dry months")
    scene.lay(
        Wish(near, drum, Method.ROWS, "tape"), Wish(far, drum, Method.ROWS, "tape", has_valve=True)
    )
    months = DRY_MONTHS[scene.garden.place.latitude_deg >= 0]
    for fitting in scene.new_parts("fittings"):
        if isinstance(fitting, Fitting) and fitting.role is FittingRole.THROTTLES:
            scene.change("fittings", fitting.id, kind="shut-off", open_months=months)


def _wet(scene: Scene) -> None:
    roof = sources.roof(scene)
    store = sources.store(
        scene,
        "Tank",
        **sources.tank(scene, scene.number("tank"), 1.0),
        kind="tank",
        stand_m=0.5,
        held_by=Hold.WALL,
    )
    sources.spouts(scene, roof, store)
    (bed,) = plants.beds(scene, 1)
    scene.lay(Wish(bed, store, Method.ROWS, "line-low", timer="clock-ball"))
    scene.put(
        "wet_grounds",
        "wet",
        "Wet ground",
        at=scene.at(scene.left, -3.0),
        area_m2=scene.number("wet_area"),
        pipe_m=scene.number("trench"),
        drop_m=scene.number("fall"),
        lift_m=scene.number("lift"),
        sump_across_m=1.0,
        sump_depth_m=0.5,
    )


def _can(scene: Scene) -> None:
    source = scene.feed or sources.tap(scene)
    plants.beds(scene, scene.count("beds"), hand_from=source)


def _empty(scene: Scene) -> None:
    """Nothing: it is drawn on the plan."""


def _beds_on(scene: Scene, source: str) -> None:
    """Beds on drip line and one timer."""
    beds = plants.beds(scene, scene.count("beds"))
    line, timer = scene.line(source), scene.timer(source)
    _lay(scene, source, *(Wish(bed, source, Method.ROWS, line, timer=timer) for bed in beds))


def _lay(scene: Scene, source: str, *wishes: Wish, pump: str = DEEP_PUMP) -> None:
    """Lines laid on one source, behind a pump where its water stands too low to run to them."""
    for zone in scene.lay(*wishes):
        if scene.is_low(source):
            sources.pump(scene, pump, source, zone.way.parts[0].id)


def _pump_for(scene: Scene, store: str) -> str:
    """The pump of what is pumped from any store."""
    return DEEP_PUMP if scene.is_low(store) else SMALL_PUMP


def _pumped(scene: Scene, store: str, beds: list[str], pump: str, timer: str) -> None:
    """Beds on drip line behind a pump, on one timer."""
    zone = _only(scene.lay(*(Wish(b, store, Method.ROWS, "line-2", timer=timer) for b in beds)))
    sources.pump(scene, pump, store, zone.way.parts[0].id)


def _only(zones: tuple[Zone, ...]) -> Zone:
    (zone,) = zones
    return zone


def _check_size(scene: Scene) -> None:
    """Not more at once than answers while somebody types.

    Raises
    ------
    PlanError : if it is more.
    """
    area = (
        scene.count_or("beds", scene.count_or("terraces", 1))
        * scene.number_or("bed_length", 0.0)
        * scene.number_or("bed_width", 1.0)
    )
    if area > MOST_GROUND:
        raise PlanError(
            say(
                "begin-too-large",
                "That is {area} of beds: begin with {most} at most, and add the others afterwards.",
                area=Amount(area, "area"),
                most=Amount(MOST_GROUND, "area"),
            )
        )


def _plant_in_season(scene: Scene, record: DailyWeather) -> None:
    """What is new goes out on the nearest date to the usual one on which it would do."""
    for part in (*scene.new_parts("beds"), *scene.new_parts("pots")):
        assert isinstance(part, Drinker)
        need = daily.need_of(part, scene.garden, record, 1.0)
        for _, day in seasonable.dates_that_would_do(need, scene.garden):
            scene.change(kinds.kind_of(part).collection, part.id, planting=day)


BUILDERS: Mapping[str, Callable[[Scene], None]] = {
    "barrel": _barrel,
    "totes": _totes,
    "terraces": _terraces,
    "overflowing": _overflowing,
    "cellar": _cellar,
    "drilled": _drilled,
    "tap": _tap,
    "soaker": _soaker,
    "pairs": _pairs,
    "patio": _patio,
    "towers": _towers,
    "troughs": _troughs,
    "planters": _planters,
    "floats": _floats,
    "washing": _washing,
    "wet": _wet,
    "can": _can,
    "empty": _empty,
}
"""By the id of the way."""


def begin(
    garden: Garden,
    way: WayKind,
    typed: Mapping[str, AskedValue],
    record: DailyWeather | None = None,
    feed: str | None = None,
) -> Garden:
    """The garden with what a way adds; what was not typed is as usual, and marked as assumed.

    Parameters
    ----------
    record : Weather by which what is planted goes out after the frost; None for the usual dates.
    feed : Id of a store or tap that is there, for it to drink from; None for a source of its own.

    Raises
    ------
    PlanError : if it cannot be laid.
    pydantic.ValidationError : if the garden would not hold together.
    """
    values = {ask.id: ask.usual_in(garden.units) for ask in way.asks} | dict(typed)
    scene = Scene(garden, values, {ask.sets for ask in way.asks}, feed)
    _check_size(scene)
    BUILDERS[way.id](scene)
    if record is not None:
        _plant_in_season(scene, record)
    known = [ask.sets for ask in way.asks if ask.id in typed and ask.sets]
    return marked(scene, garden, known, fields_set() - set(known))
