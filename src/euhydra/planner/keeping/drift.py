"""What has changed over the season: flows that fall, lines that water unevenly, thirstier crops."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.dates import day_in_words
from euhydra.planner.keeping import lessons, measurements
from euhydra.planner.keeping.hindcast import Hindcast

LEAST_DRIFT = 0.15
"""Change of a factor that is worth a word. [-] Our choice: more than measuring scatters."""


@dataclass(frozen=True)
class Drift:
    """Something that changed over the season."""

    title: str
    summary: Sentence

    @property
    def said(self) -> Sentence:
        """Both in one."""
        return say(
            self.summary.code,
            "{title}: {summary}",
            title=self.title,
            summary=self.summary,
        )


def drifts(told: Hindcast) -> list[Drift]:
    """What the log shows to have changed: flows that fall, crops that drink more than before."""
    return [*_falling_flows(told), *_uneven(told), *_thirstier(told)]


def _falling_flows(told: Hindcast) -> Iterator[Drift]:
    for chain in told.chain.zones:
        pairs = measurements.flow_pairs(chain, told.log)
        mended = measurements.mended_at(told.log, {p.id for p in chain.zone.way.parts})
        pairs = measurements.since(pairs, told.log, mended)
        if len(pairs) < 3:
            continue
        ratios = np.array([measured / solved for solved, measured, _ in pairs])
        days = np.array([told.log[i].at.timestamp() / 86400 for *_, i in pairs])
        if np.ptp(days) < 1:
            continue
        slope = float(np.polyfit(days - days[0], ratios, 1)[0])
        change = slope * float(np.ptp(days))
        if change < -LEAST_DRIFT:
            first = told.log[pairs[0][2]].at
            yield Drift(
                f"“{chain.zone.name}” gives less and less",
                say(
                    "keeping-less-level-clogging",
                    "{fall} less than on {day}, at the same level: a clogging filter or clogging outlets. "
                    "Clean the filter, flush the lines, and measure again.",
                    day=day_in_words(first.date()),
                    fall=Amount(-change, "share"),
                ),
            )


def _uneven(told: Hindcast) -> Iterator[Drift]:
    """Lines whose latest catch cups are clearly less even than they are solved."""
    for chain in told.chain.zones:
        latest = {test.name: test for test in measurements.cup_tests(chain, told.log)}
        for test in latest.values():
            if test.measured_even < test.solved_even - LEAST_DRIFT:
                yield Drift(
                    f"“{test.name}” waters unevenly",
                    say(
                        "keeping-driest-quarter-cups",
                        "The driest quarter of its cups holds {measured} of the mean, where {solved} is solved:"
                        " single outlets are clogged, or it lies in waves. Flush it, and look along it.",
                        measured=Amount(test.measured_even, "share"),
                        solved=Amount(test.solved_even, "share"),
                    ),
                )


def _thirstier(told: Hindcast) -> Iterator[Drift]:
    for track in told.tracks:
        part = track.way.need.part
        tests = measurements.soil_tests(told, part.id)
        half = len(tests) // 2
        if half < 3:
            continue
        before = lessons.thirst_of(told, track, tests[:half])
        after = lessons.thirst_of(told, track, tests[half:])
        if after.value - before.value > LEAST_DRIFT and after.low > before.value:
            yield Drift(
                f"“{part.name}” drinks more than before",
                say(
                    "keeping-tables-say-after",
                    "{now} of what the tables say, after {then} earlier in the season: a bigger or "
                    "thirstier crop than planned. Look at its crop and spacing on Need.",
                    now=Amount(after.value, "share"),
                    then=Amount(before.value, "share"),
                ),
            )
