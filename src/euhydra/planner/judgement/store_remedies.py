"""What may cure a store: firmer ground, a strap, links, more of them, water from elsewhere."""

from collections.abc import Iterator

import numpy as np

from euhydra.garden import edits
from euhydra.garden.sentences import Amount, say
from euhydra.garden.store_groups import group_below, groups_of
from euhydra.garden.stores import RAIN_GARDEN, Hold, Store
from euhydra.planner.answers import Gap
from euhydra.planner.judgement import (
    catch_remedies,
    pump_remedies,
    push_remedies,
    thirst_remedies,
    time_remedies,
)
from euhydra.planner.judgement.remedy import Case, Remedies, Remedy
from euhydra.planner.store import cures, sizing, spill, standing
from euhydra.planner.store.answer import GroupAnswer
from euhydra.planner.store.storms import storm_figures
from euhydra.planner.water import zones

LOWER_BY = 0.1
"""Step in which a stand is tried lower. [m]"""

USUAL_TAP = 0.05
"""Height of a tap over the base of its store. [m] Common practice."""


LARGER = (1.25, 1.5, 1.75, 2.0, 2.5, 3.0, 4.0, 5.0, 6.0, 8.0, 12.0, 20.0)
"""How many times as much water as now is held where one tank takes a store's place. [-]"""


def strap(case: Case) -> Iterator[Remedy]:
    """Held by a sound wall."""
    store = case.part(Store)
    if isinstance(store, Store) and store.held_by is not Hold.WALL:
        held = store.model_copy(update={"held_by": Hold.WALL})
        yield Remedy(
            say("cure-strap", "Strap “{store}” to a sound wall.", store=store.name),
            edits.put(case.garden, "stores", held),
        )


def firmer_ground(case: Case) -> Iterator[Remedy]:
    """Compacted gravel or a slab under it, or a stand on broad feet."""
    store = case.part(Store)
    if not isinstance(store, Store):
        return
    for footing, code, words in (
        ("gravel", "cure-gravel", "Set “{store}” on compacted gravel."),
        ("slab", "cure-slab", "Set “{store}” on a concrete slab or paving on a bed."),
    ):
        if footing != store.footing:
            firm = store.model_copy(update={"footing": footing})
            yield Remedy(say(code, words, store=store.name), edits.put(case.garden, "stores", firm))
    if store.feet_m2 is not None:
        broad = store.model_copy(update={"feet_m2": None, "footing": "slab"})
        yield Remedy(
            say(
                "cure-broad-feet",
                "Lay a slab under all of “{store}”, so that its feet do not sink in.",
                store=store.name,
            ),
            edits.put(case.garden, "stores", broad),
        )


def frame(case: Case) -> Iterator[Remedy]:
    """A frame or plinth of one piece instead of loose blocks."""
    store = case.part(Store)
    if isinstance(store, Store) and store.blocks:
        framed = store.model_copy(update={"blocks": 0})
        yield Remedy(
            say(
                "cure-frame",
                "Build a frame or a mortared plinth under “{store}” instead of loose blocks.",
                store=store.name,
            ),
            edits.put(case.garden, "stores", framed),
        )


def lower_stand(case: Case) -> Iterator[Remedy]:
    """The highest stand on which it does not tip."""
    store = case.part(Store)
    if not isinstance(store, Store):
        return
    stand = store.stand_m - LOWER_BY
    while stand > 0:
        lower = store.model_copy(update={"stand_m": round(stand, 3)})
        if standing.answer_standing(lower).verdict.mark.value == "works":
            break
        stand -= LOWER_BY
    if store.stand_m > 0:
        lower = store.model_copy(update={"stand_m": round(max(stand, 0.0), 3)})
        yield Remedy(
            say(
                "cure-lower-stand",
                "Lower the stand of “{store}” to {stand}.",
                store=store.name,
                stand=Amount(max(stand, 0.0), "height"),
            ),
            edits.put(case.garden, "stores", lower),
        )


