"""The roots this morning, as many ways as the log leaves open: the less was seen lately, the wider they lie apart."""

from bisect import bisect_left
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import timedelta

import numpy as np
from numpy.typing import NDArray

from euhydra.core.bed import BedInputs
from euhydra.core.tried_days import Gives, TriedDays, TriedGround
from euhydra.core.weather import DailyWeather
from euhydra.planner.keeping.hindcast import BedTrack
from euhydra.planner.learning.answer import Learned
from euhydra.planner.learning.beds import likelihood_of_finger
from euhydra.planner.today.ahead import LANES

Floats = NDArray[np.float64]
Integers = NDArray[np.intp]

BACK_D = 60
"""Days that are lived through again. [d] Our choice: rain and runs of two months ago tell of no roots."""

FELT_BACK_D = 21
"""Days whose fingers tell the ways apart. [d] Our choice."""

WARMTH, A_DAY = 0.06, 0.15
"""How far what is drunk lies from the sums for as long as this, and each day by itself. [-] Our choice: the
temperatures are the usual ones."""

GAUGE = 0.08
"""How far rain lies from what the gauge had. [-] Our choice."""

OUTLETS = 0.07
"""How far what came lies from what the lines give. [-] Our choice."""

SEED = 19860915
"""Of all these: the same morning is told alike."""


@dataclass(frozen=True)
class RootsNow:
    """What may be gone from the roots of a bed this morning.

    gone : One of each way. [mm]
    ready : What they reach easily when full. [mm]
    """

    gone: Floats
    ready: float

    @property
    def left(self) -> tuple[float, float, float]:
        """Share left within easy reach: nine times in ten between the first and the last, the middle likeliest. [-]"""
        share = np.clip(1.0 - self.gone / max(self.ready, 1e-9), 0.0, 1.0)
        low, middle, high = np.quantile(share, [0.05, 0.5, 0.95]).tolist()
        return low, middle, high

    @property
    def width(self) -> float:
        """How far apart the ends of that range lie. [-]"""
        low, _, high = self.left
        return high - low


def roots_now(learned: Learned, place: int, many: DailyWeather) -> RootsNow:
    """The roots of one bed or pots, by its place among the season's ways.

    Parameters
    ----------
    many : Weather of years like the record's: its rain may have fallen on days whose rain nobody read.
    """
    told, track = learned.told, learned.told.tracks[place]
    inputs = told.season.bed_inputs[place]
    days = np.arange(max(0, len(told.record.days) - BACK_D), len(told.record.days))
    chance = np.random.default_rng([SEED, place])
    thirst = max(learned.beds[place].deviation, WARMTH)
    drinks = np.exp(chance.normal(0, thirst, LANES) + chance.normal(0, A_DAY, (len(days), LANES)))
    ground = TriedGround(
        _rain(learned, track, days, many, chance),
        inputs.crop_et[days][:, None] * learned.beds[place].thirst * drinks,
        _as_lanes(inputs.total[days]),
        _as_lanes(inputs.ready[days]),
        np.repeat(inputs.is_growing[days][:, None], LANES, axis=1),
        1.0 / inputs.area,
        inputs.steps,
    )
    came = (learned.beds[place].given * inputs.kept)[days]
    litres = came[:, None, None] * np.exp(chance.normal(0, OUTLETS, LANES))[None, None, :]
    tried = TriedDays(
        [ground], litres, _runs(inputs, days), [np.ones(1)], [np.zeros(LANES)], Gives.ALL
    )
    felt = _felt(learned, track, int(days[0]))
    weight = np.zeros(LANES)
    for n, day in enumerate(days.tolist()):
        tried.live_through(n)
        for said in felt.get(day, ()):
            share = tried.depletion[0, 0] / max(float(inputs.ready[day]), 1e-9)
            weight += np.log(likelihood_of_finger(said, share))
    likely = np.exp(weight - weight.max())
    gone = chance.choice(tried.depletion[0, 0], LANES, p=likely / likely.sum())
    return RootsNow(gone, float(inputs.ready[days[-1]]))


def _as_lanes(daily: Floats) -> Floats:
    return np.repeat(daily[:, None], LANES, axis=1)


def _runs(inputs: BedInputs, days: Integers) -> Integers:
    """Into which a day's water is split, as on most days."""
    return np.array([int(np.median(inputs.runs[days]))], dtype=np.intp)


def _rain(
    learned: Learned,
    track: BedTrack,
    days: Integers,
    many: DailyWeather,
    chance: np.random.Generator,
) -> Floats:
    """As the gauge had it, give or take; after its last reading as it was in years like the record's. [mm]"""
    told, need = learned.told, track.way.need
    comes = need.rain[days][:, None] * np.exp(chance.normal(0, GAUGE, (len(days), LANES)))
    read = (told.day(e.at) for e in reversed(told.by_kind.of("rain")) if told.holds(e.at))
    unread = days > next(read, -1)
    if not unread.any() or (told.rain_is_logged and told.is_kept_up):
        return np.asarray(comes)
    here = (told.today.timetuple().tm_yday - 1) % 365 + 1
    ends = np.flatnonzero(many.day_of_year == here)
    ends = ends[ends >= len(days)]
    if not len(ends):
        return np.asarray(comes)
    picked = chance.choice(ends, LANES) + 1 - len(days)
    other = many.precip[picked[None, :] + np.arange(len(days))[:, None]] * need.share_of_rain
    return np.where(unread[:, None], other, comes)


def _felt(learned: Learned, track: BedTrack, first: int) -> dict[int, Sequence[str]]:
    """What fingers said of late, by the evening that they tell of; the same twice tells no more than once."""
    told, part_id = learned.told, track.way.need.part.id
    since = told.today - timedelta(days=FELT_BACK_D)
    found: dict[int, dict[str, None]] = {}
    tests = told.by_kind.of("finger", part_id)
    for entry in tests[bisect_left(tests, since, key=lambda e: e.at.date()) :]:
        day = told.evening(entry.at)
        if day >= first:
            found.setdefault(day, {})[entry.word] = None
    return {day: tuple(words) for day, words in found.items()}
