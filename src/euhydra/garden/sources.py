"""Water that no roof brings: taps and wells, greywater, and ground that has too much."""

from enum import StrEnum
from typing import Annotated, Any, Self

from pydantic import Field, field_validator, model_validator

from euhydra.garden import catalogue, goods
from euhydra.garden.part import Id, Part, Point, asked, known_entry, linked, refuse
from euhydra.garden.sentences import Amount
from euhydra.garden.stores import LEAST_DRAW, Store


class TapKind(StrEnum):
    """Where a tap's water comes from."""

    MAINS = "mains"
    WELL = "well"


class Tap(Part):
    """A garden tap or a well, known by bucket and stopwatch."""

    at: Point = Point()
    ground_m: float = asked(
        "Ground below it",
        "head",
        "Against the same mark as stores and beds.",
        default=0.0,
        ge=-50,
        le=50,
    )
    spout_m: float = asked("Tap above the ground", "height", "", default=0.6, ge=0, le=5)
    kind: TapKind = asked("It is", "tap_kinds", default=TapKind.MAINS)
    bucket_m3: float = asked("The bucket holds", "volume", "To its brim.", ge=0.001, le=1)
    fills_in_s: float = asked(
        "It fills in", "seconds", "Tap wide open, nothing else running.", ge=0.5, le=3600
    )
    static_pa: float | None = asked(
        "Pressure with all shut",
        "tap_pressure",
        "From a gauge, if you have one.",
        default=None,
        ge=0,
        le=2e6,
    )
    window_s: float = asked(
        "Longest it may run in a day", "hours", "", default=3 * 3600.0, ge=60, le=24 * 3600
    )
    stands_m3: float | None = asked(
        "Water standing in the well",
        "volume",
        "From the water down to the pump's foot. Empty: it never runs out.",
        default=None,
        ge=0,
        le=200,
    )
    recovers_m3_s: float | None = asked(
        "The well fills again by",
        "flow",
        "Pump it low, then time its rise. Empty: as fast as it is drawn.",
        default=None,
        gt=0,
        le=0.05,
    )
    most_a_day_m3: float | None = asked(
        "Most it may give in a day",
        "volume",
        "A permit, a shared well, a ban in summer. Empty: no such limit.",
        default=None,
        gt=0,
        le=200,
    )
    price_m3: float | None = asked(
        "Price of its water",
        "tariff",
        "As on the bill, waste water too if charged.",
        default=None,
        ge=0,
        le=1000,
    )

    thread: str | None = asked(
        "Thread of the tap", "threads", "Empty: that of the hoses.", default=None
    )

    _known_thread = field_validator("thread")(goods.known_thread)

    @property
    def tap_m(self) -> float:
        """Height of its outlet. [m]"""
        return self.ground_m + self.spout_m

    @model_validator(mode="after")
    def _well_is_told_whole(self) -> Self:
        if self.kind is TapKind.WELL and self.stands_m3 is not None and self.recovers_m3_s is None:
            raise refuse(
                "well-recovers-how-fast",
                "“{name}” holds {stands}: say also how fast the well fills again.",
                name=self.name,
                stands=Amount(self.stands_m3, "volume"),
            )
        return self

    @property
    def flow_m3_s(self) -> float:
        """Measured flow. [m³ s⁻¹]"""
        return self.bucket_m3 / self.fills_in_s


class DrumOutlet(StrEnum):
    """How the water leaves the surge drum."""

    GRAVITY = "gravity"
    PUMP = "pump"


LoadsADay = Annotated[int, Field(ge=0, le=12)]


