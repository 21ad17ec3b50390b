import pytest
from pytest import approx

from euhydra.garden.stores import Store
from euhydra.planner.answers import Mark
from euhydra.planner.store.standing import answer_standing
from gardens import one_barrel


def store(**changes: object) -> Store:
    return Store.model_validate(one_barrel().stores[0].model_dump() | {"rim_m": None} | changes)


def test_a_barrel_weighs_over_a_kilogram_a_litre():
    # Field practice (CP): a 200 L barrel is over 200 kg, a 1,000 L tote over a tonne.
    for litres in (200, 1000):
        mass = answer_standing(store(volume_m3=litres / 1000)).figures[0].amount.value
        assert litres < mass < 1.1 * litres


@pytest.mark.parametrize(
    ("changes", "mark", "words"),
    [
        ({"gust_m_s": 0.0}, Mark.WORKS, "It stands"),
        ({}, Mark.BUT, "keep at least"),
        ({"footing": "soft", "height_m": 4.0, "volume_m3": 4.0}, Mark.FAILS, "Too heavy"),
        ({"volume_m3": 0.1, "stand_m": 2.0}, Mark.FAILS, "Top-heavy"),
    ],
)
def test_verdicts(changes, mark, words):
    verdict = answer_standing(store(**changes)).verdict
    assert verdict.mark is mark
    assert words in str(verdict.summary)


def test_the_typed_weight_is_used():
    light, heavy = (answer_standing(store(shell_kg=kg)).figures[4].amount.value for kg in (5, 15))
    assert light - heavy == approx(10 / 998.2)


def test_feet_bear_and_hold_as_they_stand():
    def figures(**changes):
        return [f.amount.value for f in answer_standing(store(stand_m=0.5, **changes)).figures]

    plain, wide = figures(), figures(feet_across_m=1.2)
    assert wide[2] > plain[2]
    assert wide[4] < plain[4]
    small = figures(feet_m2=0.1, stand_kg=20.0)
    assert small[1] == approx((small[0] + 20.0) * 9.80665 / 0.1)
