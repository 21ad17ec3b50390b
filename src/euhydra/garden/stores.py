"""Stores: barrels, totes, tanks, cisterns and troughs, and where their water goes."""

from enum import StrEnum
from math import pi
from typing import Any, Self

from pydantic import field_validator, model_validator

from euhydra.core.store import StoreRule
from euhydra.garden import catalogue, goods
from euhydra.garden.part import Id, Part, Point, asked, known_entry, linked, refuse
from euhydra.garden.sentences import Amount

LEAST_DRAW = 0.02
"""Least depth between a store's tap and its overflow. [m] Less is no store."""

USUAL_FREEBOARD = 0.1
"""Rim over overflow where it is not known. [m] Common practice: room for an inlet, and for the fall of the hose
to it."""

GROUND, RAIN_GARDEN, DRAIN, DOWNSPOUT = "on-ground", "in-rain-garden", "in-drain", "stays-in-pipe"
DESTINATIONS = (GROUND, RAIN_GARDEN, DRAIN, DOWNSPOUT)
"""Where an overflow may run if not to another store: on the ground, into a rain garden, into a
drain, or, with a diverter, it stays in the downspout."""


class Hold(StrEnum):
    """What keeps a store from tipping, besides its own weight."""

    NOTHING = "nothing"
    WALL = "wall"


class LinkKind(StrEnum):
    """What joins a store with those that share its level."""

    BOTTOM = "bottom"
    SIPHON = "siphon"


class Intake(StrEnum):
    """Where water is drawn from a store."""

    TAP = "tap"
    FLOATING = "floating"


FLOAT_HANGS = 0.15
"""How far under the surface a floating intake draws, and so how near the bottom it comes. [m] Common practice."""

WALL_SLACK = 1.02
"""Volume over what length, width and depth give that still passes for rounding. [-]"""


