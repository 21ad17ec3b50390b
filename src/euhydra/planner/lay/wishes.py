"""What is wished for a bed or a group of pots, and what is usual where nothing is said."""

from dataclasses import dataclass
from enum import StrEnum

from euhydra.garden.beds import Bed
from euhydra.garden.drinker import Drinker
from euhydra.garden.model import Garden
from euhydra.garden.sentences import say
from euhydra.planner.answers import PlanError
from euhydra.planner.lay import rows

PASS_GAP = 0.4
"""Distance between passes of a soaker. [m] Common practice: two or three passes a metre of bed."""

OUTLET_GAP = 0.3
"""Distance between outlets on a line. [m] As most lines are sold."""

STEM_GAP = 0.4
"""Distance between plants with a dripper each. [m] Common practice: tomatoes and peppers."""


class Method(StrEnum):
    """How a bed or pots are watered."""

    ROWS = "rows"
    SOAKER = "soaker"
    STEMS = "stems"
    POTS = "pots"


@dataclass(frozen=True)
class Wish:
    """What to lay, and how.

    waters : Bed or group of pots.
    begins_at : Source, or anything else that water can be taken from.
    line : Kind of line with outlets, or for stems and pots the kind of dripper.
    spacing_m : Between outlets; None for as usual. [m]
    rows : None for as many as the soil asks for.
    timer : Kind of timer at the beginning; None for none.
    has_valve : Whether its branch of a shared pipe has a valve of its own, to throttle it.
    hose_m : Hose to where the lines begin, as it lies; None as it is drawn. [m]
    """

    waters: str
    begins_at: str
    method: Method
    line: str
    spacing_m: float | None = None
    rows: int | None = None
    timer: str | None = None
    has_valve: bool = False
    hose_m: float | None = None


def rows_for(wish: Wish, bed: Bed) -> int:
    """Rows, passes or lines of plants in a bed: as many as wished, or as is usual there."""
    if wish.rows is not None:
        return wish.rows
    gaps = {Method.SOAKER: PASS_GAP, Method.STEMS: STEM_GAP}
    return max(1, round(rows.across(bed) / gaps.get(wish.method, rows.gap_in(bed.soil))))


def spacing_for(wish: Wish) -> float:
    """From outlet to outlet, or from plant to plant. [m]"""
    return wish.spacing_m or (STEM_GAP if wish.method is Method.STEMS else OUTLET_GAP)


def target_of(garden: Garden, wish: Wish) -> Drinker:
    """What a wish is for.

    Raises
    ------
    PlanError : if it is not there.
    """
    target = next((p for p in garden.planted if p.id == wish.waters), None)
    if target is None:
        raise PlanError(say("lay-say-bed-pots", "Say which bed or pots the line is for."))
    return target
