"""Drilled pipe: what friction takes along it, what the slowing water gives back, and which rules."""

from collections.abc import Iterator
from dataclasses import dataclass

from euhydra.core import recovery
from euhydra.garden.pipes import Pipe
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.water import laws
from euhydra.planner.water.solving import ZoneState

SEEN = 0.001
"""Head under which neither effect is worth a word. [m]"""


@dataclass(frozen=True)
class Slowing:
    """One drilled pipe.

    friction, regained : Head lost from its beginning to its last hole, and won back by slowing. [m]
    last_over_first : What its last hole gives over its first, of alike holes as solved. [-]
    """

    pipe: Pipe
    friction: float
    regained: float
    last_over_first: float

    @property
    def sentence(self) -> Sentence:
        """Which of the two rules."""
        template = "“{pipe}”: friction takes {friction} along it, the slowing water gives back {regained}: "
        if self.regained > self.friction:
            template += (
                "its far holes give more, so grade them smaller or take the wider spacing there."
            )
        else:
            template += "friction rules, its far holes give less."
        return say(
            "push-regained" if self.regained > self.friction else "push-friction-rules",
            template,
            pipe=self.pipe.name,
            friction=Amount(self.friction, "height"),
            regained=Amount(self.regained, "height"),
        )


def slowings_of(state: ZoneState) -> Iterator[Slowing]:
    """Every drilled pipe of a zone in which either effect can be seen, at the level of its state."""
    flows = dict(zip([o.node for o in state.zone.outlets], state.outlet_flow.tolist(), strict=True))
    for pipe in state.zone.pipes:
        segments = state.zone.way.segments[pipe.id]
        own = [flows[segment.end] for segment in segments if segment.end in flows]
        if laws.kind_of(pipe).family != "drilled" or len(own) < 2 or own[0] <= 0:
            continue
        friction = state.heads[segments[0].start] - state.heads[segments[-1].end]
        regained = recovery.velocity_head(abs(state.flows[segments[0].link]), laws.bore_of(pipe))
        if max(friction, regained) >= SEEN:
            yield Slowing(pipe, friction, regained, own[-1] / own[0])