class Store(Part):
    """A store on a stand or in the ground, upright and of one width; or several alike, linked."""

    at: Point = Point()
    kind: str = asked("Kind of store", "store_kinds", default="barrel")
    volume_m3: float | None = asked(
        "Holds, to the overflow",
        "volume",
        "One of them. Leave empty to take it from its size.",
        default=None,
        ge=0.005,
        le=100,
    )
    height_m: float = asked(
        "Water depth when full", "height", "From the base to the overflow.", ge=0.1, le=5
    )
    across_m: float | None = asked(
        "Length, or width if round",
        "height",
        "Inside. May be left empty.",
        default=None,
        ge=0.1,
        le=20,
    )
    width_m: float | None = asked(
        "Width, if not round", "height", "Inside. May be left empty.", default=None, ge=0.1, le=20
    )
    count: int = asked(
        "How many alike, linked",
        "count",
        "Joined at the bottom or by siphon: one level.",
        default=1,
        ge=1,
        le=20,
    )
    rim_m: float | None = asked(
        "Base to rim",
        "height",
        "Leave empty to take {~10 cm|height} over the overflow.",
        default=None,
        ge=0.1,
        le=5.5,
    )
    ground_m: float = asked(
        "Ground it stands on",
        "head",
        "Against any mark you like, the same for the beds.",
        default=0.0,
        ge=-50,
        le=50,
    )
    stand_m: float = asked(
        "Height of the stand",
        "height",
        "From the ground to the store's base.",
        default=0.0,
        ge=0,
        le=3,
    )
    sunk_m: float = asked(
        "Sunk into the ground",
        "height",
        "From the ground down to its base.",
        default=0.0,
        ge=0,
        le=5,
    )
    dregs_m: float = asked(
        "Dregs left at the bottom",
        "height",
        "Depth of mud you will not draw.",
        default=0.0,
        ge=0,
        le=1,
    )
    outlet_height_m: float = asked(
        "Tap above the store's base",
        "height",
        "Water below it is dead: it never comes out.",
        default=0.05,
        ge=0,
        le=5,
    )
    rule: StoreRule = asked(
        "When rain may be drawn",
        "store_rules",
        "How cautious the daily sum is.",
        default=StoreRule.YIELD_AFTER_SPILLAGE,
    )
    linked_to: Id | None = linked(
        "Linked with",
        "stores",
        default=None,
        help_text="By a pipe at the bottom or a siphon: the water stands equally high in both.",
    )
    link_by: LinkKind = asked("They are linked by", "link_kinds", default=LinkKind.BOTTOM)
    intake: Intake = asked("Water is drawn", "intakes", default=Intake.TAP)
    overflow_to: str = linked(
        "Its overflow runs",
        "stores",
        "downspouts",
        also=DESTINATIONS,
        default=GROUND,
        help_text="Of linked stores, the lowest overflow counts.",
    )
    soak_area_m2: float = asked(
        "Ground it spreads over",
        "area",
        "Or the rain garden's floor.",
        default=4.0,
        ge=0.1,
        le=1000,
    )
    soak_soil: str = asked("Soil there", "soils", default="loam")
    topped_by: Id | None = linked(
        "Topped up from", "taps", default=None, help_text="Over an air gap, never by a joined pipe."
    )
    top_up_below: float = asked(
        "Top up when below", "share", "Of what it holds.", default=0.15, ge=0, le=0.9
    )
    top_up_to: float = asked("Top up to", "share", "", default=0.3, ge=0.01, le=1)
    top_up_every_d: int | None = asked(
        "Somebody does it every so many days",
        "every",
        "By hand. Empty: a float does it, or you look every day.",
        default=None,
        ge=1,
        le=31,
    )
    moves_to: Id | None = linked(
        "Before rain, move water to",
        "stores",
        default=None,
        help_text="Into a reserve, by hand or pump, so that the rain finds room.",
    )
    moves_before_m: float = asked(
        "When so much rain is forecast", "rain", "For tomorrow.", default=0.005, ge=0.0005, le=0.2
    )
    moves_m3: float = asked(
        "At most, a day", "volume", "What you carry or pump.", default=0.1, ge=0.005, le=100
    )
    gives_back_below: float = asked(
        "The reserve gives back when below",
        "share",
        "Of what this store holds. 0: it keeps its water.",
        default=0.0,
        ge=0,
        le=0.9,
    )
    footing: str = asked("It stands on", "footings", "The softest thing under it.", default="lawn")
    blocks: int = asked(
        "Loose blocks, one on another",
        "count",
        "In the stand. 0 if it is one piece.",
        default=0,
        ge=0,
        le=30,
    )
    feet_across_m: float | None = asked(
        "Stand, narrowest way across its legs",
        "height",
        "From outer edge to outer edge. Empty: as wide as the store.",
        default=None,
        gt=0,
        le=10,
    )
    feet_m2: float | None = asked(
        "Area of its legs together",
        "area",
        "Blocks, planks or slab that touch the ground. Empty: as much as the store's own floor.",
        default=None,
        gt=0,
        le=50,
    )
    stand_kg: float | None = asked(
        "Weight of the stand",
        "mass",
        "Empty: as a timber frame of that height.",
        default=None,
        ge=0,
        le=5000,
    )
    held_by: Hold = asked("It is held by", "holds", default=Hold.NOTHING)
    shell_kg: float | None = asked(
        "Weight when empty",
        "mass",
        "Leave empty to take the usual for its kind.",
        default=None,
        gt=0,
        le=5000,
    )
    gust_m_s: float = asked(
        "Strongest gust to hold",
        "wind",
        "{~20 m/s|wind} is a gale that breaks twigs.",
        default=20.0,
        ge=0,
        le=80,
    )
    price: float | None = asked(
        "Price of one",
        "money",
        "In your own money, for the cost of its water.",
        default=None,
        ge=0,
        le=1e6,
    )

    thread: str | None = asked(
        "Thread of its tap",
        "threads",
        "Empty: that of the hoses; a tote has its own coarse one.",
        default=None,
    )

    _known_thread = field_validator("thread")(goods.known_thread)
    _known_kind = field_validator("kind")(lambda v: known_entry(v, catalogue.store_kinds()))
    _known_footing = field_validator("footing")(lambda v: known_entry(v, catalogue.footings()))
    _known_soil = field_validator("soak_soil")(lambda v: known_entry(v, catalogue.soils()))

    @field_validator("rim_m")
    @classmethod
    def _rim_over_overflow(cls, value: float | None, info: Any) -> float | None:
        height = info.data.get("height_m")
        if value is not None and height is not None and value < height:
            raise refuse(
                "rim-below-water",
                "The rim at {rim} lies below the full water at {full}: check both, from the base up.",
                rim=Amount(value, "height"),
                full=Amount(height, "height"),
            )
        return value

    @field_validator("outlet_height_m")
    @classmethod
    def _outlet_between_dregs_and_top(cls, value: float, info: Any) -> float:
        height, dregs = info.data.get("height_m"), info.data.get("dregs_m")
        if height is not None and value > height - LEAST_DRAW:
            raise refuse(
                "tap-clearly-below",
                "The tap at {tap} is not clearly below the full water at {full}: lower the tap, or"
                " check the water depth.",
                tap=Amount(value, "height"),
                full=Amount(height, "height"),
            )
        if dregs is not None and value < dregs:
            raise refuse(
                "tap-lies-dregs",
                "The tap at {tap} lies in the dregs, which stand {dregs} deep: raise it to "
                "{dregs}, or say less dregs.",
                tap=Amount(value, "height"),
                dregs=Amount(dregs, "height"),
            )
        return value

    @field_validator("sunk_m")
    @classmethod
    def _either_sunk_or_raised(cls, value: float, info: Any) -> float:
        if value > 0 and info.data.get("stand_m", 0) > 0:
            raise refuse(
                "cannot-stand-stand",
                "It cannot stand on a stand and be sunk into the ground: empty one of them.",
            )
        return value

    @field_validator("top_up_to")
    @classmethod
    def _tops_up(cls, value: float, info: Any) -> float:
        below = info.data.get("top_up_below")
        if below is not None and value < below:
            raise refuse(
                "filled-level-filling",
                "It has to be filled to more than the level at which filling begins.",
            )
        return value

    @model_validator(mode="after")
    def _fits_its_own_walls(self) -> Self:
        plan = self._plan_of_walls
        if self.volume_m3 is None and plan is None:
            raise refuse("say-holds-how", "Say what it holds, or how long and wide it is.")
        if self.volume_m3 is not None and plan is not None:
            walls = plan * self.height_m
            if self.volume_m3 > WALL_SLACK * walls:
                raise refuse(
                    "cannot-hold-length",
                    "It cannot hold {volume}: its length, width and water depth give {walls}. Check the "
                    "four, inside measures.",
                    volume=Amount(self.volume_m3, "volume"),
                    walls=Amount(walls, "volume"),
                )
        return self

    @model_validator(mode="after")
    def _leads_elsewhere(self) -> Self:
        if self.id in (self.linked_to, self.overflow_to, self.moves_to):
            raise refuse(
                "cannot-joined-itself",
                "“{name}” cannot be joined with itself: choose another store.",
                name=self.name,
            )
        return self

    @property
    def _plan_of_walls(self) -> float | None:
        if self.across_m is None:
            return None
        if self.width_m is None:
            return pi / 4 * self.across_m**2
        return self.across_m * self.width_m

    @property
    def holds_m3(self) -> float:
        """Water in one of them, to the overflow. [m³]"""
        if self.volume_m3 is not None:
            return self.volume_m3
        assert self._plan_of_walls is not None
        return self._plan_of_walls * self.height_m

    @property
    def plan_m2(self) -> float:
        """Section of one of them. [m²]"""
        return self.holds_m3 / self.height_m

    @property
    def total_m3(self) -> float:
        """Water in all that are alike, to the overflow. [m³]"""
        return self.count * self.holds_m3

    @property
    def noun(self) -> str:
        """`barrel`, `tank` and so on, as its kind is called in a sentence."""
        return catalogue.find(catalogue.store_kinds(), self.kind).noun

    @property
    def top_m(self) -> float:
        """Rim over the store's base. [m]"""
        return self.rim_m if self.rim_m is not None else self.height_m + USUAL_FREEBOARD

    @property
    def base_m(self) -> float:
        """Height of the store's base. [m]"""
        return self.ground_m + self.stand_m - self.sunk_m

    @property
    def is_below_ground(self) -> bool:
        """Whether it lies so deep that water runs to it in pipes under the ground."""
        return self.sunk_m >= self.height_m

    @property
    def overflow_m(self) -> float:
        """Height of its overflow. [m]"""
        return self.base_m + self.height_m

    @property
    def tap_m(self) -> float:
        """Height of its tap. [m]"""
        return self.base_m + self.outlet_height_m

    @property
    def lowest_m(self) -> float:
        """Height down to which its water can be drawn. [m]"""
        hangs = FLOAT_HANGS if self.intake is Intake.FLOATING else 0.0
        return max(self.tap_m, self.base_m + hangs)

    @property
    def rim_height_m(self) -> float:
        """Height of its rim, against the garden's mark. [m]"""
        return self.base_m + self.top_m
