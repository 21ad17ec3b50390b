"""Lines whose cups tell of single outlets that give too little, though the whole of them may give enough."""

from collections.abc import Iterator

from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.keeping import measurements
from euhydra.planner.keeping.hindcast import Hindcast

LEAST_UNEVEN = 0.15
"""Evenness that has to be missing before it is worth a word. [-] Our choice: more than measuring scatters."""


def uneven_lines(told: Hindcast) -> Iterator[Sentence]:
    """Lines whose latest catch cups are clearly less even than they are solved."""
    for chain in told.chain.zones:
        latest = {test.name: test for test in measurements.cup_tests(chain, told.log)}
        for test in latest.values():
            if test.measured_even < test.solved_even - LEAST_UNEVEN:
                yield say(
                    "keeping-driest-quarter-cups",
                    "“{line}” waters unevenly: the driest quarter of its cups holds {measured} of the mean, where"
                    " {solved} is solved. Single outlets are clogged, or it lies in waves. Flush it, and look along it.",
                    line=test.name,
                    measured=Amount(test.measured_even, "share"),
                    solved=Amount(test.solved_even, "share"),
                )
