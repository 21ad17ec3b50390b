"""Reference data about pipes and what sits on them: generic kinds, each row with its source."""

from dataclasses import dataclass
from enum import StrEnum
from functools import cache

from euhydra.garden.catalogue import LITRES_PER_HOUR, ReferenceRow, entry, rows


@dataclass(frozen=True)
class OutletKind:
    """The law of an outlet, q = k H^x, and how unlike its brothers it is made.

    flow_m3_s : Of one outlet, or of a metre of porous hose, at `at_head_m`. [m³ s⁻¹]
    variation : Maker's coefficient of variation. [-]
    opens_m, full_m : Head at which it opens, and from which the law holds; 0 for plain ones. [m]
    """

    flow_m3_s: float
    at_head_m: float
    exponent: float
    variation: float
    opens_m: float = 0.0
    full_m: float = 0.0

    @property
    def coefficient(self) -> float:
        """K of q = k H^x. [m³ s⁻¹ m⁻ˣ]"""
        return self.flow_m3_s / float(self.at_head_m**self.exponent)


@dataclass(frozen=True)
class PipeKind(ReferenceRow):
    """A pipe, and the outlets in it if it has any.

    family : `plain`, `micro`, `drip`, `drilled` or `porous`.
    barb_loss : Loss coefficient K of passing one outlet. [-]
    spacing_m : Usual distance between outlets; porous hose is solved at this step. [m]
    most_head_m : Head that it bears. [m]
    usual_most_m, usual_most_m3_s : Length and flow that people take as its limits.
    sizes : Of a pipe by its nominal size, the system of it, `metric` or `us`; else empty.
    price_m : Of a metre, in the owner's money; a guess to be edited.
    """

    family: str
    bore_m: float
    roughness_m: float
    outlet: OutletKind
    barb_loss: float
    spacing_m: float
    most_head_m: float
    usual_most_m: float
    usual_most_m3_s: float
    sizes: str
    price_m: float

    @property
    def has_outlets(self) -> bool:
        """Whether water leaves along it."""
        return self.outlet.flow_m3_s > 0

    @property
    def is_narrow(self) -> bool:
        """Whether grit stays in its outlets, so that it wants a filter before it."""
        return self.family in NARROW_FAMILIES


NARROW_FAMILIES = ("drip", "porous")

SMALL_PASSAGE = 0.002
"""Passages narrower than this want a filter before them. [m] Common practice."""


SPRAYED_FROM = 0.5
"""Throw from which on water flies in drops and does not well up. [m] Our choice."""


@dataclass(frozen=True)
class Dripper(ReferenceRow):
    """An outlet by itself, on a tube or pressed into one.

    passage_m : Its narrowest place. [m]
    band_m : Of one with a float: below the set level by so much it is wide open; 0 without. [m]
    throw_m : How far it throws or spreads its water to each side; 0 where it drips. [m]
    """

    outlet: OutletKind
    passage_m: float
    band_m: float
    throw_m: float

    @property
    def sprays(self) -> bool:
        """Whether its drops fly: nobody sprays water that stood."""
        return self.throw_m > SPRAYED_FROM

    @property
    def keeps_level(self) -> bool:
        """Whether a float opens and shuts it: it needs no timer."""
        return self.band_m > 0

    @property
    def is_narrow(self) -> bool:
        """Whether grit stays in it, so that it wants a filter before it."""
        return self.passage_m < SMALL_PASSAGE


class FittingRole(StrEnum):
    """What a fitting does; everything that is done with fittings goes by it, not by their ids."""

    SPLITS = "splits"
    SHUTS = "shuts"
    THROTTLES = "throttles"
    STOPS_BACKFLOW = "stops-backflow"
    CHECKS = "checks"
    FILTERS = "filters"
    REGULATES = "regulates"
    ADAPTS = "adapts"
    COUPLES = "couples"
    MOVES_BETWEEN = "moves-between"
    LETS_AIR_OUT = "lets-air-out"
    OPENS_WITH_ANY = "opens-with-any"


