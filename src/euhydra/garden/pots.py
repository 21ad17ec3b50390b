"""Pots, grow bags, towers, shrubs and trees: plants that stand apart from each other."""

from enum import StrEnum
from math import pi, sqrt
from typing import Self

from pydantic import ValidationInfo, field_validator, model_validator

from euhydra.garden import catalogue
from euhydra.garden.drinker import Container, Drinker, OwnPlanting, ThirstChoice
from euhydra.garden.part import Id, Point, asked, known_entry, refuse
from euhydra.garden.plantings import PlantingDate, known_crop
from euhydra.garden.sentences import Amount

MOST_AT_ONCE = 200
"""Most pots or plants in one group."""


WATER_UNDER = 0.8
"""Share of a planter's section under which water stands. [-] Common practice: wick and walls take the rest."""

USUAL_CANOPY = 1.3
"""How far leaves reach of a crop whose spread is not known, against the width of the pot. [-] Common
practice."""

WIDEST_CANOPY = 2.0
"""Widest that a crop grows, against the width of its pot. [-] Common practice: roots bind it."""


class PotKind(StrEnum):
    """What stands there."""

    POT = "pot"
    BOX = "box"
    BAG = "bag"
    TOWER = "tower"
    SHRUB = "shrub"
    TREE = "tree"


class KeptBy(StrEnum):
    """Where the float is that keeps the water under planters, if one does."""

    EACH = "each"
    CHAIN = "chain"
    TROUGH = "trough"