class Greywater(Part):
    """Water from washing, through a small drum at once to beds; a diverter leads to the sewer.

    From the drum lines are drawn as from a store, or one open hose leads to a bed.
    """

    at: Point = Point()
    bed_id: Id | None = linked(
        "By one open hose to",
        "beds",
        default=None,
        help_text="Empty where its lines are drawn from the drum on Lay.",
    )
    loads: tuple[LoadsADay, ...] = asked(
        "Washdays and loads",
        "weekdays",
        "Such as Mon 2, Thu. Empty: no laundry.",
        default=(0, 0, 0, 0, 0, 0, 0),
        min_length=7,
        max_length=7,
    )
    load_m3: float = asked(
        "Water of one load",
        "volume",
        "Front loaders about {~50 L|volume}, older top loaders {~150 L|volume}.",
        default=0.05,
        ge=0.005,
        le=0.4,
    )
    people: int = asked("People in the house", "count", "", default=2, ge=0, le=20)
    shower_m3: float = asked(
        "Shower, one person a day",
        "volume",
        "0 if it does not lead here.",
        default=0.0,
        ge=0,
        le=0.5,
    )
    bath_m3: float = asked("Bath, one person a day", "volume", "", default=0.0, ge=0, le=0.5)
    basin_m3: float = asked("Basin, one person a day", "volume", "", default=0.0, ge=0, le=0.2)
    drum_m3: float = asked(
        "Surge drum holds", "volume", "To its overflow.", default=0.12, ge=0.01, le=1
    )
    drum_depth_m: float = asked(
        "Water depth in the full drum", "height", "", default=0.8, ge=0.1, le=2
    )
    ground_m: float = asked(
        "Ground the drum stands on",
        "head",
        "Against the same mark as beds and stores.",
        default=0.0,
        ge=-50,
        le=50,
    )
    stand_m: float = asked("Height of its stand", "height", "", default=0.3, ge=0, le=3)
    outlet_height_m: float = asked(
        "Outlet above its bottom",
        "height",
        "What lies below it stands until the next load.",
        default=0.0,
        ge=0,
        le=1.5,
    )
    outlet: DrumOutlet = asked("It empties by", "drum_outlets", default=DrumOutlet.GRAVITY)
    hose_m: float = asked(
        "Open hose to the bed",
        "length",
        "As it lies; lines are drawn on Lay.",
        default=10.0,
        ge=0.1,
        le=200,
    )
    bore_m: float = asked("Inside width of that hose", "bore", "", default=0.025, ge=0.005, le=0.1)
    pump_m3_s: float = asked(
        "The pump gives",
        "flow",
        "Through that hose. In lines that are drawn it is found from its curve.",
        default=6e-4,
        ge=1e-6,
        le=0.01,
    )
    pump_on_m3: float = asked(
        "Float starts it at", "volume", "Water in the drum.", default=0.01, ge=0.001, le=1
    )
    pump_off_m3: float = asked(
        "Float stops it at", "volume", "What stays in the drum.", default=0.001, ge=0, le=1
    )
    lint_m3: float = asked(
        "Clean the lint filter every", "volume", "Of water through it.", default=1.5, ge=0.05, le=50
    )
    rest_before_m: float = asked(
        "To the sewer when it rained",
        "rain",
        "That day: the bed has enough.",
        default=0.01,
        ge=0.001,
        le=0.2,
    )

    @field_validator("pump_off_m3")
    @classmethod
    def _float_has_two_levels(cls, value: float, info: Any) -> float:
        on = info.data.get("pump_on_m3")
        if on is not None and value >= on:
            raise refuse(
                "float-stop-pump",
                "The float has to stop the pump at a lower level than it starts it.",
            )
        return value

    @model_validator(mode="after")
    def _float_is_under_the_overflow(self) -> Self:
        if self.outlet is DrumOutlet.PUMP and self.pump_on_m3 >= self.drum_m3:
            raise refuse(
                "drum-runs-over",
                "The drum runs over at {depth}, before the float starts the pump: start it at less.",
                depth=Amount(self.drum_m3, "volume"),
            )
        return self

    @model_validator(mode="after")
    def _outlet_is_under_the_overflow(self) -> Self:
        if self.outlet_height_m > self.drum_depth_m - LEAST_DRAW:
            raise refuse(
                "drum-outlet-too-high",
                "The outlet at {outlet} is not clearly below the full drum's water at {depth}: set it lower.",
                outlet=Amount(self.outlet_height_m, "height"),
                depth=Amount(self.drum_depth_m, "height"),
            )
        return self

    @property
    def tap_m(self) -> float:
        """Height of its outlet. [m]"""
        return self.as_store.tap_m

    @property
    def as_store(self) -> Store:
        """The drum as what it is to the water in it: a small store."""
        return Store(
            id=self.id,
            name=self.name,
            at=self.at,
            volume_m3=self.drum_m3,
            height_m=self.drum_depth_m,
            ground_m=self.ground_m,
            stand_m=self.stand_m,
            outlet_height_m=self.outlet_height_m,
        )

    @property
    def week_m3(self) -> tuple[float, ...]:
        """Water of each day of the week, Monday first. [m³]"""
        daily = self.people * (self.shower_m3 + self.bath_m3 + self.basin_m3)
        return tuple(daily + loads * self.load_m3 for loads in self.loads)


