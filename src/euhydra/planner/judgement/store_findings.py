"""What keeps stores from carrying their beds, and from standing, sinking and spilling where they should."""

from collections.abc import Iterator
from dataclasses import replace

from euhydra.core.programme import STRESSED_DAYS
from euhydra.garden.model import Garden
from euhydra.garden.sentences import Amount, Sentence, Value, say
from euhydra.garden.store_groups import Group, group_below, groups_of
from euhydra.garden.stores import Store
from euhydra.planner.answers import Gap, Mark
from euhydra.planner.chain import Chain
from euhydra.planner.judgement import catch_findings, supply
from euhydra.planner.judgement.finding import Finding, Severity
from euhydra.planner.season import replay
from euhydra.planner.store import cures, spill, standing, wet_ground
from euhydra.planner.store.answer import GroupAnswer
from euhydra.planner.store.installing import plan_installation
from euhydra.planner.store.storms import storm_figures

MUCH_TOO_LOW = 0.25
"""Share of what a store holds that stands too low to run, from which on that is the cause. [-] Our choice."""

MOSTLY = 0.5
"""Share of a store that has to stay in it against the wind, from which on it blows over in earnest. [-]
Our choice."""

MOST_DEAD = 0.3
"""Share of a store that may lie below its tap. [-] Our choice: the usual is a tenth."""


LEAST_TOLD = 0.001
"""Water that spills in a year from which on it is told at all. [m³] Our choice: a litre."""


def store_findings(chain: Chain) -> Iterator[Finding]:
    """Of every store: first whether it stands, then whether it carries, then its overflow."""
    garden = chain.garden
    for store in garden.stores:
        yield from _standing(store)
        yield from _mounted(garden, store)
    if supply.drinks_from_stores(garden):
        for short in supply.short_groups(chain):
            if catch_findings.fills(garden, short.group):
                told = replace(_short(garden, short), severity=supply.weight_of_short(short))
                yield _with_zones(chain, short.group, told)
        yield from _dead_water(garden)
        yield from _idle(chain)
    for group in groups_of(garden.stores):
        yield from _spilling(garden, group)
    for ground in garden.wet_grounds:
        for fault in wet_ground.faults_of(wet_ground.storm_on(garden, ground)):
            yield Finding.of(fault, ground.id, about=ground.id)


def _standing(store: Store) -> Iterator[Finding]:
    answer = standing.answer_standing(store)
    verdict = answer.verdict
    if verdict.mark is Mark.WORKS or verdict.summary.code == "store-ground-bears":
        return
    grave = None
    if verdict.summary.code == "store-stands-but-keep":
        ballast = verdict.summary.values["ballast"]
        assert isinstance(ballast, Amount)
        held = store.total_m3 / store.count
        grave = Severity.DANGEROUS if ballast.value > MOSTLY * held else Severity.BETTER
    yield Finding.of(
        verdict.summary, store.id, about=store.id, symptoms=verdict.reasons, severity=grave
    )


def _mounted(garden: Garden, store: Store) -> Iterator[Finding]:
    """An inlet above the rim, or a diverter's hose that does not fall."""
    if store.is_below_ground or not any(spout.leads_to == store.id for spout in garden.downspouts):
        return
    verdict = plan_installation(store).verdict
    if verdict.mark is Mark.FAILS:
        yield Finding.of(verdict.summary, store.id, about=store.id, symptoms=verdict.reasons)


def _short(garden: Garden, answer: GroupAnswer) -> Finding:
    """Why it gives too little: the first of these that is so."""
    sums, run = answer.sums, answer.run
    met = run.volumetric_reliability
    seen = (
        say(
            "store-gives-share",
            "It gives {met} of what is asked of it, and is dry for {dry} in a row.",
            met=Amount(met, "share"),
            dry=Amount.days(replay.longest_dry_run(run, sums.season.is_growing)),
        ),
    )
    low = run.dead - sums.season.works.tanks[sums.tank].dead
    capacity = sums.season.works.tanks[sums.tank].capacity
    if low > MUCH_TOO_LOW * capacity:
        return Finding.of(
            say(
                "store-water-too-low",
                "Of the {holds} in “{store}” {low} stand too low to run to its beds.",
                holds=Amount.litres(capacity),
                low=Amount.litres(low),
                store=answer.group.name,
            ),
            answer.group.id,
            about=answer.group.id,
            symptoms=seen,
        )
    for other in cures.stranded(sums):
        return Finding.of(
            say(
                "store-only-spills-over",
                "“{other}” only spills over into “{store}”: {litres} stay behind there.",
                other=other.name,
                store=answer.group.name,
                litres=Amount(other.capacity_m3, "volume"),
            ),
            other.id,
            answer.group.id,
            about=answer.group.id,
            symptoms=seen,
        )
    # All that lacks, as Who gets which water tells it; whose doing it is was weighed before.
    lacking = float(sums.unmet.sum()) / sums.season.record.years
    spilled = float(sums.season.run.spill[sums.tank].sum()) / sums.season.record.years
    values: dict[str, Value] = {
        "store": answer.group.name,
        "lacks": Amount.litres(lacking),
        "spills": Amount.litres(spilled),
        "holds": Amount.litres(capacity),
    }
    if spilled > lacking:
        return Finding.of(
            say(
                "store-too-small",
                "“{store}” holds {holds}, too little: {lacks} a year are missing in the dry weeks, while {spills} spill"
                " over in the wet ones.",
                **values,
            ),
            answer.group.id,
            about=answer.group.id,
            symptoms=(*seen, *_runs_on(garden, answer.group)),
        )
    spills = spilled >= LEAST_TOLD
    return Finding.of(
        say(
            "store-too-little-comes",
            "Too little comes into “{store}”: {lacks} a year are missing, and "
            + ("only {spills} spill over." if spills else "none spills over."),
            **values,
        ),
        answer.group.id,
        about=answer.group.id,
        symptoms=(*seen, *(_runs_on(garden, answer.group) if spills else ())),
    )


