"""A garden followed through its record, as a document for machines."""

from typing import Literal

from pydantic import BaseModel, ConfigDict

VERSION: Literal[1] = 1
"""Of the document; it changes when a field goes or means something else."""


class ReplayModel(BaseModel):
    """Anything in the document."""

    model_config = ConfigDict(extra="forbid")


class ReplayYear(ReplayModel):
    """One year; days are summed over beds and pots."""

    year: int
    litres: float
    dry_days: int
    days: int


class ReplayDocument(ReplayModel):
    """All years, by what the owner went each morning: `card`, `today` or `rule`.

    forecast_skill : Of the forecasts made up from the record; None without any.
    litres_a_year : Given to everything that grows, on the mean.
    dry_share : Share of the days in season that were too dry.
    """

    version: Literal[1] = VERSION
    garden: str
    follow: str
    forecast_skill: float | None
    litres_a_year: float
    dry_share: float
    years: list[ReplayYear]


def write(document: ReplayDocument) -> str:
    """The document as text."""
    return document.model_dump_json(indent=2) + "\n"
