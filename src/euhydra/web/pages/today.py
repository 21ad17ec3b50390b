"""Keep: what the garden wants this morning."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date
from uuid import NAMESPACE_OID, uuid5

from fastapi import Request

from euhydra.formats import forecast_csv
from euhydra.garden.quantities import System
from euhydra.planner.answers import Gap, PlanError
from euhydra.planner.steps.answer import steps_of
from euhydra.planner.today.acts import MorningAct
from euhydra.planner.today.ahead import ForecastDay
from euhydra.planner.today.answer import TodayAnswer, answer_today
from euhydra.planner.today.choosing import Do
from euhydra.planner.today.done import is_done
from euhydra.planner.today.in_words import forecast_of
from euhydra.planner.today.reasons import Sure
from euhydra.records import feeds, forecasts, gardens, log, prices
from euhydra.records.forecasts import KeptForecast
from euhydra.web.desk import Desk
from euhydra.web.home_addresses import for_phones, is_only_here
from euhydra.web.log_words import said
from euhydra.web.logged_year import log_of
from euhydra.web.pages.station import Shown, StationPage

SURE_NAMES = {
    Sure.SURE: "sure",
    Sure.FAIR: "fairly sure",
    Sure.POOR: "a guess, feel the soil first",
}

RAIN_WORDS = {"": "I do not know", "none": "No rain", "some": "Some rain", "much": "Much rain"}

WARMTH_WORDS = {"": "I do not know", "hot": "Hot", "mild": "Mild", "frost": "Frost"}

MOST_DONE = 100
"""Newest entries of the log among which what was done today is looked for."""


def show_today(request: Request, desk: Desk, at: str) -> Shown:
    """The morning, with the rain that is foreseen as it was chosen."""
    known = {"soon": RAIN_WORDS, "later": RAIN_WORDS, "warmth": WARMTH_WORDS}
    asked = {name: request.query_params.get(name, "") for name in known}
    foreseen = {name: word if word in known[name] else "" for name, word in asked.items()}
    more = {
        "foreseen": foreseen,
        "rain_words": RAIN_WORDS,
        "warmth_words": WARMTH_WORDS,
        "sure_names": SURE_NAMES,
    }
    kept = _kept_forecast(request, desk)
    more |= {"kept": kept, "days_told": _days_of(kept)}
    found = today_of(request, desk, foreseen)
    if isinstance(found, Gap):
        return Shown(None, found, more)
    more |= {"feed": _feed(request, desk.revision.garden_id), "only_here": is_only_here(request)}
    entries = {
        act.about: fields | _once(desk.revision.garden_id, act.about)
        for act in found.acts
        if (fields := _entry_of(act))
    }
    done = _done(request, desk, found.acts, entries)
    found = replace(found, done=frozenset(about for about, each in done.items() if each.is_all))
    return Shown(found, None, more | {"entries": entries, "done": done})


def _feed(request: Request, garden_id: int) -> list[str]:
    """Addresses of the garden's calendar, for phones; that under which the page was asked for, where none knows it."""
    url = request.url_for("feed", token=feeds.token_of(request.app.state.data, garden_id))
    return for_phones(request, url) or [str(url)]


def today_of(request: Request, desk: Desk, foreseen: dict[str, str]) -> TodayAnswer | Gap:
    """The morning, worked out once for this garden, this log and what is foreseen: in words, else as kept."""
    asked = tuple(sorted((name, word) for name, word in foreseen.items() if word))
    kept = None if asked else _kept_forecast(request, desk)
    key = "today", asked, kept.days if kept else ""
    return desk.kept_with_log(request, key, lambda: _answered(request, desk, foreseen, kept))


def _kept_forecast(request: Request, desk: Desk) -> KeptForecast | None:
    with desk.reading(request) as conn:
        return forecasts.newest(conn, desk.revision.garden_id)


