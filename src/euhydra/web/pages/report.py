"""Keep: the season told, and its table."""

from collections.abc import Iterator

from fastapi import APIRouter, HTTPException, Request
from starlette.responses import Response, StreamingResponse

from euhydra.core.constants import LITRES_PER_CUBIC_METRE
from euhydra.formats import report_csv
from euhydra.formats.report_csv import ReportRow
from euhydra.garden.sentences import say
from euhydra.planner.answers import Gap
from euhydra.planner.dates import MONTH_NAMES
from euhydra.planner.learning.report import SeasonReport, report
from euhydra.planner.today.following import Follow
from euhydra.planner.today.worth import WAYS, Worth, following
from euhydra.web.desk import Db, Desk, RowId, open_desk, piece_of
from euhydra.web.drawing import charts
from euhydra.web.logged_year import is_past, learned_of
from euhydra.web.pages.gardens import download
from euhydra.web.pages.station import Shown, StationPage
from euhydra.web.pages.year_choices import year_choices
from euhydra.web.pieces import END, in_pieces

router = APIRouter()

NOTHING_TOLD = Gap(
    say(
        "report-log-empty",
        "The log of this year is empty: what you water, measure and pick makes up the season.",
    )
)
"""Without a log a report would tell the plan's own sums as if they had been."""


def show_report(request: Request, desk: Desk, at: str) -> Shown:
    """The season told."""
    learned = learned_of(request, desk, at)
    if isinstance(learned, Gap):
        return Shown(None, learned)
    if not learned.told.log:
        return Shown(None, NOTHING_TOLD)
    season = desk.kept_with_log(request, ("report", learned.told.today), lambda: report(learned))
    chart = charts.season_chart(season, desk.revision.garden.units)
    return Shown(season, None, {"chart": chart, "past_year": at if is_past(desk, at) else ""})


BY_NAMES = {
    Follow.CARD: "The card, left alone",
    Follow.RULE: "The card, a run left out after {10 mm|rain} of rain",
    Follow.TODAY: "Today, every morning",
}


@router.get("/gardens/{garden_id}/worth", name="worth")
def worth(request: Request, garden_id: RowId, db: Db) -> StreamingResponse:
    """What following Today would have saved: way by way, for it takes some seconds; it ends when nobody listens."""
    desk = open_desk(request, db, garden_id)

    def told() -> Iterator[str]:
        before: Worth | Gap | None = desk.known(request, "worth")
        for found in [before] if before else following(desk.chain):
            gap = found if isinstance(found, Gap) else None
            more = {"worth": found, "gap": gap, "by_names": BY_NAMES, "of": len(WAYS)}
            yield piece_of(request, "_worth.html", desk, **more) + END
        desk.kept(request, "worth", lambda: found)  # the last, which is whole

    return in_pieces(told())


@router.get("/gardens/{garden_id}/season.csv", name="season_csv")
def season_table(request: Request, garden_id: RowId, db: Db, at: str = "") -> Response:
    """The season's report as a table."""
    desk = open_desk(request, db, garden_id)
    learned = learned_of(request, desk, at)
    if isinstance(learned, Gap):
        raise HTTPException(409, str(learned.sentence))
    if not learned.told.log:
        raise HTTPException(409, str(NOTHING_TOLD.sentence))
    text = report_csv.write(_rows(report(learned)))
    return download(text, "season.csv", "text/csv")


def _rows(found: SeasonReport) -> list[ReportRow]:
    rows: list[ReportRow] = []

    def of(about: str, name: str, **values: float | None) -> None:
        rows.extend(ReportRow(about, name, what, v) for what, v in values.items() if v is not None)

    for s in found.sources:
        of("source", s.name, reckoned_m3=s.reckoned, metered_m3=s.metered, money=s.money)
    for m in found.meters:
        litres = {"metered": m.metered, "summed": m.summed, "leaked": m.leaked}
        litres |= {"by_lines": m.by_lines, "rest": m.rest}
        of("meter", m.name, **{f"{what}_m3": _cubic(value) for what, value in litres.items()})
    for b in found.beds:
        felt = {"felt": b.felt, "felt_dry": b.felt_dry} if b.felt else {}
        of("bed", b.name, watered_m3=b.watered, dry_days=b.dry_days, **felt)
        of("bed", b.name, harvest_kg=b.harvest_kg)
    for month, given, drunk in zip(MONTH_NAMES, found.given, found.drunk, strict=True):
        of("month", month, given_m3=_cubic(given), drunk_m3=_cubic(drunk))
    return rows


def _cubic(litres: float) -> float:
    """[m³]"""
    return litres / LITRES_PER_CUBIC_METRE


PAGE = StationPage(
    key="report",
    station="keep",
    tab="The season",
    question="What did the season bring, and what do I change?",
    show=show_report,
    choices=year_choices,
)