def lower_overflow(case: Case) -> Iterator[Remedy]:
    """The overflow drilled lower, so that an inlet has room."""
    store = case.part(Store)
    if not isinstance(store, Store):
        return
    for lower in (0.03, 0.05, 0.08, 0.12):
        if store.height_m - lower < 0.15:
            return
        share = (store.height_m - lower) / store.height_m
        volume = None if store.volume_m3 is None else store.volume_m3 * share
        rim = store.rim_m if store.rim_m is not None else store.height_m + 0.05
        drilled = store.model_copy(
            update={"height_m": store.height_m - lower, "volume_m3": volume, "rim_m": rim}
        )
        yield Remedy(
            say(
                "cure-lower-overflow",
                "Drill the overflow of “{store}” {lower} lower.",
                store=store.name,
                lower=Amount(lower, "height"),
            ),
            edits.put(case.garden, "stores", drilled),
        )


def link(case: Case) -> Iterator[Remedy]:
    """Stores that only spill into it, or that nothing draws from, linked to it at one level."""
    garden = case.garden
    groups = groups_of(garden.stores)
    here = next((g for g in groups if any(s.id == case.finding.about for s in g.stores)), None)
    if here is None:
        return
    for other in groups:
        if other is here or not _meets(here.stores[0], other.stores[0]):
            continue
        spills_here = group_below(other, groups, garden.downspouts) == here
        if not spills_here and other.id not in case.finding.parts:
            continue
        first = other.stores[0].model_copy(
            update={"linked_to": here.stores[0].id, "overflow_to": here.lowest.overflow_to}
        )
        yield Remedy(
            say(
                "cure-link",
                "Link “{other}” with “{store}” at the bottom, instead of letting it only spill over.",
                other=other.name,
                store=here.name,
            ),
            edits.put(garden, "stores", first),
        )


def link_unused(case: Case) -> Iterator[Remedy]:
    """A store that nothing draws from, linked with one that is drawn from; without one to link, taken out."""
    garden, unused = case.garden, case.part(Store)
    if not isinstance(unused, Store):
        return
    drawn = zones.sources_in_use(garden)
    for group in groups_of(garden.stores):
        used = next((s for s in group.stores if s.id in drawn), None)
        if used is None or unused in group.stores or not _meets(used, unused):
            continue
        linked = unused.model_copy(
            update={"linked_to": used.id, "overflow_to": group.lowest.overflow_to}
        )
        yield Remedy(
            say(
                "cure-link-unused",
                "Link “{other}” with “{store}” at the bottom.",
                other=unused.name,
                store=group.name,
            ),
            edits.put(garden, "stores", linked),
        )
    if not any(unused.id in (s.linked_to, s.overflow_to, s.moves_to) for s in garden.stores):
        yield Remedy(
            say("cure-take-out", "Take “{piece}” out.", piece=unused.name),
            edits.remove(garden, unused.id),
        )


def _meets(one: Store, other: Store) -> bool:
    """Whether their water can stand at one level through most of both."""
    low, high = max(one.base_m, other.base_m), min(one.overflow_m, other.overflow_m)
    return high - low >= 0.8 * min(one.height_m, other.height_m)


def more_stores(case: Case) -> Iterator[Remedy]:
    """The fewest alike that are enough, linked, as long as they are few; else a few more."""
    yield from _as_many(case, range(cures.FEW_STORES + 1))


def many_stores(case: Case) -> Iterator[Remedy]:
    """The like, where that takes many: after one tank that holds as much."""
    yield from _as_many(case, range(cures.FEW_STORES + 1, cures.MOST_STORES + 1))


def _as_many(case: Case, allowed: range) -> Iterator[Remedy]:
    answer = _answer(case)
    store = case.part(Store)
    if answer is None or not isinstance(store, Store) or len(answer.group.stores) > 1:
        return
    counts = range(max(store.count + 1, allowed.start), allowed.stop)
    if not counts:
        return
    met = sizing.reliabilities(
        answer.season.with_widths(answer.tank, np.array(list(counts)) / store.count)
    )
    enough = [count for count, share in zip(counts, met, strict=True) if share >= cures.ENOUGH]
    for count in enough[:3]:
        more = store.model_copy(update={"count": count})
        yield Remedy(
            say(
                "cure-more-stores",
                "{count} such {noun}s linked to one level, {litres} in all.",
                count=count,
                noun=store.noun,
                litres=Amount(count * store.total_m3 / store.count, "volume"),
            ),
            edits.put(case.garden, "stores", more),
        )


