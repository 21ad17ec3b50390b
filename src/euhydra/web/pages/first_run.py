"""Build: the first run of a zone."""

from dataclasses import replace

from fastapi import Request

from euhydra.planner.answers import Gap, PlanError
from euhydra.planner.keeping import diagnosis
from euhydra.planner.keeping.diagnosis import Diagnosis
from euhydra.planner.steps import first_run
from euhydra.planner.steps.first_run import FirstRun
from euhydra.planner.time import evening
from euhydra.records import log, prices
from euhydra.web.desk import Desk
from euhydra.web.drawing import plan
from euhydra.web.pages.fault import look_first
from euhydra.web.pages.plan_pieces import box_of, cut_from
from euhydra.web.pages.station import NOTHING_YET, Shown, StationPage, Tells
from euhydra.web.pages.zone_page import zone_choices


def show_first_run(request: Request, desk: Desk, at: str) -> Shown:
    """The first run of one zone, with what the log says of it."""
    zone = desk.chain.zone(at)
    if isinstance(zone, Gap) or isinstance(zone.push, Gap):
        return Shown(None, zone if isinstance(zone, Gap) else NOTHING_YET)
    with desk.reading(request) as conn:
        done = prices.ticked(conn, desk.revision.garden_id, "step")
    fills = () if isinstance(zone.time, Gap) else zone.time.fills
    asks = None if isinstance(zone.time, Gap) else evening.asks_of(zone.time.design)

    def compute() -> tuple[FirstRun, Diagnosis | None]:
        with desk.reading(request) as conn:
            entries = log.in_order(conn, desk.revision.garden_id, None, "flow", "dip", "fill")
        fill = fills[0] if fills else None
        told = first_run.answer_first_run(zone.zone, entries, fill, asks)
        return told, diagnosis.diagnose_measured(zone.zone, entries)

    try:
        answer, found = desk.kept_with_log(request, ("first run", zone.zone.id), compute)
    except PlanError as error:
        return Shown(None, Gap.of(error))
    parts = [part.id for part in (zone.zone.source, *zone.zone.way.parts)]
    return Shown(
        _with_cause(answer, found),
        None,
        {
            "done": done,
            "box": box_of(plan.bounds_of(desk.revision.garden), parts),
            "parts": parts,
            "found": found,
        }
        | cut_from(request, desk),
    )


def _with_cause(answer: FirstRun, found: Diagnosis | None) -> FirstRun:
    """The likeliest cause of what was measured, beside what is off."""
    if found is None or not found.likely:
        return answer
    return replace(answer, verdict=replace(answer.verdict, reasons=look_first(found)))


PAGE = StationPage(
    key="first-run",
    station="build",
    tab="First run",
    question="Does it give what it should?",
    show=show_first_run,
    tells=Tells.GRAVE,
    choices=zone_choices,
)
