"""Time: whether the garden holds while nobody is at home."""

from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

from fastapi import Request

from euhydra.garden.sentences import say
from euhydra.planner.answers import Gap, PlanError
from euhydra.planner.need.daily import Need
from euhydra.planner.season import away
from euhydra.planner.season.absence import Absence
from euhydra.web.desk import Desk
from euhydra.web.logged_year import learned_of
from euhydra.web.pages.station import Shown, StationPage, Tells
from euhydra.web.pages.time import thirstiest, timed


def _show_away(request: Request, desk: Desk, at: str) -> Shown:
    """Odds over the dates asked for; else over two weeks from today, or of the thirstiest month where nothing grows now."""
    season = desk.chain.season
    if isinstance(season, Gap):
        return Shown(None, season)
    typed = _away_typed(request, desk)
    now = {} if "leaves" in request.query_params else _filled_now(request, desk, typed)
    fills = [
        Fill(g.id, g.name, request.query_params.get(f"filled-{g.id}", now.get(g.id, "100")))
        for g in season.groups
    ]
    more: dict[str, Any] = {"typed": typed, "fills": fills, "away_fault": "", "is_dipped": now}
    try:
        absence = _absence(typed, fills)
        answer = desk.kept(request, ("away", absence), lambda: away.answer_away(season, absence))
    except PlanError as error:
        gap = Gap.of(error)
        return Shown(None, gap, more | {"away_fault": gap.told(desk.revision.garden.units)})
    return Shown(answer, None, more)


@dataclass(frozen=True)
class Fill:
    """How full a store is, as typed in per cent."""

    id: str
    name: str
    percent: str


def _filled_now(request: Request, desk: Desk, typed: dict[str, str]) -> dict[str, str]:
    """How full each store is today by its dips, in per cent, for who leaves today; no store that was not dipped."""
    learned = learned_of(request, desk)
    if isinstance(learned, Gap) or typed["leaves"] != learned.told.today.isoformat():
        return {}
    known = (s for s in learned.stores if s.is_dipped and learned.knows(s))
    return {store.group.id: f"{store.filled * 100:.0f}" for store in known}


def _away_typed(request: Request, desk: Desk) -> dict[str, str]:
    asked = request.query_params
    if "leaves" in asked:
        return {name: asked.get(name, "") for name in ("leaves", "returns", "watered")}
    today = date.today()
    needs = (plant.need for plant in desk.chain.planted)
    grows = any(isinstance(need, Need) and need.grows_on(today) for need in needs)
    month = thirstiest(timed(desk))
    first = today if grows else date(today.year + (month <= today.month), month, 10)
    return {
        "leaves": first.isoformat(),
        "returns": (first + timedelta(days=14)).isoformat(),
        "watered": first.isoformat(),
    }


def _absence(typed: dict[str, str], fills: list[Fill]) -> Absence:
    try:
        leaves, returns = date.fromisoformat(typed["leaves"]), date.fromisoformat(typed["returns"])
        watered = date.fromisoformat(typed["watered"]) if typed["watered"] else leaves
    except ValueError:
        raise PlanError(
            say("away-give-dates-year", "Give the dates as year-month-day, such as 2026-07-10.")
        ) from None
    return Absence(leaves, returns, watered, tuple(map(_share, fills)))


def _share(fill: Fill) -> float:
    try:
        return float(fill.percent.replace("%", "").strip() or "100") / 100
    except ValueError:
        raise PlanError(
            say(
                "away-say-how-full",
                "Say how full “{fill}” is in per cent, such as 80.",
                fill=fill.name,
            )
        ) from None


PAGE = StationPage(
    key="away",
    station="time",
    tab="Away",
    question="I am away for two weeks: will it hold?",
    show=_show_away,
    tells=Tells.GRAVE,
)
