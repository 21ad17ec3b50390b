"""Gardens that hypothesis redraws: the demo with parts taken out, set in, moved and exchanged."""

from typing import Any

from hypothesis import strategies as st
from pydantic import ValidationError

from euhydra.garden import catalogue, demo, edits, goods, plumbing
from euhydra.garden.model import Garden
from euhydra.garden.pipes import Fitting
from euhydra.garden.quantities import System

BEGINNING = demo.garden()


def _change(draw: st.DrawFn, garden: Garden) -> Garden:
    """One thing that a gardener may do to the drawing."""
    act = draw(st.sampled_from(["remove", "piece", "store", "bed", "pipe", "timer", "units"]))
    if act == "remove":
        return edits.remove(garden, draw(st.sampled_from([p.id for p in garden.parts])))
    if act == "units":
        return edits.replace(garden, units=draw(st.sampled_from(list(System))))
    if act == "piece":
        kind = draw(st.sampled_from(list(plumbing.fitting_kinds())))
        piece = Fitting(id=edits.free_id(garden, "new"), name="New", kind=kind)
        before = draw(st.sampled_from([p.id for p in (*garden.pipes, *garden.timers)]))
        return edits.put_before(garden, "fittings", piece, before)
    collection, changes = _typed(draw, act)
    part = draw(st.sampled_from(getattr(garden, collection)))
    return edits.put(garden, collection, type(part).model_validate(part.model_dump() | changes))


def _typed(draw: st.DrawFn, act: str) -> tuple[Any, dict[str, object]]:
    threads = st.none() | st.sampled_from(list(goods.threads()))
    if act == "store":
        return "stores", {
            "count": draw(st.integers(1, 4)),
            "stand_m": draw(st.floats(0, 2.5)),
            "kind": draw(st.sampled_from(list(catalogue.store_kinds()))),
            "thread": draw(threads),
        }
    if act == "bed":
        return "beds", {"raised_m": draw(st.floats(0, 1.5)), "ground_m": draw(st.floats(-3, 5))}
    if act == "timer":
        return "timers", {"kind": draw(st.sampled_from(list(catalogue.timers()))), "body": None}
    kinds = [k.id for k in plumbing.pipe_kinds().values() if not k.has_outlets]
    return "pipes", {"kind": draw(st.sampled_from(kinds)), "spacing_m": None, "bore_m": None}


@st.composite
def gardens(draw: st.DrawFn) -> Garden:
    """The demo after a few changes that it takes."""
    garden = BEGINNING
    for _ in range(draw(st.integers(0, 6))):
        try:
            garden = _change(draw, garden)
        except (ValidationError, ValueError, IndexError):
            continue  # it cannot be so, and is refused in words: tested with the editor
    return garden