class Pots(Drinker):
    """Pots, grow bags, towers, shrubs or trees: one, a row or a grid of them."""

    kind: PotKind = asked("They are", "pot_kinds", default=PotKind.POT)
    at: Point = Point()
    across_m: float = asked("Width of one", "height", "", default=0.3, ge=0.05, le=12)
    length_m: float | None = asked(
        "Length of one",
        "height",
        "Of a box or bag, along its row. Empty: as long as wide.",
        default=None,
        ge=0.05,
        le=12,
    )
    columns: int = asked("In a row", "count", "", default=1, ge=1, le=50)
    rows: int = asked("Rows", "count", "", default=1, ge=1, le=50)
    pitch_m: float = asked(
        "From one to the next",
        "height",
        "From middle to middle.",
        default=0.5,
        ge=0.05,
        le=20,
        validate_default=True,
    )
    turned_deg: float = asked("Turned by", "angle", "", default=0.0, ge=-360, le=360)
    ground_m: float = asked(
        "Ground they stand on",
        "head",
        "Against the same mark as stores.",
        default=0.0,
        ge=-50,
        le=50,
    )
    height_m: float = asked(
        "Dripper above the ground", "height", "Of the lowest tier.", default=0.3, ge=0, le=5
    )
    tiers: int = asked("Tiers, one over another", "count", "Of a tower.", default=1, ge=1, le=12)
    tier_m: float = asked("From tier to tier", "height", "", default=0.25, ge=0.05, le=2)
    crop: str = asked("What grows in them", "crops", default="patio-flowers")
    plants_each: int = asked("Plants in each", "count", "", default=1, ge=1, le=50)
    planting: PlantingDate = asked("Planted or out on", "day", default=PlantingDate(month=5, day=1))
    canopy_m: float | None = asked(
        "Leaves reach across",
        "height",
        "Of one, full-grown. Empty: as the crop grows in such a pot.",
        default=None,
        ge=0.05,
        le=15,
    )
    depth_m: float | None = asked(
        "Depth of soil",
        "height",
        "In the pot. Empty: about its width.",
        default=None,
        ge=0.05,
        le=2,
    )
    reserve_m3: float = asked(
        "Water under the soil",
        "volume",
        "Of one that waters itself from below: wick, false bottom, trough. 0: none.",
        default=0.0,
        ge=0,
        le=0.5,
    )
    kept_by: KeptBy = asked("A float keeps their water", "kept_by", default=KeptBy.EACH)
    set_level_m: float = asked(
        "Its level, over their floor",
        "height",
        "Where the float shuts.",
        default=0.06,
        ge=0.01,
        le=0.6,
    )
    foot_m: float = asked(
        "Foot of the wick, over the floor",
        "height",
        "Where it just loses the water.",
        default=0.02,
        ge=0,
        le=0.5,
        validate_default=True,
    )
    wick: str = asked("Their wick is", "wick_kinds", default="net-pot")
    wick_across_m: float = asked(
        "Wick, across",
        "height",
        "Of one: all strips of it together.",
        default=0.1,
        ge=0.005,
        le=2,
    )
    wick_m: float = asked(
        "From its foot up to the mix",
        "height",
        "Length of the wick under the mix.",
        default=0.05,
        ge=0.005,
        le=1,
    )
    over_water_m: float | None = asked(
        "Mix stands over the water",
        "height",
        "From the water up to its top. Empty: as deep as the mix.",
        default=None,
        ge=0.02,
        le=2,
    )
    joint_m: float = asked(
        "Tube from one to the next",
        "length",
        "",
        default=0.3,
        ge=0.02,
        le=10,
        validate_default=True,
    )
    joint_bore_m: float = asked(
        "Inside width of that tube", "bore", "", default=0.013, ge=0.002, le=0.1
    )
    trough_width_m: float = asked(
        "Width of the trough",
        "height",
        "Of the gutter that they stand in.",
        default=0.4,
        ge=0.05,
        le=2,
    )
    trough_open: float = asked(
        "Water that lies open in it",
        "share",
        "Between the planters, without a lid. 0: all covered.",
        default=0.0,
        ge=0,
        le=1,
    )
    soil: str | None = asked(
        "Filled with",
        "soils",
        "Of a tree or shrub: the ground. Empty: as usual for its kind.",
        default=None,
    )
    exposure: str = asked("They stand", "pot_exposures", default="sun")
    colour: str = asked("Pots are", "pot_colours", default="light")
    need_factor: float = asked(
        "Drink more or less than the tables",
        "plain",
        "1 as the tables say; Keep learns it from finger tests.",
        default=1.0,
        ge=0.3,
        le=3,
    )
    drinks_m3: float | None = asked(
        "One drinks on a hot day, as you measured",
        "volume",
        "Weigh it or watch the saucer. Empty: worked out from leaves and weather.",
        default=None,
        ge=0.00005,
        le=1,
    )

    sources: tuple[Id, ...] = asked(
        "Take their water from",
        "sources",
        "First choice first, of those that a line leads from. Empty: stored water first for crops that like it warm.",
        default=(),
        max_length=4,
    )
    by_hand_d: int = asked(
        "By hand every so many days",
        "every",
        "With a can, or a tap you turn.",
        default=1,
        ge=1,
        le=14,
    )

    _known_crop = field_validator("crop")(known_crop)
    _known_exposure = field_validator("exposure")(
        lambda value: known_entry(value, catalogue.pot_exposures())
    )
    _known_colour = field_validator("colour")(
        lambda value: known_entry(value, catalogue.pot_colours())
    )

    @field_validator("soil")
    @classmethod
    def _known_soil(cls, value: str | None) -> str | None:
        return value if value is None else known_entry(value, catalogue.soils())

    @model_validator(mode="after")
    def _are_not_too_many(self) -> Self:
        if self.columns * self.rows > MOST_AT_ONCE:
            raise refuse(
                "once-make-groups",
                "{count} at once: make groups of up to {most_at_once}.",
                count=self.columns * self.rows,
                most_at_once=MOST_AT_ONCE,
            )
        return self

    _known_wick = field_validator("wick")(lambda value: known_entry(value, catalogue.wick_kinds()))

    @field_validator("foot_m")
    @classmethod
    def _foot_is_under_the_float(cls, value: float, info: ValidationInfo) -> float:
        level = info.data.get("set_level_m")
        if level is not None and value >= level:
            raise refuse(
                "float-under-foot",
                "The float shuts at {level}, under the foot of the wick at {foot}: set it higher.",
                level=Amount(level, "height"),
                foot=Amount(value, "height"),
            )
        return value

    @field_validator("wick_m")
    @classmethod
    def _wick_is_shorter_than_the_pot(cls, value: float, info: ValidationInfo) -> float:
        deep = info.data.get("depth_m") or info.data.get("across_m")
        if deep is not None and value >= deep:
            raise refuse(
                "wick-longer-than-pot",
                "A wick of {wick} is longer than its pot is deep, {deep}: type how far it reaches under the mix.",
                wick=Amount(value, "height"),
                deep=Amount(deep, "height"),
            )
        return value

    @field_validator("pitch_m")
    @classmethod
    def _boxes_stand_clear(cls, value: float, info: ValidationInfo) -> float:
        long = info.data.get("length_m")
        several = (info.data.get("columns") or 1) * (info.data.get("rows") or 1) > 1
        if not several or long is None or value >= long:
            return value
        raise refuse(
            "boxes-overlap",
            "Boxes of {long} do not fit every {pitch}, from middle to middle: type at least their length.",
            long=Amount(long, "height"),
            pitch=Amount(value, "height"),
        )

    @field_validator("joint_m")
    @classmethod
    def _tube_reaches_the_next(cls, value: float, info: ValidationInfo) -> float:
        pitch = info.data.get("pitch_m")
        across = info.data.get("length_m") or info.data.get("across_m")
        several = (info.data.get("columns") or 1) * (info.data.get("rows") or 1) > 1
        is_chain = several and info.data.get("kept_by") is KeptBy.CHAIN
        if not is_chain or pitch is None or across is None:
            return value
        gap = pitch - across
        if value < gap:
            raise refuse(
                "chain-with-a-gap",
                "A tube of {tube} does not reach from one to the next: between their walls are {gap}.",
                tube=Amount(value, "length"),
                gap=Amount(gap, "length"),
            )
        return value

    @property
    def count(self) -> int:
        """How many there are."""
        return self.columns * self.rows

    @property
    def plants(self) -> int:
        """How many there are, each tier by itself."""
        return self.count * self.tiers

    @property
    def is_in_ground(self) -> bool:
        """Whether the roots go into the ground."""
        return self.kind in (PotKind.SHRUB, PotKind.TREE)

    @property
    def is_round(self) -> bool:
        """Whether one of them is round from above, and not a box."""
        return self.kind is not PotKind.BOX and self.length_m is None

    @property
    def along_m(self) -> float:
        """How far one reaches along its row. [m]"""
        return self.length_m if self.length_m is not None else self.across_m

    @property
    def row_pitch_m(self) -> float:
        """From one row to the next: as much room between as along a row. [m]"""
        return self.pitch_m - self.along_m + self.across_m

    @property
    def plan_m2(self) -> float:
        """Ground that one of them covers. [m²]"""
        return (pi / 4 if self.is_round else 1.0) * self.along_m * self.across_m

    @property
    def canopy_m2(self) -> float:
        """Ground that the leaves of one cover, full-grown. [m²]"""
        across = self.canopy_m if self.canopy_m is not None else self._usual_canopy_m
        return pi / 4 * across**2

    @property
    def _usual_canopy_m(self) -> float:
        """As wide as all its plants grow, as far as so small a pot feeds them; a wide pot is full. [m]

        Of a box, as of a round pot that covers as much ground.
        """
        own = sqrt(4 / pi * self.plan_m2)
        if self.is_in_ground:
            return own
        crop = catalogue.crops().get(self.crop)
        if crop is None or crop.spread_m <= 0:
            return USUAL_CANOPY * own
        spread = crop.spread_m * sqrt(self.plants_each)
        return max(own, min(spread, WIDEST_CANOPY * own))

    @property
    def area_m2(self) -> float:
        """Ground that the leaves of all cover, full-grown. [m²]"""
        return self.plants * self.canopy_m2

    @property
    def soil_in_use(self) -> str:
        """Id of the soil that the roots are in."""
        return self.soil or ("loam" if self.is_in_ground else "potting-mix")

    @property
    def is_joined(self) -> bool:
        """Whether one float keeps the water of all of them."""
        return self.kept_by is not KeptBy.EACH

    @property
    def trough_m(self) -> float:
        """Length of the trough: their places one after another, in two rows where there are two. [m]"""
        return self.columns * self.pitch_m

    @property
    def trough_m3(self) -> float:
        """Water in the trough at its set level, the planters' own room not counted off. [m³]"""
        return self.trough_m * self.trough_width_m * self.set_level_m

    @property
    def under_m2(self) -> float:
        """Open water under one of them. [m²]"""
        if self.kept_by is KeptBy.TROUGH:
            return self.trough_m * self.trough_width_m / self.count
        return WATER_UNDER * self.plan_m2

    @property
    def under_m3(self) -> float:
        """Water for each plant that its wick can draw: its own, or from the float's level to the foot. [m³]"""
        if self.reserve_m3 > 0 or not self.is_joined:
            return self.reserve_m3
        return self.under_m2 * (self.set_level_m - self.foot_m) / self.tiers

    @property
    def open_m2(self) -> float:
        """Open water that dries in the sun and takes rain. [m²]"""
        is_trough = self.kept_by is KeptBy.TROUGH
        return self.trough_m * self.trough_width_m * self.trough_open if is_trough else 0.0

    @property
    def mix_m3(self) -> float:
        """Soil in one of them. [m³]"""
        deep = self.depth_m if self.depth_m is not None else self.across_m
        return self.plan_m2 * deep * self.tiers

    @property
    def over_the_water_m(self) -> float:
        """Height of the top of the mix over the water under it. [m]"""
        if self.over_water_m is not None:
            return self.over_water_m
        return self.depth_m if self.depth_m is not None else self.across_m

    @property
    def outlet_m(self) -> float:
        """Height of the lowest drippers. [m]"""
        return self.ground_m + self.height_m

    @property
    def area_words(self) -> str:
        """What that area is, for a working."""
        return "ground under the leaves"

    @property
    def rooting_depth_m(self) -> float | None:
        """Depth of soil, where it is known. [m]"""
        return self.depth_m

    @property
    def own_planting(self) -> OwnPlanting:
        """Planted or out on a day, to the end of the usual season."""
        return OwnPlanting(self.planting)

    @property
    def place_factor(self) -> float:
        """What sun and the colour of the pots make of ET0. [-]"""
        exposure = catalogue.find(catalogue.pot_exposures(), self.exposure).et_factor
        if self.is_in_ground:
            return exposure
        return exposure * catalogue.find(catalogue.pot_colours(), self.colour).et_factor

    @property
    def container(self) -> Container | None:
        """The pot of one; None of shrubs and trees."""
        if self.is_in_ground:
            return None
        depth = self.depth_m or self.across_m
        return Container(self.plan_m2, depth, self.under_m3, self.canopy_m2)

    @property
    def hot_day_m3(self) -> float | None:
        """What all of them drink on a hot day, where the owner has measured one. [m³]"""
        return None if self.drinks_m3 is None else self.plants * self.drinks_m3

    @property
    def thirst_choices(self) -> tuple[ThirstChoice, ...]:
        """Half the day's sun, and light pots in place of dark ones."""
        choices = []
        if self.exposure != "half":
            words = "Move them where they have half the day's sun."
            choices.append(ThirstChoice("exposure", "half", words, catalogue.pot_exposures()))
        if self.colour == "dark" and not self.is_in_ground:
            words = "Light or thick-walled pots."
            choices.append(ThirstChoice("colour", "light", words, catalogue.pot_colours()))
        return tuple(choices)
