"""What the pages of Keep show."""

from dataclasses import dataclass

from fastapi import Request

from euhydra.garden import logbook
from euhydra.planner.answers import Mark, Sentence, Verdict
from euhydra.records import log
from euhydra.records.log import Search
from euhydra.web import log_words
from euhydra.web.desk import Desk
from euhydra.web.pages.shown import Shown

A_PAGE = 30
"""Entries on a page."""


@dataclass(frozen=True)
class LogAnswer:
    """What the log says at a glance."""

    verdict: Verdict


def show_log(request: Request, desk: Desk, at: str) -> Shown:
    """The forms, and the newest entries, or those that are looked for."""
    garden, asked = desk.revision.garden, request.query_params
    names = {part.id: part.name for part in garden.parts}
    text = asked.get("text", "").strip()
    wanted = Search(
        asked.get("kind", ""), asked.get("part", ""), text,
        tuple(key for key, name in names.items() if text and text.lower() in name.lower()),
    )  # fmt: skip
    page = int(asked.get("page", "1")) if asked.get("page", "1").isdecimal() else 1
    with desk.reading(request) as conn:
        found = log.find(
            conn, desk.revision.garden_id, wanted, A_PAGE + 1, (max(page, 1) - 1) * A_PAGE
        )
    rows = [log_words.shown(kept, garden, names) for kept in found[:A_PAGE]]
    return Shown(LogAnswer(_verdict(desk)), None, {
        "entries": rows, "has_more": len(found) > A_PAGE, "page_number": max(page, 1),
        "search": wanted, "kinds": log_words.kinds_shown(garden), "groups": GROUPS,
        "all_kinds": logbook.entry_kinds(), "parts": garden.parts,
    })  # fmt: skip


GROUPS = {"measured": "I measured", "seen": "I saw", "done": "I did"}


def _verdict(desk: Desk) -> Verdict:
    if not desk.entries:
        return Verdict(
            Mark.BUT,
            Sentence("Nothing is in the log yet. Ten seconds a day are enough: rain, a dip, a finger in the soil."),
        )  # fmt: skip
    count = desk.entries
    return Verdict(Mark.WORKS, Sentence(f"{count} {'entries' if count > 1 else 'entry'} so far."))
