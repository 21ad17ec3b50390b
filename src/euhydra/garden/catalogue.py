"""Reference data that ships with the program: generic kinds, each row with its source."""

import csv
import tomllib
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from enum import StrEnum
from functools import cache
from importlib.resources import files
from typing import Any, TypeVar

from euhydra.core.crop import Crop
from euhydra.core.rootzone import Soil
from euhydra.core.schedule import TimerPositions
from euhydra.core.tried_days import Gives
from euhydra.core.wicking import Lift

LITRES_PER_HOUR = 1e-3 / 3600
"""[m³ s⁻¹ per L h⁻¹]"""

MM_PER_HOUR = 1e-3 / 3600
"""[m s⁻¹ per mm h⁻¹]"""

GALLON_PER_SQUARE_FOOT = 3.785411784e-3 / 0.3048**2
"""[m per US gal ft⁻²]"""


@dataclass(frozen=True)
class ReferenceRow:
    """What every row has: its id in garden documents, a name, and where the figures come from."""

    id: str
    name: str
    source: str


@dataclass(frozen=True)
class RoofMaterial(ReferenceRow):
    """A roof covering and its runoff coefficient. [-]"""

    runoff_coefficient: float


@dataclass(frozen=True)
class SoilTexture(ReferenceRow):
    """A soil by texture, and the water it holds.

    intake_m_s : Steady intake rate. [m s⁻¹]
    lift : How it lifts water from below.
    greywater_m_d : Greywater that a square metre takes in a day. [m d⁻¹]
    """

    water: Soil
    intake_m_s: float
    lift: Lift
    greywater_m_d: float


@dataclass(frozen=True)
class WickKind(ReferenceRow):
    """What brings the water under a planter to its mix. `lift` is None where that is the mix itself."""

    lift: Lift | None


@dataclass(frozen=True)
class CropKind(ReferenceRow):
    """A crop by name, and its season.

    likes_it_warm : Whether it does better with water that has stood in the sun.
    eaten : Id of the greywater rule that it falls under.
    base_c : Temperature below which it stands still. [°C]
    is_border : Whether it is a mixed border, reckoned by landscape coefficient.
    spread_m : How wide the leaves of one reach, full-grown; 0 where that is not known. [m] Common
        practice: about the distance at which they are planted.
    """

    season: Crop
    likes_it_warm: bool
    eaten: str
    base_c: float
    is_border: bool
    spread_m: float = 0.0


@dataclass(frozen=True)
class Cover(ReferenceRow):
    """Mulch or spacing: factors on the crop coefficient while young and from mid-season on. [-]

    border_factor : Density factor of a mixed border. [-]
    """

    initial_factor: float
    grown_factor: float
    border_factor: float


@dataclass(frozen=True)
class Exposure(ReferenceRow):
    """Shade, wind, a pot's place or colour: factor on evapotranspiration. [-]"""

    et_factor: float


@dataclass(frozen=True)
class GreywaterRule(ReferenceRow):
    """Whether plants eaten in this way may take greywater, and why."""

    is_allowed: bool
    reason: str


@dataclass(frozen=True)
class StoreKind(ReferenceRow):
    """A kind of store.

    noun : What it is called in a sentence.
    shell_share : Weight of the empty store over that of its water. [-]
    stands : `on-ground`, `under-deck`, `buried`, `built`, `open` or `pond`.
    outlet_thread : Of the tap that it comes with; "" for that of hoses where the garden lies.
    """

    noun: str
    shell_share: float
    stands: str
    outlet_thread: str

    @property
    def is_open(self) -> bool:
        """Whether sun and wind take of its water, and rain falls on it."""
        return self.stands in ("open", "pond")


@dataclass(frozen=True)
class LeafGuard(ReferenceRow):
    """What keeps leaves out of the store.

    share_lost : Of the water that passes it. [-]
    clean_weeks : From one cleaning to the next. [weeks]
    """

    share_lost: float
    clean_weeks: float


@dataclass(frozen=True)
class Footing(ReferenceRow):
    """Ground that bears a store: the pressure it takes without care. [Pa]"""

    bearing_pa: float


@dataclass(frozen=True)
class Bore(ReferenceRow):
    """A nominal hose size: inner diameter. [m]"""

    bore_m: float


