"""Keep: what the garden wants this morning."""

from datetime import date, timedelta

from fastapi import Request

from euhydra.planner.answers import Gap, PlanError
from euhydra.planner.today.acts import Sure
from euhydra.planner.today.ahead import DAYS, ForecastDay
from euhydra.planner.today.answer import TodayAnswer, answer_today
from euhydra.planner.today.choosing import Do
from euhydra.web.desk import Desk
from euhydra.web.logged_year import log_of
from euhydra.web.pages.station import Shown, StationPage

DO_NAMES = {
    Do.BY_HAND: "Run it by hand",
    Do.CANS: "Water it",
    Do.PAUSE: "Pause it",
    Do.AS_SET: "As it is set",
    Do.LEAVE: "Leave it",
}

SURE_NAMES = {
    Sure.SURE: "felt lately",
    Sure.FAIR: "by the sums",
    Sure.POOR: "by the sums alone: feel the soil first",
}

RAIN_MM = {"none": 0.0, "some": 5.0, "much": 20.0}
"""What is meant by some and by much. [mm d⁻¹] Our choice: a shower, and rain that wets a bed through."""

RAIN_WORDS = {"": "I do not know", "none": "No rain", "some": "Some rain", "much": "Much rain"}

NEXT_D = 2
"""Days of the first question; the second is of the rest of the week."""


def show_today(request: Request, desk: Desk, at: str) -> Shown:
    """The morning, with the rain that is foreseen as it was chosen."""
    foreseen = {name: request.query_params.get(name, "") for name in ("soon", "later")}
    foreseen = {name: word if word in RAIN_MM else "" for name, word in foreseen.items()}
    more = {
        "foreseen": foreseen,
        "rain_words": RAIN_WORDS,
        "do_names": DO_NAMES,
        "sure_names": SURE_NAMES,
        "next_days": NEXT_D,
    }
    answer = desk.kept_with_log(
        request, ("today", *foreseen.values()), lambda: _answered(request, desk, foreseen)
    )
    return Shown(None, answer, more) if isinstance(answer, Gap) else Shown(answer, None, more)


def _answered(request: Request, desk: Desk, foreseen: dict[str, str]) -> TodayAnswer | Gap:
    today = date.today()
    days = [
        ForecastDay(today + timedelta(days=n), RAIN_MM[word])
        for n in range(DAYS)
        if (word := foreseen["soon" if n < NEXT_D else "later"])
    ]
    try:
        return answer_today(desk.chain, log_of(request, desk, today), today, days)
    except PlanError as error:
        return Gap.of(error)


PAGE = StationPage(
    key="today",
    station="keep",
    tab="Today",
    question="What does the garden want this morning?",
    show=show_today,
)