@dataclass(frozen=True)
class FittingKind(ReferenceRow):
    """A piece between pipes.

    role, letter : What it does, and its sign on the plan.
    loss : K of the open, clean piece. [-]
    is_one_way : Whether it lets nothing back.
    ports : Pipes that may begin at it.
    setting_m, least_inlet_m : Of a regulator: head that it holds, and needs before it. [m]
    dirty_factor : Loss when clogged to the day of cleaning, over the clean loss. [-]
    order : Place in the head assembly from the tap on; 0 where it may sit anywhere.
    """

    noun: str
    role: FittingRole
    letter: str
    loss: float
    is_one_way: bool
    ports: int
    setting_m: float
    least_inlet_m: float
    dirty_factor: float
    order: int
    thread_in: str
    thread_out: str
    price: float


LOW_VOLTS = 50.0
"""Voltage under which a pump runs on a battery. [V]"""


@dataclass(frozen=True)
class PumpKind(ReferenceRow):
    """A pump by its curve.

    points : Flow [m³ s⁻¹] and head [m].
    power_w : Drawn from battery or mains. [W]
    most_lift_m : Suction lift that it manages; 0 for one that sits in the water. [m]
    is_switched : Whether a pressure switch starts and stops it.
    """

    points: tuple[tuple[float, float], ...]
    power_w: float
    volts: float
    most_lift_m: float
    noise: str
    price: float
    is_switched: bool

    @property
    def runs_on_battery(self) -> bool:
        """Whether its voltage is low enough for a battery."""
        return self.volts < LOW_VOLTS


@dataclass(frozen=True)
class Drill(ReferenceRow):
    """A drill of a real set: the hole it makes. [m]"""

    hole_m: float


@cache
def pipe_kinds() -> dict[str, PipeKind]:
    """Pipes by id, plain ones first."""
    return rows("pipe_kinds.csv", _pipe_kind)


def _pipe_kind(row: dict[str, str]) -> PipeKind:
    return PipeKind(
        *entry(row),
        row["family"],
        float(row["bore_m"]),
        float(row["roughness_m"]),
        _outlet(row),
        float(row["barb_loss"]),
        float(row["spacing_m"]),
        float(row["most_head_m"]),
        float(row["usual_most_m"]),
        float(row["usual_most_l_h"]) * LITRES_PER_HOUR,
        row["sizes"],
        float(row["price_m"]),
    )


def _outlet(row: dict[str, str]) -> OutletKind:
    numbers = ("at_head_m", "exponent", "variation", "opens_m", "full_m")
    return OutletKind(float(row["flow_l_h"]) * LITRES_PER_HOUR, *(float(row[c]) for c in numbers))


@cache
def drippers() -> dict[str, Dripper]:
    """Single drippers by id."""
    return rows(
        "drippers.csv",
        lambda r: Dripper(
            *entry(r),
            _outlet(r),
            float(r["passage_mm"]) / 1000,
            float(r["band_mm"]) / 1000,
            float(r["throw_m"]),
        ),
    )


@cache
def fitting_kinds() -> dict[str, FittingKind]:
    """Pieces between pipes by id."""
    return rows(
        "fitting_kinds.csv",
        lambda r: FittingKind(
            *entry(r),
            r["noun"],
            FittingRole(r["role"]),
            r["letter"],
            float(r["loss"]),
            r["one_way"] == "yes",
            int(r["ports"]),
            float(r["setting_m"]),
            float(r["least_inlet_m"]),
            float(r["dirty_factor"]),
            int(r["order"]),
            r["thread_in"],
            r["thread_out"],
            float(r["price"]),
        ),
    )


@cache
def pump_kinds() -> dict[str, PumpKind]:
    """Pumps by id, the weakest first."""
    return rows("pump_kinds.csv", _pump_kind)


def _pump_kind(row: dict[str, str]) -> PumpKind:
    pairs = (point.split() for point in row["points"].split(";"))
    points = tuple((float(flow) * LITRES_PER_HOUR, float(head)) for flow, head in pairs)
    return PumpKind(
        *entry(row),
        points,
        float(row["power_w"]),
        float(row["volts"]),
        float(row["most_lift_m"]),
        row["noise"],
        float(row["price"]),
        row["switched"] == "yes",
    )


@cache
def drills() -> dict[str, Drill]:
    """Drills of metric and inch sets by id."""
    return rows("drills.csv", lambda r: Drill(*entry(r), float(r["hole_m"])))
