"""Time: the settings of the owner's timer, and the card to print."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import date

from fastapi import APIRouter, Request
from starlette.responses import Response

from euhydra.garden import kinds, quantities
from euhydra.garden.kinds import Collection
from euhydra.garden.part import Part
from euhydra.planner.answers import Gap, Mark
from euhydra.planner.catch.order import order_of
from euhydra.planner.chain import ZoneChain
from euhydra.planner.season.by_hand import HandAnswer, by_hand
from euhydra.planner.season.helping_hand import Help, helps_of
from euhydra.planner.time import habit, present_setting
from euhydra.planner.time.answer import TimeAnswer
from euhydra.planner.time.set_first import set_first
from euhydra.web.desk import Db, Desk, RowId, open_desk, render
from euhydra.web.drawing import (
    charts,
)
from euhydra.web.pages.station import Choice, Shown, StationPage, Tells
from euhydra.web.pages.zone_page import dry_choices, parts_of_zone, zone_choices, zone_here
from euhydra.web.part_forms import PartForm

router = APIRouter()


def _time(request: Request, desk: Desk, at: str) -> Shown:
    units, zone = desk.revision.garden.units, desk.chain.zone(at)
    if hand := _by_hand(request, desk, at):
        return Shown(hand, None, {"is_by_hand": True})
    time = zone if isinstance(zone, Gap) else zone.time
    if isinstance(time, Gap):
        return Shown(None, time)
    return Shown(
        time,
        None,
        {
            "leads": set_first(time, date.today()),
            "helps": _helps(desk, time),
            "habits": habit.beside_habit(time),
            "chart": charts.time_chart(time, units),
            "judged": desk.kept(
                request, ("judged", time.zone.id), lambda: present_setting.judge(time)
            ),
        },
    )


def _hands(request: Request, desk: Desk) -> tuple[HandAnswer, ...]:
    """What is watered by hand alone; nothing without weather."""
    season = desk.chain.season
    if isinstance(season, Gap):
        return ()
    return desk.kept(request, "by-hand", lambda: by_hand(season))


def _by_hand(request: Request, desk: Desk, at: str) -> HandAnswer | None:
    """Of the bed that the page is turned to."""
    return next((hand for hand in _hands(request, desk) if hand.part.id == _at(desk, at)), None)


def _helps(desk: Desk, time: TimeAnswer) -> list[Help]:
    """Beds of the zone that somebody helps out by hand."""
    season, own = desk.chain.season, {bed.need.part.id for bed in time.beds}
    if isinstance(season, Gap):
        return []
    return [each for each in helps_of(season) if each.part.id in own]


def _at(desk: Desk, at: str) -> str:
    """What the page is turned to: where no zone is laid, the first bed."""
    if at or desk.chain.zones or not desk.chain.planted:
        return at
    return desk.chain.planted[0].part.id


def _by_hand_here(desk: Desk, at: str) -> list[str]:
    """What the page is turned to where nothing but a hand, and washing water, waters it."""
    return [choice.id for choice in _hand_choices(desk, _at(desk, at)) if choice.is_here]


def _hand_choices(desk: Desk, at: str) -> list[Choice]:
    """Beds and pots that no zone waters, and those that a hand helps out where washing water does not do."""
    found = dry_choices(desk, at)
    known = {choice.id for choice in found}
    helped = (
        part
        for part in desk.revision.garden.planted
        if part.id not in known and order_of(desk.revision.garden, part).is_by_hand
    )
    return found + [Choice(part.id, part.name, part.id == at, None) for part in helped]


def _choices(desk: Desk, at: str) -> list[Choice]:
    """Zones, then what is watered by hand: one of all."""
    by_hand = _hand_choices(desk, _at(desk, at))
    found = zone_choices(desk, at, _mark_of)
    if any(choice.is_here for choice in by_hand):
        found = [replace(choice, is_here=False) for choice in found]
    return found + by_hand


def _parts(desk: Desk, collection: Collection, at: str) -> Sequence[Part]:
    """What no line waters is asked about by hand; a zone about its timer."""
    here = _by_hand_here(desk, at)
    if here or kinds.kind_named(collection).drinks:
        return [part for part in getattr(desk.revision.garden, collection) if part.id in here]
    return parts_of_zone(desk, collection, at)


def _mark_of(zone: ZoneChain) -> Mark | None:
    return zone.time.mark if isinstance(zone.time, Gap) else zone.time.verdict.mark


def _before(desk: Desk, at: str) -> str:
    """Of a zone without a timer, the piece that its timer is set before."""
    zone = desk.chain.zone(at)
    is_set = isinstance(zone, Gap) or zone.zone.timer or zone.zone.runs_by_itself
    return "" if isinstance(zone, Gap) or is_set else zone.zone.way.parts[0].id


def _adds(desk: Desk, at: str, form: PartForm) -> bool:
    """Nothing that switches is added to what runs by itself, or is watered by hand alone."""
    zone = desk.chain.zone(at)
    runs_by_itself = not isinstance(zone, Gap) and zone.zone.runs_by_itself
    return not (runs_by_itself or _by_hand_here(desk, at))


PAGE = StationPage(
    key="time",
    station="time",
    tab="Settings",
    question="What do I set on the timer I own?",
    hint="Say what your timer is set to now: it is judged beside what would be better.",
    hint_of="timers",
    show=_time,
    form_keys=("hand", "pot-hand", "timer", "now-set", "own-timer"),
    choices=_choices,
    parts=_parts,
    before=_before,
    adds=_adds,
    tells=Tells.ALL,
    about=zone_here,
)


def month_of(desk: Desk, at: str) -> int:
    """The month called by its number, or the thirstiest."""
    month = quantities.whole_or(at, 0)
    return month if 1 <= month <= 12 else thirstiest(timed(desk))


def timed(desk: Desk) -> list[TimeAnswer]:
    """Answers of every zone that has settings."""
    return [z.running for z in desk.chain.zones if z.running]


def thirstiest(answers: list[TimeAnswer]) -> int:
    """The month in which all zones together need most; July where there is none."""
    needs = [sum(a.months[m].need_l_day for a in answers) for m in range(12)]
    return needs.index(max(needs)) + 1 if answers else 7


@router.get("/gardens/{garden_id}/card", name="card")
def card(request: Request, garden_id: RowId, db: Db) -> Response:
    """The timer's settings on one page, to tape inside the shed door."""
    desk = open_desk(request, db, garden_id)
    first = desk.chain.zone()
    gap = first if isinstance(first, Gap) else first.time
    running, hands = timed(desk), _hands(request, desk)
    has_any = bool(running or hands)
    return render(
        request, "card.html", desk, gap=None if has_any else gap, timed=running, hands=hands
    )
