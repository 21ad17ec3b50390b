"""The log: what can be written into it, and what makes an entry right or wrong."""

import re
import tomllib
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import cache
from importlib.resources import files

from euhydra.garden import kinds, plain_text, quantities
from euhydra.garden.model import Garden
from euhydra.garden.part import Part
from euhydra.garden.quantities import QuantityError, System
from euhydra.garden.stores import Store

AHEAD = timedelta(hours=14)
"""How far a watch may be before the computer's clock: as far as time zones lie apart."""

MOST_AHEAD = timedelta(days=400)
"""How far the clock of the computer may have been set back, and a device still be believed."""

OLDEST = datetime(1970, 1, 1)

MOST_NOTE = 4000
"""[characters]"""

MOST_CUPS = 500

MOST_FLOW = 3e-3
"""Of a tap or a line by bucket. [m³ s⁻¹] A 32 mm pipe with all of a house's pressure on it, from memory."""

ABOUT_ONE = (
    "dip",
    "level",
    "float",
    "finger",
    "leaf",
    "watered",
    "setting",
    "run",
    "pause",
    "cups",
    "fill",
)
"""Sorts that say nothing unless they say of what."""

PART_ID = re.compile(r"[a-z][a-z0-9-]{0,39}")


@dataclass(frozen=True)
class AmountKind:
    """A number that an entry carries.

    kind : Of quantity, see ``quantities``.
    least, most : In SI.
    many : Whether there are several, with commas between them; they come last.
    remedy : What to type instead.
    """

    name: str
    label: str
    kind: str
    least: float
    most: float
    remedy: str
    optional: bool = False
    many: bool = False


@dataclass(frozen=True)
class EntryKind:
    """A sort of entry.

    group : `measured`, `seen` or `done`.
    about : Collections of the garden of which one part is named.
    of : Measure that a part has to have, if it is about some of a collection alone.
    words : Values to choose one from.
    """

    id: str
    name: str
    group: str
    about: tuple[str, ...] = ()
    of: str = ""
    amounts: tuple[AmountKind, ...] = ()
    words: Mapping[str, str] | None = None
    word_label: str = ""
    word_default: str = ""

    def parts(self, garden: Garden) -> list[Part]:
        """What an entry of this sort may be about; single drip tubes are left out."""
        return [
            part
            for collection in self.about
            for part in getattr(garden, collection)
            if not getattr(part, "dripper", None) and (not self.of or getattr(part, self.of))
        ]


@dataclass(frozen=True)
class LogEntry:
    """What was seen or done.

    at : By the gardener's watch, to the minute.
    part_id : What it is about; None where the kind has none, or it is not told.
    amounts : In SI, in the order of the kind's; None where one was left out.
    photo : Digest of its picture.
    """

    kind: str
    at: datetime
    part_id: str | None = None
    amounts: tuple[float | None, ...] = ()
    word: str = ""
    note: str = ""
    photo: str | None = None


@dataclass(frozen=True)
class MeterNeighbours:
    """Readings of the same meter before and after an entry's time; None where there is none. [m³]"""

    before: float | None = None
    after: float | None = None


class EntryError(ValueError):
    """An entry that cannot be right.

    faults : What is wrong with it and what to do, by field.
    """

    def __init__(self, faults: Mapping[str, str]) -> None:
        super().__init__(" ".join(faults.values()))
        self.faults = dict(faults)


def _collections(about: Iterable[str]) -> tuple[str, ...]:
    """Collections by name; `drinkers` stands for all that drink."""
    drinkers = kinds.collections(drinks=True)
    return tuple(c for name in about for c in (drinkers if name == "drinkers" else (name,)))


@cache
def entry_kinds() -> dict[str, EntryKind]:
    """Every sort of entry, by id."""
    table = tomllib.loads(files("euhydra.data").joinpath("log_kinds.toml").read_text("utf-8"))
    return {
        key: EntryKind(
            **{
                "id": key,
                **row,
                "about": _collections(row.get("about", ())),
                "amounts": tuple(AmountKind(**amount) for amount in row.get("amounts", ())),
            }
        )
        for key, row in table.items()
    }


def read(typed: Mapping[str, str], garden: Garden, now: datetime, is_old: bool = False) -> LogEntry:
    """An entry as it was typed: `kind`, `at`, `part`, `word`, `note`, and each amount by its name.

    Parameters
    ----------
    now : By the clock of the computer that keeps the log.
    is_old : Whether it was kept before, so that what it is about may be gone from the garden.

    Raises
    ------
    EntryError : naming each field and the remedy.
    """
    kind = entry_kinds().get(typed.get("kind", ""))
    if kind is None:
        raise EntryError({"kind": "Choose what you want to write down."})
    faults: dict[str, str] = {}
    at = _time(typed.get("at", ""), now, faults)
    part_id = typed.get("part", "")
    is_gone = is_old and all(part.id != part_id for part in garden.parts) and bool(part_id)
    if is_gone and not PART_ID.fullmatch(part_id):
        faults["part"] = f"“{part_id}” is not the id of any part."
    part = None if is_gone else _part(kind, part_id, garden, faults)
    amounts = _amounts(kind, typed, garden.units, faults)
    word = typed.get("word", "") or kind.word_default
    if kind.words and word not in kind.words:
        faults["word"] = f"Choose one: {', '.join(kind.words.values())}."
    note = plain_text.lines(typed.get("note", ""))
    if len(note) > MOST_NOTE:
        faults["note"] = f"The note is longer than {MOST_NOTE} characters: shorten it."
    if kind.id == "dip" and isinstance(part, Store) and amounts:
        _dip_fits(part, amounts[0], garden.units, faults)
    if kind.id == "flow" and not faults and not is_old:
        _flow_can_be(amounts, garden.units, faults)
    if faults:
        raise EntryError(faults)
    about = part_id if is_gone else part.id if part else None
    return LogEntry(kind.id, at, about, amounts, word if kind.words else "", note)


