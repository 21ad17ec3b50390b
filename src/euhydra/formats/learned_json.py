"""What a log shows, as a document: claims, what leads, and the state of stores and beds."""

from typing import Literal

from pydantic import BaseModel, ConfigDict

VERSION: Literal[1] = 1
"""Of the document; it changes when a field goes or means something else."""


class LearnedModel(BaseModel):
    """Anything in the document."""

    model_config = ConfigDict(extra="forbid")


class ClaimDocument(LearnedModel):
    """Something that is likely 19 to 1.

    value, low, high : Of a leak litres a day; else what is given, brought or drunk of the plan's.
    since, until : ISO dates; None where it has been so all year, or still is.
    """

    kind: str
    part: str
    value: float
    low: float
    high: float
    since: str | None
    until: str | None
    chance: float
    text: str


class StoreState(LearnedModel):
    """A store on the last evening, with the standard deviation of its water; None where nothing tells of it."""

    store: str
    water_l: float | None
    deviation_l: float | None
    capacity_l: float


class BedState(LearnedModel):
    """A bed or pots on the last evening: what is gone of the water within easy reach; None out of season."""

    part: str
    gone_share: float | None
    thirst: float


class LineState(LearnedModel):
    """What a line gives of what is printed on it."""

    line: str
    gives_share: float


class StateDocument(LearnedModel):
    """All of them on one day, by ISO date."""

    day: str
    stores: list[StoreState]
    beds: list[BedState]
    lines: list[LineState]


class LearnedDocument(LearnedModel):
    """All that a log shows up to a day.

    asks : What is too little to claim anything of, and entries that fit nothing else.
    """

    version: Literal[1] = VERSION
    garden: str
    claims: list[ClaimDocument]
    headline: str
    asks: list[str]
    state: StateDocument


def write(document: LearnedDocument) -> str:
    """The document as text."""
    return document.model_dump_json(indent=2) + "\n"
