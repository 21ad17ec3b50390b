"""What two or three dips cannot tell yet: asked, and never given as a figure of the roof."""

from collections.abc import Iterator
from datetime import timedelta

import numpy as np

from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.dates import day_in_words
from euhydra.planner.learning.ran import Ran
from euhydra.planner.learning.stores import FEWEST_DIPS, ROOF_SPREAD, StoreTold

DRAWN_SPREAD = 0.15
"""How far what is drawn may lie from the plan's. [-] Our choice."""

WORTH_ASKING = 2.6
"""Deviations from which on a dip is worth a question. [-] Our choice."""


def questions(ran: Ran, stores: tuple[StoreTold, ...]) -> Iterator[Sentence]:
    """Stores of which too few dips are there to claim anything, and the last one does not fit."""
    for store in stores:
        if 2 <= len(store.dips) < FEWEST_DIPS:
            yield from _asked(ran, store)


def _asked(ran: Ran, store: StoreTold) -> Iterator[Sentence]:
    (before, was, first_noise), (day, now, noise) = store.dips[-2:]
    between = slice(before + 1, day + 1)
    came, drawn = store.came[between], store.drawn[between]
    water = was
    for inflow, taken in zip(came.tolist(), drawn.tolist(), strict=True):
        water = min(max(water - taken, 0.0) + inflow, store.capacity)
    unsure = np.hypot(first_noise, noise)
    unsure = np.hypot(unsure, ROOF_SPREAD * came.sum())
    unsure = np.hypot(unsure, DRAWN_SPREAD * drawn.sum())
    if abs(now - water) < WORTH_ASKING * unsure:
        return
    begun = ran.told.first + timedelta(days=before + 1)
    values = {"name": store.group.name, "day": day_in_words(begun)}
    if now < water:
        yield say(
            "learned-ask-less",
            "“{name}” holds {litres} less than rain and runs since {day} leave in it: was it used by hand? Dip again "
            "after the next rain; a few dips tell whether it leaks, or its roof brings less.",
            litres=Amount.litres(water - now),
            **values,
        )
    else:
        yield say(
            "learned-ask-more",
            "“{name}” holds {litres} more than rain and runs since {day} leave in it: did somebody fill it? Dip again "
            "after the next rain; a few dips tell whether its roof brings more, or its lines draw less.",
            litres=Amount.litres(now - water),
            **values,
        )
