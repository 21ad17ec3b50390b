"""How long a line may be: found by solving, beside what people say."""

from dataclasses import dataclass

from euhydra.core import hydraulics
from euhydra.core.network import NetworkBuilder
from euhydra.garden.pipes import Pipe
from euhydra.garden.sentences import Amount
from euhydra.planner.answers import Figure, Working
from euhydra.planner.push.shortfalls import EVEN
from euhydra.planner.water import laws, solving
from euhydra.planner.water.zones import Zone

LONGEST = 400.0
"""Length up to which is sought. [m]"""

STEPS = 12
"""Halvings of the search."""


@dataclass(frozen=True)
class LengthLimit:
    """A kind of line in a zone: longest row with its weakest outlet at 90% of the mean.

    is_kept : Whether the rows that are there are shorter.
    """

    name: str
    solved: Figure
    usual_m: float
    longest_here_m: float

    @property
    def is_kept(self) -> bool:
        """Whether the longest row in the zone keeps to the solved limit."""
        return self.longest_here_m <= self.solved.amount.value


def limits_of(zone: Zone) -> tuple[LengthLimit, ...]:
    """A limit for each kind of line with outlets, at the head that its rows begin with."""
    state = solving.solve_zone(zone, zone.levels[zone.usual_level])
    found: dict[str, list[Pipe]] = {}
    for pipe in zone.pipes:
        if laws.kind_of(pipe).has_outlets and zone.way.segments[pipe.id]:
            found.setdefault(pipe.kind, []).append(pipe)
    limits = []
    for rows in found.values():
        row = max(rows, key=lambda pipe: pipe.lies_m)
        start = zone.way.segments[row.id][0].start
        height = zone.way.stops[zone.way.segments[row.id][0].end].height
        head = state.heads[start] - height
        if head > 0.01:
            limits.append(_limit(row, head))
    return tuple(limits)


def _limit(row: Pipe, head: float) -> LengthLimit:
    kind = laws.kind_of(row)
    longest = longest_row(row, head)
    spacing = Amount(laws.spacing_of(row), "height")
    figure = Figure(
        "Longest row",
        Amount(longest, "length"),
        Working(
            "longest row whose weakest outlet still gives 90% of the mean, by halving",
            {
                "head at its beginning": Amount(head, "head"),
                "between outlets": spacing,
                "inside width": Amount(laws.bore_of(row), "bore"),
                "outlets it would have": Amount(round(longest / spacing.value), "plain"),
            },
            "Solved again at each length, level ground; evenness of 90%: common practice",
        ),
    )
    return LengthLimit(kind.name, figure, kind.usual_most_m, row.lies_m)


def longest_row(row: Pipe, head: float) -> float:
    """Longest level row of this kind whose weakest outlet gives 90% of the mean. [m]

    Parameters
    ----------
    head : At its beginning. [m]
    """
    spacing = laws.spacing_of(row)
    low, high = 1, max(2, int(LONGEST / spacing))
    if _evenness(row, head, high) >= EVEN:
        return high * spacing
    for _ in range(STEPS):
        middle = (low + high) // 2
        if middle in (low, high):
            break
        low, high = (middle, high) if _evenness(row, head, middle) >= EVEN else (low, middle)
    return low * spacing


def _evenness(row: Pipe, head: float, count: int) -> float:
    kind, law, bore = laws.kind_of(row), laws.outlet_law(row), laws.bore_of(row)
    spacing, builder, before = laws.spacing_of(row), NetworkBuilder(), "start"
    builder.add_source("start", head)
    for i in range(count):
        node = f"{i}"
        builder.add_junction(node, 0.0, 0.0, law.coefficient, law.exponent, law.opens_m, law.full_m)
        piece = spacing if i else spacing / 2
        builder.add_pipe(node, before, node, piece, bore, kind.roughness_m, kind.barb_loss)
        before = node
    found = hydraulics.solve(builder.build())
    flow = found.outflow[1:]
    mean = float(flow.mean())
    return float(flow.min()) / mean if found.converged and mean > 0 else 0.0
