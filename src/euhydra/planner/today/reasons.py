"""Why a zone or bed wants what it wants this morning, how sure that is, and which look would make it surer."""

from collections.abc import Sequence
from datetime import timedelta
from enum import StrEnum

import numpy as np

from euhydra.core.foretelling import DAYS
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.dates import day_in_words
from euhydra.planner.keeping.hindcast import BedTrack
from euhydra.planner.today.morning import Morning

LOOKED_BACK_D = 3
"""Days whose rain is told. [d]"""

SURE_WITHIN, FAIR_WITHIN = 0.35, 0.6
"""Of what roots reach easily: how far apart the likely ends may lie. [-] Our choice."""

LEAST_APART = 0.05
"""By how much less there may be left than is likely, from where on that is told. [-] Our choice."""

WIDE = 1.64
"""Standard deviations that nine times in ten lie within."""


class Sure(StrEnum):
    """How much of the state was seen lately."""

    SURE = "sure"
    FAIR = "fair"
    POOR = "poor"


def reason_of(morning: Morning, tracks: Sequence[BedTrack], is_watered: bool) -> Sentence:
    """Rain of late where it is read, what the driest roots have left, and when they are dry if nothing comes.

    Parameters
    ----------
    is_watered : Whether more is given than is set.
    """
    told, rest = morning.learned.told, _left(morning, tracks, is_watered)
    if not told.rain_is_logged or not told.is_kept_up:
        return rest
    rain = float(told.record.precip[-LOOKED_BACK_D:].sum())
    return say(
        "today-after-rain",
        "{rain} of rain in three days; {rest}",
        rain=Amount.millimetres(rain),
        rest=rest,
    )


def _left(morning: Morning, tracks: Sequence[BedTrack], is_watered: bool) -> Sentence:
    track = driest_of(morning, tracks)
    days = lasts(morning, track)
    low, middle, _ = morning.roots(track).left
    part, left = track.way.need.part.name, Amount(middle, "share")
    if is_watered and days > 1 and middle - low > LEAST_APART:
        return say(
            "today-may-be-dry",
            "“{part}” may have {left} left within easy reach, but as little as {low} too: it is watered to be safe.",
            part=part,
            left=left,
            low=Amount(low, "share"),
        )
    if days >= DAYS:
        return say(
            "today-holds",
            "“{part}” has {left} left within easy reach, which lasts the week.",
            part=part,
            left=left,
        )
    if days <= 0:
        return say(
            "today-is-dry",
            "“{part}” has {left} left within easy reach: it is dry by this evening.",
            part=part,
            left=left,
        )
    return say(
        "today-dry-on",
        "“{part}” has {left} left within easy reach, dry on {day} if nothing comes.",
        day=day_in_words(morning.ahead.today + timedelta(days=days)),
        part=part,
        left=left,
    )


def lasts(morning: Morning, track: BedTrack) -> int:
    """Days from this morning until it is dry, were nothing to come; DAYS where it holds so long. [d]"""
    need = morning.share(track).need
    drunk = np.cumsum(morning.ahead.drunk_by(need).mean(axis=1))
    ready = need.ready[morning.ahead.index].mean(axis=1)
    dry = np.flatnonzero(float(np.median(morning.roots(track).gone)) + drunk > ready)
    return int(dry[0]) if len(dry) else DAYS


def driest_of(morning: Morning, tracks: Sequence[BedTrack]) -> BedTrack:
    """The bed of a zone that is dry first."""
    return min(tracks, key=lambda track: lasts(morning, track))


def sure_of(morning: Morning, tracks: Sequence[BedTrack]) -> Sure:
    """By how far apart it lies what the widest-open of its roots may have left."""
    width = max(morning.roots(track).width for track in tracks)
    return Sure.SURE if width <= SURE_WITHIN else Sure.FAIR if width <= FAIR_WITHIN else Sure.POOR


def look_that_tells_most(morning: Morning) -> Sentence | None:
    """The one look that narrows most what is not known; None where all is known well enough."""
    learned = morning.learned
    beds = [
        (morning.roots(track).width, track)
        for track in learned.told.tracks
        if morning.grows(track) and not track.way.keeps_level
    ]
    stores = [
        (2 * WIDE * store.deviation / max(store.capacity, 1e-9), store)
        for store in learned.stores
        if any(f.ran.zone.group and f.ran.zone.group.id == store.group.id for f in learned.flows)
    ]
    bed = max(beds, key=lambda found: found[0], default=None)
    store = max(stores, key=lambda found: found[0], default=None)
    if store is not None and store[0] > SURE_WITHIN and (bed is None or store[0] >= bed[0]):
        return say(
            "today-look-dip",
            "Dip “{name}”: no other look would tell as much.",
            name=store[1].group.name,
        )
    if bed is not None and bed[0] > SURE_WITHIN:
        return say(
            "today-look-feel",
            "Feel the soil of “{part}”: no other look would tell as much.",
            part=bed[1].way.need.part.name,
        )
    return None
