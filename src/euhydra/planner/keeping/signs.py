"""What was felt and seen of a bed lately: the finger and the leaves that are read together, and how old they are."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from euhydra.garden.logbook import LogEntry

FRESH_D = 14
"""Days after which an observation says nothing of today. [d] Our choice."""

AGED_D = 5
"""Days after which what was felt dry or muddy is felt again before anything is done. [d] Our choice: soil
dries out within so many days of summer."""

NEAR = timedelta(hours=36)
"""How far apart a finger and a leaf tell of the same state, whichever came first. Our choice."""

LEFT_OVERNIGHT = timedelta(hours=12)
"""What a finger or a stick finds in the morning is what was left last evening."""

WET_WORDS = {"muddy": "muddy", "yellow": "yellow from below"}
DRY_WORDS = {"dry": "dry", "droop": "drooping", "crisp": "crisp"}


@dataclass(frozen=True)
class Signs:
    """The latest of a bed or group of pots, and what goes with it; one of them at least.

    leaf : None where leaves were not looked at, or looked fine.
    """

    finger: LogEntry | None
    leaf: LogEntry | None

    @property
    def entry(self) -> LogEntry:
        """That which decides: the finger, where there is one."""
        found = self.finger or self.leaf
        assert found is not None
        return found

    @property
    def evening(self) -> datetime:
        """The evening of which it tells."""
        return self.entry.at - LEFT_OVERNIGHT

    @property
    def says(self) -> str:
        """`dry`, `wet` or `right`."""
        word = self.entry.word
        return "dry" if word in DRY_WORDS else "wet" if word in WET_WORDS else "right"

    def is_aged(self, today: date) -> bool:
        """Whether it has to be felt again."""
        return (today - self.entry.at.date()).days > AGED_D


def signs_of(log: Sequence[LogEntry], part_id: str, today: date) -> Signs | None:
    """The latest signs of a part; None where they are too old to tell anything.

    Parameters
    ----------
    log : Oldest first.
    """
    own = [e for e in log if e.kind in ("finger", "leaf") and e.part_id == part_id]
    if not own or (today - own[-1].at.date()).days > FRESH_D:
        return None
    last = own[-1].at
    near = [e for e in own if last - e.at <= NEAR]
    finger = next((e for e in reversed(near) if e.kind == "finger"), None)
    leaf = next((e for e in reversed(near) if e.kind == "leaf"), None)
    if finger is not None and leaf is not None and leaf.word == "fine":
        leaf = None
    return Signs(finger, leaf)
