"""Changes of a garden as data: what one garden has that another has not, and that done to it."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from pydantic import ValidationError

from euhydra.garden import edits, kinds
from euhydra.garden.model import Garden
from euhydra.garden.part import Part
from euhydra.garden.shared_parts import with_parts_of


@dataclass(frozen=True)
class Change:
    """One part added, set otherwise, or taken out.

    does : `add`, `set` or `remove`.
    fields : All of a part that is added; of one that is set, those that change, in SI.
    """

    does: str
    collection: str
    part_id: str
    fields: Mapping[str, Any]

    def as_json(self) -> dict[str, Any]:
        """As files and machines have it."""
        plain = {"do": self.does, "in": self.collection, "part": self.part_id}
        return plain | ({"fields": dict(self.fields)} if self.fields else {})


def between(before: Garden, after: Garden) -> tuple[Change, ...]:
    """What has to be done to one garden to have another; drawings count, the order of parts does not."""
    found: list[Change] = []
    for collection in kinds.collections():
        old = {part.id: part.model_dump(mode="json") for part in getattr(before, collection)}
        new = {part.id: part.model_dump(mode="json") for part in getattr(after, collection)}
        for part_id, fields in new.items():
            if part_id not in old:
                found.append(Change("add", collection, part_id, fields))
            elif fields != old[part_id]:
                changed = {k: v for k, v in fields.items() if v != old[part_id].get(k)}
                found.append(Change("set", collection, part_id, changed))
        gone = (part_id for part_id in old if part_id not in new)
        found += [Change("remove", collection, part_id, {}) for part_id in gone]
    return tuple(found)


def done_to(garden: Garden, changes: Iterable[Change]) -> Garden:
    """The garden with all of them done at once.

    Raises
    ------
    pydantic.ValidationError : if the garden would no longer hold together.
    KeyError : if what is to be set is not there.
    """
    found: dict[str, dict[str, Any]] = {}
    for change in changes:
        collection = change.collection
        if collection not in found:
            found[collection] = {part.id: part for part in getattr(garden, collection)}
        parts, part_id = found[collection], change.part_id
        if change.does == "remove":
            parts.pop(part_id, None)
        elif change.does == "add":
            parts[part_id] = dict(change.fields)
        else:
            parts[part_id] = _plain(parts[part_id]) | dict(change.fields)
    return edits.replace(garden, **{name: tuple(parts.values()) for name, parts in found.items()})


def _plain(part: Part | dict[str, Any]) -> dict[str, Any]:
    """The fields of a part, which an earlier change may have set."""
    return part if isinstance(part, dict) else part.model_dump()


def holds_together(garden: Garden) -> Garden | None:
    """A garden that was put together unchecked, checked part by part; None where it does not hold together."""
    joined = edits.attached(garden)
    try:
        checked = Garden.model_validate(joined.model_dump())
    except ValidationError:
        return None
    return with_parts_of(checked, joined)


def from_json(plain: Sequence[Mapping[str, Any]]) -> tuple[Change, ...]:
    """As `Change.as_json` writes them."""
    return tuple(
        Change(each["do"], each["in"], each["part"], each.get("fields", {})) for each in plain
    )
