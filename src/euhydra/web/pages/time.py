"""Time: the settings of the owner's timer, and the card to print."""

from fastapi import APIRouter, Request
from starlette.responses import Response

from euhydra.garden import quantities
from euhydra.planner.answers import Gap, Mark
from euhydra.planner.chain import ZoneChain
from euhydra.planner.time import present_setting
from euhydra.planner.time.answer import TimeAnswer
from euhydra.web.desk import Db, Desk, RowId, open_desk, render
from euhydra.web.drawing import (
    charts,
)
from euhydra.web.pages.station import Shown, StationPage
from euhydra.web.pages.zone_page import dry_choices, parts_of_zone, zone_choices

router = APIRouter()


def _time(request: Request, desk: Desk, at: str) -> Shown:
    units, zone = desk.revision.garden.units, desk.chain.zone(at)
    time = zone if isinstance(zone, Gap) else zone.time
    if isinstance(time, Gap):
        return Shown(None, time)
    return Shown(
        time,
        None,
        {
            "chart": charts.time_chart(time, units),
            "judged": desk.kept(
                request, ("judged", time.zone.id), lambda: present_setting.judge(time)
            ),
        },
    )


def _mark_of(zone: ZoneChain) -> Mark | None:
    return None if isinstance(zone.time, Gap) else zone.time.verdict.mark


def _before(desk: Desk, at: str) -> str:
    """Of a zone without a timer, the piece that its timer is set before."""
    zone = desk.chain.zone(at)
    return "" if isinstance(zone, Gap) or zone.zone.timer else zone.zone.way.parts[0].id


PAGE = StationPage(
    key="time",
    station="time",
    tab="Settings",
    question="What do I set on the timer I own?",
    show=_time,
    form_keys=("timer", "now-set", "own-timer"),
    choices=lambda desk, at: zone_choices(desk, at, _mark_of) + dry_choices(desk, at),
    parts=parts_of_zone,
    before=_before,
)


def month_of(desk: Desk, at: str) -> int:
    """The month called by its number, or the thirstiest."""
    month = quantities.whole_or(at, 0)
    return month if 1 <= month <= 12 else thirstiest(timed(desk))


def timed(desk: Desk) -> list[TimeAnswer]:
    """Answers of every zone that has settings."""
    return [z.time for z in desk.chain.zones if isinstance(z.time, TimeAnswer)]


def thirstiest(answers: list[TimeAnswer]) -> int:
    """The month in which all zones together need most; July where there is none."""
    needs = [sum(a.months[m].need_l_day for a in answers) for m in range(12)]
    return needs.index(max(needs)) + 1 if answers else 7


@router.get("/gardens/{garden_id}/card", name="card")
def card(request: Request, garden_id: RowId, db: Db) -> Response:
    """The timer's settings on one page, to tape inside the shed door."""
    desk = open_desk(request, db, garden_id)
    timed = [zone.time for zone in desk.chain.zones if not isinstance(zone.time, Gap)]
    first = desk.chain.zone()
    gap = first if isinstance(first, Gap) else first.time
    return render(request, "card.html", desk, gap=gap if not timed else None, timed=timed)
