"""What may cure a catch: downspouts led to the store, wider ones, washing water where it may go."""

from collections.abc import Iterator, Sequence
from math import hypot

from euhydra.garden import edits
from euhydra.garden.model import Garden
from euhydra.garden.part import Part, Point
from euhydra.garden.roofs import Downspout, Roof
from euhydra.garden.sentences import Amount, say
from euhydra.garden.sources import Greywater, Tap
from euhydra.garden.stores import Store
from euhydra.planner.catch import taps
from euhydra.planner.catch.order import greywater_rule
from euhydra.planner.judgement import drum_remedies, thirst_remedies
from euhydra.planner.judgement.remedy import Case, Remedies, Remedy
from euhydra.planner.push.answer import PushAnswer

WIDER_SPOUTS = (0.068, 0.08, 0.1, 0.125, 0.15)
"""Downspouts as sold, inside. [m] Common practice."""

WIDER_GUTTERS = (0.115, 0.125, 0.15, 0.18)
"""Gutters as sold, across the top. [m] Common practice."""


def lead_it_in(case: Case) -> Iterator[Remedy]:
    """A downspout that runs onto the ground, led to the store."""
    garden = case.garden
    loose = [spout for spout in garden.downspouts if spout.leads_to is None]
    for spout in sorted(loose, key=lambda s: s.id not in case.finding.parts):
        for store in _stores(case):
            yield _led(garden, spout, store)
    if loose:
        for store in _stores(case)[:1]:
            all_led = [("downspouts", s.model_copy(update={"leads_to": store.id})) for s in loose]
            yield Remedy(
                say(
                    "cure-lead-downspouts",
                    "Lead all downspouts that run onto the ground to “{store}”.",
                    store=store.name,
                ),
                edits.put_all(garden, all_led),
            )


def _led(garden: Garden, spout: Downspout, store: Store) -> Remedy:
    """A downspout led to a store."""
    return Remedy(
        say(
            "cure-lead-downspout",
            "Lead “{spout}” to “{store}”.",
            spout=spout.name,
            store=store.name,
        ),
        edits.put(garden, "downspouts", spout.model_copy(update={"leads_to": store.id})),
    )


def new_downspout(case: Case) -> Iterator[Remedy]:
    """A downspout for a roof that has none, led to the store."""
    garden = case.garden
    drained = {spout.roof_id for spout in garden.downspouts}
    for roof in garden.roofs:
        if roof.id in drained:
            continue
        for store in _stores(case)[:1]:
            spout = Downspout(
                id=edits.free_id(garden, "downspout"),
                name=f"Downspout of {roof.name}"[:60],
                roof_id=roof.id,
                leads_to=store.id,
            )
            yield Remedy(
                say(
                    "cure-new-downspout",
                    "A downspout from “{roof}” to “{store}”.",
                    roof=roof.name,
                    store=store.name,
                ),
                edits.put(garden, "downspouts", spout),
            )


def from_another_store(case: Case) -> Iterator[Remedy]:
    """A downspout that now leads elsewhere."""
    garden = case.garden
    for store in _stores(case)[:1]:
        for spout in garden.downspouts:
            if spout.leads_to is not None and spout.leads_to != store.id:
                yield _led(garden, spout, store)


def _stores(case: Case) -> Sequence[Store]:
    """Those that the finding names, or else the nearest to its first part."""
    named = [p for p in map(case.parts.get, case.finding.parts) if isinstance(p, Store)]
    if named:
        return named
    here = _place_of(case.parts.get(case.finding.parts[0]) if case.finding.parts else None)
    return sorted(case.garden.stores, key=lambda s: hypot(s.at.x_m - here.x_m, s.at.y_m - here.y_m))


def _place_of(part: Part | None) -> Point:
    return getattr(part, "at", Point())


def wider_spout(case: Case) -> Iterator[Remedy]:
    """The next size of downspout, gutter, or both."""
    garden = case.garden
    spout, roof = case.part(Downspout), case.part(Roof)
    if not isinstance(spout, Downspout) or not isinstance(roof, Roof):
        return
    for bore in (b for b in WIDER_SPOUTS if b > spout.bore_m + 1e-6):
        wider = spout.model_copy(update={"bore_m": bore})
        yield Remedy(
            say(
                "cure-wider-downspout",
                "A downspout of {bore} for “{spout}”.",
                bore=Amount(bore, "bore"),
                spout=spout.name,
            ),
            edits.put(garden, "downspouts", wider),
        )
    for width in (w for w in WIDER_GUTTERS if w > roof.gutter_width_m + 1e-6):
        broader = roof.model_copy(update={"gutter_width_m": width})
        yield Remedy(
            say(
                "cure-wider-gutter",
                "A gutter of {width} on “{roof}”.",
                width=Amount(width, "bore"),
                roof=roof.name,
            ),
            edits.put(garden, "roofs", broader),
        )


