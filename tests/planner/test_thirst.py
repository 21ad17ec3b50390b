"""What dries is told, whatever waters it: no bed is too dry in a garden that is said to work."""

import numpy as np
import pytest
from pytest import approx

from beginnings import OF_EACH_WATER, WAYS, begun, place
from euhydra.garden import edits
from euhydra.planner.beginning.glance import glance_at
from euhydra.planner.chain import run_chain
from euhydra.planner.judgement import trying
from euhydra.planner.judgement.answer import Judgement, judge
from euhydra.planner.judgement.finding import Severity
from euhydra.planner.judgement.thirst_findings import DRYING
from euhydra.planner.season import shares
from euhydra.planner.season.by_hand import by_hand as hands
from euhydra.planner.season.fared import STRESS_GRAVE, STRESS_HARMLESS, lived_of
from gardens import tapped
from sound_gardens import RECORD, opened_bed, washing_shrubs
from sweeps import swept
from told import fails_alone

MUCH = 0.07
"""Share of its days on which a bed is plainly too dry: the aim of the settings is one in twenty. [-]"""

TOWNS = ("Denver", "Phoenix", "Sydney")


def by_hand_every(garden, days: int):
    """The same without timers: opened or carried every so many days."""
    for timer in garden.timers:
        garden = edits.remove(garden, timer.id)
    for collection in ("beds", "pots"):
        for part in getattr(garden, collection):
            garden = edits.put(garden, collection, part.model_copy(update={"by_hand_d": days}))
    return garden


def silent(judged: Judgement) -> set[str]:
    """Beds that are plainly too dry, about which nothing that weighs is found."""
    chain = judged.chain
    of = {plant.part.id: {plant.part.id} for plant in chain.planted}
    for each in chain.zones:
        store = each.zone.group.id if each.zone.group else each.zone.source.id
        for part in each.zone.watered:
            of[part.id] |= {each.zone.id, each.zone.source.id, store}
    for order in chain.season.orders:
        of[order.part.id] |= {source.id for source in order.all}
    weighs = [f for f in judged.findings if f.severity is not Severity.BETTER]
    told = {part for f in weighs for part in (f.about, *f.parts)}
    dry = {
        key
        for key, bed in lived_of(chain.season).items()
        if bed.dry_days > STRESS_HARMLESS and bed.dry_share > MUCH
    }
    return {key for key in dry if not of[key] & told}


@pytest.mark.parametrize("town", swept(TOWNS, ["Denver"]))
@pytest.mark.parametrize("way", swept(WAYS, OF_EACH_WATER))
def test_no_bed_of_any_way_to_begin_dries_untold(way, town):
    judged = judge(run_chain(begun(way, town), place(town)[1]))
    assert silent(judged) == set()
    assert fails_alone(judged) == set()


@pytest.mark.parametrize(
    "way", swept(["tap", "cellar", "patio", "can", "pairs", "barrel"], ["tap", "cellar", "can"])
)
def test_nor_one_that_is_watered_by_hand_once_a_fortnight(way):
    garden = by_hand_every(begun(way, "Phoenix"), 14)
    assert silent(judge(run_chain(garden, place("Phoenix")[1]))) == set()


def test_a_way_to_begin_shows_the_week_that_is_too_little():
    judged = judge(run_chain(begun("washing", "Denver"), place("Denver")[1]))
    glance = glance_at(judged)
    assert glance.first is not None
    assert glance.first.code == "catch-washing-too-little"
    (told,) = (s for s in glance.first.symptoms if s.code == "catch-washing-asked")
    weeks = [amount.value for name, amount in glance.figures if "a week" in name]
    assert weeks == approx([told.values["brings"].value, told.values["asked"].value])
    assert weeks[1] > 2 * weeks[0]