def _days_of(kept: KeptForecast | None) -> list[ForecastDay]:
    """Its days from this morning on; none where all are over."""
    rows = forecast_csv.read(kept.days) if kept else []
    return [
        ForecastDay(row.day, row.rain, row.chance, row.lowest, row.highest)
        for row in rows
        if row.day >= date.today()
    ]


def _entry_of(act: MorningAct) -> dict[str, str]:
    """Fields of the entry in the log that doing it stands for; none where nothing is done."""
    timer, days = act.head_id or "", f"{act.days} d"
    run = f"{act.minutes:.0f} min"
    if act.do is Do.BY_HAND and timer:
        return {"kind": "run", "part": timer, "run": run}
    if act.do is Do.PAUSE and timer:
        return {"kind": "pause", "part": timer, "days": days}
    if act.do is Do.TURN and timer:
        return {"kind": "setting", "part": timer, "run": run, "every": f"{act.every_d:.4g} d"}
    if act.do in (Do.BY_HAND, Do.CANS) and act.part_id:
        return {"kind": "watered", "part": act.part_id, "volume": f"{act.litres:.1f} L"}
    return {}


def _once(garden_id: int, about: str) -> dict[str, str]:
    """What makes two who do the same on one morning write it down once."""
    told = uuid5(NAMESPACE_OID, f"{garden_id} {about} {date.today()}")
    return {"sent_id": told.hex, "once": "yes"}


@dataclass(frozen=True)
class DoneToday:
    """What the log has of an act today.

    id : Of the newest entry, to take it back by.
    is_all : Whether it is as much as is asked now.
    """

    id: int
    said: str
    is_all: bool


ADDED_UP = ("run", "watered")
"""Entries of which two on one morning are twice as much; of others the newest stands."""


def _done(
    request: Request, desk: Desk, acts: Sequence[MorningAct], entries: dict[str, dict[str, str]]
) -> dict[str, DoneToday]:
    """What was done of them today, all of it or in part."""
    with desk.reading(request) as conn:
        newest = log.find(conn, desk.revision.garden_id, log.Search(), most=MOST_DONE)
    todays = [kept for kept in newest if kept.entry.at.date() == date.today()]
    found = {}
    for act in acts:
        fields = entries.get(act.about, {})
        own = [k for k in todays if (k.entry.kind, k.entry.part_id) == _kind_and_part(fields)]
        if own:
            found[act.about] = _together(act, own, desk.revision.garden.units)
    return found


def _kind_and_part(fields: dict[str, str]) -> tuple[str | None, str | None]:
    return fields.get("kind"), fields.get("part")


def _together(act: MorningAct, own: Sequence[log.KeptEntry], units: System) -> DoneToday:
    """Entries of one act as one, newest first."""
    newest = own[0].entry
    counted = own if newest.kind in ADDED_UP else own[:1]
    amount = sum(kept.entry.amounts[0] or 0.0 for kept in counted)
    entry = replace(newest, amounts=(amount, *newest.amounts[1:]))
    return DoneToday(own[0].id, said(entry, units), is_done(act, amount))


def _answered(
    request: Request, desk: Desk, foreseen: dict[str, str], kept: KeptForecast | None
) -> TodayAnswer | Gap:
    today = date.today()
    days = _days_of(kept)
    if desk.chain.record is not None and any(foreseen.values()):
        days = forecast_of(foreseen, desk.chain.record, today)
    try:
        return answer_today(desk.chain, log_of(request, desk, today), today, days)
    except PlanError as error:
        return Gap.of(error)


def comes_first(conn: sqlite3.Connection, garden_id: int) -> bool:
    """Whether a garden opens with its morning: all its steps are ticked, or its log is kept."""
    if log.count(conn, garden_id) > 0:
        return True
    keys = {step.key for step in steps_of(gardens.current(conn, garden_id).garden)}
    return bool(keys) and keys <= set(prices.ticked(conn, garden_id, "step"))


PAGE = StationPage(
    key="today",
    station="keep",
    tab="Today",
    question="What does the garden want this morning?",
    show=show_today,
)
