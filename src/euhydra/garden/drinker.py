"""What drinks: the one face that beds, pots and whatever comes after them show to the planner."""

from abc import ABC, abstractmethod
from collections.abc import Mapping
from dataclasses import dataclass, replace
from enum import StrEnum

from euhydra.garden import catalogue
from euhydra.garden.catalogue import ReferenceRow, SoilTexture
from euhydra.garden.part import Id, Part, asked, linked
from euhydra.garden.plantings import PlantingDate, Start, Timekeeping


class HandTool(StrEnum):
    """What somebody waters with who waters by hand."""

    CAN = "can"
    HOSE = "hose"


@dataclass(frozen=True)
class OwnPlanting:
    """How a drinker's own crop grows, before any other that is planted beside or after it."""

    planting: PlantingDate
    cleared: PlantingDate | None = None
    started: Start = Start.PLANTED
    timekeeping: Timekeeping = Timekeeping.CALENDAR


@dataclass(frozen=True)
class Container:
    """What holds the roots of one plant where they are not in the ground.

    plan_m2 : Ground that one covers. [m²]
    reserve_m3 : Water under the soil, of one that waters itself from below. [m³]
    canopy_m2 : Ground that the leaves of one cover, full-grown. [m²]
    """

    plan_m2: float
    depth_m: float
    reserve_m3: float
    canopy_m2: float


@dataclass(frozen=True)
class CropFactors:
    """What mulch and spacing make of a crop's coefficient: young, full-grown, of a border. [-]"""

    young: float = 1.0
    grown: float = 1.0
    border: float = 1.0


@dataclass(frozen=True)
class ThirstChoice:
    """Another entry of a field that may make it drink less; `words` say it, `rows` has its source."""

    field: str
    entry_id: str
    words: str
    rows: Mapping[str, ReferenceRow]


class Drinker(Part, ABC):
    """Anything that drinks. A new kind of it is a class of this and a row in ``garden.kinds``."""

    crop: str
    planting: PlantingDate
    ground_m: float
    need_factor: float
    sources: tuple[Id, ...]
    by_hand_d: int
    hand_from: Id | None = linked(
        "By hand from",
        "stores",
        "taps",
        default=None,
        help_text="Where nothing else waters it; beside a line you help out from there.",
    )
    hand_with: HandTool = asked("With", "hand_tools", default=HandTool.CAN)
    can_m3: float = asked("The can holds", "volume", "", default=0.01, ge=0.001, le=0.05)
    deep_m3: float | None = asked(
        "Deep watering by hand, each time",
        "volume",
        "Beside its line: all of it together. Empty: you help out with what is lacking.",
        default=None,
        gt=0,
        le=10,
    )
    deep_every_d: int = asked("Every so many days", "every", "", default=7, ge=2, le=31)
    soil_holds: float | None = asked(
        "Soil holds for plants, of its volume",
        "share",
        "If you know better than its kind: {~15 %|share} is a good loam.",
        default=None,
        ge=0.02,
        le=0.5,
    )
    soil_intake_m_s: float | None = asked(
        "Soil takes in, by your own test",
        "intake",
        "Fill a sunk tin, and see how far the water falls in an hour.",
        default=None,
        gt=0,
        le=3e-4,
    )
    gives_m3: float | None = asked(
        "You give it a day, as you do now",
        "volume",
        "All of it together. Empty if you do not know.",
        default=None,
        gt=0,
        le=10,
    )

    @property
    @abstractmethod
    def area_m2(self) -> float:
        """Area that depths of water are spread over. [m²]"""

    @property
    @abstractmethod
    def area_words(self) -> str:
        """What that area is, for a working."""

    @property
    @abstractmethod
    def outlet_m(self) -> float:
        """Height of its lowest outlets. [m]"""

    @property
    @abstractmethod
    def soil_in_use(self) -> str:
        """Id of the soil that the roots are in."""

    @property
    def ground(self) -> SoilTexture:
        """The soil that the roots are in, with what the owner knows better."""
        soil = catalogue.find(catalogue.soils(), self.soil_in_use)
        water = soil.water
        if self.soil_holds is not None:
            water = replace(water, tabled_available=self.soil_holds)
        intake = self.soil_intake_m_s or soil.intake_m_s
        return replace(soil, water=water, intake_m_s=intake)

    @property
    @abstractmethod
    def rooting_depth_m(self) -> float | None:
        """Depth that roots cannot pass; None where they can go as deep as they like. [m]"""

    @property
    @abstractmethod
    def own_planting(self) -> OwnPlanting:
        """How its own crop grows."""

    @property
    @abstractmethod
    def place_factor(self) -> float:
        """What shade, wind and place make of ET0. [-]"""

    @property
    @abstractmethod
    def thirst_choices(self) -> tuple[ThirstChoice, ...]:
        """Changes that may make it drink less."""

    @property
    def crop_factors(self) -> CropFactors:
        """What mulch and spacing make of its coefficients."""
        return CropFactors()

    @property
    def container(self) -> Container | None:
        """What holds the roots of each plant; None where they are in the ground."""
        return None

    @property
    def plants(self) -> int:
        """How many stand apart from each other; 1 for a bed."""
        return 1

    @property
    def hot_day_m3(self) -> float | None:
        """What all of it drinks on a hot day, where the owner has measured it. [m³]"""
        return None

    @property
    def runoff_slope(self) -> float | None:
        """Slope down which water may run off before it sinks in; None where it cannot. [-]"""
        return None