def both_wider(case: Case) -> Iterator[Remedy]:
    """Downspout and gutter together, where one alone leaves the other too narrow."""
    garden = case.garden
    spout, roof = case.part(Downspout), case.part(Roof)
    if not isinstance(spout, Downspout) or not isinstance(roof, Roof):
        return
    bores = [b for b in WIDER_SPOUTS if b >= spout.bore_m]
    widths = [w for w in WIDER_GUTTERS if w >= roof.gutter_width_m]
    if bores and widths:
        yield Remedy(
            say(
                "cure-wider-both",
                "A gutter of {width} and a downspout of {bore}.",
                width=Amount(widths[-1], "bore"),
                bore=Amount(bores[-1], "bore"),
            ),
            edits.put_all(
                garden,
                [
                    ("downspouts", spout.model_copy(update={"bore_m": bores[-1]})),
                    ("roofs", roof.model_copy(update={"gutter_width_m": widths[-1]})),
                ],
            ),
        )


def allowed_bed(case: Case) -> Iterator[Remedy]:
    """Washing water led to a bed that may have it."""
    garden, system = case.garden, case.part(Greywater)
    if not isinstance(system, Greywater):
        return
    lines = [pipe for pipe in garden.pipes if pipe.begins_at == system.id]
    for part in garden.planted:
        if not greywater_rule(garden, part).is_allowed or part.id == system.bed_id:
            continue
        changed = garden
        for pipe in lines:
            changed = edits.remove(changed, pipe.id)
        for piece in [p for p in changed.pieces if p.begins_at == system.id]:
            changed = edits.remove(changed, piece.id)
        led = next(s for s in changed.greywaters if s.id == system.id).model_copy(
            update={"bed_id": part.id}
        )
        yield Remedy(
            say(
                "cure-lead-washing",
                "Lead “{drum}” to “{part}”, which may have it.",
                drum=system.name,
                part=part.name,
            ),
            edits.put(changed, "greywaters", led),
        )


def top_up(case: Case) -> Iterator[Remedy]:
    """The store topped up from a tap, over an air gap."""
    garden = case.garden
    for tap in garden.taps:
        for store in _stores(case)[:1]:
            if store.topped_by is None:
                topped = store.model_copy(update={"topped_by": tap.id})
                yield Remedy(
                    say(
                        "cure-top-up",
                        "Top “{store}” up from “{tap}”, over an air gap.",
                        store=store.name,
                        tap=tap.name,
                    ),
                    edits.put(garden, "stores", topped),
                )


def smaller_flush(case: Case) -> Iterator[Remedy]:
    """A first flush as usual."""
    spout = case.part(Downspout)
    if isinstance(spout, Downspout):
        for depth in (0.0005, 0.0002):
            usual = spout.model_copy(update={"first_flush_m3": None, "first_flush_m": depth})
            yield Remedy(
                say(
                    "cure-smaller-flush",
                    "A first flush of {depth} of rain on “{spout}”.",
                    depth=Amount(depth, "rain"),
                    spout=spout.name,
                ),
                edits.put(case.garden, "downspouts", usual),
            )


def shorter_pumping(case: Case) -> Iterator[Remedy]:
    """No longer in a day than the well lasts."""
    tap = case.part(Tap)
    pushed = [z.push for z in case.chain.zones if tap is not None and z.zone.source.id == tap.id]
    flows = [push.usual.state.flow for push in pushed if isinstance(push, PushAnswer)]
    if isinstance(tap, Tap) and flows:
        most = 60.0 * max(1, int(taps.lasts_s(tap, max(flows)) / 60))
        yield Remedy(
            say(
                "cure-shorter-pumping",
                "Draw from “{tap}” no longer than {lasts} in a day.",
                tap=tap.name,
                lasts=Amount(most, "minutes"),
            ),
            edits.put(case.garden, "taps", tap.model_copy(update={"window_s": most})),
        )


CATCH_REMEDIES: dict[str, tuple[Remedies, ...]] = {
    "catch-downspout-leads-nowhere": (lead_it_in, from_another_store),
    "catch-nothing-fills": (new_downspout, lead_it_in, from_another_store, top_up),
    "catch-roof-left-over": (lead_it_in, new_downspout),
    "catch-roofs-too-small": (thirst_remedies.drink_less, top_up),
    "catch-downspout-too-narrow": (wider_spout, both_wider),
    "catch-gutter-too-narrow": (wider_spout, both_wider),
    "catch-greywater-not-allowed": (allowed_bed,),
    "catch-drum-leads-nowhere": (allowed_bed,),
    "catch-heaviest-day-needs": (allowed_bed, drum_remedies.other_drum),
    "catch-nothing-comes-out": (drum_remedies.other_drum,),
    "catch-no-pump-in-lines": (drum_remedies.by_its_fall,),
    "catch-drum-keep-week": (drum_remedies.other_drum,),
    "catch-clogged-does-not-keep-up": (drum_remedies.other_drum,),
    "catch-water-stands-drum": (drum_remedies.other_drum,),
    "catch-first-flush-takes": (smaller_flush,),
    "catch-well-drawn-empty": (shorter_pumping,),
}
