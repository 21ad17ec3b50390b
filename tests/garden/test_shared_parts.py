"""Parts that two readings of a garden have in common are the same objects, and nothing else is."""

from euhydra.garden import changes, demo, document, edits
from gardens import with_part


def read_again(garden):
    return document.loads(document.dumps(garden))


def test_only_what_an_edit_touches_is_another_object():
    before = read_again(demo.garden())
    after = read_again(with_part(before, "roofs", 0, length_m=9.5))
    assert after.roofs[0] is not before.roofs[0]
    assert all(a is b for a, b in zip(after.pipes, before.pipes, strict=True))


def test_what_reads_alike_but_is_written_otherwise_stays_as_written():
    garden = demo.garden()
    plus = with_part(garden, "beds", 0, ground_m=0.0)
    minus = with_part(garden, "beds", 0, ground_m=-0.0)
    assert document.dumps(plus) != document.dumps(minus)
    assert document.dumps(read_again(plus)) == document.dumps(plus)
    assert document.dumps(read_again(minus)) == document.dumps(minus)


def test_a_garden_checked_whole_keeps_the_parts_that_it_was_put_together_from():
    garden = demo.garden()
    moved = edits.replace(garden, name="Elsewhere")
    checked = changes.holds_together(moved)
    assert all(a is b for a, b in zip(checked.beds, moved.beds, strict=True))


def test_a_document_on_one_line_is_the_same_document():
    garden = demo.garden()
    assert document.loads(document.dumps(garden, indent=None)) == garden
