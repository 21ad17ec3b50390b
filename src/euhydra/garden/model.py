"""The garden document: one model in SI, every object with an id, links by id.

Each field carries what a page needs to ask for it: `title` (the label), `description` (one line
of help) and the kind of quantity. The published JSON Schema is made from the same fields.
"""

from collections.abc import Iterator
from typing import Literal, Self

from pydantic import Field, field_validator, model_validator

from euhydra.garden import goods, joints, kinds, store_groups
from euhydra.garden.beds import Bed
from euhydra.garden.drinker import Drinker
from euhydra.garden.part import Link, Model, Name, Part, asked, known_entry, link_of, refuse
from euhydra.garden.patches import Backdrop, Patch, Spot
from euhydra.garden.pipes import Fitting, Piece, Pipe, Pump
from euhydra.garden.plantings import OWN, OwnCrop, Planting
from euhydra.garden.pots import Pots
from euhydra.garden.quantities import System
from euhydra.garden.roofs import Downspout, Roof
from euhydra.garden.sources import Greywater, Tap, WetGround
from euhydra.garden.stores import DESTINATIONS, Store
from euhydra.garden.timers import OwnTimer, Timer, check_bodies

SCHEMA_VERSION: Literal[3] = 3

MOST = 40
"""Most objects of one kind. More is a nursery, not a garden."""

MOST_PIPES = 600
"""Most pipes, and most pieces of one kind between them."""


class Place(Model):
    """Where on Earth the garden lies."""

    latitude_deg: float = asked(
        "Latitude", "angle", "North is plus, south is minus.", ge=-90, le=90
    )
    elevation_m: float = asked("Height above the sea", "elevation", "", ge=-430, le=5500)
    hose_thread: str = asked(
        "Hoses are screwed on with", "threads", "As on the taps where you live.", default="g34"
    )

    _known_thread = field_validator("hose_thread")(lambda v: known_entry(v, goods.threads()))


