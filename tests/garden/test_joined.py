"""Everything that is joined to something else: refused where water could not run so."""

import pytest
from pytest import approx

from euhydra.garden import document, edits
from euhydra.garden.document import GardenError
from euhydra.garden.model import Garden
from euhydra.garden.store_groups import group_of, groups_of
from gardens import one_barrel, with_part


def store(store_id: str, **changes: object) -> dict:
    """A store of 200 L like the one barrel, on level ground."""
    found = one_barrel().stores[0].model_dump(mode="json")
    return found | {"id": store_id, "name": store_id, "ground_m": 0.0, "stand_m": 0.4} | changes


def garden(**collections: list[dict]) -> Garden:
    """The one-barrel garden with some collections in place of its own."""
    return document.from_document(one_barrel().model_dump(mode="json") | collections)


def barrels(*stores: dict) -> Garden:
    """With these stores beside the barrel."""
    return garden(stores=[one_barrel().stores[0].model_dump(mode="json"), *stores])


def spout(spout_id: str, **changes: object) -> dict:
    """A downspout of the one roof."""
    found = one_barrel().downspouts[0].model_dump(mode="json")
    return found | {"id": spout_id, "name": spout_id, "share": 0.5, "leads_to": None} | changes


@pytest.mark.parametrize(
    ("build", "words"),
    [
        (
            lambda: garden(downspouts=[spout("a", share=0.6), spout("b", share=0.6)]),
            "share out 120 %",
        ),
        (lambda: garden(downspouts=[spout("a", leads_to="a")]), "leads to itself"),
        (
            lambda: garden(downspouts=[spout("a", leads_to="b"), spout("b", leads_to="a")]),
            "ring of downspouts",
        ),
        (
            lambda: garden(downspouts=[spout("a", leads_to="no-such")]),
            "store or downspout “no-such”",
        ),
        (
            lambda: barrels(store("a", overflow_to="b"), store("b", overflow_to="a")),
            "spills in a ring",
        ),
        (
            lambda: barrels(store("a", linked_to="b", overflow_to="b"), store("b")),
            "whose level it shares",
        ),
        (
            lambda: barrels(store("low"), store("high", ground_m=2.0, linked_to="low")),
            "are linked, but the second runs over at 1.4 m",
        ),
        (
            lambda: barrels(store("low", overflow_to="high"), store("high", ground_m=0.5)),
            "water does not run uphill",
        ),
        (lambda: barrels(store("a", linked_to="a")), "cannot be joined with itself"),
        (
            lambda: barrels(store("a", volume_m3=1.0, across_m=0.6, width_m=0.5)),
            "cannot hold 1,000 L: its length, width and water depth give 300 L",
        ),
        (lambda: barrels(store("a", volume_m3=None)), "Say what it holds"),
        (lambda: barrels(store("a", sunk_m=0.5)), "cannot stand on a stand and be sunk"),
        (
            lambda: garden(taps=[{"id": "t", "name": "t", "bucket_m3": 0.01, "fills_in_s": 0}]),
            "too small",
        ),
    ],
)
def test_what_cannot_be_is_refused_with_place_and_remedy(build, words):
    with pytest.raises(GardenError, match=words.replace("(", r"\(")):
        build()


def test_a_volume_left_out_is_reckoned_from_the_walls():
    round_one = barrels(store("a", volume_m3=None, across_m=0.6)).stores[1]
    assert round_one.holds_m3 == approx(3.14159265 / 4 * 0.36, rel=1e-6)
    assert barrels(store("a", volume_m3=None, across_m=0.6, width_m=0.5)).stores[
        1
    ].holds_m3 == approx(0.3)


def test_groups_are_what_is_linked_in_whatever_order():
    planned = barrels(store("a", linked_to="c"), store("b"), store("c", linked_to="d"), store("d"))
    groups = [[s.id for s in group.stores] for group in groups_of(planned.stores)]
    assert groups == [["shed-barrel"], ["a", "c", "d"], ["b"]]
    assert group_of(planned.stores, "c").count == 3


def test_removing_a_store_undoes_links_to_it_and_loses_nothing_else():
    garden = with_part(one_barrel(), "beds", sources=("shed-barrel",))
    left = edits.remove(garden, "shed-barrel")
    assert left.stores == ()
    assert left.timers[0].begins_at is None
    assert len(left.pipes) == len(garden.pipes)
    assert left.downspouts[0].leads_to is None
    assert left.beds[0].sources == ()
