"""Garden documents in and out: versions, clear errors, the published schema."""

import json
from collections.abc import Callable
from typing import Any

from pydantic import ValidationError
from pydantic_core import ErrorDetails

from euhydra.garden import filled_text, migrations, plain_text
from euhydra.garden.model import SCHEMA_VERSION, Garden
from euhydra.garden.quantities import System
from euhydra.garden.sentences import Sentence
from euhydra.garden.shared_parts import with_shared_parts

MIGRATIONS: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {
    1: migrations.from_1,
    2: migrations.from_2,
}
"""Version → function that makes the next version's document out of it."""

MOST_BYTES = 2_000_000
"""Largest garden document taken. [bytes]"""


class GardenError(ValueError):
    """A garden document that cannot be used; one line a fault, each with place and remedy."""


def loads(text: str) -> Garden:
    """A garden from the text of its JSON document.

    Raises
    ------
    GardenError : if the text is not JSON, or not a garden that can be planned.
    """
    if len(text) > MOST_BYTES:
        raise GardenError(f"The file is larger than {MOST_BYTES // 1_000_000} MB: not a garden.")
    try:
        document = json.loads(text)
    except json.JSONDecodeError as error:
        raise GardenError(
            f"This is not JSON: {error.msg} at line {error.lineno}, column {error.colno}."
        ) from None
    except (RecursionError, ValueError):  # thousands of brackets, or of figures
        raise GardenError(
            "This JSON is nested too deeply, or has a number too long, to be a garden."
        ) from None
    return from_document(document)


def dumps(garden: Garden, indent: int | None = 2) -> str:
    """The JSON document of a garden, stable to the byte.

    Parameters
    ----------
    indent : For people to read; None for all on one line, which is written in a fifth of the time.
    """
    return json.dumps(garden.model_dump(mode="json"), indent=indent, ensure_ascii=False) + "\n"


def from_document(document: Any) -> Garden:
    """A garden from a decoded document of this or an earlier version.

    Raises
    ------
    GardenError : with every fault, its place and what to do.
    """
    if not isinstance(document, dict):
        raise GardenError("A garden document is a JSON object with a schema_version.")
    version = document.get("schema_version")
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise GardenError("schema_version is missing: this is not a garden document.")
    if version > SCHEMA_VERSION:
        raise GardenError(
            f"This garden was written by a newer program (schema_version {str(version)[:MOST_TOLD]}, "
            f"this one reads up to {SCHEMA_VERSION}): update the program."
        )
    try:
        while version < SCHEMA_VERSION:
            document = MIGRATIONS[version](document)
            version += 1
    except (AttributeError, KeyError, TypeError, ValueError, ZeroDivisionError):
        raise GardenError(
            f"This is not a garden of schema_version {version}: something in it is missing or of "
            "another kind than it has to be. Open it in the program that wrote it and save it again."
        ) from None
    try:
        return with_shared_parts(Garden.model_validate(document))
    except ValidationError as error:
        faults = [f"{place_of(e)}: {message_of(e)}" for e in error.errors()]
        raise GardenError("\n".join(faults)) from None


MOST_TOLD = 40
"""Characters of what was given that are told again."""

NO_SUCH_VALUE = "is of another kind than it has to be here: see what the published schema says."


def place_of(error: ErrorDetails) -> str:
    """Where in the document a fault lies, such as `stores[0].volume_m3`."""
    place = ""
    for step in error["loc"]:
        name = plain_text.name(str(step)[:MOST_TOLD])
        place += f"[{step}]" if isinstance(step, int) else f".{name}" if place else name
    return place or "garden"


def message_of(error: ErrorDetails, system: System = System.METRIC) -> str:
    """What is wrong with it, without the validator's jargon."""
    limits = error.get("ctx", {})
    given = plain_text.name(str(error["input"])[:MOST_TOLD])
    match error["type"]:
        case "greater_than":
            return f"{given} is too small: it has to be more than {limits['gt']}."
        case "greater_than_equal":
            return f"{given} is too small: at least {limits['ge']}."
        case "less_than" | "less_than_equal":
            return f"{given} is too large: at most {limits.get('le', limits.get('lt'))}."
        case "missing":
            return "is missing: add it."
        case "extra_forbidden":
            return "is not known in a garden document: remove it or check the spelling."
        case "too_long":
            return f"too many: keep at most {limits.get('max_length')}."
        case "string_too_long":
            return f"is longer than {limits.get('max_length')} characters: shorten it."
        case "string_too_short":
            return "is empty: give it a name."
        case "string_pattern_mismatch":
            return f"“{given}” is no id: one begins with a letter, and has small letters, digits and hyphens."
        case "enum" | "literal_error":
            return f"“{given}” is not known here: choose one of {limits.get('expected')}."
        case kind if kind.startswith(("float_", "int_", "finite_")):
            return f"“{given}” is not a number that can stand here."
        case _:
            told = limits.get("sentence")
            return told.told(system) if isinstance(told, Sentence) else NO_SUCH_VALUE


def schema() -> dict[str, Any]:
    """The published JSON Schema of the garden document."""
    text = json.dumps(Garden.model_json_schema(mode="serialization"), ensure_ascii=False)
    described = json.loads(filled_text.fill(text, System.METRIC))
    return dict(described) | {"title": "Euhydra garden document"}