class Uncaught(StrEnum):
    """Where the downspouts run that no store takes."""

    ELSEWHERE = "elsewhere"
    HERE = "here"


class WetGround(Part):
    """A soggy area with a perforated pipe, a sump and a pump to a lawful outlet.

    at : Upper end of the trench; it runs `turned_deg` against the clock from the east, to the sump.
    """

    at: Point = Point()
    turned_deg: float = asked(
        "The trench points",
        "angle",
        "From the east, against the clock.",
        default=0.0,
        ge=-360,
        le=360,
    )
    uncaught: Uncaught = asked(
        "Downspouts that no store takes", "uncaught", default=Uncaught.ELSEWHERE
    )

    area_m2: float = asked("Area that drains there", "area", "Level, as on a map.", ge=1, le=1e5)
    runoff: float = asked(
        "Share that does not soak in",
        "share",
        "Lawn on clay: about half.",
        default=0.5,
        ge=0.01,
        le=1,
    )
    storm_m: float = asked(
        "Storm to deal with", "rain", "All its rain.", default=0.025, ge=0.001, le=0.5
    )
    storm_s: float = asked("It lasts", "hours", "", default=6 * 3600.0, ge=600, le=7 * 86400)
    store_room: float = asked(
        "Room left in your stores", "share", "When the storm begins.", default=0.5, ge=0, le=1
    )
    soil: str = asked(
        "Soil", "soils", "Rub it wet: gritty is sand, a ribbon is clay.", default="clay"
    )
    pipe_m: float = asked("Perforated pipe", "length", "", default=10.0, ge=0.5, le=300)
    drop_m: float = asked(
        "Its lower end is lower by", "height", "From end to end.", default=0.1, ge=0, le=10
    )
    bore_m: float = asked("Inside width of the pipe", "bore", "", default=0.1, ge=0.03, le=0.4)
    sump_across_m: float = asked(
        "Sump, width across", "height", "Round.", default=0.5, ge=0.15, le=3
    )
    sump_depth_m: float = asked(
        "Float's travel", "height", "From pump on to pump off.", default=0.25, ge=0.02, le=3
    )
    pump_m3_s: float = asked(
        "The pump gives", "flow", "At the head below.", default=2e-3, ge=1e-5, le=0.05
    )
    lift_m: float = asked(
        "Lift to the outlet", "head", "Sump water to hose end.", default=2.0, ge=0, le=20
    )
    hose_m: float = asked("Hose to the outlet", "length", "", default=15.0, ge=0.5, le=300)
    hose_bore_m: float = asked(
        "Inside width of the hose", "bore", "", default=0.038, ge=0.01, le=0.15
    )

    _known = field_validator("soil")(lambda value: known_entry(value, catalogue.soils()))
