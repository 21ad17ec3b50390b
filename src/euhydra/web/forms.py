"""Forms made from the garden's own models: labels, units, limits and errors come from there."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

from pydantic import ValidationError
from pydantic.fields import FieldInfo

from euhydra.garden import document, edits, filled_text, quantities
from euhydra.garden.kinds import linked_collections
from euhydra.garden.model import MOST, Garden
from euhydra.garden.part import Part, link_of, quantity_of
from euhydra.garden.pipes import Piece
from euhydra.garden.quantities import KINDS, QuantityError
from euhydra.garden.usual import round_default, usual_values
from euhydra.planner.catch.washing_week import led_to
from euhydra.planner.judgement import assumed
from euhydra.web import field_values
from euhydra.web.how_to_tell import how_to_tell
from euhydra.web.part_forms import PartForm
from euhydra.web.wording import choice_lists

Typed = Mapping[str, str]

OWN_ENTRIES = {"crops": "own_crops", "timers": "own_timers"}
"""Collections of a garden that lengthen a list of choices."""


ALIKE = "alike"
"""Name of the field that asks how many are to be added."""

CONFIRM = "confirm"
"""Name of the button that says an assumed value is so; its value is the field's name."""


@dataclass(frozen=True)
class FieldView:
    """A field as the template shows it.

    clears : Whether an optional choice may be taken back to nothing.
    differs : Whether several parts that it is asked of have different values of it.
    is_assumed : Whether it stands as usual, and nobody has measured it or said that it is so.
    how : How a gardener tells it; "" where its label says enough.
    kind : `text`, `count`, `quantity`, `choice`, `order`, `weekdays` or `date`.
    """

    name: str
    label: str
    help: str
    kind: str
    value: str
    error: str = ""
    example: str = ""
    choices: Mapping[str, str] = field(default_factory=dict)
    quantity: str = ""
    is_optional: bool = False
    clears: bool = False
    is_link: bool = False
    differs: bool = False
    is_assumed: bool = False
    how: str = ""


@dataclass(frozen=True)
class FormView:
    """A form as the template shows it; `fault` is about the whole of it.

    id : Of its place on the page.
    part_id : Of the part it is about, or of several with blanks between; "" for one that it would add.
    """

    id: str
    key: str
    part_id: str
    title: str
    name: str
    fields: tuple[FieldView, ...]
    is_facet: bool
    fault: str = ""

    @property
    def is_new(self) -> bool:
        """Whether it adds a part."""
        return not self.part_id

    @property
    def is_about_several(self) -> bool:
        """Whether it changes several parts at once."""
        return " " in self.part_id

    @property
    def has_errors(self) -> bool:
        """Whether anything is wrong with it."""
        return bool(self.fault) or any(f.error for f in self.fields)


class FormError(ValueError):
    """What was typed will not do; `view` shows it again with what is wrong."""

    def __init__(self, view: FormView) -> None:
        super().__init__("the form has errors")
        self.view = view


class NoSuchPartError(LookupError):
    """The part that a form is about is no longer there."""


