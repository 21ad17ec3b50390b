"""Keep: what feed to measure out."""

from datetime import date

from fastapi import Request

from euhydra.core.constants import CUBIC_METRES_PER_GALLON, LITRES_PER_CUBIC_METRE
from euhydra.garden import quantities
from euhydra.garden.quantities import QuantityError, System
from euhydra.garden.sentences import say
from euhydra.planner.answers import Gap, PlanError
from euhydra.planner.keeping import feed
from euhydra.planner.keeping.feed import USUAL_RATIO, FedWater, FeedAnswer, FeedWay
from euhydra.records import log
from euhydra.web import log_words
from euhydra.web.desk import Desk
from euhydra.web.logged_year import learned_of, log_of
from euhydra.web.pages.station import Shown, StationPage

FEED_WAYS = {
    FeedWay.BARREL: "Straight into the water of",
    FeedWay.RESERVE: "Into the reserves of",
    FeedWay.INJECTOR: "Through an injector on",
}

LABEL_BASE = {System.METRIC: 0.001, System.US: CUBIC_METRES_PER_GALLON}
"""Water for which a label says how much concentrate it takes: a litre, or a gallon. [m³]"""

USUAL_STRENGTH = 0.004
"""Concentrate in water, where nothing is typed yet. [-] Common practice: 4 mL a litre, a tablespoon a gallon."""


def show_feed(request: Request, desk: Desk, at: str) -> Shown:
    """What to measure out, as asked in the address."""
    garden, asked = desk.revision.garden, request.query_params
    learned = learned_of(request, desk)
    log_now = log_of(request, desk, date.today())
    vessels = feed.vessels(garden, log_now)
    if not isinstance(learned, Gap):
        water = {s.group.id: float(s.water[-1]) / LITRES_PER_CUBIC_METRE for s in learned.stores}
        vessels = feed.vessels(garden, log_now, learned.told, water)
    if not vessels:
        return Shown(
            None,
            Gap(
                say(
                    "feed-nothing-to-feed",
                    "There is no store, tap or reserve yet that feed could go into: add one.",
                )
            ),
        )
    by_key = {vessel.key: vessel for vessel in vessels}
    here = by_key.get(asked.get("into", ""), vessels[0])
    before, units = by_key.get(asked.get("was", ""), here), garden.units
    volume = asked.get("volume")
    if volume in (None, "", quantities.typed(before.volume, "volume", units)):
        # As proposed for what was chosen before: it follows what is chosen now.
        volume = quantities.typed(here.volume, "volume", units)
    typed = {
        "into": here.key,
        "volume": volume or "",
        "strength": asked.get("strength")
        or quantities.typed(USUAL_STRENGTH * LABEL_BASE[units], "cupful", units),
        "ratio": asked.get("ratio") or f"{USUAL_RATIO:g}",
    }
    groups = [
        (said, [v for v in vessels if v.way is way])
        for way, said in FEED_WAYS.items()
        if any(v.way is way for v in vessels)
    ]
    with desk.reading(request) as conn:
        fed = log.find(conn, desk.revision.garden_id, log.Search("feed"), 1)
    names = {part.id: part.name for part in garden.parts}
    more = {
        "vessels": groups,
        "typed": typed,
        "has_injector": here.way is FeedWay.INJECTOR,
        "last": log_words.shown(fed[0], garden, names) if fed else None,
    }
    try:
        answer = _fed(desk, here, typed)
    except (QuantityError, PlanError) as error:
        return Shown(None, Gap.of(error), more)
    return Shown(answer, None, more)


def _fed(desk: Desk, vessel: FedWater, typed: dict[str, str]) -> FeedAnswer:
    units = desk.revision.garden.units
    volume = quantities.parse(typed["volume"], "volume", units)
    strength = quantities.parse(typed["strength"], "cupful", units) / LABEL_BASE[units]
    ratio = quantities.parse(typed["ratio"], "plain", units)
    if volume <= 0 or strength <= 0 or ratio < 1:
        raise PlanError(
            say(
                "feed-water-strength-ratio",
                "Water and strength have to be more than nothing, and the ratio at least 1.",
            )
        )
    return feed.answer_feed(desk.revision.garden, vessel, volume, strength, ratio)


PAGE = StationPage(
    key="feed",
    station="keep",
    tab="Feed",
    question="How much feed goes in?",
    show=show_feed,
)
