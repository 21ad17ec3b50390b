"""Beds and what grows in them."""

from enum import StrEnum
from math import pi
from typing import Self

from pydantic import Field, field_validator, model_validator

from euhydra.garden import catalogue
from euhydra.garden.part import Id, Model, Part, Point, asked, known_entry, refuse

MONTH_DAYS = (31, 29, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31)


class PlantingDate(Model):
    """A day of the year."""

    month: int = Field(ge=1, le=12)
    day: int = Field(ge=1, le=31)

    @model_validator(mode="after")
    def _exists(self) -> Self:
        if self.day > MONTH_DAYS[self.month - 1]:
            raise refuse(f"There is no day {self.day} in month {self.month}: type another date.")
        return self


class BedShape(StrEnum):
    """Outline of a bed."""

    RECTANGLE = "rectangle"
    ROUND = "round"
    CORNERS = "corners"


class Bed(Part):
    """A bed of one crop; a round one is as wide as its length says.

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
        "Ground at the bed", "head", "Against the same mark as the barrel. Downhill is minus.",
        default=0.0, ge=-50, le=50,
    )  # fmt: skip
    raised_m: float = asked(
        "Raised above the ground", "height", "Where the drip line lies.", default=0.0, ge=0, le=2
    )
    soil: str = asked("Soil", "soils", "Rub it wet: gritty is sand, a ribbon is clay.")
    crop: str = asked("Crop", "crops")
    planting: PlantingDate = Field(title="Planted out")
    sources: tuple[Id, ...] = asked(
        "Takes its water from", "sources",
        "First choice first. Leave empty: stored water first, for crops that like it warm.",
        default=(), max_length=4,
    )  # fmt: skip
    by_hand_d: int = asked(
        "Without a timer: water every so many days", "count", "", default=2, ge=1, le=14
    )

    _known_soil = field_validator("soil")(lambda value: known_entry(value, catalogue.soils()))
    _known_crop = field_validator("crop")(lambda value: known_entry(value, catalogue.crops()))

    @model_validator(mode="after")
    def _has_an_outline(self) -> Self:
        if self.shape is BedShape.CORNERS and len(self.corners) < 3:
            raise refuse(
                f"“{self.name}” needs three corners at least: draw it, or choose another shape."
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
