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

    do : `leave`, `as-set`, `pause`, `by-hand` or `cans`.
    minutes : Of an extra run by hand, or of today's as set.
    days : For which it is paused.
    sure : `sure`, `fair` or `poor`.
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


class StoreDocument(TodayModel):
    """A store this morning; `lasts_days` is None where nothing is drawn."""

    store: str
    water_l: float
    capacity_l: float
    lasts_days: float | None
    text: str


class DueDocument(TodayModel):
    """A task whose day has come."""

    key: str
    part: str | None
    title: str
    since: str


class TodayDocument(TodayModel):
    """The morning of one day, by ISO date."""

    version: Literal[1] = VERSION
    garden: str
    day: str
    summary: str
    acts: list[ActDocument]
    stores: list[StoreDocument]
    due: list[DueDocument]


def write(document: TodayDocument) -> str:
    """The document as text."""
    return document.model_dump_json(indent=2) + "\n"
