"""What every object of a garden is made of: fields that can be asked for, ids, names, links."""

from dataclasses import dataclass
from typing import Annotated, Any

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field
from pydantic.fields import FieldInfo
from pydantic_core import PydanticCustomError

from euhydra.garden import plain_text
from euhydra.garden.quantities import System
from euhydra.garden.sentences import Value, say

Id = Annotated[str, Field(pattern=r"^[a-z][a-z0-9-]{0,39}$")]
Name = Annotated[
    str,
    Field(min_length=1, max_length=60, title="Name"),
    BeforeValidator(lambda given: plain_text.name(given) if isinstance(given, str) else given),
]


@dataclass(frozen=True)
class Link:
    """Where a field leads: collections of the garden, or fixed choices that are no object.

    collections : By name; `drinkers` stands for all that drink, see ``garden.kinds``.
    """

    collections: tuple[str, ...]
    also: tuple[str, ...] = ()


def asked(title: str, kind: str, help_text: str = "", **limits: Any) -> Any:
    """A field that a page asks for: label, kind of quantity or choice, help, limits."""
    return Field(title=title, description=help_text, json_schema_extra={"quantity": kind}, **limits)


def linked(
    title: str, *collections: str, help_text: str = "", also: tuple[str, ...] = (), **limits: Any
) -> Any:
    """A field that leads to another object of the garden, or to one of `also`."""
    extra: Any = {"quantity": "link", "to": list(collections), "also": list(also)}
    return Field(title=title, description=help_text, json_schema_extra=extra, **limits)


def quantity_of(field: FieldInfo) -> str:
    """Kind of quantity or list of choices that `field` was declared with; "" if none."""
    extra = field.json_schema_extra
    return str(extra["quantity"]) if isinstance(extra, dict) and "quantity" in extra else ""


def link_of(field: FieldInfo) -> Link | None:
    """Where `field` leads; None if it is no link."""
    extra: Any = field.json_schema_extra
    if not isinstance(extra, dict) or "to" not in extra:
        return None
    return Link(tuple(extra["to"]), tuple(extra["also"]))


def refuse(code: str, template: str, **values: Value) -> PydanticCustomError:
    """A validation error that says a sentence."""
    sentence = say(code, template, **values)
    told = {"message": sentence.told(System.METRIC), "sentence": sentence}
    return PydanticCustomError("garden", "{message}", told)


def known_entry(value: str, rows: dict[str, Any]) -> str:
    """`value`, if it is the id of one of the reference data's rows."""
    if value not in rows:
        raise refuse(
            "unknown-entry",
            "“{entry}” is not known here: choose one of {rows}.",
            entry=value,
            rows=", ".join(rows),
        )
    return value


class Model(BaseModel):
    """Immutable, and strict about fields it does not know."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)


class Point(Model):
    """A place on the local grid: metres east and north of the garden's own corner."""

    x_m: float = Field(0.0, ge=-1000, le=1000)
    y_m: float = Field(0.0, ge=-1000, le=1000)


class Part(Model):
    """Anything in the garden that has a name.

    confirmed : Fields that stand as usual and are no assumption any more: the owner measured them,
        or said that it is so.
    assumed : Fields taken as usual for such a garden when it was begun, though a part by itself would
        have them otherwise.
    """

    id: Id
    name: Name
    confirmed: tuple[Annotated[str, Field(max_length=40)], ...] = Field((), max_length=40)
    assumed: tuple[Annotated[str, Field(max_length=40)], ...] = Field((), max_length=40)
