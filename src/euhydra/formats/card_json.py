"""Settings as a document: what each timer is set to, month by month, for others to read and to follow."""

import json
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field, ValidationError

MOST_ZONES = 200


class CardError(ValueError):
    """The document is no card; the message says where and why."""


class CardModel(BaseModel):
    """Anything in a card."""

    model_config = ConfigDict(extra="forbid")


class CardSetting(CardModel):
    """How a timer is set.

    run_min : Of one run. [min]
    every_days : From one watering day to the next; under 1 for several runs a day. [d]
    weekdays : Days of the week on which it runs, Monday 0, instead.
    starts : Runs on a watering day.
    """

    run_min: Annotated[float, Field(ge=0, le=1440)] = 0.0
    every_days: Annotated[float, Field(gt=0, le=60)] | None = None
    weekdays: list[Annotated[int, Field(ge=0, le=6)]] = []
    starts: Annotated[int, Field(ge=1, le=24)] = 1


class CardMonth(CardSetting):
    """A month's setting; `off` where the timer gives nothing."""

    month: Annotated[int, Field(ge=1, le=12)]
    off: bool = False


class CardHeat(CardSetting):
    """In a month, how it is set after a day that asks so much of short grass. [mm d⁻¹]

    Where it does not say how often, as often as in its month.
    """

    month: Annotated[int, Field(ge=1, le=12)]
    from_et0_mm: Annotated[float, Field(ge=0, le=30)]


class CardPause(CardModel):
    """Days that the timer is paused after so much rain. [d], [mm]"""

    days: Annotated[int, Field(ge=1, le=30)]
    from_mm: Annotated[float, Field(ge=0, le=500)]


class CardZone(CardModel):
    """One timer.

    dry_share : Rate of dry days of its driest bed that is promised, in years it was not chosen on. [-]
    drinks_mm : What its crops drink on a mean day of each month, by which rain is weighed. [mm d⁻¹]
    """

    id: str
    months: Annotated[list[CardMonth], Field(max_length=12)]
    new_plants: CardSetting | None = None
    heat: list[CardHeat] = []
    rain_pause: list[CardPause] = []
    drinks_mm: Annotated[list[float], Field(max_length=12)] = []
    dry_share: Annotated[float, Field(ge=0, le=1)] | None = None


class Card(CardModel):
    """Every timer of a garden."""

    zones: Annotated[list[CardZone], Field(max_length=MOST_ZONES)]


def read(text: str) -> Card:
    """A card from its document.

    Raises
    ------
    CardError : with each place and what is wrong there.
    """
    try:
        return Card.model_validate(json.loads(text))
    except json.JSONDecodeError as error:
        raise CardError(f"No card: line {error.lineno}: {error.msg}.") from None
    except ValidationError as error:
        faults = (
            f"{'.'.join(map(str, each['loc']))}: {each['msg']}" for each in error.errors()[:5]
        )
        raise CardError("No card: " + "; ".join(faults) + ".") from None


def write(card: Card) -> str:
    """The document, with a line's end."""
    return json.dumps(card.model_dump(exclude_none=True), indent=1) + "\n"
