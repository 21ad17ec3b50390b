"""What keeps water from being caught: roofs and stores that nothing joins, pipes too narrow, washing water astray."""

from collections.abc import Iterator, Sequence

from euhydra.core.constants import MM_PER_M
from euhydra.core.weather import DailyWeather
from euhydra.garden.model import Garden
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.garden.sources import Greywater
from euhydra.garden.store_groups import Group, group_below, groups_of
from euhydra.planner.answers import Mark
from euhydra.planner.catch import downpipes, greywater, spouts, taps
from euhydra.planner.chain import Chain, ZoneChain
from euhydra.planner.judgement import supply
from euhydra.planner.judgement.finding import Finding, Severity
from euhydra.planner.need.daily import Need
from euhydra.planner.push.answer import PushAnswer
from euhydra.planner.water import zones

MOST_LOST = 0.5
"""Share of a cloudburst that a downspout may lose. [-] Our choice: half of it is what people see go over."""

MOST_FLUSHED = 0.3
"""Share of the year's water that a first flush may turn away. [-] Our choice: the usual takes a tenth."""

LEFT_OVER = 2.0
"""Roof that reaches no store, from which on it is told. [m²] Our choice."""

STOPS_A_DRUM = ("catch-no-pump-in-lines", "catch-nothing-comes-out")
"""Faults of a drum from which its others follow."""


def catch_findings(chain: Chain) -> Iterator[Finding]:
    """Of roofs, downspouts and washing water."""
    garden = chain.garden
    if supply.drinks_from_stores(garden):
        yield from _unfilled(garden)
        yield from _left_over(chain)
        yield from _short_of_need(chain)
        yield from _narrow(chain)
        yield from _flushed_away(chain)
    yield from _dry_wells(chain)
    yield from _washing_water(chain)


def fills(garden: Garden, group: Group) -> bool:
    """Whether rain, a tap or another store's overflow comes into it."""
    groups = groups_of(garden.stores)
    if spouts.spouts_into(garden, {store.id for store in group.stores}):
        return True
    if any(store.topped_by for store in group.stores):
        return True
    moved = {store.moves_to for store in garden.stores}
    if any(store.id in moved for store in group.stores):
        return True
    above = (other for other in groups if other is not group)
    return any(
        group_below(other, groups, garden.downspouts) == group and fills(garden, other)
        for other in above
    )


def _unfilled(garden: Garden) -> Iterator[Finding]:
    """Stores that beds drink from, and nothing comes into; told on Time too, of the zones on them."""
    wanted = supply.stores_in_use(garden)
    on_a_store = [zone for zone in zones.zones_of(garden) if zone.group is not None]
    for group in groups_of(garden.stores):
        if not wanted & {store.id for store in group.stores} or fills(garden, group):
            continue
        loose = next((spout for spout in garden.downspouts if spout.leads_to is None), None)
        on_it = [zone.id for zone in on_a_store if zone.group == group]
        told_at = ("store", "time") if on_it else ("store",)
        if loose is not None:
            yield Finding.of(
                say(
                    "catch-downspout-leads-nowhere",
                    "Nothing fills “{store}”: “{spout}” runs onto the ground, and no other leads to it.",
                    store=group.name,
                    spout=loose.name,
                ),
                loose.id,
                group.id,
                *on_it,
                also=told_at,
            )
        elif garden.roofs:
            yield Finding.of(
                say(
                    "catch-nothing-fills",
                    "Nothing fills “{store}”: no downspout leads to it, and it is not topped up.",
                    store=group.name,
                ),
                group.id,
                *on_it,
                also=told_at,
            )


def _left_over(chain: Chain) -> Iterator[Finding]:
    """Roof that reaches no store, while a store is short."""
    garden, record = chain.garden, chain.record
    area = spouts.unused_catch_m2(garden)
    short = supply.short_groups(chain)
    if record is None or area < LEFT_OVER or not short:
        return
    loose = [spout.id for spout in garden.downspouts if spout.leads_to is None]
    if any(not fills(garden, sums.group) for sums in short):
        return  # that is told already
    rain = float(record.precip.sum()) / record.years / MM_PER_M
    yield Finding.of(
        say(
            "catch-roof-left-over",
            "{area} of roof reach no store, {litres} a year, while “{store}” runs short.",
            area=Amount(area, "area"),
            litres=Amount(area * rain, "volume"),
            store=short[0].group.name,
        ),
        *(loose or [roof.id for roof in garden.roofs]),
        short[0].group.id,
    )


def _short_of_need(chain: Chain) -> Iterator[Finding]:
    """All the roofs bring less in a year than what drinks from stores alone asks for."""
    garden, record = chain.garden, chain.record
    short = supply.short_groups(chain)
    if record is None or not short or not garden.roofs:
        return
    brought = sum(_brought(garden, group, record) for group in groups_of(garden.stores))
    asked = sum(
        plant.need.year_litres
        for plant in chain.planted
        if isinstance(plant.need, Need) and supply.drinks_only_rain(garden, plant.part)
    )
    if not 0 < brought < asked or spouts.unused_catch_m2(garden) >= LEFT_OVER:
        return
    yield Finding.of(
        say(
            "catch-roofs-too-small",
            "The roofs bring {year} a year to the stores, and what drinks from them asks for {need}: no barrel can"
            " make up for it.",
            year=Amount.litres(brought),
            need=Amount.litres(asked),
        ),
        *(roof.id for roof in garden.roofs),
        severity=min(map(supply.weight_of_short, short), key=lambda each: each.weight),
    )


