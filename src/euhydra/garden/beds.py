"""Beds and what grows in them."""

from enum import StrEnum
from math import pi
from typing import Self

from pydantic import Field, field_validator, model_validator

from euhydra.garden import catalogue
from euhydra.garden.drinker import CropFactors, Drinker, OwnPlanting, ThirstChoice
from euhydra.garden.part import Id, Point, asked, known_entry, refuse
from euhydra.garden.plantings import PlantingDate, Start, Timekeeping, check_cleared, known_crop


class BedShape(StrEnum):
    """Outline of a bed."""

    RECTANGLE = "rectangle"
    ROUND = "round"
    CORNERS = "corners"


class Bed(Drinker):
    """A bed and its first crop; a round one is as wide as its length says.

    corners : Of a bed of many corners, in order round it; length and width are its extent.
    """

    at: Point = Point()
    shape: BedShape = asked("Its shape", "bed_shapes", default=BedShape.RECTANGLE)
    corners: tuple[Point, ...] = Field((), max_length=60)
    length_m: float = asked("Length of the bed", "length", "Lines run this way.", ge=0.2, le=100)
    width_m: float = asked("Width of the bed", "length", "", ge=0.1, le=100)
    turned_deg: float = asked(
        "Turned by", "angle", "Against the clock.", default=0.0, ge=-360, le=360
    )
    ground_m: float = asked(
        "Ground at the bed",
        "head",
        "Against the same mark as the barrel. Downhill is minus.",
        default=0.0,
        ge=-50,
        le=50,
    )
    raised_m: float = asked(
        "Raised above the ground", "height", "Where the drip line lies.", default=0.0, ge=0, le=2
    )
    soil: str = asked("Soil", "soils", "Rub it wet: gritty is sand, a ribbon is clay.")
    crop: str = asked("Crop", "crops")
    planting: PlantingDate = asked("Planted or sown on", "day")
    cleared: PlantingDate | None = asked(
        "Cleared on", "day", "Empty: at the end of its usual season.", default=None
    )
    started: Start = asked("It is", "starts", default=Start.PLANTED)
    timekeeping: Timekeeping = asked(
        "Its stages go by",
        "timekeepings",
        "Warmth: early in a warm spring, late in a cold one.",
        default=Timekeeping.CALENDAR,
    )
    mulch: str = asked("The soil is", "mulches", default="none")
    shade: str = asked("It lies", "shades", default="none")
    wind: str = asked("Wind: it is", "winds", default="open")
    spacing: str = asked("Plants stand", "spacings", default="usual")
    soil_depth_m: float | None = asked(
        "Depth of good soil",
        "height",
        "Where roots cannot go deeper. Empty: they can.",
        default=None,
        ge=0.05,
        le=3,
    )
    need_factor: float = asked(
        "Drinks more or less than the tables",
        "plain",
        "1 as the tables say; Keep learns it from finger tests.",
        default=1.0,
        ge=0.3,
        le=3,
    )
    slope: float = asked("Slope of the bed", "share", "", default=0.0, ge=0, le=1)
    sources: tuple[Id, ...] = asked(
        "Takes its water from",
        "sources",
        "First choice first, of those that a line leads from. Empty: stored water first for crops that like it warm.",
        default=(),
        max_length=4,
    )
    by_hand_d: int = asked(
        "By hand every so many days",
        "every",
        "With a can, or a tap you turn.",
        default=2,
        ge=1,
        le=14,
    )

    _known_soil = field_validator("soil")(lambda value: known_entry(value, catalogue.soils()))
    _known_crop = field_validator("crop")(known_crop)
    _known_mulch = field_validator("mulch")(lambda v: known_entry(v, catalogue.mulches()))
    _known_shade = field_validator("shade")(lambda v: known_entry(v, catalogue.shades()))
    _known_wind = field_validator("wind")(lambda v: known_entry(v, catalogue.winds()))
    _known_spacing = field_validator("spacing")(lambda v: known_entry(v, catalogue.spacings()))

    @model_validator(mode="after")
    def _is_cleared_after_planting(self) -> Self:
        check_cleared(self.name, self.planting, self.cleared)
        return self

    @model_validator(mode="after")
    def _has_an_outline(self) -> Self:
        if self.shape is BedShape.CORNERS and len(self.corners) < 3:
            raise refuse(
                "needs-three-corners",
                "“{name}” needs three corners at least: draw it, or choose another shape.",
                name=self.name,
            )
        return self

    @property
    def area_m2(self) -> float:
        """[m²]"""
        if self.shape is BedShape.ROUND:
            return pi / 4 * self.length_m**2
        if self.shape is BedShape.CORNERS:
            turns = zip(self.corners, (*self.corners[1:], self.corners[0]), strict=True)
            return abs(sum(a.x_m * b.y_m - b.x_m * a.y_m for a, b in turns)) / 2
        return self.length_m * self.width_m

    @property
    def outlet_m(self) -> float:
        """Height of the outlets. [m]"""
        return self.ground_m + self.raised_m

    @property
    def area_words(self) -> str:
        """What that area is, for a working."""
        return "bed area"

    @property
    def soil_in_use(self) -> str:
        """Id of the soil that the roots are in."""
        return self.soil

    @property
    def rooting_depth_m(self) -> float | None:
        """Depth of good soil. [m]"""
        return self.soil_depth_m

    @property
    def own_planting(self) -> OwnPlanting:
        """How its first crop grows."""
        return OwnPlanting(self.planting, self.cleared, self.started, self.timekeeping)

    @property
    def place_factor(self) -> float:
        """What shade and wind make of ET0. [-]"""
        shade = catalogue.find(catalogue.shades(), self.shade)
        return shade.et_factor * catalogue.find(catalogue.winds(), self.wind).et_factor

    @property
    def crop_factors(self) -> CropFactors:
        """What mulch and spacing make of its coefficients."""
        mulch = catalogue.find(catalogue.mulches(), self.mulch)
        spacing = catalogue.find(catalogue.spacings(), self.spacing)
        return CropFactors(
            mulch.initial_factor * spacing.initial_factor,
            mulch.grown_factor * spacing.grown_factor,
            mulch.grown_factor * spacing.border_factor,
        )

    @property
    def thirst_choices(self) -> tuple[ThirstChoice, ...]:
        """Mulch, shade, close planting and shelter, where it has none."""
        choices = (
            ThirstChoice("mulch", "thick", "Mulch with straw or bark.", catalogue.mulches()),
            ThirstChoice("shade", "cloth-30", "Shade cloth of 30 %.", catalogue.shades()),
            ThirstChoice("spacing", "close", "Plant close together.", catalogue.spacings()),
            ThirstChoice(
                "wind", "sheltered", "A hedge or screen against the wind.", catalogue.winds()
            ),
        )
        return tuple(c for c in choices if getattr(self, c.field) != c.entry_id)

    @property
    def runoff_slope(self) -> float | None:
        """Its slope. [-]"""
        return self.slope
