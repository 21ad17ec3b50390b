"""Answers as a document: how every station stands, what is wrong, and the cures that were tried."""

import json
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

VERSION: Literal[1] = 1
"""Of the document; it changes when a field goes or means something else."""

StationName = Literal["catch", "store", "need", "push", "lay", "time", "build", "keep"]


class AnswersError(ValueError):
    """The document holds no answers; the message says where and why."""


class AnswersModel(BaseModel):
    """Anything in the document."""

    model_config = ConfigDict(extra="forbid")


class EditDocument(AnswersModel):
    """One part added, set otherwise, or taken out.

    collection, part : Where it is, and its id.
    fields : Of one that is added, all; of one that is set, those that change; in SI.
    """

    do: Literal["add", "set", "remove"]
    collection: str = Field(alias="in")
    part: str
    fields: dict[str, Any] = {}


class CureDocument(AnswersModel):
    """A change that cures, and what the changed garden shows.

    promises : Figures in SI, the unit in the name.
    """

    text: str
    outcome: str
    edits: list[EditDocument]
    promises: dict[str, float]


class FindingDocument(AnswersModel):
    """Something that is wrong, or could be better.

    parts : Ids, that first which has to be changed.
    explains : What else is seen of it.
    figures : In SI, the unit in the name.
    """

    code: str
    severity: Literal["dangerous", "cannot-work", "plants-suffer", "wastes", "could-be-better"]
    parts: list[str]
    text: str
    explains: list[str] = []
    figures: dict[str, float] = {}
    cures: list[CureDocument] = []


class StationDocument(AnswersModel):
    """How a station stands; findings by weight."""

    needed: bool
    mark: Literal["works", "works-but", "does-not", "waits"]
    summary: str
    findings: list[FindingDocument] = []


class AssumedDocument(AnswersModel):
    """A value that was taken as usual, never typed or measured.

    matters : What its plausible range changes in the findings; 0 where it changes nothing.
    measure : How it is measured.
    """

    part: str
    field: str
    value: float | str | None
    matters: Annotated[float, Field(ge=0)]
    measure: str


class Answers(AnswersModel):
    """Every station's answer."""

    version: Literal[1] = VERSION
    garden: str
    stations: dict[StationName, StationDocument]
    assumed: list[AssumedDocument] = []


def write(answers: Answers) -> str:
    """As text, with a newline at its end."""
    plain = answers.model_dump(mode="json", by_alias=True)
    return json.dumps(plain, indent=2, ensure_ascii=False, allow_nan=False) + "\n"


def read(text: str) -> Answers:
    """From text.

    Raises
    ------
    AnswersError : if it holds no answers.
    """
    try:
        return Answers.model_validate_json(text)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(place) for place in first["loc"])
        raise AnswersError(f"{where or 'the document'}: {first['msg']}") from None


def schema() -> dict[str, Any]:
    """The published JSON Schema."""
    plain = Answers.model_json_schema(mode="serialization", by_alias=True)
    return dict(plain) | {"title": "Euhydra answers"}