class WorksBy(StrEnum):
    """How a timer tells when to run."""

    DIAL = "dial"
    CLOCK = "clock"
    WEEKDAYS = "weekdays"
    WINDUP = "windup"
    WEATHER = "weather"
    MOISTURE = "moisture"
    HAND = "hand"


@dataclass(frozen=True)
class TimerKind(ReferenceRow):
    """A timer with its valve.

    delay_days : Steps of its rain delay. [d]
    outlets : Valves in one body.
    battery_months : How long a set of batteries lasts; 0 without.
    least_opening_head_m : Head below which the valve stays shut. [m]
    loss_coefficient : K of the open valve, on the bore of its hose. [-]
    switches_pump : Whether it starts a pump by itself, as one built into it.
    face : What one sees of it; "" of a kind that its owner describes.
    """

    about: str
    works_by: WorksBy
    positions: TimerPositions
    delay_days: tuple[int, ...]
    outlets: int
    battery_months: int
    least_opening_head_m: float
    loss_coefficient: float
    switches_pump: bool = False
    face: str = ""

    @property
    def has_clock(self) -> bool:
        """Whether it starts at an hour that can be set."""
        return self.works_by in (
            WorksBy.CLOCK,
            WorksBy.WEEKDAYS,
            WorksBy.WEATHER,
            WorksBy.MOISTURE,
        )

    @property
    def gives(self) -> Gives:
        """What it gives of the run that it is set to."""
        own = {WorksBy.WEATHER: Gives.LACKING, WorksBy.MOISTURE: Gives.WHEN_DRY}
        return own.get(self.works_by, Gives.ALL)

    @property
    def wants_somebody(self) -> bool:
        """Whether it runs only when somebody starts it."""
        return self.works_by in (WorksBy.WINDUP, WorksBy.HAND)


T = TypeVar("T", bound=ReferenceRow)


class UnknownEntryError(KeyError):
    """No such row; the message lists those there are."""


def find(rows: Mapping[str, T], entry_id: str) -> T:
    """The row called `entry_id`."""
    if entry_id not in rows:
        raise UnknownEntryError(f"“{entry_id}” is not known here; there are {', '.join(rows)}.")
    return rows[entry_id]


def rows(file: str, build: Callable[[dict[str, str]], T]) -> dict[str, T]:
    """Rows of a table by id."""
    return {row["id"]: build(row) for row in csv.DictReader(text_of(file).splitlines())}


def text_of(file: str) -> str:
    """A file of the reference data."""
    return files("euhydra.data").joinpath(file).read_text("utf-8")


def entry(row: dict[str, str]) -> tuple[str, str, str]:
    """Id, name and source of a row."""
    return row["id"], row["name"], row["source"]


@cache
def roof_materials() -> dict[str, RoofMaterial]:
    """Roof coverings by id."""
    return rows(
        "roof_materials.csv", lambda r: RoofMaterial(*entry(r), float(r["runoff_coefficient"]))
    )


@cache
def soils() -> dict[str, SoilTexture]:
    """Soil textures by id."""
    return rows(
        "soils.csv",
        lambda r: SoilTexture(
            *entry(r),
            Soil(
                float(r["field_capacity_m3_m3"]),
                float(r["wilting_point_m3_m3"]),
                float(r["available_m3_m3"]),
            ),
            float(r["intake_mm_h"]) * MM_PER_HOUR,
            _lift(r),
            float(r["greywater_gal_ft2_d"]) * GALLON_PER_SQUARE_FOOT,
        ),
    )


@cache
def crops() -> dict[str, CropKind]:
    """Crops by id."""
    return rows(
        "crops.csv",
        lambda r: CropKind(
            *entry(r),
            _crop(r),
            r["warm_season"] == "yes",
            r["eaten"],
            float(r["base_c"]),
            r["is_border"] == "yes",
            float(r["spread_m"]),
        ),
    )


def _crop(row: dict[str, str]) -> Crop:
    return Crop(
        *(int(row[c]) for c in ("initial_d", "development_d", "mid_d", "late_d")),
        *(float(row[c]) for c in ("kc_initial", "kc_mid", "kc_end")),
        *(float(row[c]) for c in ("root_start_m", "root_full_m", "depletion_fraction")),
    )


