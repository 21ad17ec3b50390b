"""What the garden wants this morning, as a document for machines."""

from typing import Literal

from pydantic import BaseModel, ConfigDict

VERSION: Literal[1] = 1
"""Of the document; it changes when a field goes or means something else."""


class TodayModel(BaseModel):
    """Anything in the document."""

    model_config = ConfigDict(extra="forbid")


class ActDocument(TodayModel):
    """One line: of a zone, or of a bed or pots by hand.

    do : `leave`, `as-set`, `pause`, `by-hand`, `turn` or `cans`.
    minutes : Of an extra run by hand, of today's as set, or of one run as it is turned to.
    days : For which it is paused, or from one watering day to the next as it is turned to.
    sure : `sure`, `fair` or `poor`.
    left : Of what the driest roots reach easily, from which to which share may be left, nine times in ten.
    """

    zone: str
    do: str
    minutes: float
    days: int
    litres: float
    cans: float
    dry_days: float
    reason: str
    sure: str
    left: tuple[float, float]


class StoreDocument(TodayModel):
    """A store this morning; `water_l` is None where nothing tells of it, `lasts_days` where nothing is drawn too."""

    store: str
    water_l: float | None
    capacity_l: float
    lasts_days: float | None
    text: str


class BeforeDocument(TodayModel):
    """What is done before `frost` or `heat` that is foreseen."""

    key: str
    text: str


class DueDocument(TodayModel):
    """A task whose day has come."""

    key: str
    part: str | None
    title: str
    since: str


class TodayDocument(TodayModel):
    """The morning of one day, by ISO date; `look` is the one that would tell most."""

    version: Literal[1] = VERSION
    garden: str
    day: str
    summary: str
    look: str | None
    acts: list[ActDocument]
    stores: list[StoreDocument]
    before: list[BeforeDocument]
    due: list[DueDocument]


def write(document: TodayDocument) -> str:
    """The document as text."""
    return document.model_dump_json(indent=2) + "\n"
