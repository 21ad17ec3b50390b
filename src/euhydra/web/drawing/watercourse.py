"""The stream across the top of every page, as wide as its litres a year."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import TypeVar

import numpy as np

from euhydra.garden.sentences import Amount
from euhydra.planner.answers import Gap, Mark
from euhydra.planner.chain import NO_BED, Chain
from euhydra.planner.judgement.answer import NOT_NEEDED, Judgement
from euhydra.planner.judgement.sound import has_steps
from euhydra.planner.lay.answer import LayAnswer
from euhydra.planner.need.daily import Need
from euhydra.planner.push.answer import PushAnswer
from euhydra.planner.steps.answer import count_of
from euhydra.planner.store.answer import StoreAnswer
from euhydra.planner.time.answer import TimeAnswer

T = TypeVar("T", PushAnswer, TimeAnswer)

WIDTH, MIDDLE, FLOOR = 1200.0, 26.0, 64.0
"""Of the drawing: width, height of the stream's middle, height at which side streams end."""

WIDEST, NARROWEST = 36.0, 2.0
"""Of the stream: at the most litres a year, and where hardly any are left."""


LEAST_SHOWN = 0.5
"""Litres a year below which a side stream is not drawn. [L]"""


@dataclass(frozen=True)
class Station:
    """One station on the stream.

    headline : None while it waits for something.
    page : Other than its own, that answers its question.
    waits_for_log : Whether its mark is still to be worked out from the log.
    """

    key: str
    verb: str
    headline: Amount | None
    caption: str
    mark: Mark | None
    waits_for_log: bool = False
    page: str = ""

    @property
    def leads_to(self) -> str:
        """The page that answers its question: its own, unless another does."""
        return self.page or self.key


@dataclass(frozen=True)
class SideStream:
    """Water that leaves the stream after `station`: its outline, litres a year, where it goes."""

    station: str
    path: str
    litres: float
    label: str


@dataclass(frozen=True)
class Watercourse:
    """Outline of the stream, its side streams and its stations. `is_dry` before any water."""

    path: str
    sides: tuple[SideStream, ...]
    stations: tuple[Station, ...]
    is_dry: bool


def draw(
    chain: Chain, judgement: Judgement, entries: int, *, is_log_read: bool = True
) -> Watercourse:
    """The watercourse of a garden's chain, with so many entries in its log.

    Parameters
    ----------
    is_log_read : Whether the judgement knows what the log says; else Keep has no mark yet.
    """
    judged = (_judged(each, judgement) for each in _stations(chain))
    stations = (*judged, _keep(entries, judgement, is_log_read))
    step = WIDTH / len(stations)
    caught, kept, rooted = _litres(chain)
    widest = max(caught, kept, rooted, 1e-9)

    def breadth(litres: float) -> float:
        return max(NARROWEST, WIDEST * litres / widest) if litres > 0 else NARROWEST

    # Water narrows half way between two stations, where it leaves.
    turns = [
        (0.0, caught),
        (1.0 * step, caught),
        (1.5 * step, kept),
        (4.8 * step, kept),
        (5.2 * step, rooted),
        (WIDTH, rooted),
    ]
    path = _band([(x, breadth(litres)) for x, litres in turns])
    leaving = (
        ("catch", 1.25 * step, caught - kept, caught, "spill over"),
        ("lay", 5.0 * step, kept - rooted, kept, "sink past the roots"),
    )
    sides = tuple(
        SideStream(station, _side(x, breadth(lost), breadth(before)), lost, label)
        for station, x, lost, before, label in leaving
        if lost > LEAST_SHOWN and kept > 0
    )
    return Watercourse(path, sides, stations, is_dry=caught <= 0)


def _litres(chain: Chain) -> tuple[float, float, float]:
    """Litres a year that come in, are given to beds, and are drunk at the roots."""
    season = chain.season
    if isinstance(season, Gap):
        catch = chain.catch
        return 0.0 if isinstance(catch, Gap) else catch.year.amount.value * 1000, 0.0, 0.0
    years, works = season.record.years, season.run
    given = sum(float(works.supplied(bed).sum()) for bed in range(len(season.ways))) / years
    lost = float(season.lost_past_roots.sum()) / years
    from_roofs = sum(float(tank.inflow.sum()) for tank in season.works.tanks) / years
    return from_roofs + works.from_elsewhere / years, given, given - lost


def _stations(chain: Chain) -> tuple[Station, ...]:
    return (
        _catch(chain),
        _store(chain.store),
        _need(chain),
        _push(_hardest([zone.push for zone in chain.zones])),
        _lay(chain.lay),
        _time(chain),
        _build(chain),
    )


def _judged(station: Station, judgement: Judgement) -> Station:
    """With the mark of its findings; one without a figure works only where it is said to."""
    found = judgement.stations[station.key]
    is_empty = not found.needed and station.headline is None
    if is_empty or found.summary.code == NOT_NEEDED[0]:
        return replace(station, headline=None, caption="not needed", mark=None)
    mark = found.mark
    return station if station.mark is None and mark is Mark.WORKS else replace(station, mark=mark)