def _covers(file: str) -> dict[str, Cover]:
    return rows(
        file,
        lambda r: Cover(
            *entry(r),
            float(r["initial_factor"]),
            float(r["grown_factor"]),
            float(r.get("border_factor") or 1.0),
        ),
    )


def _exposures(file: str) -> dict[str, Exposure]:
    return rows(file, lambda r: Exposure(*entry(r), float(r["et_factor"])))


@cache
def mulches() -> dict[str, Cover]:
    """What lies on the soil, by id."""
    return _covers("mulches.csv")


@cache
def spacings() -> dict[str, Cover]:
    """How close plants stand, by id."""
    return _covers("spacings.csv")


@cache
def shades() -> dict[str, Exposure]:
    """What keeps the sun off a bed, by id."""
    return _exposures("shades.csv")


@cache
def winds() -> dict[str, Exposure]:
    """How the wind reaches a bed, by id."""
    return _exposures("winds.csv")


@cache
def pot_exposures() -> dict[str, Exposure]:
    """Where pots stand, by id."""
    return _exposures("exposures.csv")


@cache
def pot_colours() -> dict[str, Exposure]:
    """What pots look like, by id."""
    return _exposures("pot_colours.csv")


def _lift(row: dict[str, str]) -> Lift:
    return Lift(float(row["conductivity_mm_h"]) * MM_PER_HOUR, float(row["alpha_1_m"]))


@cache
def wick_kinds() -> dict[str, WickKind]:
    """Wicks by id."""
    return rows(
        "wick_kinds.csv",
        lambda r: WickKind(*entry(r), None if r["is_of_mix"] == "yes" else _lift(r)),
    )


@cache
def greywater_rules() -> dict[str, GreywaterRule]:
    """Rules about greywater by the way a crop is eaten."""
    return rows(
        "greywater_rules.csv",
        lambda r: GreywaterRule(*entry(r), r["is_allowed"] == "yes", r["reason"]),
    )


@cache
def store_kinds() -> dict[str, StoreKind]:
    """Kinds of store by id."""
    return rows(
        "store_kinds.csv",
        lambda r: StoreKind(
            *entry(r), r["noun"], float(r["shell_share"]), r["stands"], r["outlet_thread"]
        ),
    )


@cache
def leaf_guards() -> dict[str, LeafGuard]:
    """What keeps leaves out, by id."""
    return rows(
        "leaf_guards.csv",
        lambda r: LeafGuard(*entry(r), float(r["share_lost"]), float(r["clean_weeks"])),
    )


@cache
def footings() -> dict[str, Footing]:
    """Ground under a store by id, softest first."""
    return rows("footings.csv", lambda r: Footing(*entry(r), 1000 * float(r["bearing_kpa"])))


@cache
def bores() -> dict[str, Bore]:
    """Nominal hose sizes by id, rising."""
    return rows("bores.csv", lambda r: Bore(*entry(r), float(r["bore_m"])))


@cache
def timers() -> dict[str, TimerKind]:
    """Timer kinds by id."""
    table = tomllib.loads(text_of("timers.toml"))
    return {timer_id: _timer(timer_id, row) for timer_id, row in table.items()}


def _timer(timer_id: str, row: dict[str, Any]) -> TimerKind:
    works_by = WorksBy(row["works_by"])
    positions = TimerPositions(
        _positions(row["run_minutes"]),
        _positions(row["interval_days"]),
        row["starts"],
        works_by in (WorksBy.WEEKDAYS, WorksBy.HAND),
    )
    return TimerKind(
        timer_id,
        row["name"],
        row["source"],
        row["about"],
        works_by,
        positions,
        tuple(row["delay_days"]),
        row["outlets"],
        row["battery_months"],
        row["least_opening_head_m"],
        row["loss_coefficient"],
        row.get("switches_pump", False),
        row.get("face", ""),
    )


def _positions(entry: dict[str, int] | list[float]) -> tuple[float, ...]:
    if isinstance(entry, dict):
        return tuple(float(v) for v in range(entry["from"], entry["to"] + 1, entry["step"]))
    return tuple(float(v) for v in entry)
