"""One form on several parts of one kind: what is the same in all is shown, what is typed is set in all."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from euhydra.garden.kinds import kind_of
from euhydra.garden.model import Garden
from euhydra.web.forms import FieldView, FormError, FormOn, FormView, NoSuchPartError, Typed
from euhydra.web.part_forms import PartForm

OF_ITS_OWN = ("name", "at")
"""Fields that no two parts share."""

NOT_ALIKE = ("order",)
"""Sorts of field that are asked of one part at a time."""


@dataclass(frozen=True)
class FormOnSeveral:
    """A form on several parts; a field that differs among them is empty, and stays so unless typed."""

    form: PartForm
    garden: Garden
    ids: tuple[str, ...]

    @classmethod
    def of(cls, form: PartForm, garden: Garden, ids: tuple[str, ...]) -> "FormOnSeveral":
        """The form on the parts called so.

        Raises
        ------
        NoSuchPartError : if one of them is not there.
        """
        for part_id in ids:
            FormOn.of(form, garden, part_id)
        return cls(form, garden, ids)

    def show(self) -> FormView:
        """With what all of them have."""
        return self._view(self._common(), {})

    def show_retyped(self, typed: Typed, fault: str) -> FormView:
        """With what was typed, and a fault about the whole of it."""
        return self._view(self._typed(typed), {}, fault)

    def read(self, typed: Typed) -> Garden:
        """The garden with every one of them as typed.

        Raises
        ------
        FormError : with every field that will not do, and the part that will not have it.
        """
        common, given = self._common(), self._typed(typed)
        changed = {name: text for name, text in given.items() if text != (common[name] or "")}
        garden = self.garden
        for part_id in self.ids:
            form = FormOn.of(self.form, garden, part_id)
            own = {field.name: field.value for field in form.show().fields}
            try:
                garden = form.read(own | changed)
            except FormError as error:
                errors = {field.name: field.error for field in error.view.fields if field.error}
                fault = f"“{error.view.name}”: {error.view.fault}" if error.view.fault else ""
                raise FormError(self._view(given, errors, fault)) from None
        return garden

    def _fields(self) -> list[FieldView]:
        first = FormOn.of(self.form, self.garden, self.ids[0]).show()
        return [
            field
            for field in first.fields
            if field.name not in OF_ITS_OWN and field.kind not in NOT_ALIKE
        ]

    def _common(self) -> dict[str, str | None]:
        """Value of each field that all share; None where they differ."""
        views = [FormOn.of(self.form, self.garden, part_id).show() for part_id in self.ids]
        values: dict[str, set[str]] = {}
        for view in views:
            for field in view.fields:
                values.setdefault(field.name, set()).add(field.value)
        found = {field.name: values[field.name] for field in self._fields()}
        return {name: next(iter(own)) if len(own) == 1 else None for name, own in found.items()}

    def _typed(self, typed: Typed) -> dict[str, str]:
        return {field.name: typed.get(field.name, "").strip() for field in self._fields()}

    def _view(
        self, values: Mapping[str, str | None], errors: Mapping[str, str], fault: str = ""
    ) -> FormView:
        common = self._common()
        fields = tuple(
            replace(
                field,
                value=values[field.name] or "",
                error=errors.get(field.name, ""),
                differs=common[field.name] is None,
            )
            for field in self._fields()
        )
        title = f"{self.form.noun}: {len(self.ids)} together"
        key = self.form.key
        return FormView(
            f"several-{key}", key, " ".join(self.ids), title, "", fields, self.form.is_facet, fault
        )


def ids_of(text: str) -> tuple[str, ...]:
    """Ids of several parts, as a form and an address name them: with blanks between."""
    return tuple(dict.fromkeys(text.split()))


def forms_of_several(
    garden: Garden, ids: tuple[str, ...], forms: tuple[PartForm, ...]
) -> list[FormView]:
    """Every form that all of them have; none where they are of different kinds.

    Raises
    ------
    NoSuchPartError : if one of them is not there.
    """
    parts = {part.id: part for part in garden.parts}
    if any(part_id not in parts for part_id in ids):
        raise NoSuchPartError("One of these is no longer there: someone removed it meanwhile.")
    kinds = {kind_of(parts[part_id]).collection for part_id in ids}
    if len(kinds) > 1:
        return []
    own = [form for form in forms if form.collection in kinds]
    views = (FormOnSeveral(form, garden, ids).show() for form in own)
    return [view for view in views if view.fields]
