"""Upkeep of what water runs through: filters by their water, screens of floats, lines that are flushed in season."""

from collections.abc import Iterator
from datetime import date, timedelta

from euhydra.core.constants import LITRES_PER_CUBIC_METRE
from euhydra.garden.pipes import Fitting
from euhydra.garden.plumbing import FittingRole
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.garden.sources import Tap
from euhydra.planner.answers import Gap
from euhydra.planner.chain import Chain, ZoneChain
from euhydra.planner.keeping.log_by_kind import LogByKind
from euhydra.planner.keeping.task import Task
from euhydra.planner.water import laws

FILTER_STORE, FILTER_MAINS = 1.0, 5.0
"""Water through a filter before it is cleaned: from a roof, from the mains. [m³] Common practice."""

FLOAT_EVERY = timedelta(days=30)
"""Screen and float of planters that water themselves. Common practice: once a month."""

FLUSH_EVERY = timedelta(days=60)
"""Lines are flushed so often in season. Common practice: every two months."""


def line_tasks(chain: Chain, log: LogByKind, today: date) -> Iterator[Task]:
    """Of every zone."""
    yield from _filters(chain, log, today)
    yield from _lines(chain, log, today)


def _filters(chain: Chain, log: LogByKind, today: date) -> Iterator[Task]:
    for zone in chain.zones:
        for piece in zone.zone.way.parts:
            if not isinstance(piece, Fitting) or piece.role is not FittingRole.FILTERS:
                continue
            if zone.zone.drum is not None:
                continue  # by its lint: see ``upkeep``
            a_day = litres_a_day(zone, today) / LITRES_PER_CUBIC_METRE
            holds = FILTER_MAINS if isinstance(zone.zone.source, Tap) else FILTER_STORE
            last = log.last(("flush", "upkeep"), piece.id)
            if zone.zone.keeps_level:
                yield _screen_of_float(zone, piece, last, log.begun(today))
                continue
            days = min(180, max(7, round(holds / a_day))) if a_day > 0 else 180
            yield Task(
                f"filter-{piece.id}",
                f"Clean “{piece.name}”",
                _why_filter(days, holds, a_day, is_on=_waters_in(zone, today)),
                _in_season(zone, (last or log.begun(today)) + timedelta(days=days), today),
                piece.id,
                "flush",
                last,
            )


def _why_filter(days: int, holds: float, a_day: float, *, is_on: bool) -> Sentence:
    """After how much water, and how much flows now, or in the month that takes most. [m³, m³ d⁻¹]"""
    amounts = {
        "holds": Amount(holds, "volume"),
        "day": Amount(a_day, "volume"),
        "days": Amount.days(days),
    }
    if is_on:
        return say(
            "keeping-after-day-now",
            "After {holds}, at {day} a day now; every {days}, at least twice a year (common practice).",
            **amounts,
        )
    return say(
        "keeping-after-day-most",
        "After {holds}, at up to {day} a day in season; every {days} then, at least twice a year (common"
        " practice).",
        **amounts,
    )


def _waters_in(zone: ZoneChain, today: date) -> bool:
    """Whether the plan has the zone on in this month."""
    return zone.running is not None and bool(zone.running.months[today.month - 1].setting)


def _screen_of_float(zone: ZoneChain, piece: Fitting, last: date | None, begun: date) -> Task:
    """Before a float: a grain that keeps it open lets the box run over."""
    return Task(
        f"filter-{piece.id}",
        f"Clean “{piece.name}”, and try the float",
        say(
            "keeping-screen-of-float",
            "Once a month: rinse the screen, lift the float of “{zone}” and see that it shuts; no algae, no larvae.",
            zone=zone.zone.name,
        ),
        (last or begun) + FLOAT_EVERY,
        piece.id,
        "flush",
        last,
    )


def _in_season(zone: ZoneChain, due: date, today: date) -> date:
    """The day itself while the zone waters then, else the first of the month in which it does again."""
    if isinstance(zone.time, Gap):
        return due
    on = [m.month for m in zone.time.months if m.setting]
    at = max(due, today)
    if at.month in on or not on:
        return due
    year = at.year + (max(on) < at.month)
    return date(year, min((m for m in on if m > at.month), default=min(on)), 1)


def litres_a_day(zone: ZoneChain, today: date) -> float:
    """What the plan gives in this month, or in the month that takes most where it is off. [L d⁻¹]"""
    if zone.running is None:
        return 0.0
    setting = zone.running.months[today.month - 1].setting
    given = [m.setting.litres_a_day for m in zone.running.months if m.setting]
    return setting.litres_a_day if setting else max(given, default=0.0)


def _lines(chain: Chain, log: LogByKind, today: date) -> Iterator[Task]:
    for zone in chain.zones:
        ids = [pipe.id for pipe in zone.zone.pipes if laws.gives(pipe)]
        if not ids or zone.zone.keeps_level:
            continue  # what ends in a float has no end to open: its screen and tubes are rinsed
        last = log.last(("flush",), *ids, zone.zone.id)
        yield Task(
            f"flush-{zone.zone.id}",
            f"Flush the lines of “{zone.zone.name}”",
            say(
                "keeping-months-season-open",
                "Every two months in season: open the ends until it runs clear.",
            ),
            _in_season(zone, (last or log.begun(today)) + FLUSH_EVERY, today),
            ids[0],
            "flush",
            last,
        )
