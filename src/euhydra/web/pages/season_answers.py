"""What the pages of the replayed seasons show: the odds, and another plan beside them."""

from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

from fastapi import Request

from euhydra.core.constants import SECONDS_PER_DAY
from euhydra.garden.model import Garden
from euhydra.planner import away, odds, variants, weeks
from euhydra.planner.absence import Absence
from euhydra.planner.answers import Figure, PlanError
from euhydra.planner.chain import NO_WEATHER, Gap, run_chain
from euhydra.planner.odds import OddsAnswer
from euhydra.planner.timing import TimeAnswer
from euhydra.planner.variants import Variant
from euhydra.records import gardens
from euhydra.web.desk import Desk
from euhydra.web.drawing import charts, week
from euhydra.web.pages.shown import Shown

MOST_REVISIONS = 12
"""Earlier plans that may be laid beside the present one."""


@dataclass(frozen=True)
class RowShown:
    """A row of the odds, and of the other plan's where there is one."""

    label: str
    figures: tuple[Figure, Figure]
    others: tuple[Figure, Figure] | None
    better: str


@dataclass(frozen=True)
class OtherPlan:
    """A choice of what to lay beside the plan."""

    key: str
    words: str


def show_years(request: Request, desk: Desk, at: str) -> Shown:
    """The odds of the plan as it stands; with `with`, those of another beside them."""
    answer = odds_of(request, desk)
    if isinstance(answer, Gap):
        return Shown(None, answer)
    system = desk.revision.garden.units
    chosen = request.query_params.get("with", "")
    beside = _beside(request, desk, chosen) if chosen else None
    fault = beside.message if isinstance(beside, Gap) else ""
    other = beside if isinstance(beside, OddsAnswer) else None
    beds = [way.need.part for way in answer.season.ways]
    bed = next((b for b in beds if b.id == at), beds[0])
    return Shown(answer, None, {
        "rows": [_row(row, other) for row in answer.rows],
        "dry": odds.dry_sentences(answer),
        "others": _choices(request, desk),
        "with_key": chosen, "with_fault": fault, "other": other,
        "stress_chart": charts.stress_chart(answer),
        "bed": bed, "beds": beds,
        "bed_chart": charts.worst_bed_year(answer.season, bed.id, system),
    })  # fmt: skip


def show_week(request: Request, desk: Desk, at: str) -> Shown:
    """A week of the month called by its number, or of the month that needs most."""
    chain = desk.chain
    answers = timed(desk)
    if chain.record is None:
        return Shown(None, NO_WEATHER)
    month = month_of(desk, at)
    season = None if isinstance(chain.store, Gap) else chain.store.season
    record = chain.record
    try:
        answer = desk.kept(
            request, f"week {month}", lambda: weeks.answer_week(answers, record, month, season)
        )
    except PlanError as error:
        return Shown(None, Gap(str(error)))
    return Shown(answer, None, {"sheet": week.draw(answer, desk.revision.garden.units)})


def month_of(desk: Desk, at: str) -> int:
    """The month called by its number, or the thirstiest."""
    if at.isdecimal() and 1 <= int(at) <= 12:
        return int(at)
    return _thirstiest(timed(desk))


def timed(desk: Desk) -> list[TimeAnswer]:
    """Answers of every zone that has settings."""
    return [z.time for z in desk.chain.zones if isinstance(z.time, TimeAnswer)]


def _thirstiest(answers: list[TimeAnswer]) -> int:
    needs = [sum(a.months[m].need_l_day for a in answers) for m in range(12)]
    return needs.index(max(needs)) + 1 if answers else 7


def odds_of(request: Request, desk: Desk) -> OddsAnswer | Gap:
    """The odds of the garden as it stands, worked out once."""
    store = desk.chain.store
    if isinstance(store, Gap):
        return store
    return desk.kept(request, "odds", lambda: odds.answer_odds(store.season))