def larger_tank(case: Case) -> Iterator[Remedy]:
    """One instead of all alike, so large that with what it is linked with it holds enough."""
    answer, store = _answer(case), case.part(Store)
    if answer is None or not isinstance(store, Store):
        return
    held = sum(each.total_m3 for each in answer.group.stores)
    met = sizing.reliabilities(answer.season.with_widths(answer.tank, np.array(LARGER)))
    volumes = [store.total_m3 + held * (factor - 1) for factor in LARGER]
    enough = [v for v, share in zip(volumes, met, strict=True) if share >= cures.ENOUGH]
    for volume in [v for v in enough if v <= 100][:3]:
        root = (volume / store.holds_m3) ** 0.5
        across = None if store.across_m is None else min(store.across_m * root, 20)
        width = None if store.width_m is None else min(store.width_m * root, 20)
        wide = store.model_copy(
            update={
                "volume_m3": volume,
                "across_m": across,
                "width_m": width,
                "kind": "tank",
                "count": 1,
            }
        )
        yield Remedy(
            say(
                "cure-larger-tank",
                "A larger tank in the place of “{store}”, of {litres}.",
                store=store.name,
                litres=Amount(volume, "volume"),
            ),
            edits.put(case.garden, "stores", wide),
        )


def _answer(case: Case) -> GroupAnswer | None:
    if isinstance(case.chain.store, Gap) or not case.finding.about:
        return None
    return case.chain.store.group(case.finding.about)


def rain_garden(case: Case) -> Iterator[Remedy]:
    """A hollow that takes the overflow of a cloudburst."""
    store = case.part(Store)
    if not isinstance(store, Store):
        return
    group = next(g for g in groups_of(case.garden.stores) if store in g.stores)
    storms = storm_figures(case.garden, group)
    if not storms:
        return
    for factor in (1.0, 1.5, 2.5, 5.0):
        area = max(store.soak_area_m2, 1.0) * factor
        tried = store.model_copy(
            update={"overflow_to": RAIN_GARDEN, "soak_area_m2": min(area, 1000)}
        )
        verdict = spill.answer_spill(
            groups_of(edits.put(case.garden, "stores", tried).stores)[0],
            storms[-1].amount.value,
            None,
        ).verdict
        needed = verdict.summary.values.get("needed")
        wanted = area
        if isinstance(needed, Amount):
            wanted = min(max(area, needed.value * 1.02), 1000.0)
        dug = store.model_copy(
            update={"overflow_to": RAIN_GARDEN, "soak_area_m2": round(wanted, 2)}
        )
        yield Remedy(
            say(
                "cure-rain-garden",
                "Lead its overflow into a rain garden of {area}, on ground that falls away from walls.",
                area=Amount(wanted, "area"),
            ),
            edits.put(case.garden, "stores", dug),
        )


def lower_tap(case: Case) -> Iterator[Remedy]:
    """The tap moved down to where it usually sits."""
    store = case.part(Store)
    if isinstance(store, Store):
        low = max(USUAL_TAP, store.dregs_m)
        yield Remedy(
            say(
                "cure-lower-tap",
                "Set the tap of “{store}” lower, {height} above its base.",
                store=store.name,
                height=Amount(low, "height"),
            ),
            edits.put(case.garden, "stores", store.model_copy(update={"outlet_height_m": low})),
        )


STORE_REMEDIES: dict[str, tuple[Remedies, ...]] = {
    "store-too-heavy": (firmer_ground,),
    "store-loose-blocks": (frame,),
    "store-top-heavy-full": (strap, lower_stand),
    "store-stands-but-keep": (strap,),
    "store-room-inlet-between": (lower_overflow,),
    "store-tap-too-high": (lower_tap,),
    "store-water-too-low": (
        push_remedies.raise_store,
        push_remedies.of_push,
        pump_remedies.new_pump,
    ),
    "store-only-spills-over": (link, more_stores),
    "store-not-drawn-from": (link_unused,),
    "store-too-small": (
        link,
        catch_remedies.lead_it_in,
        time_remedies.give_less,
        more_stores,
        larger_tank,
        many_stores,
        catch_remedies.top_up,
        thirst_remedies.drink_less,
    ),
    "store-too-little-comes": (
        catch_remedies.lead_it_in,
        catch_remedies.new_downspout,
        link,
        thirst_remedies.drink_less,
        catch_remedies.top_up,
    ),
    "store-rain-garden-small": (rain_garden,),
    "store-ground-takes-run": (rain_garden,),
}
