"""The water's way from a source through pieces and pipes, as a network of nodes and links.

A pipe is cut where an outlet sits, where another begins or joins it, and at its end. Nodes are
called like the part they belong to: a source or a piece by its id, places along a pipe by its id
and their number. A link is called like the node it leads to.
"""

from dataclasses import dataclass, field, replace
from functools import cached_property
from math import pi
from typing import NamedTuple

import numpy as np

from euhydra.core.constants import GRAVITY
from euhydra.core.network import Network, NetworkBuilder, NetworkError, ValveKind
from euhydra.garden import catalogue, plumbing
from euhydra.garden.beds import Bed
from euhydra.garden.joints import SAME_PLACE
from euhydra.garden.model import Garden
from euhydra.garden.pipes import Piece, Pipe, Pump
from euhydra.garden.plumbing import OutletKind
from euhydra.garden.pots import Pots
from euhydra.garden.sentences import say
from euhydra.garden.sources import Greywater, Tap
from euhydra.garden.stores import Store
from euhydra.planner.answers import PlanError
from euhydra.planner.same import Asked, kept
from euhydra.planner.water.cut_lengths import cut_m
from euhydra.planner.water.ground import ground_of
from euhydra.planner.water.laws import (
    USUAL_BORE,
    as_printed,
    bore_of,
    kind_of,
    law_of_hole,
    outlet_law,
    outlet_places,
    pump_curve,
    valve_of,
)

MOST_OUTLETS = 10_000
"""Most outlets of a zone that are solved."""

Source = Store | Tap | Greywater
Joined = Piece | Pipe

# Outlets, stops and segments are tuples, which are made in a third of the time of other classes: a zone has
# thousands of them, and is laid anew at every step of a drag.


class Outlet(NamedTuple):
    """One place where water leaves: its node, the pipe it is on, where it is and its law."""

    node: str
    pipe: Pipe
    x: float
    y: float
    height: float
    law: OutletKind
    waters: str | None


class Stop(NamedTuple):
    """A node of the network on the plan.

    before : Node from which it is fed. None at a source.
    part_id : Part that leads to it.
    length : Of pipe from the node before. [m]
    """

    node: str
    x: float
    y: float
    height: float
    before: str | None
    part_id: str
    length: float


class Segment(NamedTuple):
    """A stretch of pipe between two stops."""

    link: str
    start: str
    end: str
    length: float
    loss: float


@dataclass(frozen=True)
class Way:
    """Everything that is open at one time, laid out; heads come in when it is solved.

    parts : Pieces and pipes, each after what feeds it.
    """

    garden: Garden
    source: Source
    parts: tuple[Joined, ...]

    @cached_property
    def layout(self) -> "Layout":
        """The way laid out: one for all that are alike, in whatever garden they are."""
        garden = self.garden
        waters = {part.waters for part in self.parts if isinstance(part, Pipe)}
        watered = (part for part in garden.planted if part.id in waters)
        the_same = (*self.sources, *self.parts, *watered, *garden.own_timers)
        figures = tuple(self.cut_lengths.values()), ground_of(garden)
        return _laid_out(Asked(self, the_same, figures))

    @property
    def outlets(self) -> list[Outlet]:
        """Every outlet, along the water's way."""
        return self.layout.outlets

    @property
    def stops(self) -> dict[str, Stop]:
        """Every node by its name."""
        return self.layout.stops

    @property
    def segments(self) -> dict[str, list[Segment]]:
        """Stretches of each pipe by its id, from its beginning on."""
        return self.layout.segments

    @cached_property
    def cut_lengths(self) -> dict[str, float]:
        """Length of each of its pipes, as it is cut, by its id. [m]"""
        ground = ground_of(self.garden)
        pipes = (part for part in self.parts if isinstance(part, Pipe))
        return {pipe.id: cut_m(self.garden, ground, pipe) for pipe in pipes}

    def route_to(self, node: str) -> list[Stop]:
        """Stops from the source to a node."""
        route = [self.stops[node]]
        while route[-1].before is not None:
            route.append(self.stops[route[-1].before])
        return route[::-1]

    def network(self, heads: dict[str, float], is_dirty: bool = False) -> Network:
        """The network with the water at these heights.

        Parameters
        ----------
        heads : Of every source by id. [m]
        is_dirty : Whether filters are as clogged as on the day of cleaning.

        Raises
        ------
        PlanError : if it cannot be put together.
        """
        try:
            return self.layout.network(heads, is_dirty)
        except NetworkError as error:
            raise PlanError(say("water-network", "{fault}", fault=str(error))) from None

    @cached_property
    def sources(self) -> tuple[Source, ...]:
        """The source, and those that pipes join at their far end."""
        by_id: dict[str, Source] = {s.id: s for s in self.garden.sources}
        joined = (p.ends_at for p in self.parts if isinstance(p, Pipe) and p.ends_at)
        ids = dict.fromkeys((self.source.id, *(i for i in joined if i in by_id)))
        return tuple(by_id[i] for i in ids)


