"""What a station says of itself while nothing is wrong with it, or what it waits for."""

import numpy as np

from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.answers import Gap, Mark, worst_of
from euhydra.planner.catch import greywater
from euhydra.planner.chain import NO_BED, NO_WEATHER, Chain
from euhydra.planner.need.daily import Need
from euhydra.planner.push.answer import PushAnswer, works_by
from euhydra.planner.season import fared
from euhydra.planner.steps.answer import count_of
from euhydra.planner.time.answer import TimeAnswer

Standing = tuple[Sentence, Mark | None]


def sound_summary(chain: Chain, station: str) -> Standing:
    """What the station says where nothing is found, and its mark then; None while it waits."""
    return {
        "catch": _catch,
        "store": _store,
        "need": _need,
        "push": _push,
        "lay": _lay,
        "time": _time,
        "build": _build,
        "keep": _keep,
    }[station](chain)


def _waits(gap: Gap) -> Standing:
    return gap.sentence, gap.mark


def _catch(chain: Chain) -> Standing:
    if isinstance(chain.catch, Gap) and chain.garden.greywaters and not chain.garden.roofs:
        washes = (greywater.answer_washing(chain.garden, s) for s in chain.garden.greywaters)
        return worst_of([answer.verdict for answer in washes]).summary, Mark.WORKS
    if isinstance(chain.catch, Gap):
        return _waits(chain.catch)
    return chain.catch.verdict.summary, Mark.WORKS


def _store(chain: Chain) -> Standing:
    if isinstance(chain.store, Gap):
        return _waits(chain.store)
    return chain.store.worst.summary.summary, Mark.WORKS


def _need(chain: Chain) -> Standing:
    known = [plant.need for plant in chain.planted if isinstance(plant.need, Need)]
    if not known:
        return _waits(NO_BED if not chain.garden.planted else NO_WEATHER)
    a_day = sum(need.net_a_day * need.area_m2 for need in known)
    return (
        say(
            "need-garden-asks",
            "The garden asks for {litres} a day in its hardest month.",
            litres=Amount.litres(float(np.max(a_day))),
        ),
        Mark.WORKS,
    )


def _push(chain: Chain) -> Standing:
    known = [zone.push for zone in chain.zones if isinstance(zone.push, PushAnswer)]
    if not known:
        waiting = [*(zone.push for zone in chain.zones), *(plant.push for plant in chain.planted)]
        return _waits(next((gap for gap in waiting if isinstance(gap, Gap)), NO_BED))
    return works_by(known[0].zone), Mark.WORKS


def _lay(chain: Chain) -> Standing:
    if (
        not chain.zones
        and chain.garden.planted
        and not all(p.hand_from for p in chain.garden.planted)
    ):
        return chain.lay.verdict.summary, None
    return chain.lay.verdict.summary, Mark.WORKS


def _time(chain: Chain) -> Standing:
    answers = [zone.time for zone in chain.zones if isinstance(zone.time, TimeAnswer)]
    if answers:
        worst = max(answers, key=lambda answer: answer.promised)
        season = chain.season
        told = () if isinstance(season, Gap) else fared.driest(season)
        return (told[0] if told else worst.verdict.summary), Mark.WORKS
    waiting = [*(zone.time for zone in chain.zones), *(plant.time for plant in chain.planted)]
    return _waits(next((gap for gap in waiting if isinstance(gap, Gap)), NO_BED))


MARKING_OUT = 1
"""Steps of a garden in which nothing is set up nor laid."""


def has_steps(chain: Chain) -> bool:
    """Whether anything is built: lines, or what cans are filled from; lines that are to be laid come first."""
    if chain.zones:
        return True
    is_by_hand = bool(chain.garden.planted) and not chain.lay.unwatered
    return is_by_hand and count_of(chain.garden) > MARKING_OUT


def _build(chain: Chain) -> Standing:
    if not has_steps(chain):
        return say("build-waits", "There is nothing to build yet."), None
    count = count_of(chain.garden)
    return (
        say("build-has-steps", "{count} steps, each with why it is so.", count=count),
        Mark.WORKS,
    )


def _keep(chain: Chain) -> Standing:
    return say("keep-sound", "Nothing that the log says is wrong."), Mark.WORKS
