"""A log sorted by what was done, so that what was done last is found without reading all of it."""

from collections.abc import Sequence
from datetime import date
from functools import cached_property

from euhydra.garden.logbook import LogEntry


class LogByKind:
    """A log, oldest entry first."""

    def __init__(self, entries: Sequence[LogEntry]) -> None:
        self.entries = entries

    @cached_property
    def _by_kind(self) -> dict[str, list[LogEntry]]:
        found: dict[str, list[LogEntry]] = {}
        for entry in self.entries:
            found.setdefault(entry.kind, []).append(entry)
        return found

    @cached_property
    def _by_part(self) -> dict[tuple[str, str | None], list[LogEntry]]:
        found: dict[tuple[str, str | None], list[LogEntry]] = {}
        for kind, entries in self._by_kind.items():
            for entry in entries:
                found.setdefault((kind, entry.part_id), []).append(entry)
        return found

    def of(self, kind: str, part_id: str | None = None) -> list[LogEntry]:
        """Entries of a kind, oldest first; those about one part, if it is named."""
        if part_id is None:
            return self._by_kind.get(kind, [])
        return self._by_part.get((kind, part_id), [])

    def last(self, kinds: Sequence[str], *parts: str) -> date | None:
        """When something was last done to any of some parts; a flush of no part is one of all."""
        found = (
            next((e.at for e in reversed(self.of(kind)) if _is_about(e, parts)), None)
            for kind in kinds
        )
        newest = max((at for at in found if at is not None), default=None)
        return newest and newest.date()

    def begun(self, today: date) -> date:
        """From when intervals count that nothing is logged of."""
        return self.entries[0].at.date() if self.entries else today


def _is_about(entry: LogEntry, parts: Sequence[str]) -> bool:
    return entry.part_id in parts or (entry.kind == "flush" and entry.part_id is None)