@dataclass(frozen=True)
class FormOn:
    """A form on one part of a garden, or on the part that it would add.

    before : Part that a new piece is set in front of, where the page knows which; else "".
    """

    form: PartForm
    garden: Garden
    part: Part | None
    before: str = ""

    @classmethod
    def of(cls, form: PartForm, garden: Garden, part_id: str, before: str = "") -> "FormOn":
        """The form on the part called `part_id`, or on a new one if that is "".

        Raises
        ------
        NoSuchPartError : if there is none.
        """
        if not part_id:
            return cls(form, garden, None, before)
        parts: tuple[Part, ...] = getattr(garden, form.collection)
        part = next((p for p in parts if p.id == part_id), None)
        if part is None:
            raise NoSuchPartError(f"“{part_id}” is no longer there: someone removed it meanwhile.")
        return cls(form, garden, part)

    @property
    def can_be_asked(self) -> bool:
        """Whether everything a new part has to lead to is there."""
        infos = self.form.model.model_fields
        if self.form.needs_place and not self.before:
            return False
        return all(
            self.candidates(infos[name])
            for name in self.form.fields
            if link_of(infos[name]) and infos[name].is_required()
        )

    def candidates(self, info: FieldInfo) -> dict[str, str]:
        """Parts, and fixed choices, that a link may lead to: id → name."""
        link = link_of(info)
        if link is None:
            return {}
        own = self.part.id if self.part else ""
        parts = (
            p for c in linked_collections(link) for p in getattr(self.garden, c) if p.id != own
        )
        words = choice_lists()["destinations"]
        return {**{p.id: p.name for p in parts}, **{w: words[w] for w in link.also}}

    def show(self) -> FormView:
        """With the part's values, or empty with defaults."""
        return self._view(self._shown_values(), {})

    def show_retyped(self, typed: Typed, fault: str) -> FormView:
        """With what was typed, and a fault about the whole of it."""
        return self._view(self._retyped(typed), {}, fault)

    def read(self, typed: Typed) -> Garden:
        """The garden with the part as typed.

        A field left as it was shown keeps its exact value, whatever its rounding on the page.

        Raises
        ------
        FormError : with every field that will not do.
        """
        form, system = self.form, self.garden.units
        shown, retyped = self._shown_values(), self._retyped(typed)
        values = self._starting_values()
        errors: dict[str, str] = {}
        said = [name for name in form.fields if name in shown and retyped[name] != shown[name]]
        values["confirmed"] = self._confirmed(typed, said)
        for name in form.fields:
            if name not in shown or (self.part and name not in said):
                continue
            try:
                values[name] = field_values.parse(
                    form.model.model_fields[name], retyped[name], system
                )
            except QuantityError as error:
                errors[name] = str(error)
        for name in errors:
            values.pop(name, None)
        count, fault = 1, ""
        try:
            count = self._how_many(typed)
        except QuantityError as error:
            errors[ALIKE] = str(error)
        try:
            part = form.model.model_validate(values)
            if not errors:
                if count > 1:
                    return edits.put_alike(self.garden, form.collection, part, count)
                if self.before and isinstance(part, Piece):
                    return edits.put_before(self.garden, form.collection, part, self.before)
                return edits.put(self.garden, form.collection, part)
        except ValidationError as error:
            # A field that could not be read is missing here: its own message is already there.
            for detail in error.errors():
                place = str(detail["loc"][0]) if detail["loc"] else ""
                if place in shown:
                    told = field_values.message_of(form.model.model_fields[place], detail, system)
                    errors.setdefault(place, told)
                elif not errors:
                    fault = document.message_of(detail, system)
        raise FormError(self._view(retyped, errors, fault))

    def _starting_values(self) -> dict[str, Any]:
        if self.part:
            return self.part.model_dump()
        values: dict[str, Any] = {"id": edits.free_id(self.garden, self.form.key)}
        for name in self.form.fields:
            info = self.form.model.model_fields[name]
            if link_of(info) and info.is_required():
                values[name] = self._first_link(info)
        return values

    def _first_link(self, info: FieldInfo) -> str:
        return next(iter(self.candidates(info)), "")

    def _is_asked(self, info: FieldInfo) -> bool:
        """Links that can lead only one way are not asked for."""
        if quantity_of(info) == "sources":
            return bool(self._sources())
        if link_of(info) is None:
            return True
        count = len(self.candidates(info))
        return count > 1 if info.is_required() else count > 0

    def _sources(self) -> dict[str, str]:
        garden = self.garden
        led = (grey for grey in garden.greywaters if self.part in led_to(garden, grey))
        return {p.id: p.name for p in (*garden.stores, *garden.taps, *led)}

    def _asked(self) -> list[tuple[str, FieldInfo]]:
        infos = self.form.model.model_fields
        return [
            (name, infos[name])
            for name in self.form.fields
            if self.form.asks(name, self.garden, self.part) and self._is_asked(infos[name])
        ]

    def _shown_values(self) -> dict[str, str]:
        shown = {}
        usual = usual_values(self.form.collection, self.garden.place) | self._remembered()
        for name, info in self._asked():
            if self.part is not None:
                value = getattr(self.part, name)
            elif info.is_required():
                value = usual.get(name)
            else:
                default = round_default(info, self.garden.units)
                value = usual.get(name, default)
            shown[name] = field_values.shown(info, value, self.garden.units)
            if self.part is None and link_of(info) and info.is_required():
                shown[name] = self._first_link(info)
        return shown

    def _remembered(self) -> dict[str, Any]:
        """What a new one begins with because the last one has it."""
        parts: tuple[Part, ...] = getattr(self.garden, self.form.collection)
        return {name: getattr(parts[-1], name) for name in self.form.remembers} if parts else {}

    @property
    def _asks_how_many(self) -> bool:
        return self.form.is_many and self.part is None

    def _how_many(self, typed: Typed) -> int:
        """Parts alike that are to be added.

        Raises
        ------
        QuantityError : with what to type instead.
        """
        text = typed.get(ALIKE, "").strip() if self._asks_how_many else ""
        count = quantities.whole(text) if text else 1
        if not 1 <= count <= MOST:
            raise QuantityError(f"Type how many, 1 to {MOST}.")
        return count

    def _retyped(self, typed: Typed) -> dict[str, str]:
        found = {name: field_values.typed_in(info, name, typed) for name, info in self._asked()}
        return found | ({ALIKE: typed.get(ALIKE, "")} if self._asks_how_many else {})

    def _view(self, values: Typed, errors: Mapping[str, str], fault: str = "") -> FormView:
        form, part = self.form, self.part
        fields = tuple(
            self._field(info, name, values.get(name, ""), errors.get(name, ""))
            for name, info in self._asked()
        )
        if self._asks_how_many:
            fields += (self._alike(values.get(ALIKE, "1"), errors.get(ALIKE, "")),)
        place = f"add-{form.key}"
        if part:
            place = f"{part.id}-{form.key}" if form.is_facet else part.id
        title = form.noun if part else self._adding
        return FormView(
            place,
            form.key,
            part.id if part else "",
            title,
            part.name if part else "",
            fields,
            form.is_facet,
            fault,
        )

    def _alike(self, value: str, error: str) -> FieldView:
        return FieldView(
            ALIKE,
            "How many alike",
            "Numbered, and spread out in rows: move them on the plan.",
            "count",
            value,
            error,
            "11",
        )

    def _own(self, kind: str) -> Sequence[Part]:
        """The owner's own entries of a list of choices."""
        return getattr(self.garden, OWN_ENTRIES[kind]) if kind in OWN_ENTRIES else ()

    @property
    def _adding(self) -> str:
        other = "another" if getattr(self.garden, self.form.collection) else "a"
        return f"Add {other} {self.form.noun.lower()}"

    def _field(self, info: FieldInfo, name: str, value: str, error: str) -> FieldView:
        system, kind = self.garden.units, quantity_of(info)
        choices = {v: filled_text.fill(w, system) for v, w in choice_lists().get(kind, {}).items()}
        choices |= {part.id: part.name for part in self._own(kind)}
        choices = choices or self.candidates(info)
        example, widget = "", "text"
        if kind in KINDS:
            example, widget = KINDS[kind].display(system).example, "quantity"
        elif kind == "sources":
            choices, widget = self._sources(), "order"
        elif choices:
            widget = "choice"
        elif kind == "weekdays":
            example, widget = "Mon 2, Thu", "weekdays"
        elif kind == "months":
            example, widget = "May to September", "weekdays"
        elif kind == "day":
            example, widget = "10 May", "date"
        elif kind in ("count", "every"):
            example, widget = "2", "count"
        help_text = filled_text.fill(info.description or "", system)
        return FieldView(
            name,
            info.title or name,
            help_text,
            widget,
            value,
            error,
            example,
            choices,
            kind if kind in KINDS else "",
            not info.is_required(),
            not info.is_required() and info.default is None,
            link_of(info) is not None,
            is_assumed=name in self._assumed,
            how=filled_text.fill(how_to_tell().get(self.form.collection, {}).get(name, ""), system),
        )

    @cached_property
    def _assumed(self) -> frozenset[str]:
        if self.part is None:
            return frozenset()
        return assumed.assumed_of(self.part, self.form.collection, self.garden.units)

    def _confirmed(self, typed: Typed, said: Collection[str]) -> tuple[str, ...]:
        """Fields that are no assumption any more: typed now, or said to be so by the button beside them."""
        taken = self.part.assumed if self.part else ()
        watched = assumed.worth_measuring(self.form.collection) | {*taken}
        before = self.part.confirmed if self.part else ()
        now = {*said, typed.get(CONFIRM, "")} & watched
        return tuple(dict.fromkeys((*before, *sorted(now))))
