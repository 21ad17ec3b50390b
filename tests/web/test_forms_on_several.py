"""One form on several parts: what they share is shown, what is typed is set in all, the rest stays."""

import pytest

from euhydra.garden import demo, edits
from euhydra.web.forms import FormError, NoSuchPartError
from euhydra.web.forms_on_several import FormOnSeveral, forms_of_several
from euhydra.web.part_forms import PART_FORMS
from gardens import beds_alike

FORM = PART_FORMS["bed"]


def of_three():
    garden = beds_alike(3)
    odd = garden.beds[1].model_copy(update={"soil": "clay", "width_m": 0.8})
    garden = edits.put(garden, "beds", odd)
    return garden, tuple(bed.id for bed in garden.beds)


def test_what_differs_is_empty_and_stays_as_each_is():
    garden, ids = of_three()
    form = FormOnSeveral.of(FORM, garden, ids)
    view = form.show()
    fields = {field.name: field for field in view.fields}
    assert "name" not in fields
    assert fields["soil"].differs
    assert fields["soil"].value == ""
    assert not fields["crop"].differs
    assert view.part_id.split() == list(ids)
    shown = {field.name: field.value for field in view.fields}
    assert form.read(shown).beds == garden.beds
    crop = form.read(shown | {"crop": "pepper", "raised_m": "30 cm"})
    assert [bed.crop for bed in crop.beds] == ["pepper"] * 3
    assert [bed.raised_m for bed in crop.beds] == [0.3] * 3
    assert [bed.soil for bed in crop.beds] == [bed.soil for bed in garden.beds]
    assert [bed.name for bed in crop.beds] == [bed.name for bed in garden.beds]
    assert {bed.soil for bed in form.read(shown | {"soil": "sand"}).beds} == {"sand"}


def test_what_will_not_do_is_told_at_its_field_and_kept():
    garden, ids = of_three()
    form = FormOnSeveral.of(FORM, garden, ids)
    shown = {field.name: field.value for field in form.show().fields}
    with pytest.raises(FormError) as caught:
        form.read(shown | {"length_m": "long", "crop": "pepper"})
    fields = {field.name: field for field in caught.value.view.fields}
    assert fields["length_m"].error
    assert fields["length_m"].value == "long"
    assert fields["crop"].value == "pepper"


def test_parts_of_different_kinds_share_no_form_and_one_that_is_gone_is_told():
    garden = demo.garden()
    forms = tuple(PART_FORMS.values())
    assert forms_of_several(garden, ("top-bed", "wall-tank"), forms) == []
    with pytest.raises(NoSuchPartError):
        forms_of_several(garden, ("top-bed", "gone"), forms)
    own = forms_of_several(garden, ("top-bed", "middle-bed"), forms)
    assert own[0].key == "bed"
    assert all(view.is_about_several for view in own)
