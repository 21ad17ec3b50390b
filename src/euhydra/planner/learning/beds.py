"""What fingers say of a bed: how dry it is, and whether it drinks more or less than the plan reckons with."""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from euhydra.core import bed
from euhydra.core.bed import BedInputs
from euhydra.core.evidence import Mixed
from euhydra.planner.learning.claim import Claim, ClaimKind
from euhydra.planner.learning.flows import ZoneFlow
from euhydra.planner.learning.ran import Ran
from euhydra.planner.learning.stores import StoreTold

Floats = NDArray[np.float64]

THIRSTS = np.exp(np.linspace(np.log(0.55), np.log(1.8), 25))
"""Factors on what it drinks that are tried. [-]"""

SPREAD = 0.15
"""Of the logarithm of that factor, before any test. [-] Our choice."""

MISREAD = 0.12
"""Share of finger tests that say nothing of the soil. [-] Our choice."""

BLUR = 0.25
"""By how much of the readily available water a finger is unsure. [-] Our choice."""

ALIKE = 0.5
"""What one finger test adds to those of the days about it, which tell of the same water. [-] Our choice."""

WET_AT = 0.1
"""Of the readily available water gone, under which soil is muddy. [-]"""

LEAST_OFF = 0.10
"""Share by which thirst has to be off before it is worth a word. [-] Our choice."""

FEWEST_TESTS = 6
"""Finger tests from which on anything is claimed. Our choice."""


@dataclass(frozen=True)
class BedTold:
    """A bed or pots through the logged year.

    given : By the log. [L]
    gone : Of the readily available water, each evening; NaN where nothing grows. [-]
    thirst, deviation : Of what the plan reckons with. [-]
    """

    part_id: str
    name: str
    given: Floats
    gone: Floats
    thirst: float
    deviation: float
    claim: Claim | None


def beds_told(
    ran: Ran, flows: dict[str, ZoneFlow], stores: tuple[StoreTold, ...]
) -> tuple[BedTold, ...]:
    """Every bed and group of pots, in the order of the season's ways."""
    met = {store.group.id: store for store in stores}
    return tuple(
        _bed(ran, place, _given(ran, flows, met, place))
        for place in range(len(ran.told.season.ways))
    )


def _given(ran: Ran, flows: dict[str, ZoneFlow], met: dict[str, StoreTold], place: int) -> Floats:
    """Litres to a bed by its lines as they give, its timer as it is set, the water that was there, and cans. [L]"""
    told = ran.told
    way = told.season.ways[place]
    part_id = way.need.part.id
    given = ran.cans(part_id)
    zone = next((z for z in ran.zones if place in z.ways), None)
    if zone is None:
        # By hand it is what the log has, if it has any of that bed; a float or a drum does as planned.
        return given if given.any() else np.asarray(told.season.run.supplied(place))
    flow = flows[zone.zone.id]
    outlets = zone.zone.outlets
    state = way.push.usual.state.outlet_flow if way.push else np.ones(len(outlets))
    to_it = np.array(
        [
            sum(float(state[k]) for k in own if outlets[k].waters == part_id)
            for own in zone.lines.values()
        ]
    )
    total = float(sum(float(state[k]) for own in zone.lines.values() for k in own))
    share = (to_it / max(total, 1e-12)) @ flow.lines * flow.setting
    store = None if zone.zone.group is None else met.get(zone.zone.group.id)
    if store is None:
        return np.asarray(given + zone.litres(told.record.month) * share)
    litres = zone.litres(told.record.month, store.morning)
    return np.asarray(given + litres * share * store.met)


def _bed(ran: Ran, place: int, given: Floats) -> BedTold:
    told = ran.told
    part = told.season.ways[place].need.part
    inputs = told.season.bed_inputs[place]
    tests = ran.of_kind("finger", part.id)
    if not tests:
        return BedTold(part.id, part.name, given, _gone(inputs, given, 1.0), 1.0, SPREAD, None)
    by_thirst = np.array([_gone(inputs, given, float(f)) for f in THIRSTS])
    logs = -0.5 * (np.log(THIRSTS) / SPREAD) ** 2
    for said in {entry.word for _, entry in tests}:
        felt = [entry.at for _, entry in tests if entry.word == said]
        days, times = np.unique(told.evenings(felt), return_counts=True)
        logs = logs + ALIKE * np.log(likelihood_of_finger(said, by_thirst[:, days])) @ times
    weight = np.exp(logs - logs.max())
    weight /= weight.sum()
    mean = float(weight @ THIRSTS)
    thirst = Mixed(mean, float(np.sqrt(weight @ (THIRSTS - mean) ** 2)))
    claim = None
    if len(tests) >= FEWEST_TESTS and thirst.is_off(1.0, LEAST_OFF):
        beyond = weight[THIRSTS > 1].sum() if mean > 1 else weight[THIRSTS < 1].sum()
        claim = Claim(
            ClaimKind.THIRST,
            part.id,
            part.name,
            mean,
            thirst.low,
            thirst.high,
            None,
            None,
            float(beyond),
        )
    near = int(np.argmin(np.abs(THIRSTS - mean)))
    return BedTold(part.id, part.name, given, by_thirst[near], mean, thirst.deviation, claim)


def _gone(inputs: BedInputs, given: Floats, thirst: float) -> Floats:
    run = bed.run_bed(replace(inputs, crop_et=inputs.crop_et * thirst), given)
    return np.asarray(run.depletion / np.maximum(inputs.ready, 1e-9))


def likelihood_of_finger(said: str, gone: Floats) -> Floats:
    """How likely a finger is to say so. [-]

    Parameters
    ----------
    gone : Of the readily available water. [-]
    """
    dry, muddy = _rises((gone - 1.0) / BLUR), _rises((WET_AT - gone) / BLUR * 2)
    likely = {"dry": dry, "muddy": muddy}.get(said, np.maximum(0.0, 1 - dry - muddy))
    return np.where(np.isnan(gone), 1.0, (1 - MISREAD) * likely + MISREAD / 3)


def _rises(x: Floats) -> Floats:
    return np.asarray(1 / (1 + np.exp(-4 * np.clip(x, -20, 20))))
