"""Changes as data: what one garden has that another has not, done to it."""

import pytest
from pydantic import ValidationError

from euhydra.garden import changes, demo, edits
from gardens import with_part


def test_what_lies_between_two_gardens_makes_one_of_the_other():
    before = demo.garden()
    after = with_part(before, "stores", stand_m=0.9)
    after = edits.remove(after, after.taps[0].id)
    after = edits.put(
        after,
        "pipes",
        after.pipes[0].model_copy(
            update={"id": "spare", "name": "Spare", "begins_at": None, "begins_along_m": None}
        ),
    )
    done = changes.between(before, after)
    assert {(c.does, c.collection) for c in done} >= {
        ("set", "stores"),
        ("remove", "taps"),
        ("add", "pipes"),
    }
    assert next(c for c in done if c.collection == "stores").fields == {"stand_m": 0.9}
    again = changes.done_to(before, changes.from_json([c.as_json() for c in done]))
    assert changes.between(again, after) == ()
    assert changes.between(before, before) == ()


def test_changes_that_break_a_garden_are_refused():
    garden = demo.garden()
    gone = changes.Change("remove", "stores", "shed-barrel", {})
    with pytest.raises(ValidationError):
        changes.done_to(garden, [gone])  # lines begin there
    with pytest.raises(KeyError):
        changes.done_to(garden, [changes.Change("set", "stores", "nowhere", {"stand_m": 1.0})])
    tall = garden.stores[0].model_copy(update={"stand_m": 99.0})
    loose = garden.model_copy(update={"stores": (tall, *garden.stores[1:])})
    assert changes.holds_together(loose) is None
    assert changes.holds_together(garden) == garden