def _hardest(answers: Sequence[T | Gap]) -> T | Gap:
    """The answer with the worst verdict; a gap only where there is nothing else."""
    known = [answer for answer in answers if not isinstance(answer, Gap)]
    if not known:
        return answers[0] if answers else NO_BED
    return max(known, key=lambda answer: list(Mark).index(_mark(answer)))


def _mark(answer: PushAnswer | TimeAnswer) -> Mark:
    return answer.mark if isinstance(answer, PushAnswer) else answer.verdict.mark


def _catch(chain: Chain) -> Station:
    """What roofs bring a year; without roofs, what is washed in a week."""
    answer, washes = chain.catch, chain.garden.greywaters
    if not isinstance(answer, Gap):
        return Station("catch", "Catch", answer.year.amount, "a year", answer.verdict.mark)
    if washes and not chain.garden.roofs:
        week = Amount(sum(sum(each.week_m3) for each in washes), "volume")
        return Station("catch", "Catch", week, "a week", Mark.WORKS, page="greywater")
    return Station("catch", "Catch", None, "", None)


def _store(answer: StoreAnswer | Gap) -> Station:
    if isinstance(answer, Gap):
        return Station("store", "Store", None, "", None)
    worst = answer.worst
    return Station("store", "Store", worst.figures[0].amount, "of need met", worst.summary.mark)


def _need(chain: Chain) -> Station:
    """The most that all beds together ask for on a mean day of a month."""
    known = [bed.need for bed in chain.planted if isinstance(bed.need, Need)]
    if not known:
        return Station("need", "Need", None, "", None)
    a_day = sum(need.net_a_day * need.area_m2 for need in known)
    return Station(
        "need",
        "Need",
        Amount.litres(float(np.max(a_day))),
        "on a peak day",
        Mark.WORKS,
    )


def _push(answer: PushAnswer | Gap) -> Station:
    if isinstance(answer, Gap):
        return Station("push", "Push", None, "", None)
    flow = Amount(answer.usual.state.flow, "flow")
    caption = "half full" if answer.zone.group else "from the tap"
    return Station("push", "Push", flow, caption, answer.mark)


def _lay(answer: LayAnswer) -> Station:
    if not answer.zones:
        return Station("lay", "Lay", None, "", None)
    count = sum(len(zone.zone.outlets) for zone in answer.zones)
    return Station("lay", "Lay", Amount(count, "plain"), "outlets", answer.verdict.mark)


def _time(chain: Chain) -> Station:
    """The longest run of all zones; by hand where nothing has a timer."""
    answer = _hardest([z.time for z in chain.zones if z.running or isinstance(z.time, Gap)])
    hands = [part for part in chain.garden.planted if part.hand_from]
    if isinstance(answer, Gap) and hands and not isinstance(chain.season, Gap):
        return Station("time", "Time", Amount(len(hands), "plain"), "by hand", Mark.WORKS)
    alone = [zone for zone in chain.zones if zone.zone.runs_by_itself]
    if isinstance(answer, Gap) and answer.mark:
        words = "run by themselves" if len(alone) > 1 else "runs by itself"
        return Station("time", "Time", Amount(len(alone), "plain"), words, answer.mark)
    if isinstance(answer, Gap):
        return Station("time", "Time", None, "", None)
    longest = max((m.setting.position.run_minutes for m in answer.months if m.setting), default=0.0)
    return Station("time", "Time", Amount.minutes(longest), "at most", answer.verdict.mark)


def _build(chain: Chain) -> Station:
    if not has_steps(chain):
        return Station("build", "Build", None, "", None)
    count = count_of(chain.garden)
    return Station("build", "Build", Amount(count, "plain"), "steps", Mark.WORKS)


def _keep(entries: int, judgement: Judgement, is_log_read: bool) -> Station:
    mark = judgement.stations["keep"].mark if is_log_read else None
    said = Amount(entries, "plain")
    return Station("keep", "Keep", said, "in the log", mark, waits_for_log=not is_log_read)


def _band(points: list[tuple[float, float]]) -> str:
    """Outline of a band of changing breadth around the middle, left to right and back."""
    top = [(x, MIDDLE - b / 2) for x, b in points]
    bottom = [(x, MIDDLE + b / 2) for x, b in reversed(points)]
    return f"M{_point(*top[0])}{_curves(top)}L{_point(*bottom[0])}{_curves(bottom)}Z"


def _curves(points: list[tuple[float, float]]) -> str:
    text = ""
    for (x0, y0), (x1, y1) in pairwise(points):
        half = (x0 + x1) / 2
        text += f"C{_point(half, y0)} {_point(half, y1)} {_point(x1, y1)}"
    return text


def _side(x: float, breadth: float, stream: float) -> str:
    """A side stream that turns off downwards at `x`, from the stream's lower edge."""
    edge = MIDDLE + stream / 2 - breadth
    start, end = x - 60, x + 20
    return (
        f"M{_point(start, edge)}C{_point(end - 20, edge)} {_point(end, edge)} {_point(end, FLOOR)}"
        f"L{_point(end - breadth, FLOOR)}"
        f"C{_point(end - breadth, edge + breadth)} {_point(end - 20 - breadth, edge + breadth)} "
        f"{_point(start, edge + breadth)}Z"
    )


def _point(x: float, y: float) -> str:
    return f"{x:.1f},{y:.1f}"
