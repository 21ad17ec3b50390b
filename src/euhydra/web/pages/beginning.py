"""Begin a garden from what somebody has: a way, its measures on a drawing, its answers beside them."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from functools import cached_property

from fastapi import APIRouter, HTTPException, Request
from pydantic import ValidationError
from starlette.responses import RedirectResponse, Response, StreamingResponse

from euhydra.core.weather import DailyWeather
from euhydra.garden import document, goods, normals, quantities, reference_climates
from euhydra.garden.model import Garden, Place
from euhydra.garden.part import Part
from euhydra.garden.quantities import QuantityError, System
from euhydra.garden.reference_climates import Located
from euhydra.garden.sentences import Sentence
from euhydra.planner.answers import PlanError
from euhydra.planner.beginning import ways
from euhydra.planner.beginning.asks import Ask, AskedValue, WayKind, way_kinds
from euhydra.planner.beginning.glance import Addition, Glance, glance_at, soon_at
from euhydra.planner.chain import begin_chain
from euhydra.planner.judgement.answer import judge
from euhydra.records import gardens
from euhydra.web.desk import Db, Desk, Typed, open_desk, render
from euhydra.web.pages import weather_places
from euhydra.web.pieces import END, in_pieces
from euhydra.web.rendering import templates

router = APIRouter()

USUAL_NAME = "My garden"

PLACES = ("roof", "tap", "drum", "store", "line", "plants", "ground")
"""Places of a drawing, in the order of the water."""

OWN_SOURCE = {"roof", "tap", "drum", "store"}
"""Places that a way without a source of its own does not ask about."""


@dataclass(frozen=True)
class Begun:
    """What was typed so far on the page of a way.

    base : The garden that it is added to; None for a new one.
    """

    way: WayKind
    typed: Mapping[str, str]
    units: System
    where: Located | None
    base: Desk | None

    @cached_property
    def feed(self) -> str | None:
        """The source that is there and that it is fed from, if one was chosen."""
        chosen = self.typed.get("feed", "")
        return chosen if any(source.id == chosen for source in self.feeds) else None

    @property
    def feeds(self) -> tuple[Part, ...]:
        """Sources that are there and that it may be fed from."""
        if self.base is None or self.way.is_source:
            return ()
        garden = self.base.revision.garden
        return (*garden.stores, *garden.taps)

    @property
    def asks(self) -> tuple[Ask, ...]:
        """What is asked; nothing about a source where it is fed from one that is there."""
        if self.feed is None:
            return self.way.asks
        return tuple(ask for ask in self.way.asks if ask.at not in OWN_SOURCE)

    @property
    def town_fault(self) -> str:
        """What is said of a town that is not known."""
        town = self.typed.get("town", "").strip()
        is_known = not town or self.where is not None
        return "" if is_known else weather_places.not_known(town)

    def shown(self, ask: Ask) -> str:
        """What stands in a field: what was typed, else the usual."""
        usual = ask.show(ask.usual_in(self.units), self.units)
        return self.typed.get(ask.id, "").strip() or usual

    def is_assumed(self, ask: Ask) -> bool:
        """Whether the usual value stands there."""
        return self.shown(ask) == ask.show(ask.usual_in(self.units), self.units)

    @cached_property
    def read(self) -> tuple[dict[str, AskedValue], dict[str, str]]:
        """What was typed, as values, and what is wrong with it, by the id of what was asked."""
        values: dict[str, AskedValue] = {}
        errors: dict[str, str] = {}
        for ask in self.asks:
            if self.is_assumed(ask):
                continue
            try:
                values[ask.id] = ask.parse(self.shown(ask), self.units)
            except QuantityError as error:
                errors[ask.id] = str(error)
        return values, errors

    @property
    def ground(self) -> Garden | None:
        """The garden before anything is added; None while nobody has said where it lies."""
        if self.base is not None:
            return self.base.revision.garden
        if self.where is None:
            return None
        return Garden(
            name=self.typed.get("name", "").strip() or USUAL_NAME,
            units=self.units,
            place=Place(
                latitude_deg=self.where.latitude,
                elevation_m=self.where.place.elevation_m,
                hose_thread=goods.hose_thread_in(self.where.place.country),
            ),
        )


@dataclass(frozen=True)
class Outcome:
    """The garden that would be kept, or why there is none; with what it answers where that is asked."""

    garden: Garden | None = None
    fault: Sentence | str | None = None
    glance: Glance | None = None


@router.get("/begin", name="begin")
def choose(request: Request, db: Db, into: int | None = None) -> Response:
    """All ways, for a new garden or for one that is there."""
    desk = None if into is None else open_desk(request, db, into)
    return render(request, "ways.html", desk, ways=way_kinds().values(), into=into)


@router.get("/begin/{way_id}", name="begin_way")
def way_page(request: Request, way_id: str, db: Db) -> Response:
    """One way: its measures on the drawing, and the answers beside it."""
    return _show(request, _begun(request, db, way_id, dict(request.query_params)))


@router.get("/begin/{way_id}/glance", name="begin_glance")
def glance(request: Request, way_id: str, db: Db) -> StreamingResponse:
    """The answers alone, as somebody types: what is soon worked out, then all of them."""
    begun = _begun(request, db, way_id, dict(request.query_params))
    outcome = _outcome(request, begun)
    record = None if outcome.garden is None else _record(request, begun)

    def told() -> Iterator[str]:
        if outcome.garden is None:
            yield _glance(request, begun, outcome)
            return
        chain = begin_chain(outcome.garden, record)
        added = _added(begun, outcome.garden)
        soon = soon_at(chain, added)
        if soon.awaited:
            yield _glance(request, begun, replace(outcome, glance=soon)) + END
        judged = judge(chain.finished())
        yield _glance(request, begun, replace(outcome, glance=glance_at(judged, added)))

    return in_pieces(told())


def _added(begun: Begun, garden: Garden) -> Addition | None:
    if begun.base is None:
        return None
    return Addition.to(begun.base.revision.garden, garden, begun.feed or "")


def _glance(request: Request, begun: Begun, outcome: Outcome) -> str:
    return templates.get_template("_glance.html").render(
        request=request, begun=begun, outcome=outcome, system=begun.units, way=begun.way
    )


@router.post("/begin/{way_id}", name="keep_begun")
def keep(request: Request, way_id: str, db: Db, typed: Typed) -> Response:
    """The garden as it stands there becomes one of the owner's."""
    begun = _begun(request, db, way_id, typed)
    outcome = _outcome(request, begun)
    if outcome.garden is None:
        return _show(request, begun, outcome, status=422)
    return _kept(request, db, begun, outcome.garden)


