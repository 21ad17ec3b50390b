"""Time: the odds of the replayed seasons, and another plan beside them."""

from dataclasses import dataclass
from typing import Any

from fastapi import APIRouter, HTTPException, Request

from euhydra.core.constants import SECONDS_PER_DAY
from euhydra.garden import quantities
from euhydra.garden.model import Garden
from euhydra.garden.sentences import say
from euhydra.planner.answers import Figure, Gap
from euhydra.planner.chain import run_chain
from euhydra.planner.season import odds, variants
from euhydra.planner.season.odds import OddsAnswer
from euhydra.planner.season.variants import Variant
from euhydra.records import gardens
from euhydra.web.desk import Db, Desk, RowId, open_desk
from euhydra.web.drawing import charts, dry_years
from euhydra.web.pages.station import Shown, StationPage, Tells

router = APIRouter()

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
    """A plan that may be laid beside another; the present one has no key."""

    key: str
    words: str


def _show_years(request: Request, desk: Desk, at: str) -> Shown:
    """The odds of the plan called `plan`, or as it stands; beside them those of that called `with`."""
    asked = request.query_params
    plan_key, with_key = asked.get("plan", ""), asked.get("with", "")
    now = odds_of(request, desk)
    if isinstance(now, Gap):
        return Shown(None, now)
    answer, fault = now, ""
    if plan_key:
        found = _other_odds(request, desk, plan_key)
        answer, fault = (now, str(found.sentence)) if isinstance(found, Gap) else (found, "")
    other: OddsAnswer | None = None
    if with_key != plan_key and not fault:
        beside = _other_odds(request, desk, with_key) if with_key else now
        other, fault = (None, str(beside.sentence)) if isinstance(beside, Gap) else (beside, "")
    beds = [way.need.part for way in answer.season.ways]
    bed = next((b for b in beds if b.id == at), beds[0])
    choices = _choices(request, desk)
    return Shown(
        answer,
        None,
        {
            "rows": [_row(row, other) for row in answer.rows],
            "dry": odds.dry_sentences(answer),
            "plans": choices,
            "plan": _chosen(choices, plan_key),
            "with": _chosen(choices, with_key),
            "with_fault": fault,
            "other": other,
            "strips": dry_years.dry_strips(answer),
            "bed": bed,
            "beds": beds,
            "bed_chart": charts.worst_bed_year(answer.season, bed.id, desk.revision.garden.units),
        },
    )


def _chosen(choices: list[OtherPlan], key: str) -> OtherPlan:
    return next((choice for choice in choices if choice.key == key), choices[0])


def odds_of(request: Request, desk: Desk) -> OddsAnswer | Gap:
    """The odds of the garden as it stands, worked out once."""
    season = desk.chain.season
    if isinstance(season, Gap):
        return season
    return desk.kept(request, "odds", lambda: odds.answer_odds(season))


def _other_odds(request: Request, desk: Desk, key: str) -> OddsAnswer | Gap:
    garden = _other_garden(request, desk, key)
    if garden is None:
        return Gap(
            say(
                "years-other-plan-had", "That other plan is not to be had any more: choose another."
            )
        )

    def compute() -> OddsAnswer | Gap:
        chain = run_chain(garden, desk.chain.record)
        return chain.season if isinstance(chain.season, Gap) else odds.answer_odds(chain.season)

    return desk.kept(request, ("odds", key), compute)


def _other_garden(request: Request, desk: Desk, key: str) -> Garden | None:
    if key.startswith("revision-"):
        number = quantities.whole_or(key.removeprefix("revision-"), 0)
        with desk.reading(request) as conn:
            return gardens.at_revision(conn, desk.revision.garden_id, number)
    return next((v.garden for v in _variants(request, desk) if v.key == key), None)


def _variants(request: Request, desk: Desk) -> tuple[Variant, ...]:
    garden = desk.revision.garden
    return desk.kept(request, "variants", lambda: variants.variants_of(garden))


def _choices(request: Request, desk: Desk) -> list[OtherPlan]:
    others = [OtherPlan(v.key, v.words[0].upper() + v.words[1:]) for v in _variants(request, desk)]
    with desk.reading(request) as conn:
        earlier = gardens.history(conn, desk.revision.garden_id)
    return (
        [OtherPlan("", "Your plan")]
        + others
        + [
            OtherPlan(f"revision-{entry.id}", f"As it was after: {entry.change}")
            for entry in earlier[:MOST_REVISIONS]
            if entry.id != desk.revision.id
        ]
    )


def _row(row: odds.OddsRow, other: OddsAnswer | None) -> RowShown:
    beside = other.by_key.get(row.key) if other else None
    better = ""
    least = max(0.02 * abs(row.middling), SECONDS_PER_DAY if row.kind == "days" else 0.0)
    if beside is not None and abs(beside.middling - row.middling) > least:
        is_more = beside.middling > row.middling
        better = "worse" if is_more is row.more_is_worse else "better"
        if row.key == "spill":
            better = ""
    return RowShown(row.label, row.figures(), beside.figures() if beside else None, better)


def _series_of(
    request: Request, desk: Desk, plan_key: str, at: str, year: int
) -> dict[str, Any] | Gap:
    """One year of a bed's root zone under one of the plans, for its chart."""
    answer = _other_odds(request, desk, plan_key) if plan_key else odds_of(request, desk)
    if isinstance(answer, Gap):
        return answer
    season = answer.season
    if year not in season.record.year:
        return Gap(say("years-no-such-year", "There is no weather of {year}.", year=year))
    return charts.bed_year(season, at, year, desk.revision.garden.units)


@router.get("/gardens/{garden_id}/years/bed", name="bed_year")
def bed_year(
    request: Request, garden_id: RowId, db: Db, year: int, at: str = "", plan: str = ""
) -> dict[str, Any]:
    """One year of a bed's root zone, day by day, under the plan called so."""
    series = _series_of(request, open_desk(request, db, garden_id), plan, at, year)
    if isinstance(series, Gap):
        raise HTTPException(404, str(series.sentence))
    return series


PAGE = StationPage(
    key="years",
    station="time",
    tab="Through the years",
    question="How often does anything go dry?",
    show=_show_years,
    tells=Tells.GRAVE,
)
