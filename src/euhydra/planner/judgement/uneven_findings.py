"""Why outlets of one zone get unlike shares: the piece, the length, or the slope."""

from collections.abc import Callable

import numpy as np

from euhydra.garden.sentences import Amount, say
from euhydra.planner.judgement import losses
from euhydra.planner.judgement.finding import Finding
from euhydra.planner.judgement.taken_heads import is_line, takes_head
from euhydra.planner.push import lengths
from euhydra.planner.water.solving import ZoneState
from euhydra.planner.water.zones import Zone

SLOPES = 0.25
"""Share of the head on outlets by which heights between them differ, from which on the lowest take
it. [-] Our choice."""

CLOGGED = 0.8
"""Share of what the zone's outlets give below which a line is clogged. [-] Our choice: beyond a maker's
variation."""

FELT = 0.02
"""Share of the head below which a line's length is no cause. [-] Our choice."""


def uneven(zone: Zone, state: ZoneState) -> Finding:
    """Why the weakest outlet gets less than its due: the first of these that is so."""
    weakest = state.weakest
    due = say(
        "push-weakest-due",
        "The weakest outlet, on “{pipe}”, gets {share} of its due.",
        pipe=weakest.pipe.name,
        share=Amount(state.lowest_share, "share"),
    )
    for cause in CAUSES:
        found = cause(zone, state)
        if found is not None:
            return found.under(due)
    return Finding.of(
        say(
            "push-shared-unevenly",
            "“{zone}” shares its water unevenly: outlets of “{pipe}” get {share} of their due.",
            zone=zone.name,
            pipe=weakest.pipe.name,
            share=Amount(state.lowest_share, "share"),
        ),
        weakest.pipe.id,
        about=zone.id,
    )


def _clogged(zone: Zone, state: ZoneState) -> Finding | None:
    """A line whose outlets give much less than those of the zone's others, by what was measured."""
    pipe = state.weakest.pipe
    usual = float(np.median([outlet.pipe.outlet_factor for outlet in zone.outlets]))
    if pipe.outlet_factor >= CLOGGED * max(usual, pipe.outlet_factor, 1.0):
        return None
    return Finding.of(
        say(
            "push-line-clogged",
            "The outlets of “{pipe}” give {share} of what such outlets give: they are clogged.",
            pipe=pipe.name,
            share=Amount(pipe.outlet_factor, "share"),
        ),
        pipe.id,
        about=zone.id,
    )


def _wants_head(zone: Zone, state: ZoneState) -> Finding | None:
    """Outlets that give their due from a head on that they do not get."""
    weakest = state.weakest
    if weakest.law.opens_m <= 0 or float(state.outlet_head.min()) >= weakest.law.full_m:
        return None
    return Finding.of(
        say(
            "push-outlets-want-head",
            "The outlets of “{pipe}” want {opens} of head to give their due, and get {head}.",
            pipe=weakest.pipe.name,
            opens=Amount(weakest.law.full_m, "head"),
            head=Amount(max(float(state.outlet_head.min()), 0.0), "head"),
        ),
        weakest.pipe.id,
        about=zone.id,
    )


def _slopes(zone: Zone, state: ZoneState) -> Finding | None:
    """Outlets that lie so far apart in height that the lowest take the water."""
    weakest = state.weakest
    heights = np.array([outlet.height for outlet in zone.outlets])
    spread = float(heights.max() - heights.min())
    level = float(np.median(state.outlet_head)) if state.flow > 0 else 0.0
    lost = max((loss.head for loss in losses.losses_to(state, weakest.node)), default=0.0)
    if spread <= lost or spread <= SLOPES * max(level, 1e-6):
        return None
    lowest = zone.outlets[int(np.argmin(heights))]
    return Finding.of(
        say(
            "push-lowest-takes-it",
            "The outlets lie up to {spread} apart in height, and have {head} of head: the lowest, on “{low}”, take"
            " the water, and “{high}” goes short.",
            spread=Amount(spread, "height"),
            head=Amount(max(level, 0.0), "head"),
            low=lowest.pipe.name,
            high=weakest.pipe.name,
        ),
        weakest.pipe.id,
        lowest.pipe.id,
        about=zone.id,
    )


def _too_long(zone: Zone, state: ZoneState) -> Finding | None:
    """A line whose length takes the head of its own end."""
    pipe, unlike = state.weakest.pipe, losses.beyond(state)
    if unlike is None or unlike.share < FELT or not is_line(unlike.part):
        return None
    return Finding.of(
        say(
            "push-line-too-long",
            "“{pipe}” is too long: of {of} of head its {length} take {takes}, and its end goes short. Fed from one end"
            " it may be {most} long.",
            pipe=pipe.name,
            of=Amount(unlike.of, "head"),
            length=Amount(pipe.lies_m, "length"),
            takes=Amount(unlike.head, "head"),
            most=Amount(lengths.longest_row(pipe, state.head_on(pipe)), "length"),
        ),
        pipe.id,
        about=zone.id,
    )


def _narrow(zone: Zone, state: ZoneState) -> Finding | None:
    """A piece on the way of the weakest alone, or of all."""
    unlike, loss = losses.beyond(state), losses.greatest(state)
    if unlike is not None and unlike.share >= losses.TAKES_MOST / 2:
        return takes_head(zone, unlike)
    if loss is not None and loss.share >= losses.TAKES_MOST and not is_line(loss.part):
        return takes_head(zone, loss)
    return None


CAUSES: tuple[Callable[[Zone, ZoneState], Finding | None], ...] = (
    _clogged,
    _wants_head,
    _slopes,
    _too_long,
    _narrow,
)
"""In the order in which they are looked for."""
