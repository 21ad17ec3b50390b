"""Amounts, sentences and choices as the page says them. Used by the templates as filters."""

from collections.abc import Iterable, Mapping
from functools import cache
from typing import Any

from jinja2 import pass_context
from jinja2.runtime import Context
from markupsafe import Markup, escape

from euhydra.core.catchment import FirstFlushReset
from euhydra.garden import catalogue, filled_text, goods, plumbing, quantities
from euhydra.garden.beds import BedShape
from euhydra.garden.catalogue import WorksBy
from euhydra.garden.drinker import HandTool
from euhydra.garden.logbook import AmountKind
from euhydra.garden.patches import PatchKind
from euhydra.garden.pipes import EndKind, Turn
from euhydra.garden.plantings import Start, Timekeeping, Warmth
from euhydra.garden.pots import KeptBy, PotKind
from euhydra.garden.quantities import System
from euhydra.garden.sentences import Amount, Sentence
from euhydra.garden.sources import DrumOutlet, TapKind, Uncaught
from euhydra.garden.stores import Hold, Intake, LinkKind
from euhydra.planner.dates import (
    MONTH_NAMES,
    WEEKDAYS,
    day_in_words,
    hour_in_words,
    how_often,
    months_in_words,
)
from euhydra.planner.season.shares import DESTINATION_NAMES
from euhydra.planner.store.figures import RULE_NAMES

RESET_NAMES = {
    FirstFlushReset.WET_SPELL: "once in a run of wet days",
    FirstFlushReset.DAY: "once a day",
}

BED_SHAPES = {
    BedShape.RECTANGLE: "a rectangle",
    BedShape.ROUND: "round",
    BedShape.CORNERS: "of many corners",
}

POT_NAMES = {
    PotKind.POT: "pots",
    PotKind.BOX: "boxes",
    PotKind.BAG: "grow bags",
    PotKind.TOWER: "towers",
    PotKind.SHRUB: "shrubs",
    PotKind.TREE: "trees",
}

PATCH_NAMES = {
    PatchKind.PATH: "a path",
    PatchKind.BUILDING: "a building",
    PatchKind.TERRACE: "a terrace",
    PatchKind.LAWN: "a lawn",
}

END_NAMES = {EndKind.OPENS: "opens, for flushing", EndKind.SHUT: "is shut for good"}

TURN_NAMES = {Turn.TOGETHER: "together with the rest", Turn.BY_TURNS: "by turns, each by itself"}


START_NAMES = {Start.PLANTED: "planted out", Start.SOWN: "sown in its place"}

TIMEKEEPING_NAMES = {
    Timekeeping.CALENDAR: "the calendar",
    Timekeeping.WARMTH: "the warmth of each year",
}

WORKS_BY_NAMES = {
    WorksBy.DIAL: "dials without a clock",
    WorksBy.CLOCK: "a clock with one start",
    WorksBy.WEEKDAYS: "weekdays and several starts",
    WorksBy.WINDUP: "winding it up each time",
    WorksBy.WEATHER: "the weather of each day",
    WorksBy.MOISTURE: "how moist the ground is at its probe",
    WorksBy.HAND: "your hand",
}

WARMTH_NAMES = {Warmth.WARM: "warm water and soil", Warmth.COOL: "it cool"}

TAP_NAMES = {TapKind.MAINS: "the water company's tap", TapKind.WELL: "a well of your own"}

HOLD_NAMES = {
    Hold.NOTHING: "nothing but its own weight",
    Hold.WALL: "a strap to a sound wall",
}

LINK_NAMES = {
    LinkKind.BOTTOM: "a pipe at the bottom",
    LinkKind.SIPHON: "a siphon over the rims",
}

INTAKE_NAMES = {
    Intake.TAP: "at its tap",
    Intake.FLOATING: "just under the surface, by a floating intake",
}

UNCAUGHT_NAMES = {
    Uncaught.ELSEWHERE: "drain elsewhere",
    Uncaught.HERE: "run onto it",
}

DRUM_NAMES = {
    DrumOutlet.GRAVITY: "gravity, through a hose",
    DrumOutlet.PUMP: "a pump with a float switch",
}

KEPT_BY_NAMES = {
    KeptBy.EACH: "in each of them, if it has one",
    KeptBy.CHAIN: "in one box, with tubes from one to the next",
    KeptBy.TROUGH: "in the trough that they stand in",
}

HAND_TOOL_NAMES = {HandTool.CAN: "a can", HandTool.HOSE: "a hose in hand"}


def say(sentence: Sentence, system: System) -> Markup:
    """A sentence with its values filled in; their numbers do not break from their units."""

    def unbroken(amount: Amount) -> str:
        return f'<span class="whitespace-nowrap">{escape(amount.told(system))}</span>'

    return Markup(sentence.told(system, unbroken, lambda text: str(escape(text))))


def _system(context: Context) -> System:
    system = context.get("system", System.METRIC)
    assert isinstance(system, System)
    return system


@pass_context
def amount_filter(context: Context, amount: Amount, decimals: int | None = None) -> str:
    """`{{ amount | amount }}`; with the decimals of its column."""
    return amount.told(_system(context), decimals)