LAYOUTS_KEPT = 32
"""Ways whose layout is kept, so that an edit lays out only those that it changes."""


@kept(LAYOUTS_KEPT)
def _laid_out(asked: Asked[Way]) -> "Layout":
    return Layout(asked.what).lay()


@dataclass(eq=False)
class Layout:
    """Lays a way out, part by part."""

    way: Way
    stops: dict[str, Stop] = field(default_factory=dict)
    outlets: list[Outlet] = field(default_factory=list)
    segments: dict[str, list[Segment]] = field(default_factory=dict)
    joints: dict[str, list[tuple[float, str]]] = field(default_factory=dict)
    built: dict[tuple[float | bool, ...], Network] = field(default_factory=dict)

    def __post_init__(self) -> None:
        garden = self.way.garden
        self.ground = ground_of(garden)
        self.parts = {part.id: part for part in self.way.parts}
        self.beds: dict[str, Bed] = {bed.id: bed for bed in garden.beds}
        self.pots: dict[str, Pots] = {pots.id: pots for pots in garden.pots}

    def lay(self) -> "Layout":
        for source in self.way.sources:
            at = source.at
            self.stops[source.id] = Stop(
                source.id, at.x_m, at.y_m, source.tap_m, None, source.id, 0
            )
        for part in self.way.parts:
            if isinstance(part, Pipe):
                self._lay_pipe(part)
            else:
                self._lay_piece(part)
        return self

    def _lay_piece(self, piece: Piece) -> None:
        before = self.stops[self._node(piece.begins_at, piece.begins_along_m)]
        is_at_source = before.before is None or before.length == 0
        height = before.height if is_at_source else self.ground.at(piece.at)
        self.stops[piece.id] = Stop(
            piece.id, piece.at.x_m, piece.at.y_m, height, before.node, piece.id, 0.0
        )

    def _lay_pipe(self, pipe: Pipe) -> None:
        kind, law = kind_of(pipe), outlet_law(pipe)
        places = outlet_places(pipe) if kind.has_outlets else {}
        if len(self.outlets) + len(places) > MOST_OUTLETS:
            raise PlanError(
                say(
                    "water-too-many-outlets",
                    "This zone has more than {most_outlets} outlets: split it, or space them wider.",
                    most_outlets=f"{MOST_OUTLETS:,}",
                )
            )
        before = self._node(pipe.begins_at, pipe.begins_along_m)
        segments = self.segments[pipe.id] = []
        joints = self.joints[pipe.id] = []
        number = {node: i for i, node in enumerate(places.values())}
        last, loss, stretch = 0.0, pipe.fittings_loss, self._lies(pipe) / pipe.drawn_m
        barb, end = kind.barb_loss, _end_node(pipe)
        cuts = self._cuts(pipe, places)
        there = pipe.places_at([along / stretch for along, _ in cuts])
        heights = self._heights(pipe, there)
        for (along, node), (x, y), height in zip(cuts, there, heights, strict=True):
            hole = number.get(node)
            if hole is None and not segments and along - last < SAME_PLACE:
                joints.append((along / stretch, before))  # at its very beginning
                continue
            here = Stop(node, x, y, height, before, pipe.id, along - last)
            joined = self._joined_end(pipe) if node == end else ""
            if not joined:
                self.stops[node] = here
            if hole is not None:
                loss += barb
                self._add_outlet(pipe, here, law_of_hole(pipe, hole, law))
            after = joined or node
            segments.append(Segment(node, before, after, max(along - last, SAME_PLACE), loss))
            joints.append((along / stretch, after))
            before, last, loss = after, along, 0.0
        if pipe.dripper is not None:
            dripper = catalogue.find(plumbing.drippers(), pipe.dripper)
            self._add_outlet(pipe, self.stops[before], as_printed(pipe, dripper.outlet))

    def _cuts(self, pipe: Pipe, places: dict[float, str]) -> list[tuple[float, str]]:
        """Where a pipe is cut, as it lies, and the node there: outlets, branches, its end if need be."""
        cuts = {round(along, 4): node for along, node in places.items()}
        lies = self._lies(pipe)
        stretch = lies / pipe.drawn_m
        for along in self._branches(pipe):
            cuts.setdefault(round(along * stretch, 4), f"{pipe.id}@{along:.3f}")
        if pipe.ends_at is not None or pipe.dripper or not places or self._is_fed_from_end(pipe):
            cuts.setdefault(round(lies, 4), _end_node(pipe))
        return sorted(cuts.items())

    def _lies(self, pipe: Pipe) -> float:
        """Length of a pipe, as it is cut. [m]"""
        return self.way.cut_lengths[pipe.id]

    def _add_outlet(self, pipe: Pipe, stop: Stop, law: OutletKind) -> None:
        if pipe.outlet_factor != 1.0:
            law = replace(law, flow_m3_s=law.flow_m3_s * pipe.outlet_factor)
        self.outlets.append(Outlet(stop.node, pipe, stop.x, stop.y, stop.height, law, pipe.waters))

    def _branches(self, pipe: Pipe) -> list[float]:
        """Places along a pipe, as drawn, at which others of this way join it."""
        found = []
        for part in self.way.parts:
            if part.begins_at == pipe.id and part.begins_along_m is not None:
                found.append(part.begins_along_m)
            if isinstance(part, Pipe) and part.ends_at == pipe.id and part.ends_along_m is not None:
                found.append(part.ends_along_m)
        return found

    def _is_fed_from_end(self, pipe: Pipe) -> bool:
        return any(
            (part.begins_at == pipe.id and part.begins_along_m is None)
            or (isinstance(part, Pipe) and part.ends_at == pipe.id and part.ends_along_m is None)
            for part in self.way.parts
        )

    def _joined_end(self, pipe: Pipe) -> str:
        """Node that the far end is joined to, if that is open too; "" if it ends for itself."""
        if pipe.ends_at is None:
            return ""
        if pipe.ends_at in self.stops:
            return pipe.ends_at
        if pipe.ends_at in self.joints:
            return self._node(pipe.ends_at, pipe.ends_along_m)
        return ""

    def _node(self, part_id: str | None, along: float | None) -> str:
        """Node at a joint."""
        assert part_id is not None
        if part_id not in self.joints:
            return part_id
        found = self.joints[part_id]
        if along is None:
            return found[-1][1]
        return min(found, key=lambda joint: abs(joint[0] - along))[1]

    def _heights(self, pipe: Pipe, places: list[tuple[float, float]]) -> list[float]:
        """Of a pipe at some places: all one where it lies on a bed or pots, else as the ground. [m]"""
        watered = self.beds.get(pipe.waters or "") or self.pots.get(pipe.waters or "")
        if watered:
            return [watered.outlet_m + pipe.rise_m] * len(places)
        heights: list[float] = (self.ground.heights_at(np.array(places)) + pipe.rise_m).tolist()
        return heights

    def network(self, heads: dict[str, float], is_dirty: bool) -> Network:
        """At other levels of its stores only the heads of the surfaces are others."""
        taps = [heads[source.id] for source in self.way.sources if isinstance(source, Tap)]
        key = is_dirty, *taps
        if key not in self.built:
            self.built[key] = self._build(heads, is_dirty)
        nodes = self.built[key].nodes
        elevation, fixed = nodes.elevation.copy(), nodes.fixed_head.copy()
        for source in self.way.sources:
            if not isinstance(source, Tap):
                at = nodes.ids.index(source.id)
                elevation[at] = fixed[at] = heads[source.id]
        nodes = replace(nodes, elevation=elevation, fixed_head=fixed)
        return replace(self.built[key], nodes=nodes)

    def _build(self, heads: dict[str, float], is_dirty: bool) -> Network:
        builder = NetworkBuilder()
        laws = {outlet.node: outlet for outlet in self.outlets}
        for source in self.way.sources:
            _add_source(builder, source, heads[source.id])
        for stop in self.stops.values():
            if stop.before is None:
                continue
            outlet = laws.get(stop.node)
            if outlet is None:
                builder.add_junction(stop.node, stop.height)
                continue
            law = outlet.law
            builder.add_junction(
                stop.node, stop.height, 0.0, law.coefficient, law.exponent, law.opens_m, law.full_m
            )
        for part in self.way.parts:
            if isinstance(part, Pipe):
                kind, bore = kind_of(part), bore_of(part)
                for s in self.segments[part.id]:
                    builder.add_pipe(
                        s.link, s.start, s.end, s.length, bore, kind.roughness_m, s.loss
                    )
            else:
                self._add_piece(builder, part, is_dirty)
        return builder.build()

    def _add_piece(self, builder: NetworkBuilder, piece: Piece, is_dirty: bool) -> None:
        before = self.stops[piece.id].before
        assert before is not None
        if isinstance(piece, Pump):
            builder.add_pump(piece.id, before, piece.id, pump_curve(piece))
            return
        kind, loss, setting = valve_of(piece, self.way.garden.own_timers, is_dirty)
        bore = self._bore_at(piece)
        builder.add_valve(piece.id, before, piece.id, kind, bore, loss, setting)

    def _bore_at(self, piece: Piece) -> float:
        """Bore of the pipe that follows a piece, or comes before it."""
        here = piece.id
        for _ in self.way.parts:
            after = next((p for p in self.way.parts if p.begins_at == here), None)
            if after is None:
                break
            if isinstance(after, Pipe):
                return bore_of(after)
            here = after.id
        fed_by = self.parts.get(piece.begins_at or "")
        return bore_of(fed_by) if isinstance(fed_by, Pipe) else USUAL_BORE


def _end_node(pipe: Pipe) -> str:
    return f"{pipe.id}/end"


def _add_source(builder: NetworkBuilder, source: Source, head: float) -> None:
    if not isinstance(source, Tap):
        builder.add_source(source.id, head)
        return
    # A tap is a fixed head behind a resistance that lets its measured flow out with none left.
    main = f"{source.id}/main"
    builder.add_source(main, head)
    builder.add_junction(source.id, source.tap_m)
    velocity_head = (source.flow_m3_s / (pi / 4 * USUAL_BORE**2)) ** 2 / (2 * GRAVITY)
    builder.add_valve(
        f"{source.id}/supply",
        main,
        source.id,
        ValveKind.THROTTLE,
        USUAL_BORE,
        (head - source.tap_m) / velocity_head,
    )
