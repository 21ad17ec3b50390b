"""What every page needs at hand: a connection, the garden, its chain, and how to render."""

import sqlite3
from collections import OrderedDict
from collections.abc import Callable, Iterator
from contextlib import closing
from dataclasses import dataclass
from datetime import date
from functools import lru_cache
from pathlib import Path
from threading import Lock
from typing import Annotated, Any, Generic, TypeVar
from zlib import crc32

from fastapi import Depends, Request
from fastapi.templating import Jinja2Templates
from jinja2 import pass_context
from jinja2.runtime import Context
from starlette.applications import Starlette
from starlette.responses import Response

from euhydra.core.weather import DailyWeather
from euhydra.garden import plumbing
from euhydra.planner.chain import Chain, run_chain
from euhydra.records import database, gardens, log, weather
from euhydra.records.gardens import Revision
from euhydra.records.weather import RecordInfo
from euhydra.web import wording
from euhydra.web.cautions import cautions_at
from euhydra.web.drawing import watercourse
from euhydra.web.next_step import next_step

HERE = Path(__file__).parent
MOST_KEPT = 8
"""Results kept of each sort."""

T = TypeVar("T")

templates = Jinja2Templates(HERE / "templates")
templates.env.filters.update(wording.FILTERS)
templates.env.trim_blocks = templates.env.lstrip_blocks = True
templates.env.globals["cautions_at"] = cautions_at
templates.env.globals["choice_lists"] = wording.choice_lists
templates.env.globals["pipe_kinds"] = lambda: list(plumbing.pipe_kinds().values())
templates.env.globals["fitting_kinds"] = lambda: list(plumbing.fitting_kinds().values())
templates.env.globals["parts_of"] = lambda parts: [(part.id, part.name) for part in parts]


@lru_cache(maxsize=4096)
def _path(app: Starlette, name: str, params: tuple[tuple[str, Any], ...]) -> str:
    return str(app.url_path_for(name, **dict(params)))


@pass_context
def path(context: Context, name: str, **params: Any) -> str:
    """In a template, the path of the route called `name`."""
    return _path(context["request"].app, name, tuple(sorted(params.items())))


templates.env.globals["path"] = path


Key = tuple[int, ...]
"""Revision, weather record (0 for none) and when that was made, and more where needed. None of these
ever changes, so what follows from them stays."""


class Recent(Generic[T]):
    """The last few results by key, so that turning a page computes nothing again."""

    def __init__(self, most: int = MOST_KEPT) -> None:
        self._most = most
        self._results: OrderedDict[Key, T] = OrderedDict()
        self._lock = Lock()

    def clear(self) -> None:
        """Forget all of them."""
        with self._lock:
            self._results.clear()

    def get(self, key: Key, compute: Callable[[], T]) -> T:
        """The result of `key`, computed the first time it is asked for."""
        with self._lock:
            if key in self._results:
                self._results.move_to_end(key)
                return self._results[key]
        result = compute()
        with self._lock:
            self._results[key] = result
            while len(self._results) > self._most:
                self._results.popitem(last=False)
        return result


def connection(request: Request) -> Iterator[sqlite3.Connection]:
    """A connection for one request."""
    conn = database.connect(request.app.state.database)
    try:
        yield conn
    finally:
        conn.close()


Db = Annotated[sqlite3.Connection, Depends(connection)]


async def typed_form(request: Request) -> dict[str, str]:
    """Text fields of the form that was sent; read here, so that the pages need not be async."""
    return {name: value for name, value in (await request.form()).items() if isinstance(value, str)}


Typed = Annotated[dict[str, str], Depends(typed_form)]


@dataclass(frozen=True)
class Desk:
    """A garden as it stands, with everything a page about it shows."""

    revision: Revision
    weather: RecordInfo | None
    chain: Chain
    entries: int
    """In the log."""

    @property
    def key(self) -> Key:
        """What everything about this garden follows from."""
        return key_of(self.revision, self.weather)

    def kept(self, request: Request, what: str, compute: Callable[[], T]) -> T:
        """What a page of the seasons shows, worked out once for this garden and weather."""
        answers: Recent[Any] = request.app.state.season_answers
        result: T = answers.get((*self.key, crc32(what.encode())), compute)
        return result

    def kept_with_log(self, request: Request, what: str, compute: Callable[[], T]) -> T:
        """As `kept`, for what follows from the log and the day too."""
        with self.reading(request) as conn:
            state = log.state(conn, self.revision.garden_id)
        return self.kept(request, f"{what} {state} {date.today()}", compute)

    def reading(self, request: Request) -> closing[sqlite3.Connection]:
        """A connection of its own, for what a page looks up besides."""
        return closing(database.connect(request.app.state.database))

    def context(self, request: Request) -> dict[str, Any]:
        """Names that every template of a garden may use."""
        stream = self.kept(
            request, f"stream {self.entries}", lambda: watercourse.draw(self.chain, self.entries)
        )
        return {
            "garden": self.revision.garden,
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

    chains: Recent[Chain] = request.app.state.chains
    chain = chains.get(key_of(revision, info), compute)
    return Desk(revision, info, chain, log.count(conn, garden_id))


def _days(request: Request, conn: sqlite3.Connection, info: RecordInfo) -> DailyWeather:
    """A record's days, the very same each time, so that what follows from them alone is kept too."""
    records: Recent[DailyWeather] = request.app.state.records
    key = (info.id, crc32(info.created_at.encode()))
    return records.get(key, lambda: weather.days(conn, info.id))


def key_of(revision: Revision, info: RecordInfo | None) -> Key:
    """What a garden's answers follow from; the number of a removed record may be given again."""
    if info is None:
        return revision.id, 0, 0
    return revision.id, info.id, crc32(info.created_at.encode())


def render(
    request: Request, template: str, desk: Desk | None = None, status: int = 200, **more: Any
) -> Response:
    """A page."""
    context = (desk.context(request) if desk else {}) | more
    return templates.TemplateResponse(request, template, context, status_code=status)
