"""Time: the week hour by hour."""

from fastapi import Request

from euhydra.garden.sentences import say
from euhydra.planner.answers import Gap, Mark, PlanError
from euhydra.planner.season.week import answer_week
from euhydra.web.desk import Desk
from euhydra.web.drawing import week
from euhydra.web.pages.station import Shown, StationPage, Tells
from euhydra.web.pages.time import month_of, timed

BY_ITSELF = Gap(
    say(
        "week-runs-by-itself",
        "Nothing runs by the clock here: floats and washing water let it in day and night. How long the store lasts, "
        "Push and Store say.",
    ),
    Mark.WORKS,
)


def _show_week(request: Request, desk: Desk, at: str) -> Shown:
    """A week of the month called by its number, or of the month that needs most."""
    season = desk.chain.season
    if isinstance(season, Gap):
        return Shown(None, season)
    answers, month = timed(desk), month_of(desk, at)
    if not answers and desk.chain.zones and all(z.zone.runs_by_itself for z in desk.chain.zones):
        return Shown(None, BY_ITSELF)
    try:
        answer = desk.kept(request, ("week", month), lambda: answer_week(answers, season, month))
    except PlanError as error:
        return Shown(None, Gap.of(error))
    widths = {"desk": week.DESK_WIDTH, "phone": week.PHONE_WIDTH}
    units = desk.revision.garden.units
    sheets = {name: week.draw(answer, units, width) for name, width in widths.items()}
    return Shown(answer, None, {"week_sheets": sheets})


PAGE = StationPage(
    key="week",
    station="time",
    tab="The week",
    question="What runs when, and is there water for it?",
    show=_show_week,
    tells=Tells.GRAVE,
)
