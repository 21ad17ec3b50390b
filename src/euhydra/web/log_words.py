"""Entries of the log in words."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime

import numpy as np

from euhydra.core.uniformity import low_quarter_uniformity
from euhydra.garden import quantities
from euhydra.garden.logbook import AmountKind, EntryKind, LogEntry, entry_kinds
from euhydra.garden.model import Garden
from euhydra.garden.part import Part
from euhydra.garden.quantities import System
from euhydra.garden.sentences import A_DAY, Amount, counted
from euhydra.planner.dates import day_in_words
from euhydra.records.log import KeptEntry


@dataclass(frozen=True)
class EntryShown:
    """An entry as the page lists it."""

    id: int
    day: str
    time: str
    kind: str
    about: str
    said: str
    note: str
    photo: str | None


@dataclass(frozen=True)
class KindShown:
    """A kind of entry with what its form offers."""

    kind: EntryKind
    parts: list[Part]

    @property
    def is_round(self) -> bool:
        """Whether several are felt in one round of the garden."""
        return self.kind.id == "finger" and len(self.parts) > 1

    @property
    def needs_part(self) -> bool:
        """Whether there is nothing that it could be about, though it has to be."""
        return bool(self.kind.about) and not self.parts


def kinds_shown(garden: Garden) -> list[KindShown]:
    """Every kind, with the parts of a garden that it may be about."""
    return [KindShown(kind, kind.parts(garden)) for kind in entry_kinds().values()]


def shown(kept: KeptEntry, garden: Garden, names: Mapping[str, str]) -> EntryShown:
    """An entry for the list; `names` of parts by id."""
    entry = kept.entry
    about = names.get(entry.part_id or "", "a part that is gone" if entry.part_id else "")
    return EntryShown(
        kept.id,
        day_said(entry.at),
        f"{entry.at:%H:%M}",
        entry_kinds()[entry.kind].name,
        about,
        said(entry, garden.units),
        entry.note,
        entry.photo,
    )


def day_said(at: datetime) -> str:
    """Such as 3 June 2026."""
    return f"{day_in_words(at.date())} {at.year}"


def said(entry: LogEntry, system: System) -> str:
    """Amounts and word of an entry."""
    kind = entry_kinds()[entry.kind]
    pieces = [kind.words[entry.word]] if kind.words and entry.word != kind.word_default else []
    if kind.id == "cups":
        return _cups_said(entry.amounts, system)
    if kind.id == "flow":
        return _flow_said(entry.amounts, system)
    pieces += [
        _labelled(amount.label.lower() if len(kind.amounts) > 1 else "", amount, value, system)
        for amount, value in zip(kind.amounts, entry.amounts, strict=False)
        if value is not None
    ]
    return ", ".join(pieces)


def _labelled(label: str, amount: AmountKind, value: float, system: System) -> str:
    """One amount after its label; a meter to the last digit before the point."""
    days = Amount(value, "days")
    if amount.name == "reading":
        shown = quantities.show(value, amount.kind, system, max(3, _digits(value, amount, system)))
    elif amount.kind == "days":
        shown = "day" if days == A_DAY and label == "every" else days.told(system)
    else:
        shown = quantities.show(value, amount.kind, system)
    return f"{label} {shown}".strip()


def _digits(value: float, amount: AmountKind, system: System) -> int:
    """Digits before the point, as shown."""
    return len(str(int(abs(quantities.from_si(value, amount.kind, system)))))


def _amount_typed(amount: AmountKind, value: float, system: System) -> str:
    """One amount as one would type it: to the last digit that was."""
    digits = 8 if amount.name == "reading" else 4
    return quantities.typed(value, amount.kind, system, digits)


def _flow_said(amounts: Iterable[float | None], system: System) -> str:
    volume, seconds = (value or 0.0 for value in amounts)
    return f"{quantities.show(volume / max(seconds, 1e-9), 'flow', system)}"


def _cups_said(amounts: tuple[float | None, ...], system: System) -> str:
    cups = np.array([value or 0.0 for value in amounts[1:]])
    mean = float(cups.mean())
    if mean <= 0:
        return f"{counted(len(cups), 'cup')}, all empty"
    even = low_quarter_uniformity(cups)
    return f"{counted(len(cups), 'cup')}, {quantities.show(mean, 'cupful', system)} in the mean, low quarter {quantities.show(even, 'share', system)} of it"


def typed_of(entry: LogEntry, system: System) -> dict[str, str]:
    """An entry as one would type it, for its form."""
    amounts = entry_kinds()[entry.kind].amounts
    typed = {
        "kind": entry.kind,
        "at": entry.at.isoformat(timespec="minutes"),
        "part": entry.part_id or "",
        "word": entry.word,
        "note": entry.note,
        "photo_kept": entry.photo or "",
    }
    for i, value in enumerate(entry.amounts):
        amount = amounts[min(i, len(amounts) - 1)]
        text = "" if value is None else _amount_typed(amount, value, system)
        typed[amount.name] = f"{typed[amount.name]}, {text}" if amount.name in typed else text
    return typed
