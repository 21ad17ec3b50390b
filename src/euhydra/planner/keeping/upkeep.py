"""The year's upkeep: what is due when, by the plan, the record and the log; winter and spring."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from euhydra.core import frost
from euhydra.garden.logbook import LogEntry
from euhydra.garden.model import Garden
from euhydra.garden.pipes import Fitting
from euhydra.garden.pots import KeptBy
from euhydra.garden.sentences import Amount, Sentence, lowered, say, words
from euhydra.garden.timers import find_timer
from euhydra.planner.answers import Mark, Verdict
from euhydra.planner.catch import greywater
from euhydra.planner.chain import Chain
from euhydra.planner.keeping.line_tasks import line_tasks
from euhydra.planner.keeping.log_by_kind import LogByKind
from euhydra.planner.keeping.task import Task
from euhydra.planner.keeping.winter import Stored, hose_list, spring_list, winter_list
from euhydra.planner.water import zones

DIP_EVERY = timedelta(days=7)
"""Dips of a tank that floats empty and a hand fills. Common practice: once a week."""

SCREENS_EVERY = timedelta(days=90)
"""Leaf screens, first-flush tubes and gutters. Common practice: once a season, and after leaf fall."""

BEFORE_FROST = timedelta(days=10)
"""How long before the first frost of a poor year things come in."""

AFTER_FROST = timedelta(days=1)
"""How long after the last frost of a poor year all is put together again."""

SPRING = "Spring start-up, in order"
"""Title of the task that takes new batteries."""

FEEL_AFTER = timedelta(days=3)
"""After a setting was changed."""

FEEL_UNTIL = timedelta(days=14)
"""After a setting was changed: a finger later than that tells of the weather since. Our choice."""

BATTERY_MONTH_D = 30.4

NEAR_ITS_DAY = 60
"""Days before or after its day within which a task of the year counts as this year's. [d]"""


LOOK_AFTER, LOOK_UNTIL = timedelta(days=7), timedelta(days=30)
"""From planting to the first walk along its leaves, and how long it is asked for. Common practice: a week."""


@dataclass(frozen=True)
class Upkeep:
    """Everything that is due, soonest first; lists for winter and for spring."""

    tasks: tuple[Task, ...]
    winter: tuple[tuple[str, tuple[Sentence, ...]], ...]
    spring: tuple[Sentence, ...]
    hoses: tuple[Stored, ...]
    first_frost: date | None
    last_frost: date | None
    today: date

    @property
    def verdict(self) -> Verdict:
        """What is due now, or next."""
        due = [task for task in self.tasks if task.is_due(self.today)]
        if due:
            named = "; ".join(lowered(task.title) for task in due[:3])
            more = f"; and {len(due) - 3} more" if len(due) > 3 else ""
            return Verdict(
                Mark.BUT, say("keeping-due-now", "Due now: {named}{more}.", named=named, more=more)
            )
        if not self.tasks:
            return Verdict(Mark.WORKS, say("keeping-no-upkeep", "Nothing here needs upkeep yet."))
        task = self.tasks[0]
        return Verdict(
            Mark.WORKS,
            say(
                "keeping-due-next",
                "Nothing is due. Next: {task}, {day}.",
                task=lowered(task.title),
                day=in_words(task.due),
            ),
        )


def in_words(day: date) -> str:
    """Such as 3 June 2026."""
    return f"{day.day} {day:%B} {day.year}"


def answer_upkeep(chain: Chain, log: Sequence[LogEntry], today: date) -> Upkeep:
    """What is due when.

    Parameters
    ----------
    log : Oldest first.
    today : By the gardener's calendar.
    """
    last, first = _frosts(chain, today)
    done = LogByKind(log)
    tasks = [
        *line_tasks(chain, done, today),
        *_screens(chain.garden, done, today),
        *_drums(chain.garden, done, today),
        *_chains(chain.garden, done, first),
        *_hand_filled(chain, done, today),
        *_batteries(chain.garden, done, today, last),
        *_fingers(chain, done, today),
        *_leaves(chain.garden, done, today),
        *_seasons(chain.garden, done, last, first),
    ]
    return Upkeep(
        tuple(sorted(tasks, key=lambda t: t.due)),
        winter_list(chain.garden),
        spring_list(chain),
        tuple(hose_list(chain)),
        first,
        last,
        today,
    )