def _kept(request: Request, db: Db, begun: Begun, garden: Garden) -> Response:
    if begun.base is not None:
        revision = begun.base.revision
        change = f"{begun.way.name}: added"
        gardens.save(db, revision.garden_id, revision.id, garden, change)
        garden_id = revision.garden_id
    else:
        assert begun.where is not None
        garden_id = gardens.create(db, garden)
        weather_places.give(db, garden_id, garden, begun.where)
    first = "lay" if begun.way.id != "can" else "need"
    url = request.url_for("station", garden_id=garden_id, station=first)
    # The first page of a new garden says once how to go on.
    told = url.include_query_params(begun="yes") if begun.base is None else url
    return RedirectResponse(told, 303)


def _show(
    request: Request, begun: Begun, outcome: Outcome | None = None, status: int = 200
) -> Response:
    desk = begun.base
    return render(
        request,
        "way.html",
        desk,
        status,
        begun=begun,
        way=begun.way,
        places=[place for place in PLACES if place in begun.way.draws],
        towns=[place.label for place in reference_climates.all_places()],
        outcome=outcome,
        system=begun.units,
    )


def _begun(request: Request, db: Db, way_id: str, typed: Mapping[str, str]) -> Begun:
    if way_id not in way_kinds():
        raise HTTPException(404, f"There is no way to begin called “{way_id}”.")
    into = typed.get("into", "")
    base = open_desk(request, db, int(into)) if into.isdecimal() else None
    if base is not None:
        return Begun(way_kinds()[way_id], typed, base.revision.garden.units, None, base)
    where = reference_climates.located(typed.get("town", ""))
    said = typed.get("units", "")
    country = where.place.country if where else ""
    units = System(said) if said in list(System) else quantities.usual_system(country)
    return Begun(way_kinds()[way_id], typed, units, where, None)


def _outcome(request: Request, begun: Begun) -> Outcome:
    """The garden worked out, as far as what was typed goes."""
    ground = begun.ground
    values, errors = begun.read
    if ground is None:
        town = "a town that is known here" if begun.town_fault else "a town near it"
        return Outcome(fault=f"Say where it is: {town}, or latitude and longitude.")
    if errors:
        label = next(ask.label for ask in begun.asks if ask.id in errors)
        return Outcome(fault=f"{label}: {next(iter(errors.values()))}")
    record = _record(request, begun)
    try:
        garden = ways.begin(ground, begun.way, values, record, begun.feed)
    except ValidationError as error:
        return Outcome(fault=document.message_of(error.errors()[0], begun.units))
    except PlanError as error:
        return Outcome(fault=error.sentence)
    return Outcome(garden)


def _record(request: Request, begun: Begun) -> DailyWeather | None:
    """The weather of the garden, or of the place where it lies; the very same each time."""
    if begun.base is not None:
        return begun.base.chain.record
    assert begun.where is not None
    place = begun.where.place
    kept = request.app.state.records
    months = place.at_height(place.elevation_m)
    record: DailyWeather = kept.get(("place", place.label), lambda: normals.make_days(months))
    return record
