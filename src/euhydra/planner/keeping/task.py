"""One thing to keep up, and when it is due."""

from dataclasses import dataclass
from datetime import date

from euhydra.garden.sentences import Sentence


@dataclass(frozen=True)
class Task:
    """One thing to keep up.

    key : Names it for good, in calendars too.
    part_id, kind : As the log's entry of it says.
    due : By the gardener's calendar.
    last : When it was last logged; None if never.
    """

    key: str
    title: str
    why: Sentence
    due: date
    part_id: str | None
    kind: str
    last: date | None = None

    def is_due(self, today: date) -> bool:
        """Whether its day has come."""
        return self.due <= today