def test_it_weighs_as_much_as_the_years_say():
    """Dry for longer than thirty days a year it does not work; for less, plants suffer."""
    seen = set()
    for every in (5, 7, 14):
        judged = judge(
            run_chain(by_hand_every(begun("can", "Phoenix"), every), place("Phoenix")[1])
        )
        lived = lived_of(judged.chain.season)
        for finding in (f for f in judged.findings if f.code == "hand-too-dry"):
            is_grave = lived[finding.about].dry_days > STRESS_GRAVE
            assert finding.severity.is_grave == is_grave
            (hand,) = (h for h in hands(judged.chain.season) if h.part.id == finding.about)
            assert hand.verdict.mark is finding.severity.mark
            seen.add(is_grave)
    assert seen == {True, False}


@pytest.mark.parametrize("town", swept(TOWNS, ["Denver"]))
def test_no_cure_leaves_dry_under_another_name_what_washing_water_left_dry(town):
    judged = judge(run_chain(begun("washing", town), place(town)[1]))
    finding = judged.findings[0]
    assert finding.code == "catch-washing-too-little"
    trials = list(trying.trials_of(judged, finding))
    assert trials
    for trial in trials:
        assert {f.code for f in trial.after.findings} & set(DRYING) == set()


def test_washing_water_is_held_against_what_need_asks():
    """Roots that drink all they would lack nothing, however much more there was room for."""
    garden = washing_shrubs()
    few = run_chain(garden, RECORD)
    (bed,) = shares.answer_balance(few.season).beds
    (need,) = (way.need for way in few.season.ways)
    assert bed.wanted == approx(need.year_litres)
    assert bed.met.amount.value > 0.97
    wide = edits.put(garden, "beds", garden.beds[0].model_copy(update={"length_m": 12.0}))
    many = run_chain(wide, RECORD)
    (bed,) = shares.answer_balance(many.season).beds
    run, need = many.season.beds[0], many.season.ways[0].need
    undrunk = (need.crop_et - run.transpired).sum() * need.area_m2 / many.season.record.years
    assert bed.unmet == approx(undrunk)
    assert bed.met.amount.value < 0.8


def test_a_hand_beside_washing_water_comes_on_its_own_days_alone():
    garden = edits.put(washing_shrubs(), "taps", tapped().taps[0])
    wide = garden.beds[0].model_copy(
        update={"length_m": 12.0, "hand_from": tapped().taps[0].id, "by_hand_d": 7}
    )
    season = run_chain(edits.put(garden, "beds", wide), RECORD).season
    washed, by_hand = season.run.given[0]
    days = np.arange(len(by_hand))
    assert by_hand.sum() > 0
    assert set(days[by_hand > 0] % 7) == {0}
    assert washed[days % 7 != 0].sum() > washed.sum() / 2
    # What the washing leaves lacking between two visits is all brought at the next.
    run, need = season.beds[0], season.ways[0].need
    after = (by_hand > 0) & need.is_growing
    assert np.nanmax(run.depletion[after]) < 1e-6
    visits = hands(season)[0].season_months
    august = next(month for month in visits if month.month == 8)
    brought = by_hand[(season.record.month == 8) & (by_hand > 0)]
    assert august.litres == approx(brought.mean())


def test_a_line_opened_by_hand_brings_what_comes_through_it_while_it_is_open():
    garden = opened_bed()
    short = garden.taps[0].model_copy(update={"window_s": 900.0})
    garden = edits.put(garden, "taps", short)
    weekly = edits.put(garden, "beds", garden.beds[0].model_copy(update={"by_hand_d": 7}))
    chain = run_chain(weekly, RECORD)
    (given,) = chain.season.run.given[0]
    an_hour = chain.zones[0].push.usual.state.flow * 1000 * 3600  # L
    assert given.max() == approx(an_hour / 4)
    judged = judge(chain)
    told = (*judged.findings, *judged.folded)
    (found,) = (f for f in told if f.code == "hand-opens-too-seldom")
    assert found.cause.values["window"].value == 900.0