@pass_context
def column_filter(context: Context, values: Iterable[float | Amount], kind: str = "") -> int:
    """`{{ values | column("volume") }}`, or of amounts: decimals with which all of them are shown."""
    found = list(values)
    numbers = [value.value if isinstance(value, Amount) else value for value in found]
    kind = next((value.kind for value in found if isinstance(value, Amount)), kind)
    return quantities.column_decimals(numbers, kind, _system(context)) if found else 0


@pass_context
def say_filter(context: Context, sentence: Sentence) -> Markup:
    """`{{ sentence | say }}`."""
    return say(sentence, _system(context))


@pass_context
def quantity_filter(
    context: Context, value: float, kind: str, digits: int = 3, decimals: int | None = None
) -> str:
    """`{{ value | quantity("volume") }}` for an SI number; with the decimals of its column."""
    return quantities.show(value, kind, _system(context), digits, decimals)


@pass_context
def fill_filter(context: Context, text: str) -> str:
    """`{{ "{2 mm|rain}" | fill }}`."""
    return filled_text.fill(text, _system(context))


@pass_context
def litres_filter(context: Context, litres: float, decimals: int | None = None) -> str:
    """`{{ litres | litres }}`; with the decimals of its column."""
    return quantities.show(litres / 1000, "volume", _system(context), decimals=decimals)


@pass_context
def litres_column_filter(context: Context, litres: Iterable[float]) -> int:
    """`{{ values | litres_column }}`: decimals with which all of them are shown."""
    return quantities.column_decimals((v / 1000 for v in litres), "volume", _system(context))


@pass_context
def hours_filter(context: Context, seconds: float) -> str:
    """`{{ seconds | hours }}`: minutes where it is less than one."""
    return Amount(seconds, "hours").told(_system(context))


@pass_context
def example_filter(context: Context, amount: AmountKind) -> str:
    """`{{ amount | example_of }}`: what one might type."""
    example = quantities.KINDS[amount.kind].display(_system(context)).example
    return f"{example}, {example}, …" if amount.many else example


def month_filter(month: int) -> str:
    """Name of month 1 to 12."""
    return MONTH_NAMES[month - 1]


@cache
def choice_lists() -> dict[str, dict[str, str]]:
    """Lists of choices that a field of the garden may name: value → words."""
    lists: dict[str, Mapping[Any, Any]] = {
        "roof_materials": catalogue.roof_materials(),
        "soils": catalogue.soils(),
        "footings": catalogue.footings(),
        "crops": catalogue.crops(),
        "mulches": catalogue.mulches(),
        "shades": catalogue.shades(),
        "winds": catalogue.winds(),
        "spacings": catalogue.spacings(),
        "pot_exposures": catalogue.pot_exposures(),
        "pot_colours": catalogue.pot_colours(),
        "eaten": catalogue.greywater_rules(),
        "starts": START_NAMES,
        "timekeepings": TIMEKEEPING_NAMES,
        "warmths": WARMTH_NAMES,
        "works_by": WORKS_BY_NAMES,
        "pipe_kinds": plumbing.pipe_kinds(),
        "drippers": plumbing.drippers(),
        "fitting_kinds": plumbing.fitting_kinds(),
        "pump_kinds": plumbing.pump_kinds(),
        "timers": catalogue.timers(),
        "first_flush_resets": RESET_NAMES,
        "store_rules": RULE_NAMES,
        "bed_shapes": BED_SHAPES,
        "pot_kinds": POT_NAMES,
        "patch_kinds": PATCH_NAMES,
        "end_kinds": END_NAMES,
        "turns": TURN_NAMES,
        "holds": HOLD_NAMES,
        "store_kinds": catalogue.store_kinds(),
        "leaf_guards": catalogue.leaf_guards(),
        "threads": goods.threads(),
        "tap_kinds": TAP_NAMES,
        "drum_outlets": DRUM_NAMES,
        "link_kinds": LINK_NAMES,
        "intakes": INTAKE_NAMES,
        "uncaught": UNCAUGHT_NAMES,
        "hand_tools": HAND_TOOL_NAMES,
        "kept_by": KEPT_BY_NAMES,
        "wick_kinds": catalogue.wick_kinds(),
        "destinations": DESTINATION_NAMES,
    }
    return {
        name: {str(v): words if isinstance(words, str) else words.name for v, words in rows.items()}
        for name, rows in lists.items()
    }


def hose_threads(chosen: str) -> dict[str, str]:
    """Threads that hoses are screwed on with, by id, and what else is chosen, in words."""
    known = goods.hose_threads()
    found = {id: f"{kind.hose}: {kind.name}" for id, kind in known.items()}
    other = {id: kind.name for id, kind in goods.threads().items() if id == chosen}
    return found | {id: name for id, name in other.items() if id not in found}


FILTERS = {
    "amount": amount_filter,
    "column": column_filter,
    "say": say_filter,
    "quantity": quantity_filter,
    "fill": fill_filter,
    "litres": litres_filter,
    "litres_column": litres_column_filter,
    "hours": hours_filter,
    "how_often": how_often,
    "example_of": example_filter,
    "clock": hour_in_words,
    "day_of": day_in_words,
    "weekday": lambda day: WEEKDAYS[day],
    "month": month_filter,
    "months": months_in_words,
}