def _brought(garden: Garden, group: Group, record: DailyWeather) -> float:
    """Litres a year from roofs. [L a⁻¹]"""
    inflow = spouts.inflow_of(garden, {store.id for store in group.stores}, record)
    return float(inflow.sum()) / record.years


def _narrow(chain: Chain) -> Iterator[Finding]:
    """Downspouts that lose most of a cloudburst: gutter or pipe."""
    if chain.record is None:
        return
    for spout in spouts.spouts_of(chain.garden).values():
        if spout.downspout.leads_to is None:
            continue
        answer = downpipes.answer_downpipe(spout, chain.garden, chain.record)
        lost = answer.overshoot.amount.value
        if lost > MOST_LOST:
            is_pipe = answer.capacity.amount.value <= answer.gutter.amount.value
            yield Finding.of(
                say(
                    "catch-downspout-too-narrow" if is_pipe else "catch-gutter-too-narrow",
                    "“{spout}” loses {lost} of a cloudburst: it carries {carries} of the {arrives} that arrive, and the"
                    " rest goes over the gutter at the wall.",
                    spout=spout.downspout.name,
                    lost=answer.overshoot.amount,
                    carries=Amount(downpipes.carried_flow(spout), "flow"),
                    arrives=answer.overshoot.working.inputs["arrives"],
                ),
                *(
                    (spout.downspout.id, spout.roof.id)
                    if is_pipe
                    else (spout.roof.id, spout.downspout.id)
                ),
            )


def _flushed_away(chain: Chain) -> Iterator[Finding]:
    """A first flush that turns away a good part of the year's water."""
    if chain.record is None:
        return
    for spout in spouts.spouts_of(chain.garden).values():
        arriving = float(spout.arriving(chain.record).sum())
        turned = 1 - float(spout.leaving(chain.record).sum()) / arriving if arriving > 0 else 0.0
        if spout.downspout.leads_to is not None and turned > MOST_FLUSHED:
            yield Finding.of(
                say(
                    "catch-first-flush-takes",
                    "The first flush of “{spout}” turns away {turned} of the year's water.",
                    spout=spout.downspout.name,
                    turned=Amount(turned, "share"),
                ),
                spout.downspout.id,
            )


def _dry_wells(chain: Chain) -> Iterator[Finding]:
    """Wells that the lines on them draw dry in a day."""
    for tap in chain.garden.taps:
        drawn = [
            (each.push.usual.state.flow, _longest_day(each))
            for each in chain.zones
            if each.zone.source.id == tap.id and isinstance(each.push, PushAnswer)
        ]
        runs = sum(seconds for _, seconds in drawn)
        if runs <= 0:
            continue
        lasts = taps.lasts_s(tap, sum(flow * seconds for flow, seconds in drawn) / runs)
        if lasts < runs:
            yield Finding.of(
                say(
                    "catch-well-drawn-empty",
                    "“{tap}” is empty after {lasts} of what its lines draw, and needs {again} to fill: they run for"
                    " {runs} in a day.",
                    tap=tap.name,
                    lasts=Amount(lasts, "hours"),
                    again=Amount(taps.refills_s(tap), "hours"),
                    runs=Amount(runs, "hours"),
                ),
                tap.id,
                about=tap.id,
            )


def _longest_day(each: ZoneChain) -> float:
    """How long a zone runs on its longest day; as long as it may without a timer. [s]"""
    if each.running is None:
        return each.zone.window_s
    positions = [month.setting.position for month in each.running.set_months if month.setting]
    return max((p.run_minutes * 60.0 * p.runs_a_day for p in positions), default=0.0)


def _faulty(system: Greywater, reasons: Sequence[Sentence]) -> Iterator[Finding]:
    """Each fault of a drum by itself; where nothing comes out of it the others follow from that."""
    *faults, allowed = reasons
    cause = next((fault for fault in faults if fault.code in STOPS_A_DRUM), None)
    if cause is not None:
        rest = (fault for fault in faults if fault is not cause)
        yield Finding.of(cause, system.id, about=system.id, symptoms=(*rest, allowed))
        return
    for fault in faults:
        yield Finding.of(fault, system.id, about=system.id, symptoms=(allowed,))


def _washing_water(chain: Chain) -> Iterator[Finding]:
    """Washing water that may not go there, goes nowhere, or does not keep up."""
    for system in chain.garden.greywaters:
        verdict = greywater.answer_washing(chain.garden, system).verdict
        if verdict.mark is Mark.WORKS:
            continue
        grave = Severity.BETTER if verdict.summary.code == "catch-no-washing-water" else None
        refused = [
            part.id
            for part in chain.garden.planted
            if verdict.summary.code == "catch-greywater-not-allowed"
            and part.name == verdict.summary.values["part"]
        ]
        if verdict.summary.code == "catch-line-works-but":
            yield from _faulty(system, verdict.reasons)
            continue
        yield Finding.of(
            verdict.summary,
            system.id,
            *refused,
            about=system.id,
            symptoms=verdict.reasons,
            severity=grave,
        )