def _was_done(log: LogByKind, title: str, about: date) -> bool:
    """Whether a task of the year was ticked off near its day."""
    return any(
        e.note == title and abs((e.at.date() - about).days) <= NEAR_ITS_DAY
        for e in log.of("upkeep")
    )


def _hand_filled(chain: Chain, log: LogByKind, today: date) -> Iterator[Task]:
    """Tanks that floats empty unseen, and only a hand fills."""
    for zone in chain.zones:
        if not zone.zone.keeps_level or not zone.zone.is_filled_by_hand:
            continue
        store = zone.zone.source
        last = log.last(("dip",), store.id)
        yield Task(
            f"refill-{store.id}",
            f"Dip “{store.name}”",
            say(
                "keeping-refill-at-a-third",
                "Every week in season: when a third is left, fill it up; its floats empty it unseen (common practice).",
            ),
            (last or log.begun(today)) + DIP_EVERY,
            store.id,
            "dip",
            last,
        )


def _chains(garden: Garden, log: LogByKind, first: date | None) -> Iterator[Task]:
    """Tubes between planters, in which roots grow all summer: rinsed before the frost."""
    for pots in garden.pots:
        if pots.kept_by is KeptBy.CHAIN and first is not None:
            yield from _of_the_year(
                log,
                f"tubes-{pots.id}",
                f"Rinse the tubes and the float of “{pots.name}”",
                "At the end of the season: pull the tubes, rinse roots and mix out, take the float in before the frost.",
                first - BEFORE_FROST,
            )


def _screens(garden: Garden, log: LogByKind, today: date) -> Iterator[Task]:
    for spout in garden.downspouts:
        if spout.leads_to is None:
            continue
        last = log.last(("upkeep", "flush"), spout.id)
        yield Task(
            f"screen-{spout.id}",
            f"Gutter, screen and first flush of “{spout.name}”",
            say(
                "keeping-season-after-leaf",
                "Each season, and after leaf fall: clear the gutter, rinse the screen, empty the tube.",
            ),
            (last or log.begun(today)) + SCREENS_EVERY,
            spout.id,
            "upkeep",
            last,
        )
    for store in garden.stores:
        last = log.last(("upkeep",), store.id)
        yield Task(
            f"store-{store.id}",
            f"Look into “{store.name}”",
            say(
                "keeping-mesh-lid-whole",
                "Mesh and lid whole, no larvae, no smell; stand level, overflow clear; mud out once a "
                "year.",
            ),
            (last or log.begun(today)) + SCREENS_EVERY,
            store.id,
            "upkeep",
            last,
        )


def _drums(garden: Garden, log: LogByKind, today: date) -> Iterator[Task]:
    """Lint of washing water, in a bag or in the filter of its lines."""
    for drum in garden.greywaters:
        days = greywater.lint_days(drum)
        if days <= 0:
            continue
        zone = next((z for z in zones.zones_of(garden) if z.source.id == drum.id), None)
        own = [p.id for p in zone.way.parts if isinstance(p, Fitting)] if zone else []
        last = log.last(("upkeep", "flush"), drum.id, *own)
        yield Task(
            f"lint-{drum.id}",
            f"Lint bag and filter of “{drum.name}”",
            say(
                "keeping-lint",
                "After {holds} of washing water, every {days}; look into the drum then: no larvae, no smell, "
                "its float free.",
                holds=Amount(drum.lint_m3, "volume"),
                days=Amount.days(days),
            ),
            (last or log.begun(today)) + timedelta(days=days),
            drum.id,
            "upkeep",
            last,
        )


def _batteries(
    garden: Garden, log: LogByKind, today: date, last_frost: date | None
) -> Iterator[Task]:
    for timer in garden.timers:
        kind = find_timer(garden.own_timers, timer.kind)
        if kind.battery_months <= 0 or timer.body is not None:
            continue
        last = log.last(("battery",), timer.id)
        days = timedelta(days=round(kind.battery_months * BATTERY_MONTH_D))
        yield Task(
            f"battery-{timer.id}",
            f"Batteries of “{timer.name}”",
            say(
                "keeping-set-lasts-months",
                "A set lasts about {battery_months} months; a flat one leaves the valve as it stands.",
                battery_months=kind.battery_months,
            ),
            _set_since(log, last or log.begun(today), days, today, last_frost) + days,
            timer.id,
            "battery",
            last,
        )


