"""Keep: the season told, and its table."""

from fastapi import APIRouter, HTTPException, Request
from starlette.responses import Response

from euhydra.core.constants import LITRES_PER_CUBIC_METRE
from euhydra.formats import report_csv
from euhydra.planner.answers import Gap
from euhydra.planner.dates import MONTH_NAMES
from euhydra.planner.keeping import report
from euhydra.planner.learning.answer import Learned
from euhydra.web.desk import Db, Desk, RowId, open_desk
from euhydra.web.drawing import charts
from euhydra.web.pages.gardens import download
from euhydra.web.pages.judge import learned_of
from euhydra.web.pages.station import Shown, StationPage

router = APIRouter()


def show_report(request: Request, desk: Desk, at: str) -> Shown:
    """The season told."""
    learned = learned_of(request, desk)
    if isinstance(learned, Gap):
        return Shown(None, learned)
    season = desk.kept_with_log(request, "report", lambda: _report(learned))
    return Shown(season, None, {"chart": charts.season_chart(season, desk.revision.garden.units)})


@router.get("/gardens/{garden_id}/season.csv", name="season_csv")
def season_table(request: Request, garden_id: RowId, db: Db) -> Response:
    """The season's report as a table."""
    desk = open_desk(request, db, garden_id)
    learned = learned_of(request, desk)
    if isinstance(learned, Gap):
        raise HTTPException(409, str(learned.sentence))
    text = report_csv.write(_rows(_report(learned)))
    return download(text, "season.csv", "text/csv")


def _report(learned: Learned) -> report.SeasonReport:
    told = learned.told
    return report.report(told, told.today, [claim.said for claim in learned.claims])


def _rows(found: report.SeasonReport) -> list[report_csv.ReportRow]:
    rows = []
    for s in found.sources:
        values = (("reckoned_m3", s.reckoned), ("metered_m3", s.metered), ("money", s.money))
        rows += [
            report_csv.ReportRow("source", s.name, what, v) for what, v in values if v is not None
        ]
    for b in found.beds:
        values = (("watered_m3", b.watered), ("dry_days", b.dry_days), ("harvest_kg", b.harvest_kg))
        rows += [report_csv.ReportRow("bed", b.name, what, v) for what, v in values]
    for month, given, drunk in zip(MONTH_NAMES, found.given, found.drunk, strict=True):
        for what, litres in (("given_m3", given), ("drunk_m3", drunk)):
            rows.append(report_csv.ReportRow("month", month, what, litres / LITRES_PER_CUBIC_METRE))
    return rows


PAGE = StationPage(
    key="report",
    station="keep",
    tab="The season",
    question="What did the season bring, and what do I change?",
    show=show_report,
)
