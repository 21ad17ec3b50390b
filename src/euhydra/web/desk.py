"""What every page needs at hand: a connection, the garden and its chain, what was typed."""

import sqlite3
from collections.abc import AsyncIterator, Callable, Hashable
from contextlib import closing
from dataclasses import dataclass, replace
from datetime import date
from typing import Annotated, Any, TypeVar

from fastapi import Depends, Path, Request
from starlette.responses import Response

from euhydra.core.weather import DailyWeather
from euhydra.garden import plain_text
from euhydra.garden.pipes import Pipe
from euhydra.planner.chain import Chain, run_chain
from euhydra.planner.judgement.answer import Judgement, judge
from euhydra.planner.water.cut_lengths import cut_lengths
from euhydra.records import database, gardens, log, weather
from euhydra.records.gardens import Revision
from euhydra.records.weather import RecordInfo
from euhydra.web import logged_year
from euhydra.web.drawing import watercourse
from euhydra.web.kept import KeptResults
from euhydra.web.next_step import next_step
from euhydra.web.rendering import templates

T = TypeVar("T")


async def connection(request: Request) -> AsyncIterator[sqlite3.Connection]:
    """A connection for one request; made and closed here, for two more threads would take longer than it does."""
    conn = database.connect(request.app.state.database)
    try:
        yield conn
    finally:
        conn.close()


Db = Annotated[sqlite3.Connection, Depends(connection)]


async def typed_form(request: Request) -> AsyncIterator[dict[str, str]]:
    """Text fields of the form that was sent; read here, so that the pages need not be async.

    What no page could show again is left out of them.
    """
    async with request.form() as form:
        sent = form.items()
        yield {name: plain_text.lines(value) for name, value in sent if isinstance(value, str)}


Typed = Annotated[dict[str, str], Depends(typed_form)]


JUDGED_BY_LOG = "judgement and log"
"""Under which what the log says is kept."""

ANSWERS = 96
"""Answers kept about a garden as it stands: as many as all its pages show, and more."""

LAST_ROW = 2**63 - 1
"""Highest number that a row of the database can have."""

RowId = Annotated[int, Path(ge=0, le=LAST_ROW)]
"""A row's number in an address."""


@dataclass(frozen=True)
class Desk:
    """A garden as it stands, with everything a page about it shows.

    entries : In its log.
    logged : First and last day of the log; None while it is empty.
    """

    revision: Revision
    weather: RecordInfo | None
    chain: Chain
    entries: int
    logged: tuple[date, date] | None = None

    @property
    def key(self) -> tuple[Hashable, ...]:
        """What everything about this garden follows from."""
        return key_of(self.revision, self.weather)

    def kept(self, request: Request, what: Hashable, compute: Callable[[], T]) -> T:
        """What a page shows, worked out once for this garden and weather."""
        result: T = self._answers(request).get(what, compute)
        return result

    def known(self, request: Request, what: Hashable) -> Any:
        """What was kept, if it is there already; else None."""
        return self._answers(request).known(what)

    def _answers(self, request: Request) -> KeptResults[Any]:
        """What is kept about the garden as it stands; it goes with its chain, which most of it holds."""
        answers: KeptResults[KeptResults[Any]] = request.app.state.answers
        return answers.get(self.key, lambda: KeptResults(ANSWERS))

    def kept_with_log(self, request: Request, what: Hashable, compute: Callable[[], T]) -> T:
        """As `kept`, for what follows from the log and the day too."""
        return self.kept(request, self._with_log(request, what), compute)

    def _with_log(self, request: Request, what: Hashable) -> Hashable:
        with self.reading(request) as conn:
            state = log.state(conn, self.revision.garden_id)
        return what, state, date.today()

    def judgement(self, request: Request) -> Judgement:
        """All that is wrong with the garden and by its log, and how each station stands by it."""

        def compute() -> Judgement:
            by_log = logged_year.findings_of(request, self)
            return replace(self.plan_judgement(request), kept=by_log)

        return self.kept_with_log(request, JUDGED_BY_LOG, compute)

    def plan_judgement(self, request: Request) -> Judgement:
        """As `judgement`, but for what the log says: only Keep tells that."""
        return self.kept(request, "judgement", lambda: judge(self.chain))

    def known_judgement(self, request: Request) -> Judgement | None:
        """As `judgement` if it is worked out already, or has no log to wait for."""
        if self.logged is None:
            return self.judgement(request)
        known: Judgement | None = self.known(request, self._with_log(request, JUDGED_BY_LOG))
        return known

    def reading(self, request: Request) -> closing[sqlite3.Connection]:
        """A connection of its own, for what a page looks up besides."""
        return closing(database.connect(request.app.state.database))

    def context(self, request: Request) -> dict[str, Any]:
        """Names that every template of a garden may use."""
        known = self.known_judgement(request)
        judged = known or self.plan_judgement(request)
        stream = self.kept(
            request,
            ("stream", self.entries, known and known.kept),
            lambda: watercourse.draw(self.chain, judged, self.entries, is_log_read=bool(known)),
        )
        garden = self.revision.garden

        def cut_length(pipe: Pipe) -> float:
            return self.kept(request, "cut-lengths", lambda: cut_lengths(garden))[pipe.id]

        return {
            "cut_length": cut_length,
            "garden": garden,
            "garden_id": self.revision.garden_id,
            "revision": self.revision,
            "system": self.revision.garden.units,
            "weather_info": self.weather,
            "chain": self.chain,
            "watercourse": stream,
            "next_step": next_step(self.revision.garden, self.weather is not None),
        }


def open_desk(request: Request, conn: sqlite3.Connection, garden_id: int) -> Desk:
    """The garden with its chain.

    Raises
    ------
    NoSuchGardenError : if there is none.
    """
    revision = gardens.current(conn, garden_id)
    info = weather.in_use(conn, garden_id)

    def compute() -> Chain:
        return run_chain(revision.garden, _days(request, conn, info) if info else None)

    chains: KeptResults[Chain] = request.app.state.chains
    chain = chains.get(key_of(revision, info), compute)
    return Desk(revision, info, chain, log.count(conn, garden_id), log.span(conn, garden_id))


def _days(request: Request, conn: sqlite3.Connection, info: RecordInfo) -> DailyWeather:
    """A record's days, the very same each time, so that what follows from them alone is kept too."""
    records: KeptResults[DailyWeather] = request.app.state.records
    return records.get((info.id, info.created_at), lambda: weather.days(conn, info.id))


def key_of(revision: Revision, info: RecordInfo | None) -> tuple[Hashable, ...]:
    """What a garden's answers follow from: neither revision nor record ever changes.

    The number of a removed record may be given again: when it was made tells them apart.
    """
    return revision.id, (info.id, info.created_at) if info else None


def render(
    request: Request, template: str, desk: Desk | None = None, status: int = 200, **more: Any
) -> Response:
    """A page."""
    context = (desk.context(request) if desk else {}) | more
    return templates.TemplateResponse(request, template, context, status_code=status)


def piece_of(request: Request, template: str, desk: Desk, **more: Any) -> str:
    """A piece of a page, for a page that grows."""
    context = desk.context(request) | {"request": request} | more
    return templates.get_template(template).render(context)