class Garden(Model):
    """A whole garden."""

    schema_version: Literal[3] = SCHEMA_VERSION
    name: Name
    units: System = Field(System.METRIC, title="Units")
    place: Place
    roofs: tuple[Roof, ...] = Field((), max_length=MOST)
    downspouts: tuple[Downspout, ...] = Field((), max_length=MOST)
    stores: tuple[Store, ...] = Field((), max_length=MOST)
    taps: tuple[Tap, ...] = Field((), max_length=MOST)
    beds: tuple[Bed, ...] = Field((), max_length=MOST)
    pots: tuple[Pots, ...] = Field((), max_length=MOST)
    plantings: tuple[Planting, ...] = Field((), max_length=5 * MOST)
    own_crops: tuple[OwnCrop, ...] = Field((), max_length=MOST)
    own_timers: tuple[OwnTimer, ...] = Field((), max_length=MOST)
    pipes: tuple[Pipe, ...] = Field((), max_length=MOST_PIPES)
    timers: tuple[Timer, ...] = Field((), max_length=MOST)
    fittings: tuple[Fitting, ...] = Field((), max_length=MOST_PIPES)
    pumps: tuple[Pump, ...] = Field((), max_length=MOST)
    greywaters: tuple[Greywater, ...] = Field((), max_length=MOST)
    wet_grounds: tuple[WetGround, ...] = Field((), max_length=MOST)
    patches: tuple[Patch, ...] = Field((), max_length=MOST)
    spots: tuple[Spot, ...] = Field((), max_length=10 * MOST)
    backdrop: Backdrop | None = None

    @property
    def parts(self) -> tuple[Part, ...]:
        """Every object of the garden."""
        return tuple(part for kind in kinds.PART_KINDS for part in getattr(self, kind.collection))

    @model_validator(mode="after")
    def _ids_are_unique(self) -> Self:
        seen: set[str] = set()
        for part in self.parts:
            if part.id in seen or part.id in DESTINATIONS:
                raise refuse(
                    "same-id-twice",
                    "Two objects have the id “{id}”: give one of them another.",
                    id=part.id,
                )
            seen.add(part.id)
        return self

    @model_validator(mode="after")
    def _links_lead_somewhere(self) -> Self:
        for part, target, what, there in self._links():
            if target not in there:
                raise refuse(
                    "leads-nowhere",
                    "“{part}” leads to the {what} “{target}”, which is not in the garden: add it, or lead "
                    "“{part}” elsewhere.",
                    part=part.name,
                    what=what,
                    target=target,
                )
        return self

    def _links(self) -> Iterator[tuple[Part, str, str, set[str]]]:
        """Every link: from where, to which id, what that should be, and the ids there are."""
        goals: dict[Link, tuple[str, set[str]]] = {}
        for kind in kinds.PART_KINDS:
            fields = kind.model.model_fields.items()
            links = [(name, link) for name, field in fields if (link := link_of(field))]
            for part in getattr(self, kind.collection):
                for name, link in links:
                    target = getattr(part, name)
                    if target is None or target in link.also:
                        continue
                    if link not in goals:
                        goals[link] = self._goals_of(link)
                    yield part, target, *goals[link]
        sources = {p.id for p in self.sources}
        for part in self.planted:
            for target in part.sources:
                yield part, target, "source", sources

    def _goals_of(self, link: Link) -> tuple[str, set[str]]:
        """What a link leads to: in words, and the ids there are."""
        collections = kinds.linked_collections(link)
        nouns = (kinds.kind_named(c).noun for c in collections)
        return " or ".join(nouns), {p.id for c in collections for p in getattr(self, c)}

    @model_validator(mode="after")
    def _water_runs_downhill(self) -> Self:
        store_groups.check_shares(self.roofs, self.downspouts)
        store_groups.check_downspouts(self.downspouts)
        store_groups.check_links(self.stores)
        store_groups.check_overflows(self.stores, self.downspouts)
        return self

    @model_validator(mode="after")
    def _pipes_are_joined_one_by_one(self) -> Self:
        joints.check_joints(self.joinable)
        joints.check_outlines(self.beds, self.patches)
        return self

    @model_validator(mode="after")
    def _own_entries_are_there(self) -> Self:
        own = {entry.id for entry in (*self.own_crops, *self.own_timers)}
        growing: tuple[Drinker | Planting, ...] = (*self.planted, *self.plantings)
        for name, kind in [
            *((part.name, part.crop) for part in growing),
            *((timer.name, timer.kind) for timer in self.timers),
        ]:
            if kind.startswith(OWN) and kind not in own:
                raise refuse(
                    "not-described",
                    "“{name}” names “{kind}”, which you have not described: choose another there, or "
                    "describe that one.",
                    name=name,
                    kind=kind,
                )
        check_bodies(self.timers, self.own_timers)
        return self

    @property
    def sources(self) -> tuple[Store | Tap | Greywater, ...]:
        """Where the water of a zone may come from."""
        return (*self.stores, *self.taps, *self.greywaters)

    @property
    def pieces(self) -> tuple[Piece, ...]:
        """Everything that sits at one place between pipes."""
        return (*self.timers, *self.fittings, *self.pumps)

    @property
    def fed(self) -> tuple[Piece | Pipe, ...]:
        """Everything that is fed by something."""
        return (*self.pieces, *self.pipes)

    @property
    def planted(self) -> tuple[Drinker, ...]:
        """Everything that drinks."""
        drinkers = (kind.collection for kind in kinds.PART_KINDS if kind.drinks)
        return tuple(part for collection in drinkers for part in getattr(self, collection))

    @property
    def joinable(self) -> tuple[joints.Joinable, ...]:
        """Everything that water comes through on its way from a source."""
        return (*self.sources, *self.fed)

    @model_validator(mode="after")
    def _no_source_twice(self) -> Self:
        for part in self.planted:
            if len(set(part.sources)) < len(part.sources):
                raise refuse(
                    "names-source-twice",
                    "“{part}” names a source twice: name each once, in order.",
                    part=part.name,
                )
        return self
