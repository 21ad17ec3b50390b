"""One voice for every sentence: a code, a template, and the values that stand in its braces.

Only templates are filled: a name that somebody gave a bed is a value, whatever braces it has.
Numbers stay in SI until a reader's system is known.
"""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field
from typing import Self

from euhydra.core.constants import (
    LITRES_PER_CUBIC_METRE,
    MM_PER_M,
    SECONDS_PER_DAY,
    SECONDS_PER_HOUR,
    SECONDS_PER_MINUTE,
)
from euhydra.garden import filled_text, quantities
from euhydra.garden.quantities import QuantityKind, System


@dataclass(frozen=True)
class Amount:
    """A number in SI and the kind of quantity it is."""

    value: float
    kind: QuantityKind

    @classmethod
    def litres(cls, litres: float) -> Self:
        """A volume. [L]"""
        return cls(litres / LITRES_PER_CUBIC_METRE, "volume")

    @classmethod
    def litres_an_hour(cls, flow: float) -> Self:
        """A flow. [L h⁻¹]"""
        return cls(flow / LITRES_PER_CUBIC_METRE / SECONDS_PER_HOUR, "flow")

    @classmethod
    def millimetres(cls, millimetres: float) -> Self:
        """A depth of rain or watering. [mm]"""
        return cls(millimetres / MM_PER_M, "rain")

    @classmethod
    def days(cls, days: float) -> Self:
        """A time. [d]"""
        return cls(days * SECONDS_PER_DAY, "days")

    @classmethod
    def hours(cls, hours: float) -> Self:
        """A time. [h]"""
        return cls(hours * SECONDS_PER_HOUR, "hours")

    @classmethod
    def minutes(cls, minutes: float) -> Self:
        """A time. [min]"""
        return cls(minutes * SECONDS_PER_MINUTE, "minutes")

    @classmethod
    def cans(cls, cans: float) -> Self:
        """How many watering cans, to a tenth: nobody fills them nearer. [-]"""
        return cls(round(cans, 1), "plain")

    def told(self, system: System, decimals: int | None = None) -> str:
        """With its unit; days in words, hours as minutes where it is less than one.

        Parameters
        ----------
        decimals : With which it stands in a column; None by itself.
        """
        if self.kind == "days":
            days = round(self.value / SECONDS_PER_DAY, 1)
            return f"{days:g} day{'' if days == 1 else 's'}"
        if self.kind == "hours" and self.value < SECONDS_PER_HOUR:
            return quantities.show(self.value, "minutes", system, 2)
        return quantities.show(self.value, self.kind, system, decimals=decimals)


A_DAY = Amount.days(1)
"""What comes every so often comes every day, not every 1 day."""


@dataclass(frozen=True)
class Sentence:
    """What is said.

    code : Names it, whatever its words; tests and machines go by it.
    template : With values in braces, such as ``The hose takes {head}.``, and with fixed quantities,
        such as ``{30 cm|height}``.
    values : By their names in the template. Text stands as it is; a sentence is told in turn.
    """

    code: str
    template: str
    values: Mapping[str, "Value"] = field(default_factory=dict)

    def told(
        self,
        system: System,
        show: Callable[[Amount], str] | None = None,
        quote: Callable[[str], str] = str,
    ) -> str:
        """In the units of `system`.

        Parameters
        ----------
        show : Says an amount otherwise than as plain text.
        quote : Makes text fit for where it goes, such as a page.
        """

        def value(name: str) -> str | None:
            found = self.values.get(name)
            match found:
                case None:
                    return None
                case Amount() if found == A_DAY and f"every {{{name}}}" in self.template:
                    return "day"
                case Amount():
                    return show(found) if show else found.told(system)
                case Sentence():
                    return found.told(system, show, quote)
                case _:
                    return quote(str(found))

        return filled_text.fill(quote(self.template), system, value)

    def __hash__(self) -> int:
        return hash((self.code, self.template))

    def __str__(self) -> str:
        return self.told(System.METRIC)


Value = Amount | Sentence | str | int
"""What may stand in a sentence's braces."""


def say(code: str, template: str, **values: Value) -> Sentence:
    """A sentence from its template and what stands in its braces."""
    return Sentence(code, template, values)


def listed(values: Iterable[Value]) -> Sentence:
    """Several values with commas between them, each told as what it is."""
    named = {f"item{number}": value for number, value in enumerate(values)}
    return Sentence("list", ", ".join(f"{{{name}}}" for name in named), named)


def quoted(names: Iterable[str]) -> str:
    """Several names as one says them: “one”, “two” and “three”."""
    *others, last = [f"“{name}”" for name in names]
    return f"{', '.join(others)} and {last}" if others else last


def counted(count: int, one: str, many: str = "") -> str:
    """So many of something, such as 1 tube, 3 tubes; `many` where an s at the end is not enough."""
    return f"{count} {one if count == 1 else many or f'{one}s'}"


def lowered(text: str) -> str:
    """A heading as it stands within a sentence."""
    return text[:1].lower() + text[1:]


def words(text: str) -> Sentence:
    """Words of the reference data, whose quantities are told in the reader's units."""
    return Sentence("words", text)