def _beside(request: Request, desk: Desk, key: str) -> OddsAnswer | Gap:
    garden = _other_garden(request, desk, key)
    if garden is None:
        return Gap("That other plan is not to be had any more: choose another.")

    def compute() -> OddsAnswer | Gap:
        chain = run_chain(garden, desk.chain.record)
        return chain.store if isinstance(chain.store, Gap) else odds.answer_odds(chain.store.season)

    return desk.kept(request, f"odds {key}", compute)


def _other_garden(request: Request, desk: Desk, key: str) -> Garden | None:
    if key.startswith("revision-"):
        number = key.removeprefix("revision-")
        with desk.reading(request) as conn:
            return gardens.at_revision(
                conn, desk.revision.garden_id, int(number) if number.isdecimal() else 0
            )
    return next((v.garden for v in _variants(request, desk) if v.key == key), None)


def _variants(request: Request, desk: Desk) -> tuple[Variant, ...]:
    garden = desk.revision.garden
    return desk.kept(request, "variants", lambda: variants.variants_of(garden))


def _choices(request: Request, desk: Desk) -> list[OtherPlan]:
    others = [OtherPlan(v.key, v.words) for v in _variants(request, desk)]
    with desk.reading(request) as conn:
        earlier = gardens.history(conn, desk.revision.garden_id)
    return others + [
        OtherPlan(f"revision-{entry.id}", f"as it was after: {entry.change}")
        for entry in earlier[:MOST_REVISIONS]
        if entry.id != desk.revision.id
    ]


def _row(row: odds.Row, other: OddsAnswer | None) -> RowShown:
    beside = other.by_key.get(row.key) if other else None
    better = ""
    least = max(0.02 * abs(row.middling), SECONDS_PER_DAY if row.kind == "days" else 0.0)
    if beside is not None and abs(beside.middling - row.middling) > least:
        is_more = beside.middling > row.middling
        better = "worse" if is_more is row.more_is_worse else "better"
        if row.key == "spill":
            better = ""
    return RowShown(row.label, row.figures(), beside.figures() if beside else None, better)


def bed_year(desk: Desk, at: str, year: int) -> dict[str, Any] | Gap:
    """One year of a bed's root zone, for its chart."""
    store = desk.chain.store
    if isinstance(store, Gap):
        return store
    if year not in store.season.record.year:
        return Gap(f"There is no weather of {year}.")
    return charts.bed_year(store.season, at, year, desk.revision.garden.units)


def show_away(request: Request, desk: Desk, at: str) -> Shown:
    """Odds over the dates asked for, or over two weeks of the thirstiest month."""
    store = desk.chain.store
    if isinstance(store, Gap):
        return Shown(None, store)
    typed = _away_typed(request, desk)
    more: dict[str, Any] = {"typed": typed, "away_fault": ""}
    try:
        absence = _absence(typed)
        answer = desk.kept(
            request, f"away {absence}", lambda: away.answer_away(store.season, absence)
        )
    except PlanError as error:
        return Shown(None, Gap(str(error)), more | {"away_fault": str(error)})
    return Shown(answer, None, more)


def _away_typed(request: Request, desk: Desk) -> dict[str, str]:
    asked = request.query_params
    if "leaves" in asked:
        return {name: asked.get(name, "") for name in ("leaves", "returns", "watered", "filled")}
    first = date(date.today().year, _thirstiest(timed(desk)), 10)
    return {
        "leaves": first.isoformat(), "returns": (first + timedelta(days=14)).isoformat(),
        "watered": first.isoformat(), "filled": "100",
    }  # fmt: skip


def _absence(typed: dict[str, str]) -> Absence:
    try:
        leaves, returns = date.fromisoformat(typed["leaves"]), date.fromisoformat(typed["returns"])
        watered = date.fromisoformat(typed["watered"]) if typed["watered"] else leaves
    except ValueError:
        raise PlanError("Give the dates as year-month-day, such as 2026-07-10.") from None
    try:
        filled = float(typed["filled"].replace("%", "").strip() or "100") / 100
    except ValueError:
        raise PlanError("Say how full the stores are in per cent, such as 80.") from None
    return Absence(leaves, returns, watered, filled)