def _runs_on(garden: Garden, group: Group) -> Iterator[Sentence]:
    """That what spills over is not lost, where another store takes it."""
    below = group_below(group, groups_of(garden.stores), garden.downspouts)
    if below is not None:
        yield say("store-spills-on", "What spills over runs on into “{below}”.", below=below.name)


def _with_zones(chain: Chain, group: Group, finding: Finding) -> Finding:
    """Told on Time too, of the zones whose beds are too dry for it."""
    dry = [
        each.zone.id
        for each in chain.zones
        if each.zone.group == group and each.running and each.running.promised > STRESSED_DAYS
    ]
    if not dry:
        return finding
    return replace(finding, parts=(*finding.parts, *dry), also=("time",))


def _dead_water(garden: Garden) -> Iterator[Finding]:
    """Taps so high that much of the water never comes out."""
    wanted = supply.stores_in_use(garden)
    for group in groups_of(garden.stores):
        tapped = [store for store in group.stores if store.id in wanted]
        if not tapped:
            continue
        lowest = min(tapped, key=group.dead_m3)
        dead = group.dead_m3(lowest)
        if dead > MOST_DEAD * group.capacity_m3 and lowest.outlet_height_m > lowest.dregs_m:
            yield Finding.of(
                say(
                    "store-tap-too-high",
                    "The tap of “{store}” sits {height} up: {dead} of the {holds} below it never come out.",
                    store=lowest.name,
                    height=Amount(lowest.outlet_height_m, "height"),
                    dead=Amount(dead, "volume"),
                    holds=Amount(group.capacity_m3, "volume"),
                ),
                lowest.id,
                about=group.id,
            )


def _idle(chain: Chain) -> Iterator[Finding]:
    """Stores that are filled and that nothing draws from, while beds go without."""
    garden = chain.garden
    if isinstance(chain.season, Gap):
        return
    wanted = supply.stores_in_use(garden)
    for tank, group in enumerate(chain.season.groups):
        ids = {store.id for store in group.stores}
        helps = group_below(group, chain.season.groups, garden.downspouts) is not None
        gives_back = any(s.moves_to in ids and s.gives_back_below > 0 for s in garden.stores)
        if (
            ids & wanted
            or helps
            or gives_back
            or float(chain.season.run.drawn_from(tank).sum()) > 0
        ):
            continue
        yield Finding.of(
            say("store-not-drawn-from", "Nothing is drawn from “{name}” yet.", name=group.name),
            group.id,
            about=group.id,
        )


def _spilling(garden: Garden, group: Group) -> Iterator[Finding]:
    """An overflow whose way does not take a cloudburst."""
    storms = storm_figures(garden, group)
    groups = groups_of(garden.stores)
    below = group_below(group, groups, garden.downspouts)
    if not storms or below is not None:
        return
    answer = spill.answer_spill(group, storms[-1].amount.value, None)
    if answer.verdict.mark is not Mark.WORKS:
        # Where nobody has said what ground it runs onto, that it runs on is as good as a guess.
        fields = Store.model_fields
        is_said = any(
            getattr(group.lowest, name) != fields[name].default
            for name in ("soak_area_m2", "soak_soil")
        )
        runs_on = answer.verdict.summary.code == "store-ground-takes-run"
        yield Finding.of(
            answer.verdict.summary,
            group.lowest.id,
            about=group.id,
            symptoms=answer.verdict.reasons,
            severity=Severity.WASTES if runs_on and is_said else None,
        )