def check_meter(entry: LogEntry, around: MeterNeighbours, system: System) -> None:
    """Refuse a meter that runs backwards.

    Raises
    ------
    EntryError : saying what stood there before or after.
    """
    reading = entry.amounts[0]
    if entry.word == "new" or reading is None:
        return
    if around.before is not None and reading < around.before:
        raise EntryError(
            {
                "reading": f"A meter does not run backwards: it stood at {quantities.show(around.before, 'volume', system, 8)} before. "
                "Check the digits, or say that it is a new or reset meter."
            }
        )
    if around.after is not None and reading > around.after:
        raise EntryError(
            {
                "reading": f"A later entry says {quantities.show(around.after, 'volume', system, 8)}, which is less: check the digits or the date."
            }
        )


def ask_of_rain(same: datetime | None, system: System, depth: float) -> None:
    """Ask about a reading of the gauge that looks like one of the same half day.

    Parameters
    ----------
    same : When as much was read before; None where nothing like it was.
    depth : Of the rain. [m]

    Raises
    ------
    EntryError : under `sure`, which is to be said.
    """
    if same is not None:
        asked = (
            f"{quantities.show(depth, 'rain', system)} of rain is in the log already, read at {same:%H:%M}. "
            "One rain is written down once."
        )
        raise EntryError({"sure": asked})


def later_clock(now: datetime, made_at: str) -> datetime:
    """The later of two clocks: this computer's, and that of the device on which an entry was made.

    Parameters
    ----------
    made_at : By the device's clock; "" where it does not say.
    """
    try:
        made = datetime.fromisoformat(made_at).replace(tzinfo=None)
    except ValueError:
        return now
    return made if now < made <= now + MOST_AHEAD else now


def made_before(now: datetime, ago_s: str) -> datetime:
    """When an entry was made that tells how long ago that was, by a clock that may be wrong itself.

    Parameters
    ----------
    ago_s : Seconds before `now`; now where it does not say, or tells what cannot be. [s]
    """
    ago = timedelta(seconds=int(ago_s)) if ago_s.isdecimal() and len(ago_s) < 9 else timedelta()
    return now - ago if ago <= MOST_AHEAD else now


def _time(text: str, now: datetime, faults: dict[str, str]) -> datetime:
    if not text.strip():
        return now.replace(second=0, microsecond=0)
    try:
        at = datetime.fromisoformat(text.strip()).replace(tzinfo=None, second=0, microsecond=0)
    except ValueError:
        faults["at"] = f"“{text}” is not understood as a time: type such as 2026-06-21T07:30."
        return now
    if at > now + AHEAD:
        faults["at"] = (
            "This lies in the future: the log is for what was seen and done. Check day and year."
        )
    if at < OLDEST:
        faults["at"] = "This is long ago: check the year."
    return at


def _part(kind: EntryKind, part_id: str, garden: Garden, faults: dict[str, str]) -> Part | None:
    parts = {part.id: part for part in kind.parts(garden)}
    if part_id and part_id not in parts:
        faults["part"] = "This part is not in the garden (any more): choose another."
        return None
    if not part_id and kind.id in ABOUT_ONE:
        faults["part"] = "Say what it is about."
        return None
    return parts.get(part_id)


def _amounts(
    kind: EntryKind, typed: Mapping[str, str], system: System, faults: dict[str, str]
) -> tuple[float | None, ...]:
    found: list[float | None] = []
    for amount in kind.amounts:
        text = typed.get(amount.name, "").strip()
        if not text and amount.optional:
            found.append(None)
            continue
        try:
            found += _several(amount, text, system) if amount.many else [_one(amount, text, system)]
        except QuantityError as error:
            faults[amount.name] = str(error)
    return tuple(found)


def _several(amount: AmountKind, text: str, system: System) -> list[float]:
    pieces = [piece for piece in re.split(r"[;,\n]\s+|[;\n]|,(?!\d)", text) if piece.strip()]
    if not 2 <= len(pieces) <= MOST_CUPS:
        raise QuantityError(f"Give at least two, {amount.remedy}.")
    try:
        return [_one(amount, piece, system) for piece in pieces]
    except QuantityError as error:
        raise QuantityError(f"{error} Several go {amount.remedy}.") from None


def _one(amount: AmountKind, text: str, system: System) -> float:
    value = quantities.parse(text, amount.kind, system)
    if not amount.least <= value <= amount.most:
        raise QuantityError(f"“{text.strip()}” cannot be: {amount.remedy}.")
    return value


def _dip_fits(store: Store, depth: float | None, system: System, faults: dict[str, str]) -> None:
    if depth is not None and depth > store.top_m:
        faults["depth"] = (
            f"“{store.name}” is {quantities.show(store.top_m, 'height', system)} to its rim: "
            "read the wet part of the stick, from the floor; or correct the store's height."
        )


def _flow_can_be(amounts: tuple[float | None, ...], system: System, faults: dict[str, str]) -> None:
    volume, seconds = amounts
    if volume is None or seconds is None or volume / seconds <= MOST_FLOW:
        return
    faults["seconds"] = (
        f"That is {quantities.show(volume / seconds, 'flow', system, 3)}, more than a garden's tap or line gives: "
        "check the bucket and the time."
    )
