"""What the pages of care show: find the fault, upkeep, feed."""

from dataclasses import dataclass
from datetime import date

from fastapi import Request

from euhydra.garden import quantities
from euhydra.garden.quantities import QuantityError, System
from euhydra.planner.answers import Gap, Mark, PlanError, Sentence, Verdict
from euhydra.planner.keeping import causes, diagnosis, feed, upkeep
from euhydra.planner.keeping.diagnosis import Diagnosis
from euhydra.planner.keeping.feed import USUAL_RATIO, FedWater, FeedAnswer, FeedWay
from euhydra.planner.keeping.upkeep import Upkeep
from euhydra.records import log
from euhydra.web import log_words
from euhydra.web.desk import Desk
from euhydra.web.pages import keep_answers
from euhydra.web.pages.shown import Shown

FEED_WAYS = {
    FeedWay.BARREL: "Straight into the water of", FeedWay.RESERVE: "Into the reserves of",
    FeedWay.INJECTOR: "Through an injector on",
}  # fmt: skip

LABEL_BASE = {System.METRIC: 0.001, System.US: quantities.to_si(1, "gal", "volume")}
"""Water for which a label says how much concentrate it takes: a litre, or a gallon. [m³]"""

USUAL_STRENGTH = 0.005
"""Concentrate in water, where nothing is typed yet. [-] Common practice: 5 mL a litre."""


def show_fault(request: Request, desk: Desk, at: str) -> Shown:
    """From what one sees to what is wrong."""
    zone = desk.chain.zone(at)
    if isinstance(zone, Gap):
        return Shown(None, zone)
    if not zone.zone.outlets:
        return Shown(None, Gap(f"“{zone.zone.name}” has no outlets yet: lay a line on Lay."))
    seen = request.query_params.get("seen", "")
    symptoms = diagnosis.SYMPTOMS.values()
    if seen not in diagnosis.SYMPTOMS:
        asks = Verdict(
            Mark.BUT,
            Sentence(
                f"Say what you see at “{zone.zone.name}”; each cause is then tried on its pipes."
            ),
        )
        return Shown(_Asks(asks), None, {"symptoms": symptoms, "seen": "", "zone": zone.zone})
    try:
        found = desk.kept_with_log(
            request, f"fault {zone.zone.id} {seen}",
            lambda: diagnosis.diagnose(
                zone.zone, seen, keep_answers.log_of(request, desk, date.today())
            ),
        )  # fmt: skip
    except PlanError as error:
        return Shown(None, Gap(str(error)))
    return Shown(_Asks(_cause_first(found), found), None, {
        "symptoms": symptoms, "seen": seen, "zone": zone.zone, "leak_wide": causes.LEAK_WIDE,
    })  # fmt: skip


@dataclass(frozen=True)
class _Asks:
    verdict: Verdict
    found: Diagnosis | None = None


def _cause_first(found: Diagnosis) -> Verdict:
    if not found.likely:
        return Verdict(
            Mark.BUT,
            Sentence("None of the usual causes makes that on these pipes: measure at First run, and look again."),
        )  # fmt: skip
    first = found.likely[0]
    return Verdict(
        Mark.BUT,
        Sentence(f"Look first here: {first.kind.title[0].lower()}{first.kind.title[1:]}."),
        (first.said,),
    )


def show_upkeep(request: Request, desk: Desk, at: str) -> Shown:
    """What is due, and the lists of winter and spring."""
    if not desk.revision.garden.parts:
        return Shown(None, Gap("There is nothing to keep up yet: draw a store or a line on Lay."))
    return Shown(upkeep_of(request, desk), None, {"today": date.today()})


def upkeep_of(request: Request, desk: Desk) -> Upkeep:
    """With the whole log, since some things are done once in years."""
    with desk.reading(request) as conn:
        kinds = ("flush", "upkeep", "battery", "setting", "finger")
        done = log.in_order(conn, desk.revision.garden_id, None, *kinds)
    return upkeep.answer_upkeep(desk.chain, done, date.today())


def show_feed(request: Request, desk: Desk, at: str) -> Shown:
    """What to measure out, as asked in the address."""
    garden, asked = desk.revision.garden, request.query_params
    vessels = feed.vessels(garden)
    if not vessels:
        return Shown(
            None, Gap("There is no store, tap or reserve yet that feed could go into: add one.")
        )
    by_key = {vessel.key: vessel for vessel in vessels}
    here = by_key.get(asked.get("into", ""), vessels[0])
    before, units = by_key.get(asked.get("was", ""), here), garden.units
    volume = asked.get("volume")
    if volume in (None, "", quantities.show(before.volume, "volume", units)):
        # As proposed for what was chosen before: it follows what is chosen now.
        volume = quantities.show(here.volume, "volume", units)
    typed = {
        "into": here.key, "volume": volume or "",
        "strength": asked.get("strength") or quantities.show(USUAL_STRENGTH * LABEL_BASE[units], "cupful", units),
        "ratio": asked.get("ratio") or f"{USUAL_RATIO:g}",
    }  # fmt: skip
    groups = [
        (said, [v for v in vessels if v.way is way])
        for way, said in FEED_WAYS.items()
        if any(v.way is way for v in vessels)
    ]
    with desk.reading(request) as conn:
        fed = log.find(conn, desk.revision.garden_id, log.Search("feed"), 1)
    names = {part.id: part.name for part in garden.parts}
    more = {
        "vessels": groups, "typed": typed, "has_injector": here.way is FeedWay.INJECTOR,
        "last": log_words.shown(fed[0], garden, names) if fed else None,
    }  # fmt: skip
    try:
        answer = _fed(desk, here, typed)
    except (QuantityError, PlanError) as error:
        return Shown(None, Gap(str(error)), more)
    return Shown(answer, None, more)


def _fed(desk: Desk, vessel: FedWater, typed: dict[str, str]) -> FeedAnswer:
    units = desk.revision.garden.units
    volume = quantities.parse(typed["volume"], "volume", units)
    strength = quantities.parse(typed["strength"], "cupful", units) / LABEL_BASE[units]
    ratio = quantities.parse(typed["ratio"], "plain", units)
    if volume <= 0 or strength <= 0 or ratio < 1:
        raise PlanError(
            "Water and strength have to be more than nothing, and the ratio at least 1."
        )
    return feed.answer_feed(desk.revision.garden, vessel, volume, strength, ratio)