def _set_since(
    log: LogByKind, since: date, lasts: timedelta, today: date, last_frost: date | None
) -> date:
    """From when a set of batteries counts: new ones go in at the start-up of the next spring."""
    if last_frost is None:
        return since
    springs = (_in_year(last_frost, since.year + more) + AFTER_FROST for more in (0, 1))
    spring = next(day for day in springs if day > since)
    is_changed = spring >= today or _was_done(log, SPRING, spring)
    return spring if spring <= since + lasts and is_changed else since


def _in_year(day: date, year: int) -> date:
    """The same day of another year, counted from its first."""
    return date(year, 1, 1) + (day - date(day.year, 1, 1))


def _fingers(chain: Chain, log: LogByKind, today: date) -> Iterator[Task]:
    """A finger test after a setting was changed, while none was made."""
    for zone in chain.zones:
        changes = log.of("setting", zone.zone.id)
        if not changes or today - changes[-1].at.date() > FEEL_UNTIL:
            continue
        for part in zone.zone.watered:
            felt = log.of("finger", part.id)
            if felt and felt[-1].at > changes[-1].at:
                continue
            yield Task(
                f"finger-{part.id}",
                f"Feel the soil of “{part.name}”",
                say(
                    "keeping-three-days-after",
                    "Two to three days after a setting was changed, a finger deep.",
                ),
                changes[-1].at.date() + FEEL_AFTER,
                part.id,
                "finger",
            )


def _leaves(garden: Garden, log: LogByKind, today: date) -> Iterator[Task]:
    """The first walk along the leaves after something was planted, while none was made."""
    for part in garden.planted:
        planted = log.of("planting", part.id)
        if not planted or today - planted[-1].at.date() > LOOK_UNTIL:
            continue
        if any(e.at > planted[-1].at for e in log.of("leaf", part.id)):
            continue
        yield Task(
            f"leaf-{part.id}",
            f"Look at the leaves of “{part.name}”",
            say(
                "keeping-week-after-planting",
                "A week after planting, in the morning: what droops then has not rooted or is thirsty (common practice).",
            ),
            planted[-1].at.date() + LOOK_AFTER,
            part.id,
            "leaf",
        )


def _frosts(chain: Chain, today: date) -> tuple[date | None, date | None]:
    """The next last frost of spring and first of autumn."""
    if chain.record is None:
        return None, None
    is_southern = chain.garden.place.latitude_deg < 0
    days = frost.frost_days(chain.record, frost.FROST_C, is_southern)
    if days is None:
        return None, None
    last, first = (_next(round(day), today) for day in days)
    return last, first


def _next(day_of_year: int, today: date) -> date:
    """The next day of the year called so; one just gone by counts for a month more."""
    this = date(today.year, 1, 1) + timedelta(days=day_of_year - 1)
    if this >= today - timedelta(days=30):
        return this
    return date(today.year + 1, 1, 1) + timedelta(days=day_of_year - 1)


def _seasons(
    garden: Garden, log: LogByKind, last: date | None, first: date | None
) -> Iterator[Task]:
    if first is not None:
        yield from _of_the_year(
            log,
            "winter",
            "Winter list: timers in, hoses drained, stores by-passed",
            "Ten days before the first frost that comes in one year of ten.",
            first - BEFORE_FROST,
        )
    if last is not None and garden.joinable:
        yield from _of_the_year(
            log,
            "spring",
            SPRING,
            "After the last frost that comes in one year of ten.",
            last + AFTER_FROST,
        )


def _of_the_year(log: LogByKind, key: str, title: str, why: str, due: date) -> Iterator[Task]:
    """A task that comes once a year; none while this year's is done."""
    if not _was_done(log, title, due):
        yield Task(key, title, words(why), due, None, "upkeep")
